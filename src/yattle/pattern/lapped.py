"""Two neighbours folded up and laid over each other as on the roof: does their lap close?

Starts from the two written patterns alone, as every proof does.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from yattle.pattern.folded import Array, FoldedFacet
from yattle.pattern.pattern import Pattern
from yattle.pattern.proof import Proof, expected_corners, is_tab, section_tree, strip_of
from yattle.section.profile import Profile

_SHORT = 1.0  # mm: what overlaps by less does not lie in the lap


@lru_cache(maxsize=16384)
def prove_lap(left: Pattern, right: Pattern, profile: Profile, apart: float, lap: float) -> Proof:
    """How far two lapping pieces are off each other: ``right`` begins its share ``apart`` mm after ``left``'s.

    Where both have the same part of the section the one must lie flat on the other, over ``lap`` mm at the most, and
    somewhere over all of it; hems must either lie on hems or not meet at all.
    """
    ours, theirs = _by_strip(left, profile, 0.0), _by_strip(right, profile, apart)
    worst, where, checked, longest = 0.0, "", 0, 0.0
    for strip in sorted(ours.keys() & theirs.keys()):
        for a in ours[strip]:
            for b in theirs[strip]:
                over = min(a[:, 0].max(), b[:, 0].max()) - max(a[:, 0].min(), b[:, 0].min())
                if over < _SHORT:
                    continue
                longest, checked = max(longest, over), checked + len(a) + len(b)
                gap = max(_off(a, b), _off(b, a), over - lap)
                if gap > worst:
                    worst, where = gap, profile.strip_names[strip]
    short = lap - longest
    return Proof(short, checked, "lap") if short > worst else Proof(worst, checked, where)


def _by_strip(pattern: Pattern, profile: Profile, shift: float) -> dict[int, list[Array]]:
    """The corners of each flat part's facets, in the frame of the section's first leg, ``shift`` mm along the run."""
    tree = section_tree(pattern.outline, pattern.holes, pattern.folds)
    folded = tree.folded()
    root = folded[tree.base]
    corners = expected_corners(profile, root, strip_of(root, pattern.folds))
    parts: dict[int, list[Array]] = {}
    for facet in folded:
        if not is_tab(facet, pattern.folds):
            parts.setdefault(strip_of(facet, pattern.folds), []).append(_placed(facet, corners, shift))
    return parts


def _placed(facet: FoldedFacet, corners: Array, shift: float) -> Array:
    """A facet's corners as (along the run, along the first leg, off the first leg)."""
    first = corners[1] - corners[0]
    first = first / np.linalg.norm(first)
    across = (facet.space[:, 1:] - corners[0]) @ np.column_stack((first, [-first[1], first[0]]))
    return np.column_stack((facet.space[:, 0] + shift, across))


def _off(a: Array, b: Array) -> float:
    """How far the corners of ``b`` are off the plane of ``a``."""
    normal = np.linalg.svd(a - a.mean(axis=0))[2][2]
    return float(np.abs((b - a.mean(axis=0)) @ normal).max())
