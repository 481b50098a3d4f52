"""The survey bench: what it knows, its slate, its table, its view."""
