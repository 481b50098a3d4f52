"""What the square codes on labels say; Yattle's search field opens what they name."""

CODE = "yattle:"
"""What every code begins with."""
