"""What the strokes left must cost at least, whatever strikes what: the bounds of the search.

Handling and heavy swings are bounded together. The strokes left are made in some set of positions;
going through that set costs the hands its shortest way, and a stroke whose light way is not in
the set swings the larger part. So the least over all fifteen sets is a true bound. The gauge
moves at least once for each group of strokes that can share a mark.
"""

from __future__ import annotations

import itertools
from functools import cached_property, lru_cache, reduce
from operator import or_

from yattle.brake.state import POSITIONS, Bench, Edge, Position, handling

HANDS, GAUGE, HEAVY = 1 << 30, 1 << 20, 1 << 10  # one of each outweighs any number of what comes after
ELSEWHERE = -1  # a mark that no stroke left can share
_NEVER = 1 << 10
_SAME_MARK = 1e-6
_EDGES: tuple[Edge, Edge] = ("A", "B")
_SETS = tuple(places for n in range(1, 5) for places in itertools.combinations(POSITIONS, n))


class Bounds:
    """Bounds over the strokes still to be undone, for one section on one brake. Marks are known by number."""

    def __init__(self, bench: Bench) -> None:
        self.bench = bench
        girth = bench.girth.girth
        places: list[float] = []
        self._marks = tuple({"A": _numbered(bench.marks[a.index], places),
                             "B": _numbered(girth - bench.marks[a.index], places)} for a in bench.actions)
        self._heavy = tuple({out: int(places[number] > girth / 2) for out, number in marks.items()}
                            for marks in self._marks)
        self.sharing = tuple(sum(1 << bit for bit, marks in enumerate(self._marks) if number in marks.values())
                             for number in range(len(places)))
        self._met: dict[int, tuple[int, int]] = {}
        self._rest: dict[tuple[int, Position | None], tuple[int, int, int]] = {}

    def mark(self, bit: int, out: Edge) -> int:
        """The number of the place where the gauge stands."""
        return self._marks[bit][out]

    def heavy(self, bit: int, out: Edge) -> int:
        """1 where the larger part swings."""
        return self._heavy[bit][out]

    @property
    def hopeless(self) -> bool:
        """Whether a stroke cannot be made in any way, whatever was made before it."""
        return self.rest(self.bench.everything, None, ELSEWHERE) >= HANDS * _NEVER

    def _never(self, bit: int, out: Edge) -> bool:
        """Too little outside or inside in the flat sheet stays too little: more folds only shorten it."""
        action = self.bench.actions[bit]
        limit = self.bench.limit(action.needs, action, out)
        return limit is not None and limit.against in ("flange", "hold")

    # -- handling and heavy swings ----------------------------------------------------------------

    @cached_property
    def _by_set(self) -> tuple[tuple[dict[Position | None, int], int, int], ...]:
        """For each set of positions: the shortest way through it, strokes it cannot make, strokes it makes heavy."""
        ways = [{(action.face, out): self.heavy(bit, out) for out in _EDGES if not self._never(bit, out)}
                for bit, action in enumerate(self.bench.actions)]
        found = []
        for places in _SETS:
            best = [min((way[p] for p in places if p in way), default=None) for way in ways]
            out_of_reach = sum(1 << bit for bit, least in enumerate(best) if least is None)
            heavy = sum(1 << bit for bit, least in enumerate(best) if least == 1)
            found.append((_ways_through(places), out_of_reach, heavy))
        return tuple(found)

    def rest(self, done: int, position: Position | None, last: int) -> int:
        """The least price of the strokes ``done`` before a stroke at ``position`` and at the mark ``last``.

        Gauge and heavy swings are bounded within the least handling: an order that takes more costs more anyway.
        """
        key = (done, position)
        if key not in self._rest:
            hands, swings = self._least(done, position)
            groups, still = self._groups_of(done)
            self._rest[key] = (HANDS * hands + HEAVY * swings, groups, still - hands)
        price, groups, still = self._rest[key]
        if position is None or last == ELSEWHERE:
            return price + GAUGE * max(0, max(groups, still) - 1)
        shared = self.sharing[last] & done != 0
        shared_still = self._still.get((last, position), 0) & done != 0
        return price + GAUGE * max(groups - shared, still - shared_still)

    def _least(self, done: int, position: Position | None) -> tuple[int, int]:
        """The least handling of the strokes ``done``, and the least heavy swings within it."""
        hands, swings = _NEVER, 0
        for way, missed, heavy in self._by_set:
            if not missed & done and way[position] <= hands:
                heavies = (heavy & done).bit_count()
                swings = heavies if way[position] < hands else min(swings, heavies)
                hands = way[position]
        return hands, swings

    # -- the gauge --------------------------------------------------------------------------------

    @cached_property
    def _groups(self) -> tuple[int, ...]:
        """Bits of the strokes that can share a mark, directly or through others: the gauge moves between groups."""
        return _joined(self.sharing)

    @cached_property
    def _still(self) -> dict[tuple[int, Position], int]:
        """Bits of the strokes made at a mark while the piece lies in one way."""
        found: dict[tuple[int, Position], int] = {}
        for bit, action in enumerate(self.bench.actions):
            for out in _EDGES:
                place = (self.mark(bit, out), (action.face, out))
                found[place] = found.get(place, 0) | 1 << bit
        return found

    @cached_property
    def _still_groups(self) -> tuple[int, ...]:
        """As ``_groups``, the piece left as it lies; each move of the hands joins two of them at most."""
        return _joined(tuple(self._still.values()))


    def _groups_of(self, done: int) -> tuple[int, int]:
        """How many groups of both kinds hold a stroke of ``done``."""
        if done not in self._met:
            self._met[done] = (_met(self._groups, done), _met(self._still_groups, done))
        return self._met[done]


def _met(groups: tuple[int, ...], done: int) -> int:
    return sum(1 for group in groups if group & done)


def _joined(masks: tuple[int, ...]) -> tuple[int, ...]:
    """Masks that overlap made one."""
    groups: list[int] = []
    for mask in masks:
        together = reduce(or_, (group for group in groups if group & mask), mask)
        groups = [group for group in groups if not group & mask] + [together]
    return tuple(groups)


def _numbered(place: float, places: list[float]) -> int:
    """The number of a mark's place, mm from the out edge, among those met so far."""
    for number, known in enumerate(places):
        if abs(known - place) < _SAME_MARK:
            return number
    places.append(place)
    return len(places) - 1


@lru_cache(maxsize=32)
def _ways_through(places: tuple[Position, ...]) -> dict[Position | None, int]:
    """The least handling from any place of a set through all of it to each position (``None``: wherever it ends)."""
    ways: dict[Position | None, int] = {}
    for end in (None, *POSITIONS):
        ways[end] = min(sum(handling(a, b)[0] for a, b in itertools.pairwise((*order, end) if end else order))
                        for order in itertools.permutations(places))
    return ways
