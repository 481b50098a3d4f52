"""How often rows hold with a shop's scatter: nothing off, nothing fails; more off, less holds."""

from __future__ import annotations

import numpy as np
import pytest
from test_checked import derived_of, placed_of, standing_of

from yattle.built.mutants import scattered
from yattle.built.tolerance import sampled
from yattle.pattern.folded import fold_tree


def test_a_pattern_without_scatter_is_the_pattern_and_legs_grow_by_their_own():
    pattern = next(one for one in derived_of("gable").patterns if one.id == "E1-1")
    assert scattered([0.0] * 9, [0.0] * 9)(pattern) == pattern
    wider = scattered([2.0, 3.0], [0.0, 5.0])(pattern)
    def heights(one):
        return np.array(sorted(fold.a[1] for fold in one.folds if fold.a[1] == pytest.approx(fold.b[1])))
    assert np.allclose(heights(wider) - heights(pattern), [0.0, 2.0, 5.0]), "each as far as the legs below it grew"
    turned = {fold.id: fold.turn for fold in wider.folds}
    second = sorted((fold for fold in pattern.folds if fold.a[1] == fold.b[1]), key=lambda fold: fold.a[1])[1]
    assert turned[second.id] == pytest.approx(second.turn + (5.0 if second.kind == "fold" else 0.0))
    assert len(fold_tree(wider).facets) == len(fold_tree(pattern).facets)


def test_most_of_a_sound_roof_holds_and_what_matters_most_is_named():
    derived, placed, standing = derived_of("gable"), list(placed_of("gable")), standing_of("gable")
    found = {one.row: one for one in sampled(derived, placed, standing, tries=4)}
    assert set(found) == {"bears", "cover", "hook", "clash", "slot", "water", "goes in"} and all(0.7 < one.holds <= 1.0 for one in found.values())
    assert found["cover"].most in ("laid in the laps", "lengths cut", "folds marked", "angles folded")
    assert sampled(derived, placed, standing, tries=4) == tuple(found.values()), "the same for the same job"


def test_it_ends_when_it_is_stopped():
    derived, placed, standing = derived_of("gable"), list(placed_of("gable")), standing_of("gable")
    assert sampled(derived, placed, standing, tries=1, stopped=lambda: True) == ()
