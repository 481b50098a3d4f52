"""Drawings on the screen: flat ones from their description, folded pieces in space."""
