"""What stands in a face behind an opening, and so is cut out of the panels that begin above it."""

from __future__ import annotations

from functools import lru_cache, partial

import numpy as np
import shapely
from shapely.affinity import translate

from yattle import overlay
from yattle.derive.frames import Frame, face_frame_of, frame_of_opening
from yattle.derive.openings import developed, form_on
from yattle.derive.raised import built_up
from yattle.derive.run import common_of
from yattle.details.chimney import Chimney
from yattle.details.curb import Curb
from yattle.details.forms import Form, FormPiece
from yattle.job.model import Job
from yattle.pattern.rings import UPRIGHT, area_vector, before_plane
from yattle.pattern.surface import Array
from yattle.roof import Roof, build
from yattle.roof.openings import Placed

_CLEAR = 20.0  # mm behind a cricket, where the panels above it begin
_STANDS = 0.05, 45.0  # mm over the flats, from, and to at the least: what stands there no panel runs through
_NAMES = "cricket", "diverter"


@lru_cache(maxsize=256)  # every row of the roof put together asks for its panels
def cut_round(job: Job, face: str) -> shapely.Geometry:
    """What the panels of a face are cut round where they begin above an opening, in the face's own coordinates, mm: its
    cricket, its diverter; nothing where an opening cannot be made."""
    roof, metal = build(job.roof), common_of(job).metal
    facet = roof.facet(face)
    frame, made_up = face_frame_of(job, facet), built_up(job, face)
    high, shapes = max(_STANDS[1], made_up.seams - made_up.flat), list[shapely.Geometry]()
    for placed in roof.openings:
        if placed.facets != (face,) or placed.opening.kind == "pipe":
            continue
        made = developed(lambda placed=placed: form_on(job, roof, placed, metal),  # type: ignore[misc]
                         (placed.opening.id, "", "", ""), ())
        if isinstance(made.form, Chimney | Curb):
            asked = "behind", face, made_up, placed.opening.id, made.form  # what its frames and its pieces follow from
            shapes += roof.once(asked, partial(_behind, job, roof, placed, made.form, made.pieces, frame, high))
    return overlay.union_all(shapes) if shapes else shapely.Polygon()


def _behind(job: Job, roof: Roof, placed: Placed, form: Form, pieces: tuple[FormPiece, ...], frame: Frame,
            high: float) -> list[shapely.Geometry]:
    """What stands behind one opening with the gap there, and what that stands over beside it."""
    own, gap = frame_of_opening(job, roof, placed, form), getattr(form, "above_gap", _CLEAR)
    assert own is not None
    faces = (face for piece in pieces for face in piece.surface.faces
             if any(word in piece.surface.name for word in _NAMES))
    parts = [_standing_part(np.array(face.corners) @ own.turn.T + own.at, frame, high) for face in faces]
    if not parts:
        return []
    feet = (np.array(placed.corners) - frame.at) @ frame.turn
    upper = shapely.MultiPoint(feet[feet[:, 1] > feet[:, 1].mean(), :2])
    return [*(overlay.union_all([part, translate(part, 0.0, gap)]).convex_hull for part in parts),
            overlay.union_all([*parts, upper]).convex_hull]


def _standing_part(corners: Array, frame: Frame, high: float) -> shapely.Geometry:
    """What of a flat part stands over the flats, seen square to the face: of an upright one up to ``high`` mm, of
    others all."""
    own, square = (corners - frame.at) @ frame.turn, area_vector(corners)
    above, _ = before_plane(own, np.array([0.0, 0.0, -1.0]), -_STANDS[0])
    if len(above) > 2 and abs(float(square[2])) < UPRIGHT * float(np.linalg.norm(square)):
        above, _ = before_plane(above, np.array([0.0, 0.0, 1.0]), high)
    return shapely.MultiPoint(above[:, :2].tolist()).convex_hull if len(above) > 2 else shapely.Polygon()
