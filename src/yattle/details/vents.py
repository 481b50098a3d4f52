"""Holes that let a roof breathe: in the standing legs of ridge closures and of a strip at the eave; how much they let
through."""

from __future__ import annotations

import math
from typing import Literal

from yattle.bounds import Size, SizeOrNone
from yattle.details.common import Roles, Surrounding
from yattle.details.trim import SHARP, Hole, Leg, Trim, TrimSection, closed_hem
from yattle.pattern import Pattern
from yattle.pattern.marks import on_sheet
from yattle.pattern.pattern import Point
from yattle.runs import RunPiece
from yattle.section import Girth

_SIDES = 16  # of the ring that stands for a round hole
_RIM = 5.0  # mm of sheet beside a hole


def rows_in(width: float, hole: float, pitch: float) -> int:
    """How many rows of holes (mm across, ``pitch`` mm apart) a leg of that flat width takes, a rim at both sides."""
    room = width - 2 * _RIM - hole
    return int(room / pitch + 1e-9) + 1 if room >= 0 else 0


def free_area(width: float, hole: float, pitch: float) -> float:
    """What a perforated leg lets through, cm² a metre; sizes in mm.

    >>> round(free_area(38.0, 8.0, 16.0), 2)  # two rows of 8 mm holes, 62.5 in a metre each
    62.83
    """
    return rows_in(width, hole, pitch) * math.pi / 4 * hole * hole * (1000 / pitch) / 100


def holes_in(girth: Girth, part: int, cut: RunPiece, hole: float, pitch: float) -> tuple[Hole, ...]:
    """Places (along the share, up from raw edge B) and diameter of the holes of one flat part, mm."""
    edges = (0.0, *(bend.mark for bend in girth.bends), girth.girth)
    arcs = (0.0, *(bend.arc / 2 for bend in girth.bends), 0.0)
    top, foot = edges[part] + arcs[part], edges[part + 1] - arcs[part + 1]
    rows, many = rows_in(foot - top, hole, pitch), int((cut.share - 2 * _RIM - hole) / pitch + 1e-9) + 1
    if rows < 1 or many < 1:
        return ()
    left, high = (cut.share - (many - 1) * pitch) / 2, girth.girth - (top + foot) / 2 + (rows - 1) * pitch / 2
    return tuple((left + n * pitch, high - row * pitch, hole) for row in range(rows) for n in range(many))


def perforated(pattern: Pattern, holes: tuple[Hole, ...]) -> Pattern:
    """A pattern with round holes, those left out that do not lie whole on the sheet: rings of their true area."""
    import shapely

    if not holes:
        return pattern
    inner = shapely.Polygon(pattern.outline).buffer(-_RIM / 2)
    rings = [_ring(hole) for hole in holes]
    kept = [ring for ring in rings if inner.contains(shapely.Polygon(ring))]
    holed = (*pattern.holes, *kept)
    return pattern.but(holes=holed, marks=on_sheet(pattern.marks, pattern.outline, holed))


def _ring(hole: Hole) -> tuple[Point, ...]:
    x, y, wide = hole
    step = math.tau / _SIDES
    radius = wide / 2 * math.sqrt(step / math.sin(step))
    return tuple((x + radius * math.cos(step * n), y - radius * math.sin(step * n)) for n in range(_SIDES))


class EaveVent(Trim):
    """The strip that lets air in under an eave: ``base`` upright on the back of the fascia board, a perforated level
    ``face`` in the soffit beside it, a ``foot`` up the soffit's first board. ``hole`` across, ``hole_pitch`` apart.
    Sizes in mm."""

    detail: Literal["eave-vent"] = "eave-vent"
    base: Size = 40.0
    face: Size = 30.0
    foot: Size = 25.0
    hole: Size = 8.0
    hole_pitch: Size = 16.0
    hem: SizeOrNone = 0.0

    def sheet(self) -> TrimSection:
        return TrimSection("eave vent", (Leg("base", "base", self.base), Leg("face", "face", self.face),
                                         Leg("foot", "foot", self.foot)), (-90.0, -90.0), ("", ""), -90.0,
                           hem_b=closed_hem(self.hem, "back"), roles=Roles(face=1),
                           around=_boards(self.base, self.face),
                           notes=("Its holes stay free: no insulation against it, no paint in them.",),
                           cautions=SHARP)

    def holes(self, girth: Girth, cut: RunPiece) -> tuple[Hole, ...]:
        """Rows over the whole face."""
        return holes_in(girth, 1, cut, self.hole, self.hole_pitch)


def _boards(base: float, face: float) -> tuple[Surrounding, ...]:
    """The fascia board before a strip and the soffit behind it, mm: x out of the building, y up from its raw edge."""
    off, thick, wide = 1.0, 24.0, 90.0
    fascia = ((off, 1.5 * base), (off + thick, 1.5 * base), (off + thick, -base - off), (off, -base - off))
    near = -face - off
    soffit = ((near, -base - off), (near, thick - base - off), (near - wide, thick - base - off),
              (near - wide, -base - off))
    return Surrounding("fascia", fascia), Surrounding("soffit", soffit)
