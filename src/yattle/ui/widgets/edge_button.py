"""A narrow button along the edge of what can be folded away."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSizePolicy, QToolButton

from yattle.ui.theme import px


class EdgeButton(QToolButton):
    """Folds what lies ``left`` or right of it; ``name`` says what that is."""

    def __init__(self, name: str, left: bool, key: str) -> None:
        super().__init__()
        self._left, self._name, self._key = left, name, key
        self.setObjectName("edge")
        self.setFixedWidth(px(14))
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.tell(False)

    def tell(self, folded: bool) -> None:
        """What it does now: fold, or open again."""
        self.setText("‹" if folded != self._left else "›")
        self.setAccessibleName(f"{'open' if folded else 'fold'} the {self._name}")
        self.setToolTip(f"{'open' if folded else 'fold'} the {self._name} ({self._key})")
