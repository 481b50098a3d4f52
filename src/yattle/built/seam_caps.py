"""Cover: whether a cap over a seam beside an opening comes down over both its sides, with a flange on the flats at
each."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from yattle.built.cover import Cover
from yattle.built.laid import laid_panels
from yattle.built.standing import Standing, spot
from yattle.derive.derived import Derived
from yattle.details.curb import Curb
from yattle.pattern.rings import cross
from yattle.pattern.surface import Array

_WORD = "seam cap"
_BESIDE = 40.0  # mm: a cap whose middle is farther from a seam's line is over another one
_ALIKE = 0.999  # cosine between a part and the plane that it is parallel to
_OFF = 3.0  # mm that a flange may lie off the flats, a side short of the seam's top or foot
_FLANGE = 15.0  # mm of the flats that each flange is to lie on, to be fixed and sealed


def seam_cap_covers(derived: Derived, standing: Mapping[str, Standing],
                    touching: frozenset[str] | None = None) -> Iterator[Cover]:
    """Each cap over the seam it stands on: how far its shorter side comes down over that, mm, and how broad its
    narrower flange lies on the flats. ``touching``: only of these patterns."""
    faces = {placed.opening.id: placed.facets for placed in derived.roof.openings}
    for opening in derived.openings:
        named = {piece.pattern.id for piece in opening.pieces if _WORD in piece.surface.name}
        if not isinstance(opening.form, Curb) or not named or (touching is not None and not named & touching):
            continue
        seams = [(panel.id, seam) for panel in laid_panels(derived, frozenset(faces.get(opening.id, ())))
                 for seam in panel.seams]
        for one in standing.values() if seams else ():  # where nobody knows how high they are there are none
            if one.pattern in named and (touching is None or one.pattern in touching):
                yield from _over_its_seam(one, seams)


def _over_its_seam(cap: Standing, seams: list[tuple[str, Array]]) -> Iterator[Cover]:
    off, name, seam = min(((_away(seam, cap.middle), name, seam) for name, seam in seams), key=lambda one: one[:2])
    if off > _BESIDE:
        yield Cover(cap.name, "a seam", 0.0, _FLANGE, 0.0, spot(cap.middle), 0.0, True)
        return
    along, up = (way / np.linalg.norm(way) for way in (seam[1] - seam[0], seam[3] - seam[0]))
    high, across = float(np.linalg.norm(seam[3] - seam[0])), cross(along, up)
    sides, flanges = {1: 0.0, -1: 0.0}, {1: 0.0, -1: 0.0}
    for part, square in zip(cap.parts, cap.normals, strict=True):
        own = np.stack(((part - seam[0]) @ across, (part - seam[0]) @ up), axis=1)
        (left, foot), (right, top) = own.min(axis=0).tolist(), own.max(axis=0).tolist()
        side = 1 if left + right > 0.0 else -1
        if abs(float(square @ across)) > _ALIKE:
            sides[side] = max(sides[side], min(top, high) - max(foot, 0.0))
        elif abs(float(square @ up)) > _ALIKE and max(abs(foot), abs(top)) < _OFF and left * right > 0.0:
            flanges[side] = max(flanges[side], right - left)
    yield Cover(cap.name, name, min(sides.values()), high - _OFF, 1.0, spot(cap.middle), 0.0, True)
    yield Cover(cap.name, f"the flats beside {name}", min(flanges.values()), _FLANGE, 1.0, spot(cap.middle), 0.0, True)


def _away(seam: Array, at: Array) -> float:
    """How far a place is from a seam's line, mm, beside it or up; the line goes on past the seam's ends: it is cut
    where the opening stands."""
    way = seam[1] - seam[0]
    return float(np.linalg.norm(cross(way, at - seam[0])) / max(float(np.linalg.norm(way)), 1e-9))
