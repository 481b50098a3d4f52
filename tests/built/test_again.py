"""The roof put together again after an edit of one run: as quickly as it is small, and the same as the whole."""

from __future__ import annotations

from dataclasses import fields

import numpy as np
import pytest

from yattle.built import put_together
from yattle.built.again import lies_otherwise, put_together_again
from yattle.built.checked import Checked
from yattle.built.shown import shown
from yattle.derive import derive
from yattle.derive.roof_runs import run_of, with_run
from yattle.install.fitting import fitting
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.roof.starts import STARTS
from yattle.session.results import built_of
from yattle.tasks.request import Hand


def of_a_start(name, system="snap seam 16 x 1 3/4 in, nail strip"):
    return with_system(Job(name=name, roof=STARTS[name]), system)


def edited(job, run_id, **own):
    return with_run(job, run_id, own=run_of(job, run_id).own.but(**own))


def verdicts(checked):
    """What each row says, without places, which may be another one of several as good, and to a hundredth of a mm."""
    def plain(value):
        return round(value, 2) + 0.0 if isinstance(value, float) else value
    return {field.name: sorted({repr([plain(getattr(one, each.name)) for each in fields(one) if each.name != "at"])
                                for one in getattr(checked, field.name)}) for field in fields(Checked)}


def places(built):
    return [(one.pattern, one.copy, one.stage, one.on, np.round(one.place, 6).tolist()) for one in built.placed]


def same(one, other):
    assert places(one) == places(other) and one.missing == other.missing and list(one.standing) == list(other.standing)
    mine, whole = verdicts(one.checked), verdicts(other.checked)
    assert {row: (set(mine[row]) ^ set(whole[row])) for row in mine if mine[row] != whole[row]} == {}


EDITS = {
    "gable with a wing": [("R1", {"ridge_wing": 155.0}), ("V1", {"lap_wet": 145.0}), ("E1", {"kick": 23.0}),
                          ("G1", {"rake_face": 115.0}), ("E1", {"kick": None}), ("E2", {"face": 60.0})],
    "hip": [("H1", {"hip_wing": 145.0}), ("E1", {"lap": 82.0}), ("R1", {"closure_tab": 17.0})]}


@pytest.mark.parametrize("start", EDITS)
def test_edit_after_edit_it_is_as_if_put_together_anew(start):
    """Each edit after the ones before it, on what the one before left."""
    job = of_a_start(start)
    before = put_together(derive(job))
    for run, own in EDITS[start]:
        job = edited(job, run, **own)
        again, whole = put_together_again(derive(job), before), put_together(derive(job))
        assert again is not None and lies_otherwise(again, before)
        same(again, whole)
        assert again.answer["ok"] == whole.answer["ok"]
        before = again


def test_of_pieces_that_are_gone_nothing_is_said():
    """A ridge of five pieces is cut of longer sheet: three of them are no more."""
    job = edited(of_a_start("gable"), "R1", stock_length=2200.0)
    before = put_together(derive(job))
    job = edited(job, "R1", stock_length=3000.0)
    again = put_together_again(derive(job), before)
    assert len(again.placed) < len(before.placed)
    same(again, put_together(derive(job)))


def test_what_fails_is_found_at_once_and_gone_when_it_is_mended():
    job = of_a_start("gable")
    before = put_together(derive(job))
    assert before.answer["ok"]
    wrong = put_together_again(derive(edited(job, "R1", closure_height=57.0)), before)
    assert not wrong.answer["ok"] and any("R1.z1-1/1" in says for says in wrong.answer["reasons"])
    again = put_together_again(derive(job), wrong)
    assert again.answer["ok"]
    same(again, before)


def test_an_edit_that_moves_nothing_asks_nothing():
    job = of_a_start("gable")
    before = put_together(derive(job))
    for other in (job.but(colour="moss green"), job.but(name="another", rain=90.0)):
        again = put_together_again(derive(other), before)
        assert again.checked is before.checked and not lies_otherwise(again, before)


@pytest.mark.parametrize("change", [
    {"thickness": 0.7}, {"measured": "inside"}, {"roof": STARTS["hip"]}, {"own": {"seam_height": 40.0}}])
def test_what_all_pieces_hang_on_is_asked_as_a_whole(change):
    job = of_a_start("gable")
    own = {"own": job.own.but(**change["own"])} if "own" in change else change
    assert put_together_again(derive(job.but(**own)), put_together(derive(job))) is None


def test_patterns_read_from_a_pack_are_no_ground_to_go_on_from():
    derived = derive(of_a_start("gable"))
    spoiled = put_together(derived, [one for one in derived.patterns if not one.id.startswith("R1")], ("R1-1: not there",))
    assert put_together_again(derived, spoiled) is None


def test_first_what_the_edit_touches_is_told_then_how_far_the_whole_is():
    job, told = of_a_start("gable"), []
    whole = built_of(Hand(tell=told.append), job)
    assert whole.built.whole and whole.built.says == "fits"
    told.clear()
    found = built_of(Hand(tell=told.append), edited(job, "R1", ridge_wing=155.0))
    first, shares = told[0].built, told[1:]
    assert not first.whole and first.says == "asking the rest …" and first.fits_at("R1-1")
    assert shares == sorted(shares) and shares[0] == 0.0 and 0.3 < shares[-1] < 1.0
    assert found.built.whole and found.built.troubles == first.troubles
    told.clear()
    found = built_of(Hand(tell=told.append), edited(job, "R1", ridge_wing=155.0).but(colour="moss green"))
    assert found.built.whole and told == [], "nothing has moved"


def test_what_nobody_waits_for_ends_between_two_rows():
    job, told = of_a_start("gable"), []
    built_of(Hand(), job)
    stopped = built_of(Hand(lambda: len(told) > 4, told.append), edited(job, "R1", ridge_wing=150.0))
    assert stopped is None and len(told) == 5 and max(told[1:]) < 0.5
    heard = []
    found = built_of(Hand(tell=heard.append), edited(job, "R1", ridge_wing=150.0).but(colour="moss green"))
    assert not heard[0].built.whole and len(heard) > 4, "nothing has moved since, but the whole was not asked yet"
    assert found.built.whole and found.built.says == "fits"


def test_the_demo_s_ridge():
    job = load(demo_path())
    before = put_together(derive(job))
    job = edited(job, "R1", ridge_wing=155.0)
    again = put_together_again(derive(job), before)
    same(again, put_together(derive(job)))
    assert shown(again, fitting(derive(job))).fits
