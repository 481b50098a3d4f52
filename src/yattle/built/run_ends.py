"""Where the runs, strips, cleats and pans of a roof should end."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from yattle.built.ends import WantedEnd
from yattle.built.frames import built_up, face_axes
from yattle.built.layers import layer_seats
from yattle.built.placed import name_of
from yattle.built.seams import hems_of, pan_names
from yattle.built.sections import Seat
from yattle.derive.corners import Normal, run_frame
from yattle.derive.derived import Derived
from yattle.derive.end_cuts import EndCuts, LaidOver, end_cuts
from yattle.derive.lift import lift_of, trim_of
from yattle.derive.run import DerivedRun
from yattle.details import DetailPiece
from yattle.details.trim import Trim
from yattle.pattern.surface import Array
from yattle.roof.panel_edges import sides_of
from yattle.roof.panels import Panel

_ONE_PLACE = 30.0  # mm along a valley, within which two eaves cut it at their corner


def trim_ends(derived: Derived, taped: bool = False, only: frozenset[str] | None = None) -> Iterator[WantedEnd]:
    """Where the trim of every edge ends, mm: at the planes that the roof says, or square at its corner, with what is
    carried on there to be dressed. ``taped``: also of runs as long as the tape said, which need not end there;
    ``only``: of runs with one of these patterns."""
    laid = {facet.id: _laid_over(derived, facet.id) for facet in derived.roof.facets}
    for run in derived.runs:
        found = derived.edge_runs.get(run.run.id)
        if found is not None and run.pieces and (taped or run.run.taped is None) and _has(run, only):
            left, right, frame = run_frame(derived.roof, found.edge)
            cuts, trim = end_cuts(derived.roof, found.edge, laid), trim_of(derived, run)
            by = frame[1:].T @ lift_of(derived, run)
            yield _end(run, trim, (-frame[0], left, frame, by), cuts, (cuts.left, cuts.reaches[:2]), run.pieces[0])
            yield _end(run, trim, (frame[0], right, frame, by), cuts, (cuts.right, cuts.reaches[2:]), run.pieces[-1])


def _laid_over(derived: Derived, face: str) -> LaidOver:
    rule = derived.job.panel_rule(face)
    flat = built_up(derived, face).flat if derived.job.panel_system(face) is not None else 0.0
    return LaidOver(rule.overhang, flat + rule.height)


def _end(run: DerivedRun, trim: Trim, side: tuple[Array, Array, Array, Array], cuts: EndCuts,
         cut: tuple[tuple[Normal | None, Normal | None], tuple[float, ...]], piece: DetailPiece) -> WantedEnd:
    """One end: ``side`` the way out of it along the run, its corner, mm, the run's frame, and how far its section lies
    off its line, mm."""
    (out, at, frame, by), ((normal, other), reach) = side, cut
    low = run.run.low is not None and (run.run.low == "left") == (float(out @ frame[0]) < 0)
    name = f"the end of {run.run.id}"
    if normal is None and low and piece.flat is not None:  # a foot cut plumb, with flaps in that plane
        plumb = np.array([out[0], out[1], 0.0]) / np.hypot(out[0], out[1])
        return WantedEnd(piece.id, name, ((at + by + out * cuts.past, plumb, 0.0),))
    if normal is None:
        return WantedEnd(piece.id, name, ((at + out * (cuts.past if low else 0.0), out, 0.0),))
    carried = 0.0 if run.run.low is None else float(getattr(trim, "under" if low else "carry", 0.0))
    planes: list[tuple[Array, Array, float]] = []
    for own, far in zip((normal, other or normal), reach, strict=True):
        square = np.array(own) @ frame
        square = square if float(square @ out) > 0 else -square
        if not planes or not np.allclose((at + out * far, square), planes[0][:2]):
            planes.append((at + out * far, square, carried * float(square @ out)))
    in_a_corner = len(planes) == 2 and abs(reach[0] - reach[1]) < _ONE_PLACE
    halves = (-frame[1], frame[1]) if in_a_corner else ()  # else a face goes on beneath it, past the other's eave
    end = "left" if float(out @ frame[0]) < 0 else "right"
    for corner in (one for one in cuts.corners if one.end == end):
        square = np.array(corner.plane) @ frame
        planes.append((at + out * corner.reach, square if float(square @ out) > 0 else -square, 0.0))
    return WantedEnd(piece.id, name, tuple(planes), halves)


def _has(run: DerivedRun, only: frozenset[str] | None) -> bool:
    return only is None or not only.isdisjoint(piece.id for piece in run.pieces)


def strip_ends(derived: Derived, only: frozenset[str] | None) -> Iterator[WantedEnd]:
    """Zeds end beside the seams, half of their clearance off either."""
    for run in derived.runs:
        if run.run.layer == "closure" and _has(run, only):
            for piece in run.pieces:
                seats = layer_seats(derived, run, piece) or []
                for seat, _ in seats[:1]:  # all run along the one line
                    datum, way = _datum(derived, run, seat, 0.0), seat.axes[0]
                    square = np.array(run.run.left_plane or (1.0, 0.0, 0.0)) @ seat.axes
                    square = square if float(square @ way) > 0 else -square
                for n, (_, begin) in enumerate(seats, 1):
                    for sign, along in ((-1.0, begin), (1.0, begin + piece.share)):
                        yield WantedEnd(name_of(piece.id, n, piece.pattern.qty), f"the gap of {run.run.id}",
                                        ((datum + way * along, sign * square, 0.0),))


def _datum(derived: Derived, run: DerivedRun, seat: Seat, along: float) -> Array:
    """Where a section's datum is, so far along its seat."""
    sheet = trim_of(derived, run).sheet()
    out, up = seat.corners[sheet.datum]
    return np.asarray(seat.at + seat.axes[0] * along + seat.axes[1] * out + seat.axes[2] * up)


def layer_ends(derived: Derived, only: frozenset[str] | None) -> Iterator[WantedEnd]:
    """A counterflashing, a zed along a wall, a vent strip under an eave ends at the plane that cuts the trim it goes
    with; where none does it goes as far as its run, a low end on with the panels."""
    for run in derived.runs:
        if run.run.layer not in ("counterflashing", "zed", "vent-strip") or not run.pieces or not _has(run, only):
            continue
        for seat, begin in (layer_seats(derived, run, run.pieces[0]) or [])[:1]:
            for piece, along, sign, plane, reach in (
                    (run.pieces[0], 0.0, -1.0, run.run.left_plane, run.run.reaches[0]),
                    (run.pieces[-1], run.run.length, 1.0, run.run.right_plane, run.run.reaches[2])):
                way, name = sign * seat.axes[0], f"the end of {run.run.id}"
                if plane is None:
                    past = run.run.past if float(way[2]) < 0.0 else 0.0
                    yield WantedEnd(piece.id, name, ((seat.at + seat.axes[0] * (along - begin), way, past),))
                    continue
                square = np.array(plane) @ seat.axes
                square = square if float(square @ way) > 0 else -square
                cuts = [(_datum(derived, run, seat, along - begin + sign * reach), square, 0.0)]
                for corner in run.run.corner_cuts:
                    if (corner.end == "left") == (sign < 0.0):
                        square = np.array(corner.plane) @ seat.axes
                        cuts.append((_datum(derived, run, seat, along - begin + sign * corner.reach),
                                     square if float(square @ way) > 0 else -square, 0.0))
                yield WantedEnd(piece.id, name, tuple(cuts))


def cleat_ends(derived: Derived, only: frozenset[str] | None) -> Iterator[WantedEnd]:
    """The cleat of a rake or an eave's apron begins and ends square where what cuts these leaves it room."""
    for run in derived.runs:
        if run.run.layer == "cleat" and run.run.kind in ("rake", "eave") and run.pieces and _has(run, only):
            for seat, _ in layer_seats(derived, run, run.pieces[0]) or []:
                for piece, along, sign in ((run.pieces[0], 0.0, -1.0), (run.pieces[-1], run.run.length, 1.0)):
                    name = piece.id if piece.pattern.qty == 1 else f"{piece.id}/{1 if sign < 0 else piece.pattern.qty}"
                    way = sign * seat.axes[0]
                    past = run.run.past if float(way[2]) < 0.0 else 0.0  # its low end goes on with the panels
                    yield WantedEnd(name, f"the end of {run.run.id}", ((seat.at + seat.axes[0] * along, way, past),))


def floor_ends(derived: Derived) -> Iterator[WantedEnd]:
    """Pans reach as far over their eave as panels do, and at an upper edge that is no crease to it."""
    for face, names in pan_names(derived):
        axes, laid = face_axes(derived, derived.roof.facet(face)), derived.panels[face]
        hems = hems_of(derived, face)
        sides = sides_of(derived.roof, laid)
        for panel in (one for one in laid.panels if one.n in (hems if laid.rule.hem else names)):
            ups = [y for _, y in panel.outline]
            if panel.n in names and on_its_eave(panel, sides[panel.n], min(ups)):
                foot = axes.at + axes.turn[:, 1] * (min(ups) - laid.rule.overhang)
                yield WantedEnd(names[panel.n], f"the eave of {face}", ((foot, -axes.turn[:, 1], 0.0),))


def on_its_eave(panel: Panel, sides: tuple[str, ...], low: float) -> bool:
    """Whether a panel's whole foot is an eave along the lowest line of it, which lies ``low`` mm up its face."""
    ring = panel.outline
    feet = [abs(ring[(n + 1) % len(ring)][0] - a[0]) for n, a in enumerate(ring) if sides[n] == "eave"
            and max(a[1], ring[(n + 1) % len(ring)][1]) - low < 0.5]
    return sum(feet) > panel.width - 1.0
