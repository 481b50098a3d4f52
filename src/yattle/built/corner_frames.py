"""The frames in which pieces of corners are made, in the roof's coordinates, raised to what they lie on."""

from __future__ import annotations

import math

import numpy as np

from yattle.built.frames import Frame, built_up
from yattle.derive.derived import Derived
from yattle.derive.lift import over_of
from yattle.derive.meetings import Meeting, meetings, turned_to
from yattle.derive.openings import DerivedOpening
from yattle.details.boxes import Box
from yattle.details.closed import DormerRidge, PeakCap, RidgeJoint, ThreeWay
from yattle.pattern.surface import Array
from yattle.roof.at_edge import into


def corner_frame(derived: Derived, opening: DerivedOpening) -> Frame | None:
    """The frame of a corner's form; ``None`` of forms whose place at their corner is not worked out. A joint of
    valleys goes under the panels, so that it lies on the deck; caps lie as high as the caps that end under them."""
    meeting = next((one for one in meetings(derived.roof) if one.id == opening.id), None)
    form = opening.form
    if meeting is None:
        return None
    if isinstance(form, Box):
        return _box(derived, meeting, form)
    if isinstance(form, RidgeJoint):
        return Frame(np.eye(3), np.array(meeting.at) + _raised(derived, meeting))
    for kind, name in ((ThreeWay, "three-way-cap"), (DormerRidge, "dormer-ridge"), (PeakCap, "peak-cap")):
        if isinstance(form, kind):
            turn = math.radians(-turned_to(derived.roof, meeting, name))
            by = np.zeros(3) if kind is DormerRidge else _raised(derived, meeting)
            return Frame(np.array([[math.cos(turn), -math.sin(turn), 0.0], [math.sin(turn), math.cos(turn), 0.0],
                                   [0.0, 0.0, 1.0]]), np.array(meeting.at) + by)
    return None


def _raised(derived: Derived, meeting: Meeting) -> Array:
    """How far the planes round a place meet from it where each lies as high as the caps on it, mm; to a board's plane
    it keeps."""
    over = {face: 0.0 for edge in meeting.edges for face in edge.facets}
    for edge in meeting.edges:
        run = next((one for one in derived.runs if derived.edge_runs.get(one.run.id) is not None
                    and derived.edge_runs[one.run.id].edge.id == edge.id), None)
        if run is not None and edge.kind in ("ridge", "hip"):
            over |= {face: max(over[face], over_of(derived, run)) for face in edge.facets}
    rows = [np.array(derived.roof.facet(face).plane.normal) for face in over]
    heights = [built_up(derived, face).flat + high for face, high in over.items()]
    for edge in meeting.edges:
        if edge.kind == "rake":
            x, y = into(derived.roof, edge, edge.facets[0])
            rows.append(np.array([x, y, 0.0]))
            heights.append(0.0)
    by: Array = np.linalg.lstsq(np.array(rows), np.array(heights), rcond=None)[0]
    return by


def _box(derived: Derived, meeting: Meeting, form: Box) -> Frame | None:
    """A box at an eave's end: its bottom in the gable's plane, seen from outside, its top's low corner at the eave."""
    rake = next((edge for edge in meeting.edges if edge.kind == "rake"), None)
    eave = next((edge for edge in meeting.edges if edge.kind == "eave"), None)
    if rake is None or eave is None or form.outline is not None:
        return None
    x, y = into(derived.roof, rake, rake.facets[0])
    out, up = np.array([-x, -y, 0.0]), np.array([0.0, 0.0, 1.0])
    right = np.cross(up, out)  # as seen from outside
    foot = np.array(meeting.at) - up * form.height
    return Frame(np.column_stack((right, up, out)), foot if form.hand == "right" else foot - right * form.width)
