"""Roofs too close over each other: an edge that hangs so low over another block's roof that no trim finds room, a ridge
that comes in just below another one, a gable that hardly comes out over it; and what height would do."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import shapely

from yattle import overlay
from yattle.roof.build import Roof, build
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.model import RoofPlan

_LEAST = 20.0  # mm of an edge over a face that are worth a word
_SIDE = 300.0  # mm in plan: a rake that is shorter at a gable has no room for a valley beside it
_MOST = 900.0  # mm: a block that has to be moved by more is meant to stand otherwise
_NEARLY = 50.0  # mm: edges so near one height are better brought to one than so much apart
_EAVES_APART = 150.0  # mm
_ALONG = 120.0  # mm in plan, as far as a valley's foot may lie from the corner of two eaves
_STEP = 10.0  # mm: heights that are proposed are whole ones
_LEVEL = 0.05  # mm
_BREAKS = 2.0  # degrees: where pitches differ by less no pitch breaks, and one face would go on into the other
_ONE_PLACE = 2.0  # mm
_THROUGH = 20.0  # mm above and below a face: an edge goes through it
_CAP = 60.0  # mm that a ridge's cap stands higher than the faces beside it
_BOARDS = 30.0  # mm under a roof's plane: its boards
_ALONG_IT = 0.05  # cosine: a face that falls more nearly across an edge falls to it
_DRESSED = 5.0  # mm that caps dressed down at a ridge want besides
_OVER_WALL = 100.0  # mm over a wall's head, where the ridge of another roof has room for its valleys' heads
_HALF = 0.5  # of what stands on a face: so much of it roofs want that come together there


@dataclass(frozen=True)
class Room:
    """What trims and panels want, mm: how far trims come down under free edges, by their kind (``hangs``); how high
    something stands over the plane of each face, square to it, 0 where nobody knows (``stands``); how wide a ridge's
    cap lies on its face (``wing``); how far the flashing of a wall stands up over what lies there (``rises``)."""

    hangs: Mapping[str, float]
    stands: Mapping[str, float]
    wing: float
    rises: float = 0.0

    def over(self, face: Facet) -> float:
        """What stands on a face, plumb, mm."""
        high = self.stands.get(face.id)
        if high is None:  # of another plan, whose faces have other numbers
            high = max((mm for name, mm in self.stands.items() if name.rpartition(".")[0] == face.block), default=0.0)
        return high * face.plane.stretch


@dataclass(frozen=True)
class Tight:
    """An ``edge`` too close to a ``face``, with ``have`` mm where ``need`` mm are wanted. ``how``: it hangs over the
    face, and has so much height; it is a ridge that comes in so much below another, or so much over the edge of an
    ``eave`` that hangs out there; it is the rake of a ``gable`` that comes out over the face so little that its side is
    so wide in plan; it goes ``through`` the face, as far as so much below it; it runs along a ``wall`` that is so high
    under the face."""

    edge: Edge
    face: Facet
    have: float
    need: float
    how: Literal["hangs", "ridge", "eave", "gable", "through", "wall"]


def tight_places(roof: Roof, room: Room) -> Iterator[Tight]:
    """Every edge that is too close to a face of another block."""
    free = [edge for edge in roof.edges if edge.kind in room.hangs]
    tree = shapely.STRtree([face.shape for face in roof.facets])
    near = tree.query([_in_plan(edge) for edge in free], predicate="intersects").T.tolist() if free else ()
    for edge, face in sorted(((free[n], roof.facets[k]) for n, k in near), key=lambda pair: (pair[0].id, pair[1].id)):
        if face.block != roof.facet(edge.facets[0]).block:
            yield from _over_a_face(roof, room, edge, face)
    for edge in (one for one in roof.edges if one.kind == "ridge"):
        yield from _under_a_ridge(roof, room, edge)
        yield from _in_an_overhang(roof, edge)
    for edge in (one for one in roof.edges if one.kind == "headwall"):
        yield from _under_an_eave(roof, room, edge)


def _under_an_eave(roof: Roof, room: Room, edge: Edge) -> Iterator[Tight]:
    """A roof that falls away from a wall just under the eave of that wall's own roof, which is the shallower one: where
    there is room at the eave there may be none at the wall."""
    over = [face for face in roof.facets if face.block == edge.wall and _falls_to(face, edge)]
    if not over or math.dist(edge.a[:2], edge.b[:2]) < _LEAST:
        return
    face = min(over, key=lambda one: one.plane.z(edge.a[:2]))
    have = min(face.plane.z(end[:2]) - end[2] for end in (edge.a, edge.b))
    need = max(room.over(roof.facet(name)) for name in edge.facets) + room.rises + _BOARDS
    if _ONE_PLACE < have < need:
        yield Tight(edge, face, have, need, "wall")


def _falls_to(face: Facet, edge: Edge) -> bool:
    """Whether a face falls straight to a wall's line."""
    x, y = face.plane.fall or (0.0, 0.0)
    along = (edge.b[0] - edge.a[0]) * x + (edge.b[1] - edge.a[1]) * y
    return face.plane.fall is not None and abs(along) < _ALONG_IT * math.dist(edge.a[:2], edge.b[:2])


def _over_a_face(roof: Roof, room: Room, edge: Edge, face: Facet) -> Iterator[Tight]:
    """A free edge that comes over a face of another block with too little room."""
    if edge.kind == "rake" and _in_plan(edge).length < _LEAST and _hardly_out(roof, edge):
        yield Tight(edge, face, math.dist(edge.a[:2], edge.b[:2]), _SIDE, "gable")
        return
    low, high = _heights(edge, face)
    if low < -_THROUGH and high > _THROUGH:
        yield Tight(edge, face, -low, 0.0, "through")
    if low < -_ONE_PLACE or high < _ONE_PLACE:
        return
    runs_out = low < _ONE_PLACE  # where they come together its trim ends, and the panels beneath it
    have = high if runs_out else low
    need = room.over(face) * _HALF if runs_out else (
        room.over(face) + room.hangs[edge.kind] + (_CAP if _over_a_ridge(roof, edge, face) else 0.0))
    if have < need:
        yield Tight(edge, face, have, need, "hangs")
    elif edge.kind == "rake" and _hardly_out(roof, edge):
        yield Tight(edge, face, math.dist(edge.a[:2], edge.b[:2]), _SIDE, "gable")


def would_do(plan: RoofPlan, tight: Tight, room: Room) -> tuple[str, float] | None:
    """The block, and the eave height in mm that would do away with a place that is too tight: tried on the whole roof;
    ``None`` where no height does."""
    roof = build(plan)
    pair = {roof.facet(tight.edge.facets[0]).block, tight.face.block}
    own = next((block for block in reversed(plan.blocks) if block.id in pair), None)
    if own is None or len(pair & {block.id for block in plan.blocks}) < 2 or _no_height(tight):
        return None
    others = own.id, (pair - {own.id}).pop()
    level, steep = _have_one_eave(roof, pair), math.tan(math.radians(tight.face.plane.pitch))
    moves, tried = sorted(_rounded(_moves(roof, room, others, tight))), set[float]()
    while moves:
        cost, by = moves.pop(0)
        high = round(own.eave_height + by, 2)
        if by in tried or abs(by) >= _MOST or high <= 0.0 or (level and _ALONG * steep < abs(by) < _EAVES_APART):
            continue  # eaves of one height go round their corner; off it the valley between would come out beside it
        tried.add(by)
        moved = build(plan.but(blocks=tuple(b.but(eave_height=high) if b is own else b for b in plan.blocks)))
        left = _of(moved, pair, room)
        if not left:
            return own.id, high
        walls = (one for one in left if one.how == "wall")  # clear at the eave, too little at the wall: some more
        more = ((cost + dear, by + far) for one in walls for dear, far in _moves(moved, room, others, one))
        moves = sorted({*moves, *_rounded(more)})
    return None


def _rounded(moves: Iterable[tuple[float, float]]) -> set[tuple[float, float]]:
    return {(round(cost, 2), round(by, 2)) for cost, by in moves}


def _have_one_eave(roof: Roof, pair: set[str]) -> bool:
    """Whether eaves of both blocks are at one height."""
    one, other = (_heights_of(roof, "eave", block) for block in sorted(pair))
    return any(abs(here - there) < _LEVEL for here in one for there in other)


def _heights_of(roof: Roof, kind: str, block: str) -> set[float]:
    """How high the ends of a block's edges of one kind lie, mm."""
    return {end[2] for edge in roof.edges if edge.kind == kind for end in (edge.a, edge.b)
            if any(roof.facet(name).block == block for name in edge.facets)}


def _no_height(tight: Tight) -> bool:
    """Whether no height is wrong: only the tip of a gable comes out, of an overhang that is too long, or overhangs of
    two pitches go through each other at their walls' corner."""
    return tight.how == "through" or (tight.how == "gable" and tight.have < _LEAST)


def _of(roof: Roof, pair: set[str], room: Room) -> list[Tight]:
    return [one for one in tight_places(roof, room) if {roof.facet(one.edge.facets[0]).block, one.face.block} == pair]


def _moves(roof: Roof, room: Room, pair: tuple[str, str], tight: Tight) -> Iterator[tuple[float, float]]:
    """By how much the first block of a ``pair`` might be raised, mm: so that eaves or ridges come to one height, or as
    far apart as is wanted; before each what it costs, mm: as much, but to one height is better."""
    own, other = pair
    if tight.how == "eave":  # wholly under it: a little over it, its valleys would run along the wall
        below = max(room.over(roof.facet(name)) for name in tight.edge.facets) + room.hangs.get("eave", 0.0) + _CAP
        yield _whole(roof, own, tight.have + below, tight.face.block == own)
        return
    for kind in ("eave", "ridge"):
        highs = [_heights_of(roof, kind, block) for block in (own, other)]
        level = [there - here for here in highs[0] for there in highs[1] if abs(there - here) > _LEVEL]
        yield from ((abs(by), by) for by in level)
        yield from ((abs(by - tight.need), by - tight.need) for by in level if kind == "ridge")
    pitches = [roof.facet(name).plane.pitch for name in (tight.edge.facets[0], tight.face.id)]
    if tight.how == "hangs" and tight.edge.kind != "eave" and abs(pitches[0] - pitches[1]) > _BREAKS:  # down onto it
        yield tight.have, tight.have if tight.face.block == own else -tight.have
    if tight.how != "gable":  # what hangs over goes up, what lies under it down
        upper = {"hangs": tight.face.block != own, "wall": tight.face.block == own}.get(tight.how, False)
        yield _whole(roof, own, tight.need - tight.have, upper)


def _whole(roof: Roof, block: str, by: float, up: bool) -> tuple[float, float]:
    """By how much a block is raised, or lowered, at least so much, to a whole height of its eave, mm, and what it
    costs."""
    high = next(one.eave_height for one in roof.plan.blocks if one.id == block)
    whole = math.ceil((high + by) / _STEP) if up else math.floor((high - by) / _STEP)
    return abs(whole * _STEP - high) + _NEARLY, whole * _STEP - high


def _over_a_ridge(roof: Roof, edge: Edge, face: Facet) -> bool:
    """Whether an edge hangs over a ridge of a face."""
    line, ridges = _in_plan(edge), (one for one in roof.edges_of(face.id) if one.kind == "ridge")
    return any(_in_plan(ridge).distance(line) < _ONE_PLACE for ridge in ridges)


def _in_plan(edge: Edge) -> shapely.LineString:
    return shapely.LineString([edge.a[:2], edge.b[:2]])


def _heights(edge: Edge, face: Facet) -> tuple[float, float]:
    """The least and the most height of an edge over a face, mm; 0 where it is not over it."""
    line = _in_plan(edge)
    size = line.length
    if size < _LEAST:
        return 0.0, 0.0
    places = [at for part in shapely.get_parts(overlay.intersection(line, face.shape)) if part.length > _LEAST
              for at in part.coords]
    highs = [edge.a[2] + (edge.b[2] - edge.a[2]) * math.dist(edge.a[:2], at) / size - face.plane.z((at[0], at[1]))
             for at in places]
    return min(highs, default=0.0), max(highs, default=0.0)


def _hardly_out(roof: Roof, edge: Edge) -> bool:
    """Whether a rake and the other one at its peak are both too short in plan for what should lie beside them."""
    at_peak = [one for one in roof.ending_at(edge.b) if one.kind == "rake" and math.dist(one.b, edge.b) < _ONE_PLACE]
    return len(at_peak) > 1 and all(math.dist(one.a[:2], one.b[:2]) < _SIDE for one in at_peak)


def _under_a_ridge(roof: Roof, room: Room, edge: Edge) -> Iterator[Tight]:
    """A ridge that ends in another block's face so near below that one's ridge that caps and valleys have no room."""
    own = {roof.facet(name).block for name in edge.facets}
    for end in (edge.a, edge.b):
        faces = {name for beside in roof.ending_at(end) if beside.kind == "valley" for name in beside.facets}
        for face in (roof.facet(name) for name in sorted(faces) if roof.facet(name).block not in own):
            below = [other.a[2] - end[2] for other in roof.edges_of(face.id) if other.kind == "ridge"]
            need = room.wing * math.sin(math.radians(face.plane.pitch)) + _DRESSED + _HALF * room.over(face)
            yield from (Tight(edge, face, by, need, "ridge") for by in below if _LEVEL < by < need - _ONE_PLACE)


def _in_an_overhang(roof: Roof, edge: Edge) -> Iterator[Tight]:
    """A ridge that comes to another block's wall at the height of its overhang: its valleys would begin on the wall, or
    hardly above it."""
    own = {roof.facet(name).block for name in edge.facets}
    for body in (one for one in roof.bodies if one.id not in own and len(one.planes) > 0):
        for x, y, z in (edge.a, edge.b):
            plane = min(body.planes, key=lambda one: one.z((x, y)))
            low = min(plane.z(corner) for corner in body.roof)
            wall = min(plane.z(corner) for corner in body.walls)
            face = next((one for one in roof.facets if one.block == body.id and one.plane == plane), None)
            if face is None or plane.fall is None or not body.stands_at((x, y), -_ONE_PLACE):
                continue
            top = wall + _OVER_WALL
            if low + _ONE_PLACE < z < top and plane.z((x, y)) < top:
                yield Tight(edge, face, z - low, top - low, "eave")
