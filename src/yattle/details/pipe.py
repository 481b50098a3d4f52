"""A pipe through the roof: base plate with collar and storm collar, conical boot, or pans split round it."""

from __future__ import annotations

import math
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, Lap, Size, SizeOrNone
from yattle.details.common import Finding
from yattle.details.drops import Leak, Piece, leaks
from yattle.details.forms import Array, Form, corner, lapped, moved, parts_for, ruled, true_to_girth
from yattle.details.pan_floor import Place
from yattle.details.pan_shape import PanShape
from yattle.details.rounds import circle
from yattle.details.split_pans import SplitAtPipe, SplitSeams, lower_pan, upper_pan
from yattle.errors import InputError
from yattle.measure import Whole
from yattle.pattern.pattern import SCREW
from yattle.pattern.surface import Crease, Face, Surface

_TAB = 25.0  # mm: how wide a collar's tabs are, about
_FEWEST = 6  # of them
_ROUND = 48  # sides of the pipe that drops run round
_NARROWEST = 40.0  # mm of plate beside the hole
_EDGE = 20.0  # mm from the plate's edge to the bead under it
_SCREW_EDGE, _SCREW_PITCH = 12.0, 120.0  # mm from the plate's edge to its screws, and from one to the next
_CLEAR = 75.0  # mm from hole to seam: room for the plate's edge and for seaming


class Pipe(Form):
    """A plumb pipe through a roof of ``pitch`` that falls toward x. Lengths in mm, angles in degrees.

    ``school`` is ``base``: a plate with a collar (a cylinder cut by the roof, tabs on the plate) and a storm collar;
    ``boot``: a plate with a cone that narrows to the pipe; ``split``: the same base between two pans split above and
    below; ``flexible``: a ready boot on top of the pan, of which only the hole is made.

    ``diameter``: the pipe's; ``gap``: round it, so that it can move
    ``height``: of the collar above its upper side; ``lap``: the collar's seam
    ``skirt``: the plate round the hole, narrower where a seam stands nearer
    ``brim``, ``rise``: the storm collar's
    ``coverage``: the pan's; ``from_seam``: from its left seam to the pipe's middle; 0: not said
    ``seam_height``, ``seam_width``, ``lock``: the seams' beside it
    ``pan_lap``: of the upper pan over the lower one, where it is not what the hole asks: both go on ``past_hole``
    ``set_width``, ``set_angle``: the strip set down at the upper pan's lower edge
    ``pan_length``: of each pan away from the pipe, where ``pans`` (lower, upper; the pipe's middle at 0) are not given
    """

    detail: Literal["pipe"] = "pipe"
    id: Id = "P1"
    diameter: Annotated[float, Field(gt=10, le=2000)]
    pitch: Annotated[float, Field(ge=0, lt=80)]
    school: Literal["base", "boot", "split", "flexible"] = "base"
    gap: SizeOrNone = 6.0
    height: Size = 150.0
    skirt: Size = 150.0
    lap: Lap = 20.0
    tabs: Size = 12.0
    brim: Size = 35.0
    rise: Size = 40.0
    coverage: SizeOrNone = 0.0
    from_seam: SizeOrNone = 0.0
    seam_height: Size = 38.0
    seam_width: SizeOrNone = 0.0
    lock: Size = 10.0
    pan_lap: Lap | None = None
    past_hole: Size = 60.0
    set_width: SizeOrNone = 10.0
    set_angle: Annotated[float, Field(ge=0, lt=60)] = 15.0
    pan_length: Size = 700.0
    pans: tuple[PanShape, PanShape] | None = None

    @property
    def bore(self) -> float:
        """The radius of collar and hole, mm."""
        return self.diameter / 2 + self.gap

    @property
    def clear(self) -> float:
        """From the hole's edge to the nearer seam, mm; infinite where the pan is not said."""
        if not self.coverage:
            return math.inf
        return min(self.from_seam, self.coverage - self.from_seam) - self.bore

    @property
    def pan(self) -> tuple[float, float]:
        """The pan it stands in: how wide, and from its left seam to the pipe's middle, mm. Where a seam would run
        through the hole that is a special pan, wider on that side."""
        if not self.coverage or self.clear >= 0:
            return self.coverage, self.from_seam
        left = self.from_seam < self.coverage / 2
        more = self.bore + _CLEAR - min(self.from_seam, self.coverage - self.from_seam)
        return self.coverage + more, self.from_seam + (more if left else 0.0)

    @property
    def top(self) -> float:
        """How high the collar ends over the middle of its foot, mm."""
        return self.bore * (1.6 if self.school == "boot" else 1.0) * math.tan(math.radians(self.pitch)) + self.height

    @cached_property
    def normal(self) -> Array:
        """The roof's unit normal, upward; the roof falls toward x."""
        slope = math.radians(self.pitch)
        return np.array([math.sin(slope), 0.0, math.cos(slope)])

    def surfaces(self) -> tuple[Surface, ...]:
        self._check()
        if self.school == "flexible":
            return (self._template(),)
        fine = np.linspace(0, 2 * math.pi, parts_for(self.bore, self.chord) + 1)
        made = [self._base(self._foot(fine)), self.collar()]
        if self.school == "split":
            made = [self._pan(False), *made, self._pan(True)]
        return tuple(made if self.school == "boot" else [*made, self._storm()])

    def _check(self) -> None:
        if self.coverage and self.diameter + 2 * self.gap >= self.coverage:
            raise InputError("diameter", f"{self.diameter:g} mm in a pan of {self.coverage:g} mm",
                             "a pipe narrower than its pan: two pans side by side want a curb")
        if self.school == "split" and not self.coverage:
            raise InputError("coverage", "0", "the width of the pans that are to be split")

    def collar(self) -> Surface:
        """The collar or cone by itself: round above, by rulings; at its foot straight under each tab, about 25 mm.
        Between the two a triangle stands on each tab's fold, with fans of rulings from its corners to the round."""
        fine = np.linspace(0.0, 2 * math.pi, parts_for(self.bore, self.chord) + 1)
        tabs, at = self._tab_angles(fine)
        half = math.ceil((len(fine) - 1) / tabs / 2)  # rulings in each of a triangle's two fans
        between = np.interp(np.arange(2 * half * tabs + 1) / (2 * half), np.arange(tabs + 1), at)
        return self._folded_foot(self._foot(at), self._top(between), half)

    # -- collar and cone --------------------------------------------------------------------------------

    def _tab_angles(self, fine: Array) -> tuple[int, Array]:
        """How many tabs, and the angles between them: as far apart along the foot, which is an ellipse."""
        along = np.concatenate(([0.0], np.cumsum(np.linalg.norm(np.diff(self._foot(fine), axis=0), axis=1))))
        tabs = max(_FEWEST, round(float(along[-1]) / _TAB))
        return tabs, np.asarray(np.interp(np.linspace(0.0, along[-1], tabs + 1), along, fine))

    def _top(self, angles: Array) -> Array:
        """Points round the top at those angles, radians, from its lower side back to it."""
        high = _ring(self.bore, angles)
        high[:, 2] = self.top
        if self.school == "boot":
            high[:, :2] *= self.diameter / 2 / self.bore
        return high

    def _foot(self, angles: Array) -> Array:
        """Points of the foot, on the roof, at those angles, radians, from its lower side back to it."""
        slope = math.tan(math.radians(self.pitch))
        low = _ring(self.bore * (1.6 if self.school == "boot" else 1.0), angles)
        way = self._top(angles) - low
        share = -(low[:, 2] + low[:, 0] * slope) / (way[:, 2] + way[:, 0] * slope)
        if not (np.isfinite(share).all() and share.max() < 0.9):
            raise InputError("pitch", f"{self.pitch:g}°", "less pitch or a higher boot: its cone has no apex in reach")
        return np.asarray(low + way * share[:, None])

    def _folded_foot(self, foot: Array, top: Array, half: int) -> Surface:
        """The surface between a foot of straight folds and a round top, ``half`` rulings to either side of each
        triangle, with its lap and its tabs."""
        low, high = [corner(p) for p in foot], [corner(p) for p in top]
        rings, straight = [], []
        for g in range(len(low) - 1):
            first = 2 * half * g
            rings += [(high[k], low[g], high[k + 1]) for k in range(first, first + half)]
            straight.append(len(rings))
            rings.append((high[first + half], low[g], low[g + 1]))
            rings += [(high[k], low[g + 1], high[k + 1]) for k in range(first + half, first + 2 * half)]
        faces = [Face(f"part {n}", ring) for n, ring in enumerate(rings, 1)]
        creases = []
        for n, (one, other) in enumerate(pairwise(rings)):  # each ruling runs from the top to the foot
            at = 1 if one[2] == other[0] and one[1] == other[1] else 2
            creases.append(Crease(n, at, n + 1, roll=True))
        creases.append(lapped(faces, foot[-2:], top[-2:], self.lap))
        for g, n in enumerate(straight):
            faces.append(self._tab(foot[g], foot[g + 1]))
            creases.append(Crease(n, 1, len(faces) - 1, "tongs", soft=True))
        return Surface("boot" if self.school == "boot" else "collar", tuple(faces), tuple(creases))

    def _tab(self, a: Array, b: Array) -> Face:
        """A tab on one flat part's foot, turned out onto the plate."""
        (ax, ay, az), (bx, by, bz), (nx, ny, nz) = a.tolist(), b.tolist(), self.normal.tolist()
        long = math.dist((ax, ay, az), (bx, by, bz))
        x, y, z = (bx - ax) / long, (by - ay) / long, (bz - az) / long
        out = (y * nz - z * ny, z * nx - x * nz, x * ny - y * nx)
        far = self.tabs if out[0] * (ax + bx) + out[1] * (ay + by) > 0 else -self.tabs
        taper = min(0.25 * long, self.tabs)
        low, high = ((px + out[0] * far + x * t, py + out[1] * far + y * t, pz + out[2] * far + z * t)
                     for px, py, pz, t in ((ax, ay, az, taper), (bx, by, bz, -taper)))
        return Face("tab", ((bx, by, bz), (ax, ay, az), low, high))

    def _base(self, foot: Array) -> Surface:
        """The plate on the roof; in its own plane the hole is an ellipse."""
        left, right, up, down = self._plate
        ring = tuple(self._on_roof((x, y)) for x, y in ((-left, -down), (right, -down), (right, up), (-left, up)))
        marks = tuple((at, at, SCREW) for at in map(self._on_roof, self._plate_screws()))
        return Surface("base plate", (Face("base", ring, (tuple(corner(p) for p in foot[:-1][::-1]),), marks),))

    @cached_property
    def _plate(self) -> tuple[float, float, float, float]:
        """How far the plate reaches from the pipe's middle: left, right, up the slope and down it, mm. Beside a seam it
        is as narrow as that asks."""
        slope = math.cos(math.radians(self.pitch))
        foot = self._foot(np.linspace(0, 2 * math.pi, parts_for(self.bore, self.chord) + 1))
        wide = float(np.abs(foot[:, 1]).max())
        left, right = (max(_NARROWEST, min(self.skirt, room - wide - self.seam_width / 2)) if self.coverage else
                       self.skirt for room in (self.pan[1], self.pan[0] - self.pan[1]))
        return (wide + left, wide + right, float(-foot[:, 0].min()) / slope + self.skirt,
                float(foot[:, 0].max()) / slope + self.skirt)

    def _on_roof(self, place: Place) -> tuple[float, float, float]:
        """A place given across and up the slope, in space."""
        return corner(self._slope @ np.array([place[0], place[1], 0.0]))

    @cached_property
    def _slope(self) -> Array:
        """The turn from a pan's frame (across, up the slope, square to it) into the pipe's, (3, 3)."""
        rise, run = math.sin(math.radians(self.pitch)), math.cos(math.radians(self.pitch))
        return np.array([[0.0, -run, rise], [1.0, 0.0, 0.0], [0.0, rise, run]])

    def _storm(self) -> Surface:
        """A ring of a cone that fits the pipe at its top."""
        parts = parts_for(self.bore + self.brim, self.chord)
        low = circle(true_to_girth(self.bore + self.brim, parts), parts)
        high = circle(true_to_girth(self.diameter / 2, parts), parts)
        low[:, 2], high[:, 2] = self.top - self.rise / 2, self.top + self.rise / 2
        return ruled("storm collar", low, high, self.lap)

    # -- pans -------------------------------------------------------------------------------------------

    def _template(self) -> Surface:
        """The hole for a ready boot, on the pan: the pipe and its clearance, an ellipse on the slope."""
        parts = parts_for(self.bore, self.chord)
        ring = circle(self.bore, parts)[:-1] * np.array([1 / math.cos(math.radians(self.pitch)), 1.0, 1.0])
        half = np.array([ring[:, 0].max() + 60, self.bore + 60])
        plate = [(-half[0], -half[1], 0.0), (half[0], -half[1], 0.0), (half[0], half[1], 0.0), (-half[0], half[1], 0.0)]
        return Surface("hole template", (Face("template", tuple(plate), (tuple(corner(p) for p in ring[::-1]),)),),
                       paper=True)

    @property
    def split(self) -> SplitAtPipe:
        """Where the two pans are split and how far they lap."""
        return SplitAtPipe(self.bore, self.pitch, self.past_hole, self.gap, self.pan_lap)

    @property
    def two_pans(self) -> tuple[PanShape, PanShape]:
        """The lower and the upper pan, the pipe's middle at 0: those of the roof where they are given."""
        if self.pans is not None:
            return self.pans
        wide, left = self.pan
        seams = SplitSeams(-left, wide - left, self.seam_height, self.lock, self.set_width, self.set_angle)
        reach, parts = max(self.pan_length, self.split.over), parts_for(self.bore + self.gap, self.chord)
        return lower_pan(self.split, seams, reach, parts), upper_pan(self.split, seams, reach, parts)

    def _pan(self, upper: bool) -> Surface:
        """One of the two pans in its place on the roof, with what holds the plate marked on the lower one."""
        shape = self.two_pans[upper]
        shape = shape if upper else shape.but(lines=(*shape.lines, *self._sealant()))
        return moved(shape.surface(), self._slope)

    def _sealant(self) -> tuple[tuple[Place, Place, str], ...]:
        """The bead under the plate: a U open downslope, so that what comes in runs out."""
        left, right, up, down = self._plate
        left, right, up = left - _EDGE, right - _EDGE, min(up, self.split.over / 2) - _EDGE
        ends = ((-left, -down), (-left, up), (right, up), (right, -down))
        return tuple((a, b, "sealant") for a, b in pairwise(ends))

    def _plate_screws(self) -> list[Place]:
        """Where the plate is screwed down, (across, up the slope) from the pipe's middle: along its upper edge and down
        its sides as far as the pan above covers them; nothing below that, where water runs."""
        left, right, up, _ = self._plate
        left, right, up = left - _SCREW_EDGE, right - _SCREW_EDGE, up - _SCREW_EDGE
        low = 2 * _SCREW_EDGE - self.split.over / 2 if self.school == "split" else 0.0
        many = max(1, math.ceil((left + right) / _SCREW_PITCH - 1e-9))
        top = [(-left + (left + right) * n / many, up) for n in range(many + 1)]
        rows = max(1, math.ceil((up - low) / _SCREW_PITCH - 1e-9)) if up > low else 0
        return [*top, *((x, up - (up - low) * n / rows) for x in (-left, right) for n in range(1, rows + 1))]

    def lost_drops(self) -> tuple[Leak, ...] | None:
        if self.school != "split":
            return None
        made, slope = {surface.name: surface for surface in self.surfaces()}, math.tan(math.radians(self.pitch))
        pieces = [Piece(made[name], name == "lower pan") for name in ("lower pan", "base plate", "upper pan")]
        ring = circle(self.bore, _ROUND)[:-1, :2]
        return tuple(leaks(pieces, [(float(x), float(y)) for x, y in ring], lambda x, y: -x * slope))

    # -- what is said -----------------------------------------------------------------------------------

    @property
    def notes(self) -> tuple[str, ...]:
        hole = 2 * self.bore
        said = [f"Hole in each sheet {hole:.0f} across by {hole / math.cos(math.radians(self.pitch)):.0f} along the "
                "slope: the pipe and its clearance, so that both can move.",
                {"base": "Lower pan under the base, upper pan over it; the storm collar over the collar.",
                 "split": self._split_says() if self.school == "split" else "",
                 "boot": "The cone is drawn tight to the pipe with a clamp; its seal has to be renewed.",
                 "flexible": "A ready boot on top of the pan: quick, a fraction of the life of a sheet "
                             "base."}[self.school]]
        return tuple(said)

    def _split_says(self) -> str:
        down = self.set_width * math.sin(math.radians(self.set_angle))
        return (f"Lower pan, then the base, then the upper pan over it by {self.split.over:.0f}, the hole whole in "
                "both. Over the lap the lower pan's lock is cut off and its leg stands between the neighbours' legs; "
                f"the upper pan's lock is closed all along. {self.set_width:g} of its lower edge are set down by "
                f"{down:.1f}, so that it lies tight; sealant only as an extra.")

    @property
    def cautions(self) -> tuple[str, ...]:
        return (*super().cautions, "A flue: clearances and certification by the local code and a licensed person.",
                "Before a hole is cut in the deck: what runs beneath it.")

    def looks(self) -> tuple[Finding, ...]:
        if self.clear > _CLEAR:
            return ()
        if self.clear >= 0:
            return (Finding("look", "the hole is {0} from a seam", "; ".join(self.choices), "from_seam",
                            (Whole(self.clear),)),)
        return (Finding("look", "a seam runs through the hole, {0} in: made for a special pan of {1}",
                        "; ".join(self.choices), "from_seam", (Whole(-self.clear), Whole(self.pan[0]))),)

    @property
    def choices(self) -> tuple[str, ...]:
        """What can be done where a seam is too near, the cheapest first, each with what it costs."""
        wanted, left = _CLEAR + self.bore, self.from_seam < self.coverage / 2
        move, way = wanted - min(self.from_seam, self.coverage - self.from_seam), "right" if left else "left"
        wide = self.coverage + move, self.coverage - move
        if 2 * wanted > self.coverage:
            return (f"a special pan of {2 * wanted:.0f} mm, its neighbours made narrower: two set-ups more",
                    "or a curb over two pans: 4 pieces more")
        return (f"move the pipe {move:.0f} mm to the {way}: no metal, below the deck it may take a bend",
                f"or start the pans {move:.0f} mm further {'left' if left else 'right'}: no metal, first and last pan "
                "change by as much",
                f"or two special pans, {wide[0]:.0f} and {wide[1]:.0f} mm: no metal, two set-ups more")


def _ring(radius: float, angles: Array) -> Array:
    """Points of a polygon at those angles that is as long round as the circle, (n, 3), at the height 0."""
    radius *= 2 * math.pi / float((2 * np.sin(np.diff(angles) / 2)).sum())
    return np.column_stack((radius * np.cos(angles), radius * np.sin(angles), np.zeros(len(angles))))
