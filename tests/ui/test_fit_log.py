"""The last third of the way in the real window: the order on the roof, what it takes, papers; the log and what is learnt."""

from __future__ import annotations

import csv
import subprocess
import sys

import pytest
from hands import choose, escape, keys, press_key_of, settle, type_into
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox

from yattle.devices import StandInFolder, served
from yattle.install.installation import installation
from yattle.install.predrill import drilled
from yattle.job import demo_path, load, save
from yattle.job.settings import load_settings
from yattle.pattern.pattern import SCREW
from yattle.ui.commands import job as jobs
from yattle.ui.commands import view

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(open_window, qtbot):
    found = open_window(load(demo_path()))
    qtbot.waitUntil(lambda: "stage" in found.rail.buttons["fit"].under, timeout=30000)
    return found


def test_from_the_eave_up_by_keyboard_and_mouse(window, qtbot):
    keys(window, "Ctrl+5", qtbot)
    bench = window.benches["fit"]
    order = installation(window.store.session.derived).order
    assert window.rail.buttons["fit"].under == f"{len(order.stages)} stages"
    bench.slide.setValue(0)
    for n, stage in enumerate(order.stages):
        assert bench.stage == n and [bench.list.item(k).data(Qt.ItemDataRole.UserRole) for k in range(bench.list.count())] == list(stage)
        qtbot.mouseClick(bench.next, LEFT)
    press_key_of(bench.plan, "R1", qtbot)
    assert window.store.session.selection.run == "R1" and bench.stage == order.stage_of("R1")
    assert bench.list.currentItem().data(Qt.ItemDataRole.UserRole) == "R1"
    assert bench.slate.row("screws").button.text() == f"{bench.model.here.needs[0].many:.0f}"
    qtbot.mouseClick(bench.slate.row("screws").button, LEFT)  # its sum unfolds
    assert bench.slate.row("screws").sum.isVisibleTo(window)


def test_the_house_standard_of_fixing_changes_the_counts(window, qtbot):
    keys(window, "Ctrl+5", qtbot)
    window.store.session.select(run="R1")
    bench = window.benches["fit"]
    before = next(need.many for need in bench.model.here.needs if need.what == "screws")
    type_into(bench.slate.row("screws every"), "150", qtbot)
    settle(window, qtbot)
    after = next(need.many for need in bench.model.here.needs if need.what == "screws")
    assert after > 1.8 * before
    type_into(bench.slate.row("screws every"), "nothing", qtbot)
    assert window.store.session.job.fit.screw_pitch == 150
    escape(bench.slate.row("screws every"), qtbot)
    keys(window, "Ctrl+Z", qtbot)
    settle(window, qtbot)
    assert next(need.many for need in bench.model.here.needs if need.what == "screws") == before


def test_a_word_against_the_water_is_told_and_taken_back(window, qtbot):
    keys(window, "Ctrl+5", qtbot)
    window.store.session.select(run="E1")
    bench = window.benches["fit"]
    assert bench.model.say_lap("R1") is None
    settle(window, qtbot)
    assert bench.model.installation.order.troubles and not bench.card.right.text()
    assert any("both before and after" in finding.says() for _, finding in bench.model.looks())
    assert bench.model.say_lap("") is None
    settle(window, qtbot)
    assert not bench.model.installation.order.troubles


def test_quarrelling_metals_are_told(window, qtbot):
    keys(window, "Ctrl+5", qtbot)
    bench = window.benches["fit"]
    assert bench.model.change("screws", screws="copper") is None
    settle(window, qtbot)
    assert any("copper screws" in finding.says() for _, finding in bench.model.looks())


def test_site_pack_order_list_and_log_as_papers(window, qtbot, tmp_path):
    window.asking.save = lambda suggestion, kinds: str(tmp_path / suggestion)
    for name in ("site", "order", "log"):
        choose(window, f"papers.{name}")
        settle(window, qtbot)
    said = " ".join(page.extract_text() for page in PdfReader(tmp_path / "site-pack.pdf").pages)
    fit = installation(window.store.session.derived)
    assert all(f"Stage {n + 1}" in said for n in range(len(fit.order.stages)))
    assert all(caution[:40] in said for n in range(len(fit.order.stages)) for caution in fit.cautions(n))
    assert "outrank every line" in said and "complian" not in said.lower()
    rows = list(csv.DictReader((tmp_path / "order-list.csv").read_text().splitlines()))
    assert {row["what"]: int(row["packs"]) for row in rows if row["packs"] and "profile strips" not in row["what"]} == {p.what: p.packs for p in fit.packs}
    assert {"metal", "panels", "fixings", "sealing"} <= {row["kind"] for row in rows}
    assert (tmp_path / "log.csv").read_text().startswith("when,of,what")


def fold_three(window, qtbot):
    """A piece of three runs folded on the folder, one after another."""
    brake = window.benches["brake"]
    keys(window, "Ctrl+3", qtbot)
    for run in ("E1", "R1", "G1"):
        window.store.session.select(run=run)
        settle(window, qtbot)
        qtbot.waitUntil(lambda: bool(brake.model.steps), timeout=20000)
        keys(window, "Ctrl+G", qtbot)
        settle(window, qtbot)
    keys(window, "Ctrl+6", qtbot)
    return window.store.session.job


def shop_folder():
    """A folder of the shop: one that does not call itself a stand-in."""
    device = StandInFolder()
    return lambda line: device(line).replace("stand-in", "shop")


def test_what_a_stand_in_says_is_marked_and_nothing_is_learnt_from_it(window, qtbot):
    job = fold_three(window, qtbot)
    log = window.benches["log"]
    assert len(job.log) >= 8 and {entry.by for entry in job.log} == {"stand-in"}
    assert log.plot.points == [] and not log.take.isVisibleTo(window) and log.slate.row("springback").button.text() == "–"
    assert "stand-in, not measured" in log.list.item(0).text()
    assert "by a stand-in: not measured" in window.benches["brake"].model.folder.measured
    with served(StandInFolder()) as address:  # behind a real line it is a stand-in all the same
        window.benches["brake"].model.folder.at = address
        job = fold_three(window, qtbot)
    assert {entry.by for entry in job.log} == {"stand-in"}


def test_folded_on_the_folder_measured_in_the_log_and_learnt(window, qtbot):
    log = window.benches["log"]
    with served(shop_folder()) as address:
        window.benches["brake"].model.folder.at = address
        job = fold_three(window, qtbot)
    assert len(job.log) >= 8 and all(entry.what == "measured" for entry in job.log) and len(log.plot.points) == len(job.log)
    assert {entry.by for entry in job.log} == {"device"}
    assert log.take.isVisibleTo(window) and log.plot.offer.found == pytest.approx(1.037, abs=0.01)
    before = job.brake.springback.ratio
    qtbot.mouseClick(log.take, LEFT)
    assert window.store.session.job.brake.springback.ratio == pytest.approx(log.plot.offer.found, abs=1e-4)
    assert not log.take.isVisibleTo(window)
    keys(window, "Ctrl+Z", qtbot)
    assert window.store.session.job.brake.springback.ratio == before


def test_notes_are_written_found_and_undone(window, qtbot):
    keys(window, "Ctrl+6", qtbot)
    log = window.benches["log"]
    for kind, text in (("weather", "north wind, wet"), ("spoiled", "cut on the fold line")):
        assert log.model.choose(kind) is None
        type_into(log.slate.row("note"), text, qtbot)
    assert [entry.what for entry in window.store.session.job.log] == ["weather", "spoiled"]
    assert log.list.item(0).text().endswith("cut on the fold line")
    qtbot.keyClicks(log.words, "wind")
    assert log.list.count() == 1 and "1 of 2" in log.list_card.right.text()
    log.model.choose("measured")
    for name, text in (("fold wanted", "90"), ("leaf set to", "93"), ("found", "90.4")):
        type_into(log.slate.row(name), text, qtbot)
    assert window.store.session.job.log[-1].found == 90.4 and window.store.session.job.log[-1].set == 93
    type_into(log.slate.row("found"), "askew", qtbot)
    assert len(window.store.session.job.log) == 3
    escape(log.slate.row("found"), qtbot)
    keys(window, "Ctrl+Z", qtbot)
    assert len(window.store.session.job.log) == 2


def test_edits_of_a_killed_program_are_offered(open_window, qtbot, tmp_path):
    """Another process edits and dies; this window asks, shows what differs, takes them, and they can be undone."""
    path = tmp_path / "loft.yattle"
    save(load(demo_path("net-shed")), path)
    child = subprocess.run([sys.executable, "-c", "import sys; from pathlib import Path\n"
                            "from yattle.job import load; from yattle.session import Session; from yattle.session.journal import Journal\n"
                            "s = Session(load(Path(sys.argv[1])), Path(sys.argv[1])); Journal(s)\n"
                            "s.edit('colour', lambda job: job.but(colour='sand'))", str(path)], check=False)
    assert child.returncode == 0
    window = open_window(load(path), path)
    asked = []
    window.asking.recover = lambda said: asked.append(said) or True
    jobs.offer_recovery(window.shop)
    assert len(asked) == 1 and "colour" in asked[0] and "loft.yattle" in asked[0]
    assert window.store.session.job.colour == "sand" and "*" in window.windowTitle()
    jobs.offer_recovery(window.shop)
    assert len(asked) == 1
    keys(window, "Ctrl+Z", qtbot)
    assert window.store.session.job == load(path)


def test_the_tour_has_six_stops_and_can_be_left(window, qtbot):
    assert not window.shop.settings.toured and not window.tour.isVisible()
    view.first_look(window.shop)
    seen = []
    for _ in range(6):
        assert window.tour.isVisibleTo(window)
        seen.append(window.front.name)
        qtbot.mouseClick(window.tour.on, LEFT)
    assert seen == ["survey", "trim", "brake", "coil", "fit", "log"] and not window.tour.isVisible()
    assert window.shop.settings.toured and load_settings().toured
    view.first_look(window.shop)
    assert not window.tour.isVisible()
    choose(window, "help.tour")
    assert window.tour.isVisibleTo(window)
    qtbot.mouseClick(window.tour.out, LEFT)
    assert not window.tour.isVisible()


def test_every_bench_has_a_page_of_help(window, qtbot):
    for bench in window.rail.buttons:
        window.show_bench(bench)
        keys(window, "Shift+F1", qtbot)
        text = window.shop.dialog.page.toPlainText()
        assert text.splitlines()[0].lower() == bench and len(text) > 100 and window.shop.dialog.list.topLevelItemCount() == 7
        window.shop.dialog.reject()


def test_the_whole_way_from_survey_to_log(window, qtbot, tmp_path):
    """The demo job: a measure changed, its trim, order, plan, stage and a line in the log, one after another."""
    keys(window, "Ctrl+1", qtbot)
    before = window.store.session.derived.run("E1").run.pitch
    window.benches["survey"].model.press("face:loft.1")
    type_into(window.benches["survey"].slate.row("pitch left"), "38°", qtbot)
    settle(window, qtbot)
    assert before != 38 and window.store.session.derived.run("E1").run.pitch == 38
    window.store.session.select(run="E1")
    for shortcut, bench in (("Ctrl+2", "trim"), ("Ctrl+3", "brake"), ("Ctrl+4", "coil"), ("Ctrl+5", "fit"), ("Ctrl+6", "log")):
        keys(window, shortcut, qtbot)
        settle(window, qtbot)
        assert window.front.name == bench and window.store.session.selection.run == "E1"
    qtbot.waitUntil(lambda: window.benches["coil"].model.answer is not None, timeout=30000)
    assert window.benches["coil"].model.answer.ok
    log = window.benches["log"]
    log.model.choose("fitted")
    type_into(log.slate.row("note"), "first eave straight", qtbot)
    window.store.session.save(tmp_path / "way.yattle")
    again = load(tmp_path / "way.yattle")
    assert again.log[-1].of == "E1-1" and again.log[-1].text == "first eave straight"


def test_joints_that_stand_by_sealant_alone_are_ringed_told_and_on_paper(window, qtbot, tmp_path):

    keys(window, "Ctrl+5", qtbot)
    bench = window.benches["fit"]
    window.store.session.select(run="E1")
    many = len(window.store.session.derived.run("E1").pieces) - 1
    assert bench.slate.row("joints").said.text() == f"{many} in nested hems" and bench.plan.sealed == []
    before = bench.plan.grab().toImage()
    window.store.session.edit("joints", lambda job: job.but(schools=job.schools.but(joint="plain")))
    settle(window, qtbot)
    assert bench.slate.row("joints").said.text() == f"{many} by sealant alone"
    bench.slide.setValue(bench.slide.maximum())
    sealed = bench.model.installation.water.sealed
    assert len(bench.plan.sealed) == len([joint for joint in sealed if joint.at]) > many
    assert "a ring: sealant alone" in bench.plan.corners[0] and bench.plan.grab().toImage() != before
    window.store.session.select(run="V1")
    assert "with the upper piece over the lower" in bench.slate.row("joints").said.text()
    path = tmp_path / "site.pdf"
    window.asking.save = lambda *_: str(path)
    window.do("papers.site")
    window.store.finish("files", "papers")
    settle(window, qtbot)
    text = " ".join(page.extract_text() for page in PdfReader(path).pages)
    assert f"E1: by sealant alone {many} joints" in text and "V1: by sealant alone" not in text
    window.do("edit.undo")
    settle(window, qtbot)
    assert bench.plan.sealed == []


def test_a_wider_lap_gets_a_second_row_by_the_house_standard(window, qtbot):
    keys(window, "Ctrl+5", qtbot)
    window.store.session.select(run="R1")
    bench = window.benches["fit"]
    screws = next(need for need in bench.model.here.needs if need.what == "screws")
    type_into(bench.slate.row("second row from"), "150", qtbot)  # its wings are 170
    settle(window, qtbot)
    doubled = next(need for need in bench.model.here.needs if need.what == "screws")
    assert (doubled.many, doubled.rows) == (2 * screws.many, 2 * screws.rows)
    holes = drilled(window.store.session.derived, "R1", 0)
    rows = {round(mark.a[1], 2) for mark in holes.marks if mark.text == SCREW}
    assert len(rows) >= 4
    window.do("edit.undo")
    settle(window, qtbot)
    assert next(need for need in bench.model.here.needs if need.what == "screws") == screws


def test_a_lost_folder_and_a_full_disk_are_said_and_nothing_is_lost(open_window, qtbot, tmp_path):
    """The share with the file goes away; so does the place where edits are kept; then it is saved elsewhere."""
    share = tmp_path / "share"
    share.mkdir()
    save(load(demo_path("net-shed")), share / "loft.yattle")
    window = open_window(load(share / "loft.yattle"), share / "loft.yattle")
    told = []
    window.store.trouble.connect(told.append)
    share.rename(tmp_path / "away")
    (tmp_path / "blocked").write_text("a file where the folder should be")
    window.journal.place = tmp_path / "blocked" / "journal.json"
    for colour in ("sand", "zinc"):
        window.store.session.edit("colour", lambda job, colour=colour: job.but(colour=colour))
    assert len(told) == 1 and told[0].startswith("edits between saves are not kept (")
    keys(window, "Ctrl+S", qtbot)
    assert "cannot be written to" in told[-1] and "nothing is lost" in told[-1]
    assert window.store.session.changed and "not saved" in window.menus.title.text()
    window.asking.save = lambda *_: str(tmp_path / "elsewhere.yattle")
    keys(window, "Ctrl+Shift+S", qtbot)
    assert load(tmp_path / "elsewhere.yattle").colour == "zinc" and not window.store.session.changed


def test_a_new_job_begins_in_the_same_shop_with_what_was_learnt(window, qtbot):
    session = window.store.session
    session.edit("learnt", lambda job: job.but(k=0.41, shop=job.shop.but(an_hour=52.0), brake=job.brake.but(
        springback=job.brake.springback.but(ratio=1.027))))
    before, told = session.job, []
    window.store.said.connect(told.append)
    window.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard
    window.do("job.new")
    settle(window, qtbot)
    job = session.job
    assert (job.k, job.shop.an_hour, job.brake.springback.ratio) == (0.41, 52.0, 1.027) and job.stock == before.stock
    assert not session.derived.pieces and job.name == "new job" and session.path is None and session.undo_title is None
    assert window.rail.buttons["survey"].isChecked() and any("same shop" in text for text in told)


def test_the_slate_belongs_to_what_is_selected_panels_too(open_window, qtbot):
    """A face pressed on the plan: its panels' system, lengths and fixings, not the run before; a run again: that."""
    window = open_window(load(demo_path()))
    window.show_bench("fit")
    bench = window.benches["fit"]
    settle(window, qtbot)
    press_key_of(bench.plan, "R1", qtbot)
    rows = {row.name: row for row in bench.slate.rows}
    assert rows["goes on"].isVisibleTo(bench.slate) and not rows["lengths"].isVisibleTo(bench.slate)
    bench._pressed("face:loft.1")
    rows = {row.name: row for row in bench.slate.rows}
    assert rows["lengths"].isVisibleTo(bench.slate) and not rows["goes on"].isVisibleTo(bench.slate)
    laid = window.store.session.derived.panels["loft.1"]
    assert bench.model.panels is laid and bench.model.lengths_say().startswith(f"{laid.orders()[0][1]} × ")
    assert "panel clips" in bench.model.panels_take() and bench.list.currentItem().text().startswith("panels, face loft.1")
    press_key_of(bench.plan, "R1", qtbot)
    assert bench.model.item == "R1" and bench.model.panels is None
