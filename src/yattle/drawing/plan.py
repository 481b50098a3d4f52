"""The runs in plan, to scale: each edge with its letter, its length and the fall of its roof."""

from __future__ import annotations

import math
from dataclasses import dataclass

from yattle.drawing.shapes import Drawing, Label, Line, Point, Shape
from yattle.measure import UNITS, Unit, say_length


@dataclass(frozen=True)
class PlanEdge:
    """One edge: left end ``at``, ``bearing`` degrees anticlockwise from east, ``length`` mm, pitch in words."""

    id: str
    at: Point
    bearing: float
    length: float
    pitch: str


def plan_drawing(edges: tuple[PlanEdge, ...], unit: Unit = UNITS["mm"]) -> Drawing:
    """All edges; the roof lies on the left of each, its fall is drawn as an arrow onto the edge."""
    size = max((edge.length for edge in edges), default=1.0)
    shapes: list[Shape] = []
    for edge in edges:
        shapes += _edge(edge, size, unit)
    return Drawing(tuple(shapes))


def _edge(edge: PlanEdge, size: float, unit: Unit) -> list[Shape]:
    angle = math.radians(edge.bearing)
    along, inward = (math.cos(angle), math.sin(angle)), (-math.sin(angle), math.cos(angle))

    def place(run: float, depth: float) -> Point:
        return (edge.at[0] + along[0] * run + inward[0] * depth, edge.at[1] + along[1] * run + inward[1] * depth)

    middle, tick, fall = edge.length / 2, size * 0.012, size * 0.075
    head = size * 0.012
    outward = (-inward[0], -inward[1])
    return [
        Line((place(0, 0), place(edge.length, 0)), "cut", edge.id),
        Line((place(0, -tick), place(0, tick)), "trim"),
        Line((place(edge.length, -tick), place(edge.length, tick)), "trim"),
        Line((place(middle, fall), place(middle, tick * 2)), "dim"),
        Line((place(middle - head, tick * 2 + head * 1.6), place(middle, tick * 2),
              place(middle + head, tick * 2 + head * 1.6)), "dim"),
        Label(place(middle, fall * 0.7), edge.pitch, (1.0, 0.0)),
        Label(place(middle, 0), f"{edge.id}  {say_length(edge.length, unit, 0)}", outward, edge.id, strong=True),
    ]
