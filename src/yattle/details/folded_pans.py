"""The other school at a chimney: pans folded round its corners without a cut. The pans below and behind are trays with
pockets, the pans beside it have a leg as high as the chimney's upstand."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from yattle.details.feet import UP
from yattle.details.forms import tilted
from yattle.details.pans import Tray
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface
from yattle.section import MetalSpec

PANS_NOTES = (
    "Folded school: no cut and no sealant at the corners; a seam runs along each side of the chimney, its legs trimmed "
    "down to the seams' height beyond the corners.",
    "Pockets are laid behind the turn-ups, their mouths away from the water; try one in paper first.")
_STEEPEST = 45.0  # degrees: beyond that the pockets take more sheet than hands can lay


def folded_pans(across: float, along: float, pitch: float, height: float, floors: tuple[float, float, float],
                metal: MetalSpec) -> tuple[Surface, ...]:
    """Lower pan, side pans, upper pan and the jigs, installed round a straight chimney of ``across`` by ``along`` in
    plan, on a roof of ``pitch``; ``height`` of the upstands, plumb; ``floors``: how much of the pan below, beside,
    behind. Sizes in mm. Raises :class:`InputError` on a roof too steep for them."""
    if pitch > _STEEPEST:
        raise InputError("pitch", f"{pitch:g}°",
                         f"{_STEEPEST:g}° or less for folded pans: their pockets get too large")
    lean = math.radians(pitch)
    low, side, high = floors
    sizes: dict[str, Any] = {"width": across, "legs": height * math.cos(lean), "metal": metal, "pitch": pitch}
    front, jig = Tray(floor=low, rises=True, **sizes).surfaces()
    back, jig_back = Tray(floor=high, rises=False, **sizes).surfaces()
    foot = np.array([0.0, -along / 2, -along / 2 * math.tan(lean)])
    made = [tilted(replace(front, name="lower pan"), pitch, foot)]
    for hand, name in ((1, "right pan"), (-1, "left pan")):
        surface = _side(name, hand, across, along / math.cos(lean), height * math.cos(lean), (low, side, high))
        made.append(tilted(surface, pitch))
    made.append(tilted(replace(back, name="upper pan"), pitch, -foot, turned=True))
    beside = np.array([across / 2 + side + 150, 0.0, 0.0])
    return (*made, *(tilted(replace(j, name=name), pitch, beside)
                     for j, name in ((jig, "jig, lower pan"), (jig_back, "jig, upper pan"))))


def _side(name: str, hand: int, across: float, along: float, leg: float, floors: tuple[float, float, float]) -> Surface:
    """A pan beside the chimney, in the roof's plane with y upslope."""
    low, wide, high = floors
    x, y0, y1 = hand * across / 2, -along / 2 - low, along / 2 + high
    body = Body(name)
    a, b = np.array([x, y0, 0.0]), np.array([x, y1, 0.0])
    out = np.array([hand * wide, 0.0, 0.0])
    floor = body.add("pan", [a, b, b + out, a + out], UP)
    upright = body.add("leg", [a, b, b + UP * leg, a + UP * leg], (hand, 0, 0))
    body.fold(floor, upright, a, b)
    return body.surface()
