"""The coil bench looks for a better plan beside the window: begun, told, stopped, kept, thrown away when the job changes."""

from __future__ import annotations

import json

import pytest
from hands import keys, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton

from samples import THREE_EAVES
from yattle.coil import faults
from yattle.job import load

DEMO = load(THREE_EAVES)


def at_the_coil(window, qtbot):
    """The window on its coil bench, with a plan."""
    window.show_bench("coil")
    settle(window, qtbot)
    found = window.benches["coil"]
    qtbot.waitUntil(lambda: found.model.answer is not None, timeout=20000)
    return window, found


@pytest.fixture
def bench(open_window, qtbot):
    return at_the_coil(open_window(DEMO), qtbot)


def test_a_better_plan_is_found_and_kept(bench, qtbot):
    window, coil = bench
    before = coil.model.answer
    coil.model.plan.search.seconds = 3.0
    qtbot.mouseClick(next(found for found in coil.slate.findChildren(QPushButton) if found.text() in ("search on", "stop")), Qt.MouseButton.LeftButton)
    assert any(found.text() == "stop" for found in coil.slate.findChildren(QPushButton)) and coil.model.plan.search.busy
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=20000)
    assert coil.model.plan.search.progress
    derived = window.store.session.derived
    assert coil.model.answer.objective <= before.objective and derived.nest is coil.model.answer
    assert faults(derived.nest_job, json.loads(json.dumps(coil.model.answer.answer()))) == []
    assert coil.model.plan.used_says() in window.rail.buttons["coil"].under


def test_it_can_be_stopped_and_a_changed_job_ends_it(bench, qtbot):
    window, coil = bench
    coil.model.plan.search.seconds = 60.0
    coil.model.search()
    coil.model.search()
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=20000)
    coil.model.search()
    before = coil.model.answer
    type_into(coil.slate.row("width"), "40", qtbot)
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=20000)
    settle(window, qtbot)
    assert coil.model.answer is not before and window.store.session.derived.nest is coil.model.answer


def test_with_snips_the_true_shapes_are_drawn_and_there_are_no_cuts(bench, qtbot):
    window, coil = bench
    cuts = len(coil.model.answer.cuts)
    assert cuts and coil.cut.isVisibleTo(window)
    assert coil.model.set_rules("cutting", cutting="snips") is None
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and not coil.model.answer.cuts, timeout=20000)
    assert not coil.cut.isVisibleTo(window) and coil.said.text() == "cut by hand along the outlines"
    drawn = [shape for row in coil.view.lanes for shape in row.drawing.shapes if getattr(shape, "role", "") == "piece"]
    outlines = {pattern.id: pattern.outline for pattern in window.store.session.derived.patterns}
    assert drawn and all(len(shape.points) == len(outlines[shape.key]) for shape in drawn)
    window.do("edit.undo")
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and len(coil.model.answer.cuts) == cuts, timeout=20000)


def test_what_to_order_comes_beside_the_window(bench, qtbot):
    _, coil = bench
    qtbot.waitUntil(lambda: not coil.model.desk.busy and "wide:" in coil.model.order(), timeout=20000)
    assert coil.slate.row("fresh coil") is not None and coil.model.order().count("ft²" if coil.store.unit.parts else "m²") >= 3


def test_the_least_money_counts_cuts_and_offcuts_at_the_shop_s_rates(bench, qtbot):
    """Chosen on the slate; the plan's price is what is made least then, and rates typed change it."""
    window, coil = bench
    assert coil.model.set_rules("the least of", objective="money") is None
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and coil.model.answer.objective_of == "money", timeout=20000)
    assert coil.slate.row("find the least").box.currentText() == "money, all counted"
    assert coil.model.answer.objective == pytest.approx(coil.model.hand.cost().value)
    assert window.store.session.derived.nest_job.rules.cut_cost == pytest.approx(45 / 60 * 0.5)
    begun = coil.model.answer
    coil.model.plan.search.seconds = 2.0
    coil.model.search()
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=20000)
    assert coil.model.answer.objective <= begun.objective
    type_into(coil.slate.row("minutes a cut"), "2", qtbot)
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and coil.model.answer.objective > begun.objective, timeout=20000)
    assert coil.model.answer.objective == pytest.approx(coil.model.hand.cost().value)
    assert window.store.session.derived.nest_job.rules.cut_cost == pytest.approx(1.5)


def test_cuts_play_by_themselves_until_the_last_one_or_until_stopped(bench, qtbot):
    window, coil = bench
    coil.playback.timer.setInterval(2)
    keys(window, "F2", qtbot)
    assert coil.play.isChecked() and coil.play.text() == "stop" and coil.cut.value() == 0, "from the first cut on"
    qtbot.waitUntil(lambda: coil.cut.value() >= 3, timeout=5000)
    qtbot.mouseClick(coil.play, Qt.MouseButton.LeftButton)
    here = coil.cut.value()
    qtbot.wait(30)
    assert coil.cut.value() == here and coil.play.text() == "play"
    coil.cut.setValue(coil.cut.maximum() - 2)
    qtbot.mouseClick(coil.play, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not coil.play.isChecked(), timeout=5000)
    assert coil.cut.value() == coil.cut.maximum()
    keys(window, "F2", qtbot)
    window.show_bench("fit")
    qtbot.waitUntil(lambda: not coil.playback.timer.isActive(), timeout=5000)
    fit = window.benches["fit"]
    fit.playback.timer.setInterval(2)
    keys(window, "F2", qtbot)
    assert fit.stage == 0
    qtbot.waitUntil(lambda: not fit.play.isChecked(), timeout=5000)
    assert fit.stage == len(fit.model.installation.order.stages) - 1
    window.show_bench("survey")
    told = []
    window.store.said.connect(told.append)
    keys(window, "F2", qtbot)
    assert told == ["nothing plays here: folds play on the brake, cuts on the coil, stages on fit"]


def test_the_slate_says_how_often_the_fence_is_set(bench, qtbot):
    """Counted again from the cuts on the drawing: a new setting wherever a strip is another width than the one before."""
    _, coil = bench
    many, _, said = coil.slate.row("cuts").said.text().partition(", the fence set ")
    alongs = [cut for cut in coil.model.answer.cuts if cut.axis == "along"]
    assert int(many) == len(coil.model.answer.cuts) and 0 < int(said.split()[0]) < len(alongs)


SMALL = DEMO.but(runs=DEMO.runs[:1])


@pytest.fixture
def small(open_window, qtbot):
    """A job of a few pieces."""
    return at_the_coil(open_window(SMALL), qtbot)


def test_of_a_few_pieces_the_least_is_proven_long_before_the_time_is_up(small, qtbot):
    """The slate and the line beside the button say so; the plan holds against the validator."""
    window, coil = small
    job = window.store.session.derived.nest_job
    assert 1 < sum(part.qty for part in job.parts) <= 40
    coil.model.plan.search.seconds = 60.0
    qtbot.mouseClick(next(found for found in coil.slate.findChildren(QPushButton) if found.text() in ("search on", "stop")), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=40000)
    assert coil.slate.row("cuts").said.text() == f"{len(coil.model.answer.cuts)}, the fence set once", "three strips of one width"
    assert coil.model.answer.proved_best and coil.model.plan.search.progress == "the least there is"
    assert "the plan is the least there is" in coil.slate.row("at the least").note.text()
    assert faults(job, json.loads(json.dumps(coil.model.answer.answer()))) == []


def test_metres_of_coil_can_be_asked_for(bench, qtbot):
    """Chosen in the list on the slate: what is made least is then what is cut off the coil, and undo takes it back."""
    window, coil = bench
    before = coil.model.answer
    box = coil.slate.row("find the least").box
    box.setFocus()
    qtbot.keyClick(box, Qt.Key.Key_End)
    assert box.currentText() == "metres of coil"
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and coil.model.answer.objective_of == "length", timeout=20000)
    taken = sum(used.length for used in coil.model.answer.used) / 1000
    assert coil.model.answer.objective == pytest.approx(taken) and coil.model.plan.used_says() == coil.model.plan.metres(taken * 1000)
    used = {u.stock: u.length for u in coil.model.answer.used}
    priced = sum(used[s.id] / 1000 * s.cost_per_m for s in coil.store.session.job.stock if s.kind == "coil" and s.id in used)
    assert coil.model.hand.cost().terms[0].amount == pytest.approx(priced), "priced whatever is made least"
    window.do("edit.undo")
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and coil.model.answer.objective_of == before.objective_of, timeout=20000)


def test_by_true_shapes_better_plans_come_while_it_searches_and_it_stops_when_told(bench, qtbot):
    window, coil = bench
    assert coil.model.set_rules("cutting", cutting="snips") is None
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and not coil.model.answer.cuts, timeout=20000)
    first, told = coil.model.answer, coil.model.plan.search.better
    coil.model.plan.search.seconds = 90.0
    qtbot.mouseClick(next(found for found in coil.slate.findChildren(QPushButton) if found.text() in ("search on", "stop")), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: len(told) >= 2, timeout=60000)
    assert "over the least" in coil.model.plan.search.progress
    qtbot.mouseClick(next(found for found in coil.slate.findChildren(QPushButton) if found.text() in ("search on", "stop")), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=20000)
    assert coil.model.answer.objective < first.objective and coil.model.answer.objective <= told[-1].objective + 1e-9
    assert faults(window.store.session.derived.nest_job, json.loads(json.dumps(coil.model.answer.answer()))) == []


def test_a_long_coil_in_feet_and_sixteenths_is_not_cut_off_on_the_slate(bench, qtbot):
    """The big figure has room for all of its text, by the font it is written in."""
    window, coil = bench
    assert coil.model.set_rules("cutting", cutting="snips") is None
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and not coil.model.answer.cuts, timeout=20000)
    for name in ("used", "used well", "waste", "at the least"):
        button = coil.slate.row(name).button
        assert button.fontMetrics().horizontalAdvance(button.text()) <= button.contentsRect().width(), name
