"""Who should lie on what, over whom, in whose lock and up to where: asked of the roof, the runs and the laps."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
import shapely

from yattle import overlay
from yattle.built.bears import Ground
from yattle.built.cover import CLOSED, HIDDEN, WantedLap
from yattle.built.ends import WantedEnd
from yattle.built.flanges import caps_of_corners, flanges
from yattle.built.frames import built_up
from yattle.built.laid import laid_panels
from yattle.built.placed import PlacedPiece, name_of
from yattle.built.run_ends import cleat_ends, floor_ends, layer_ends, strip_ends, trim_ends
from yattle.built.seams import hems_of, neighbours, pan_names
from yattle.derive.corners import beside_edge, run_frame
from yattle.derive.derived import Derived
from yattle.derive.hems import FIRMLY_HEMMED
from yattle.derive.lift import lift_of, over_of, trim_of
from yattle.derive.meetings import meetings
from yattle.derive.roof_runs import base_id
from yattle.derive.run import DerivedRun, lap_of
from yattle.derive.zeds import behind
from yattle.details.closed import RidgeJoint
from yattle.pattern.rings import area_vector
from yattle.pattern.surface import Array
from yattle.roof import Edge
from yattle.roof.at_edge import sides
from yattle.roof.panel_edges import sides_of
from yattle.roof.panels import Panel, face_frame

_HELD = 60.0  # mm of a cleat that hold a rake
_ONE_PLACE = 1.0  # mm
_SCRAP = 20_000.0  # mm²: smaller pans lie in corners, where they are cut and dressed to what is there


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
        mine = {name: at for name, at in have.items() if asked(name)}
        seats = (*_seats(derived, mine), *(floor for floor in _floors(derived) if asked(floor[0])),
                 *flanges(derived, mine), *caps_of_corners(derived, mine))
        return Relations(seats, tuple(lap for lap in _laps(derived) if asked(lap.over, lap.under)),
                         tuple(lock for lock in neighbours(derived) if asked(lock[0], lock[1])),
                         tuple(grip for grip in _grips(derived) if asked(grip[0], *grip[1])),
                         tuple(end for end in (
                             *trim_ends(derived, only=touching), *strip_ends(derived, touching),
                             *cleat_ends(derived, touching), *layer_ends(derived, touching),
                             *floor_ends(derived)) if asked(end.piece)),
                         tuple(one for one in _under_trims(derived, have) if asked(*one[1], *one[2])),
                         tuple(_outlines(derived, asked)),
                         tuple(mine.items()))

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
        found[name_of(one.pattern, one.copy, many.get(one.pattern, 1))] = x, y, z
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
        edge, names = derived.edge_runs[base_id(run.run.id)].edge, tuple(_copies(run, have))
        if not names:
            continue
        if run.run.layer:
            grounds = _under_a_strip(derived, run)
        elif run.run.collects or (edge.kind == "pitch-break" and not lift_of(derived, run).any()):
            grounds = ()
        elif edge.kind == "pitch-break":
            upper, lower = sides(derived.roof, edge)
            grounds = (_on(derived, upper, upper, 0.0),
                       _on(derived, lower, lower, built_up(derived, lower).flat + over_of(derived, run)))
        else:
            on = edge.facets if run.detail.roles.wall is None or run.detail.roles.water else ()
            grounds = (*(_ground(derived, face, over_of(derived, run)) for face in on), *_behind(derived, run))
        if grounds:
            yield from ((name, grounds) for name in names)


def _behind(derived: Derived, run: DerivedRun) -> Iterator[Ground]:
    """The wall that a trim stands up against."""
    edge = derived.edge_runs[run.run.id].edge
    if edge.wall and run.detail.roles.wall is not None:
        left, _, (_, out, _) = run_frame(derived.roof, edge)
        yield Ground(f"wall of {run.run.id}", left, out, (0.0,))


def _under_a_strip(derived: Derived, run: DerivedRun) -> tuple[Ground, ...]:
    """What a strip touches: a zed the flats with its foot and its trim with its top, a counterflashing the wall, an
    eave's cleat the deck, a vent strip the back of the board and the soffit's first one."""
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
    if layer in ("counterflashing", "cleat"):
        left, _, (_, out, _) = run_frame(derived.roof, base.edge)
        what = "wall" if layer == "counterflashing" else "board"
        return (Ground(f"{what} of {base.run.id}", left, out, (0.0,)),)
    if layer == "vent-strip":
        left, _, (_, out, _) = run_frame(derived.roof, base.edge)
        low, board, wide = left[2] - run.standard.fascia_face, run.standard.board, run.standard.vent_face
        return (Ground(f"back of the board of {base.run.id}", left - out * board, out, (0.0,), above=low),
                Ground(f"soffit of {base.run.id}", left - out * (board + wide), out, (0.0,), above=low))
    return ()


def _on(derived: Derived, face: str, name: str, height: float) -> Ground:
    facet = derived.roof.facet(face)
    return Ground(name, np.array(facet.plane.at((0.0, 0.0))), np.array(facet.plane.normal), (height,), facet.shape)


def _ground(derived: Derived, face: str, over: float) -> Ground:
    facet, high = derived.roof.facet(face), built_up(derived, face)
    return Ground(face, np.array(facet.plane.at((0.0, 0.0))), np.array(facet.plane.normal),
                  tuple(sorted({0.0, high.flat, high.flat + over, high.seams})), facet.shape)


def _floors(derived: Derived) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """Pans made in the shop lie with their floor on their face's flats."""
    for face, names in pan_names(derived):
        ground = replace(_on(derived, face, face, built_up(derived, face).flat), shape=None)  # their outline is asked
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
    """Each piece of a rake or an eave's apron with the pieces of its cleat, each pan with a hem with the strips at its
    eave."""
    yield from _hems(derived)
    for run in derived.runs:
        if run.run.layer == "cleat" and run.run.kind in ("rake", "eave") and run.pieces:
            cleats, low = tuple(piece.id for piece in run.pieces), -run.run.reaches[0]
            high = low + run.run.length  # where the rake is tapered over another roof no cleat finds room
            yield from ((piece.id, cleats) for piece in derived.run(base_id(run.run.id)).pieces
                        if min(high, piece.start + piece.share) - max(low, piece.start) > _HELD)


def _hems(derived: Derived) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Each pan that ends at an eave, with its whole foot or with a long hem, with the strips there."""
    for face, names in pan_names(derived):
        laid = derived.panels[face]
        eaves = list(_hooked(derived, face)) if laid.rule.hem else []
        sides, hems = sides_of(derived.roof, laid), hems_of(derived, face)
        for panel in (one for one in laid.panels if eaves and one.n in hems and one.n in names):
            least = FIRMLY_HEMMED if hems[panel.n] > FIRMLY_HEMMED else panel.width - 1.0
            for line, strips in eaves:
                if _asked(panel) and _along(panel, sides[panel.n], line) > least:
                    yield names[panel.n], strips


def _hooked(derived: Derived, face: str) -> Iterator[tuple[shapely.LineString, tuple[str, ...]]]:
    """The eaves of a face with strips that panels hook on, as lines in its own coordinates, mm, and these strips."""
    frame = face_frame(derived.roof.facet(face))
    for run in derived.runs:
        edge = derived.edge_runs[base_id(run.run.id)].edge if run.run.layer == "eave-cleat" else None
        if edge is not None and face in edge.facets:
            yield (shapely.LineString([frame.at(edge.a[:2]), frame.at(edge.b[:2])]),
                   tuple(piece.id for piece in run.pieces))


def _along(panel: Panel, sides: tuple[str, ...], line: shapely.LineString) -> float:
    """How long a panel's foot lies along an eave, mm."""
    ring = panel.outline
    feet = (shapely.LineString([a, ring[(n + 1) % len(ring)]]) for n, a in enumerate(ring) if sides[n] == "eave")
    return float(sum(overlay.intersection(foot, line.buffer(1.0)).length for foot in feet))


def _asked(panel: Panel) -> bool:
    return float(shapely.Polygon(panel.outline).area) > _SCRAP


def _under_trims(derived: Derived, have: dict[str, tuple[float, float, float]]) -> Iterator[
        tuple[str, tuple[str, ...], tuple[str, ...], Array]]:
    """The zeds under each trim."""
    for run in _trims(derived):
        if run.run.layer in ("closure", "zed"):
            base = base_id(run.run.id)
            edge = derived.edge_runs[base].edge
            if derived.unsaid.issuperset(edge.facets):
                continue  # nobody has said how high the seams are that it stands between
            (_, into, _), _ = beside_edge(derived.roof, edge, run.run.on_face or edge.facets[0])
            far = behind(run.standard, run.run.layer == "zed")
            over = (*_copies(derived.run(base), have), *_at_its_foot(derived, edge, have))
            yield base, tuple(_copies(run, have)), over, into[:2] * far


def _at_its_foot(derived: Derived, edge: Edge, have: Mapping[str, object]) -> Iterator[str]:
    """The pieces that cover what a hip's foot, cut square, leaves open where the hip goes up from a ridge's end."""
    foot = edge.a if edge.a[2] < edge.b[2] else edge.b
    for meeting in meetings(derived.roof) if edge.kind == "hip" else ():
        joint = derived.opening(meeting.id)
        if math.dist(meeting.at, foot) < _ONE_PLACE and isinstance(joint.form, RidgeJoint):
            yield from (piece.pattern.id for piece in joint.pieces if piece.pattern.id in have)


def _outlines(derived: Derived, asked: Callable[[str], bool]) -> Iterator[tuple[str, Array]]:
    """The outline that each pan's floor should fill."""
    for face, names in pan_names(derived):
        if any(map(asked, names.values())):
            yield from ((names[panel.n], panel.ring) for panel in laid_panels(derived, frozenset((face,)))
                        if panel.n in names and asked(names[panel.n])
                        and float(np.linalg.norm(area_vector(panel.ring))) > _SCRAP)
