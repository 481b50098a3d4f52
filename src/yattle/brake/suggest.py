"""What would help where no order exists. Every suggestion is tried and found to work."""

from __future__ import annotations

import time
from collections.abc import Iterator
from itertools import combinations
from typing import Any

from yattle.brake.hand import HAND_TOOLS
from yattle.brake.library import LIBRARY
from yattle.brake.machine import FoldJob
from yattle.brake.order import FoldOrder, Suggestion, plain_order
from yattle.brake.state import Limit
from yattle.errors import InputError
from yattle.section import Bend, Girth, Profile, girth_of

_SECONDS = 6.0
_STATES = 20_000
_MOST_BY_HAND = 3
_LONGER = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80)


def suggestions(job: FoldJob, reasons: tuple[Limit, ...]) -> list[Suggestion]:
    """Machines of the library, folds left to the hands, a changed leg, a split; the cheapest of each kind first."""
    until = time.perf_counter() + _SECONDS
    found: list[Suggestion] = []
    for offer in (_machines, _tongs, _legs, _splits):
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


def _tongs(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """Folds left to the hands after the brake, by tongs near an edge or between two boards: as few as will do."""
    girth = girth_of(job.profile)
    if not isinstance(girth, Girth):
        return
    by_hand = {place: reach for place, bend in enumerate(b for b in girth.bends if b.kind == "fold")
               if (reach := _hand(girth, bend, job.length)) is not None}
    until = time.perf_counter() + _SECONDS / 3
    for count in range(1, _MOST_BY_HAND + 1):
        any_works = False
        for places in combinations(by_hand, count):
            if time.perf_counter() > until:
                return
            turns = tuple(0.0 if n in places else turn for n, turn in enumerate(job.profile.turns))
            cost = _try(job, turns=turns)
            if cost is not None:
                any_works = True
                yield _left_to_hands([by_hand[place] for place in places], cost)
        if any_works:
            return


def _hand(girth: Girth, bend: Bend, length: float) -> tuple[str, str] | None:
    """The fold and how a hand makes it; ``None`` where no hand tool reaches."""
    depth = min(bend.mark, girth.girth - bend.mark)
    tool = next((tool for tool in HAND_TOOLS if tool.reaches(depth, bend.turn, length)), None)
    if not bend.turn or tool is None:
        return None
    return bend.id, f"{bend.id} to {tool.name}, {depth:.0f} mm from the edge, {tool.bites(length)} bites"


def _left_to_hands(folds: list[tuple[str, str]], cost: int) -> Suggestion:
    ids = tuple(fold for fold, _ in folds)
    at: tuple[str, Any] = ("fold", ids[0]) if len(ids) == 1 else ("folds", list(ids))
    return Suggestion("tongs", (at,), cost, "after the brake, leave " + " and ".join(says for _, says in folds))


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
