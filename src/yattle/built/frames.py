"""The frames in which runs, openings and pans are made, in the roof's coordinates, raised to what they lie on."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.openings import DerivedOpening
from yattle.derive.raised import built_up as raised_on
from yattle.derive.shingles import courses_laid
from yattle.details import standard_for
from yattle.details.chimney import Chimney
from yattle.details.curb import Curb
from yattle.details.face_pans import FacePans
from yattle.details.pipe import Pipe
from yattle.pattern.surface import Array
from yattle.roof import Facet
from yattle.roof.build_up import BuildUp
from yattle.roof.drain import axes
from yattle.roof.panels import face_frame


@dataclass(frozen=True)
class Frame:
    """Where a frame's axes point, the columns of ``turn`` (3, 3), and where its zero lies, mm."""

    turn: Array
    at: Array


def built_up(derived: Derived, face: str) -> BuildUp:
    """What a face is made of, added up; heights in mm."""
    return raised_on(derived.job, face)


def slope_axes(facet: Facet) -> Array:
    """Across a face to the right as seen from below, up its slope, and square to it; columns (3, 3), each 1 mm long."""
    (ax, ay), (fx, fy) = axes(facet.plane)
    lean = math.radians(facet.plane.pitch)
    across = np.array([ax, ay, 0.0])
    up = np.array([-fx * math.cos(lean), -fy * math.cos(lean), math.sin(lean)])
    return np.column_stack((across, up, np.cross(across, up)))


def opening_frame(derived: Derived, opening: DerivedOpening) -> Frame | None:
    """The frame of an opening's form on the panels of its face; ``None`` of what stands at a corner, or nowhere."""
    placed = next((one for one in derived.roof.openings if one.opening.id == opening.id), None)
    if placed is None:
        return None
    facet = derived.roof.facet(placed.facets[0])
    slope, (fx, fy), own = slope_axes(facet), axes(facet.plane)[1], placed.opening
    at = np.array([own.x, own.y, facet.plane.z((own.x, own.y))]) + _onto_flats(derived, placed.facets)
    down, plumb = np.array([fx, fy, 0.0]), np.array([0.0, 0.0, 1.0])
    turns = {Chimney: (slope[:, 0], -down, plumb), Pipe: (down, slope[:, 0], plumb), Curb: tuple(slope.T)}
    turn = next((turn for kind, turn in turns.items() if isinstance(opening.form, kind)), None)
    return None if turn is None else Frame(np.column_stack(turn), at)


def _onto_flats(derived: Derived, faces: tuple[str, ...]) -> Array:
    """From the planes of one or more faces to where their panels' flats lie, mm: by the least way that comes to all."""
    rows = np.array([derived.roof.facet(face).plane.normal for face in faces])
    by: Array = np.linalg.lstsq(rows, np.array([built_up(derived, face).flat for face in faces]), rcond=None)[0]
    return by


def face_axes(derived: Derived, facet: Facet) -> Frame:
    """A face's own coordinates (across, up the slope, square to it) where its panels' flats lie."""
    slope, (a, b, c, d, e, f) = slope_axes(facet), face_frame(facet).matrix
    x, y = np.linalg.solve(np.array([[a, b], [c, d]]), np.array([-e, -f]))
    zero = np.array([x, y, facet.plane.z((float(x), float(y)))])
    return Frame(slope, zero + slope[:, 2] * built_up(derived, facet.id).flat)


def pan_frames(derived: Derived, opening: DerivedOpening, pans: FacePans, n: int) -> list[Frame]:
    """One frame for every pan of a pattern, in which the first one's own coordinates lie."""
    face = opening.id.removeprefix(f"{PANS} ")
    whole, first = face_axes(derived, derived.roof.facet(face)), np.array(pans.places[n])
    panels = {panel.n: panel for panel in derived.panels[face].panels}
    found = []
    for number in pans.numbers[n]:
        panel = panels[number]
        by = np.array([panel.left, min(up for _, up in panel.outline)]) - first
        found.append(Frame(whole.turn, whole.at + whole.turn[:, :2] @ by))
    return found


def shingle_frames(derived: Derived, opening: DerivedOpening) -> list[Frame]:
    """One frame for every shingle of a face, course by course from below; those that are cut on the roof lie as if
    they were whole."""
    job, face = derived.job, opening.id.removeprefix(f"{PANS} ")
    whole = face_axes(derived, derived.roof.facet(face))
    laid = courses_laid(job, derived.roof, derived.panels[face], standard_for(job.system, job.own))
    return [Frame(whole.turn, whole.at + whole.turn[:, :2] @ np.array([left, course.low]))
            for course in laid for left in course.lefts]
