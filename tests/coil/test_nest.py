"""Nests held against the independent validator, known answers and bad input."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest
from yattle.errors import InputError
from yattle.values import read


def rect(length: float, width: float) -> tuple[tuple[float, float], ...]:
    return ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))


def part(name: str, length: float, width: float, qty: int = 1, **more) -> Part:
    return Part(id=name, outline=rect(length, width), qty=qty, metal=more.pop("metal", "m"), **more)


COIL = Stock(id="coil 1", kind="coil", width=1220.0, metal="m", cost_per_m=14.2)
SHEET = Stock(id="sheet", kind="sheet", width=1000.0, length=2000.0, qty=3, metal="m", cost=25.0)
OFFCUT = Stock(id="off 7", kind="offcut", metal="m",
               outline=((0.0, 0.0), (1500.0, 0.0), (1500.0, 300.0), (700.0, 500.0), (0.0, 500.0)))


def job(*parts: Part, stock=(COIL,), **rules) -> NestJob:
    return NestJob(stock=tuple(stock), parts=parts, rules=NestRules(**{"work": 6, "seconds": None, **rules}))


def checked(question: NestJob) -> dict:
    document = json.loads(json.dumps(nest(question).answer()))
    assert faults(question, document) == []
    return document


def test_five_strips_off_one_crosscut():
    answer = checked(job(part("P", 2400.0, 208.0, 5), max_crosscut=3000.0))
    assert answer["used"] == [{"stock": "coil 1", "length": 2400.0, "area": pytest.approx(2.928), "cost": pytest.approx(34.08)}]
    assert answer["cuts"][0] == {"n": 1, "piece": "coil 1", "axis": "across", "at": 2400.0, "gives": ["k1", "coil 1"]}
    assert len(answer["cuts"]) == 6 and answer["yield"] == pytest.approx(1040 / 1220)


def test_a_full_coil_is_proven_best():
    answer = checked(job(part("P", 1000.0, 610.0, 4)))
    assert answer["proved_best"] and answer["objective"]["value"] == pytest.approx(answer["bound"]["value"])
    two_by_two = checked(job(part("P", 1000.0, 600.0, 4)))  # 20 mm are left: no plan can use them
    assert two_by_two["proved_best"] and two_by_two["bound"]["proof"] == "dual"


def test_offcuts_are_used_first():
    answer = checked(job(part("P", 1400.0, 250.0), stock=(COIL, OFFCUT)))
    assert answer["used"][0]["stock"] == "off 7" and answer["objective"]["value"] == 0


def test_a_kept_offcut_is_listed_and_small_ones_are_not():
    answer = checked(job(part("P", 2000.0, 800.0)))
    assert answer["offcuts"] == [{"stock": "coil 1", "outline": [[0, 800], [2000, 800], [2000, 1220], [0, 1220]]}]
    assert checked(job(part("P", 2000.0, 1150.0)))["offcuts"] == []


@pytest.mark.parametrize(("question", "reason"), [
    (job(part("P", 100.0, 100.0, metal="gold")), "metal"), (job(part("P", 100.0, 1300.0)), "too wide"),
    (job(part("P", 3400.0, 100.0), max_crosscut=3000.0), "too long"),
    (job(part("P", 1900.0, 900.0, 4), stock=(SHEET,)), "no stock left"),
    (job(part("P", 1000.0, 500.0), part("Q", 100.0, 100.0), stock=(COIL.but(length=50.0), SHEET.but(qty=1, length=900.0))),
     "too long")])
def test_what_is_not_placed_says_why(question, reason):
    answer = checked(question)
    assert answer["ok"] is False and answer["unplaced"][0]["reason"] == reason and answer["reasons"]


def test_one_roof_face_comes_from_one_lot():
    coils = (COIL.but(length=3000.0, lot="L1"), COIL.but(id="coil 2", length=9000.0, lot="L2"))
    answer = checked(job(part("P", 2400.0, 600.0, 6, match="south"), stock=coils))
    assert {p["stock"] for p in answer["placements"]} == {"coil 2"}


def test_faces_share_the_lots_out_so_that_each_finds_room():
    """Two lots of 4 m: each face wants three metres of one, the larger one could not hold both."""
    coils = (COIL.but(length=4100.0, lot="L1"), COIL.but(id="coil 2", length=4000.0, lot="L2"))
    faces = [part(name, 2900.0, 600.0, 2, match=name) for name in ("north", "south")]
    answer = checked(job(*faces, stock=coils))
    assert answer["ok"]
    assert len({(p["part"], p["stock"]) for p in answer["placements"]}) == 2


def test_a_face_that_is_too_wide_for_one_lot_takes_the_other_though_it_has_less_metal():
    coils = (COIL.but(width=500.0, length=90000.0, lot="L1"), COIL.but(id="coil 2", length=9000.0, lot="L2"))
    answer = checked(job(part("P", 2400.0, 600.0, 2, match="south"), stock=coils))
    assert answer["ok"] and {p["stock"] for p in answer["placements"]} == {"coil 2"}


@pytest.mark.parametrize("cutting", ["shear", "snips"])
def test_pieces_that_match_come_off_one_coil_where_that_is_asked(cutting):
    """Of one lot, on two coils: by lot both may be used, by coil each face stays on one."""
    coils = (COIL.but(length=5000.0, lot="L1"), COIL.but(id="coil 2", length=5000.0, lot="L1", cost_per_m=9.0))
    faces = [part(name, 2400.0, 600.0, 3, match=name) for name in ("north", "south")]
    rules = {"cutting": cutting, "seconds": 2.0, "work": 20 if cutting == "shear" else None}
    question = job(*faces, stock=coils, match_by="coil", **rules)
    answer = checked(question)
    for name in ("north", "south"):
        assert len({p["stock"] for p in answer["placements"] if p["part"] == name}) == 1
    assert answer["ok"]
    split = {**answer, "placements": [{**p, "stock": "coil 2" if p["copy"] == 1 else "coil 1"} for p in answer["placements"]]}
    assert any("cut from 2 coils" in line for line in faults(question, split))


def test_one_offcut_is_not_cut_twice():
    """Three pieces that go into it one at a time, and no other stock: one is placed, the others say why."""
    answer = checked(job(part("P", 751.0, 151.0, 3), stock=(OFFCUT,), objective="area"))
    assert 1 <= len(answer["placements"]) < 3 and answer["unplaced"][0]["reason"] == "no stock left"


RULES = st.fixed_dictionaries({
    "match_by": st.sampled_from(["lot", "coil"]),
    "first": st.sampled_from(["crosscut", "slit"]), "gap": st.sampled_from([0.0, 2.0]),
    "edge_trim": st.sampled_from([0.0, 3.0, 12.0]), "end_trim": st.sampled_from([0.0, 20.0]),
    "min_sliver": st.sampled_from([0.0, 5.0]), "max_crosscut": st.sampled_from([None, 3200.0]),
    "max_cut": st.sampled_from([None, 3300.0]), 
    "objective": st.sampled_from(["cost", "area", "length"])})
PARTS = st.lists(st.tuples(st.floats(50, 3100), st.floats(20, 1190), st.integers(1, 4),
                           st.sampled_from([(0.0, 180.0), (0.0,), (0.0, 90.0), "any", (45.0,)])), min_size=1, max_size=14)


@settings(max_examples=5, deadline=None)
@given(RULES, PARTS, st.lists(st.sampled_from([COIL, SHEET, OFFCUT]), min_size=1, max_size=3, unique_by=lambda s: s.id))
def test_every_answer_is_valid_and_over_its_bound(rules, sizes, stock):
    parts = [part(f"P{n}", length, width, qty, turns=turns) for n, (length, width, qty, turns) in enumerate(sizes)]
    answer = checked(job(*parts, stock=stock, **rules))
    assert answer["objective"]["value"] >= answer["bound"]["value"] - 1e-6
    assert answer["objective"]["value"] == pytest.approx(sum(used["cost"] for used in answer["used"]))


def test_the_same_question_has_the_same_answer():
    question = job(*(part(f"P{n}", 900.0 + 37 * n, 150.0 + 11 * n, 3) for n in range(9)), max_crosscut=3000.0)
    first, second = (nest(NestJob.model_validate(question.model_dump())).answer() for _ in range(2))
    assert {**first, "seconds": 0} == {**second, "seconds": 0}


@pytest.mark.parametrize("damage", ["shift", "turn", "drop", "cut", "length"])
def test_the_validator_finds_faults(damage):
    question = job(part("P", 2400.0, 208.0, 5), part("Q", 900.0, 300.0, 2), max_crosscut=3000.0)
    document = json.loads(json.dumps(nest(question).answer()))
    if damage == "shift":
        document["placements"][0]["x"] += 5
    elif damage == "turn":
        document["placements"][0]["turn"] = 90
    elif damage == "drop":
        document["placements"].pop()
    elif damage == "cut":
        document["cuts"][1]["at"] += 1
    else:
        document["used"][0]["length"] -= 10
    assert faults(question, document)


@pytest.mark.parametrize(("text", "field"), [
    ('{"stock": [], "parts": [{"id": "P", "metal": "m", "outline": [[0,0],[1,1]]}]}', "parts.0.outline"),
    ('{"stock": [], "parts": [{"id": "P", "metal": "m", "outline": [[0,0],[9,9],[9,0],[0,9]]}]}', "parts.0.outline"),
    ('{"stock": [], "parts": [{"id": "P", "metal": "m", "outline": [[0,0],[1,1],[2,2]]}]}', "parts.0.outline"),
    ('{"stock": [], "parts": [{"id": "P", "metal": "m", "outline": [[0,0],[1,0],[0,NaN]]}]}', "parts.0.outline.2.1"),
    ('{"stock": [], "parts": [{"id": "P", "metal": "m", "outline": [[0,0],[1,0],[0,1]], "qty": 0}]}', "parts.0.qty"),
    ('{"stock": [], "parts": [{"id": "P", "metal": "m", "outline": [[0,0],[1,0],[0,1]], "turns": []}]}', "parts.0.turns"),
    ('{"stock": [], "parts": [], "rules": {"gap": -1}}', "rules.gap"),
    ('{"stock": [{"id": "c", "kind": "coil", "metal": "m"}], "parts": []}', "stock.0.width")])
def test_wrong_input_names_its_field(text, field):
    with pytest.raises(InputError) as wrong:
        read(NestJob, text)
    assert wrong.value.field == field


def test_ids_stand_once():
    with pytest.raises(InputError, match="twice"):
        read(NestJob, json.dumps({"stock": [], "parts": [part("P", 1.0, 1.0).model_dump(mode="json")] * 2}))


def test_weight_limits_the_piece_off_the_coil():
    steel = "prepainted steel 0.60"
    coil = COIL.but(metal=steel)
    answer = checked(job(part("P", 1000.0, 600.0, 4, metal=steel), stock=(coil,), max_piece_kg=6.0))
    across = [cut["at"] for cut in answer["cuts"] if cut["piece"] == "coil 1"]
    assert across == [1000.0, 2000.0]
    with pytest.raises(InputError, match="max_piece_kg"):
        nest(job(part("P", 1000.0, 600.0), max_piece_kg=6.0))
