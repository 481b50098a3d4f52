"""Jobs and papers in the real window: written, opened, refused, asked about."""

from __future__ import annotations

import ezdxf
import pytest
from hands import LEFT, choose, keys, settle, type_into
from PyQt6.QtWidgets import QMessageBox

from samples import COVERAGE_ONLY, eaves_path
from yattle.derive import derive
from yattle.derive.roof_runs import run_of
from yattle.job import demo_path, load
from yattle.job.old_panels import knows_only_coverage
from yattle.ui.commands import job as jobs
from yattle.ui.frame.dialogs import ChangesBox
from yattle.ui.widgets.words import Words


def test_from_the_demo_to_a_written_dxf(window, qtbot, tmp_path, monkeypatch):
    trim = window.benches["trim"]
    assert window.stack.currentWidget() is trim
    window.store.session.select(run="E1")
    type_into(trim.slate.row("face"), "9 cm", qtbot)
    assert run_of(window.store.session.job, "E1").own.face == 90
    assert trim.slate.row("girth").button.text() == "203.6"
    keys(window, "Ctrl+Right", qtbot)
    assert "E1-2" in trim.pattern_card.under.text()
    target = tmp_path / "piece.dxf"
    monkeypatch.setattr(window.asking, "save", lambda name, kinds: str(target))
    keys(window, "Ctrl+D", qtbot)
    qtbot.waitUntil(lambda: target.exists() and not window.store.board.busy("files", "papers"), timeout=20000)
    outline = next(iter(ezdxf.readfile(target).modelspace().query('LWPOLYLINE[layer=="CUT"]')))
    ys = [point[1] for point in outline.get_points()]
    assert max(ys) - min(ys) == pytest.approx(203.579, abs=1e-3)


def test_saving_opening_and_the_unsaved_question(window, qtbot, tmp_path, monkeypatch):
    window.store.session.set_own("E1", "face", 101.0)
    target = tmp_path / "mine"
    monkeypatch.setattr(window.asking, "save", lambda name, kinds: str(target))
    keys(window, "Ctrl+Shift+S", qtbot)
    saved = tmp_path / "mine.yattle"
    assert run_of(load(saved), "E1").own.face == 101 and not window.store.session.changed
    assert str(saved) in window.shop.settings.recent
    window.store.session.set_own("E1", "face", 102.0)
    asked = []
    monkeypatch.setattr(window.asking, "unsaved", lambda name: asked.append(1) or QMessageBox.StandardButton.Cancel)
    jobs.open_path(window.shop, eaves_path())
    assert asked and run_of(window.store.session.job, "E1").own.face == 102, "cancel keeps the work"
    monkeypatch.setattr(window.asking, "unsaved", lambda name: QMessageBox.StandardButton.Save)
    window.do("job.demo")
    assert run_of(load(saved), "E1").own.face == 102 and window.store.session.job == load(demo_path())
    window.menus.fill_recent()
    window.menus.recent.actions()[0].trigger()
    assert window.store.session.path == saved.resolve()


def test_files_that_cannot_be_opened_or_written_are_said(window, qtbot, tmp_path, monkeypatch):
    broken = tmp_path / "broken.yattle"
    broken.write_text("{")
    jobs.open_path(window.shop, broken)
    assert window.trouble.isVisible() and "not a Yattle job" in window.trouble.text.text()
    assert window.store.session.job == load(eaves_path())
    qtbot.mouseClick(window.trouble.away, LEFT)
    assert not window.trouble.isVisible()
    monkeypatch.setattr(window.asking, "save", lambda name, kinds: str(tmp_path / "none" / "x"))
    for shortcut in ("Ctrl+Shift+S", "Ctrl+D", "Ctrl+L"):
        window.trouble.hide()
        keys(window, shortcut, qtbot)
        qtbot.waitUntil(window.trouble.isVisible, timeout=10000)
        assert "cannot be written" in window.trouble.text.text()


@pytest.mark.parametrize(("paper", "name"), [("card", "card.pdf"), ("cuts", "cuts.pdf"),
                                                ("svg", "p.svg"), ("csv", "list.csv")])
def test_every_paper_is_reachable(window, qtbot, tmp_path, monkeypatch, paper, name):
    target = tmp_path / name
    monkeypatch.setattr(window.asking, "save", lambda suggestion, kinds: str(target))
    choose(window, f"papers.{paper}")
    qtbot.waitUntil(lambda: not window.store.board.busy("files", "papers"), timeout=20000)
    assert target.stat().st_size > 500 and "is written" in window.trouble.text.text()


def test_the_whole_pack_from_the_window(open_window, qtbot, tmp_path, monkeypatch):
    window = open_window(load(demo_path("net-shed")))
    monkeypatch.setattr(window.asking, "folder", lambda: str(tmp_path))
    keys(window, "Ctrl+E", qtbot)
    qtbot.waitUntil(lambda: not window.store.board.busy("files", "papers"), timeout=60000)
    assert (out := next(tmp_path.glob("* pack")) / "nest.json").exists() and (out.parent / "papers" / "fold-cards.pdf").exists()


def test_a_job_that_knows_only_a_coverage_is_told_what_a_system_of_it_changes(open_window, qtbot):
    """Opened: run by run and count by count before anything is printed; taken, with one undo; not asked again then."""
    window = open_window()
    jobs.open_path(window.shop, COVERAGE_ONLY)
    settle(window, qtbot)
    box = window.shop.dialog
    assert isinstance(box, ChangesBox) and box.isVisible()
    said = [label.text() for label in box.findChildren(Words)]
    assert any("R1.z1 zed closure: 38 × 459.0" in line and "before 38 × 469.0" in line for line in said), "10 less: the seam"
    assert any(line.startswith("tape: ") for line in said) and not any("clips" in line for line in said)
    job = window.store.session.job
    qtbot.mouseClick(box.take, LEFT)
    settle(window, qtbot)
    now = window.store.session.job
    assert now.panels.system == "coverage 475" and now.panels.coverage == 475 and not knows_only_coverage(now)
    assert {f: [round(p.length, 3) for p in laid.panels] for f, laid in derive(now).panels.items()} == {
        f: [round(p.length, 3) for p in laid.panels] for f, laid in derive(job).panels.items()}, "no panel is another"
    window.store.session.undo()
    assert window.store.session.job == job
    window.shop.dialog = None
    jobs.open_path(window.shop, demo_path())
    settle(window, qtbot)
    assert window.shop.dialog is None, "the demo knows its systems"


def test_a_job_named_at_the_start_is_told_it_too(open_window, qtbot):
    """The window opens with the job of the command line: it was asked nothing of its panels then."""
    window = open_window(load(COVERAGE_ONLY), COVERAGE_ONLY)
    jobs.offer_recovery(window.shop, COVERAGE_ONLY)
    settle(window, qtbot)
    assert isinstance(window.shop.dialog, ChangesBox) and not window.store.session.job.panels.system
    qtbot.mouseClick(window.shop.dialog.leave, LEFT)
    assert not window.store.session.job.panels.system, "left as it is"
