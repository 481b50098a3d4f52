"""What would help where no order exists. Every suggestion is tried and found to work."""

from __future__ import annotations

import time
from collections.abc import Iterator

from yattle.brake.hand import HAND_TOOLS
from yattle.brake.machine import FoldJob
from yattle.brake.order import FoldOrder, Suggestion, plain_order
from yattle.brake.state import Limit
from yattle.errors import InputError
from yattle.section import Girth, Profile, girth_of

_SECONDS = 6.0
_STATES = 20_000
_LONGER = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80)


def suggestions(job: FoldJob, reasons: tuple[Limit, ...]) -> list[Suggestion]:
    """Machines of the library, one fold by tongs, a changed leg, a split; the cheapest of each kind first."""
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
    from yattle.brake.library import LIBRARY

    for brake in LIBRARY:
        if brake != job.brake:
            cost = _cost(job.but(brake=brake))
            if cost is not None:
                yield Suggestion("machine", (("brake", brake.name),), cost, f"it can be folded on {brake.name}")


def _tongs(job: FoldJob, reasons: tuple[Limit, ...]) -> Iterator[Suggestion]:
    """One fold left to the hands after the brake: by tongs near an edge, else between two boards."""
    girth = girth_of(job.profile)
    if not isinstance(girth, Girth):
        return
    for place, bend in enumerate(b for b in girth.bends if b.kind == "fold"):
        depth = min(bend.mark, girth.girth - bend.mark)
        tool = next((tool for tool in HAND_TOOLS if tool.reaches(depth, bend.turn, job.length)), None)
        if not bend.turn or tool is None:
            continue
        turns = tuple(0.0 if n == place else turn for n, turn in enumerate(job.profile.turns))
        cost = _try(job, turns=turns)
        if cost is not None:
            yield Suggestion("tongs", (("fold", bend.id),), cost,
                             f"leave {bend.id} to {tool.name}, {depth:.0f} mm from the edge, after the brake: "
                             f"{tool.bites(job.length)} bites")


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
