"""Rain followed over the fitted roof: each item that water comes from must lie over the one it comes to, and at every
joint of a run the upper piece over the lower one. What stands by sealant alone, or against the fall, is told."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Literal

from yattle.derive.derived import Derived
from yattle.derive.roof_runs import RoofRun, base_id, place_along, roof_runs
from yattle.derive.run import DerivedRun
from yattle.details import Finding
from yattle.install import Lap
from yattle.install.parting import panels_of, parting_of
from yattle.roof import Edge, Roof, RoofPlan, build
from yattle.roof.drain import Drop, drop, feeds
from yattle.roof.edges import WALLS
from yattle.roof.plane import Point, Point3

_LEVEL = 1.0  # degrees along a run under which water does not run over its joints
_INSIDE = 60.0  # mm from an edge to where a drop is let go above it
_SHARES = (0.3, 0.7)  # of an edge's length: where

Stands = Literal["fall", "hem", "sealant", "against"]
STANDS: dict[Stands, str] = {
    "fall": "with the upper piece over the lower", "hem": "in nested hems", "sealant": "by sealant alone",
    "against": "against the fall"}
"""How a joint stands, in words."""


@dataclass(frozen=True)
class RunJoint:
    """Where piece ``n`` of a run (from 1) meets the next, ``at`` on the roof: it stands by the ``fall``, the upper
    piece over the lower one; by a nested ``hem``; by ``sealant`` alone; or lies ``against`` the fall. Places in mm."""

    run: str
    n: int
    by: Stands
    at: Point3 | None = None


@dataclass(frozen=True)
class Passage:
    """Water comes from one item to another; ``over``: whether the one it comes from lies over it. ``at``: one place.
    ``at`` on the roof, mm."""

    source: str
    to: str
    over: bool
    at: Point3


@dataclass(frozen=True)
class Water:
    joints: tuple[RunJoint, ...]
    passages: tuple[Passage, ...]

    @property
    def sealed(self) -> tuple[RunJoint, ...]:
        """The joints that stand by sealant alone."""
        return tuple(joint for joint in self.joints if joint.by == "sealant")

    def findings(self) -> Iterator[tuple[str, Finding]]:
        """(item, finding) for every lap against the water."""
        for passage in self.passages:
            if not passage.over:
                yield passage.to, Finding("look", f"water from {passage.source} comes against it",
                                          f"{passage.to} does not lie beneath {passage.source}: the joint stands by "
                                          "its turned-up edge and sealant alone", "laps")
        for joint in self.joints:
            if joint.by == "against":
                yield joint.run, Finding("look", f"pieces {joint.n} and {joint.n + 1} lap against the fall",
                                         "the upper one over the lower one, or a nested hem", "weather")


def water_of(derived: Derived, laps: tuple[Lap, ...]) -> Water:
    """All joints, and every passage that drops let go above each edge and over each opening take."""
    runs = {found.edge.id: found for found in roof_runs(derived.job)}
    made = {run.run.id for run in derived.runs if run.pieces}
    way = _Way(derived.roof, {edge: found.run.id for edge, found in runs.items() if found.run.id in made})
    seen: dict[tuple[str, str], Point3] = {}
    for found in _drops(derived.job.roof):
        for source, to, here in way.steps(found):
            seen.setdefault((source, to), here)
    for source, to, here in _off_the_trims(derived, [found for found in runs.values() if found.run.id in made], way):
        seen.setdefault((source, to), here)
    beneath = _beneath(laps)
    return Water(tuple(_joints(derived, runs)),
                 tuple(Passage(source, to, to in beneath[source] and source not in beneath[to], at)
                       for (source, to), at in sorted(seen.items())))


def _beneath(laps: tuple[Lap, ...]) -> dict[str, set[str]]:
    """For each item all that it lies on, by one lap or by several."""
    direct: dict[str, set[str]] = defaultdict(set)
    for lap in laps:
        if not lap.by_hand:
            direct[lap.over].add(lap.under)
    found: dict[str, set[str]] = defaultdict(set)
    for item in list(direct):
        stack = list(direct[item])
        while stack:
            under = stack.pop()
            if under not in found[item]:
                found[item].add(under)
                stack += direct.get(under, ())
    return found


# -- where drops go -------------------------------------------------------------------------------------------


@lru_cache(maxsize=16)
def _drops(plan: RoofPlan) -> tuple[Drop, ...]:
    """The ways of drops over a roof; kept, since most edits leave the roof as it is."""
    roof = build(plan)
    return tuple(drop(roof, at) for at in _starts(roof))


def _starts(roof: Roof) -> Iterator[Point]:
    """A little above every edge, on each of its faces, and above every opening."""
    for edge in roof.edges:
        dx, dy = edge.b[0] - edge.a[0], edge.b[1] - edge.a[1]
        long = max((dx * dx + dy * dy) ** 0.5, 1e-9)
        for share in _SHARES:
            x, y = edge.a[0] + share * dx, edge.a[1] + share * dy
            for side in (-1, 1):
                yield x - side * dy / long * _INSIDE, y + side * dx / long * _INSIDE
    for placed in roof.openings:
        own, fall = placed.opening, roof.facet(placed.facets[0]).plane.fall
        if fall is not None:
            far = max(getattr(own, "across", 0.0), getattr(own, "along", 0.0), getattr(own, "diameter", 0.0))
            yield own.x - fall[0] * far, own.y - fall[1] * far


class _Way:
    """The items that a drop comes over, one after another."""

    def __init__(self, roof: Roof, names: dict[str, str]) -> None:
        self.roof, self.names, self.parting = roof, names, parting_of(roof.plan)

    def steps(self, found: Drop) -> Iterator[tuple[str, str, Point3]]:
        """Every passage on the way of a drop; off an eave it falls freely."""
        edges = [self.roof.edge(edge) for edge in found.edges]
        items: list[tuple[str, Point3]] = []
        for n, (face, start, end) in enumerate(found.faces):
            before, after = edges[n - 1] if n else None, edges[n] if n < len(edges) else None
            if before is not None and before.kind == "eave":
                items.append(("", self._at(face, start)))
            if before is None or after is None or feeds(self.roof, before) != after:
                items += self._on(face, (start, end), before, after)
            if after is not None and after.id in self.names:
                items.append((self.names[after.id], self._at(face, end)))
        for (source, here), (to, _) in pairwise(items):
            if source and to and source != to:
                yield source, to, here

    def _on(self, face: str, way: tuple[Point, Point], before: Edge | None,
            after: Edge | None) -> Iterator[tuple[str, Point3]]:
        """The panels of a face and the openings that a drop comes over between two edges."""
        here, crossed, level = self._at(face, way[0]), self.parting.crossed(face, way), self.parting.level
        last = None if after is None else self.parting.spills(after, face)
        ahead = [*crossed, *([] if last is None else [last])]
        if before is not None and self.parting.feet.get(before.id) == face:
            yield panels_of(face, level(face, before.id) - 1), here
        elif ahead:
            yield panels_of(face, level(face, ahead[0])), here
        else:
            yield panels_of(face, 0 if after is None else self.parting.over(face, after)), here
        for name in crossed:
            yield name, here
            yield panels_of(face, level(face, name) - 1), here

    def _at(self, face: str, at: Point) -> Point3:
        return at[0], at[1], float(self.roof.facet(face).plane.z(at))


def _off_the_trims(derived: Derived, found: list[RoofRun], way: _Way) -> Iterator[tuple[str, str, Point3]]:
    """Rain on the trims themselves: off caps and walls onto the panels, off a counterflashing onto its flashing."""
    counters: dict[str, list[str]] = defaultdict(list)
    for run in derived.runs:
        if run.run.layer == "counterflashing" and run.pieces:
            counters[base_id(run.run.id)].append(run.run.id)
    for one in found:
        edge = one.edge
        middle = ((edge.a[0] + edge.b[0]) / 2, (edge.a[1] + edge.b[1]) / 2, (edge.a[2] + edge.b[2]) / 2)
        if edge.kind in ("ridge", "hip", "half-ridge", "rake"):
            for face in edge.facets:
                yield one.run.id, panels_of(face, way.parting.under(edge, face)), middle
        elif edge.kind in WALLS and not one.run.collects:
            yield one.run.id, panels_of(edge.facets[0], way.parting.under(edge, edge.facets[0])), middle
        for counter in counters[one.run.id]:
            yield counter, one.run.id, middle


# -- the joints of each run -----------------------------------------------------------------------------------


def _joints(derived: Derived, runs: dict[str, RoofRun]) -> Iterator[RunJoint]:
    edges = {found.run.id: found.edge for found in runs.values()}
    for run in derived.runs:
        if run.run.gaps:
            continue  # pieces between the seams, each by itself
        for n in range(1, len(run.pieces)):
            yield RunJoint(run.run.id, n, stands_by(run, n),
                           place_along(edges.get(base_id(run.run.id)), run.run, run.pieces[n].start))


def is_level(run: DerivedRun) -> bool:
    """Whether water does not run along a run, over its joints."""
    return run.run.low is None or run.run.slope < _LEVEL


def stands_by(run: DerivedRun, n: int) -> Stands:
    """By what the joint after a run's piece ``n`` (from 1) stands."""
    note = run.pieces[n - 1].ends[1]
    if is_level(run):
        return "hem" if note.nested else "sealant"
    return "fall" if (note.kind == "over") == (run.run.low == "right") else "against"
