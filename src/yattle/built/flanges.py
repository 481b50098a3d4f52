"""Which pieces of an opening should lie on the panels round it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from yattle.built.bears import Ground
from yattle.built.corner_frames import COVERS, corner_frame, heights_round
from yattle.built.frames import built_up, opening_frame
from yattle.built.placed import name_of
from yattle.built.standing import least_seat
from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.meetings import meetings
from yattle.details.closed import DormerRidge
from yattle.pattern.rings import area_vectors, boxes
from yattle.pattern.surface import Face, Surface

LIES_OVER = ("counter", "storm", "collar", "plug", "cap", "cover")
"""Words of what lies over others: on no panel, or with tabs alone."""


_PARALLEL = 0.9999  # cosine between a face of the roof and the part of a cap that lies on it


def caps_of_corners(derived: Derived, have: Mapping[str, object]) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """The pieces that cover a place where edges meet, each with the faces it should lie on: as high as the caps that
    end there, what goes under the panels on the deck. mm."""
    for meeting in meetings(derived.roof):
        opening = derived.opening(meeting.id)
        if not any(piece.pattern.id in have for piece in opening.pieces):
            continue
        frame = corner_frame(derived, opening)
        if frame is None or not isinstance(opening.form, COVERS):
            continue
        deck = isinstance(opening.form, DormerRidge)
        for face, high in heights_round(derived, meeting).items():
            plane = derived.roof.facet(face).plane
            square = np.array(plane.normal)
            ground = Ground(face, np.array(plane.at((0.0, 0.0))), square, (0.0 if deck else high,))
            for piece in opening.pieces:
                if piece.pattern.id in have and any(float(frame.turn @ one.normal @ square) > _PARALLEL
                                                    for one in _that_bear(piece.surface)):
                    yield piece.pattern.id, (ground,)


def flanges(derived: Derived, have: Mapping[str, object]) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """The pieces of openings, each with the faces it stands on where their panels' flats lie, mm: of an opening over a
    ridge or beside a valley those that it has a flange on. ``have``: the names that have a place."""
    faces = {placed.opening.id: placed.facets for placed in derived.roof.openings}
    for opening in derived.openings:
        on = faces.get(opening.id, ())
        names = [[name for n in range(1, piece.pattern.qty + 1)
                  if (name := name_of(piece.pattern.id, n, piece.pattern.qty)) in have] for piece in opening.pieces]
        if is_pans(opening) or not on or not any(names):
            continue
        grounds = [_flats(derived, face) for face in on]
        frame = opening_frame(derived, opening) if len(on) > 1 else None
        for piece, mine in zip(opening.pieces, names, strict=True):
            if not mine or any(word in piece.surface.name for word in LIES_OVER):
                continue
            under = grounds if frame is None else [ground for ground in grounds if any(
                float(frame.turn @ one.normal @ ground.normal) > _PARALLEL for one in _that_bear(piece.surface))]
            yield from ((name, tuple(under)) for name in mine if under)


def _that_bear(surface: Surface) -> list[Face]:
    """The faces of a piece that are large enough to be asked what they lie on: not the short laps of steep ones."""
    corners = [np.array(face.corners) for face in surface.faces]
    sizes = np.linalg.norm(area_vectors(corners), axis=1).tolist()
    least = least_seat(boxes(corners), sizes)
    return [face for face, size in zip(surface.faces, sizes, strict=True) if size >= least]


def _flats(derived: Derived, face: str) -> Ground:
    plane = derived.roof.facet(face).plane
    return Ground(face, np.array(plane.at((0.0, 0.0))), np.array(plane.normal), (built_up(derived, face).flat,))
