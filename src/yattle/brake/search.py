"""The search for the order with the least handling.

A* **from the finished piece back to the flat sheet**: a stroke undone in the search is a stroke
made on the machine. Near the end of the work nearly everything is in the way, so few orders
lead backward from there, while a flat sheet could begin with almost any fold.

A state is the set of strokes still done and how the piece lay for the stroke undone last. The
bound counts the rolls that the strokes left must cost at least: each needs the face it folds
toward up, and a change of face costs no less than one. Among states of equal promise the one
with fewest strokes left goes first, so a good order is found early.

When the least handling is known, a second search over the orders that cost just that finds,
within its own budget, the fewest gauge changes and then the fewest strokes in which the
larger part swings.
"""

from __future__ import annotations

import heapq
import itertools
from dataclasses import dataclass, field

from yattle.brake.simulate import FINE, Simulator
from yattle.brake.state import POSITIONS, Action, Bench, Edge, Limit, Position, handling

State = tuple[int, Position | None]
Trail = tuple[tuple[int, Position], ...]  # bit of each stroke and how the piece lies
_MOST_STATES = 400_000
_MOST_LOOKS = 150_000  # strokes simulated before the proof is given up
_MOST_LOOKS_MANY = 20_000  # the same with more than sixteen folds
_SMOOTH_LOOKS = 5_000
_SMOOTH_STATES = 6_000
_BEAM = 40


@dataclass
class Search:
    """One section on one brake. ``most_states`` bounds the proof, not the answer."""

    bench: Bench
    most_states: int = _MOST_STATES
    simulator: Simulator = field(init=False)
    forbidden: set[tuple[int, int, Edge]] = field(default_factory=set)

    def __post_init__(self) -> None:
        self.simulator = Simulator(self.bench)
        self.asked: dict[tuple[int, int, Edge], bool] = {}
        faces = [action.face for action in self.bench.actions]
        self.face_bits = {face: sum(1 << n for n, f in enumerate(faces) if f == face) for face in ("paint", "back")}
        self.most_looks = _MOST_LOOKS if len(self.bench.marks) <= 16 else _MOST_LOOKS_MANY
        self.bound = 0  # no order can cost less
        self.stuck = self.bench.everything  # the fewest strokes the way back has come to

    def best(self) -> tuple[Trail | None, bool]:
        """The best trail and whether its handling is proven least; ``None`` when there is none.

        An order found is looked at again every degree; a stroke that strikes then is forbidden and
        the search begins anew.
        """
        while True:
            trail, proved = self._least_handling()
            if trail is None:
                return None, proved
            smooth = self._smoothest(self._cost(trail)) if proved else None
            for candidate in (smooth, trail):
                if candidate is not None and self._recheck(candidate):
                    return candidate, proved

    # -- what is possible -------------------------------------------------------------------------

    def possible(self, done: int, bit: int, out: Edge) -> bool:
        """Whether stroke ``bit`` can be made when the strokes ``done`` are made."""
        key = (done, bit, out)
        if key not in self.asked:
            self.asked[key] = (self.bench.limit(done, self.bench.actions[bit], out) is None
                               and self.simulator.free(done, bit, out))
        return self.asked[key] and key not in self.forbidden

    def last_strokes(self, done: int) -> list[tuple[int, Position]]:
        """Every stroke that can have been the last of ``done``, with each way the piece may have lain for it."""
        found = []
        for bit, action in enumerate(self.bench.actions):
            if done >> bit & 1 and not self._needed(bit, done):
                before = done & ~(1 << bit)
                found += [(bit, position) for position in POSITIONS
                          if position[0] == action.face and self.possible(before, bit, position[1])]
        return found

    def _needed(self, bit: int, done: int) -> bool:
        """Whether another stroke of ``done`` could not have been made without this one."""
        return any(done >> other & 1 and action.needs >> bit & 1 for other, action in enumerate(self.bench.actions))

    def _recheck(self, trail: Trail) -> bool:
        fine = Simulator(self.bench, FINE)
        done = 0
        for bit, position in trail:
            if not fine.free(done, bit, position[1]):
                self.forbidden.add((done, bit, position[1]))
                return False
            done |= 1 << bit
        return True

    # -- least handling ---------------------------------------------------------------------------

    def _bound(self, done: int, position: Position | None) -> int:
        left = {face for face, bits in self.face_bits.items() if bits & done}
        return max(0, len(left) - 1) if position is None else len(left - {position[0]})

    def _least_handling(self) -> tuple[Trail | None, bool]:
        start: State = (self.bench.everything, None)
        cost = {start: 0}
        came: dict[State, tuple[State, int, Position]] = {}
        counter = itertools.count()
        queue = [(self._bound(*start), 0, next(counter), start)]
        closed: set[State] = set()
        while queue:
            _, _, _, state = heapq.heappop(queue)
            if state in closed:
                continue
            if state[0] == 0:
                return _trail(came, state), True
            closed.add(state)
            self.stuck = min(self.stuck, state[0], key=int.bit_count)
            self.bound = max(self.bound, cost[state] + self._bound(*state))
            if len(closed) > self.most_states or len(self.asked) > self.most_looks:
                return self._beam(), False
            for bit, position in self.last_strokes(state[0]):
                before: State = (state[0] & ~(1 << bit), position)
                price = cost[state] + handling(state[1], position)[0]
                if price < cost.get(before, 1 << 30):
                    cost[before], came[before] = price, (state, bit, position)
                    promise = price + self._bound(*before)
                    heapq.heappush(queue, (promise, before[0].bit_count(), next(counter), before))
        return None, True

    def _beam(self) -> Trail | None:
        """A good order without proof: at each depth only the cheapest states go on."""
        layer: dict[State, tuple[int, Trail]] = {(self.bench.everything, None): (0, ())}
        for _ in self.bench.actions:
            after: dict[State, tuple[int, Trail]] = {}
            for (done, position), (price, trail) in layer.items():
                for bit, lies in self.last_strokes(done):
                    total = price + handling(position, lies)[0]
                    key: State = (done & ~(1 << bit), lies)
                    if total < after.get(key, (1 << 30, ()))[0]:
                        after[key] = (total, ((bit, lies), *trail))
            layer = dict(sorted(after.items(), key=lambda item: item[1][0])[:_BEAM])
        return min(layer.values(), key=lambda item: item[0])[1] if layer else None

    def _cost(self, trail: Trail) -> int:
        before: Position | None = None
        total = 0
        for _, position in trail:
            total += handling(before, position)[0]
            before = position
        return total

    # -- then the gauge, then the hands -----------------------------------------------------------

    def mark(self, action: Action, out: Edge) -> float:
        """The mark's distance from the out edge, mm: where the gauge stands."""
        mark = self.bench.marks[action.index]
        return mark if out == "A" else self.bench.girth.girth - mark

    def _smoothest(self, least: int) -> Trail | None:
        """Among orders of least handling, the fewest gauge changes, then fewest heavy swings, then hems early."""
        Node = tuple[int, Position | None, int]
        start: Node = (self.bench.everything, None, -1)
        price: dict[Node, tuple[int, int, int, int]] = {start: (0, 0, 0, 0)}
        came: dict[Node, tuple[Node, int, Position]] = {}
        counter = itertools.count()
        queue: list[tuple[int, int, int, int, int, Node]] = [(0, 0, 0, 0, next(counter), start)]
        closed: set[Node] = set()
        looks = len(self.asked) + _SMOOTH_LOOKS
        while queue and len(closed) < _SMOOTH_STATES and len(self.asked) < looks:
            *_, node = heapq.heappop(queue)
            if node in closed:
                continue
            closed.add(node)
            done, position, last = node
            if done == 0:
                return _trail(came, node)
            hands, gauge, heavy, late = price[node]
            for bit, lies in self.last_strokes(done):
                total = hands + handling(position, lies)[0]
                before: Node = (done & ~(1 << bit), lies, bit)
                if total + self._bound(before[0], lies) > least:
                    continue
                found = (total, gauge + self._moved(last, position, bit, lies), heavy + self._heavy(bit, lies),
                         late + self._late(bit, before[0]))
                known = price.get(before)
                if known is None or (found[1:], found[0]) < (known[1:], known[0]):
                    price[before], came[before] = found, (node, bit, lies)
                    heapq.heappush(queue, (*found[1:], before[0].bit_count(), next(counter), before))
        return None

    def _moved(self, last: int, after: Position | None, bit: int, position: Position) -> int:
        if last < 0 or after is None:
            return 0
        return int(abs(self.mark(self.bench.actions[last], after[1])
                       - self.mark(self.bench.actions[bit], position[1])) > 1e-6)

    def _late(self, bit: int, before: int) -> int:
        """How many plain folds were made before this stroke of a hem: hems come first where nothing is lost by it."""
        if not self.bench.actions[bit].fold.startswith("h"):
            return 0
        return sum(1 for other, action in enumerate(self.bench.actions)
                   if before >> other & 1 and not action.fold.startswith("h"))

    def _heavy(self, bit: int, position: Position) -> int:
        return int(self.mark(self.bench.actions[bit], position[1]) > self.bench.girth.girth / 2)

    # -- why not ----------------------------------------------------------------------------------

    def reasons(self) -> tuple[Limit, ...]:
        """What stops it: folds that cannot be made even in the flat sheet; else, where the way back from the
        finished piece ends, what stops each stroke that would have to be the last."""
        hopeless = [self._whys(action.needs, bit) for bit, action in enumerate(self.bench.actions)]
        found = [why for whys in hopeless for why in whys if len(whys) == 2]
        if not found:
            found = [why for bit in range(len(self.bench.actions))
                     if self.stuck >> bit & 1 and not self._needed(bit, self.stuck)
                     for why in self._whys(self.stuck & ~(1 << bit), bit)]
        return tuple(dict.fromkeys(found))[:10]

    def _whys(self, done: int, bit: int) -> list[Limit]:
        """Why stroke ``bit`` is not possible with either edge out: none, one or two reasons."""
        edges: tuple[Edge, Edge] = ("A", "B")
        return [why for out in edges if (why := self._why(done, bit, out)) is not None]

    def _why(self, done: int, bit: int, out: Edge) -> Limit | None:
        return self.bench.limit(done, self.bench.actions[bit], out) or self.simulator.clearance(done, bit, out)


def _trail(came, node) -> Trail:  # type: ignore[no-untyped-def]
    steps = []
    while node in came:
        node, bit, position = came[node]
        steps.append((bit, position))
    return tuple(steps)  # from the flat sheet on: the search went the other way
