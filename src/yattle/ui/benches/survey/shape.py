"""The roof's shape in the hand: what can be dragged and what that changes, the section's line, a drop of water."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from yattle.derive.roof_runs import roof_runs
from yattle.errors import InputError
from yattle.roof import RoofPlan, build
from yattle.roof.drain import Drop, drop
from yattle.roof.plane import Point, body
from yattle.roof.starts import with_part
from yattle.ui.benches.survey.selected import SurveySelection
from yattle.ui.drawing.handles import Handle

_NEAR = 150.0  # mm: walls nearer than this snap to one line


def snapped(value: float, step: float) -> float:
    """``value`` on the grid of ``step`` mm."""
    return round(value / step) * step if step else value


@dataclass
class Cutting:
    """The line of the section in plan."""

    a: Point
    b: Point


def _block_handles(block: Any) -> list[Handle]:
    """Middle, both ends of length and span, and one beyond the ridge's end to turn it."""
    angle = math.radians(block.bearing)
    along, left = (math.cos(angle), math.sin(angle)), (-math.sin(angle), math.cos(angle))

    def at(u: float, v: float) -> Point:
        return block.x + u * along[0] + v * left[0], block.y + u * along[1] + v * left[1]
    part = f"block:{block.id}"
    half, wide = block.length / 2, block.span / 2
    places = (("move", 0.0, 0.0), ("length", half, 0.0), ("length", -half, 0.0), ("span", 0.0, wide),
              ("span", 0.0, -wide), ("turn", -half - 900.0, 0.0))
    return [Handle(part, role, at(u, v)) for role, u, v in places]


class ShapeHand:
    """``preview`` the roof while something is dragged, ``cut`` the line of the section, ``drop`` the one followed,
    ``hint`` what is said while none is; ``wrong`` why what is dragged cannot be."""

    def __init__(self, survey: SurveySelection) -> None:
        self.survey, self.store = survey, survey.store
        self.preview: RoofPlan | None = None
        self.cut: Cutting | None = None
        self.drop: Drop | None = None
        self.hint, self.wrong = "", ""

    def pull(self, part: str, role: str, x: float, y: float, done: bool) -> None:
        """A handle is being dragged to x, y mm: the roof follows; let go, it is an edit."""
        self.wrong = ""
        if part == "cut" and self.cut is not None:
            self.cut = Cutting((x, y), self.cut.b) if role == "a" else Cutting(self.cut.a, (x, y))
            return
        name = part.partition(":")[2]
        plan = self.store.session.job.roof
        item = next(i for i in (*plan.blocks, *plan.openings, *plan.faces) if i.id == name)
        changes = self.pulled(item, role, x, y)
        try:
            pulled = with_part(plan, name, **changes)
            build(pulled)
        except InputError as wrong:
            self.wrong = str(wrong)
            self.preview = None if done else self.preview
            return
        self.preview = None if done else pulled
        if done:
            self.store.attempt_aloud(lambda: self.survey.edit_part(name, f"{name} {role}", **changes))

    def follow(self, x: float, y: float) -> None:
        """Follow a drop of water from the place pressed."""
        self.drop = drop(self.store.session.derived.roof, (x, y))

    @property
    def step(self) -> float:
        """The grid that dragged measures snap to: 50 mm, or two inches."""
        return 50.8 if self.store.unit.name != "mm" else 50.0

    def handles(self) -> list[Handle]:
        handles = []
        if self.survey.view == "cut" and self.cut is not None:
            return [Handle("cut", "a", self.cut.a), Handle("cut", "b", self.cut.b)]
        item = self.survey.item
        plan = self.preview or self.store.session.job.roof
        if self.survey.part.startswith("opening:") and item is not None:
            shown = next(o for o in plan.openings if o.id == item.id)
            handles.append(Handle(f"opening:{item.id}", "move", (shown.x, shown.y)))
        elif item is not None and hasattr(item, "outline"):
            face = next(f for f in plan.faces if f.id == item.id)
            handles += [Handle(f"face:{item.id}", f"corner {n}", at) for n, at in enumerate(face.outline)]
        elif self.survey.block_id:
            block = next(b for b in plan.blocks if b.id == self.survey.block_id)
            handles += _block_handles(block)
        return handles

    def pulled(self, item: Any, role: str, x: float, y: float) -> dict[str, object]:
        if role.startswith("corner"):
            corners = list(item.outline)
            corners[int(role.split()[1])] = (snapped(x, self.step), snapped(y, self.step))
            return {"outline": tuple(corners)}
        angle = math.radians(getattr(item, "bearing", 0.0))
        along = math.cos(angle), math.sin(angle)
        u = (x - item.x) * along[0] + (y - item.y) * along[1]
        v = -(x - item.x) * along[1] + (y - item.y) * along[0]
        if role == "length":
            return {"length": max(self.step, snapped(2 * abs(u), self.step))}
        if role == "span":
            return {"span": max(self.step, snapped(2 * abs(v), self.step))}
        if role == "turn":
            return {"bearing": snapped(math.degrees(math.atan2(item.y - y, item.x - x)), 5.0) % 360.0}
        return dict(zip(("x", "y"), self._moved(item, x, y), strict=True))

    def _moved(self, item: Any, x: float, y: float) -> Point:
        """Where a dragged block comes to: its walls on the lines of other walls where they are near, else the grid."""
        blocks = self.store.session.job.roof.blocks
        if item not in blocks:
            return snapped(x, 10.0), snapped(y, 10.0)
        mine = [(px - item.x, py - item.y) for px, py in body(item).walls]
        others = [p for b in blocks if b.id != item.id for p in (*body(b).walls, (b.x, b.y))]
        result = []
        for axis, value in ((0, x), (1, y)):
            offsets = {0.0, *(m[axis] for m in mine)}
            near = [o[axis] - off for o in others for off in offsets if abs(o[axis] - off - value) < _NEAR]
            result.append(min(near, key=lambda v: abs(v - value)) if near else snapped(value, self.step))
        return round(result[0], 1), round(result[1], 1)

    def nudge(self, dx: int, dy: int) -> None:
        item = self.survey.item
        if item is not None and hasattr(item, "x"):
            step = self.step if self.survey.block_id else 10.0
            self.store.attempt_aloud(lambda: self.survey.edit_part(
                item.id, f"move {item.id}", x=item.x + dx * step, y=item.y + dy * step))

    def forget_what_is_gone(self) -> None:
        if self.drop is not None and self.preview is None:
            start = self.drop.places[0][:2] if self.drop.places else None
            self.drop = drop(self.store.session.derived.roof, start) if start else None
        bodies = self.store.session.derived.roof.bodies
        if self.cut is None and bodies:
            a, b, c, d = bodies[0].roof  # across the first block, a little beyond its eaves
            over = 0.12
            middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), ((c[0] + d[0]) / 2, (c[1] + d[1]) / 2)
            ax, ay = (middle[1][0] - middle[0][0]) * over, (middle[1][1] - middle[0][1]) * over
            self.cut = Cutting((middle[0][0] - ax, middle[0][1] - ay), (middle[1][0] + ax, middle[1][1] + ay))

    def drop_says(self) -> str:
        if self.drop is None:
            return self.hint
        names = {r.edge.id: r.run.id for r in roof_runs(self.store.session.job)}
        way = ", ".join(names.get(edge, edge) for edge in self.drop.edges)
        end = {"off": "and off the roof", "wall": "and stands against the wall", "flat": "stays on the flat roof"}
        return f"the drop comes to {way} {end[self.drop.end]}" if way else end[self.drop.end]
