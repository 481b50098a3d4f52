"""What would help where no order exists. Every suggestion is tried and found to work."""

from __future__ import annotations

import math
import time
from collections.abc import Iterator
from itertools import combinations
from typing import Any

from yattle.brake.hand import HandFold, folds_by_hand
from yattle.brake.library import LIBRARY
from yattle.brake.machine import FoldJob
from yattle.brake.order import FoldOrder, Suggestion, plain_order
from yattle.brake.state import Limit
from yattle.errors import InputError
from yattle.metal import library
from yattle.section import Girth, Profile, girth_of

_SECONDS = 6.0
_LAP = 100.0  # mm: of one length over the next
_STATES = 20_000
_MOST_BY_HAND = 3
_LONGER = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80)


def suggestions(job: FoldJob, reasons: tuple[Limit, ...]) -> list[Suggestion]:
    """Machines of the library, folds left to the hands, a changed leg, a split; the cheapest of each kind first."""
    until = time.perf_counter() + _SECONDS
    found: list[Suggestion] = []
    for offer in (_machines, _shorter, _thinner, _tongs, _legs, _splits):
        for suggestion in offer(job, reasons):
            found.append(suggestion)
        if time.perf_counter() > until:
            break
    return found


def _cost(job: FoldJob) -> int | None:
    order = plain_order(job, _STATES, why=False)
    return order.cost if isinstance(order, FoldOrder) else None


def _machines(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    for brake in LIBRARY:
        if brake != job.brake:
            cost = _cost(job.but(brake=brake))
            if cost is not None:
                yield Suggestion("machine", (("brake", brake.name),), cost, f"it can be folded on {brake.name}")


def _shorter(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """A piece that is too long in as few equal ones as the machine takes, each longer by the lap at its joints."""
    if job.length <= job.brake.max_length:
        return
    many = math.ceil((job.length - _LAP) / max(job.brake.max_length - _LAP, 1.0))
    each = math.ceil((job.length + (many - 1) * _LAP) / many)
    cost = _cost(job.but(length=float(each)))
    if cost is not None and each <= job.brake.max_length:
        yield Suggestion("split", (("length", each), ("pieces", many)), cost,
                         f"in {many} pieces of {each} mm that lap by {_LAP:g} mm")


def _thinner(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """The thickest usual gauge of that metal that the machine takes."""
    metal = job.profile.metal
    usual = next((one.thicknesses for one in library().metals if metal.name.startswith(one.name)), ())
    thickest = job.brake.thickest(metal.name)
    able = [gauge for gauge in usual if gauge <= thickest]
    if metal.thickness <= thickest or not able:
        return
    gauge = max(able)
    name = metal.name.replace(f"{metal.thickness:.2f}", f"{gauge:.2f}")
    cost = _try(job, metal=metal.but(thickness=gauge, name=name))
    if cost is not None:
        yield Suggestion("thinner", (("thickness", gauge),), cost,
                         f"in {gauge:g} mm it can be folded on {job.brake.name}")


def _tongs(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """Folds left to the hands after the brake, by tongs near an edge or between two boards: as few as will do, each
    tried on the piece as it then is."""
    girth = girth_of(job.profile)
    if not isinstance(girth, Girth):
        return
    folds = [bend.id for bend in girth.bends if bend.kind == "fold"]
    can = [place for place, bend in enumerate(b for b in girth.bends if b.kind == "fold") if bend.turn]
    until = time.perf_counter() + _SECONDS / 3
    for count in range(1, _MOST_BY_HAND + 1):
        any_works = False
        for places in combinations(can, count):
            if time.perf_counter() > until:
                return
            by_hand = folds_by_hand(job, [folds[place] for place in places])
            if by_hand is None:
                continue
            turns = tuple(0.0 if n in places else turn for n, turn in enumerate(job.profile.turns))
            cost = _try(job, turns=turns)
            if cost is not None:
                any_works = True
                yield _left_to_hands(by_hand, cost, job.length)
        if any_works:
            return


def _left_to_hands(folds: tuple[HandFold, ...], cost: int, length: float) -> Suggestion:
    ids = tuple(one.fold for one in folds)
    at: tuple[str, Any] = ("fold", ids[0]) if len(ids) == 1 else ("folds", list(ids))
    said = ", then ".join(one.says(length) for one in folds)
    return Suggestion("tongs", (at,), cost, f"after the brake, leave {said}")


def _try(job: FoldJob, **changes: object) -> int | None:
    try:
        return _cost(job.but(profile=job.profile.but(**changes)))
    except InputError:
        return None


def _legs(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """For each leg the smallest change that makes an order possible, longer before shorter."""
    best: list[tuple[float, Suggestion]] = []
    until = time.perf_counter() + _SECONDS / 3
    for place, length in enumerate(job.profile.legs):
        for change in (sign * by for by in _LONGER for sign in (1, -1)):
            if time.perf_counter() > until:
                break
            if length + change < 3 or (best and abs(change) > best[0][0]):
                continue
            legs = tuple(length + change if n == place else leg for n, leg in enumerate(job.profile.legs))
            cost = _try(job, legs=legs)
            if cost is not None:
                word = "longer" if change > 0 else "shorter"
                at = (("leg", place + 1), ("length", length + change))
                says = f"leg {place + 1} {abs(change)} mm {word}, {length + change:g} mm, can be folded"
                best.append((abs(change), Suggestion("leg", at, cost, says)))
                break
        best.sort(key=lambda item: item[0])
    yield from (suggestion for _, suggestion in best[:2])


def _splits(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """Two pieces that share one leg as their seam, the shortest seam that works."""
    legs = job.profile.legs
    for place in sorted(range(1, len(legs) - 1), key=lambda n: legs[n]):
        costs = [_cost(job.but(profile=half)) for half in _halves(job.profile, place)]
        if None not in costs:
            yield Suggestion("split", (("leg", place + 1),), sum(cost for cost in costs if cost is not None),
                             f"in two pieces that lap over leg {place + 1}, a seam of {legs[place]:g} mm")
            return


def _halves(profile: Profile, place: int) -> tuple[Profile, Profile]:
    first = profile.but(legs=profile.legs[: place + 1], turns=profile.turns[:place], hem_b=None)
    second = profile.but(legs=profile.legs[place:], turns=profile.turns[place:], hem_a=None)
    return first, second
