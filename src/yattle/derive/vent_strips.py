"""The strips that let air in under an eave: on the back of its board, where no lower roof comes up to it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from yattle import overlay
from yattle.derive.corners import run_frame
from yattle.derive.zeds import VentPlace
from yattle.job.model import Run
from yattle.pattern.surface import Array
from yattle.roof import Edge, Roof

_OVER_ROOF = 120.0  # mm over a lower roof, square to it, that stay free: panels, seams, the trim at its top, a hand
_BESIDE = 60.0  # mm round a lower roof: its trim, its panels' overhang
_SAME = 1.0  # mm
_IN_LINE = 0.05  # of a mitre's plane along an eave: less is none
_LEAST = 200.0  # mm of a strip that are worth one


def behind_the_board(roof: Roof, edge: Edge, strip: Run, under: VentPlace) -> Iterator[Run]:
    """An eave's vent ``strip``, which goes along the whole of it, in as many parts as lower roofs leave of it: mitred
    at a corner with another eave, ended on the back of a gable's board."""
    left, right, frame = run_frame(roof, edge)
    own = [0.0, edge.length]
    for n, (at, plane) in enumerate(((left, "left_plane"), (right, "right_plane"))):
        if any(other.kind == "rake" for other in roof.ending_at(at)):
            own[n] += under.board * (1.0 - 2.0 * n)
            strip = strip.but(**{plane: None})
    strip = _mitred(roof, edge, strip, under)
    free = shapely.LineString([(own[0], 0.0), (own[1], 0.0)]).difference(_taken(roof, edge, left, frame, under))
    for part in getattr(free, "geoms", (free,)):
        if part.length > _LEAST:
            low, _, high, _ = part.bounds
            yield _between(strip, low, high, edge.length)


def _mitred(roof: Roof, edge: Edge, strip: Run, under: VentPlace) -> Run:
    """A strip cut in the upright plane between its eave and the next one at each end where nothing else cuts it."""
    left, right, frame = run_frame(roof, edge)
    planes, reaches = [strip.left_plane, strip.right_plane], list(strip.reaches)
    for n, (plane, at, way) in enumerate(zip(tuple(planes), (left, right), (frame[0], -frame[0]), strict=True)):
        ending = roof.ending_at(at)
        for other in ending if plane is None and all(other.kind != "rake" for other in ending) else ():
            if other.kind != "eave" or other.id == edge.id:
                continue
            far = np.array(other.b if np.linalg.norm(np.array(other.a) - at) < _SAME else other.a) - at
            across = way - far / np.linalg.norm(far)  # level, and square to the plane that halves the corner
            along, out, _ = (frame @ across / np.linalg.norm(across)).tolist()
            if abs(along) < _IN_LINE:  # they go on in one line
                continue
            reach = (1.0 - 2.0 * n) * out / along * -under.board
            planes[n], reaches[2 * n:2 * n + 2] = (along, out, 0.0), [reach, reach]
    return strip.but(left_plane=planes[0], right_plane=planes[1], reaches=tuple(reaches))


def _taken(roof: Roof, edge: Edge, left: Array, frame: Array, under: VentPlace) -> shapely.Geometry:
    """Where along an eave, mm, another roof comes so near to the foot of its board, or a trim on it, that no strip has
    room."""
    along, inward = frame[0][:2], -frame[1][:2]
    band = shapely.box(0.0, -_BESIDE, edge.length, under.board + under.face + _BESIDE)
    foot = edge.a[2] - under.fascia
    found = []
    beside = {name for at in (edge.a, edge.b) for other in roof.ending_at(at) if other.kind == "eave"
              for name in other.facets}  # its own, and those round its corners, whose strips meet it
    for facet in roof.facets:
        if facet.id in beside:
            continue
        seen = shapely.transform(facet.shape, lambda places: (places - left[:2]) @ np.column_stack((along, inward)))
        ways = np.array([facet.plane.gx, facet.plane.gy])
        slope, at = (float(ways @ along), float(ways @ inward)), facet.plane.z((float(left[0]), float(left[1])))
        high = _higher(slope, foot - _OVER_ROOF * facet.plane.stretch - at, edge.length)
        if high.intersects(band):
            near = overlay.intersection(seen, overlay.intersection(high, band))
            if not near.is_empty:
                found.append(shapely.box(near.bounds[0] - _BESIDE, -1.0, near.bounds[2] + _BESIDE, 1.0))
    return overlay.union_all(found)


def _higher(slope: tuple[float, float], than: float, long: float) -> shapely.Geometry:
    """The part of a plane through 0 that rises by ``slope`` along x and y which is higher ``than`` so many mm, near an
    edge ``long`` mm long."""
    steep = float(np.hypot(*slope))
    far = 10.0 * long + 10_000.0
    if steep < 1e-9:
        return shapely.box(-far, -far, far, far) if than < 0.0 else shapely.Polygon()
    up = np.array(slope) / steep
    side, foot = np.array([-up[1], up[0]]), up * (than / steep)
    return shapely.Polygon([foot - side * far, foot + side * far, foot + (side + up) * far, foot + (up - side) * far])


def _between(strip: Run, low: float, high: float, long: float) -> Run:
    """The part of a strip from ``low`` to ``high`` mm along its eave, ``long`` mm: square where that is not its end."""
    begins, ends = low > _SAME, high < long - _SAME
    if not begins and not ends:
        return strip
    return strip.but(length=(high if ends else strip.length) - (low if begins else 0.0),
                     left_plane=None if begins else strip.left_plane, right_plane=None if ends else strip.right_plane,
                     corner_cuts=tuple(cut for cut in strip.corner_cuts if not (begins if cut.end == "left" else ends)),
                     reaches=(*((-low,) * 2 if begins else strip.reaches[:2]),
                              *((high - long,) * 2 if ends else strip.reaches[2:])))
