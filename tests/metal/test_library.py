"""The metals: complete, sourced, sensible."""

from __future__ import annotations

import pytest

from yattle.coil.weight import kg_per_m2
from yattle.errors import InputError
from yattle.metal import library, metal_spec
from yattle.section import MetalSpec, Profile, girth_of

METALS = library().metals


@pytest.mark.parametrize("metal", METALS, ids=lambda m: m.id)
def test_every_figure_has_a_source(metal):
    named = {"density", "expansion", "thicknesses", "inside_radius", "least_inside_radius_t", "allowance", "springback"}
    assert named <= set(metal.origin)
    assert set(metal.origin.values()) <= set(library().sources)


@pytest.mark.parametrize("metal", METALS, ids=lambda m: m.id)
def test_figures_within_reason(metal):
    assert 2500 < metal.density < 9000 and 10 < metal.expansion < 30 and 1 <= metal.springback < 1.1
    assert metal.colour.startswith("#") and len(metal.colour) == 7
    assert tuple(sorted(metal.thicknesses)) == metal.thicknesses


@pytest.mark.parametrize("metal", METALS, ids=lambda m: m.id)
def test_every_gauge_folds_an_eave_drip(metal):
    for thickness in metal.thicknesses:
        spec = MetalSpec.model_validate(metal_spec(metal.id, thickness))
        assert spec.inside_radius >= metal.least_inside_radius_t * thickness - 1e-12
        girth = girth_of(Profile(metal=spec, legs=(85.0, 95.0, 25.0), turns=(-58.0, 42.0)))
        assert 195 < girth.girth <= 205
        assert girth.mass_per_m == pytest.approx(girth.girth / 1000 * thickness / 1000 * metal.density)


def test_ids_stand_once_and_an_unknown_one_is_named():
    assert len({m.id for m in METALS}) == len(METALS)
    with pytest.raises(InputError, match="such as copper"):
        library().find("coper")


def test_weight_by_name():
    assert kg_per_m2("prepainted steel 0.60") == pytest.approx(4.71)
    for name in ("prepainted steel", "unobtainium 0.60", "copper thick"):
        with pytest.raises(InputError):
            kg_per_m2(name)
