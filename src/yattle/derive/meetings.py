"""The roof's corners worked out: which pieces can close a place where edges meet, with what the survey knows of it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from yattle.derive.corners import run_frame
from yattle.details import standard_for
from yattle.details.closed import DormerRidge
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.roof import Edge, Facet, Roof
from yattle.roof.at_edge import into, is_step
from yattle.roof.plane import Plane, Point3

_PEAK = 150.0  # mm that a box at a peak goes down each slope
_NO_STEP = 1.0  # mm up a face: a ridge that near is at the place
_TOP = 10.0  # mm of a joint's top to each side of its middle at the least
_LEAST_ASIDE = 0.03  # square of the least sine of the angle between a valley and the fall
_UNDER, _ROOM = 60.0, 100.0  # mm that a piece goes on up under panels or a cap, and of panel that are worth laying
_LEAST_BOX = 20.0  # mm: a narrower box cannot be folded
MADE: dict[tuple[str, ...], tuple[str, ...]] = {
    ("hip", "hip", "ridge"): ("three-way-cap", "none"),
    ("ridge", "valley", "valley"): ("dormer-ridge", "none"),
    ("hip", "ridge", "valley"): ("ridge-joint", "none"),
    ("hip", "ridge", "ridge", "valley"): ("ridge-joint", "none"),
    ("ridge", "ridge", "ridge", "valley", "valley"): ("ridge-joint", "none"),
    ("ridge",) * 4 + ("valley",) * 4: ("ridge-joint", "none"),
    ("rake", "rake", "ridge"): ("none", "peak-cap", "box"),
    ("eave", "eave", "valley"): ("none", "gutter-corner", "three-pans"),
    ("eave", "eave", "hip"): ("none", "gutter-corner", "three-pans"),
    ("eave", "rake"): ("none", "box"),
    ("headwall", "sidewall"): ("none", "tray"),
}
"""What can close a corner, by the kinds of edges that meet there; the first is taken where nothing is said."""


@dataclass(frozen=True)
class Meeting:
    """A corner that can have a piece of its own. ``id`` holds however edges are numbered; ``edges`` those that meet,
    the one it is named after first; ``made`` the forms to choose from. ``at`` in mm."""

    id: str
    title: str
    at: Point3
    edges: tuple[Edge, ...]
    made: tuple[str, ...]

    @property
    def kinds(self) -> tuple[str, ...]:
        return tuple(sorted(edge.kind for edge in self.edges))


def meetings(roof: Roof) -> tuple[Meeting, ...]:
    """Every corner of the roof that can have a piece of its own."""
    return roof.once("meetings", lambda: tuple(_found(roof)))


def _found(roof: Roof) -> Iterator[Meeting]:
    known = {edge.id: edge for edge in roof.edges}
    for corner in roof.corners:
        edges = sorted((known[name] for name in corner.edges), key=lambda e: (e.kind != "ridge", e.kind, e.id))
        made = MADE.get(tuple(sorted(edge.kind for edge in edges)))
        if made is None:
            continue
        step = next((edge for edge in edges if is_step(roof, edge)), None)
        if step is not None and "box" in made:
            made = ("box", *(form for form in made if form != "box"))
        first = edges[0]
        end = "a" if math.dist(first.a, corner.at) < math.dist(first.b, corner.at) else "b"
        yield Meeting(f"{' + '.join(edge.key for edge in edges)} {end}", " ".join(edge.id for edge in edges), corner.at,
                      tuple(edges), made)


def chosen_form(job: Job, meeting: Meeting) -> str:
    """The form in force: what was chosen, else the usual one."""
    wanted = str(job.opening_note(meeting.id).values.get("made", meeting.made[0]))
    return wanted if wanted in meeting.made else meeting.made[0]


def box_at(job: Job, roof: Roof, meeting: Meeting) -> dict[str, Any]:
    """What a box at a corner closes, from the trims that meet there: as high as the rake's face, at an eave as wide and
    as deep as the roof's overhangs, at a peak the faces under both slopes. In mm."""
    standard, facet = standard_for(job.system, job.own), roof.facet(meeting.edges[0].facets[0])
    block = next((one for one in roof.plan.blocks if one.id == facet.block), None)
    wide, deep = (float(getattr(block, name, None) or 0.0) for name in ("eave_overhang", "rake_overhang"))
    face = standard.rake_face
    if meeting.kinds.count("rake") == 2:
        left, right = (math.tan(math.radians(plane.pitch)) * _PEAK for plane in _from_outside(roof, meeting))
        outline = ((-_PEAK, -left - face), (_PEAK, -right - face), (_PEAK, -right), (0.0, 0.0), (-_PEAK, -left))
        return {"outline": outline, "depth": max(deep, _LEAST_BOX)}
    eave = next(edge for edge in meeting.edges if edge.kind == "eave")
    ends = run_frame(roof, eave)[:2]
    away = [float(np.linalg.norm(end - np.array(meeting.at))) for end in ends]
    hand = "left" if away[0] < away[1] else "right"
    return {"width": max(wide, _LEAST_BOX), "height": face, "depth": max(deep, _LEAST_BOX), "hand": hand}


def _from_outside(roof: Roof, meeting: Meeting) -> tuple[Plane, Plane]:
    """The planes at a gable's peak, the left one first, as they are seen from before the gable."""
    ridge = meeting.edges[0]
    rake = next(edge for edge in meeting.edges if edge.kind == "rake")
    x, y = into(roof, rake, rake.facets[0])
    one, other = (roof.facet(name).plane for name in ridge.facets)
    return (one, other) if one.gx * y - one.gy * x > 0 else (other, one)


def measures(roof: Roof, meeting: Meeting, form: str, cap: float = 0.0,
             held: Callable[[str], float] = lambda face: 0.0) -> dict[str, Any]:
    """The fields of a form that follow from the roof, over whose ridge a cap lies ``cap`` mm down its faces, and whose
    panels on a face are ``held`` back from its valleys, mm; raises :class:`~yattle.errors.InputError` where it
    cannot."""
    if form in ("three-way-cap", "dormer-ridge", "peak-cap"):
        return _planes(roof, meeting, form) | (_up_the_face(roof, meeting, cap, held) if form == "dormer-ridge" else {})
    if form == "ridge-joint":
        return _round(roof, meeting)
    if form == "gutter-corner":
        one, other = (edge for edge in meeting.edges if edge.kind == "eave")
        return {"turn": _turn(one, other, meeting.at),
                "corner": "inner" if "valley" in meeting.kinds else "outer"}
    plane = roof.facet(meeting.edges[0].facets[0]).plane
    step = next((edge for edge in meeting.edges if is_step(roof, edge)), None)
    wide = {"width": max(math.dist(step.a[:2], step.b[:2]), _LEAST_BOX)} if step is not None else {}
    return {"pitch": plane.pitch, **wide} if form in ("box", "tray") else {}


def _planes(roof: Roof, meeting: Meeting, form: str) -> dict[str, Any]:
    """Pitches of the planes that meet, turned so that the third one falls toward −y."""
    ridge = meeting.edges[0]
    sides = [roof.facet(name).plane for name in ridge.facets]
    third = None if form == "peak-cap" else _third(roof, meeting).plane
    fields = {} if third is None else {("end" if form == "three-way-cap" else "main"): third.pitch}
    turned = turned_to(roof, meeting, form)
    ways = [(_way(plane) + turned) for plane in sides]
    order = sorted(range(2), key=lambda n: math.cos(math.radians(ways[n])))  # the left one falls toward −x
    left, right = order
    return fields | {"left": sides[left].pitch, "right": sides[right].pitch,
                     "ways": (_near(ways[left], 180), _near(ways[right], 0), -90.0)}


def _up_the_face(roof: Roof, meeting: Meeting, cap: float, held: Callable[[str], float]) -> dict[str, Any]:
    """A dormer's joint goes on up the main face under the panels that begin there, between two valleys the higher the
    nearer these run to the fall; where the main ridge runs so near above that no panel finds room, under its cap."""
    face, at = _third(roof, meeting), np.array(meeting.at)
    steep = math.sin(math.radians(face.plane.pitch))
    ups = [(edge.a[2] - meeting.at[2]) / steep for edge in roof.edges_of(face.id)
           if edge.kind == "ridge" and _passes(edge, at)]
    far = min((up for up in ups if up > _NO_STEP), default=math.inf) - cap
    falls = (abs(edge.b[2] - edge.a[2]) / edge.length / steep for edge in meeting.edges if edge.kind == "valley")
    aside = [math.sqrt(max(1.0 - fall * fall, _LEAST_ASIDE)) for fall in falls]  # sines from the fall
    begins = held(face.id) / min(aside)
    up = max(round((far if far < begins + _ROOM else begins) + _UNDER), 0)
    wide = max(up * one + _TOP * math.sqrt(1.0 - one * one) for one in aside)  # or its sides met below its top
    return {"up": up} | ({"wing": math.ceil(wide)} if wide > DormerRidge.model_fields["wing"].default else {})


def _passes(edge: Edge, at: Any) -> bool:
    """Whether an edge runs past a place, seen in plan from straight below it."""
    a, b = np.array(edge.a[:2]), np.array(edge.b[:2])
    return 0.0 < float((at[:2] - a) @ (b - a)) < float((b - a) @ (b - a))


def _third(roof: Roof, meeting: Meeting) -> Facet:
    """The face at a ridge's end that is none of its two."""
    own = set(meeting.edges[0].facets)
    return roof.facet(next(f for edge in meeting.edges[1:] for f in edge.facets if f not in own))


def turned_to(roof: Roof, meeting: Meeting, form: str) -> float:
    """How far a corner is turned in plan, degrees anticlockwise, so that its third plane, or its gable, looks toward
    −y."""
    if form != "peak-cap":
        return -90 - _way(_third(roof, meeting).plane)
    inward = _from(meeting.edges[0], meeting.at)  # along the ridge, away from the corner
    rake = next(edge for edge in meeting.edges if edge.kind == "rake")
    along = _from(rake, meeting.at)
    way = math.degrees(math.atan2(along[0], -along[1]))  # square to the rake in plan
    if math.cos(math.radians(way)) * inward[0] + math.sin(math.radians(way)) * inward[1] > 0:
        way += 180
    return -90 - way


def _round(roof: Roof, meeting: Meeting) -> dict[str, Any]:
    """Every edge that ends at a place, anticlockwise: where it goes and how it rises; and the plane from each to the
    next: where it falls to and its pitch. Degrees."""
    def line(edge: Edge) -> tuple[float, float]:
        way = np.array(edge.b) - edge.a
        way = way if math.dist(edge.a, meeting.at) < math.dist(edge.b, meeting.at) else -way
        return math.degrees(math.atan2(way[1], way[0])), math.degrees(math.atan2(way[2], math.hypot(*way[:2])))
    around = sorted(meeting.edges, key=lambda edge: (line(edge)[0] - line(meeting.edges[0])[0] + 1e-6) % 360)
    planes = []
    for edge, after in zip(around, (*around[1:], around[0]), strict=True):
        shared = [roof.facet(face).plane for face in edge.facets if face in after.facets]
        if not shared:
            raise InputError("made", f"nothing between {edge.id} and {after.id}", "one face from each edge to the next")
        planes.append((_way(shared[0]), shared[0].pitch))
    return {"lines": tuple(map(line, around)), "planes": tuple(planes)}


def _way(plane: Plane) -> float:
    """Where a plane falls to in plan, degrees anticlockwise from x."""
    return math.degrees(math.atan2(-plane.gy, -plane.gx))


def _near(angle: float, about: float) -> float:
    return round((angle - about + 180) % 360 - 180 + about, 9)


def _from(edge: Edge, at: Point3) -> tuple[float, float]:
    """Along an edge in plan, away from one of its ends; of length 1."""
    a, b = (edge.a, edge.b) if math.dist(edge.a, at) < math.dist(edge.b, at) else (edge.b, edge.a)
    size = math.dist(a[:2], b[:2]) or 1.0
    return (b[0] - a[0]) / size, (b[1] - a[1]) / size


def _turn(one: Edge, other: Edge, at: Point3) -> float:
    """How much an eave turns at a corner in plan, degrees."""
    p, q = _from(one, at), _from(other, at)
    return 180 - math.degrees(math.acos(max(-1.0, min(1.0, p[0] * q[0] + p[1] * q[1]))))
