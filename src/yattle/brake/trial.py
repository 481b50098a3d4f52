"""Somebody's own order, tried: where it strikes, and what it costs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any, Literal

from pydantic import Field

from yattle.bounds import Name
from yattle.brake.machine import FoldJob
from yattle.brake.order import Step, as_order
from yattle.brake.simulate import FINE, Simulator
from yattle.brake.state import POSITIONS, Bench, Limit, Position, handling
from yattle.errors import InputError
from yattle.section import GirthRefused, girth_of
from yattle.values import Value

Stroke = tuple[str, str]  # fold and action


class StrokeOf(Value):
    """One stroke of somebody's own order: which fold, and whether it is folded or a hem flattened."""

    fold: Name
    action: Literal["fold", "flatten"] = "fold"


class OwnOrder(FoldJob):
    """A section to be folded over ``length`` mm on a brake in somebody's own ``order``."""

    order: Annotated[tuple[StrokeOf, ...], Field(max_length=300)]

    @property
    def job(self) -> FoldJob:
        """What is to be folded, without the order."""
        return FoldJob(profile=self.profile, length=self.length, brake=self.brake)

    def strokes(self) -> tuple[Stroke, ...]:
        """The order; raises :class:`~yattle.errors.InputError` where it does not name every stroke once."""
        named, known = [(one.fold, one.action) for one in self.order], natural_order(self.job)
        for n, stroke in enumerate(named):
            if stroke not in known or stroke in named[:n]:
                raise InputError(f"order.{n}", f"{stroke[1]} {stroke[0]}", "each once of " + _listed(known))
        missing = [stroke for stroke in known if stroke not in named]
        if missing:
            raise InputError("order", f"no {_listed(missing)}", "every stroke of the section once")
        return tuple(named)


def _listed(strokes: Iterable[Stroke]) -> str:
    return ", ".join(f"{action} {fold}" for fold, action in strokes)


@dataclass(frozen=True)
class TrialStep:
    """One stroke of the order as tried; ``limit`` says what stops it, ``angle`` at which leaf angle. Angles in
    degrees."""

    step: Step
    limit: Limit | None
    angle: float | None


@dataclass(frozen=True)
class Trial:
    """The order as tried; ``cost`` is its handling, ``ok`` whether nothing stops it."""

    steps: tuple[TrialStep, ...]
    cost: int

    @property
    def ok(self) -> bool:
        return all(tried.limit is None for tried in self.steps)

    def answer(self, best: int | None) -> dict[str, Any]:
        """As ``yattle try`` gives it; ``best`` is the cost of the best order, where there is one."""
        return {"format": "yattle-trial/1", "ok": self.ok,
                "reasons": [vars(tried.limit) for tried in self.steps if tried.limit is not None],
                "steps": [{**vars(tried.step), "free": tried.limit is None,
                           "strikes": None if tried.limit is None else {**vars(tried.limit), "angle": tried.angle}}
                          for tried in self.steps],
                "cost": self.cost, "best": best, "over_best": None if best is None else self.cost - best}


def natural_order(job: FoldJob) -> tuple[Stroke, ...]:
    """Hems first, then the folds from edge A to edge B: where a hand would begin."""
    girth = girth_of(job.profile)
    if isinstance(girth, GirthRefused):
        return ()
    actions = Bench(girth, job.brake).actions
    return tuple((a.fold, a.kind) for a in sorted(actions, key=lambda a: not a.fold.startswith("h")))


@lru_cache(maxsize=256)
def try_order(job: FoldJob, wanted: tuple[Stroke, ...]) -> Trial:
    """``wanted`` stroke by stroke, the piece lying each time in the way that costs least in all.

    A stroke that is stopped is taken as made all the same, so that what comes after it can be
    seen. A hem's flatten before its fold is stopped by itself.
    """
    girth = girth_of(job.profile)
    if isinstance(girth, GirthRefused):
        return Trial((), 0)
    bench = Bench(girth, job.brake)
    simulator = Simulator(bench, FINE)
    bits = [next(n for n, a in enumerate(bench.actions) if (a.fold, a.kind) == stroke) for stroke in wanted]
    trail, limits, done = [], list[tuple[Limit | None, float | None]](), 0
    ways = _ways(bench, simulator, bits)
    for bit, position in zip(bits, ways, strict=True):
        limits.append(_stops(bench, simulator, done, bit, position))
        trail.append((bit, position))
        done |= 1 << bit
    order = as_order(bench, tuple(trail), False, -1, 0.0)
    return Trial(tuple(TrialStep(step, *limit) for step, limit in zip(order.steps, limits, strict=True)), order.cost)


def _ways(bench: Bench, simulator: Simulator, bits: list[int]) -> list[Position]:
    """How the piece lies for each stroke: the cheapest chain of positions, a stopped stroke being dear."""
    best: dict[Position | None, tuple[int, tuple[Position, ...]]] = {None: (0, ())}
    done = 0
    for bit in bits:
        after: dict[Position | None, tuple[int, tuple[Position, ...]]] = {}
        for position in POSITIONS:
            if position[0] == bench.actions[bit].face:
                stopped = _stops(bench, simulator, done, bit, position)[0] is not None
                cost, way = min((price + handling(before, position)[0], way) for before, (price, way) in best.items())
                after[position] = (cost + 1000 * stopped, (*way, position))
        best, done = after, done | 1 << bit
    return list(min(best.values())[1])


def _stops(bench: Bench, simulator: Simulator, done: int, bit: int,
           position: Position) -> tuple[Limit | None, float | None]:
    action = bench.actions[bit]
    if action.needs & ~done:
        return Limit(action.fold, "flatten", f"{action.fold}: it has to be folded before it is flattened"), None
    plain = bench.limit(done, action, position[1])
    if plain is not None:
        return plain, None
    if simulator.free(done, bit, position[1]):
        return None, None
    strike = simulator.strike(done, bit, position[1])
    return simulator.clearance(done, bit, position[1]), strike.angle if strike else None
