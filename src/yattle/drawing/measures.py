"""One measure of a block or an opening, drawn where it is taken: on a cut through the block, or on the plan."""

from __future__ import annotations

import math
from collections.abc import Callable

from yattle.drawing.marked import marked, seen_near
from yattle.drawing.roof import PlanEdge, cut_drawing, key_plan
from yattle.drawing.shapes import MEASURED, Drawing, Label, Line, Point
from yattle.measure import UNITS
from yattle.roof import Roof
from yattle.roof.model import Block, Shed
from yattle.roof.openings import Placed, outline
from yattle.roof.plane import BlockBody
from yattle.roof.section import cut_through
from yattle.roof.taped_place import taped_place

_BEYOND = 500.0  # mm that the cut goes on past the roof's edges
_ROUND = 1.5  # times its size: what is shown round an opening
ALONG = ("pitch_ends", "rake_overhang")
"""Measures that are seen on a cut along the ridge."""
ACROSS = ("eave_height", "eave_overhang", "top_overhang", "pitch", "pitch_right")
"""Those on a cut across it."""


def block_measure(roof: Roof, block: Block, field: str, said: str) -> Drawing | None:
    """The roof cut through the middle of a block, the measure in ``field`` on it; places in mm, along the cut and up.
    ``None`` of a measure that no cut shows."""
    body = next((one for one in roof.bodies if one.id == block.id), None)
    if body is None or field not in (*ALONG, *ACROSS):
        return None
    turn = math.radians(block.bearing - (0 if field in ALONG else 90))
    way = math.cos(turn), math.sin(turn)
    half = (block.length if field in ALONG else block.span) / 2
    reach = [(x - block.x) * way[0] + (y - block.y) * way[1] for x, y in body.roof]
    start = min(reach) - _BEYOND

    def at(off: float) -> Point:
        return block.x + off * way[0], block.y + off * way[1]
    cut = cut_drawing(cut_through(roof, at(start), at(max(reach) + _BEYOND)), UNITS["mm"])
    plain = tuple(shape for shape in cut.shapes if isinstance(shape, Line))
    left = field == "top_overhang" or (field == "pitch" and not isinstance(block, Shed))
    wall, edge = (-half, min(reach)) if left else (half, max(reach))
    points = tuple((off - start, high) for off, high in _taped(body, field, at, wall, edge))
    if field.startswith("pitch"):
        middle = (points[0][0] + points[1][0]) / 2, points[0][1]
        return Drawing((*plain, Line(points, "lit-edge", MEASURED), Label(middle, said, (0.0, -1.0), MEASURED, True)))
    drawn = Drawing(plain)
    return Drawing((*plain, *marked(points[0], points[1], said)), frame=seen_near(drawn.box, points[0], points[1]))


def _taped(body: BlockBody, field: str, at: Callable[[float], Point], wall: float, edge: float) -> tuple[Point, ...]:
    """The places of a measure: how far off the block's middle, and how high; of a pitch the level and the roof. In
    mm."""
    high = body.height(at(edge))
    if field == "eave_height":
        return (wall, 0.0), (wall, body.height(at(wall)))
    if field.endswith("overhang"):
        return (wall, high), (edge, high)
    inner = edge - 0.6 * wall
    while abs(body.height(at(inner)) + high - 2 * body.height(at((inner + edge) / 2))) > 1e-6:  # past a ridge or hip
        inner = (inner + edge) / 2
    return (inner, high), (edge, high), (inner, body.height(at(inner)))


def opening_measure(roof: Roof, placed: Placed, field: str, said: str) -> Drawing | None:
    """The plan about an opening with one of its measures: ``across``, ``along``, ``diameter``, ``up`` from the edge
    below it or ``aside`` from that at its left; places in mm."""
    corners = outline(placed.opening)
    found = taped_place(roof, placed)
    a, b, c, _ = corners
    sides = {"across": (a, b), "diameter": (a, b), "along": (b, c)}
    if found is not None:
        sides |= {"up": found.upward, "aside": found.sideways}
    if field not in sides:
        return None
    ends = sides[field]
    out = None
    if field in ("across", "along", "diameter"):  # said outside, on the far side of the middle
        x, y = (ends[0][0] + ends[1][0]) / 2 - placed.opening.x, (ends[0][1] + ends[1][1]) / 2 - placed.opening.y
        out = x / math.hypot(x, y), y / math.hypot(x, y)
    seen = [*corners, *ends]
    room = _ROUND * max(math.dist(corners[0], corners[2]), 0.25 * math.dist(*ends))
    frame = (min(x for x, _ in seen) - room, min(y for _, y in seen) - room,
             max(x for x, _ in seen) + room, max(y for _, y in seen) + room)
    around = key_plan(roof, tuple(PlanEdge(edge.id, edge) for edge in roof.edges), {})
    return Drawing((*around.shapes, *marked(*ends, said, out)), frame=frame)
