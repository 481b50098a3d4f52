"""Who should lie on what, over whom, in whose lock and up to where: asked of the roof, the runs and the laps."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from yattle.built.bears import Ground
from yattle.built.cover import CLOSED, HIDDEN, WantedLap
from yattle.built.ends import WantedEnd
from yattle.built.frames import built_up, face_axes
from yattle.built.laid import laid_panels
from yattle.built.layers import layer_seats
from yattle.built.placed import PlacedPiece
from yattle.built.seams import neighbours, pan_names
from yattle.built.sections import Seat
from yattle.derive.corners import Normal, beside_edge, run_frame
from yattle.derive.derived import Derived
from yattle.derive.end_cuts import EndCuts, LaidOver, end_cuts
from yattle.derive.lift import lift_of, over_of, trim_of
from yattle.derive.roof_runs import base_id
from yattle.derive.run import DerivedRun, lap_of
from yattle.derive.zeds import behind
from yattle.details import DetailPiece
from yattle.details.trim import Trim
from yattle.pattern.surface import Array
from yattle.roof.at_edge import sides
from yattle.roof.panel_edges import sides_of
from yattle.roof.panels import Panel

_HOOKED = 150.0  # mm of a pan's foot: narrower ones lie in corners, where strips are mitred

@dataclass(frozen=True)
class Relations:
    """Which pieces should lie on which grounds, on each other, in each other's locks, on which cleats, where their runs
    end, which strips under which trim (the run, its strips, its pieces, and how far in plan its edge goes beyond
    them), which outline each pan's floor fills, and which there must be at all, each with where it would be, mm; by
    their names."""

    seats: tuple[tuple[str, tuple[Ground, ...]], ...]
    laps: tuple[WantedLap, ...]
    locks: tuple[tuple[str, str, Array, Array], ...]
    grips: tuple[tuple[str, tuple[str, ...]], ...]
    ends: tuple[WantedEnd, ...]
    hidden: tuple[tuple[str, tuple[str, ...], tuple[str, ...], Array], ...]
    outlines: tuple[tuple[str, Array], ...]
    all: tuple[tuple[str, tuple[float, float, float]], ...]

    @staticmethod
    def of(derived: Derived, placed: list[PlacedPiece], touching: frozenset[str] | None) -> Relations:
        """All of a job, or what pieces of these patterns are part of."""
        def asked(*names: str) -> bool:
            return touching is None or not touching.isdisjoint(name.partition("/")[0] for name in names)
        have = _names_of(derived, placed)
        seats = (seat for seat in (*_seats(derived, have), *_floors(derived)) if asked(seat[0]))
        return Relations(tuple(seats), tuple(lap for lap in _laps(derived) if asked(lap.over, lap.under)),
                         tuple(lock for lock in neighbours(derived) if asked(lock[0], lock[1])),
                         tuple(grip for grip in _grips(derived) if asked(grip[0], *grip[1])),
                         tuple(end for end in (
                             *trim_ends(derived, only=touching), *_strip_ends(derived, touching),
                             *_cleat_ends(derived, touching), *_floor_ends(derived)) if asked(end.piece)),
                         tuple(one for one in _under_trims(derived, have) if asked(*one[1], *one[2])),
                         tuple(_outlines(derived, asked)),
                         tuple((name, at) for name, at in have.items() if asked(name)))

    @property
    def names(self) -> set[str]:
        """All that are asked for."""
        return {name for name, _ in (*self.seats, *self.all)} | {
            name for lap in self.laps for name in (lap.over, lap.under)} | {
            name for a, b, *_ in self.locks for name in (a, b)} | {end.piece for end in self.ends} | {
            name for trim, cleats in self.grips for name in (trim, *cleats)}


def _names_of(derived: Derived, placed: list[PlacedPiece]) -> dict[str, tuple[float, float, float]]:
    """Every piece that has a place, and where its frame begins."""
    many = {pattern.id: pattern.qty for pattern in derived.patterns}
    found = {}
    for one in placed:
        x, y, z = one.place[:, 3].tolist()
        found[one.pattern if many.get(one.pattern, 1) == 1 else f"{one.pattern}/{one.copy}"] = x, y, z
    return found


def _trims(derived: Derived) -> Iterator[DerivedRun]:
    """What lies at the roof's edges, with what is beneath and above it."""
    edges = derived.edge_runs
    return (run for run in derived.runs if run.pieces and base_id(run.run.id) in edges)


def _copies(run: DerivedRun, have: dict[str, tuple[float, float, float]]) -> Iterator[str]:
    for piece in run.pieces:
        names = (piece.id, *(f"{piece.id}/{n}" for n in range(1, piece.pattern.qty + 1)))
        yield from (name for name in names if name in have)


def _seats(derived: Derived, have: dict[str, tuple[float, float, float]]) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """Which faces the pieces of each trim, and the strips that go with it, should lie on."""
    for run in _trims(derived):
        edge = derived.edge_runs[base_id(run.run.id)].edge
        if run.run.layer:
            grounds = _under_a_strip(derived, run)
        elif run.run.collects or (edge.kind == "pitch-break" and not lift_of(derived, run).any()):
            grounds = ()
        elif edge.kind == "pitch-break":
            upper, lower = sides(derived.roof, edge)
            grounds = (_on(derived, upper, upper, 0.0),
                       _on(derived, lower, lower, built_up(derived, lower).flat + over_of(derived, run)))
        else:
            grounds = tuple(_ground(derived, face, over_of(derived, run)) for face in edge.facets)
        if grounds:
            yield from ((name, grounds) for name in _copies(run, have))


def _under_a_strip(derived: Derived, run: DerivedRun) -> tuple[Ground, ...]:
    """What a strip touches: a zed the flats with its foot and its trim with its top, a counterflashing the wall, an
    eave's cleat the deck."""
    base = derived.edge_runs[base_id(run.run.id)]
    face, layer = run.run.on_face or base.edge.facets[0], run.run.layer
    if layer in ("closure", "zed"):
        high = built_up(derived, face)
        tall = getattr(trim_of(derived, run), "height", 0.0)
        said = derived.job.own.closure_height is not None or run.run.own.closure_height is not None
        top = high.flat + (tall if said else over_of(derived, derived.run(base.run.id)) or tall)
        return _on(derived, face, face, high.flat), _on(derived, face, base.run.id, top)
    if layer == "eave-cleat":
        return (_on(derived, face, face, 0.0),)
    if layer == "counterflashing":
        left, _, (_, out, _) = run_frame(derived.roof, base.edge)
        return (Ground(f"wall of {base.run.id}", left, out, (0.0,)),)
    return ()


def _on(derived: Derived, face: str, name: str, height: float) -> Ground:
    plane = derived.roof.facet(face).plane
    return Ground(name, np.array(plane.at((0.0, 0.0))), np.array(plane.normal), (height,))


def _ground(derived: Derived, face: str, over: float) -> Ground:
    plane, high = derived.roof.facet(face).plane, built_up(derived, face)
    return Ground(face, np.array(plane.at((0.0, 0.0))), np.array(plane.normal),
                  tuple(sorted({0.0, high.flat, high.flat + over, high.seams})))


def _floors(derived: Derived) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """Pans made in the shop lie with their floor on their face's flats."""
    for face, names in pan_names(derived):
        ground = _on(derived, face, face, built_up(derived, face).flat)
        yield from ((name, (ground,)) for name in names.values())


def _laps(derived: Derived) -> Iterator[WantedLap]:
    """Which pieces of each trim lie over which, by the run's lap."""
    for run in _trims(derived):
        if run.family is None or run.run.gaps:
            continue
        want, least = lap_of(run.run, run.family, run.standard), HIDDEN if run.run.layer else CLOSED
        for left, right in pairwise(run.pieces):
            if left.ends[1].kind == "under":
                yield WantedLap(right.id, left.id, want, least)
            elif right.ends[0].kind == "under":
                yield WantedLap(left.id, right.id, want, least)


def _grips(derived: Derived) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Each piece of a rake with the pieces of its cleat, each pan with a hem with the strips at its eave."""
    yield from _hems(derived)
    for run in derived.runs:
        if run.run.layer == "cleat" and run.run.kind == "rake" and run.pieces:
            cleats = tuple(piece.id for piece in run.pieces)
            yield from ((piece.id, cleats) for piece in derived.run(base_id(run.run.id)).pieces)


def _hems(derived: Derived) -> Iterator[tuple[str, tuple[str, ...]]]:
    for face, names in pan_names(derived):
        strips = tuple(piece.id for run in derived.runs if run.run.layer == "eave-cleat" and
                       face in derived.edge_runs[base_id(run.run.id)].edge.facets for piece in run.pieces)
        laid = derived.panels[face]
        sides = sides_of(derived.roof, laid)
        for panel in laid.panels if strips and laid.rule.hem else ():
            if panel.n in names and panel.width > _HOOKED and _on_its_eave(
                    panel, sides[panel.n], min(y for _, y in panel.outline)):
                yield names[panel.n], strips


def _under_trims(derived: Derived, have: dict[str, tuple[float, float, float]]) -> Iterator[
        tuple[str, tuple[str, ...], tuple[str, ...], Array]]:
    """The zeds under each trim."""
    for run in _trims(derived):
        if run.run.layer in ("closure", "zed"):
            base = base_id(run.run.id)
            edge = derived.edge_runs[base].edge
            (_, into, _), _ = beside_edge(derived.roof, edge, run.run.on_face or edge.facets[0])
            far = behind(run.standard, run.run.layer == "zed")
            yield base, tuple(_copies(run, have)), tuple(_copies(derived.run(base), have)), into[:2] * far


def _outlines(derived: Derived, asked: Callable[[str], bool]) -> Iterator[tuple[str, Array]]:
    """The outline that each pan's floor should fill."""
    for face, names in pan_names(derived):
        if any(map(asked, names.values())):
            yield from ((names[panel.n], panel.ring) for panel in laid_panels(derived, frozenset((face,)))
                        if panel.n in names and asked(names[panel.n]))


def _cleat_ends(derived: Derived, only: frozenset[str] | None) -> Iterator[WantedEnd]:
    """A rake's cleat begins and ends square where what cuts the rake leaves it room."""
    for run in derived.runs:
        if run.run.layer == "cleat" and run.run.kind == "rake" and run.pieces and _has(run, only):
            for seat, _ in layer_seats(derived, run, run.pieces[0]) or []:
                for piece, along, sign in ((run.pieces[0], 0.0, -1.0), (run.pieces[-1], run.run.length, 1.0)):
                    name = piece.id if piece.pattern.qty == 1 else f"{piece.id}/{1 if sign < 0 else piece.pattern.qty}"
                    way = sign * seat.axes[0]
                    past = run.run.past if float(way[2]) < 0.0 else 0.0  # its low end goes on with the panels
                    yield WantedEnd(name, f"the end of {run.run.id}", ((seat.at + seat.axes[0] * along, way, past),))


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
    return WantedEnd(piece.id, name, tuple(planes))


def _has(run: DerivedRun, only: frozenset[str] | None) -> bool:
    return only is None or not only.isdisjoint(piece.id for piece in run.pieces)


def _strip_ends(derived: Derived, only: frozenset[str] | None) -> Iterator[WantedEnd]:
    """Zeds end beside the seams, half of their clearance off either."""
    for run in derived.runs:
        if run.run.layer == "closure" and _has(run, only):
            for piece in run.pieces:
                seats = layer_seats(derived, run, piece) or []
                for n, (seat, begin) in enumerate(seats, 1):
                    name = piece.id if piece.pattern.qty == 1 else f"{piece.id}/{n}"
                    square = np.array(run.run.left_plane or (1.0, 0.0, 0.0)) @ seat.axes
                    square = square if float(square @ seat.axes[0]) > 0 else -square
                    for sign, along in ((-1.0, begin), (1.0, begin + piece.share)):
                        yield WantedEnd(name, f"the gap of {run.run.id}",
                                        ((_datum(derived, run, seat, along), sign * square, 0.0),))


def _datum(derived: Derived, run: DerivedRun, seat: Seat, along: float) -> Array:
    """Where a section's datum is, so far along its seat."""
    sheet = trim_of(derived, run).sheet()
    out, up = seat.corners[sheet.datum]
    return np.asarray(seat.at + seat.axes[0] * along + seat.axes[1] * out + seat.axes[2] * up)


def _floor_ends(derived: Derived) -> Iterator[WantedEnd]:
    """Pans reach as far over their eave as panels do, and at an upper edge that is no crease to it."""
    for face, names in pan_names(derived):
        axes, laid = face_axes(derived, derived.roof.facet(face)), derived.panels[face]
        sides = sides_of(derived.roof, laid)
        for panel in laid.panels:
            ups = [y for _, y in panel.outline]
            if panel.n in names and _on_its_eave(panel, sides[panel.n], min(ups)):
                foot = axes.at + axes.turn[:, 1] * (min(ups) - laid.rule.overhang)
                yield WantedEnd(names[panel.n], f"the eave of {face}", ((foot, -axes.turn[:, 1], 0.0),))


def _on_its_eave(panel: Panel, sides: tuple[str, ...], low: float) -> bool:
    """Whether a panel's whole foot is an eave along the lowest line of it."""
    ring = panel.outline
    feet = [abs(ring[(n + 1) % len(ring)][0] - a[0]) for n, a in enumerate(ring) if sides[n] == "eave"
            and max(a[1], ring[(n + 1) % len(ring)][1]) - low < 0.5]
    return sum(feet) > panel.width - 1.0
