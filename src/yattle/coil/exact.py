"""What no plan of a small job can be under, by looking at all of them (CP-SAT of the ortools package).

Every plan is some blocks of each source, and in each block rectangles that do not overlap. That is all that is asked
here: whether a shear reaches them by edge-to-edge cuts is not. So what all such plans cost at least, or as much of it
as is proven when the time is up, is under what any plan costs. Sizes are cut off to a hundredth of a millimetre: of a
plan with its places cut off likewise nothing comes to overlap, so none is left out.
"""

from __future__ import annotations

import math
import sys
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yattle.coil.budget import Budget
from yattle.coil.dual import dual_values
from yattle.coil.types import ItemType, StockType

Floats = NDArray[np.float64]

MOST = 40  # pieces: with more it proves no more than a linear program does
_SLOTS = 64  # blocks that may have to be looked at
_FINE = 100  # steps in a mm
_DUST = 1e-4  # of a step
_MONEY = 1_000_000  # steps in what a mm of the dearest source costs
_HAIR = 5e-5  # of what a plan costs: what is better by less is not looked for
_SHARES = 100_000  # steps in a whole
_FUNCTIONS = 4  # of the widths or lengths that are looked at
_LOADING = 1.5  # seconds at most
_LOOK = 0.05  # seconds between two looks at whether to stop


@dataclass(frozen=True)
class Known:
    """What is known when it begins: what a plan costs and what none can be under; ``ends``: mm taken off each source
    before its first block."""

    cost: float
    least: float
    ends: Sequence[float]


@dataclass(frozen=True)
class _Slot:
    """A block that a plan may have: its source, whether it is the first of it, how far it reaches at most and its
    width, and where it begins across when all slots lie beside each other; in steps."""

    source: int
    first: bool
    longest: int
    across: int
    low: int


def in_time(budget: Budget) -> bool:
    """Whether there is time to look: the solver has to be loaded the first time."""
    left = budget.until - time.perf_counter()
    return left > (0.0 if budget.steps is not None or "ortools.sat.python.cp_model" in sys.modules else _LOADING)


def least_of_all(kinds: list[ItemType], sources: list[StockType], gap: float, known: Known, budget: Budget) -> float:
    """What every plan for all the pieces of ``kinds`` costs at least, in units of the objective; 0 where it cannot
    tell."""
    slots = _slots(kinds, sources, gap, known.cost)
    if not slots or not in_time(budget):
        return 0.0
    return _Model(kinds, sources, gap, slots, known).least(budget)


def _slots(kinds: list[ItemType], sources: list[StockType], gap: float, known: float) -> list[_Slot]:
    """Blocks enough for any plan that costs no more than ``known``; none where they are too many to look at."""
    pieces, slots, low = sum(kind.qty for kind in kinds), list[_Slot](), 0
    if not 0 < pieces <= MOST:
        return []
    row = sum(kind.qty * (kind.orientations[0].along + gap) for kind in kinds)  # all of them one behind the other
    for n, source in enumerate(sources):
        longest = min(source.longest, source.length, row, known / source.price if source.price > 0 else row)
        for k in range(_blocks(source, known, pieces, gap)):
            slots.append(_Slot(n, k == 0, _steps(longest), _steps(source.across), low))
            low += _steps(source.across + gap) + 1
        if len(slots) > _SLOTS:
            return []
    return slots


def _blocks(source: StockType, known: float, pieces: int, gap: float) -> int:
    """How many blocks of a source a plan may have. Two blocks of a coil that together are no longer than one may be
    are as good as one, so of any two the longer has more than half of that."""
    if not source.endless:
        return min(source.most, pieces, int(known / source.fixed + 1e-6) if source.fixed > 0 else pieces)
    if source.price <= 0 or source.longest <= gap:
        return pieces
    length = min(known / source.price, source.length)
    return 1 if length <= source.longest + 1e-6 else min(pieces, int(2 * length / (source.longest - gap)) + 1)


def _steps(mm: float) -> int:
    return math.floor(mm * _FINE + _DUST)


class _Model:
    """The question as CP-SAT takes it."""

    def __init__(self, kinds: list[ItemType], sources: list[StockType], gap: float, slots: list[_Slot],
                 known: Known) -> None:
        from ortools.sat.python import cp_model

        self.kinds, self.sources, self.gap, self.slots = kinds, sources, gap, slots
        self.model = cp_model.CpModel()
        self.used = [self.model.new_bool_var("") for _ in slots]
        self.long = [self.model.new_int_var(0, slot.longest, "") for slot in slots]
        self.along: list[Any] = []
        self.across: list[Any] = []
        pieces = [n for n, kind in enumerate(kinds) for _ in range(kind.qty)]
        self.in_slot = [self._piece(kinds[n], n) for n in pieces]
        self.model.add_no_overlap_2d(self.along, self.across)
        self._whole_blocks()
        self._alike(pieces)
        self._areas(pieces)
        self._shares(pieces)
        self.step, cost = self._cost(known.ends)
        self.most = known.cost * (1 - _HAIR)
        self.model.add(cost <= math.floor(self.most / self.step) + 1)
        self.model.add(cost >= math.floor(known.least * (1 - 1e-9) / self.step))
        self.model.minimize(cost)

    def _piece(self, kind: ItemType, number: int) -> list[Any]:
        """One piece, lying in one of its ways in one of the slots."""
        model = self.model
        able = [number in self.sources[slot.source].kinds for slot in self.slots]
        taken = [model.new_bool_var("") if can else model.new_constant(0) for can in able]
        ways = [model.new_bool_var("") for _ in kind.orientations]
        model.add_exactly_one(taken)
        model.add_exactly_one(ways)
        x = model.new_int_var(0, max(slot.longest for slot in self.slots), "")
        y = model.new_int_var(0, max(slot.low + slot.across for slot in self.slots), "")
        for lie, way in zip(kind.orientations, ways, strict=True):
            along, across = _steps(lie.along), _steps(lie.across)
            for k, (slot, here) in enumerate(zip(self.slots, taken, strict=True)):
                if able[k] and (along > slot.longest or across > slot.across):
                    model.add_bool_or([here.negated(), way.negated()])
                elif able[k]:
                    model.add(x + along <= self.long[k]).only_enforce_if(here, way)
                    model.add_linear_constraint(y, slot.low, slot.low + slot.across - across).only_enforce_if(here, way)
            wide, tall = _steps(lie.along + self.gap), _steps(lie.across + self.gap)
            self.along.append(model.new_optional_fixed_size_interval_var(x, wide, way, ""))
            self.across.append(model.new_optional_fixed_size_interval_var(y, tall, way, ""))
        return taken

    def _whole_blocks(self) -> None:
        """A slot that is not used has no length; a sheet is taken whole."""
        for slot, used, long in zip(self.slots, self.used, self.long, strict=True):
            if self.sources[slot.source].endless:
                self.model.add(long <= slot.longest * used)
            else:
                self.model.add(long == slot.longest * used)

    def _alike(self, pieces: list[int]) -> None:
        """Of pieces that are alike the earlier one is in the earlier slot, of slots that are alike the first is the
        longest: whatever else there is, is one of these with other names."""
        for n in range(1, len(pieces)):
            if pieces[n] == pieces[n - 1]:
                before, after = (sum(k * here for k, here in enumerate(self.in_slot[m])) for m in (n - 1, n))
                self.model.add(before <= after)
        for k in range(1, len(self.slots)):
            if not self.slots[k].first:
                self.model.add(self.long[k - 1] >= self.long[k])
                self.model.add_implication(self.used[k], self.used[k - 1])

    def _areas(self, pieces: list[int]) -> None:
        """What follows from the rest and helps to see it: no slot holds more than its area, no coil gives more than
        there is of it."""
        least = [min(_steps(lie.along) * _steps(lie.across) for lie in self.kinds[n].orientations) for n in pieces]
        for k, slot in enumerate(self.slots):
            held = sum(area // _FINE * self.in_slot[n][k] for n, area in enumerate(least))
            self.model.add(held <= self.long[k] * (slot.across // _FINE + 1))
        for n, source in enumerate(self.sources):
            mine = [long for slot, long in zip(self.slots, self.long, strict=True) if slot.source == n]
            if mine and source.endless and math.isfinite(source.length):
                self.model.add(sum(mine) <= _steps(source.length) + 1)

    def _shares(self, pieces: list[int]) -> None:
        """What a slot holds, by dual-feasible functions of the widths, lengths as they are or by such functions too."""
        for k, slot in enumerate(self.slots):
            across, along = (self._sizes(pieces, slot, n) for n in (0, 1))
            wide, long = _telling(across, along), _telling(along, across)
            for values in wide:
                self._at_most(k, (values * along).min(axis=1), self.long[k])
            for values in wide:
                for other in long:
                    self._at_most(k, (values * other).min(axis=1), slot.longest * self.used[k])

    def _sizes(self, pieces: list[int], slot: _Slot, n: int) -> Floats:
        """Pieces' widths (0) or lengths (1) in each way to lie, as shares of a slot's."""
        most = max(len(kind.orientations) for kind in self.kinds)
        whole = slot.longest if n else slot.across
        return np.array([[min(_steps(lie.along if n else lie.across) / whole, 1.0) for lie in (
            self.kinds[piece].orientations * most)[:most]] for piece in pieces])

    def _at_most(self, k: int, shares: Floats, room: Any) -> None:
        """The shares of what is in slot ``k`` are no more than ``room``, a share of the slot's longest."""
        whole = [math.floor(share * _SHARES) for share in shares]
        rate = self.slots[k].longest / _SHARES
        self.model.add(sum(math.floor(rate * many) * self.in_slot[n][k] for n, many in enumerate(whole)) <= room)

    def _cost(self, ends: Sequence[float]) -> tuple[float, Any]:
        """How much a step of the cost is, and the cost: blocks with a gap between them, behind what is trimmed off."""
        each = [source.price / _FINE if source.endless else source.fixed / max(_steps(source.longest), 1)
                for source in self.sources]
        step = max(*each, 1e-300) / _MONEY
        cost: Any = 0
        for slot, used, long in zip(self.slots, self.used, self.long, strict=True):
            rate = math.floor(each[slot.source] / step * (1 + 1e-12))
            before = (ends[slot.source] if slot.first else self.gap) if self.sources[slot.source].endless else 0.0
            cost += rate * long + rate * _steps(before) * used
        return step, cost

    def least(self, budget: Budget) -> float:
        from ortools.sat.python import cp_model

        solver, over = cp_model.CpSolver(), threading.Event()
        solver.parameters.num_workers = 1  # more of them prove no sooner here, and not the same way each time
        solver.parameters.random_seed = 1
        solver.parameters.use_energetic_reasoning_in_no_overlap_2d = True
        solver.parameters.max_time_in_seconds = max(budget.until - time.perf_counter(), 0.01)
        if budget.steps is not None:
            solver.parameters.max_deterministic_time = budget.steps
        watch = threading.Thread(target=_watched, args=(solver, budget.asked, over), daemon=True)
        watch.start()
        status = solver.solve(self.model)
        over.set()
        watch.join()
        return self.most if status == cp_model.INFEASIBLE else max(solver.best_objective_bound, 0.0) * self.step


def _telling(shares: Floats, weights: Floats) -> list[Floats]:
    """Of the functions of ``shares`` those that say most of all pieces together."""
    found = {values.tobytes(): values for values in dual_values(shares)}
    return sorted(found.values(), key=lambda values: -float((values * weights).min(axis=1).sum()))[:_FUNCTIONS]


def _watched(solver: Any, asked: Callable[[], bool], over: threading.Event) -> None:
    """End the solver's work as soon as somebody asks for it."""
    while not over.wait(_LOOK):
        if asked():
            solver.stop_search()
