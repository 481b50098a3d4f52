"""Cover: whether what belongs under a trim lies under it: zeds under their cap or flashing, their foot with its screws
on the dry side of them, their top out to the edge over it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.affinity import translate

from yattle import overlay
from yattle.built.standing import Spot, Standing, lying_alike, spot
from yattle.pattern.rings import UPRIGHT, cross
from yattle.pattern.surface import Array

_BARE = 1.0  # mm over a strip's whole length that may look out: what setting scatters
_GRID = 0.02  # mm
_OFF = 3.0  # mm that a strip may stand farther out or in than it should
_JUST = 1.0  # mm that look out when it is moved past the edge over it
_LONG = 350.0  # mm: shorter strips, in corners, are not asked how far in they stand
_PARALLEL = 0.99  # cosine between the two flanges of a zed
_PAST = 120.0  # mm along it that a strip may go on past its trim, into a corner
Shapes = NDArray[np.object_]


@dataclass(frozen=True)
class Hidden:
    """A strip under what covers it: ``bare`` mm of its width look out on the average, at a place in mm; ``deep``:
    whether it stands farther behind the edge over it than the house has it; ``turned``: its ``foot`` or its ``top``,
    whichever lies on the wrong side of its upright."""

    piece: str
    over: str
    bare: float
    at: Spot
    deep: bool = False
    turned: str = ""

    @property
    def ok(self) -> bool:
        return self.bare <= _BARE and not self.deep and not self.turned


def hidden(strips: list[Standing], cover: shapely.Geometry, over: str, out: Array) -> Iterator[Hidden]:
    """How much of each strip under one trim, seen from above, no piece of the trim covers, in mm of its width; where
    the trim ends is asked by itself. ``cover``: what the trim covers; ``out``: from the strip to the edge over it, in
    plan, mm: so much farther out it is just covered."""
    size = max(float(np.linalg.norm(out)), 1e-9)
    copies = lying_alike(strips)
    kinds = {n: (_long(strips[n]), _turned(strips[n], out)) for n in dict.fromkeys(n for n, _ in copies)}
    own = _plans(strips, copies)
    bare = _bare(own, out * max(1.0 - _OFF / size, 0.0), cover)
    past = shapely.area(_bare(own, out * (1.0 + _OFF / size), cover))
    for n, strip in enumerate(strips):
        (long, turned), at = kinds[copies[n][0]], strip.middle
        if not bare[n].is_empty:
            x, y = bare[n].representative_point().coords[0]
            at = np.array([x, y, at[2]])
        yield Hidden(strip.name, over, float(bare[n].area) / max(long, 1.0), spot(at),
                     long > _LONG and float(past[n]) / max(long, 1.0) < _JUST, turned)


def way_of(strips: list[Standing]) -> Array:
    """Along the strips under one trim, in plan, 1 mm long in space: as the longest of them lies."""
    kinds = dict.fromkeys(n for n, _ in lying_alike(strips))
    return np.asarray(max((strips[n] for n in kinds), key=_long).way[:2])


def covered(trims: list[Standing], way: Array) -> shapely.Geometry:
    """What the pieces of a trim cover, and would if it went on past both its ends, in plan; ``way``: along it."""
    whole = overlay.union_all(_plans(trims, lying_alike(trims)))
    cover = overlay.union_all([translate(whole, *(way * far)) for far in np.linspace(-_PAST, _PAST, 9)])
    shapely.prepare(cover)
    return cover


def _long(strip: Standing) -> float:
    """How long a strip is, mm: its largest part's area by how wide it is; of one cut slanting less than from tip to
    tip."""
    n = int(np.argmax(strip.sizes))
    across = cross(strip.normals[n], strip.way)
    return float(strip.sizes[n]) / max(float(np.ptp(strip.parts[n] @ across)), 1e-9)


def _bare(plans: Shapes, by: Array, cover: shapely.Geometry) -> Shapes:
    """What looks out of each of the strips from under the cover, when they are moved ``by`` in plan, mm."""
    moved: Shapes = shapely.transform(plans, lambda places: places + by)
    under = shapely.covers(cover, moved)
    moved[under] = shapely.Polygon()
    moved[~under] = overlay.difference(moved[~under], cover)
    return moved


def _turned(strip: Standing, out: Array) -> str:
    """Which flange of a zed lies on the wrong side of its upright: screws go through its foot where no rain comes, its
    top carries the edge over it."""
    large = [n for n, size in enumerate(strip.sizes) if size > max(strip.sizes) / 2]
    square = max((strip.normals[n] for n in large), key=lambda each: abs(float(each[2])))
    square = square * np.sign(square[2])
    flanges = [n for n in large if abs(float(strip.normals[n] @ square)) > _PARALLEL]
    webs = [n for n in large if n not in flanges]
    if len(flanges) != 2 or len(webs) != 1:
        return ""
    foot, top = sorted((strip.parts[n].mean(axis=0) for n in flanges), key=lambda middle: float(middle @ square))
    web = strip.parts[webs[0]].mean(axis=0)
    outward = np.array([*out, 0.0])
    outward = outward - (outward @ square) * square  # along the flanges
    if float((foot - web) @ outward) > 0.0:
        return "foot"
    return "top" if float((top - web) @ outward) < 0.0 else ""


def _plans(pieces: list[Standing], copies: list[tuple[int, Array]]) -> Shapes:
    """Each piece in plan, of the parts that do not stand upright; ``copies``: which lie alike."""
    kinds = {n: place for place, n in enumerate(dict.fromkeys(n for n, _ in copies))}
    lying = [pieces[n].plans[np.abs(np.array(pieces[n].normals)[:, 2]) > UPRIGHT] for n in kinds]
    grown = overlay.grown(np.concatenate(lying), _GRID)  # or shared edges were lost
    of = np.repeat(np.arange(len(kinds)), [len(parts) for parts in lying])
    rows = np.full((len(kinds), max(np.bincount(of, minlength=1).max(), 1)), None, dtype=object)
    rows[of, np.arange(len(of)) - np.searchsorted(of, of)] = grown
    plans = np.asarray(overlay.union_all(rows, axis=1))[[kinds[n] for n, _ in copies]]
    places, of = shapely.get_coordinates(plans, return_index=True)
    shifts = np.array([shift[:2] for _, shift in copies])
    return np.asarray(shapely.set_coordinates(plans, places + shifts[of]))
