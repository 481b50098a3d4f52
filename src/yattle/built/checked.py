"""What is asked of the roof as it is put together, row by row, and what of it holds."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import partial
from itertools import chain, compress
from typing import Any, TypeVar

import numpy as np
import shapely
from shapely.affinity import translate

from yattle import overlay
from yattle.built.bears import Contact, contacts
from yattle.built.clash import Clash
from yattle.built.counters import counter_covers, kerfs
from yattle.built.cover import Cover, covers
from yattle.built.crossings import crossings
from yattle.built.dressed import over_ridges, stiff
from yattle.built.drips import Drip, turned_in
from yattle.built.drops import Lost, grid_over, lost_drops
from yattle.built.ends import Reach, outlines, reaches
from yattle.built.fitted import Fitted, fitted_in
from yattle.built.fitted_openings import openings_fitted_in
from yattle.built.forms import Joint, forms_of, opening_of
from yattle.built.frames import built_up
from yattle.built.hem_sides import TurnedHem, turned_hems
from yattle.built.hidden import Hidden, covered, hidden, way_of
from yattle.built.hook import Hook, hooks
from yattle.built.laid import LaidPanel, shingles_of_faces
from yattle.built.lines import off_lines
from yattle.built.mouths import open_mouths
from yattle.built.orders import bought, sheets_of
from yattle.built.placed import PlacedPiece
from yattle.built.relations import Relations
from yattle.built.rims import rims_of
from yattle.built.seam_caps import seam_cap_covers
from yattle.built.sheets import Sheets
from yattle.built.slots import CoveredFace, Covering, OpenSlot, slots
from yattle.built.standing import Standing, boxes_of, stand_all
from yattle.built.told import ToldWrong, told_wrong
from yattle.built.trim_laps import trim_covers
from yattle.built.water import WetLap, turned_laps
from yattle.built.wind import Wind, driven_in
from yattle.cores import shared
from yattle.derive.derived import Derived
from yattle.derive.run import is_wet
from yattle.derive.zeds import CLOSED
from yattle.details import standard_for
from yattle.install.fitting import fitting
from yattle.install.parting import PANELS
from yattle.pattern import Pattern
from yattle.pattern.rings import boxes
from yattle.pattern.surface import Array
from yattle.roof import Facet
from yattle.roof.openings import Placed, outline

_SEALING = ("tape", "bead", "screw", "rivet", "solder")  # what marks say of a joint that is closed so
_Thing = TypeVar("_Thing")
_NEAR = 300.0  # mm round a piece: what it may touch or cover


@dataclass(frozen=True)
class Absent:
    """A piece that has a place and no pattern: ``at`` is where it would begin, mm."""

    piece: str
    at: tuple[float, float, float]


@dataclass(frozen=True)
class Checked:
    """The rows that are worked out: every contact, lap, end and lock that was looked at, what goes through what, and
    what is left out."""

    contacts: tuple[Contact, ...]
    covers: tuple[Cover, ...]
    hooks: tuple[Hook, ...]
    ends: tuple[Reach, ...]
    clashes: tuple[Clash, ...]
    absent: tuple[Absent, ...]
    slots: tuple[OpenSlot, ...]
    water: tuple[WetLap, ...]
    drops: tuple[Lost, ...] = ()
    hidden: tuple[Hidden, ...] = ()
    fitted: tuple[Fitted, ...] = ()
    drips: tuple[Drip, ...] = ()
    told: tuple[ToldWrong, ...] = ()
    joints: tuple[Joint, ...] = ()
    hems: tuple[TurnedHem, ...] = ()

    @property
    def leaks(self) -> tuple[Lost, ...]:
        """Drops that get in; not those that only a bead keeps out."""
        return tuple(one for one in self.drops if one.how != "sealant")

    @property
    def sound(self) -> bool:
        """Whether nothing that was looked at fails."""
        nothing = not (self.clashes or self.absent or self.slots or self.water or self.leaks or self.drips or self.hems)
        return nothing and all(one.ok for one in self.contacts) and all(
            one.ok for one in self.hooks) and all(one.ok for one in self.ends) and all(
            one.ok for one in self.hidden) and all(one.ok for one in self.fitted) and all(
            one.ok for one in self.joints) and all(
            one.ok and not one.long for one in self.covers)


def check_built(derived: Derived, placed: Iterable[PlacedPiece], patterns: Iterable[Pattern] | None = None,
                touching: frozenset[str] | None = None) -> Checked:
    """Everything that has a place held against what it lies on and against its neighbours. ``patterns``: the written
    ones, where they are not those of the job; ``touching``: only what pieces of these patterns are part of."""
    known = list(placed)
    standing = stand_all(derived.patterns if patterns is None else patterns, known)
    return check_standing(derived, known, standing, touching)


def check_standing(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing],
                   touching: frozenset[str] | None = None, near: shapely.Geometry | None = None,
                   told: Callable[[float], object] = lambda _: None) -> Checked:
    """The same, of pieces that stand at their places already. Shingles are cut on the roof to what they meet there: the
    courses they lie in are looked at in their stead. ``near``: the part of the plan that pieces of the patterns lay in,
    or lie in, mm; as they lie where it is not said. ``told``: how much of it is begun, from 0 to 1; what it raises ends
    it."""
    loose = shingles_of_faces(derived)
    placed = [one for one in placed if one.pattern not in loose]
    standing = {name: one for name, one in standing.items() if one.pattern not in loose}
    near = near_of(standing.values(), touching) if near is None and touching is not None else near
    rows = _rows(derived, placed, standing, touching, near)
    return Checked(**dict(zip(rows, shared([partial(tuple, one) for one in rows.values()], told=told), strict=True)))


def _rows(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing],
          touching: frozenset[str] | None, near: shapely.Geometry | None) -> dict[str, Iterable[Any]]:
    """Each row of the check by its name, worked out only as it is gone through; the longest first."""
    faces = [face for face in _faces(derived) if near is None or face.shape.intersects(near)]
    panels = list(bought(derived, frozenset(face.name for face in faces)))
    panels = panels if near is None else list(_reaching_into(panels, boxes([one.ring for one in panels]), near))
    asked = Relations.of(derived, placed, touching)
    local = standing if near is None else dict(
        _reaching_into(list(standing.items()), boxes_of(standing.values()), near))
    hard = stiff(derived, local)
    stands = {one.name: one for one in hard}
    sheets = Sheets(list(sheets_of(derived, placed, (hard, panels), asked.laps)))
    wedged = list(kerfs(derived, standing, touching))
    formed = forms_of(derived, placed, standing, touching)
    return {
        "fitted": chain(fitted_in(derived, standing, sheets, faces, touching),
                        openings_fitted_in(derived, standing, sheets, faces, touching)),
        "slots": chain(open_mouths(derived, list(local.values()), panels, sheets, touching),
                       slots(faces, _coverings(panels, local), near)),
        "drops": _drops(derived, sheets, faces, near),
        "hidden": _hidden(asked, standing),
        "clashes": chain(crossings(derived, placed, (over_ridges(derived, hard), panels), touching, formed),
                         (clash for one in formed.values() for clash in one.kerfs if isinstance(clash, Clash))),
        "contacts": chain(contacts((standing[name], grounds) for name, grounds in asked.seats if name in standing),
                          (seat for one in formed.values() for seat in one.seats())),
        "covers": chain(covers(standing, asked.laps), counter_covers(derived, standing, touching),
                        trim_covers(derived, standing, touching), seam_cap_covers(derived, standing, touching)),
        "hooks": chain(hooks(standing, asked.locks, asked.grips), (one for one, _ in wedged)),
        "told": _told(derived, sheets),
        "ends": chain(reaches(stands, standing, asked.ends), off_lines(derived, stands, touching),
                      outlines(standing, asked.outlines), (one for _, one in wedged)),
        "joints": (joint for one in formed.values() for joint in one.joints()),
        "absent": (Absent(name, at) for name, at in asked.all if name not in standing),
        "water": turned_laps(standing, asked.laps),
        "drips": turned_in(derived, standing, touching),
        "hems": turned_hems(derived, standing, touching)}


def _told(derived: Derived, sheets: Sheets) -> Iterator[ToldWrong]:
    """The laps that fitting tells held against how the sheets lie; not of a face's panels over each other, which are
    asked by their laps and locks."""
    return told_wrong(sheets, [one.item for one in sheets.sheets],
                      ((lap.over, lap.under) for lap in fitting(derived).laps
                       if not (lap.over.startswith(PANELS) and lap.under.startswith(PANELS))))


def near_of(standing: Iterable[Standing], touching: frozenset[str]) -> shapely.Geometry:
    """The part of the plan round the pieces of some patterns, mm; copies of one lie in a row."""
    rows = defaultdict[str, list[Array]](list)
    for one in standing:
        if one.pattern in touching:
            rows[one.pattern] += one.parts
    if not rows:
        return shapely.Polygon()
    hulls = np.array([shapely.MultiPoint(np.concatenate(parts)[:, :2]).convex_hull for parts in rows.values()])
    inner, outer = shapely.STRtree(hulls).query(hulls, "within")
    sizes = shapely.area(hulls)
    inside = inner[sizes[inner] < sizes[outer]]  # most strips lie under their trim
    return overlay.grown(overlay.union_all(np.delete(hulls, inside)), _NEAR)


def _reaching_into(things: list[_Thing], box: tuple[Array, Array], near: shapely.Geometry) -> Iterator[_Thing]:
    """What comes into the bounds of a part of the plan, by the lowest and the highest corners (n, 3) of the boxes round
    the things, mm."""
    left, low, right, high = near.bounds
    lows, highs = box
    into = np.all((highs[:, :2] > (left, low)) & (lows[:, :2] < (right, high)), axis=1)
    return compress(things, into)


def _faces(derived: Derived) -> Iterator[CoveredFace]:
    """The faces as they should be covered, without what stands on them."""
    for facet in derived.roof.facets:
        holes = [_hole(derived, one, facet) for one in derived.roof.openings if facet.id in one.facets]
        shape = overlay.difference(facet.shape, overlay.union_all(holes)) if holes else facet.shape
        yield CoveredFace(facet.id, shape, np.array(facet.plane.at((0.0, 0.0))), np.array(facet.plane.normal))


def _hole(derived: Derived, placed: Placed, facet: Facet) -> shapely.Geometry:
    """What an opening takes of a face at its flats, in plan, mm: a curb stands square on the roof."""
    square = built_up(derived, facet.id).flat if placed.opening.kind in ("curb", "skylight") else 0.0
    x, y, _ = facet.plane.normal
    return translate(shapely.Polygon(outline(placed.opening)), square * x, square * y)


def _coverings(panels: list[LaidPanel], standing: dict[str, Standing]) -> list[Covering]:
    """All sheets that may cover faces."""
    sheets = [Covering(one.name, part) for one in standing.values() for part in one.parts]
    return sheets + [Covering(panel.id, panel.ring) for panel in panels]


def _sealed(derived: Derived) -> frozenset[str]:
    """The patterns on which tape, a bead or screws through them are marked."""
    return frozenset(pattern.id for pattern in derived.patterns
                     if any(word in mark.text for mark in pattern.marks for word in _SEALING))


def _hidden(asked: Relations, standing: dict[str, Standing]) -> Iterable[Hidden]:
    covers = dict[tuple[str, ...], shapely.Geometry]()  # strips on both sides lie under the same trim
    for run, names, trims, out in asked.hidden:
        strips = [standing[name] for name in names if name in standing]
        over = [standing[name] for name in trims if name in standing]
        if strips and over:
            if trims not in covers:
                covers[trims] = covered(over, way_of(strips))
            yield from hidden(strips, covers[trims], run, out)


def _shut(derived: Derived) -> Iterator[tuple[str, str]]:
    """The runs that lie over, or beside, heads of panels before which strips cut to their profile stand; rakes that
    only hang over a face which is not theirs, as over a wing's foot: that is no lap."""
    for run, found in derived.edge_runs.items():
        if found.edge.kind == "rake":
            yield from ((run, facet.id) for facet in derived.roof.facets if facet.id not in found.edge.facets)
        if found.edge.kind in (*CLOSED, "rake", "sidewall"):
            yield from ((run, face) for face in found.edge.facets if derived.job.panel_rule(face).fill != "zed")


def _drops(derived: Derived, sheets: Sheets, faces: list[CoveredFace],
           near: shapely.Geometry | None) -> Iterator[Lost]:
    of = opening_of(derived)
    grid = grid_over(face.shape if near is None else overlay.intersection(face.shape, near) for face in faces)
    rims, sealed, house = rims_of(sheets, grid), _sealed(derived), standard_for(derived.job.system, derived.job.own)
    if near is not None:
        rims = rims.some(shapely.intersects_xy(near, *rims.at[:, :2].T))
    dry = (run.run.id for run in derived.runs if run.family is not None and not is_wet(run.run, run.family))
    wind = Wind(house.lap_rise, house.lap_most, frozenset(dry), frozenset(_shut(derived)))
    for lost in (*lost_drops(sheets, rims, faces, sealed), *driven_in(sheets, rims, faces, wind, sealed)):
        one, other = (of.get(name.partition("/")[0]) for name in (lost.piece, lost.under))
        if one is None or one != other:
            yield lost
