"""The roof in plan: every face with its fall, every edge in its own line and letter, openings, measures."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from yattle.drawing.shapes import Dim, Drawing, Label, Line, Point, Ring, Shape, Tag
from yattle.drawing.tiles import overview
from yattle.measure import UNITS, Unit, say_length
from yattle.roof import Edge, Facet, Roof
from yattle.roof.build import beside, middle
from yattle.roof.drain import Drop
from yattle.roof.openings import outline
from yattle.roof.panels import PanelPlan
from yattle.roof.section import CutLine

EDGE_ROLES = {"eave": "edge-eave", "rake": "edge-rake", "ridge": "edge-ridge", "half-ridge": "edge-ridge",
              "hip": "edge-hip", "valley": "edge-valley", "headwall": "edge-wall", "sidewall": "edge-wall",
              "skew-wall": "edge-wall", "pitch-break": "edge-break"}
"""The line each kind of edge is drawn with."""


@dataclass(frozen=True)
class PlanEdge:
    """An edge of the plan and the run it is: its id is pressed and shown."""

    run: str
    edge: Edge


@dataclass(frozen=True)
class FreeEave:
    """An eave entered by itself: left end, bearing in degrees, length mm."""

    run: str
    at: Point
    bearing: float
    length: float

    @property
    def end(self) -> Point:
        """Its right end in plan, mm."""
        angle = math.radians(self.bearing)
        return self.at[0] + self.length * math.cos(angle), self.at[1] + self.length * math.sin(angle)


def roof_drawing(roof: Roof, edges: tuple[PlanEdge, ...], eaves: tuple[FreeEave, ...] = (), unit: Unit = UNITS["mm"],
                 pitches: dict[str, str] | None = None, block: str = "", drop: Drop | None = None,
                 letters: bool = True) -> Drawing:
    """The plan. ``pitches`` facet id → pitch in words; ``block`` the one whose measures are drawn to be typed;
    ``drop`` a drop's way. Keys: ``run id``, ``face:ID``, ``opening:ID``, ``block:ID:field``."""
    shapes: list[Shape] = []
    middles = {facet.id: middle(facet) for facet in roof.facets}
    for facet in sorted(roof.facets, key=lambda f: f.plane.z(middles[f.id])):
        shapes += _face(facet, middles[facet.id], (pitches or {}).get(facet.id, ""))
    size = _size(roof, eaves)
    for item in sorted(edges, key=lambda e: -e.edge.length):  # letters of long edges go before those of short ones
        shapes += _edge(beside(roof, item.edge) if letters else None, item, size)
    for eave in eaves:
        shapes += [Line((eave.at, eave.end), "edge-eave", eave.run), _tag(eave.run, eave.at, eave.end, True)]
    for placed in roof.openings:
        shapes.append(Ring(outline(placed.opening), "opening", f"opening:{placed.opening.id}"))
        shapes.append(Label((placed.opening.x, placed.opening.y), placed.opening.id, (0.0, -1.0),
                            f"opening:{placed.opening.id}"))
    if block:
        shapes += _measures(roof, block, unit)
    if drop is not None and len(drop.places) > 1:
        shapes.append(Line(tuple((x, y) for x, y, _ in drop.places), "water"))
    return Drawing(tuple(shapes))


def key_plan(roof: Roof, edges: tuple[PlanEdge, ...], lit: Mapping[str, str], faces: frozenset[str] = frozenset(),
             letters: bool = True) -> Drawing:
    """The whole roof small, with what is meant standing out: runs in ``lit`` (run id → what is said at it) in a broad
    line, ``faces`` dark. Places in mm."""
    shapes: list[Shape] = [Ring(facet.ring, "lit" if facet.id in faces else "face-1", f"face:{facet.id}")
                           for facet in roof.facets]
    shapes += [Ring(outline(placed.opening), "opening", f"opening:{placed.opening.id}") for placed in roof.openings]
    size = _size(roof, ())
    for item in edges:
        shapes.append(Line(tuple((x, y) for x, y, _ in (item.edge.a, item.edge.b)), "dim", item.run))
    for item in (one for one in edges if one.run in lit):
        inside = beside(roof, item.edge) if letters and lit[item.run] else None
        line, *tag = _edge(inside, item, size)
        shapes += [Line(line.points, "lit-edge", item.run), *tag]  # type: ignore[union-attr]
    return overview(Drawing(tuple(shapes)))  # whatever it stands beside names them all


def _size(roof: Roof, eaves: tuple[FreeEave, ...]) -> float:
    xs = [x for body in roof.bodies for x, _ in body.roof] + [x for e in eaves for x in (e.at[0], e.end[0])]
    return max(xs, default=1.0) - min(xs, default=0.0)


def _face(facet: Facet, at: Point, pitch: str) -> list[Shape]:
    fall = facet.plane.fall
    light = 2 if fall is None else 1 + round(1 + 0.6 * fall[1] - 0.8 * fall[0])
    shapes: list[Shape] = [Ring(facet.ring, f"face-{max(1, min(3, light))}", f"face:{facet.id}")]
    if fall is None:
        return [*shapes, Label(at, "flat", key=f"face:{facet.id}")]
    long = min(900.0, 0.22 * math.sqrt(facet.shape.area))
    tip = (at[0] + fall[0] * long, at[1] + fall[1] * long)
    side = (-fall[1] * long * 0.18, fall[0] * long * 0.18)
    back = (tip[0] - fall[0] * long * 0.3, tip[1] - fall[1] * long * 0.3)
    shapes += [Line((at, tip), "dim"),
               Line(((back[0] + side[0], back[1] + side[1]), tip, (back[0] - side[0], back[1] - side[1])), "dim")]
    return [*shapes, Label(tip, pitch, fall, f"face:{facet.id}")]


def _edge(inside: Point | None, item: PlanEdge, size: float) -> list[Shape]:
    a, b = (item.edge.a[0], item.edge.a[1]), (item.edge.b[0], item.edge.b[1])
    shapes: list[Shape] = [Line((a, b), EDGE_ROLES[item.edge.kind], item.run)]
    if inside is None:
        return shapes
    if math.dist(a, b) > 0.03 * size or item.edge.kind not in ("rake", "sidewall"):
        x, y = inside
        if (b[0] - a[0]) * (y - a[1]) < (b[1] - a[1]) * (x - a[0]):  # the roof on the left, so that outside is right
            a, b = b, a
        shapes.append(_tag(item.run, a, b, item.edge.kind in ("eave", "rake", "half-ridge")))
    return shapes


def _tag(run: str, a: Point, b: Point, free: bool) -> Tag:
    """The letter in the middle of an edge; of a free edge beside it, outside the roof."""
    size = math.dist(a, b) or 1.0
    out = ((b[1] - a[1]) / size, (a[0] - b[0]) / size) if free else (0.0, 0.0)
    return Tag(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), run, out, run)


def _measures(roof: Roof, block_id: str, unit: Unit) -> list[Shape]:
    """Wall lines of one block with its length and span, each to be typed where it stands."""
    body = next((b for b in roof.bodies if b.id == block_id), None)
    block = next((b for b in roof.plan.blocks if b.id == block_id), None)
    if body is None or block is None:
        return []
    a, b, c, _ = body.walls
    shapes: list[Shape] = [Ring(body.walls, "walls")]
    for p, q, field, value in ((a, b, "length", block.length), (b, c, "span", block.span)):
        size = math.dist(p, q)
        push = ((q[1] - p[1]) / size, (p[0] - q[0]) / size)
        text = say_length(value, unit, 0)
        shapes += [Dim(p, q, "", push), Label(((p[0] + q[0]) / 2, (p[1] + q[1]) / 2), text, push,
                                              f"block:{block_id}:{field}", strong=True)]
    return shapes


def cut_drawing(parts: tuple[CutLine, ...], unit: Unit = UNITS["mm"]) -> Drawing:
    """The roof cut along a line: faces as sheet lines, walls below them, heights of the highest places."""
    shapes: list[Shape] = []
    if not parts:
        return Drawing(())
    right = max(p.points[1][0] for p in parts)
    left = min(p.points[0][0] for p in parts)
    shapes.append(Line(((left - 600, 0.0), (right + 600, 0.0)), "trim"))
    for part in parts:
        if part.wall:
            shapes.append(Line(part.points, "wall-cut"))
        else:
            shapes.append(Line(part.points, "edge-eave", f"face:{part.of}"))
    for at in _peaks(parts):  # beside the eaves at both ends, where the roof's line comes down
        beside = -1.0 if at[0] < left + 1 else 1.0 if at[0] > right - 1 else 0.0
        shapes.append(Label(at, say_length(at[1], unit, 0), (1.1 * beside, -0.9 if beside else 1.0)))
    for part in parts:
        (x0, z0), (x1, z1) = part.points
        if not part.wall and x1 - x0 > 0.08 * (right - left):
            angle = math.degrees(math.atan2(z1 - z0, x1 - x0))
            over = (-3.4 * math.sin(math.radians(angle)), 1.3 * math.cos(math.radians(angle)))
            shapes.append(Label(((x0 + x1) / 2, (z0 + z1) / 2), f"{part.of}  {abs(angle):.1f}°", over,
                                f"face:{part.of}"))
    return Drawing(tuple(shapes))


def _peaks(parts: tuple[CutLine, ...]) -> list[Point]:
    """Ends of faces that no other face is higher at."""
    ends = {(round(x), round(z)) for part in parts if not part.wall for x, z in part.points}
    peaks = [(float(x), float(z)) for x, z in ends
             if not any(abs(x - u) < 800 and w > z + 5 for u, w in ends)]
    return sorted(peaks)


def panel_drawing(plan: PanelPlan, width: float, openings: tuple[tuple[str, tuple[Point, ...]], ...],
                  unit: Unit = UNITS["mm"]) -> Drawing:
    """A face seen square on, its eave below: panels with lengths, seams, openings with their clearance. Places in
    mm."""
    shapes: list[Shape] = []
    every = max(1, len(plan.panels) // 14)
    for n, panel in enumerate(plan.panels):
        shapes.append(Ring(panel.outline, "panel", f"panel:{panel.n}"))
        if n % every == 0:
            shapes.append(Label((panel.left + panel.width / 2, min(y for _, y in panel.outline)), f"{panel.n}",
                                (0.0, -1.0), f"panel:{panel.n}"))
    clear = {item.opening: item.clear for item in plan.clearances}
    for name, ring in openings:
        shapes.append(Ring(ring, "opening", f"opening:{name}"))
        top = max(ring, key=lambda p: p[1])
        said = "a seam runs through" if clear.get(name, 0) < 0 else f"{say_length(clear[name], unit, 0)} clear"
        shapes.append(Label((sum(p[0] for p in ring) / len(ring), top[1]), f"{name}: {said}", (0.0, 1.0),
                            f"opening:{name}"))
    low = min(y for panel in plan.panels for _, y in panel.outline)
    for panel in (plan.panels[0], plan.panels[-1]):
        shapes.append(Dim((panel.left, low), (panel.right, low), say_length(panel.width, unit, 0), (0.0, -2.6)))
    return Drawing(tuple(shapes))
