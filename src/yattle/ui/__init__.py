"""The window. Nothing outside this folder knows that it exists."""
