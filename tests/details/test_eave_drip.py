"""The eave drip in full: angles, ends, hands, ledger, proof and refusals."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import eave
from yattle.details import ENTRIES, Own, develop, standard_for
from yattle.errors import InputError
from yattle.measure import UNITS


def test_the_first_fold_is_ninety_less_the_pitch():
    assert develop(eave(pitch=32.0)).profile.turns == (-58.0, 42.0)
    assert develop(eave(pitch=12.0)).profile.turns[0] == -78.0


def test_hands_and_ends_of_a_run_of_four():
    pieces = develop(eave()).pieces
    assert [p.hand for p in pieces] == ["left hand", "middle", "middle", "right hand"]
    assert pieces[1].ends[0].says() == "nests under piece 1, lap 80.0 mm"
    assert pieces[1].ends[1].says() == "over piece 3, hem opened"
    assert pieces[0].ends[0].says(UNITS["in16"]) == 'outer corner wrap 1 5/16", by tongs'


def test_weather_from_the_right_turns_the_laps_round():
    left, right = (develop(eave(weather=side)).pieces for side in ("left", "right"))
    assert left[0].ends[1].kind == "over" and right[0].ends[1].kind == "under"
    assert left[-1].ends[0].kind == "under" and right[-1].ends[0].kind == "over"


@given(pitch=st.floats(0, 80), length=st.floats(600, 60000), joints=st.sampled_from(["even", "full"]),
       weather=st.sampled_from(["left", "right"]), left=st.sampled_from(["wrap", "plain"]), hem=st.sampled_from([0.0, 12.0]))
@settings(max_examples=40, deadline=None)
def test_every_millimetre_is_accounted_for(pitch, length, joints, weather, left, hem):
    detail = eave(pitch=pitch, length=length, joints=joints, weather=weather, left=left, hem=hem)
    pieces = develop(detail).pieces
    assert sum(p.share for p in pieces) == pytest.approx(length, abs=1e-6)
    for piece in pieces:
        assert piece.ledger.value == pytest.approx(piece.pattern.length, abs=1e-6)
        assert piece.pattern.length <= 3000 + 1e-6
        assert piece.proof.max_gap < 0.01


def test_hem_and_drip_are_cut_back_over_a_lap_so_that_pieces_nest():
    under = develop(eave()).pieces[1].pattern
    hem = next(fold for fold in under.folds if fold.id == "hB")
    assert hem.a[0] == pytest.approx(2.0), "the hem begins a clearance inside the lap"
    assert min(x for x, _ in under.outline) == -80.0
    kick = next(fold for fold in under.folds if fold.id == "f2")
    assert kick.a[0] == -80.0, "the kick's fold runs on under the neighbour"


def test_what_cannot_be_made_says_what_would_do():
    short = develop(eave(kick=0.5))
    assert not short.ok and short.findings[0].field == "kick" and "at least" in short.findings[0].says()
    assert develop(eave(stock_length=400.0)).findings[0].field == "stock_length"
    assert develop(eave(face=10.0)).findings[0].field == "face"
    assert develop(eave(wrap=1.0)).findings[0].field == "wrap"


@pytest.mark.parametrize(("change", "field"), [({"face": 240.0}, "face"), ({"wrap": 60.0}, "wrap"),
                                               ({"length": 300.0}, "length"), ({"hem": 17.0}, "hem")])
def test_what_to_look_at(change, field):
    result = develop(eave(**change))
    assert result.ok and [f.field for f in result.findings if f.level == "look"] == [field]


def test_the_answer_is_the_contract_s_document():
    answer = develop(eave()).answer()
    assert answer["ok"] and len(answer["pieces"]) == 4 and answer["fit"]["max_gap"] < 0.01
    assert answer["pieces"][0]["format"] == "yattle-pattern/1" and answer["cautions"]
    assert not develop(eave(kick=0.5)).answer()["ok"]


def test_own_values_go_before_the_job_s_and_the_standard_s():
    assert standard_for("metric", Own()).face == 95
    assert standard_for("inch", Own()).face == pytest.approx(95.25)
    assert standard_for("metric", Own(face=100.0)).face == 100
    assert standard_for("metric", Own(face=100.0), Own(face=90.0)).face == 90


def test_every_entry_of_the_standard_is_sound():
    assert set(Own.model_fields) == set(ENTRIES)
    for entry in ENTRIES.values():
        assert entry.least <= entry.default("metric") <= entry.most and entry.reason
        assert entry.least <= entry.default("inch") <= entry.most
        assert entry.default("inch") == pytest.approx(entry.default("metric"), rel=0.25)
    with pytest.raises(InputError, match=r"face: found 1' 8 1/16|face: found 19 11/16"):
        ENTRIES["face"].check(500.0, "face", UNITS["in16"])
