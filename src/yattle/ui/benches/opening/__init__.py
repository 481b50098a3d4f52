"""The trim bench for an opening: what it knows, its slate, its view."""
