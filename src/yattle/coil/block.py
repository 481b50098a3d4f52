"""Filling one crosscut block: strips side by side, pieces one after another in each strip.

A *block* is what one crosscut takes off the coil; a *strip* is a part of it slit off along;
a piece narrower than its strip is trimmed. Widths are chosen so that together they cover
the block's width as nearly as any choice of the widths at hand can.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from itertools import islice

import numpy as np
from numpy.typing import NDArray

from yattle.coil.job import NestRules, Part
from yattle.coil.sizes import Orientation, orientations

_TENTH = 10  # widths are compared in tenths of a millimetre
_LONG = 200  # of the longest pieces at hand that are added up to a width
_FEW = 24  # widths that are tried for the next strip, in proportion fewer
_MANY = 400  # where there are more kinds than these: the plan has to be there at once
_WINDOW = 160
_EPS = 1e-7


@dataclass(frozen=True)
class PoolSizes:
    """Rows of a pool as arrays: sizes in mm, which part each is of, each part's number, how many of it are left."""

    along: NDArray[np.float64]
    across: NDArray[np.float64]
    of: NDArray[np.int64]
    place: dict[Part, int]
    left: NDArray[np.int64]


@dataclass
class Pool:
    """Parts still to be placed with how many of each, the longest first."""

    counts: dict[Part, int] = field(default_factory=dict)
    _rows: list[tuple[Part, Orientation]] | None = None  # the longest kinds at hand in each way they may lie
    _sizes: PoolSizes | None = None
    _lies: dict[Part, tuple[Orientation, ...]] = field(default_factory=dict)  # of these very parts: quickly found
    window: int = _WINDOW  # how many kinds are at hand
    _worn: bool = False

    @property
    def rows(self) -> list[tuple[Part, Orientation]]:
        """The longest kinds at hand in each way they may lie; looking at all of thousands gains nothing."""
        if self._rows is None:
            self._rows = [(part, lie) for part in islice(self.counts, self.window) for lie in self._lies_of(part)]
            self._sizes = None
        return self._rows

    def _lies_of(self, part: Part) -> tuple[Orientation, ...]:
        if part not in self._lies:
            self._lies[part] = orientations(part)
        return self._lies[part]

    @property
    def sizes(self) -> PoolSizes:
        """The same as arrays."""
        rows = self.rows
        if self._sizes is None:
            place: dict[Part, int] = {}
            of = np.array([place.setdefault(part, len(place)) for part, _ in rows], dtype=np.int64)
            along, across = np.array([(lie.along, lie.across) for _, lie in rows]).reshape(-1, 2).T
            self._sizes = PoolSizes(along, across, of, place, np.array([self.counts[part] for part in place]))
        return self._sizes

    def take(self, part: Part) -> None:
        """One of it is placed. A kind that has run out stays in the rows, with none left, until :meth:`fresh`."""
        self.counts[part] -= 1
        if not self.counts[part]:
            del self.counts[part]
            self._worn = True
        if self._sizes is not None and part in self._sizes.place:
            self._sizes.left[self._sizes.place[part]] -= 1

    def fresh(self) -> None:
        """Between blocks: what has run out makes room for the next kinds."""
        if self._worn:
            self._rows = self._sizes = None
            self._worn = False

    def copy(self) -> Pool:
        """One that can be taken from without this one losing anything."""
        sizes = self.sizes  # worked out once for all copies
        return Pool(dict(self.counts), self._rows, replace(sizes, left=sizes.left.copy()), self._lies,
                    self.window, self._worn)


@dataclass(frozen=True)
class Spot:
    """A piece in a strip: from ``x`` mm of the block's start."""

    part: Part
    lie: Orientation
    x: float


@dataclass(frozen=True)
class Strip:
    """A strip of a block: where it begins across the coil, how wide it is, and what lies in it; mm."""

    y: float
    width: float
    spots: tuple[Spot, ...]

    @property
    def filled(self) -> float:
        """The area of what lies in it, mm²."""
        return sum(spot.lie.along * spot.lie.across for spot in self.spots)


@dataclass(frozen=True)
class Spacing:
    """Clear space the rules ask for between neighbours, and the least strip the shear can take off. Both in mm."""

    gap: float
    sliver: float

    @staticmethod
    def of(rules: NestRules) -> Spacing:
        sliver = rules.min_sliver if rules.cutting != "snips" else 0.0
        return Spacing(max(rules.gap, sliver) if rules.gap else 0.0, sliver)

    def rest_is_fine(self, rest: float, trim: float = 0.0) -> bool:
        """Whether what is left beside a piece is nothing at all or wide enough to be cut off. ``rest`` and the
        ``trim`` beyond it in mm.

        >>> Spacing(gap=3.0, sliver=10.0).rest_is_fine(4.0)  # the shear cannot take 4 mm off
        False
        >>> Spacing(gap=3.0, sliver=10.0).rest_is_fine(4.0, trim=6.0)
        True
        """
        return rest >= -_EPS and (abs(rest + trim) <= _EPS or rest + trim >= self.sliver - _EPS)


    def rests_are_fine(self, rests: NDArray[np.float64], trim: float = 0.0) -> NDArray[np.bool_]:
        """The same of many rests at once, mm."""
        least = max(self.sliver - trim, 0.0) - _EPS
        if not self.sliver or trim > _EPS:  # a rest together with the trim is never nothing at all
            return rests >= least
        return (rests >= least) | (np.abs(rests) <= _EPS)


def fill_block(pool: Pool, length: float, width: float, first: tuple[Part, Orientation] | None, spacing: Spacing,
               trim: float = 0.0, hurry: bool = False) -> list[Strip]:
    """Strips for a block ``length`` × ``width``, taken out of ``pool``; the first holds ``first``. All in mm. In a
    ``hurry`` the widest and longest at hand begins each strip."""
    strips: list[Strip] = []
    y, rest = 0.0, width
    while rest > _EPS and pool.counts:
        rows, sizes = pool.rows, pool.sizes
        fits = spacing.rests_are_fine(rest - sizes.across, trim) & spacing.rests_are_fine(length - sizes.along)
        fits &= sizes.left[sizes.of] > 0
        options = [rows[n] for n in fits.nonzero()[0].tolist()]
        if first is not None and not strips:
            options = [first] if spacing.rest_is_fine(rest - first[1].across, trim) else []
        if not options:
            break
        strip = _strip(pool, *max(options, key=_size), length, y, spacing) if hurry else _best_strip(
            pool, options, length, rest, y, spacing)
        for spot in strip.spots:
            pool.take(spot.part)
        strips.append(strip)
        y += strip.width + spacing.gap
        rest -= strip.width + spacing.gap
    return strips


def _size(row: tuple[Part, Orientation]) -> float:
    return row[1].along * row[1].across


def _best_strip(pool: Pool, options: list[tuple[Part, Orientation]], length: float, rest: float, y: float,
                spacing: Spacing) -> Strip:
    """Of all widths, the one that leaves the width best covered; among equals the fullest strip."""
    widths: dict[float, tuple[Part, Orientation]] = {}
    for part, lie in options:
        held = widths.get(lie.across)
        if held is None or lie.along > held[1].along:
            widths[lie.across] = (part, lie)
    share = min(_MANY / len(pool.counts), 1.0)
    most = max(3, int(_FEW * share))
    few = sorted(widths, key=lambda w: -w * widths[w][1].along)[:most]
    covers = _coverage(options[:max(40, int(_LONG * share))], pool, length, rest, spacing)
    best: tuple[tuple[float, float], Strip] | None = None
    after_it = {width: covers(rest - width - spacing.gap) for width in few}
    for width in sorted(few, key=lambda w: -w - after_it[w]):
        after = after_it[width]
        if best is not None and round(width + after, 3) < best[0][0]:
            break  # were it filled to the end, it would cover less
        strip = _strip(pool, *widths[width], length, y, spacing)
        score = (round((strip.filled / length + after), 3), strip.filled)
        if best is None or score > best[0]:
            best = (score, strip)
    assert best is not None
    return best[1]


def _coverage(options: list[tuple[Part, Orientation]], pool: Pool, length: float, rest: float,
              spacing: Spacing) -> Callable[[float], float]:
    """How much of a width the long pieces at hand can cover: a sum of widths that comes nearest."""
    reach, limit = 1, int(rest * _TENTH) + 1
    mask = (1 << (limit + 1)) - 1
    for part, lie in options:
        if lie.along < 0.6 * length:
            continue
        step = int(-(-(lie.across + spacing.gap) * _TENTH // 1))
        for _ in range(min(pool.counts[part], max(limit // step, 1))):
            grown = (reach | reach << step) & mask
            if grown == reach:
                break
            reach = grown

    def covered(width: float) -> float:
        room = int((width + spacing.gap) * _TENTH)
        return ((reach & ((1 << (room + 1)) - 1)).bit_length() - 1) / _TENTH if room > 0 else 0.0

    return covered


def _strip(pool: Pool, part: Part, lie: Orientation, length: float, y: float, spacing: Spacing) -> Strip:
    """``part`` first, then whatever fits behind it: equal widths before narrower ones, long before short."""
    rows, sizes = pool.rows, pool.sizes
    left = sizes.left.copy()
    left[sizes.place[part]] -= 1
    at_hand = spacing.rests_are_fine(lie.across - sizes.across).nonzero()[0]
    along, across, of = sizes.along[at_hand], sizes.across[at_hand], sizes.of[at_hand]
    spots, x = [Spot(part, lie, 0.0)], lie.along + spacing.gap
    while at_hand.size:
        fits = (spacing.rests_are_fine(length - x - along) & (left[of] > 0)).nonzero()[0]
        if not fits.size:
            break
        wide = across[fits]
        fits = fits[wide == wide.max()]
        n = int(fits[along[fits].argmax()])
        follow, best = rows[at_hand[n]]
        spots.append(Spot(follow, best, x))
        left[of[n]] -= 1
        x += best.along + spacing.gap
        short = along <= length - x + _EPS  # what is too long now stays so
        if not short.all():
            at_hand, along, across, of = at_hand[short], along[short], across[short], of[short]
    return Strip(y, lie.across, tuple(spots))
