"""The frames in which runs, openings and pans are made, in the roof's coordinates, raised to what they lie on."""

from __future__ import annotations

import numpy as np

from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.frames import Frame, face_frame_of, frame_of_opening
from yattle.derive.openings import DerivedOpening
from yattle.derive.raised import built_up as raised_on
from yattle.derive.shingles import courses_laid
from yattle.details import standard_for
from yattle.details.face_pans import FacePans
from yattle.roof import Facet
from yattle.roof.build_up import BuildUp


def built_up(derived: Derived, face: str) -> BuildUp:
    """What a face is made of, added up; heights in mm."""
    return raised_on(derived.job, face)


def opening_frame(derived: Derived, opening: DerivedOpening) -> Frame | None:
    """The frame of an opening's form on the panels of its face, mm; ``None`` of what stands at a corner, or nowhere."""
    placed = next((one for one in derived.roof.openings if one.opening.id == opening.id), None)
    return None if placed is None else frame_of_opening(derived.job, derived.roof, placed, opening.form)


def face_axes(derived: Derived, facet: Facet) -> Frame:
    """A face's own coordinates (across, up the slope, square to it) where its panels' flats lie, mm."""
    return face_frame_of(derived.job, facet)


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
