"""The section of each trim and strip, and what is there _already where it goes on."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from yattle import overlay
from yattle.built.goes_in import CutLines, WayIn, crossed, way_in
from yattle.built.sheets import Sheets
from yattle.built.slots import CoveredFace
from yattle.built.standing import Spot, Standing, spot
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import base_id
from yattle.pattern.rings import UPRIGHT, cross
from yattle.pattern.surface import Array
from yattle.roof.edges import WALLS, Edge

_TUCKED = ("rake", *WALLS)  # edges whose trims and strips are hooked, tucked or slid in; others are laid on
_NEAR = 260.0  # mm round a section in which something can be in its way
_WHERE = 0.37  # of a piece's length: where its section is looked at, off its middle, where a seam may stand
_WALL = 600.0  # mm of a wall over its edge
_KERF = 5.0  # mm to either side of a leg that goes into the wall: the kerf
_KERF_DEEP = 80.0  # mm that it is sawn in at the most
_DEEP = 1.0  # mm behind a side: there a leg is in its kerf
_LATER = 0.005  # of a stage: what goes on with it or after it is not in the way


@dataclass(frozen=True)
class Fitted:
    """Whether a piece goes in: ``how``, or what ``stands`` in the way at a place in the roof, mm, ``left`` mm short of
    being free; ``first``: whether it goes in where it is fitted before that."""

    piece: str
    how: str
    stands: str
    left: float
    at: Spot
    first: bool = False

    @property
    def ok(self) -> bool:
        return not self.stands


def fitted_in(derived: Derived, standing: dict[str, Standing], sheets: Sheets, faces: Iterable[CoveredFace],
              touching: frozenset[str] | None = None) -> Iterator[Fitted]:
    """The first piece of every run that is hooked, tucked or slid in: its others have the same section."""
    there = AlreadyThere(sheets, tuple(faces))
    for run in derived.runs:
        found = derived.edge_runs.get(base_id(run.run.id))
        piece = first_of(standing, [one.id for one in run.pieces])
        if found is None or piece is None or (touching is not None and piece.pattern not in touching) or (
                found.edge.kind not in _TUCKED):
            continue
        frame = run_frame(derived.roof, found.edge)[2]
        yield there.goes_in(piece, frame, partial(_wall, found.edge, frame), run.pieces[0].pattern.metal.thickness)


def first_of(standing: dict[str, Standing], patterns: Iterable[str]) -> Standing | None:
    """The first piece that stands of some patterns, or the first copy of one."""
    names = (name for pattern in patterns for name in (pattern, f"{pattern}/1"))
    return next((standing[name] for name in names if name in standing), None)


@dataclass(frozen=True)
class AlreadyThere:
    """What lies on the roof, and its faces' decks; ``asked``: what is known of sections that go in, by themselves and
    by what they lie among."""

    sheets: Sheets
    decks: tuple[CoveredFace, ...]
    asked: dict[bytes, WayIn] = field(default_factory=dict)

    def goes_in(self, piece: Standing, frame: Array, stands: Callable[[Array, CutLines], Iterable[CutLines]],
                thickness: float) -> Fitted:
        """Whether a piece goes in past what is there before it, cut across where no seam stands. ``frame``: along it,
        out and up; ``stands``: what stands beside a place, mm, open for a section; the sheet's ``thickness``, mm."""
        own = np.concatenate(piece.parts) @ frame[0]
        at = piece.middle + frame[0] * (own.min() + np.ptp(own) * _WHERE - piece.middle @ frame[0])
        section = lines_across([(piece.name, part) for part in piece.parts], frame, at)
        lying = _already(self.sheets, piece, frame, at)
        there = _joined([lying, *_decks(self.decks, frame, at), *stands(at, section)])
        there = _kept(there, np.logical_not(crossed(section, there)))
        alike = _print(section, there, thickness)
        way = self.asked.get(alike) or way_in(section, there, thickness)
        if way.ok:
            self.asked[alike] = way
            return Fitted(piece.name, way.how, "", 0.0, spot(at))
        place = at + frame[1] * way.at[0] + frame[2] * way.at[1]
        rest = _kept(there, np.array([name != way.stands for name in there.names], dtype=bool))
        first = way.stands in lying.names and way_in(section, rest, thickness).ok
        return Fitted(piece.name, "", way.stands, way.left, spot(place), first)


def _print(section: CutLines, there: CutLines, thickness: float) -> bytes:
    """The same for a section of sheet so thick, mm, among lines that lie the same, wherever on the roof that is."""
    found = []
    for lines in (section, there):
        rows = np.round(np.hstack((lines.a, lines.b, lines.outs)), 2) + 0.0
        found.append(rows[np.lexsort(rows.T)])
    return np.concatenate([np.ravel(rows) for rows in (*found, np.array([thickness, len(section.a)]))]).tobytes()


def _kept(lines: CutLines, keep: Array) -> CutLines:
    names = tuple(name for name, kept in zip(lines.names, keep.tolist(), strict=True) if kept)
    return CutLines(lines.a[keep], lines.b[keep], lines.outs[keep], names)


def _already(sheets: Sheets, piece: Standing, frame: Array, at: Array) -> CutLines:
    """What lies there before the piece goes on, cut across its run at a place in mm."""
    order = sheets.order_of.get(piece.name, 0.0)
    near = sheets.round(at[:2], _NEAR)
    parts = [(sheets.name(n), sheets.sheets[n].ring) for n in near
             if sheets.orders[n] < order - _LATER and sheets.name(n) != piece.name]
    lines = lines_across(parts, frame, at)
    upright = np.abs(lines.outs[:, 1]) < UPRIGHT * np.linalg.norm(lines.outs, axis=1)
    away = np.where(upright & (lines.outs[:, 0] < 0.0), -1.0, 1.0)  # what stands upright is passed on its outer side
    return CutLines(lines.a, lines.b, lines.outs * away[:, None], lines.names)


def _decks(faces: Sequence[CoveredFace], frame: Array, at: Array) -> Iterator[CutLines]:
    """The faces' decks in the plane across a run, as far as they reach, mm."""
    import shapely

    level = np.array([frame[1][0], frame[1][1]])
    if np.linalg.norm(level) < 1e-6:
        return
    line = shapely.LineString([at[:2] - level * _NEAR, at[:2] + level * _NEAR])
    for n in np.nonzero(shapely.intersects([face.shape for face in faces], line))[0].tolist():
        face = faces[n]
        for part in shapely.get_parts(overlay.intersection(face.shape, line)):
            if part.geom_type == "LineString" and part.length > 1.0:
                ends = [np.array([x, y, face.level(x, y)]) for x, y in part.coords]
                a, b = ((end - at) @ frame[1:].T for end in ends[:2])
                yield CutLines(a[None], b[None], (face.normal @ frame[1:].T)[None], (f"deck {face.name}",))


def _wall(edge: Edge, frame: Array, at: Array, section: CutLines) -> Iterable[CutLines]:
    """The wall over an edge, open where a leg goes into it: its kerf is cut there. Nothing over an edge without one."""
    foot = (np.array(edge.a) - at) @ frame[1:].T
    side = foot, foot + np.array([0.0, _WALL]), np.array([1.0, 0.0])
    return opened(side, section, "the wall") if edge.wall else ()


def opened(side: tuple[Array, Array, Array], section: CutLines, name: str) -> Iterator[CutLines]:
    """A side of masonry or timber, from ``a`` to ``b`` in the plane across, mm, with the way ``out`` of it, 1 mm long:
    with a kerf wherever a leg of the section goes in behind it."""
    a, b, out = side
    long = float(np.linalg.norm(b - a))
    way, places = (b - a) / long, [0.0]
    for kerf in sorted(_kerfs(a, way, out, section)):
        if 0.0 < kerf < long:
            rims = max(kerf - _KERF, 0.0), min(kerf + _KERF, long)
            places += rims
            for rim, up in zip(rims, (way, -way), strict=True):  # the kerf's own faces
                yield _one(a + way * rim - out * _KERF_DEEP, a + way * rim, up, name)
    places.append(long)
    for low, high in zip(places[::2], places[1::2], strict=True):
        if high > low:
            yield _one(a + way * low, a + way * high, out, name)


def _one(a: Array, b: Array, out: Array, name: str) -> CutLines:
    return CutLines(a[None], b[None], out[None], (name,))


def _kerfs(a: Array, way: Array, out: Array, section: CutLines) -> Iterator[float]:
    """How far from ``a`` along ``way``, mm, a leg goes in behind the line, whose outer side is ``out``."""
    for ends in zip(section.a, section.b, strict=True):
        inner, outer = sorted(ends, key=lambda end: float((end - a) @ out))
        deep, before = float((a - inner) @ out), float((outer - a) @ out)
        if deep > _DEEP and before > -_DEEP:
            yield float((inner + (outer - inner) * (deep / (deep + before)) - a) @ way)


def lines_across(parts: list[tuple[str, Array]], frame: Array, at: Array) -> CutLines:
    """Flat parts cut by the plane across a run at a place, mm."""
    a, b, outs, names = list[Array](), list[Array](), list[Array](), list[str]()
    for name, ring, off in _cut_by(parts, frame[0], at):
        ends = []
        for n in range(len(ring)):
            if (off[n - 1] < 0.0) != (off[n] < 0.0):
                ends.append(ring[n - 1] + (ring[n] - ring[n - 1]) * (off[n - 1] / (off[n - 1] - off[n])))
        normal = cross(ring[1] - ring[0], ring[-1] - ring[0])
        normal = normal if normal[2] >= 0 or abs(normal[2]) < UPRIGHT * np.linalg.norm(normal) else -normal
        for one, other in zip(ends[::2], ends[1::2], strict=False):
            a.append((one - at) @ frame[1:].T)
            b.append((other - at) @ frame[1:].T)
            outs.append(normal @ frame[1:].T)
            names.append(name)
    one, other, out = (np.array(row).reshape(-1, 2) for row in (a, b, outs))
    return CutLines(one, other, out, tuple(names))


def _cut_by(parts: list[tuple[str, Array]], way: Array, at: Array) -> Iterator[tuple[str, Array, Array]]:
    """The flat parts that reach to both sides of a plane, each with how far its corners are off it along ``way``."""
    if not parts:
        return
    counts = np.array([len(ring) for _, ring in parts])
    ends = np.cumsum(counts)
    offs = (np.concatenate([ring for _, ring in parts]) - at) @ way
    astride = (np.maximum.reduceat(offs, ends - counts) > 0.0) & (np.minimum.reduceat(offs, ends - counts) < 0.0)
    for n in np.nonzero(astride)[0].tolist():
        name, ring = parts[n]
        yield name, ring, offs[ends[n] - counts[n]:ends[n]]


def _joined(lines: list[CutLines]) -> CutLines:
    return CutLines(np.concatenate([one.a for one in lines]), np.concatenate([one.b for one in lines]),
                 np.concatenate([one.outs for one in lines]), tuple(name for one in lines for name in one.names))
