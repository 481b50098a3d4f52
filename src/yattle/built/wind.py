"""Water: what wind drives up under a lap.

A lap keeps water out as long as the lower sheet goes on beneath the upper one to a place that lies higher than the
lap's foot by the house's rise, or to something that stands up there. The flatter the sheet, the longer that is; past
the longest lap of the house only a bead holds.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle import overlay
from yattle.built.drops import NEAR, OUT, TOUCH, TOWARDS, Lost, lands_on, of_patterns, rained_on
from yattle.built.rims import Rims
from yattle.built.sheets import LEVEL, STANDS, Numbers, Sheets
from yattle.built.slots import CoveredFace
from yattle.install.parting import PANELS, face_of_panels
from yattle.pattern.surface import Array

_SLACK = 3.0  # mm: what a lap may be short of
_RIM = 20.0  # mm to either side of a drop, where its sheet goes on
_BESIDE = 45.0  # mm to either side of a drop, within which what stands holds it: caulk closes the gap beside a lock


@dataclass(frozen=True)
class Wind:
    """How far wind drives water up: ``rise`` mm of height; laps past ``most`` mm along the sheet hold by a bead.
    ``dry``: the runs over whose own laps no water runs along, as over a ridge's or a hip's; ``shut``: (run, face) that
    are no lap which wind gets under: where strips cut to the panels' profile stand, or a trim hangs over another
    face's panels."""

    rise: float
    most: float
    dry: frozenset[str] = frozenset()
    shut: frozenset[tuple[str, str]] = frozenset()

    def along(self, slopes: Array) -> Array:
        """How far in plan on sheets of some pitches, mm; ``slopes``: their sines. 0 where that is too flat to ask."""
        far = self.rise / np.maximum(slopes, 1e-6)
        return np.asarray(np.where(far > self.most, 0.0, far * np.sqrt(np.maximum(1.0 - slopes**2, 0.0))))


def driven_in(sheets: Sheets, rims: Rims, decks: Sequence[CoveredFace], wind: Wind,
              sealed: frozenset[str] = frozenset()) -> Iterator[Lost]:
    """Drops that wind drives up under the foot of a sheet and over the head of the one beneath, onto a deck; one for
    each two pieces. What lies on the deck by itself is lapped by the underlay and not asked."""
    before = rims.before()
    place, lower, ways = _feet(sheets, rims, wind)
    far = wind.along(sheets.slopes[lower] * (sheets.falls[lower] * ways).sum(axis=1))
    ends = before[place] - ways * (far - _SLACK)[:, None]
    seen: set[tuple[str, str]] = set()
    for n in np.nonzero((far > _SLACK) & ~_lies_on(sheets, sheets.owners[lower], ends))[0].tolist():
        names = sheets.name(int(lower[n])), sheets.name(int(rims.sheet[place[n]]))
        if names in seen or of_patterns(names) & sealed:
            continue
        at = _over_its_head(sheets, (int(lower[n]), int(rims.sheet[place[n]])), before[place[n]], ends[n])
        if at is not None and any(lands_on(deck, at) for deck in decks if _over(deck, before[place[n]])):
            seen.add(names)
            yield Lost(*names, at, "wind")


def _over(deck: CoveredFace, at: Array) -> bool:
    """Whether a lap's foot is over that face; what comes over the face's own edge meets the zed, the strip or the wall
    that its trim stands on."""
    return bool(shapely.intersects_xy(deck.shape, float(at[0]), float(at[1])))


def _feet(sheets: Sheets, rims: Rims, wind: Wind) -> tuple[Numbers, Numbers, Array]:
    """The rims that are the feet of laps, the sheets beneath them, and the way out there in plan: down the sheet; in a
    run's own laps along the run."""
    before, (there, off) = rims.before(), rims.met(sheets)
    upper, lower = rims.sheet[there.place], there.sheet
    over = (np.abs(off) <= TOUCH) & (sheets.orders[upper] > sheets.orders[lower])
    comes = (sheets.falls[lower] * rims.out[there.place]).sum(axis=1) > TOWARDS
    keep = (over | ((off > TOUCH) & (off < NEAR))) & comes & (sheets.slopes[lower] > LEVEL) & (
        sheets.owners[upper] != sheets.owners[lower]) & (_widths(sheets)[lower] > _BESIDE)  # no lock of a seam
    pairs = zip(lower[keep].tolist(), upper[keep].tolist(), strict=True)
    keep[keep] = [_asked(sheets, one, other, wind) for one, other in pairs]
    place, lower = there.place[keep], lower[keep]
    run = np.array([sheets.sheets[one].item == sheets.sheets[other].item
                    for one, other in zip(lower.tolist(), rims.sheet[place].tolist(), strict=True)], dtype=bool)
    ways = np.where(run[:, None], rims.out[place], sheets.falls[lower])
    owners, aside = sheets.owners[lower], np.column_stack((-ways[:, 1], ways[:, 0])) * _RIM
    left = np.nonzero(rained_on(sheets, lower, before[place]))[0]
    for by in (-ways * OUT, aside, -aside):  # not side by side, nor at a sheet's corner
        left = left[_lies_on(sheets, owners[left], (before[place] + by)[left])]
    return place[left], lower[left], ways[left]


def _widths(sheets: Sheets) -> Array:
    """How wide each lying part is in plan at the least, mm."""
    bounds = shapely.bounds(sheets.plans).reshape(-1, 4)
    across = np.hypot(bounds[:, 2] - bounds[:, 0], bounds[:, 3] - bounds[:, 1])
    return np.asarray(shapely.area(sheets.plans) / np.maximum(np.nan_to_num(across), 1e-9))


def _asked(sheets: Sheets, lower: int, upper: int, wind: Wind) -> bool:
    item, over = sheets.sheets[lower].item, sheets.sheets[upper].item
    if not item.startswith(PANELS):
        return item == over and item not in wind.dry
    return (over, face_of_panels(item)) not in wind.shut


def _lies_on(sheets: Sheets, owners: Numbers, places: Array) -> NDArray[np.bool_]:
    """Whether each place lies over or under a part of its own piece."""
    there = sheets.at(places)
    found = np.zeros(len(places), dtype=bool)
    found[there.place[sheets.owners[there.sheet] == owners[there.place]]] = True
    return found


def _held(sheets: Sheets, lower: int, way: shapely.LineString) -> bool:
    """Whether something stands in a drop's way on a sheet."""
    for part, along in sheets.uprights_on(way):
        ring = sheets.sheets[part].ring
        x, y = way.interpolate(along).coords[0]
        z = float(sheets.heights(np.array([lower]), np.array([[x, y]]))[0])
        if ring[:, 2].min() < z + TOUCH and ring[:, 2].max() > z + STANDS:
            return True
    return False


def _over_its_head(sheets: Sheets, lap: tuple[int, int], foot: Array, end: Array) -> tuple[float, float, float] | None:
    """Where a drop driven from the foot of a ``lap`` (lower and upper sheet) up to ``end`` comes down behind the lower
    one, mm; ``None`` where something stands in its way or a third sheet catches it."""
    lower, upper = lap
    way, aside = shapely.LineString([foot, end]), (end - foot) / max(float(np.linalg.norm(end - foot)), 1e-9)
    for by in (0.0, _BESIDE, -_BESIDE):
        off = np.array([-aside[1], aside[0]]) * by
        if _held(sheets, lower, shapely.LineString([foot + off, end + off])):
            return None
    own = overlay.intersection(way, sheets.plans[lower])
    far = max(way.project(shapely.Point(at)) for at in shapely.get_coordinates(own)) if not own.is_empty else 0.0
    x, y = way.interpolate(far + OUT).coords[0]
    z = float(sheets.heights(np.array([lower]), np.array([[x, y]]))[0])
    there = sheets.at(np.array([[x, y]]))
    caught = (there.z < z + TOUCH) & (there.z > z - NEAR) & (sheets.owners[there.sheet] != sheets.owners[upper])
    return None if bool(caught.any()) else (float(x), float(y), z)
