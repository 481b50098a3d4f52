"""Pieces as they stand installed, seen from before and above: for pages of paper, and where a measure of them is."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from yattle.drawing.marked import marked, seen_near
from yattle.drawing.shapes import MEASURED, Drawing, Line, Ring, Shape
from yattle.pattern.surface import Array, Corner, Face, Surface

_AZIMUTH, _TILT = math.radians(-32.0), math.radians(34.0)  # as the window shows them first
_LIFT = 0.6  # mm: later pieces lie on those before them
_MOST = 0.5  # of the faces: where more change with a measure it is shown by none


def installed_drawing(surfaces: Iterable[Surface]) -> Drawing:
    """Every face of the pieces from the farthest to the nearest, in mm as seen; holes as their outlines, templates of
    paper left out."""
    turn = _view()
    found: list[tuple[float, str, tuple[tuple[float, float], ...]]] = []
    for n, surface in enumerate(surface for surface in surfaces if not surface.paper):
        for face in surface.faces:
            points = (np.array(face.corners) + face.normal * _LIFT * n) @ turn.T
            role = "seen" if float((turn @ face.normal)[2]) > 0 else "seen-back"
            found.append((float(points[:, 2].mean()), role, _flat(points)))
            found += [(float(points[:, 2].mean()) + 0.01, "break", _flat(np.array(hole) @ turn.T))
                      for hole in face.holes]
    shapes: list[Shape] = [Ring(points, role) for _, role, points in sorted(found, key=lambda one: one[0])]
    return Drawing(tuple(shapes))


def measured_drawing(surfaces: tuple[Surface, ...], ends: tuple[Corner, Corner] | None, moved: frozenset[Corner],
                     said: str) -> Drawing | None:
    """The pieces with one measure on them: the line between its ``ends``, places in mm, and what it is ``said`` to be;
    without ends the outlines of the faces that change with it, which have some corners in ``moved``. ``None`` where
    most of them do."""
    whole, turn = installed_drawing(surfaces), _view()
    if ends is None:
        faces = _changed(surfaces, moved)
        return Drawing((*whole.shapes, *(Line(_flat(np.array((*face.corners, face.corners[0])) @ turn.T), "lit-edge",
                                              MEASURED) for face in faces))) if faces else None
    a, b = _flat(np.array(ends) @ turn.T)
    return Drawing((*whole.shapes, *marked(a, b, said)), frame=seen_near(whole.box, a, b))


def _changed(surfaces: tuple[Surface, ...], moved: frozenset[Corner]) -> list[Face]:
    """Faces of which some corners move and some do not; where there are none, those that move as they are. None where
    they are most of all."""
    faces = [face for surface in surfaces for face in surface.faces]
    found = [face for face in faces if moved.intersection(face.corners)]
    found = [face for face in found if not moved.issuperset(face.corners)] or found
    return found if len(found) <= _MOST * len(faces) else []


def _flat(points: Array) -> tuple[tuple[float, float], ...]:
    return tuple((float(x), float(y)) for x, y, _ in points)


def _view() -> Array:
    """The turn into the picture: x to the right, y up, z toward the eye."""
    a, t = _AZIMUTH, _TILT
    right = np.array([math.cos(a), math.sin(a), 0.0])
    back = np.array([-math.sin(a), math.cos(a), 0.0])
    up = np.array([0.0, 0.0, math.cos(t)]) + back * math.sin(t)
    return np.array([right, up, np.cross(right, up)])
