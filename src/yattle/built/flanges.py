"""Which pieces of an opening should lie on the panels round it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from yattle.built.bears import Ground
from yattle.built.frames import built_up
from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans

_OVER = ("counter", "storm", "collar", "plug", "cap", "cover")  # what lies over others: on no panel, or with tabs alone


def flanges(derived: Derived, have: Mapping[str, object]) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """The pieces of openings that stand on one face, each with that face where its panels' flats lie, mm. ``have``: the
    names that have a place."""
    faces = {placed.opening.id: placed.facets for placed in derived.roof.openings}
    for opening in derived.openings:
        on = faces.get(opening.id, ())
        if is_pans(opening) or len(on) != 1:
            continue
        plane = derived.roof.facet(on[0]).plane
        ground = Ground(on[0], np.array(plane.at((0.0, 0.0))), np.array(plane.normal),
                        (built_up(derived, on[0]).flat,))
        for piece in opening.pieces:
            if not any(word in piece.surface.name for word in _OVER):
                names = (piece.pattern.id, *(f"{piece.pattern.id}/{n}" for n in range(1, piece.pattern.qty + 1)))
                yield from ((name, (ground,)) for name in names if name in have)
