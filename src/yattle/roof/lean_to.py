"""Lean-tos and the walls they stand against: they follow their wall, and it is told where one just misses it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from yattle.roof.model import RoofPlan, Shed
from yattle.roof.plane import Point

_TOUCHES = 5.0  # mm from a high side to the wall it stands against
_SQUARE = math.cos(math.radians(1.0))
NEAR = 600.0
"""How far off a wall a shed's high side still looks meant for it, mm."""


@dataclass(frozen=True)
class Against:
    """That a shed's high side faces a wall of block ``block``: the wall's outward direction in the block's own frame
    (along the ridge, to its left), and how far off the wall the high side stands, mm, + outside it."""

    block: str
    outward: tuple[int, int]
    off: float


def _axes(bearing: float) -> tuple[Point, Point]:
    turn = math.radians(bearing)
    return (math.cos(turn), math.sin(turn)), (-math.sin(turn), math.cos(turn))


def _local(block: Any, x: float, y: float) -> Point:
    """A place in a block's own frame: along its ridge and to its left, from its centre. In mm."""
    along, left = _axes(block.bearing)
    dx, dy = x - block.x, y - block.y
    return dx * along[0] + dy * along[1], dx * left[0] + dy * left[1]


def against(shed: Shed, block: Any, within: float = _TOUCHES) -> Against | None:
    """The wall of ``block`` that the shed's high side stands against, ``within`` so many mm; ``None`` where there is
    none."""
    _, up = _axes(shed.bearing)  # from the low side to the high one
    u, v = _local(block, shed.x + up[0] * shed.span / 2, shed.y + up[1] * shed.span / 2)
    along, left = _axes(block.bearing)
    for outward, off, aside, half in (((1, 0), u - block.length / 2, v, block.span / 2),
                                      ((-1, 0), -u - block.length / 2, v, block.span / 2),
                                      ((0, 1), v - block.span / 2, u, block.length / 2),
                                      ((0, -1), -v - block.span / 2, u, block.length / 2)):
        away = (outward[0] * along[0] + outward[1] * left[0], outward[0] * along[1] + outward[1] * left[1])
        if (up[0] * away[0] + up[1] * away[1] < -_SQUARE and abs(off) <= within
                and abs(aside) < half + shed.length / 2 - _TOUCHES):
            return Against(block.id, outward, off)
    return None


def following(before: RoofPlan, after: RoofPlan, changed: str) -> RoofPlan:
    """The plan ``after`` block ``changed`` was changed, with the lean-tos that stood against it still at their wall."""
    old = next((b for b in before.blocks if b.id == changed), None)
    new = next((b for b in after.blocks if b.id == changed), None)
    if old is None or new is None or old == new:
        return after
    return after.but(blocks=tuple(_followed(block, old, new) for block in after.blocks))


def _followed(block: Any, old: Any, new: Any) -> Any:
    found = against(block, old) if isinstance(block, Shed) and block.id != new.id else None
    if found is None:
        return block
    u, v = _local(old, block.x, block.y)
    u += found.outward[0] * (new.length - old.length) / 2
    v += found.outward[1] * (new.span - old.span) / 2
    along, left = _axes(new.bearing)
    return block.but(x=round(new.x + u * along[0] + v * left[0], 6), y=round(new.y + u * along[1] + v * left[1], 6),
                     bearing=(block.bearing + new.bearing - old.bearing) % 360.0)


def just_misses(plan: RoofPlan, shed_id: str) -> Against | None:
    """The wall that a shed's high side stands near and does not touch; ``None`` where it touches one, or none is
    near."""
    shed = next((b for b in plan.blocks if b.id == shed_id), None)
    if not isinstance(shed, Shed):
        return None
    others = [block for block in plan.blocks if block.id != shed_id]
    if any(against(shed, block) for block in others):
        return None
    near = [found for block in others if (found := against(shed, block, NEAR)) is not None]
    return min(near, key=lambda found: abs(found.off), default=None)
