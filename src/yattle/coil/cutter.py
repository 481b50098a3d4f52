"""Edge-to-edge cuts as they are made: every cut parts one rectangle in two."""

from __future__ import annotations

from yattle.coil.answer import Cut, Rect

_SAME = 0.005  # mm: a strip thinner than this is none that a shear could part off


class Cutter:
    """Keeps the rectangles on the table by name and writes down every cut.

    ``taken``: names that no piece gets, those of the stock.
    """

    def __init__(self, taken: frozenset[str] = frozenset()) -> None:
        self.taken = taken
        self.cuts: list[Cut] = []
        self.table: dict[str, Rect] = {}
        self._names = 0

    def lay(self, stock: str, rect: Rect) -> str:
        self.table[stock] = rect
        return stock

    def across(self, piece: str, at: float, keep: bool = False) -> tuple[str, str]:
        """Cut at x = ``at``: the piece toward x = 0, and the rest; ``keep`` lets the rest keep its name. ``at`` in
        mm."""
        x0, y0, x1, y1 = self.table[piece]
        return self._cut(piece, "across", at, (x0, y0, at, y1), (at, y0, x1, y1), x0, x1, keep)

    def along(self, piece: str, at: float) -> tuple[str, str]:
        """Cut at y = ``at``: the piece with the lower y, and the rest. ``at`` in mm."""
        x0, y0, x1, y1 = self.table[piece]
        return self._cut(piece, "along", at, (x0, y0, x1, at), (x0, at, x1, y1), y0, y1, False)

    def _cut(self, piece: str, axis: str, at: float, low: Rect, high: Rect, least: float, most: float,
             keep: bool) -> tuple[str, str]:
        if at <= least + _SAME:
            return "", piece
        if at >= most - _SAME:
            return piece, ""
        gives = (self._name(), piece if keep else self._name())
        del self.table[piece]
        self.table[gives[0]], self.table[gives[1]] = low, high
        self.cuts.append(Cut(len(self.cuts) + 1, piece, axis, at, gives))
        return gives

    def _name(self) -> str:
        self._names += 1
        name = f"k{self._names}"
        return self._name() if name in self.taken else name

    def trimmed(self, piece: str, rect: Rect) -> str:
        """``piece`` cut down to ``rect``."""
        x0, y0, x1, y1 = rect
        piece = self.across(piece, x0)[1]
        piece = self.across(piece, x1)[0]
        piece = self.along(piece, y0)[1]
        return self.along(piece, y1)[0]
