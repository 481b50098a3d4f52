"""Girth against sums done by hand, and the laws every section keeps.

Worked by hand from the contract's formulas: setback (r+t)·tan(turn/2) up to 90°, arc
turn·(r+k·t), deduction two setbacks less the arc.
"""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given

from samples import metal, section, sections
from yattle.errors import InputError
from yattle.section import Hem, Profile, folded_points, girth_of, mould_flats
from yattle.values import read


def test_the_eave_drip_by_hand():
    girth = girth_of(section())
    setback1, setback2 = 1.4 * math.tan(math.radians(39)), 1.4 * math.tan(math.radians(21))
    arc1, arc2, arc_hem = (math.radians(78) * 0.998, math.radians(42) * 0.998, math.pi * 0.33 * 0.6)
    flats = (40 - setback1, 95 - setback1 - setback2, 18 - setback2 - 0.6, 12 - 0.6)
    assert girth.flats == pytest.approx(flats, abs=1e-12)
    assert girth.girth == pytest.approx(sum(flats) + arc1 + arc2 + arc_hem, abs=1e-12)
    assert girth.girth == pytest.approx(163.170027066554, abs=1e-9)
    assert girth.bends[0].mark == pytest.approx(39.5456194050, abs=1e-9)
    assert girth.bends[0].deduction == pytest.approx(0.9087611900, abs=1e-9)
    assert [bend.id for bend in girth.bends] == ["f1", "f2", "hB"]
    assert girth.mass_per_m == pytest.approx(0.163170027 * 0.0006 * 7850, abs=1e-9)


def test_square_corner_inside_measured():
    # Two legs of 50 inside: each flat is 50 − 0.8, the arc π/2·(0.8 + 0.33·0.6).
    girth = girth_of(section((50.0, 50.0), (90.0,), hem_b=None, measured="inside"))
    assert girth.girth == pytest.approx(2 * 49.2 + math.pi / 2 * 0.998, abs=1e-12)


def test_beyond_square_the_setback_stays_the_tangent():
    girth = girth_of(section((50.0, 50.0), (120.0,), hem_b=None))
    assert girth.bends[0].setback == pytest.approx(1.4)
    assert girth.girth == pytest.approx(100 - 2.8 + math.radians(120) * 0.998, abs=1e-12)


def test_din_6935_k_by_hand():
    # r/t = 0.8/0.6 = 4/3: k = ½·(0.65 + 0.5·log10(4/3)) = 0.356235
    girth = girth_of(section((50.0, 50.0), (90.0,), hem_b=None, rule={"rule": "din6935"}))
    k = 0.5 * (0.65 + 0.5 * math.log10(4 / 3))
    assert k == pytest.approx(0.356235, abs=1e-6)
    assert girth.bends[0].arc == pytest.approx(math.pi / 2 * (0.8 + k * 0.6), abs=1e-12)


@pytest.mark.parametrize(("radius", "k"), [(0.0, 0.33), (0.6, 0.325), (6.0, 0.5), (3.0, 0.49974), (0.012, 0.0)])
def test_din_6935_over_its_range(radius, k):
    from yattle.section.girth import neutral_k

    rule = metal({"rule": "din6935"}).allowance
    assert neutral_k(rule, radius, 0.6) == pytest.approx(k, abs=1e-5)


def test_open_hem_takes_half_its_gap_as_radius():
    girth = girth_of(section((60.0,), (), hem_b=Hem(kind="open", length=14.0, gap=3.0, toward="paint")))
    assert girth.bends[0].arc == pytest.approx(math.pi * (1.5 + 0.33 * 0.6))
    assert girth.flats == pytest.approx((60 - 2.1, 14 - 2.1))


def test_plain_sum_and_table():
    plain = girth_of(section(rule={"rule": "sum"}))
    assert plain.girth == 165 and [b.mark for b in plain.bends] == [40, 135, 153]
    table = girth_of(section(rule={"rule": "table", "deductions": ((0.0, 0.0), (90.0, 1.8), (180.0, 2.4))}))
    deductions = [1.8 * 78 / 90, 1.8 * 42 / 90, 2.4]
    assert [b.deduction for b in table.bends] == pytest.approx(deductions)
    assert table.girth == pytest.approx(165 - sum(deductions))
    assert table.bends[1].mark == pytest.approx(135 - deductions[0] - deductions[1] / 2)
    assert [b.arc for b in table.bends] == [0, 0, 0]


def test_outside_the_table_is_no_answer():
    refused = girth_of(section(rule={"rule": "table", "deductions": ((30.0, 0.5), (120.0, 2.0))}))
    assert not refused.answer()["ok"] and "hB" in refused.reasons[0] and "120°" in refused.reasons[0]


def test_short_legs_and_hems_are_named_from_edge_a():
    assert girth_of(section((40.0, 1.0, 18.0))).reasons[0].startswith("leg 2:")
    short = Hem(kind="closed", length=0.4, toward="back")
    assert girth_of(section(hem_b=short)).reasons[0].startswith("hB:")


@pytest.mark.parametrize(("text", "field"), [
    ('{"legs": [1]}', "metal"), ('{"legs": "x"}', "metal"), ("[]", "the document"), ("{", "the file"), ("", "the file")])
def test_documents_that_are_none(text, field):
    with pytest.raises(InputError) as wrong:
        read(Profile, text)
    assert wrong.value.field == field


@pytest.mark.parametrize(("change", "field"), [
    ({"legs": [40, "a", 18]}, "legs.1"), ({"legs": [40, float("nan"), 18]}, "legs.1"), ({"turns": [-78]}, "turns"),
    ({"turns": [-78, 180]}, "turns.1"), ({"legz": 1}, "legz"), ({"legs": [40, -1, 18]}, "legs.1"),
    ({"metal": {**{"name": "m", "thickness": 0, "inside_radius": 1, "density": 1}, "allowance": {"rule": "sum"}}},
     "metal.thickness"),
    ({"hem_b": {"kind": "open", "length": 12, "toward": "back"}}, "hem_b.gap"),
    ({"hem_b": {"kind": "flat", "length": 12, "toward": "back"}}, "hem_b.kind"),
    ({"format": "yattle-profile/2"}, "format"), ({"measured": True}, "measured"), ({"legs": []}, "legs")])
def test_the_wrong_field_is_named(change, field):
    import json

    with pytest.raises(InputError) as wrong:
        read(Profile, json.dumps(section().model_dump(mode="json") | change))
    assert wrong.value.field == field and "\n" not in str(wrong.value)


@given(sections())
def test_read_from_b_the_girth_is_the_same(profile):
    girth, back = girth_of(profile), girth_of(profile.from_b())
    if not hasattr(girth, "girth"):
        assert len(back.reasons) == len(girth.reasons)
        return
    assert back.girth == pytest.approx(girth.girth, abs=1e-9)
    assert [girth.girth - b.mark for b in reversed(girth.bends)] == pytest.approx([b.mark for b in back.bends], abs=1e-9)


@given(sections())
def test_flats_and_arcs_add_up_and_marks_increase(profile):
    girth = girth_of(profile)
    if hasattr(girth, "girth"):
        assert sum(girth.flats) + sum(b.arc for b in girth.bends) == pytest.approx(girth.girth, abs=1e-9)
        marks = [0.0, *(b.mark for b in girth.bends), girth.girth]
        assert all(a <= b + 1e-12 for a, b in itertools.pairwise(marks))


@given(sections())
def test_folded_up_it_has_the_legs_asked_for(profile):
    girth = girth_of(profile)
    if hasattr(girth, "girth"):
        assert mould_flats(girth) == pytest.approx(profile.strip_lengths, abs=1e-9)
        points = folded_points(profile)
        assert np.hypot(*np.diff(points, axis=0).T) == pytest.approx(profile.strip_lengths, abs=1e-9)


@given(sections())
def test_the_plain_sum_is_the_limit_of_thin_metal(profile):
    thin = profile.metal.but(thickness=0.05, inside_radius=0.0)
    if profile.metal.allowance.rule in ("k-factor", "din6935"):
        hems = {name: None for name in ("hem_a", "hem_b")}
        girth = girth_of(profile.but(metal=thin, **hems))
        assert girth.girth == pytest.approx(sum(profile.legs), abs=1e-9 + 0.1 * len(profile.turns))


def test_a_turn_of_nothing_changes_nothing():
    girth = girth_of(section((40.0, 60.0), (0.0,), hem_b=None))
    assert girth.girth == 100 and girth.bends[0].arc == 0 and girth.bends[0].mark == 40
