"""The coil bench: what it knows, its slate, its view."""
