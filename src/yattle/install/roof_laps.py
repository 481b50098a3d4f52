"""Who laps over whom on a roof: trims, layers, panels, openings and corners, by what meets where."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator

from yattle.derive.derived import Derived
from yattle.derive.meetings import chosen_form, meetings
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.install.items import clad
from yattle.install.laps import Lap
from yattle.install.parting import Parting, panels_of, parting_of
from yattle.roof import Edge
from yattle.roof.at_edge import share_a_corner, sides
from yattle.roof.drain import feeds
from yattle.roof.edges import WALLS
from yattle.roof.plane import Point3

OVER: dict[tuple[str, str], str] = {
    ("valley", "eave"): "its foot is dressed over the eave's trim",
    ("hip", "eave"): "its foot laps over the eave's trim", ("rake", "eave"): "its end closes the eave's",
    ("headwall", "rake"): "its end is turned down over the rake",
    ("ridge", "rake"): "its end covers the rakes' heads", ("half-ridge", "rake"): "its end covers the rake's head",
    ("pitch-break", "rake"): "its end covers the head of the rake below it",
    ("ridge", "hip"): "it covers the hips' heads",
    ("ridge", "valley"): "it covers the valleys' heads, their ribs dressed flat beneath it",
    ("hip", "valley"): "it covers the valley's head, its rib dressed flat beneath it",
    ("sidewall", "eave"): "its kick-out stands on the eave's trim",
    ("skew-wall", "eave"): "its foot stands on the eave's trim", ("hip", "headwall"): "water comes down the hip",
}
"""Which of two runs that meet lies over the other, by their kinds, and why."""
_ONE_PLACE = 2.0  # mm
_IN_LINE = 0.05  # sine of the angle between two edges in one line, in plan


def laps_on(derived: Derived) -> Iterator[Lap]:
    """Who lies over whom on this roof, by what meets where."""
    parting = parting_of(derived.roof.plan)
    for facet in derived.roof.facets:
        yield Lap(panels_of(facet.id, 0), f"underlay {facet.id}", "panels lie on the underlay")
        for level in range(1, parting.top(facet.id) + 1):
            yield Lap(panels_of(facet.id, level), panels_of(facet.id, level - 1), "upper panels lap over lower ones")
    made = {run.run.id for run in derived.runs if run.pieces}
    by_run = {found.run.id: found for found in roof_runs(derived.job)}
    layers = _layers(derived)
    for name, found in by_run.items():
        yield from _laps_of_run(derived, found, layers[name], parting)
    yield from _where_they_meet([found for found in by_run.values() if found.run.id in made])
    for placed in derived.roof.openings:
        for face in placed.facets:
            level = parting.level(face, placed.opening.id)
            yield Lap(placed.opening.id, panels_of(face, level - 1), "its lower flange lies over the panels below")
            yield Lap(panels_of(face, level), placed.opening.id, "the panels above lap over its upper flange")
    for name in clad(derived):
        yield Lap(f"wall {name}", name, "it must be in before the wall is closed")
    for meeting in meetings(derived.roof):
        joint = chosen_form(derived.job, meeting) == "dormer-ridge"
        for edge in meeting.edges:
            name = _run_at(by_run.values(), edge, meeting.at)
            if joint and edge.kind == "ridge":
                yield Lap(name, meeting.id, "its end covers the joint of the valleys")
                continue
            if _rises_from(edge, meeting.at):
                yield Lap(name, meeting.id, "water comes down it")
            else:
                yield Lap(meeting.id, name, "it closes their corner" + (
                    ", its rib dressed flat beneath it" if edge.kind == "valley" else ""))
            for face in edge.facets if joint else ():
                yield Lap(panels_of(face, parting.top(face)), meeting.id, "the panels end over it")


def _rises_from(edge: Edge, at: Point3) -> bool:
    """Whether a hip goes up from a place, as one does from the end of a wing's ridge."""
    low = edge.a if edge.a[2] < edge.b[2] else edge.b
    return edge.kind == "hip" and math.dist(low, at) < _ONE_PLACE


def _run_at(runs: Iterable[RoofRun], edge: Edge, at: Point3) -> str:
    """The run along an edge that comes to a place: of a ridge that is parted by a chimney the nearer one."""
    return min((min(math.dist(found.edge.a, at), math.dist(found.edge.b, at)), found.run.id)
               for found in runs if found.edge.id == edge.id)[1]


def _layers(derived: Derived) -> dict[str, list[tuple[str, str]]]:
    """The layers of each run that has any, as they are called and what they are."""
    found: dict[str, list[tuple[str, str]]] = defaultdict(list)
    for run in derived.runs:
        if run.run.layer and run.pieces:
            found[base_id(run.run.id)].append((run.run.id, run.run.layer))
    return found


def _laps_of_run(derived: Derived, found: RoofRun, layers: list[tuple[str, str]],
                 parting: Parting) -> Iterator[Lap]:
    """What one edge's trim lies on and what lies on it."""
    kind, name, faces, edge = found.edge.kind, found.run.id, found.edge.facets, found.edge
    beneath = [layer for layer, what in layers if what == "cleat"]
    zeds = [layer for layer, what in layers if what == "zed"]
    closures = [layer for layer, what in layers if what == "closure"]
    for layer, what in layers:
        if what == "counterflashing":
            yield Lap(layer, name, "it covers the upstand")
    for layer in beneath:
        yield Lap(name, layer, "it hooks on it")
    if kind == "pitch-break":
        upper, lower = sides(derived.roof, found.edge)
        yield Lap(panels_of(upper, parting.over(upper, edge)), name, "the upper panels lie over it")
        faces = (lower,)
    yield from _at_its_foot(derived, edge, name, parting)
    for face in faces if kind not in WALLS else faces[:1]:
        twins = [layer for layer, what in layers if what == "twin"]
        if kind in ("eave", "valley") or twins or found.run.collects:
            yield from _at_an_eave(name, panels_of(face, parting.over(face, edge)), layers)
            level = parting.over(face, edge)
            for item in (name, *twins):
                yield Lap(item, f"underlay {face}", "its flange lies on the underlay")
                yield Lap(panels_of(face, level), item, "the panels end over it")
            continue
        for layer in beneath:
            yield Lap(layer, f"underlay {face}", "it is fixed through the underlay")
        covers = panels_of(face, parting.under(edge, face))
        for layer in zeds:
            yield Lap(layer, covers, "it stands on the last panel, taped")
            yield Lap(name, layer, "it is riveted to it" if kind == "rake" else "it hooks on it")
        for layer in closures:
            yield Lap(layer, covers, "it stands between the seams")
            yield Lap(name, layer, "it is fixed to the closures")
        yield Lap(name, covers, "it covers the panels")


def _at_an_eave(name: str, panels: str, layers: list[tuple[str, str]]) -> Iterator[Lap]:
    """What an eave's trim hooks on, and the strip that the panels hook on."""
    for layer, what in layers:
        if what == "cleat":
            yield Lap(name, layer, "it hooks on it")
        elif what == "eave-cleat":
            yield Lap(layer, name, "it lies on the trim's flange")
            yield Lap(panels, layer, "the panels hook on it")


def _at_its_foot(derived: Derived, edge: Edge, name: str, parting: Parting) -> Iterator[Lap]:
    """What the low end of a valley or back pan lies on: the panels it spills onto, or another one that it feeds."""
    face, onward = parting.feet.get(edge.id), feeds(derived.roof, edge)
    if face is not None:
        yield Lap(name, panels_of(face, parting.level(face, edge.id) - 1), "its foot lies over the panels below")
    if onward is not None:
        for other in roof_runs(derived.job):
            if other.edge.id == onward.id:
                yield Lap(name, other.run.id, "its water runs on into it")


def _where_they_meet(found: list[RoofRun]) -> Iterator[Lap]:
    """Which of two trims lies over the other where their edges meet; a back pan lies under the panels."""
    for n, one in enumerate(found):
        for other in found[n + 1:]:
            if not share_a_corner(one.edge, other.edge):
                continue
            for over, under in ((one, other), (other, one)):
                why = OVER.get((over.edge.kind, under.edge.kind))
                if why and not over.run.collects and not (
                        _begins_at(over, under) or _goes_on_as(over, under) or _hangs_over(under, over)
                        or _rises_from_end(under, over)):
                    yield Lap(over.run.id, under.run.id, why)
                elif (over.edge.kind, under.edge.kind) == ("hip", "ridge") and _rises_from_end(over, under):
                    yield Lap(over.run.id, under.run.id, "water comes down it")
                elif over.edge.kind in ("sidewall", "skew-wall") and under.edge.kind == "headwall":
                    yield _at_a_wall(over, under)


def _rises_from_end(hip: RoofRun, ridge: RoofRun) -> bool:
    """Whether a hip goes up from a ridge's end."""
    return any(_rises_from(hip.edge, end) for end in (ridge.edge.a, ridge.edge.b)) and ridge.edge.kind == "ridge"


def _begins_at(across: RoofRun, rake: RoofRun) -> bool:
    """Whether a rake begins at the end of a ridge, on the roof beneath it, or of a pitch break, on the face above it:
    it is no head of a rake that these cover."""
    return across.edge.kind in ("ridge", "pitch-break") and rake.edge.kind == "rake" and min(
        math.dist(rake.edge.b, end) for end in (across.edge.a, across.edge.b)) > _ONE_PLACE


def _hangs_over(rake: RoofRun, flashing: RoofRun) -> bool:
    """Whether a rake is one of the roof over the wall that a flashing goes along: it hangs above that one's end."""
    return rake.edge.kind == "rake" and rake.edge.facets[0].rpartition(".")[0] == flashing.edge.wall


def _goes_on_as(rake: RoofRun, eave: RoofRun) -> bool:
    """Whether a rake goes on as the eave of a wing whose wall is the gable's: in one line there is no corner to go
    round; the valley between them comes out there."""
    if (rake.edge.kind, eave.edge.kind) != ("rake", "eave"):
        return False
    (ax, ay), (bx, by) = ((edge.b[0] - edge.a[0], edge.b[1] - edge.a[1]) for edge in (rake.edge, eave.edge))
    return abs(ax * by - ay * bx) < _IN_LINE * math.hypot(ax, ay) * math.hypot(bx, by)


def _at_a_wall(side: RoofRun, head: RoofRun) -> Lap:
    """Where a sidewall meets a headwall the one that lies higher laps over the other."""
    low = min(side.edge.a, side.edge.b, key=lambda p: p[2])
    foot = min(math.dist(low, p) for p in (head.edge.a, head.edge.b)) < _ONE_PLACE
    upper, lower = (side, head) if foot else (head, side)
    return Lap(upper.run.id, lower.run.id, "water comes down from it")
