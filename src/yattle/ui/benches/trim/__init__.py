"""The trim bench: what it knows, its slate, its view."""
