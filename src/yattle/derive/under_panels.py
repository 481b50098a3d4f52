"""What panels meet that they are not laid for: edges that stand up beneath them, a wall that they go up themselves."""

from __future__ import annotations

import math
from collections.abc import Iterable

from yattle.derive.pans import core_of
from yattle.derive.raised import built_up
from yattle.derive.run import DerivedRun
from yattle.details.common import Finding
from yattle.job.model import Job
from yattle.measure import Whole
from yattle.roof import Edge

_GIVES = 3.0  # mm that panels give way


def under_panels(job: Job, trims: Iterable[tuple[Edge, DerivedRun]]) -> dict[str, Finding]:
    """What is said of valleys whose edges stand up higher than the panels over them lie, and of walls up which the last
    pan goes behind a zed, by the id of the edge."""
    found = {}
    for edge, run in trims:
        if edge.kind == "valley" and run.pieces:
            stands, room = _edge_over(run), min(_room(job, face) for face in edge.facets)
            if stands > room + _GIVES:
                found[edge.id] = Finding(
                    "look", "its edges stand {0} over the deck, the panels lie {1} over it: they would lie on them",
                    "a valley with hems, or panels that stand off the deck by as much", "detail", (stands, room))
        elif run.pieces and run.family is not None and run.family.name == "wall-zed":
            found[edge.id] = Finding(
                "look", "the last pan goes up the wall behind it by {0}, its panel is told without that",
                "a panel that much wider there, folded up by hand before it is laid", "detail",
                (Whole(run.run.over + run.standard.zed_cover),))
    return found


def _room(job: Job, face: str) -> float:
    """How high over a face's deck its panels lie, mm: a sandwich with its core."""
    return built_up(job, face).flat - core_of(job.panel_system(face))


def _edge_over(run: DerivedRun) -> float:
    """How high a valley's edges stand over the legs along which its water runs, mm: where these are not its outermost
    ones."""
    profile, water = run.detail.profile, run.detail.roles.water
    if profile is None or not water:
        return 0.0
    outer = [(0, 0)] * (min(water) > 0) + [(-1, -1)] * (max(water) < len(profile.legs) - 1)
    return max((abs(profile.legs[leg] * math.sin(math.radians(profile.turns[fold]))) for leg, fold in outer),
               default=0.0)
