"""The order of folds with the least handling.

A* over the sets of strokes done and the position the piece lies in. The bound counts the
rolls that the strokes still to do must cost at least: each stroke needs the face it folds
toward up, and a change of face costs no less than one. Clearance of the moving sheet
against clamp, bed and leaf is not looked at here; :func:`best_order` takes it as a
question it asks before every stroke.
"""

from __future__ import annotations

import heapq
import itertools
import time
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from yattle.brake.machine import FoldJob
from yattle.brake.state import POSITIONS, Action, Bench, Edge, Limit, Position, handling
from yattle.section import Girth, GirthRefused, girth_of

Clearance = Callable[[Bench, int, Action, Edge], Limit | None]
_MOST_STATES = 400_000
_BEAM = 400


@dataclass(frozen=True)
class Step:
    """One stroke as the hands do it; ``mark_from_out_edge`` mm on the blank from the raw out edge."""

    n: int
    fold: str
    action: str
    face_up: str
    out: str
    turn: float
    set_angle: float | None
    mark_from_out_edge: float
    handling: str


@dataclass(frozen=True)
class FoldOrder:
    """Steps with their handling cost; ``proved_best`` when no order can cost less."""

    steps: tuple[Step, ...]
    cost: int
    proved_best: bool
    seconds: float

    def answer(self) -> dict[str, Any]:
        return {"format": "yattle-folds/1", "ok": True, "steps": [vars(step) for step in self.steps],
                "cost": self.cost, "proved_best": self.proved_best, "seconds": self.seconds}


@dataclass(frozen=True)
class Refusal:
    """No order exists; every reason names its fold and what it strikes or lacks."""

    reasons: tuple[Limit, ...]
    seconds: float

    def answer(self) -> dict[str, Any]:
        return {"format": "yattle-folds/1", "ok": False, "reasons": [vars(reason) for reason in self.reasons],
                "suggest": [], "seconds": self.seconds}


@lru_cache(maxsize=256)
def best_order(job: FoldJob, clearance: Clearance | None = None) -> FoldOrder | Refusal:
    """The order with the lowest handling cost, or why there is none."""
    started = time.perf_counter()
    girth = girth_of(job.profile)
    if isinstance(girth, GirthRefused):
        reasons = tuple(Limit(text.partition(":")[0], "self", text) for text in girth.reasons)
        return Refusal(reasons, time.perf_counter() - started)
    broken = _broken_limits(job, girth)
    if broken:
        return Refusal(tuple(broken), time.perf_counter() - started)
    search = _Search(Bench(girth, job.brake), clearance)
    found, proved = search.best()
    seconds = time.perf_counter() - started
    if found is None:
        return Refusal(search.reasons(), seconds)
    return _as_order(search.bench, found, proved, seconds)


def _broken_limits(job: FoldJob, girth: Girth) -> list[Limit]:
    brake, limits = job.brake, []
    if job.length > brake.max_length:
        limits.append(Limit("", "length", f"the piece is {job.length:g} mm long, {brake.name} takes "
                            f"{brake.max_length:g} mm"))
    if job.profile.metal.thickness > brake.max_thickness:
        limits.append(Limit("", "thickness", f"the metal is {job.profile.metal.thickness:g} mm thick, {brake.name} "
                            f"folds up to {brake.max_thickness:g} mm"))
    for bend in girth.bends:
        if bend.kind == "hem" and not brake.can_flatten:
            limits.append(Limit(bend.id, "flatten", f"{bend.id}: {brake.name} cannot flatten a hem"))
        if bend.kind == "fold" and abs(bend.turn) > brake.max_turn:
            limits.append(Limit(bend.id, "turn", f"{bend.id}: a turn of {abs(bend.turn):g}°, {brake.name} reaches "
                                f"{brake.max_turn:g}°"))
    return limits


State = tuple[int, Position | None]
Trail = tuple[tuple[Action, Position], ...]


class _Search:
    def __init__(self, bench: Bench, clearance: Clearance | None) -> None:
        self.bench, self.clearance = bench, clearance
        self.asked: dict[tuple[int, int, Edge], Limit | None] = {}
        self.faces = [action.face for action in bench.actions]

    def best(self) -> tuple[Trail | None, bool]:
        """The cheapest trail and whether it is proven; ``None`` when no order exists."""
        start: State = (0, None)
        cost = {start: 0}
        came: dict[State, tuple[State, Action, Position]] = {}
        after: State
        counter = itertools.count()
        queue = [(self._bound(0, None), next(counter), start)]
        closed: set[State] = set()
        while queue:
            _, _, state = heapq.heappop(queue)
            if state in closed:
                continue
            if state[0] == self.bench.everything:
                return self._trail(came, state), True
            closed.add(state)
            if len(closed) > _MOST_STATES:
                return self._beam(), False
            for bit, action, position in self._strokes(state[0]):
                after = (state[0] | 1 << bit, position)
                price = cost[state] + handling(state[1], position)[0]
                if price < cost.get(after, 1 << 30):
                    cost[after], came[after] = price, (state, action, position)
                    heapq.heappush(queue, (price + self._bound(after[0], position), next(counter), after))
        return None, True

    def _strokes(self, done: int) -> list[tuple[int, Action, Position]]:
        return [(bit, action, position) for bit, action in enumerate(self.bench.actions)
                if not done >> bit & 1 and action.needs & done == action.needs
                for position in POSITIONS
                if position[0] == action.face and self._limit(done, bit, position[1]) is None]

    def _limit(self, done: int, bit: int, out: Edge) -> Limit | None:
        key = (done, bit, out)
        if key not in self.asked:
            action = self.bench.actions[bit]
            limit = self.bench.limit(done, action, out)
            if limit is None and self.clearance is not None:
                limit = self.clearance(self.bench, done, action, out)
            self.asked[key] = limit
        return self.asked[key]

    def _bound(self, done: int, position: Position | None) -> int:
        left = {face for bit, face in enumerate(self.faces) if not done >> bit & 1}
        if position is None:
            return max(0, len(left) - 1)
        return len(left - {position[0]})

    @staticmethod
    def _trail(came: dict[State, tuple[State, Action, Position]], state: State) -> Trail:
        steps = []
        while state in came:
            state, action, position = came[state]
            steps.append((action, position))
        return tuple(reversed(steps))

    def _beam(self) -> Trail | None:
        """A good order without proof: at each depth only the cheapest states go on."""
        layer: dict[State, tuple[int, Trail]] = {(0, None): (0, ())}
        for _ in self.bench.actions:
            after: dict[State, tuple[int, Trail]] = {}
            for (done, before), (price, trail) in layer.items():
                for bit, action, position in self._strokes(done):
                    total = price + handling(before, position)[0]
                    key = (done | 1 << bit, position)
                    if total < after.get(key, (1 << 30, ()))[0]:
                        after[key] = (total, (*trail, (action, position)))
            layer = dict(sorted(after.items(), key=lambda item: item[1][0])[:_BEAM])
        return min(layer.values(), key=lambda item: item[0])[1] if layer else None

    def reasons(self) -> tuple[Limit, ...]:
        """For every fold that could not be reached: what stopped it where most else was done."""
        stuck: dict[str, tuple[int, Limit]] = {}
        free = {self.bench.actions[bit].fold for (_, bit, _), limit in self.asked.items() if limit is None}
        for (done, bit, _), limit in sorted(self.asked.items(), key=lambda item: item[0]):
            if limit is not None:
                fold = self.bench.actions[bit].fold
                if fold not in stuck or done.bit_count() < stuck[fold][0]:
                    stuck[fold] = (done.bit_count(), limit)
        never = [limit for fold, (_, limit) in stuck.items() if fold not in free]
        return tuple(never or [limit for _, limit in stuck.values()])


def _as_order(bench: Bench, trail: Trail, proved: bool, seconds: float) -> FoldOrder:
    steps, total, before = [], 0, None
    for n, (action, position) in enumerate(trail, 1):
        price, hands = handling(before, position)
        mark = bench.marks[action.index]
        steps.append(Step(n, action.fold, action.kind, position[0], position[1], action.turn,
                          _set_angle(bench, action), mark if position[1] == "A" else bench.girth.girth - mark, hands))
        total, before = total + price, position
    return FoldOrder(tuple(steps), total, proved, seconds)


def _set_angle(bench: Bench, action: Action) -> float | None:
    if action.kind == "flatten":
        return None
    turn = abs(action.turn)
    past = turn * bench.brake.springback.ratio
    is_prefold = bench.girth.bends[action.index].kind == "hem"
    return turn if is_prefold and past > bench.brake.max_turn else past
