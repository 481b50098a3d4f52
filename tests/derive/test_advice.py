"""Girth advice: what it offers saves what it says, stays within what may give, and takes nothing by itself."""

from __future__ import annotations

import pytest

from samples import eaves_path
from yattle.derive import derive
from yattle.derive.advice import SOFT, _saves, candidates, coil_used, girth_advice, told
from yattle.details import ENTRIES
from yattle.job import demo_path, load

JOB = load(eaves_path()).but(stock=load(eaves_path()).stock[:1])


def test_every_change_saves_what_it_says():
    job, used = JOB, coil_used(derive(JOB))
    found = girth_advice(JOB)
    assert found, "six strips of 205 do not come out of 1220, six of 203.3 do"
    for advice in found:
        job = job.but(own=job.own.but(**{advice.entry: advice.after}))
        now = coil_used(derive(job))
        assert used - now == pytest.approx(advice.saves) and advice.saves > 5
        used = now
    assert derive(job).nest.ok


def test_what_may_not_give_is_left_alone():
    for entry, before, after in candidates(load(demo_path())):
        default = ENTRIES[entry].metric
        assert entry in SOFT and abs(after - default) <= SOFT[entry] * default + 1e-9 and after != before
    assert set(SOFT) <= set(ENTRIES) and not {"hem", "lap", "kick", "wrap"} & set(SOFT)


def test_without_a_coil_there_is_none():
    assert girth_advice(JOB.but(stock=())) == ()


def test_it_can_be_stopped():
    asked = []
    heard = []
    found = girth_advice(JOB, lambda: bool(asked.append(1)) or len(asked) < 4, lambda *said: heard.append(said))
    assert len(found) <= 1 and len(heard) <= 3 and all(done <= of for done, of, _ in heard)


def test_no_advice_breaks_a_rule_that_held():
    """A valley's wing 20 narrower saves metal, and leaves under 75 of the pan beneath the panels: no advice."""
    job = load(demo_path())
    held = told(derive(job))
    narrow = job.but(own=job.own.but(valley_wing=150.0))
    broken = told(derive(narrow)) - held
    assert any("under the panels" in text for _, text in broken)
    assert _saves(1e9, derive(narrow), held) == 0.0 and _saves(1e9, derive(job), held) > 0
    for advice in girth_advice(JOB):
        assert told(derive(JOB.but(own=JOB.own.but(**{advice.entry: advice.after})))) <= told(derive(JOB))
