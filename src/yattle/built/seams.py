"""Which pans lie beside each other on a face, and which face each of them lies on."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import combinations

from yattle.built.frames import face_axes
from yattle.built.placed import name_of
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.openings import DerivedOpening
from yattle.details.face_pans import FacePans
from yattle.pattern.surface import Array

_SEAM = 0.5  # mm: as near two panels' sides are one seam
_LEAST = 60.0  # mm of a common seam that is folded


def pan_names(derived: Derived) -> Iterator[tuple[str, dict[int, str]]]:
    """Each face with pans made in the shop: the piece that each of its panels is, by the panel's number."""
    for opening in derived.openings:
        if isinstance(opening.form, FacePans):
            yield opening.id.removeprefix(f"{PANS} "), _names(opening, opening.form)


def hems_of(derived: Derived, face: str) -> dict[int, float]:
    """How long the hem of each panel's pan is, mm, by the panel's number; of those of a face made in the shop that have
    one: a valley may leave nothing of it."""
    form = derived.opening(f"{PANS} {face}").form
    assert isinstance(form, FacePans)
    return {n: max(math.dist(a, b) for a, b, _ in shape.hems)
            for shape, numbers in zip(form.shapes, form.numbers, strict=False) if shape.hems for n in numbers}


def _names(opening: DerivedOpening, pans: FacePans) -> dict[int, str]:
    found = {}
    for piece, numbers in zip(opening.pieces, pans.numbers, strict=False):
        for copy, number in enumerate(numbers, 1):
            found[number] = name_of(piece.pattern.id, copy, piece.pattern.qty)
    return found


def neighbours(derived: Derived) -> Iterator[tuple[str, str, Array, Array]]:
    """Two pans with a seam between them, the left one first, with what is square to their face and what is along the
    seam, each 1 mm long."""
    for face, names in pan_names(derived):
        axes = face_axes(derived, derived.roof.facet(face)).turn
        panels = sorted((panel for panel in derived.panels[face].panels if panel.n in names), key=lambda one: one.left)
        seams = _seams_of(derived, face)
        for left, right in combinations(panels, 2):
            beside = abs(left.right - right.left) < _SEAM
            if beside and _common(seams.get((left.n, 1), []), seams.get((right.n, -1), [])) > _LEAST:
                yield names[left.n], names[right.n], axes[:, 2], axes[:, 1]


def _seams_of(derived: Derived, face: str) -> dict[tuple[int, int], list[tuple[float, float]]]:
    """From where to where up the slope the seams are folded, by the panel's number and side, mm: pans end before a
    valley, and where hardly any of it is left there is none."""
    found: dict[tuple[int, int], list[tuple[float, float]]] = {}
    low = {panel.n: min(y for _, y in panel.outline) for panel in derived.panels[face].panels}
    for opening in derived.openings:
        if isinstance(opening.form, FacePans) and opening.id == f"{PANS} {face}":
            for shape, numbers in zip(opening.form.shapes, opening.form.numbers, strict=True):
                for seam in shape.seams:
                    for n in numbers:
                        found.setdefault((n, seam.side), []).append((
                            seam.low[1] + seam.free[0] + low[n], seam.high[1] - seam.free[1] + low[n]))
    return found


def _common(left: list[tuple[float, float]], right: list[tuple[float, float]]) -> float:
    """How long the longest seam is that two panels share, mm."""
    return max((min(a[1], b[1]) - max(a[0], b[0]) for a in left for b in right), default=0.0)
