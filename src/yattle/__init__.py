"""Yattle: from a few measures of a roof to folded pieces and a cut coil."""

__version__ = "0.1.0"
