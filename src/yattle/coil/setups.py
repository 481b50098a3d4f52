"""How often the slitter's fence is set to another width while a plan is cut, and an order with fewer settings.

A setting is an along cut whose strip is another width than the along cut's before it. The strips of a block and the
blocks of a coil may be cut in any order: equal widths are put behind each other.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import islice, takewhile

from yattle.coil.answer import Cut, Rect
from yattle.coil.tree import Split, Tree, in_turn

_AHEAD = 300  # blocks that are looked through for the next one: beyond that it would take longer than the plan
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
    left = [(wanted(row), row, _first_widths(row, slits)) for row in plain]  # once each: there may be thousands
    made, held = list[Row](), -1.0
    while left:
        alike = takewhile(lambda one: one[0] == left[0][0], islice(left, _AHEAD))
        fits = (n for n, (_, _, widths) in enumerate(alike) if any(abs(width - held) <= _SAME for width in widths))
        _, best, _ = left.pop(next(fits, 0))
        made.append(_turned(best, held) if slits else best)
        held = next(reversed(_widths(made[-1])), held)
    return made if _changes(made) < _changes(plain) else plain


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
