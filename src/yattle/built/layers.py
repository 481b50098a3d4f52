"""Where the strips beneath and above a trim lie: zeds between seams, twins, strips on the deck, counterflashings."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from yattle.built.frames import built_up
from yattle.built.sections import Seat
from yattle.derive.corners import beside_edge, run_frame
from yattle.derive.derived import Derived
from yattle.derive.gaps import clear_gaps, slant_of
from yattle.derive.layers import closure_strip
from yattle.derive.lift import lift_of, mould_lines, trim_of
from yattle.derive.on_roof import legs_on
from yattle.derive.roof_runs import RoofRun, base_id
from yattle.derive.run import DerivedRun
from yattle.derive.zeds import strip_behind, wing_end
from yattle.details import DetailPiece
from yattle.details.trim import Trim
from yattle.pattern.surface import Array

_SAME_GAP = 0.06  # mm: gaps are told to 0.1
_HEIGHT, _FOOT = 1, 2  # the folds of a zed: over its height, at its foot


def layer_seats(derived: Derived, run: DerivedRun, piece: DetailPiece) -> list[tuple[Seat, float]] | None:
    """Where each copy of a layer's piece runs, and how far along that it begins, mm; ``None`` where its place is not
    worked out."""
    return derived.once(("layer seats", run.run.id, piece.id), lambda: _layer_seats(derived, run, piece))


def _layer_seats(derived: Derived, run: DerivedRun, piece: DetailPiece) -> list[tuple[Seat, float]] | None:
    found = derived.edge_runs.get(base_id(run.run.id))
    if found is None:
        return None
    detail = trim_of(derived, run)
    if run.run.layer == "closure":
        return list(_in_gaps(derived, run, found, detail, piece))
    seat = _seat(derived, run, found, detail)
    return None if seat is None else [(seat, piece.start)] * piece.pattern.qty


def _seat(derived: Derived, run: DerivedRun, found: RoofRun, detail: Trim) -> Seat | None:
    """Where a strip that goes along the whole edge runs."""
    edge, own = found.edge, mould_lines(detail, run.pieces[0])
    left, right, frame = run_frame(derived.roof, edge)
    if run.run.layer == "twin":
        return Seat(np.array([-frame[0], -frame[1], frame[2]]), right,
                    own + np.array([-1.0, 1.0]) * lift_of(derived, run))
    if run.run.layer == "counterflashing":
        top = _top_of_upstand(derived, found)
        set_in = -run.run.reaches[0] if run.run.left_plane is None else 0.0  # of one that begins far along its wall
        at = left + frame[0] * set_in
        return None if top is None else Seat(frame, at, own - own[_HEIGHT] + np.array([0.0, top]))
    if run.run.layer == "eave-cleat":
        lean = np.radians(derived.roof.facet(edge.facets[0]).plane.pitch)
        beyond = max(getattr(detail, "overhang", 0.0) - getattr(detail, "set_back", 0.0), 0.0)
        return Seat(frame, left, own - own[1] + beyond * np.array([np.cos(lean), -np.sin(lean)]))
    if run.run.layer == "vent-strip":
        at = left - frame[0] * (run.run.reaches[0] if run.run.left_plane is None else 0.0)
        board = np.array([-run.standard.board, -run.standard.fascia_face])
        return Seat(frame, at, own - own[1] + board)
    if run.run.layer == "zed":
        return _on_face(derived, run, found, own)
    if run.run.layer == "cleat" and edge.kind == "rake":
        corners = _under_a_kick(derived, found, own)
        at = right + frame[0] * run.run.reaches[2]  # it is short there where what cuts the rake leans in
        return None if corners is None else Seat(np.array([-frame[0], *frame[1:]]), at, corners)
    if run.run.layer == "cleat" and edge.kind == "eave":
        corners = _behind_an_apron(derived, found, own)
        at = right + frame[0] * run.run.reaches[2]
        return None if corners is None else Seat(np.array([-frame[0], *frame[1:]]), at, corners)
    return None


def _behind_an_apron(derived: Derived, found: RoofRun, own: Array) -> Array | None:
    """A strip's mould lines behind an eave apron's face: down the fascia, its edge in the hem at the apron's foot."""
    beneath = derived.run(found.run.id)
    if not beneath.pieces or beneath.family is None:
        return None
    trim = mould_lines(trim_of(derived, beneath), beneath.pieces[0]) + lift_of(derived, beneath)
    foot = trim[-2 if beneath.pieces[0].profile.hem_b else -1]
    down = np.column_stack((-own[:, 1], -own[:, 0]))  # drawn level, it hangs down
    corners: Array = down - down[1] + foot
    return corners


def _under_a_kick(derived: Derived, found: RoofRun, own: Array) -> Array | None:
    """A cleat's mould lines behind a rake's face: its base down the board, its lip along the kick.
    It is seen from behind: so its lip turns outward."""
    beneath = derived.run(found.run.id)
    if not beneath.pieces or beneath.family is None:
        return None
    profile = beneath.pieces[0].profile
    trim = mould_lines(trim_of(derived, beneath), beneath.pieces[0]) + lift_of(derived, beneath)
    foot = trim[-3 if profile.hem_b else -2]
    down = np.column_stack((-own[:, 1], -own[:, 0]))  # the base, drawn level, hangs down
    corners: Array = down - down[1] + foot
    return corners


def _top_of_upstand(derived: Derived, found: RoofRun) -> float | None:
    """How high over the edge the trim beneath goes up the wall, mm."""
    beneath = derived.run(found.run.id)
    if not beneath.pieces or beneath.family is None:
        return None
    own = mould_lines(trim_of(derived, beneath), beneath.pieces[0])
    return float((own + lift_of(derived, beneath))[:, 1].max())


# -- on a face ------------------------------------------------------------------------------------------


def _height_line(derived: Derived, run: DerivedRun, found: RoofRun, face: str) -> float | None:
    """How far from the edge a zed's height stands in the face's own plane: behind the edge of the leg that covers it,
    mm."""
    over = derived.run(found.run.id)
    if over.detail.profile is None:
        return None
    legs = legs_on(derived.roof, found, over.detail.roles, len(over.detail.profile.legs))
    wide = next((over.detail.profile.legs[leg] for leg, on in legs if on == face), None)
    if wide is None:
        return None
    out, up = lift_of(derived, over).tolist()
    end = wing_end(derived.roof, found.edge, face, wide, (out, up))
    return strip_behind(end, run.standard, run.run.layer == "zed").height


def _zed(derived: Derived, face: str, own: Array, away: float) -> Array:
    """A zed's mould lines on a face: its foot on the flats, its height ``away`` mm from the edge."""
    corners: Array = own - own[_FOOT] + np.array([away, built_up(derived, face).flat])
    return corners


def _on_face(derived: Derived, run: DerivedRun, found: RoofRun, own: Array) -> Seat | None:
    face = found.edge.facets[0]
    away = _height_line(derived, run, found, face)
    if away is None:
        return None
    frame, at = beside_edge(derived.roof, found.edge, face)
    return Seat(frame, at, _zed(derived, face, own, away))


def _in_gaps(derived: Derived, run: DerivedRun, found: RoofRun, detail: Trim,
             piece: DetailPiece) -> Iterator[tuple[Seat, float]]:
    """One place for each gap between seams that a closure is cut for, in the order of the gaps."""
    face, edge = run.run.on_face, found.edge
    away = _height_line(derived, run, found, face)
    if away is None:
        return
    frame, at = beside_edge(derived.roof, edge, face)
    clearance = getattr(detail, "clearance", 0.0)
    corners = _zed(derived, face, mould_lines(detail, piece), away)
    seat = Seat(frame, at, corners)
    forward = float((np.array(edge.b) - np.array(edge.a)) @ frame[0]) > 0
    slant = slant_of(derived.roof, frame, face) * float(corners[detail.sheet().datum][0])
    rule, beneath = derived.job.panel_rule(face), derived.run(found.run.id)
    under = closure_strip(derived.job, found, beneath.family.name if beneath.family is not None else "")
    for start, wide in clear_gaps(derived.roof, edge, face, rule, under):
        if abs(round(wide, 1) - clearance - piece.share) < _SAME_GAP:
            begin = start if forward else edge.length - start - wide
            yield seat, begin + clearance / 2 + slant
