"""One end of an edge's run: which planes cut it, found in the roof's own space from what borders the face there."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from typing import Literal, NamedTuple

import numpy as np
import shapely

from yattle.derive.corners import Array, EndPlane, outward
from yattle.derive.under_roofs import under_a_board, under_a_valley, under_its_wall_s_roof
from yattle.pattern.rings import cross
from yattle.roof import Edge, Facet, Roof
from yattle.roof.at_edge import into, sides
from yattle.roof.drain import foot_on
from yattle.roof.edges import WALLS

ALONG = 0.15
"""Of a plane's unit normal along a piece: one with less makes no end."""
STEP = 1500.0
"""How far below a valley's foot, along it and in plan, the lower of its two eave lines may lie, mm."""
_NEAR = 2.0  # mm: ends that are that near are one corner
_ONE_WAY = math.cos(math.radians(0.1))
_BEHIND = 150.0  # mm behind an eave's line, where its flange has ended
_SPILLS = 200.0  # mm that a valley's foot goes on over the panels beside a wall that begins there
_BESIDE_A_FOOT = 600.0  # mm in plan: no side of a valley's pan is as wide
_BEFORE = 20.0  # mm beyond an end to where a face is looked for
UP = np.array([0.0, 0.0, 1.0])


class LaidOver(NamedTuple):
    """The panels of a face: how far they go past its eave, mm on the slope, and how high their seams stand over its
    plane, mm; 0 where it is not said."""

    overhang: float = 0.0
    high: float = 0.0


class RunCorner:
    """One end of an edge: ``at`` in mm, ``away`` the unit direction from there along the edge."""

    def __init__(self, roof: Roof, edge: Edge, at: Array, away: Array,
                 panels: Mapping[str, LaidOver]) -> None:
        self.roof, self.edge, self.at, self.away, self.panels = roof, edge, at, away, panels
        self.low = away[2] > 0.009  # half a degree

    def cuts(self) -> tuple[EndPlane | None, EndPlane | None]:
        """The plane on the side of edge A and that on the side of edge B."""
        kind = self.edge.kind
        if kind in ("valley", "hip", "ridge"):
            a, b = sides(self.roof, self.edge)
            cut = self._at_ridge if kind == "ridge" else self._at_foot if self.low else self._at_head
            return cut(a), cut(b)
        if kind == "eave":
            return self._round_a_corner()
        if kind == "rake" or kind in WALLS:
            return self._at_peak()
        return None, None

    def corners(self) -> Iterator[tuple[Literal["a", "b"], EndPlane]]:
        """What borders a valley's faces so near beside its foot that the pan's sides would go out over it: rakes and
        hips that do not end there; what lies low over a flashing's end."""
        if self.edge.kind in WALLS and not self.low and under_a_valley(self.roof, self.edge, self.at)[0] is None:
            for plane in under_its_wall_s_roof(self.roof, self.edge, self.at, self.away):
                yield from (("a", plane), ("b", plane))
        if self.edge.kind != "valley" or not self.low:
            return
        sided: tuple[tuple[Literal["a", "b"], str], ...] = tuple(zip(("a", "b"), sides(self.roof, self.edge),
                                                                     strict=True))
        for side, face in sided:
            for other in (e for e in self.roof.edges_of(face) if e.kind in ("rake", "hip")):
                x, y = into(self.roof, other, face)
                out, line = np.array([-x, -y, 0.0]), shapely.LineString([other.a[:2], other.b[:2]])
                if line.distance(shapely.Point(self.at[:2])) < _BESIDE_A_FOOT and float(out @ self.away) < 0.0:
                    yield side, EndPlane(out, np.array(other.a))

    def past(self) -> float:
        """How far the panels' ends go on beyond this end, along the run, mm; 0 where none do."""
        if not self.low or self.edge.kind not in ("valley", "hip", "rake", *WALLS):
            return 0.0
        found = [self._panels_past(face) for face in self.edge.facets]
        return max(found, default=0.0)

    def _panels_past(self, face: str) -> float:
        eave = next((e for e in self._next(face) if e.kind == "eave"), None)
        along = -float(outward(self.roof, eave) @ self.away) if eave is not None else 0.0
        return self._overhang(face) / along if along > ALONG else 0.0

    def _overhang(self, face: str) -> float:
        """In plan, of a face's panels past its eave, mm."""
        return self.panels.get(face, LaidOver()).overhang * self.roof.facet(face).plane.normal[2]

    def _next(self, face: str) -> list[Edge]:
        """A face's other edges that end at this corner, the nearest first."""
        x = float(self.at[0])
        near = [(min(math.dist(end, self.at) for end in (e.a, e.b)), e.id, e) for e in self.roof.edges_of(face)
                if e.id != self.edge.id and (abs(e.a[0] - x) < _NEAR or abs(e.b[0] - x) < _NEAR)]
        return [e for far, _, e in sorted(near, key=lambda item: item[:2]) if far < _NEAR]

    def _from(self, other: Edge) -> Array:
        """The unit direction in which another edge leaves this corner."""
        a, b = np.array(other.a), np.array(other.b)
        way = b - a if np.linalg.norm(a - self.at) < np.linalg.norm(b - self.at) else a - b
        return np.asarray(way / np.linalg.norm(way))

    def _over(self, other: Edge) -> EndPlane:
        """The upright plane over an edge."""
        return EndPlane(cross(np.array(other.b) - np.array(other.a), UP), np.array(other.a))

    def _at_wall(self, wall: Edge, past: float = 0.0) -> EndPlane:
        """A wall's plane, or one so many mm before it: a valley's foot goes on past a wall's corner, over the panels
        there."""
        out = outward(self.roof, wall)
        return EndPlane(out, np.array(wall.a) - out * past)

    # -- creases ---------------------------------------------------------------------------------

    def _at_foot(self, face: str) -> EndPlane | None:
        """Over the face's own eave, as far out as its panels go, though the other face's eave lies higher up; a hip's
        wing, and a valley's side, end at a rake that borders the face."""
        for other in self._next(face):
            if other.kind == "eave":
                return self._over_eave(other, face)
            if other.kind == "rake":
                return self._over(other)
            if other.kind in WALLS:
                spills = self.edge.kind == "valley" and foot_on(self.roof, self.edge) == face
                return self._at_wall(other, _SPILLS if spills else 0.0)
        eave = self._eave_below(face)
        return self._over_eave(eave, face) if eave is not None else None

    def _eave_below(self, face: str) -> Edge | None:
        """The eave that water running down a face from this corner comes to, if it is near."""
        fall = self.roof.facet(face).plane.fall
        if fall is None:
            return None
        found = []
        for eave in (e for e in self.roof.edges_of(face) if e.kind == "eave"):
            out, a, b = outward(self.roof, eave)[:2], np.array(eave.a[:2]), np.array(eave.b[:2])
            far = float(out @ (a - self.at[:2])) / float(out @ fall)
            along = float((self.at[:2] + far * np.array(fall) - a) @ (b - a)) / float((b - a) @ (b - a))
            if -1.0 < far < STEP and -0.01 < along < 1.01:
                found.append((far, eave))
        return min(found, key=lambda item: item[0], default=(0.0, None))[1]

    def _over_eave(self, eave: Edge, face: str) -> EndPlane:
        out = outward(self.roof, eave)
        return EndPlane(out, np.array(eave.a) + out * self._overhang(face))

    def _at_head(self, face: str) -> EndPlane | None:
        """Over the ridge, the top edge or at the wall that its face ends at, or halving the corner where another valley
        or hip of that face meets it (two valleys below a dormer's ridge)."""
        for other in self._next(face):
            if other.kind in ("ridge", "half-ridge"):
                return self._over(other)
            if other.kind in ("valley", "hip"):
                return EndPlane(self._from(other) - self.away, self.at)
            if other.kind in WALLS:
                return self._at_wall(other)
        return None

    def _at_ridge(self, face: str) -> EndPlane | None:
        """Along the valley in which its face ends, or the hip where another ridge goes on; else at a wall, by the
        wall: one may go on from the ridge, beside such a valley."""
        beside = self._next(face)  # of valleys at both sides of a crossing, round which the face goes on, its own
        for other in sorted(beside, key=lambda other: -float(self._from(other) @ self.away)
                            if other.kind == "valley" else 1.0):
            if other.kind == "valley" or (other.kind == "hip" and self._other_ridge()):
                return self._over(other)
        wall = next((other for other in beside if other.kind in WALLS), None)
        return self._at_wall(wall) if wall is not None else None

    def _other_ridge(self) -> bool:
        return any(e.kind == "ridge" and e.id != self.edge.id for e in self.roof.ending_at(self.at))

    # -- free edges and walls ----------------------------------------------------------------------

    def _alike(self, same_wall: bool) -> Edge | None:
        """Another edge of this kind that leaves the corner, in the same upright plane (a rake's may turn) or in any."""
        own = outward(self.roof, self.edge)
        for other in self.roof.ending_at(self.at):
            if other.kind != self.edge.kind or other.id == self.edge.id or other.wall != self.edge.wall:
                continue
            least = -2.0 if not same_wall else _ONE_WAY if other.wall else -_ONE_WAY
            if float(own @ outward(self.roof, other)) > least:
                return other
        return None

    def _round_a_corner(self) -> tuple[EndPlane | None, EndPlane | None]:
        """An eave that goes on round a corner: the flanges part over the crease between their faces, what hangs is
        mitred; into a wall by the wall."""
        other = self._alike(False)
        if other is None or abs(float(outward(self.roof, self.edge) @ outward(self.roof, other))) > _ONE_WAY:
            hip = self._hip_beside() if other is None else None
            if hip is not None:  # it ends where another face begins, on another eave line
                return hip, EndPlane(self.away, self.at)
            wall = next((e for e in self._next(self.edge.facets[0]) if e.kind in WALLS), None)
            return (self._at_wall(wall), None) if wall is not None else self._on_the_face_below()
        mitre = EndPlane(self._from(other) - self.away, self.at)
        crease = next((e for e in self._next(self.edge.facets[0]) if e.kind in ("hip", "valley")
                       and other.facets[0] in e.facets), None)
        return (self._over(crease) if crease is not None else mitre), mitre

    def _hip_beside(self) -> EndPlane | None:
        """The upright plane over a hip whose foot is at this end of an eave, or so near beside it that the flange would
        go over it: from the end to the hip behind the flange."""
        face = self.edge.facets[0]
        out = outward(self.roof, self.edge)
        for hip in (e for e in self.roof.edges_of(face) if e.kind == "hip"):
            foot, head = (np.array(end) for end in sorted((hip.a, hip.b), key=lambda end: end[2]))
            inward = -float((head - foot) @ out)
            if math.dist(foot[:2], self.at[:2]) < _NEAR:
                return self._over(hip)
            if math.dist(foot[:2], self.at[:2]) < _BEHIND and inward > _BEHIND:
                deep = float((foot - self.at) @ out)  # of its foot behind the eave's line, below 0
                behind = foot + (head - foot) * (_BEHIND + deep) / inward
                return EndPlane(cross(behind - self.at, UP), self.at)
        return None

    def _at_peak(self) -> tuple[EndPlane | None, EndPlane | None]:
        """A rake, or a wall's flashing, over a peak: halved with the one that comes up from the other side; a rake's
        head by the wall or over the top edge it ends at."""
        other = self._alike(True)
        broken = self.edge.kind == "rake" and any(e.kind == "pitch-break" for e in self.roof.ending_at(self.at))
        if broken and other is not None:  # the rake goes on at another pitch
            mitre = EndPlane(self._from(other) - self.away, self.at)
            return mitre, mitre
        if broken and not self.low:
            return self._under_the_face_above()
        if other is not None and not self.low and self._from(other)[2] < -0.009 and self.away[2] < -0.009:
            return self._over_the_peak(other)
        if self.edge.kind in WALLS and not self.low:
            head = next((e for e in self._next(self.edge.facets[0]) if e.kind == "headwall"), None)
            if self.edge.kind == "sidewall" and head is not None:
                return self._at_wall(head), self._at_wall(head)
            return under_a_valley(self.roof, self.edge, self.at)
        if self.edge.kind in WALLS and self.low:
            return under_a_board(self.roof, self.edge, self.at, self.away)
        if self.edge.kind == "rake" and self.low:
            return self._on_the_face_below()
        if self.edge.kind != "rake":
            return None, None
        for beside in self._next(self.edge.facets[0]):
            if beside.kind in WALLS:
                return self._at_wall(beside), None
            if beside.kind == "half-ridge":
                return EndPlane(outward(self.roof, beside), self.at), None
        return None, None

    def _on_the_face_below(self) -> tuple[EndPlane | None, EndPlane | None]:
        """An eave or a rake's foot that comes out over another face: along that one, whose panels go on beneath."""
        place = shapely.Point(self.at[:2])
        for facet in self.roof.facets:
            level = abs(facet.plane.z((self.at[0], self.at[1])) - self.at[2]) < _NEAR
            if level and facet.id not in self.edge.facets and facet.shape.distance(place) < _NEAR and self._goes_on(
                    facet):
                return self._on_panels(facet)
        return None, None

    def _under_the_face_above(self) -> tuple[EndPlane | None, EndPlane | None]:
        """A rake's head where its face ends under another roof's panels: on these."""
        crease = next(e for e in self.roof.ending_at(self.at) if e.kind == "pitch-break")
        above = next((name for name in crease.facets if name not in self.edge.facets), None)
        if above is None:
            return None, None
        return self._on_panels(self.roof.facet(above))

    def _on_panels(self, facet: Facet) -> tuple[EndPlane, EndPlane]:
        """Along a face that comes to this corner, on the seams of its panels."""
        normal = np.array(facet.plane.normal)
        cut = EndPlane(normal, self.at + normal * self.panels.get(facet.id, LaidOver()).high)
        return cut, cut

    def _goes_on(self, facet: Facet) -> bool:
        """Whether a face lies beyond this end, under what hangs there."""
        before = self.at[:2] - self.away[:2] * _BEFORE - outward(self.roof, self.edge)[:2] * _NEAR
        return bool(facet.shape.distance(shapely.Point(before)) < _NEAR) or bool(
            facet.shape.distance(shapely.Point(self.at[:2] + outward(self.roof, self.edge)[:2] * _BEFORE)) < _NEAR)

    def _over_the_peak(self, other: Edge) -> tuple[EndPlane, EndPlane]:
        halving = self._from(other) - self.away
        mitre = EndPlane(halving, self.at)
        if float(outward(self.roof, self.edge) @ outward(self.roof, other)) > _ONE_WAY:
            return mitre, mitre
        ridge = next((e for e in self._next(self.edge.facets[0]) if e.kind == "ridge"), None)
        if ridge is None:
            return mitre, mitre
        along = self._from(ridge)  # the flanges meet on the ridge, what hangs on the plumb line below it
        return (EndPlane(halving - (halving @ along) * along, self.at),
                EndPlane(np.array([halving[0], halving[1], 0.0]), self.at))
