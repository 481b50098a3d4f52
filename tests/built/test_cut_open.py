"""The roof cut open by an upright plane: the layers of its faces as thick as they are, mitred where faces meet."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

import numpy as np
import pytest

from yattle.built import put_together
from yattle.built.cut_open import cut_layers
from yattle.built.frames import built_up
from yattle.built.shown import ShownLayer, ShownPart, shown
from yattle.derive import derive
from yattle.install.fitting import fitting
from yattle.job import demo_path, load
from yattle.roof import build

TWO = (ShownLayer("deck", -22.0, 0.0), ShownLayer("underlay", 0.0, 2.0))


@lru_cache
def roof(name):
    derived = derive(load(demo_path(name)))
    return derived, shown(put_together(derived), fitting(derived))


def decks(found):
    return {part.name: part.ring for part in found.parts if part.kind == "deck" and part.name in found.layers}


@pytest.mark.parametrize("name", ["net-shed", "sail-loft"])
def test_every_layer_lies_in_the_plane_and_as_high_over_its_face_as_it_is_thick(name):
    """Whatever way the roof is cut, and mitred or square: no corner of a layer is off its face by anything else."""
    derived, found = roof(name)
    planes = {f"deck {facet.id}": (np.array(facet.plane.at((0.0, 0.0))), np.array(facet.plane.normal)) for facet in derived.roof.facets}
    corners, seen = np.concatenate(list(decks(found).values())), 0
    for azimuth in np.radians(range(0, 360, 24)).tolist():
        way = np.array([math.cos(azimuth), math.sin(azimuth), 0.0])
        low, high = (corners @ way).min(), (corners @ way).max()
        for level in np.linspace(low + 1.0, high - 1.0, 9).tolist():
            cut = {deck for deck, ring in decks(found).items() if (ring @ way).min() < level < (ring @ way).max()}
            layers = list(cut_layers(found, way, level))
            assert {one.deck for one in layers} == cut, "every deck that it goes through, and no other"
            for one in layers:
                at, normal = planes[one.deck]
                assert np.abs(one.ring @ way - level).max() < 1e-6
                assert (one.ring - at) @ normal == pytest.approx([one.layer.low] * 2 + [one.layer.high] * 2, abs=1e-6)
                seen += 1
        assert not list(cut_layers(found, way, float(high) + 5.0))
    assert seen > 300


def gable(pitch, other):
    """Two faces of 4 m that meet in a ridge along x, of pitches in degrees."""
    def ring(sign, degrees):
        out = np.array([0.0, sign * 4000.0, -4000.0 * math.tan(math.radians(degrees))])
        along = np.array([9000.0, 0.0, 0.0])
        return np.array([out, out + along, along, np.zeros(3)])
    parts = [ShownPart(f"deck {n}", "deck", "", 0, ring(sign, degrees)) for n, (sign, degrees) in enumerate(((1, pitch), (-1, other)))]
    found = roof("net-shed")[1]
    return type(found)(tuple(parts), (), (), layers={part.name: TWO for part in parts})


@pytest.mark.parametrize("pitch, other", [(5.0, 5.0), (30.0, 30.0), (25.0, 55.0), (0.0, 40.0), (60.0, 12.0)])
def test_at_a_ridge_both_faces_meet_in_one_mitre(pitch, other):
    """By hand: over a ridge of two like pitches a layer h high meets h / cos(pitch) over it; of others where both planes do."""
    layers = list(cut_layers(gable(pitch, other), np.array([1.0, 0.0, 0.0]), 4000.0))
    assert len(layers) == 4
    for mine, theirs in zip(layers[:2], layers[2:], strict=True):
        ends = [min(one.ring.tolist(), key=lambda at, high=high: math.dist(at, (4000.0, 0.0, high))) for one in (mine, theirs)
                for high in (one.layer.low, one.layer.high)]
        assert ends[0] == pytest.approx(ends[2], abs=1e-6) and ends[1] == pytest.approx(ends[3], abs=1e-6)
        if pitch == other:
            assert ends[0] == pytest.approx((4000.0, 0.0, mine.layer.low / math.cos(math.radians(pitch))), abs=1e-6)
        one, two = (math.radians(angle) for angle in (pitch, other))
        _, y, z = ends[1]
        assert math.sin(one) * y + math.cos(one) * z == pytest.approx(mine.layer.high), "over the one face"
        assert -math.sin(two) * y + math.cos(two) * z == pytest.approx(mine.layer.high), "and over the other"
    for one in layers:
        far = max(one.ring[:2].tolist(), key=lambda at: abs(at[1]))
        assert abs(far[1]) > 3900.0, "at its eave it ends by itself"


def test_a_face_that_a_plane_goes_through_twice_is_cut_twice():
    """An L: between its legs there is air."""
    ring = np.array([(0, 0, 0), (9000, 0, 0), (9000, 2000, 0), (6000, 2000, 0), (6000, 1000, 0), (3000, 1000, 0), (3000, 2000, 0), (0, 2000, 0)], float)
    found = roof("net-shed")[1]
    shape = type(found)((ShownPart("deck L", "deck", "", 0, ring),), (), (), layers={"deck L": TWO[:1]})
    spans = sorted((one.ring[:, 0].min(), one.ring[:, 0].max()) for one in cut_layers(shape, np.array([0.0, 1.0, 0.0]), 1500.0))
    assert spans == [pytest.approx((0.0, 3000.0)), pytest.approx((6000.0, 9000.0))]


@pytest.mark.parametrize("name", ["net-shed", "sail-loft"])
def test_what_is_under_and_over_a_deck_is_told_but_for_its_sheets(name):
    derived, found = roof(name)
    assert set(found.layers) == {f"deck {facet.id}" for facet in build(derived.job.roof).facets}
    for facet in derived.roof.facets:
        layers, high = found.layers[f"deck {facet.id}"], built_up(derived, facet.id)
        (bears,) = (one for one in layers if one.name == derived.job.structure_of(facet.id).kind)
        assert bears.high == pytest.approx(0.0) and bears.low < -10.0, "pieces lie on its upper side"
        assert all(one.high == pytest.approx(two.low) for one, two in pairwise(layers))
        sheet = next(one.thick for one in high.layers if one.name == "panel")
        assert layers[-1].high + sheet == pytest.approx(high.flat)
        assert not {one.name for one in layers} & {"panel", "seams"}
    assert found.sheet == derived.job.thickness
