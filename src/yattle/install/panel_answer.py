"""What ``yattle panels`` prints: each panel of each face, its length with its sum, its cuts and its blank."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.run import common_of
from yattle.derive.shingles import courses_laid, shingles_of
from yattle.details import standard_for
from yattle.details.face_pans import FacePans, FaceShingles
from yattle.details.forms import Form
from yattle.errors import InputError
from yattle.install.movement import Movement
from yattle.install.panel_movement import PanelMovement, movements
from yattle.install.stacked import drill_stacks
from yattle.panels import PanelSystem, derive_profile
from yattle.panels.profile import blank_width
from yattle.roof.courses import ShingleCourse
from yattle.roof.panels import Panel, PanelPlan, face_frame
from yattle.section import MetalSpec

Answer = dict[str, Any]


def panels_answer(derived: Derived) -> Answer:
    """Every face with its system and its panels. Lengths in mm, places in the roof's coordinates."""
    faces = [_face(derived, facet.id) for facet in derived.roof.facets]
    return {"format": "yattle-panels-laid/1", "ok": bool(faces),
            "reasons": [] if faces else ["the job has no roof"], "faces": faces}


def _face(derived: Derived, face: str) -> Answer:
    rule, system = derived.job.panel_rule(face), derived.job.panel_system(face)
    laid = derived.panels[face]
    return {"face": face, "system": system.name if system else None, "coverage": rule.coverage,
            "clear_width": derive_profile(system).clear if system else rule.coverage - rule.seam,
            "start": laid.start, "seams": list(laid.seams),
            "stacks": [asdict(stack) for stack in drill_stacks(derived, face)],
            "courses": [asdict(course) for course in courses_on(derived, face)],
            "shingle": shingle_pattern(derived, face),
            "panels": [_panel(derived, laid, moved.panel, system, common_of(derived.job).metal) | _moves(moved)
                       for moved in movements(derived, face)]}


def courses_on(derived: Derived, face: str) -> tuple[ShingleCourse, ...]:
    """The courses of a face laid with shingles; none of other systems."""
    standard = standard_for(derived.job.system, derived.job.own)
    return courses_laid(derived.job, derived.roof, derived.panels[face], standard)


def _moves(moved: PanelMovement) -> Answer:
    """Where a panel is fixed and what it does at its free end and at its pipes, mm longer and shorter than as laid."""
    def said(movement: Movement) -> Answer:
        return {"longer": movement.longer, "shorter": movement.shorter}
    return {"fixed_at": moved.fixed, "moves": said(moved.movement),
            "at_pipes": [{"opening": at.pipe, "from_fixed": at.far, **said(at.movement)} for at in moved.pipes]}


def _panel(derived: Derived, laid: PanelPlan, panel: Panel, system: PanelSystem | None, metal: MetalSpec) -> Answer:
    ups = [up for _, up in panel.outline]
    return {"n": panel.n, "left": panel.left, "right": panel.right, "width": panel.width,
            "ripped": _ripped(laid, panel), "outline": _in_space(derived, laid.facet, panel),
            "length": panel.length, "sum": [{"what": what, "mm": mm} for what, mm in panel.terms],
            "low": min(ups), "high": max(ups),
            "cuts": [{"edge": cut.edge, "off_square": cut.angle} for cut in panel.cuts],
            "blank": _blank(system, panel, metal), "piece": _piece(derived, laid.facet, panel)}


def _made(derived: Derived, face: str) -> Form | None:
    """What a face's pans or shingles made in the shop are worked out from."""
    return next((one.form for one in derived.openings if one.id == f"{PANS} {face}" and one.result is not None), None)


def shingle_pattern(derived: Derived, face: str) -> str | None:
    """The pattern that a face's shingles are cut to, where they are made in the shop."""
    return f"{face}-1" if isinstance(_made(derived, face), FaceShingles) else None


def _piece(derived: Derived, face: str, panel: Panel) -> str | None:
    """The pattern that a pan made in the shop is cut to."""
    made = _made(derived, face)
    return made.pattern_of(panel.n) if isinstance(made, FacePans) else None


def _ripped(laid: PanelPlan, panel: Panel) -> str | None:
    """Which side is cut off a panel that is narrower than it covers: that away from where laying began."""
    if panel.width > laid.rule.coverage - 0.5:
        return None
    if panel.left <= 0.5:
        return "left"
    return "right" if not laid.seams or panel.right > laid.seams[-1] + 0.5 else "both"


def _in_space(derived: Derived, face: str, panel: Panel) -> list[list[float]]:
    """The outline on the roof's plane."""
    facet = derived.roof.facet(face)
    a, b, c, d, e, f = face_frame(facet).matrix
    size = a * d - b * c
    found = []
    for s, t in panel.outline:
        x, y = (d * (s - e) - b * (t - f)) / size, (a * (t - f) - c * (s - e)) / size
        found.append([x, y, facet.plane.z((x, y))])
    return found


def _blank(system: PanelSystem | None, panel: Panel, metal: MetalSpec) -> Answer | None:
    """The blank of a panel made in the shop; ``None`` of one that is bought, of shingles, and where only a coverage is
    known."""
    if system is None or system.made != "shop" or shingles_of(system) is not None:
        return None
    try:
        girth = blank_width(system, metal)
    except InputError as wrong:
        return {"reasons": [str(wrong)]}
    return {"girth": girth - (system.pitch_of_seams - panel.width), "length": panel.length}
