"""The head of a group of rows on a slate: pressed, the rows fold away; it is kept which ones are."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QPushButton

from yattle.ui.widgets.words import unkeyed


class GroupHead(QPushButton):
    """``key`` names the group among those of all slates; ``kept`` holds the names of those that are folded; ``changed``
    is called when it was pressed."""

    def __init__(self, title: str, key: str, kept: set[str], changed: Callable[[], object]) -> None:
        super().__init__()
        self.title, self.key, self._kept, self._changed = title, key, kept, changed
        self.setObjectName("group")
        self.setFlat(True)
        self.clicked.connect(self.fold)
        self._say()

    @property
    def folded(self) -> bool:
        """Whether its rows are away."""
        return self.key in self._kept

    def fold(self) -> None:
        """Fold the rows away, or bring them back."""
        self._kept ^= {self.key}
        self._say()
        self._changed()

    def _say(self) -> None:
        self.setText(unkeyed(f"{'▸' if self.folded else '▾'}  {self.title}"))
        self.setAccessibleName(self.title)
        self.setAccessibleDescription("folded" if self.folded else "open")
