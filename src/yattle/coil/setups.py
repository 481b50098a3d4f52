"""How often the slitter's fence is set to another width while a plan is cut, and an order with fewer settings.

A setting is an along cut whose strip is another width than the along cut's before it. The strips of a block and the
blocks of a coil may be cut in any order: equal widths are put behind each other.
"""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Callable, Sequence
from itertools import groupby, islice

from yattle.coil.answer import Cut, Rect
from yattle.coil.tree import Split, Tree, in_turn

_FEW = 20  # blocks of about one width that are looked at for one of just that
_SAME = 0.05  # mm: widths nearer to each other are one setting
Row = tuple[float, Tree]  # a block: its length, and how it is cut up
Strip = tuple[float, Tree]  # its width, and what it is cut into


def settings(cuts: Sequence[Cut], boxes: dict[str, Rect]) -> int:
    """How often the fence is set for ``cuts`` in their order; ``boxes``: each stock piece as it lies at first."""
    table, held, count = dict(boxes), -1.0, 0
    for cut in cuts:
        x0, y0, x1, y1 = table.pop(cut.piece)
        low, high = cut.gives
        if cut.axis == "across":
            table[low], table[high] = (x0, y0, cut.at, y1), (cut.at, y0, x1, y1)
            continue
        table[low], table[high] = (x0, y0, x1, cut.at), (x0, cut.at, x1, y1)
        width = cut.at - y0
        count += abs(width - held) > _SAME
        held = width
    return count


def strips_of(tree: Tree) -> list[Strip] | None:
    """The strips that a block is slit into, one after another; ``None`` where it is not slit first."""
    found: list[Strip] = []
    while isinstance(tree, Split) and not tree.across:
        found.append((tree.at, tree.low))
        tree = tree.high
    return found if tree is None and found else None


def with_fewer(rows: Sequence[Row], wanted: Callable[[Row], int], slits: bool) -> list[Row]:
    """Blocks in the order in which they are ``wanted``, among those wanted alike with equal widths behind each other.
    ``slits``: the strips within a block may change places too (not where a gap lies between them)."""
    plain = sorted(rows, key=lambda row: (wanted(row), -row[0]))
    made, held = list[Row](), -1.0
    for _, alike in groupby(plain, key=wanted):
        left = _Alike([(row, _first_widths(row, slits)) for row in alike])
        while (best := left.next(held)) is not None:
            made.append(_turned(best, held) if slits else best)
            held = next(reversed(_widths(made[-1])), held)
    return made if _changes(made) < _changes(plain) else plain


class _Alike:
    """Blocks wanted alike, each taken once: found by the widths they can begin with, since there may be thousands."""

    def __init__(self, rows: list[tuple[Row, list[float]]]) -> None:
        self.rows, self.taken, self.first = rows, [False] * len(rows), 0
        self.by_width: dict[int, deque[tuple[int, float]]] = defaultdict(deque)
        for n, (_, widths) in enumerate(rows):
            for width in widths:
                self.by_width[round(width / _SAME)].append((n, width))

    def next(self, held: float) -> Row | None:
        """The first block that can begin with the width ``held``, else the first of all; ``None`` when all are
        taken."""
        around = round(held / _SAME)
        found = [n for key in (around - 1, around, around + 1) for n in self._first_of(key, held)]
        while self.first < len(self.rows) and self.taken[self.first]:
            self.first += 1
        best = min(found, default=self.first)
        if best == len(self.rows):
            return None
        self.taken[best] = True
        return self.rows[best][0]

    def _first_of(self, key: int, held: float) -> list[int]:
        """The first block left of those whose width lies about there, if it is the same width."""
        line = self.by_width.get(key)
        while line and self.taken[line[0][0]]:
            line.popleft()
        return [n for n, width in islice(line or (), _FEW) if not self.taken[n] and abs(width - held) <= _SAME][:1]


def _widths(row: Row) -> list[float]:
    """The widths of a block's strips, what is trimmed off before them left out."""
    return [width for width, low in strips_of(row[1]) or () if low is not None]


def _changes(rows: Sequence[Row]) -> int:
    held, count = -1.0, 0
    for width in (width for row in rows for width in _widths(row)):
        count += abs(width - held) > _SAME
        held = width
    return count


def _first_widths(row: Row, slits: bool) -> list[float]:
    """The widths that a block can begin with."""
    widths = _widths(row)
    return sorted(set(widths)) if slits else widths[:1]


def _turned(row: Row, held: float) -> Row:
    """The block with equal widths side by side, those first that the fence is set to, the others by falling width; what
    is trimmed off its edge stays first."""
    strips = strips_of(row[1]) or []
    trims = strips[:1] if strips and strips[0][1] is None else []
    rest = strips[len(trims):]
    if not rest or any(low is None for _, low in rest):
        return row
    rest.sort(key=lambda strip: (abs(strip[0] - held) > _SAME, -strip[0]))
    return row[0], in_turn(False, [*trims, *rest])
