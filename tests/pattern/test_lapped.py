"""Neighbours laid over each other: every trim's laps close, and a wrong lap is found out."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from samples import made
from yattle.details import FAMILIES, develop
from yattle.pattern.lapped import prove_lap


def lapped(name, joint, length=7600.0, **more):
    return develop(made(name, length=length, joint=joint, left="plain", right="plain", **more))


@pytest.mark.parametrize("joint", ["nested", "plain"])
@pytest.mark.parametrize("name", [name for name in FAMILIES if name != "closure"])
def test_the_laps_of_every_trim_close(name, joint):
    result = lapped(name, joint)
    assert len(result.laps) == len(result.pieces) - 1 >= 2
    for _, _, proof in result.laps:
        assert proof.max_gap < 1e-6 and proof.checked > 8
    assert result.answer()["fit"]["checked"] > sum(p.proof.checked for p in result.pieces)


@given(st.floats(30, 200), st.floats(3100, 12000), st.sampled_from(["left", "right"]), st.floats(2, 60))
def test_any_lap_from_either_hand(lap, length, weather, pitch):
    result = lapped("eave-drip", "nested", length, lap=lap, weather=weather, pitch=pitch)
    assert result.laps and all(proof.max_gap < 1e-6 for _, _, proof in result.laps)


def test_what_does_not_close_says_where():
    """Pieces put too far apart, folded to another angle, or cut from another leg."""
    left, right, _ = lapped("eave-drip", "nested").laps[0]
    apart = right.start - left.start
    assert prove_lap(left.pattern, right.pattern, left.profile, apart, 80.0).max_gap < 1e-6
    loose = prove_lap(left.pattern, right.pattern, left.profile, apart + 30, 80.0)
    assert loose.max_gap == pytest.approx(30) and loose.worst == "lap"
    tight = prove_lap(left.pattern, right.pattern, left.profile, apart - 12, 80.0)
    assert tight.max_gap == pytest.approx(12)
    bent = right.pattern.but(folds=(right.pattern.folds[0].but(turn=-80.0), *right.pattern.folds[1:]))
    assert prove_lap(left.pattern, bent, left.profile, apart, 80.0).max_gap > 1.0
