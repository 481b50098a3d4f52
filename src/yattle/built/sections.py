"""A piece of a straight section put where its mould lines should lie."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from yattle.pattern import Pattern
from yattle.pattern.folded import FoldedFacet
from yattle.pattern.proof import expected_corners, section_tree, strip_of
from yattle.pattern.surface import Array
from yattle.section.profile import Profile


@dataclass(frozen=True)
class Seat:
    """Where a section runs. ``axes``: along it to the right as its paint is seen, out, up, rows (3, 3) of length 1;
    ``at``: where it begins in the roof's coordinates, mm; ``corners``: its mould lines (n, 2) as (out, up) from there,
    mm."""

    axes: Array
    at: Array
    corners: Array


def rows_of(pattern: Pattern, profile: Profile,
            seats: Iterable[tuple[Seat, float]]) -> tuple[list[Array], FoldedFacet]:
    """What carries a pattern folded up sharp, its largest part in z = 0, to each of its seats, so many mm along from
    where that begins: rows (3, 4), and the part that stays."""
    root = section_tree(pattern.outline, pattern.holes, pattern.folds)
    facet = root.resting
    own = expected_corners(profile, facet, strip_of(facet, pattern.folds))
    carried, rows = dict[int, tuple[Array, Array]](), []  # the copies of a strip run along one seat
    for seat, along in seats:
        if id(seat) not in carried:
            carried[id(seat)] = _carried(own, seat)
        turned, at = carried[id(seat)]
        rows.append(np.column_stack((turned, at + seat.axes[0] * along)))
    return rows, facet


def _carried(own: Array, seat: Seat) -> tuple[Array, Array]:
    """The turn (3, 3) and shift (3,), mm, that carry a folded piece to where its seat begins."""
    turn, shift = _in_section(own, seat.corners, seat.axes)
    across = seat.axes[1:].T  # (3, 2): from the section's plane into the roof
    return np.column_stack((seat.axes[0], across @ turn)), seat.at + across @ shift


def _in_section(own: Array, section: Array, axes: Array) -> tuple[Array, Array]:
    """The turn (2, 2) and shift that carry a folded piece's (y, z) onto its section's (out, up): a reflection where the
    axes are left-handed, so that paint stays paint (W. Kabsch, in the plane)."""
    a, b = own.mean(axis=0), section.mean(axis=0)
    u, _, v = np.linalg.svd((own - a).T @ (section - b))
    hand = float(np.sign(np.linalg.det(axes)))
    flip = np.diag([1.0, hand * float(np.sign(np.linalg.det(v.T @ u.T)))])
    turn: Array = v.T @ flip @ u.T
    return turn, b - turn @ a
