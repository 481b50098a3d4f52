"""The frames in which faces and what stands in them are made, in the roof's coordinates, as high as its flats."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.derive.raised import built_up
from yattle.details.chimney import Chimney
from yattle.details.curb import Curb
from yattle.details.forms import Form
from yattle.details.pipe import Pipe
from yattle.job.model import Job
from yattle.pattern.rings import cross
from yattle.pattern.surface import Array
from yattle.roof import Facet, Roof
from yattle.roof.drain import axes
from yattle.roof.openings import Placed
from yattle.roof.panels import face_frame


@dataclass(frozen=True)
class Frame:
    """Where a frame's axes point, the columns of ``turn`` (3, 3), and where its zero lies, mm."""

    turn: Array
    at: Array


def slope_axes(facet: Facet) -> Array:
    """Across a face to the right as seen from below, up its slope, and square to it; columns (3, 3), each 1 mm long."""
    (ax, ay), (fx, fy) = axes(facet.plane)
    lean = math.radians(facet.plane.pitch)
    across = np.array([ax, ay, 0.0])
    up = np.array([-fx * math.cos(lean), -fy * math.cos(lean), math.sin(lean)])
    return np.column_stack((across, up, cross(across, up)))


def face_frame_of(job: Job, facet: Facet) -> Frame:
    """A face's own coordinates (across, up the slope, square to it) where its panels' flats lie; mm."""
    slope, (a, b, c, d, e, f) = slope_axes(facet), face_frame(facet).matrix
    x, y = np.linalg.solve(np.array([[a, b], [c, d]]), np.array([-e, -f]))
    zero = np.array([x, y, facet.plane.z((float(x), float(y)))])
    return Frame(slope, zero + slope[:, 2] * built_up(job, facet.id).flat)


def frame_of_opening(job: Job, roof: Roof, placed: Placed, form: Form | None) -> Frame | None:
    """The frame of an opening's form on the panels of its face, mm; ``None`` of what has no form there."""
    facet = roof.facet(placed.facets[0])
    slope, (fx, fy), own = slope_axes(facet), axes(facet.plane)[1], placed.opening
    down, plumb = np.array([fx, fy, 0.0]), np.array([0.0, 0.0, 1.0])
    single = len(placed.facets) == 1 and not isinstance(form, Curb)  # it stands plumb where it is surveyed
    raised = (plumb * built_up(job, facet.id).flat * facet.plane.stretch if single else
              _onto_flats(job, roof, placed.facets))
    at = np.array([own.x, own.y, facet.plane.z((own.x, own.y))]) + raised
    turns = {Chimney: (slope[:, 0], -down, plumb), Pipe: (down, slope[:, 0], plumb), Curb: tuple(slope.T)}
    turn = next((turn for kind, turn in turns.items() if isinstance(form, kind)), None)
    return None if turn is None else Frame(np.column_stack(turn), at)


def _onto_flats(job: Job, roof: Roof, faces: tuple[str, ...]) -> Array:
    """From the planes of one or more faces to where their panels' flats lie, mm: by the least way that comes to all."""
    rows = np.array([roof.facet(face).plane.normal for face in faces])
    by: Array = np.linalg.lstsq(rows, np.array([built_up(job, face).flat for face in faces]), rcond=None)[0]
    return by
