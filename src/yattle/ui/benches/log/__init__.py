"""The log bench: what it knows, its slate, its view."""
