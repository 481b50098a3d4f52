"""The frames in which pieces of corners are made, in the roof's coordinates, raised to what they lie on."""

from __future__ import annotations

import math

import numpy as np

from yattle.built.frames import built_up
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.frames import Frame, slope_axes
from yattle.derive.lift import lift_of, mould_lines, over_of, trim_of
from yattle.derive.meetings import Meeting, meetings, turned_to
from yattle.derive.openings import DerivedOpening
from yattle.details.boxes import Box, EndCap
from yattle.details.closed import DormerRidge, PeakCap, RidgeJoint, ThreeWay
from yattle.details.gutter import GutterCorner
from yattle.details.pans import Tray
from yattle.pattern.surface import Array
from yattle.roof.at_edge import into

_PLUMB = np.array([0.0, 0.0, 1.0])
COVERS = (ThreeWay, DormerRidge, RidgeJoint, PeakCap)
"""Forms whose parts lie on the faces round a place."""


def corner_frame(derived: Derived, opening: DerivedOpening) -> Frame | None:
    """The frame of a corner's form, or of a cap that closes a run; ``None`` of forms whose place is not worked out. A
    joint of valleys goes under the panels, so that it lies on the deck; caps lie as high as the caps that end under
    them."""
    meeting = next((one for one in meetings(derived.roof) if one.id == opening.id), None)
    form = opening.form
    if meeting is None:
        return _end_cap(derived, opening)
    if isinstance(form, Box):
        return _box(derived, meeting, form)
    if isinstance(form, GutterCorner):
        return _gutter(derived, meeting, form)
    if isinstance(form, Tray):
        return _tray(derived, meeting, form)
    if isinstance(form, RidgeJoint):
        return Frame(np.eye(3), np.array(meeting.at) + _raised(derived, meeting))
    for kind, name in ((ThreeWay, "three-way-cap"), (DormerRidge, "dormer-ridge"), (PeakCap, "peak-cap")):
        if isinstance(form, kind):
            turn = math.radians(-turned_to(derived.roof, meeting, name))
            by = np.zeros(3) if kind is DormerRidge else _raised(derived, meeting)
            return Frame(np.array([[math.cos(turn), -math.sin(turn), 0.0], [math.sin(turn), math.cos(turn), 0.0],
                                   [0.0, 0.0, 1.0]]), np.array(meeting.at) + by)
    return None


def heights_round(derived: Derived, meeting: Meeting) -> dict[str, float]:
    """How high over the plane of each face round a place the caps lie that end there, mm."""
    over = {face: 0.0 for edge in meeting.edges for face in edge.facets}
    for edge in meeting.edges:
        run = next((one for one in derived.runs if derived.edge_runs.get(one.run.id) is not None
                    and derived.edge_runs[one.run.id].edge.id == edge.id), None)
        if run is not None and edge.kind in ("ridge", "hip"):
            over |= {face: max(over[face], over_of(derived, run)) for face in edge.facets}
    return {face: built_up(derived, face).flat + high for face, high in over.items()}


def _raised(derived: Derived, meeting: Meeting) -> Array:
    """How far the planes round a place meet from it where each lies as high as the caps on it, mm; to a board's plane
    it keeps."""
    high = heights_round(derived, meeting)
    rows = [np.array(derived.roof.facet(face).plane.normal) for face in high]
    heights = list(high.values())
    for edge in meeting.edges:
        if edge.kind == "rake":
            x, y = into(derived.roof, edge, edge.facets[0])
            rows.append(np.array([x, y, 0.0]))
            heights.append(0.0)
    by: Array = np.linalg.lstsq(np.array(rows), np.array(heights), rcond=None)[0]
    return by


def _box(derived: Derived, meeting: Meeting, form: Box) -> Frame | None:
    """A box at a gable: its bottom in the gable's plane, seen from outside. At an eave's end its top's low corner lies
    at the eave, at the peak its outline's zero."""
    rake = next((edge for edge in meeting.edges if edge.kind == "rake"), None)
    if rake is None:
        return None
    x, y = into(derived.roof, rake, rake.facets[0])
    out = np.array([-x, -y, 0.0])
    turn, at = np.column_stack((np.cross(_PLUMB, out), _PLUMB, out)), np.array(meeting.at)
    if form.outline is not None:
        return Frame(turn, at) if meeting.kinds.count("rake") == 2 else None
    foot = at - _PLUMB * form.height
    return Frame(turn, foot if form.hand == "right" else foot - turn[:, 0] * form.width)


def _gutter(derived: Derived, meeting: Meeting, form: GutterCorner) -> Frame:
    """A gutter's corner: along both eaves, its back's upper edge at their line."""
    eaves = [edge for edge in meeting.edges if edge.kind == "eave"]
    inward = np.array([into(derived.roof, edge, edge.facets[0]) for edge in eaves]).sum(axis=0)
    x, y = -inward / np.linalg.norm(inward)
    return Frame(np.array([[y, x, 0.0], [-x, y, 0.0], [0.0, 0.0, 1.0]]), np.array(meeting.at) - _PLUMB * form.back)


def _tray(derived: Derived, meeting: Meeting, form: Tray) -> Frame | None:
    """A tray on the flats below the wall across the slope, its turn-up at that wall, one leg where the wall begins."""
    head, side = (next(edge for edge in meeting.edges if edge.kind == kind) for kind in ("headwall", "sidewall"))
    face = next((name for name in head.facets if name in side.facets), None)
    if face is None:
        return None
    slope, at = slope_axes(derived.roof.facet(face)), np.array(meeting.at)
    along = (np.array(head.a) + head.b) / 2 - at
    half = slope[:, 0] * np.sign(float(along @ slope[:, 0])) * form.width / 2
    return Frame(slope, at + half + slope[:, 2] * built_up(derived, face).flat)


def _end_cap(derived: Derived, opening: DerivedOpening) -> Frame | None:
    """A cap on the end of the run that it closes: its bottom where that run ends, in the section's plane, paint away
    from it. ``None`` of a piece that closes no run on the roof."""
    form, closes = opening.form, str(derived.job.opening_note(opening.id).values.get("closes", ""))
    run, found = next((one for one in derived.runs if one.run.id == closes), None), derived.edge_runs.get(closes)
    if not isinstance(form, EndCap) or run is None or found is None or not run.pieces:
        return None
    left, right, axes = run_frame(derived.roof, found.edge)
    trim, first = trim_of(derived, run), 1 if run.pieces[0].profile.hem_a else 0
    by = mould_lines(trim, run.pieces[0])[first] - np.array(form.section[0]) + lift_of(derived, run)
    out = axes[0] * (-1.0 if form.hand == "left" else 1.0)
    return Frame(np.column_stack((np.cross(axes[2], out), axes[2], out)),
                 (left if form.hand == "left" else right) + by @ axes[1:])
