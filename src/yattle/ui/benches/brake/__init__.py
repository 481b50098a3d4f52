"""The brake bench: what it knows, its slate, its view."""
