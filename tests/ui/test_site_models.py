"""What Fit, the log and openings show, asked of their models without a window: counted, typed and refused by hand."""

from __future__ import annotations

import pytest

from samples import eaves_path
from yattle.derive import derive
from yattle.job import load
from yattle.job.model import LogEntry
from yattle.ui.benches.install.model import InstallModel
from yattle.ui.benches.log.model import LogModel
from yattle.ui.benches.opening.model import OpeningModel
from yattle.ui.benches.trim.model import TrimModel

EAVES = load(eaves_path())


def test_what_a_run_takes_is_counted_by_its_places(host):
    fit = InstallModel(host, host.changed)
    host.session.select(run="E1")
    shown, need = fit.need_shown("screws"), fit._need("screws")
    assert shown.text == f"{need.many:.0f}" and "covered later" in shown.note
    assert fit.when().startswith("stage ") and fit.moves().sum.value == pytest.approx(fit.here.movement.whole)
    needs = [need for run in fit.installation.runs.values() for need in run.needs]
    needs += [need for each in fit.installation.openings.values() for need in each]
    assert fit.pack_shown("screws").sum.value == pytest.approx(sum(need.many for need in needs if need.what == "screws"))


def test_a_rule_of_fixing_changes_every_count(host):
    fit = InstallModel(host, host.changed)
    host.session.select(run="E1")
    before = fit._need("screws").many
    assert fit.change("screws every", screw_pitch=150.0) is None
    while host.board.busy():
        host.step()
    assert fit._need("screws").many == pytest.approx(2 * before, rel=0.05)


def test_the_log_learns_only_what_was_measured(eaves):
    log = LogModel(eaves, eaves.changed)
    log.choose("measured")
    assert log.learnt().text == "–"
    for n in range(5):
        assert log.keep("leaf", f"{90 * 1.05:g}") is None and log.keep("wanted", "90") is None
        assert log.measured(f"{90 + 0.001 * n:g}") is None
    assert log.learnt().text.startswith("1.05") and all(entry.by == "hand" for entry in eaves.session.job.log)
    log.take_offer()
    assert eaves.session.job.brake.springback.ratio == pytest.approx(1.05, abs=1e-3)
    assert isinstance(eaves.session.job.log[-1], LogEntry) and eaves.session.job.log[-1].what == "lesson"


def test_a_leg_measured_without_what_was_wanted_is_refused(eaves):
    log = LogModel(eaves, eaves.changed)
    assert "expected the leg as drawn" in log.measured_leg("80.2")
    assert log.keep_leg("80") is None and log.measured_leg("80.2") is None
    assert eaves.session.job.log[-1].wanted == 80 and eaves.session.job.log[-1].found == pytest.approx(80.2)


def test_an_opening_s_choice_is_the_job_s_and_a_wrong_one_is_said(host):
    host.session.select(opening="chimney")
    opening = OpeningModel(host, host.changed)
    assert opening.form == "chimney" and not opening.own
    assert opening.put_number("apron", "apron", "200") is None and opening.opening.form.apron == 200
    assert opening.put_number("apron", "apron", "wide") and opening.opening.form.apron == 200
    wrong = opening.put("counter_face", 5.0)
    assert wrong is not None and opening.opening.form.counter_face != 5.0
    names = [name for _, name in opening.piece_names()]
    assert len(names) == len(opening.opening.pieces) and opening.take_piece("1") is None
    assert opening.piece is opening.opening.pieces[1]


def test_costs_and_drops_are_asked_only_when_nothing_moves(host):
    host.session.select(opening="chimney")
    opening, waited = OpeningModel(host, host.changed), []
    opening.wait = lambda: waited.append(1)
    assert opening.drops() == "…" and opening.costs() == "…" and waited
    opening.rested()
    assert opening.drops() == "all stay on the metal" and "pieces" in opening.costs()


def test_derived_by_hand_is_what_the_models_show(eaves):
    trim = TrimModel(eaves, eaves.changed)
    assert [run.run.id for run in derive(EAVES).runs] == [run.run.id for run in eaves.session.derived.runs]
    assert trim.run.run.id == eaves.session.selection.run


def test_what_goes_on_over_what_names_first_what_it_waits_for_longest(host):
    """Of a ridge over hips it is the hips, not the panels that everything lies on."""
    fit = InstallModel(host, host.changed)
    ridge = next(run for run in host.session.derived.runs if run.run.kind == "ridge" and not run.run.layer)
    host.session.select(run=ridge.run.id)
    order, says = fit.installation.order, fit.when()
    under = {lap.under for lap in fit.installation.laps if lap.over == ridge.run.id and any(lap.under in stage for stage in order.stages)}
    last = max(under, key=order.stage_of)
    names = {item.id: item.name for item in fit.installation.items}
    stage = order.stage_of(ridge.run.id)
    assert says.startswith(f"stage {stage + 1} of {len(order.stages)}, over ") and order.stage_of(last) < stage
    late = [name for name in under if order.stage_of(name) == order.stage_of(last)]
    told = says.partition(", over ")[2]
    assert any(name in told or names[name] in told for name in late)
