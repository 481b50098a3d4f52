"""Open: slots that stand upright, between what a trim lies over and its edge: whether anything shuts them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle import overlay
from yattle.built.frames import built_up, face_axes
from yattle.built.laid import LaidPanel
from yattle.built.sheets import Numbers, Sheets
from yattle.built.slots import WIDE, OpenSlot
from yattle.built.standing import Standing, spot
from yattle.built.structure import walls
from yattle.derive.corners import beside_edge
from yattle.derive.derived import Derived
from yattle.derive.gaps import caulked, sharp_ends, tapered
from yattle.derive.layers import closure_strip, schools_of
from yattle.derive.lift import over_of
from yattle.derive.roof_runs import base_id
from yattle.install.chalk import ChalkLine, chalk_lines
from yattle.pattern.rings import area_vectors, boxes, cross
from yattle.pattern.surface import Array

_EDGES = ("ridge", "hip", "half-ridge", "headwall", "skew-wall", "sidewall", "pitch-break")
"""Where zeds shut what stands open under a trim; at rakes the panel's own edge, turned up on the roof, does."""
_EVERY, _STEP = 120.0, 3.0  # mm between two places, and two heights, at which one looks in
_ENDS = 150.0  # mm from a run's ends, where the ends of trims come together
_CORNER = 40.0  # mm in plan from the face's other edges, where a sharp corner's trims come together
_BEFORE = 8.0  # mm before a trim's edge, from where one looks
_OFF = 2.0  # mm off the flats and off the trim: sheets lie there
_CAULK = 10.0  # mm beside a seam's lock, where a zed ends
_SEALED = 0.5  # mm round a sheet, which tape and paint close
_BESIDE = np.arange(-5.0, 5.1, 1.0)  # mm to either side: a narrower slot is a clearance, which caulk closes
_AROUND = 40.0  # mm round a mouth, within which something may shut it
_FACES = 0.05  # cosine between a look and a part's normal, under which the part lies along it
Flags = np.ndarray[tuple[int, ...], np.dtype[np.bool_]]


@dataclass(frozen=True)
class Mouth:
    """Where a trim's edge stands off the flats: a ``line`` of places on them (n, 3), mm, the ways in under the trim and
    up from the flats, 1 mm long, how ``high`` it is there and how ``deep`` the trim goes in, mm."""

    run: str
    face: str
    line: Array
    inward: Array
    up: Array
    high: float
    deep: float

    @property
    def along(self) -> Array:
        """Along the mouth, 1 mm long."""
        return cross(self.inward, self.up)

    @property
    def across(self) -> Array:
        """Along the mouth and up (3, 2), each 1 mm long: where things stand for one who looks in."""
        return np.column_stack((self.along, self.up))

    def near(self, lows: Array, highs: Array) -> list[int]:
        """Which boxes, from ``lows`` to ``highs`` in mm, come near it."""
        far = np.concatenate((self.line, self.line + self.inward * self.deep))
        low, high = far.min(axis=0) - _AROUND, far.max(axis=0) + _AROUND
        found: list[int] = np.nonzero(((lows < high) & (highs > low)).all(axis=1))[0].tolist()
        return found


def open_mouths(derived: Derived, standing: Sequence[Standing], panels: Sequence[LaidPanel], sheets: Sheets,
                touching: frozenset[str] | None) -> Iterator[OpenSlot]:
    """Where one sees in under a trim over panels that zeds close, over more than 5 mm each way; ``touching``: only
    under trims of which, or under which, one of these patterns is."""
    of = {piece.id: base_id(run.run.id) for run in derived.runs for piece in run.pieces}
    only = None if touching is None else frozenset(of[name] for name in touching if name in of)
    found = list(_mouths(derived, only)) if only is None or only else []
    if not found:
        return
    shut = [(one.pattern, part) for one in standing for part in one.parts]
    shut += [("", seam) for panel in panels for seam in panel.seams] + [("", wall.ring) for wall in walls(derived)]
    lows, highs = boxes([part for _, part in shut])
    trims = {run.run.id: {piece.id for piece in run.pieces} for run in derived.runs}
    for mouth in found:
        own = [part for one in standing if one.pattern in trims[mouth.run] for part in one.parts]
        stops = [part for name, part in (shut[n] for n in mouth.near(lows, highs)) if name not in trims[mouth.run]]
        before = None
        for place, high in looked_in(mouth, _on_flats(_under(mouth, own), sheets), stops):
            if before is None or float(np.linalg.norm(place - before)) > 1.5 * _EVERY:  # else it goes on
                yield OpenSlot(mouth.face, high, (mouth.run,), spot(place), mouth.run)
            before = place


def _mouths(derived: Derived, only: frozenset[str] | None) -> Iterator[Mouth]:
    """Of all trims that lie over panels closed by zeds, and not by their heads turned up on the roof, but for vented
    ridges; ``only``: of these runs."""
    for line in chalk_lines(derived, only):
        made, rule = derived.run(line.run), derived.job.panel_rule(line.face)
        run, high = made.run, over_of(derived, made)
        if run.layer:
            continue
        schools = schools_of(run, derived.job.schools)
        zeds = rule.fill == "zed" and schools.closures != "folded" and not (
            run.kind == "ridge" and schools.ridge == "vented")
        if line.on == "panels" and run.kind in _EDGES and zeds and high > WIDE + 2 * _OFF:
            mouth = _mouth(derived, line, high)
            if len(mouth.line):
                yield mouth


def _mouth(derived: Derived, line: ChalkLine, high: float) -> Mouth:
    edge = derived.edge_runs[line.run].edge
    (_, into, square), _ = beside_edge(derived.roof, edge, line.face)
    flat = built_up(derived, line.face).flat
    a, b = (np.array(end) + np.array([0.0, 0.0, flat / square[2]]) for end in (line.a, line.b))
    long = float(np.linalg.norm(b - a))
    forward, (first, last), caulk = _left_to_hand(derived, line)
    along = np.arange(max(_ENDS, first + WIDE), long - max(_ENDS, last + WIDE), _EVERY)
    from_start = along if forward else edge.length - along
    shut = [(begin - _CAULK < from_start) & (from_start < end + _CAULK) for begin, end in caulk]
    along = along[~np.logical_or.reduce(shut)] if shut else along
    places = a + np.outer(along, (b - a) / max(long, 1e-9))
    others = shapely.MultiLineString([(other.a[:2], other.b[:2]) for other in derived.roof.edges_of(line.face)
                                      if other.id != edge.id])
    shapely.prepare(others)
    near = shapely.dwithin(others, shapely.points(places[:, :2]), _CORNER)
    clear = _beside_seams(derived, line.face, places) & ~near
    return Mouth(line.run, line.face, places[clear], -into, square, high, line.away)


def _left_to_hand(derived: Derived, line: ChalkLine) -> tuple[bool, tuple[float, float], list[tuple[float, float]]]:
    """Whether a trim's chalk line runs from its edge's start on; how far from the line's ends sharp corners go in which
    a zed is cut by hand; and from where to where along the edge gaps are left to the caulk, mm: both are told."""
    found, family, rule = derived.edge_runs[line.run], derived.run(line.run).family, derived.job.panel_rule(line.face)
    under = closure_strip(derived.job, found, family.name if family is not None else "")
    asked = derived.roof, found.edge, line.face, rule, under
    beside = under.zeds[found.edge.facets.index(line.face)].high + WIDE  # as near to its end another cap's zeds begin
    cut_off = tapered(derived.roof.plan, found.edge, line.face, under)  # there the trim ends, not at its edge's end
    a, b = (max(end, beside, cut + _ENDS if cut else 0.0) for end, cut in zip(sharp_ends(*asked), cut_off, strict=True))
    forward = math.dist(line.a, found.edge.a) < math.dist(line.a, found.edge.b)
    return forward, (a, b) if forward else (b, a), caulked(*asked)


def _beside_seams(derived: Derived, face: str, places: Array) -> Flags:
    """Which places (n, 3), mm, lie clear of a face's seams, each as wide as its lock and its caulk."""
    own, laid = face_axes(derived, derived.roof.facet(face)), derived.panels[face]
    across = (places - own.at) @ own.turn[:, 0]
    off = np.abs(across[:, None] - np.array(laid.seams, dtype=float)[None, :]).min(axis=1, initial=np.inf)
    return np.asarray(off > laid.rule.seam / 2 + _CAULK)


def _under(mouth: Mouth, trim: Sequence[Array]) -> Array:
    """The places of a mouth over which the trim lies."""
    plans = overlay.polygons([part[:, :2] for part in trim])
    over = shapely.STRtree(plans[shapely.is_valid(plans)])
    place, _ = over.query(shapely.points((mouth.line + mouth.inward * _BEFORE)[:, :2]), "dwithin", _SEALED)
    return _some(mouth.line, place)


def _on_flats(places: Array, sheets: Sheets) -> Array:
    """Those of the places at which a panel lies: beside a valley there is none, and nothing to shut."""
    found = sheets.at(places[:, :2])
    on = np.abs(found.z - places[found.place, 2]) < _OFF
    return _some(places, found.place[on])


def _some(places: Array, which: Numbers) -> Array:
    """Those of the places, in their order."""
    asked = np.zeros(len(places), dtype=bool)
    asked[which] = True
    return np.asarray(places[asked])


def looked_in(mouth: Mouth, places: Array, stops: Sequence[Array]) -> Iterator[tuple[Array, float]]:
    """The places (n, 3) at which one sees in over more than 5 mm along the mouth, with how high the slot is there, mm;
    ``stops``: the flat parts that may be in the way, corners (n, 3), mm."""
    seen = _Stops.of(mouth, stops)
    for place in places[_open_at(mouth, places, seen) > WIDE]:
        wide = _open_at(mouth, place + np.outer(_BESIDE, mouth.along), seen)
        if _longest((wide > WIDE)[None])[0] > len(_BESIDE) / 2:
            yield place, float(wide.max())


@dataclass(frozen=True)
class _Stops:
    """Flat parts across a mouth as one sees them who looks in: square to each (n, 3), 1 mm long, how far it lies that
    way (n,), mm, and its outline, a little grown."""

    squares: Array
    levels: Array
    outlines: shapely.STRtree

    @classmethod
    def of(cls, mouth: Mouth, parts: Sequence[Array]) -> _Stops:
        squares = area_vectors(parts)
        squares = squares / np.maximum(np.linalg.norm(squares, axis=1), 1e-9)[:, None]
        facing = np.nonzero(np.abs(squares @ mouth.inward) > _FACES)[0]
        firsts = np.array([parts[n][0] for n in facing.tolist()]).reshape(-1, 3)
        outlines = overlay.grown(overlay.polygons([parts[n] @ mouth.across for n in facing.tolist()]), _SEALED)
        shapely.prepare(outlines)
        return cls(squares[facing], (firsts * squares[facing]).sum(axis=1), shapely.STRtree(outlines))


def _open_at(mouth: Mouth, places: Array, stops: _Stops) -> Array:
    """How high, in mm, one sees in at each place (n, 3); ``stops``: what may be in the way."""
    heights = np.arange(_OFF, mouth.high - _OFF + 1e-6, _STEP)
    starts = (places - mouth.inward * _BEFORE)[:, None, :] + heights[None, :, None] * mouth.up
    looks, way = starts.reshape(-1, 3), mouth.inward * (_BEFORE + mouth.deep)
    look, part = stops.outlines.query(shapely.points(looks @ mouth.across), "intersects")
    squares = stops.squares[part]
    shares = (stops.levels[part] - (looks[look] * squares).sum(axis=1)) / (squares @ way)  # of the way in
    free = np.ones(len(looks), dtype=bool)
    free[look[(shares >= 0.0) & (shares <= 1.0)]] = False
    return np.asarray(_longest(free.reshape(starts.shape[:2])) * _STEP)


def _longest(free: Flags) -> NDArray[np.int64]:
    """How many in each row (n, m) are free one after the other, at the most."""
    places = np.arange(1, free.shape[1] + 1)
    shut = np.maximum.accumulate(np.where(free, 0, places), axis=1)
    return np.asarray((places - shut).max(axis=1, initial=0))
