"""The search for the best order: least handling, then fewest gauge changes, then fewest heavy swings, then hems early.

A* **from the finished piece back to the flat sheet**: a stroke undone in the search is a stroke
made on the machine. Near the end of the work nearly everything is in the way, so few orders
lead backward from there, while a flat sheet could begin with almost any fold.

A state is the set of strokes still done, how the piece lay for the stroke undone last, and that
stroke's mark where another stroke could share it. A price is one number in which a single roll
outweighs every gauge change, a gauge change every heavy swing, and so on; :mod:`yattle.brake.bound`
says what the strokes left must cost at least. Among states of equal promise the one with fewest
strokes left goes first.
"""

from __future__ import annotations

import heapq
import itertools
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property

from yattle.brake.bound import ELSEWHERE, GAUGE, HANDS, HEAVY, Bounds
from yattle.brake.simulate import FINE, Simulator
from yattle.brake.state import POSITIONS, Bench, Edge, Limit, Position, handling

State = tuple[int, Position | None, int]
Way = tuple[State, int, Position]  # from which state, undoing which stroke, lying how
Trail = tuple[tuple[int, Position], ...]  # bit of each stroke and how the piece lies
HANDS_COST = {(after, before): HANDS * handling(before, after)[0] if after else 0
              for after in (None, *POSITIONS) for before in POSITIONS}
_MOST_STATES = 400_000
_MOST_LOOKS = 150_000  # strokes simulated before the proof is given up
_MOST_LOOKS_MANY = 8_000  # the same with more than sixteen folds
_BEAM = 16


@dataclass
class FoldSearch:
    """One section on one brake. ``most_states`` bounds the proof, not the answer."""

    bench: Bench
    most_states: int = _MOST_STATES
    simulator: Simulator = field(init=False)
    forbidden: set[tuple[int, int, Edge]] = field(default_factory=set)

    def __post_init__(self) -> None:
        self.simulator = Simulator(self.bench)
        self.asked: dict[tuple[int, int, Edge], bool] = {}
        self.bounds = Bounds(self.bench)
        self.most_looks = _MOST_LOOKS if len(self.bench.marks) <= 16 else _MOST_LOOKS_MANY
        self.bound = 0  # no order can cost less
        self.stuck = self.bench.everything  # the fewest strokes the way back has come to

    def best(self) -> tuple[Trail | None, bool]:
        """The best trail and whether its handling is proven least; ``None`` when there is none.

        An order found is looked at again every degree; a stroke that strikes then is forbidden and
        the search begins anew.
        """
        while True:
            trail, proved = self._best()
            if trail is None or self._recheck(trail):
                return trail, proved

    # -- what is possible -------------------------------------------------------------------------

    def possible(self, done: int, bit: int, out: Edge) -> bool:
        """Whether stroke ``bit`` can be made when the strokes ``done`` are made."""
        key = (done, bit, out)
        if key not in self.asked:
            self.asked[key] = (self.bench.limit(done, self.bench.actions[bit], out) is None
                               and self.simulator.free(done, bit, out))
        return self.asked[key] and key not in self.forbidden

    @cached_property
    def _kept_by(self) -> tuple[int, ...]:
        """For each stroke the bits of those that could not have been made without it."""
        return tuple(sum(1 << other for other, action in enumerate(self.bench.actions) if action.needs >> bit & 1)
                     for bit in range(len(self.bench.actions)))

    @cached_property
    def _fine(self) -> Simulator:
        return Simulator(self.bench, FINE)

    def _recheck(self, trail: Trail) -> bool:
        done = 0
        for bit, position in trail:
            if not self._fine.free(done, bit, position[1]):
                self.forbidden.add((done, bit, position[1]))
                return False
            done |= 1 << bit
        return True

    # -- the best order ---------------------------------------------------------------------------

    def _best(self) -> tuple[Trail | None, bool]:
        """The cheapest way back. A stroke is looked at only when no other promises more: most never are."""
        if self.bounds.hopeless:
            return None, True
        start: State = (self.bench.everything, None, ELSEWHERE)
        came: dict[State, Way] = {}
        counter = itertools.count()
        queue: list[tuple[int, int, int, int, State, Way | None]] = [
            (self.bounds.rest(start[0], None, ELSEWHERE), 0, next(counter), 0, start, None)]
        while queue:
            promise, _, _, paid, state, way = heapq.heappop(queue)
            if state in came or (way is not None and not self.possible(state[0], way[1], way[2][1])):
                continue
            if way is not None:
                came[state] = way
            if state[0] == 0:
                return _trail(came, state), True
            self.stuck = min(self.stuck, state[0], key=int.bit_count)
            self.bound = max(self.bound, promise // HANDS)
            if len(came) > self.most_states or len(self.asked) > self.most_looks:
                return self._beam(), False
            for before, bit, lies, price in self._ways_back(state):
                if before not in came:
                    total = paid + price
                    promise = total + self.bounds.rest(before[0], lies, self.bounds.mark(bit, lies[1]))
                    heapq.heappush(queue, (promise, before[0].bit_count(), next(counter), total, before,
                                           (state, bit, lies)))
        return None, True

    def _ways_back(self, state: State) -> Iterator[tuple[State, int, Position, int]]:
        """Each stroke that may have been the last of a state's, looked at or not: the state before it, its price."""
        done, position, after = state
        for kept_by, bit, lies, mark, heavy in self._strokes:
            if done >> bit & 1 and not kept_by & done:
                before = done & ~(1 << bit)
                if self.asked.get((before, bit, lies[1]), True):
                    shared = mark if self.bounds.sharing[mark] & before else ELSEWHERE
                    moved = after != mark and position is not None
                    late = (self._plain[bit] & before).bit_count()
                    yield ((before, lies, shared), bit, lies,
                           HANDS_COST[position, lies] + GAUGE * moved + HEAVY * heavy + late)

    @cached_property
    def _strokes(self) -> list[tuple[int, int, Position, int, int]]:
        """Each stroke in each way the piece may lie: who cannot be made without it, its bit, the way, the mark, and
        1 where the larger part swings."""
        return [(self._kept_by[bit], bit, lies, self.bounds.mark(bit, lies[1]), self.bounds.heavy(bit, lies[1]))
                for bit, action in enumerate(self.bench.actions) for lies in POSITIONS if lies[0] == action.face]

    @cached_property
    def _plain(self) -> tuple[int, ...]:
        """For each stroke of a hem the bits of the plain folds: those made before it are what it comes late by."""
        plain = sum(1 << bit for bit, action in enumerate(self.bench.actions) if not action.fold.startswith("h"))
        return tuple(0 if plain >> bit & 1 else plain for bit in range(len(self.bench.actions)))

    def _beam(self) -> Trail | None:
        """A good order without proof: at each depth only the cheapest states go on."""
        layer: dict[State, tuple[int, Trail]] = {(self.bench.everything, None, ELSEWHERE): (0, ())}
        for _ in self.bench.actions:
            after: dict[State, tuple[int, Trail]] = {}
            for state, (paid, trail) in layer.items():
                for before, bit, lies, price in self._ways_back(state):
                    total = paid + price
                    if total < after.get(before, (1 << 40, ()))[0] and self.possible(before[0], bit, lies[1]):
                        after[before] = (total, ((bit, lies), *trail))
            layer = dict(sorted(after.items(), key=lambda item: item[1][0])[:_BEAM])
        return min(layer.values(), key=lambda item: item[0])[1] if layer else None

    # -- why not ----------------------------------------------------------------------------------

    def reasons(self) -> tuple[Limit, ...]:
        """What stops it: folds that cannot be made even in the flat sheet; else, where the way back from the
        finished piece ends, what stops each stroke that would have to be the last."""
        hopeless = [self._whys(action.needs, bit) for bit, action in enumerate(self.bench.actions)]
        found = [why for whys in hopeless for why in whys if len(whys) == 2]
        if not found:
            found = [why for bit in range(len(self.bench.actions))
                     if self.stuck >> bit & 1 and not self._kept_by[bit] & self.stuck
                     for why in self._whys(self.stuck & ~(1 << bit), bit)]
        return tuple(dict.fromkeys(found))[:10]

    def _whys(self, done: int, bit: int) -> list[Limit]:
        """Why stroke ``bit`` is not possible with either edge out: none, one or two reasons."""
        edges: tuple[Edge, Edge] = ("A", "B")
        return [why for out in edges if (why := self._why(done, bit, out)) is not None]

    def _why(self, done: int, bit: int, out: Edge) -> Limit | None:
        """What stops a stroke; looked at finely where it seems free, since it may strike between two looks."""
        return (self.bench.limit(done, self.bench.actions[bit], out) or self.simulator.clearance(done, bit, out)
                or self._fine.clearance(done, bit, out))


def _trail(came, node) -> Trail:  # type: ignore[no-untyped-def]
    steps = []
    while node in came:
        node, bit, position = came[node]
        steps.append((bit, position))
    return tuple(steps)  # from the flat sheet on: the search went the other way
