"""The fit bench: what it knows, its slate, its view."""
