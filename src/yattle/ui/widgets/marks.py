"""A yes or no of a widget that the style sheet looks at."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget


def mark(widget: QWidget, name: str, on: bool) -> None:
    """Set the property ``name`` of ``widget``, and dress it anew if that changes it."""
    state = "true" if on else "false"
    if widget.property(name) == state:
        return
    widget.setProperty(name, state)
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)
