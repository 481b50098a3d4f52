"""Cover: how far the trim of one run lies over that of another where fitting says that it laps over it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.cover import Cover
from yattle.built.sheets import LEVEL, Numbers, Sheet, Sheets
from yattle.built.standing import Standing, spot
from yattle.built.touching import touches
from yattle.derive.derived import Derived
from yattle.details import standard_for
from yattle.install.fitting import fitting
from yattle.pattern.rings import cross
from yattle.pattern.surface import Array

CORNER = "the corner at"
"""What an eave's trim goes round, with the rake there."""
_LEAST = 300.0  # mm²: less lies on nothing
_ROUND = 40.0  # mm round a corner, upright: water runs off it
_ACROSS, _AT_CORNER, _TAB = 0.9, 60.0, 15.0  # cosine; mm from the corner; mm that a tab is wide there
_SHORT = 150.0  # mm before its end, where a trim ends on the thick panels of a face below: it comes to no other there
_UNDER = 8.0  # mm that it may lie lower: sheets one on another
_OVER = 600.0  # mm: as far over a trim that lies on the deck one on the thickest panels lies


@dataclass(frozen=True)
class _Over:
    """Where one sheet lies over another in plan: their numbers, how far along the lower one's fall, mm on its slope,
    of how far that one goes there at all."""

    upper: int
    lower: int
    have: float
    whole: float
    at: tuple[float, float, float]


def trim_covers(derived: Derived, standing: Mapping[str, Standing],
                touching: frozenset[str] | None = None) -> Iterator[Cover]:
    """Every lap of one run's trim over another's: along the water as far as the house's lap, or as the lower trim goes
    there; round a wall's corner upright on it. Not of two whose ends a piece of their corner closes. ``touching``: only
    of trims with pieces of these patterns."""
    want, asked = standard_for(derived.job.system, derived.job.own).lap, _asked(derived, touching)
    pieces = _pieces(derived, standing, {run for pair in asked for run in pair})
    sheets = Sheets([Sheet(one.name, part, 0.0, run) for run, ones in pieces.items() for one in ones
                     for part in one.parts])
    found = _overlaps(sheets, asked)
    for over, under in sorted(asked):
        best = max(found.get((over, under), ()), default=None,
                   key=lambda one: (one.have >= min(want, one.whole), one.have))
        if best is not None:
            names = sheets.name(best.upper), sheets.name(best.lower)
            yield Cover(*names, best.have, min(want, best.whole), 1.0, best.at, 0.0, True)
        elif pieces.get(over) and pieces.get(under) and min(derived.run(under).run.reaches) > -_SHORT:
            yield _upright(pieces[over], pieces[under], want)
        yield from _round_its_corner(derived, over, under, pieces.get(under, []))


def _asked(derived: Derived, touching: frozenset[str] | None) -> set[tuple[str, str]]:
    """The laps, by their runs, that water runs over; not those that a piece over both closes, or one over the lower
    trim's end and under the foot of a hip."""
    made = {run.run.id: {piece.id for piece in run.pieces} for run in derived.runs if run.pieces and not run.run.layer}
    corners = {one.id for one in derived.openings if one.pieces}
    laps = [lap for lap in fitting(derived).laps if not lap.by_hand]
    closed: dict[str, set[str]] = {}
    for lap in laps:
        if lap.over in corners:
            closed.setdefault(lap.under, set()).add(lap.over)
        elif lap.under in corners and lap.over in made and derived.edge_runs[lap.over].edge.kind == "hip":
            closed.setdefault(lap.over, set()).add(lap.under)
    return {(lap.over, lap.under) for lap in laps if lap.over in made and lap.under in made
            and not closed.get(lap.over, set()) & closed.get(lap.under, set())
            and (touching is None or (made[lap.over] | made[lap.under]) & touching)}


def _overlaps(sheets: Sheets, asked: set[tuple[str, str]]) -> dict[tuple[str, str], list[_Over]]:
    """Where sheets of the runs asked lie over each other, by their runs."""
    names = [one.item for one in sheets.sheets]
    upper, lower = sheets.pairs()
    keep = np.array([(names[a], names[b]) in asked for a, b in zip(upper.tolist(), lower.tolist(), strict=True)], bool)
    upper, lower = upper[keep], lower[keep]
    shared = overlay.intersection(sheets.plans[upper], sheets.plans[lower])
    found: dict[tuple[str, str], list[_Over]] = {}
    for a, b, both in zip(upper.tolist(), lower.tolist(), shared, strict=True):
        if both.area > _LEAST and sheets.slopes[b] > LEVEL:
            one = _over(sheets, a, b, both)
            if one is not None:
                found.setdefault((names[a], names[b]), []).append(one)
    return found


def _over(sheets: Sheets, upper: int, lower: int, shared: shapely.Geometry) -> _Over | None:
    x, y = shared.representative_point().coords[0]
    both: Numbers = np.array([upper, lower])
    high, low = sheets.heights(both, np.array([[x, y], [x, y]])).tolist()
    if not -_UNDER < high - low < _OVER:
        return None
    plumb = float(np.sqrt(1.0 - sheets.slopes[lower]**2))
    have, whole = (float(np.ptp(shapely.get_coordinates(shape) @ sheets.falls[lower])) / plumb
                   for shape in (shared, sheets.plans[lower]))
    return _Over(upper, lower, have, whole, (x, y, low))


def _pieces(derived: Derived, standing: Mapping[str, Standing], runs: set[str]) -> dict[str, list[Standing]]:
    of = {piece.id: run.run.id for run in derived.runs if run.run.id in runs for piece in run.pieces}
    found: dict[str, list[Standing]] = {}
    for one in standing.values():
        if one.pattern in of:
            found.setdefault(of[one.pattern], []).append(one)
    return found


def _round_its_corner(derived: Derived, rake: str, eave: str, pieces: list[Standing]) -> Iterator[Cover]:
    """Whether the eave's trim goes round the gable's corner, under the rake's face: else one sees in behind it."""
    one, other = derived.edge_runs[rake].edge, derived.edge_runs[eave].edge
    said = any(note.key == other.key and (note.left or note.right) for note in derived.job.edges)
    if (one.kind, other.kind) != ("rake", "eave") or not pieces or said:  # somebody has chosen its ends
        return
    corner = min((np.array(end) for end in (other.a, other.b)),
                 key=lambda end: min(float(np.linalg.norm(end - far)) for far in (one.a, one.b)))
    way = (np.array(other.b) - np.array(other.a)) / other.length
    last = min(pieces, key=lambda each: abs(float((each.middle - corner) @ way)))
    wide = max((_width(part, square) for part, square in zip(last.parts, last.normals, strict=True)
                if abs(float(square @ way)) > _ACROSS and float(np.abs((part - corner) @ way).min()) < _AT_CORNER),
               default=0.0)
    yield Cover(last.name, f"{CORNER} {rake}", wide, _TAB, 1.0, spot(corner), 0.0, True)


def _width(part: Array, square: Array) -> float:
    """How wide a flat part is where it is narrower, mm."""
    u = cross(square, np.array([0.0, 0.0, 1.0]))
    size = float(np.linalg.norm(u))
    u = u / size if size > 1e-6 else np.array([1.0, 0.0, 0.0])
    return min(float(np.ptp(part @ u)), float(np.ptp(part @ cross(square, u))))


def _upright(over: list[Standing], under: list[Standing], want: float) -> Cover:
    """Two that lie nowhere over each other in plan: round a corner one lies on the other upright."""
    found = touches(over, under)
    best = max(found.items(), key=lambda one: one[1].area, default=None)
    if best is not None:
        (name, _, other), touch = best
        return Cover(name, other, touch.long, min(want, _ROUND), 1.0, spot(touch.at), 0.0, True)
    one, other_one = min(((a, b) for a in over for b in under),
                         key=lambda pair: float(np.linalg.norm(pair[0].middle - pair[1].middle)))
    return Cover(one.name, other_one.name, 0.0, want, 0.0, spot((one.middle + other_one.middle) / 2), 0.0, True)
