"""The fold order of a section on a brake, or why there is none."""

from __future__ import annotations

import time
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from yattle.brake.machine import FoldJob
from yattle.brake.search import FoldSearch, Trail
from yattle.brake.state import Bench, Limit, Operation, Position, handling
from yattle.section import Girth, GirthRefused, girth_of


@dataclass(frozen=True)
class Step:
    """One stroke as the hands do it; ``mark_from_out_edge`` mm on the blank from the raw out edge. ``stays``: the turn,
    degrees, that is left of a fold whose ``set_angle`` is further than the leaf goes; ``None``: it goes there."""

    n: int
    fold: str
    action: str
    face_up: str
    out: str
    turn: float
    set_angle: float | None
    mark_from_out_edge: float
    handling: str
    stays: float | None = None

    def answer(self) -> dict[str, Any]:
        """As it is written."""
        return {name: value for name, value in vars(self).items() if name != "stays"}

    def short_says(self) -> str:
        """What to do where the leaf does not go far enough for the springback; empty where it does."""
        if self.stays is None or self.set_angle is None:
            return ""
        return (f"the leaf would have to go to {self.set_angle:.1f}°; at its last it leaves {self.stays:.1f}°: bring "
                f"the other {abs(self.turn) - self.stays:.1f}° by tongs or over a board")


@dataclass(frozen=True)
class FoldOrder:
    """Steps with their handling cost; ``proved_best`` when no order can cost less than ``bound``, which it does."""

    steps: tuple[Step, ...]
    cost: int
    proved_best: bool
    bound: int
    seconds: float

    def answer(self) -> dict[str, Any]:
        return {"format": "yattle-folds/1", "ok": True, "steps": [step.answer() for step in self.steps],
                "cost": self.cost, "proved_best": self.proved_best, "bound": self.bound, "seconds": self.seconds,
                "notes": [f"{step.fold}: {said}" for step in self.steps if (said := step.short_says())]}


@dataclass(frozen=True)
class Suggestion:
    """A change that was tried and found to work; ``cost`` is the handling it then takes."""

    kind: str
    at: tuple[tuple[str, Any], ...]
    cost: int
    says: str

    def answer(self) -> dict[str, Any]:
        return {"kind": self.kind, "at": dict(self.at), "cost": self.cost, "says": self.says}


@dataclass(frozen=True)
class Refusal:
    """No order exists; every reason names its fold and what it strikes or lacks.

    The written answer knows one fold left to the hands, so plans that leave several are for the window. Time in
    seconds.
    """

    reasons: tuple[Limit, ...]
    suggest: tuple[Suggestion, ...]
    seconds: float

    def answer(self) -> dict[str, Any]:
        return {"format": "yattle-folds/1", "ok": False, "reasons": [vars(reason) for reason in self.reasons],
                "suggest": [s.answer() for s in self.suggest if "folds" not in dict(s.at)], "seconds": self.seconds}


@lru_cache(maxsize=1024)
def plain_order(job: FoldJob, most_states: int = 400_000, why: bool = True) -> FoldOrder | Refusal:
    """The order with the lowest handling cost or the reasons, without looking for what would help; ``why`` false leaves
    the reasons out. ``most_states`` bounds the search."""
    started = time.perf_counter()
    girth = girth_of(job.profile)
    if isinstance(girth, GirthRefused):
        reasons = tuple(Limit(text.partition(":")[0], "self", text) for text in girth.reasons)
        return Refusal(reasons, (), time.perf_counter() - started)
    broken = broken_limits(job, girth)
    if broken:
        return Refusal(tuple(broken), (), time.perf_counter() - started)
    search = FoldSearch(Bench(girth, job.brake), most_states)
    trail, proved = search.best()
    if trail is None:
        return Refusal(search.reasons() if why else (), (), time.perf_counter() - started)
    return as_order(search.bench, trail, proved, search.bound, time.perf_counter() - started)


def broken_limits(job: FoldJob, girth: Girth) -> list[Limit]:
    """Limits of the machine that no order can get round."""
    brake, limits = job.brake, []
    if job.length > brake.max_length:
        limits.append(Limit("", "length", f"the piece is {job.length:g} mm long, {brake.name} takes "
                            f"{brake.max_length:g} mm"))
    metal = job.profile.metal
    if metal.thickness > brake.thickest(metal.name):
        thickest = brake.thickest(metal.name)
        told = f" of {metal.name}" if thickest != brake.max_thickness else ""
        limits.append(Limit("", "thickness", f"the metal is {metal.thickness:g} mm thick, {brake.name} folds up to "
                            f"{thickest:g} mm{told}: send it out where no other machine takes it"))
    for bend in girth.bends:
        if bend.kind == "hem" and not brake.can_flatten:
            limits.append(Limit(bend.id, "flatten", f"{bend.id}: {brake.name} cannot flatten a hem"))
        if bend.kind == "fold" and abs(bend.turn) > brake.max_turn:
            limits.append(Limit(bend.id, "turn", f"{bend.id}: a turn of {abs(bend.turn):g}°, {brake.name} reaches "
                                f"{brake.max_turn:g}°"))
    return limits


def as_order(bench: Bench, trail: Trail, proved: bool, bound: int, seconds: float) -> FoldOrder:
    """A trail of the search in words; one that reaches its bound is proven. Turns in degrees, strip measures in mm."""
    steps, total = [], 0
    before: Position | None = None
    for n, (bit, position) in enumerate(trail, 1):
        action = bench.actions[bit]
        price, hands = handling(before, position)
        mark = bench.marks[action.index]
        from_out = mark if position[1] == "A" else bench.girth.girth - mark
        steps.append(Step(n, action.fold, action.kind, position[0], position[1], action.turn,
                          _set_angle(bench, action), from_out, hands, _stays(bench, action)))
        total, before = total + price, position
    return FoldOrder(tuple(steps), total, proved or total <= bound, total if proved else bound, seconds)


def _set_angle(bench: Bench, action: Operation) -> float | None:
    if action.kind == "flatten":
        return None
    turn = abs(action.turn)
    past = bench.brake.springback.leaf(turn)
    is_prefold = bench.girth.bends[action.index].kind == "hem"
    return turn if is_prefold and past > bench.brake.max_turn else past


def _stays(bench: Bench, action: Operation) -> float | None:
    """What the leaf leaves of a fold at its last, where springback would ask for more; ``None`` where it does not."""
    angle, spring, reach = _set_angle(bench, action), bench.brake.springback, bench.brake.max_turn
    return (reach - spring.offset) / spring.ratio if angle is not None and angle > reach + 1e-9 else None
