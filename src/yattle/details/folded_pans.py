"""The other school at a chimney: pans folded round its corners without a cut. The pans below and behind are trays with
pockets whose seams' hooks close over both neighbours; the pans beside it stand up along it and go on as seams."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yattle.details.common import Finding
from yattle.details.forms import tilted
from yattle.details.pan_floor import CLEAR
from yattle.details.pan_shape import PanHead, PanShape, SeamSide
from yattle.details.pans import Tray
from yattle.errors import InputError
from yattle.pattern.surface import Surface
from yattle.section import MetalSpec

PANS_NOTES = (
    "Folded school: no cut and no sealant at the corners; a seam runs along each side of the chimney, its legs come "
    "down to the seams' height beyond the corners on the line that they are cut to.",
    "The pans below and behind have two high edges: their hooks close over the pans beside the chimney. Heads are "
    "turned over as water checks, feet hook in the pans below.",
    "Pockets are laid behind the turn-ups, their mouths away from the water; try one in paper first.")
_STEEPEST = 45.0  # degrees: beyond that the pockets take more sheet than hands can lay
_EASE = 30.0  # mm that a leg stays tall past a corner
_ALONG = 10.0  # mm: so near a seam runs along a side
_LEAST = 60.0  # mm: a narrower pan beside it goes on to the next seam


@dataclass(frozen=True)
class SeamsBeside:
    """The seams round a chimney that is ``across`` wide: ``coverage`` of the pans (0: not said), how far the next seam
    on the left is from its left side, ``height`` and ``lock`` of a seam; what is turned at feet and heads of the pans.
    In mm."""

    across: float
    coverage: float
    from_seam: float
    height: float
    lock: float
    foot: float
    head: float

    def widths(self, flange: float) -> tuple[float, float]:
        """How wide the pans at its left and at its right are: to the next seams, or a flange where none are told."""
        if not self.coverage:
            return flange, flange
        left, right = self.from_seam, (-self.from_seam - self.across) % self.coverage
        return (left if left > _LEAST else left + self.coverage, right if right > _LEAST else right + self.coverage)

    def off(self) -> tuple[float, float]:
        """How far the nearest seams are from its left and from its right side, + where they lie to the right."""
        def nearest(place: float) -> float:
            rest = place % self.coverage
            return -rest if rest <= self.coverage / 2 else self.coverage - rest
        return nearest(self.from_seam), nearest(self.from_seam + self.across)

    def looks(self) -> tuple[Finding, ...]:
        """Where no seam runs along a side: by how much, and which start of the panels would do."""
        if not self.coverage:
            return ()
        left, right = self.off()
        if abs(left) <= _ALONG and abs(right) <= _ALONG:
            return ()
        side = "left" if abs(left) > _ALONG else "right"
        away, rest = abs(left if side == "left" else right), self.across % self.coverage
        special = f", and a pan of {rest:.0f} between" if _ALONG < rest < self.coverage - _ALONG else ""
        shift = f"a special pan of {rest:.0f} in line with the chimney"
        if side == "left":
            shift = (f"start the panels {abs(left):.0f} mm further {'left' if left > 0 else 'right'}, so that one runs "
                     f"along its left side{special}")
        return (Finding("look", f"no seam runs along its {side} side, the nearest is {{0}} away", shift, "from_seam",
                        (away,)),)


def folded_pans(seams: SeamsBeside, along: float, pitch: float, height: float, floors: tuple[float, float, float],
                metal: MetalSpec) -> tuple[Surface, ...]:
    """Lower pan, side pans, upper pan and the jigs, installed round a straight chimney that is ``along`` mm up the roof
    in plan, on a roof of ``pitch``; ``height`` of the upstands, plumb; ``floors``: how much of the pan below, how wide
    a pan beside it where no seams are told, how much behind. Sizes in mm. Raises :class:`InputError` on a roof too
    steep for them."""
    if pitch > _STEEPEST:
        raise InputError("pitch", f"{pitch:g}°",
                         f"{_STEEPEST:g}° or less for folded pans: their pockets get too large")
    lean, (low, flange, high) = math.radians(pitch), floors
    made = _Round(seams, along / math.cos(lean), pitch, height * math.cos(lean))
    foot = np.array([0.0, -along / 2, -along / 2 * math.tan(lean)])
    found = [tilted(made.tray("lower pan", low, pitch, seams.foot).surface(), pitch, foot)]
    for hand, wide in ((1, seams.widths(flange)[1]), (-1, seams.widths(flange)[0])):
        found.append(tilted(made.beside(hand, wide, low, high).surface(), pitch))
    found.append(tilted(made.tray("upper pan", high, -pitch, -seams.head).surface(), pitch, -foot, turned=True))
    return (*found, *_jigs(seams, pitch, height * math.cos(lean), flange, metal))


def _jigs(seams: SeamsBeside, pitch: float, legs: float, flange: float, metal: MetalSpec) -> list[Surface]:
    away = np.array([seams.across / 2 + flange + 150, 0.0, 0.0])
    found = []
    for rises, name in ((True, "jig, lower pan"), (False, "jig, upper pan")):
        tray = Tray(width=max(seams.across, 1.0), legs=legs, pitch=pitch, rises=rises, metal=metal)
        found += [tilted(replace(jig, name=name), pitch, away) for jig in tray.template()]
    return found


@dataclass(frozen=True)
class _Round:
    """The pans round a chimney in the roof's plane: ``along`` it up the slope, ``leg`` the upstands square to it. In
    mm."""

    seams: SeamsBeside
    along: float
    pitch: float
    leg: float

    def tray(self, name: str, floor: float, lean: float, foot: float) -> PanShape:
        """The pan below the chimney, its head folded up before it, or (turned half round) that behind it; ``foot`` what
        is turned at its other end."""
        half, turn = self.seams.across / 2, math.radians(lean)
        left, right = (-half, 0.0), (half, 0.0)
        ease = _EASE + max(0.0, -self.leg * math.tan(turn))  # a wall that leans over the pan
        sizes: dict[str, Any] = {
            "height": self.seams.height, "lock": self.seams.lock, "locks": 2, "back": (_kept(foot), CLEAR),
            "tall": (max(floor - ease, 1.0), floor, self.leg)}
        return PanShape(
            name=name, floor=((-half, -floor), (half, -floor), right, left), straight=False,
            seams=(SeamSide(low=(-half, -floor), high=left, side=-1, **sizes),
                   SeamSide(low=(half, -floor), high=right, side=1, **sizes)),
            heads=(PanHead(left=left, right=right, rise=self.leg / math.cos(turn), lean=lean, tray=True),),
            hems=(((-half, -floor), (half, -floor), foot),))

    def beside(self, hand: int, wide: float, low: float, high: float) -> PanShape:
        """The pan at its right (1) or left (−1) side, from below it to behind it."""
        near, far = sorted((hand * self.seams.across / 2, hand * (self.seams.across / 2 + wide)), key=abs)
        ends = -self.along / 2 - low, self.along / 2 + high
        left, right = min(near, far), max(near, far)
        back, past = (_kept(self.seams.foot), _kept(self.seams.head)), self.leg * math.tan(math.radians(self.pitch))
        sizes: dict[str, Any] = {"height": self.seams.height, "lock": self.seams.lock, "back": back}
        inner = SeamSide(low=(near, ends[0]), high=(near, ends[1]), side=-1 if hand > 0 else 1, locks=1,
                         tall=(max(low - _EASE, 1.0), low + self.along + past + _EASE, self.leg), **sizes)
        outer = SeamSide(low=(far, ends[0]), high=(far, ends[1]), side=1 if hand > 0 else -1,
                         locks=2 if hand > 0 else 1, **sizes)
        return PanShape(
            name="right pan" if hand > 0 else "left pan", straight=False, seams=(inner, outer),
            floor=((left, ends[0]), (right, ends[0]), (right, ends[1]), (left, ends[1])),
            hems=(((left, ends[0]), (right, ends[0]), self.seams.foot),
                  ((left, ends[1]), (right, ends[1]), -self.seams.head)))


def _kept(turned: float) -> float:
    """How far a seam's leg is kept back where so much of the floor is turned under or over, mm."""
    return abs(turned) + CLEAR if turned else CLEAR
