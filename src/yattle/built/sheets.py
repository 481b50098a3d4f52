"""Every flat part of a roof as it lies, seen from above: what lies over a place, how high, and which goes on later."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle import overlay
from yattle.pattern.rings import UPRIGHT, area_vectors
from yattle.pattern.surface import Array

_OVERHANG = 0.7  # of what is seen from below: a wall square to a slope leans out; no rain falls on its back
LEVEL = 0.0087  # sine of half a degree: less is level, and nothing runs
STANDS = 8.0  # mm: what stands no higher stops no water
_LEAST = 4.0  # mm²: smaller parts are corners of hems
Numbers = NDArray[np.int64]


@dataclass(frozen=True)
class Sheet:
    """A flat part: ``name`` of its piece or panel, corners (n, 3) in the roof's coordinates, mm; ``order``: when it
    goes on; of two that lie on each other the later one lies over the other; ``item``: what goes on with it."""

    name: str
    ring: Array
    order: float
    item: str = ""


@dataclass(frozen=True)
class Found:
    """Which sheets lie over or under which places: ``place`` and ``sheet`` by number, ``z`` in mm."""

    place: Numbers
    sheet: Numbers
    z: Array


class Sheets:
    """The parts with area. ``normals`` point up; ``falls``: where water runs on each in plan, 1 mm long, zero on level
    ones; ``slopes``: sine of their pitch."""

    def __init__(self, sheets: Sequence[Sheet]) -> None:
        areas = area_vectors([one.ring for one in sheets])
        sizes = np.linalg.norm(areas, axis=1)
        keep = np.nonzero(sizes > _LEAST)[0]
        self.sheets = [sheets[n] for n in keep.tolist()]
        normals = areas[keep] / sizes[keep, None]
        self.normals = normals * np.where(normals[:, 2:] < 0, -1.0, 1.0)
        self.origins = np.array([one.ring[0] for one in self.sheets]).reshape(-1, 3)
        self.orders = np.array([one.order for one in self.sheets])
        names = {name: n for n, name in enumerate(dict.fromkeys(one.name for one in self.sheets))}
        self.owners = np.array([names[one.name] for one in self.sheets], dtype=np.int64)
        hangs = (areas[keep, 2] < 0) & (self.normals[:, 2] < _OVERHANG)
        self.lies = (self.normals[:, 2] >= UPRIGHT) & ~hangs
        self.slopes = np.hypot(self.normals[:, 0], self.normals[:, 1])
        self.falls = self.normals[:, :2] / np.maximum(self.slopes, 1e-9)[:, None]

    def name(self, sheet: int) -> str:
        """Of the piece or panel that a part belongs to."""
        return self.sheets[sheet].name

    @cached_property
    def order_of(self) -> dict[str, float]:
        """When each piece or panel goes on, in stages (no mm), by its name."""
        return {one.name: one.order for one in self.sheets}

    @cached_property
    def plans(self) -> NDArray[np.object_]:
        """The parts that lie, in plan; upright ones as nothing."""
        found = np.full(len(self.sheets), shapely.Polygon(), dtype=object)
        found[self.lies] = overlay.polygons([self.sheets[n].ring[:, :2] for n in np.nonzero(self.lies)[0].tolist()])
        bad = ~shapely.is_valid(found)
        found[bad] = shapely.buffer(found[bad], 0.0)
        return found

    @cached_property
    def _tree(self) -> shapely.STRtree:
        return shapely.STRtree(self.plans)

    @cached_property
    def _uprights(self) -> tuple[shapely.STRtree, Numbers]:
        """The upright parts' lines in plan, and their numbers."""
        numbers = np.nonzero(~self.lies)[0]
        lines = [shapely.LineString(self.sheets[n].ring[:, :2]) for n in numbers.tolist()]
        return shapely.STRtree(lines), numbers

    def upright_near(self, place: Array, far: float) -> list[int]:
        """Upright parts within ``far`` mm of a place in plan."""
        tree, numbers = self._uprights
        found = tree.query(shapely.Point(place), predicate="dwithin", distance=far)
        return [int(numbers[n]) for n in found.tolist()]

    def pairs(self) -> tuple[Numbers, Numbers]:
        """All lying parts of different pieces that overlap in plan, each pair both ways round."""
        one, other = self._tree.query(self.plans, predicate="intersects")
        keep = self.owners[one] != self.owners[other]
        return one[keep], other[keep]

    def round(self, place: Array, far: float) -> list[int]:
        """All parts that come within ``far`` mm of a place in plan, lying or upright."""
        lying = self._tree.query(shapely.Point(place), predicate="dwithin", distance=far)
        return [*lying.tolist(), *self.upright_near(place, far)]

    def uprights_on(self, way: shapely.LineString) -> list[tuple[int, float]]:
        """Upright parts that a way in plan crosses, the nearest first, each with how far along that is, mm."""
        tree, numbers = self._uprights
        found = []
        for n in tree.query(way, predicate="intersects").tolist():
            cut = overlay.intersection(way, tree.geometries[n])
            found.append((int(numbers[n]), float(way.project(shapely.Point(cut.coords[0]) if cut.geom_type in (
                "Point", "LineString") else shapely.get_parts(cut)[0].representative_point()))))
        return sorted(found, key=lambda one: one[1])

    def at(self, places: Array) -> Found:
        """All that lie over or under places (n, 2) in plan, mm."""
        if not len(places) or not self.sheets:
            none = np.empty(0, dtype=np.int64)
            return Found(none, none, np.empty(0))
        place, sheet = self._tree.query(shapely.points(places), predicate="intersects")
        return Found(place, sheet, self.heights(sheet, places[place]))

    def heights(self, sheets: Numbers, places: Array) -> Array:
        """How high each part's plane lies over its place, mm."""
        plane = self._planes[sheets]
        return np.asarray(plane[:, 0] + plane[:, 1] * places[:, 0] + plane[:, 2] * places[:, 1])

    @cached_property
    def _planes(self) -> Array:
        """Of each part the height of its plane over the roof's origin, mm, and how that grows with x and y; upright
        ones stand over no place."""
        upright = self.normals[:, 2] == 0.0
        grows = -self.normals[:, :2] / np.where(upright, np.nan, self.normals[:, 2])[:, None]
        return np.column_stack((self.origins[:, 2] - (self.origins[:, :2] * grows).sum(axis=1), grows))
