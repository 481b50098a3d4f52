"""How a window begins, what it offers of work left behind, and how it stays awake on a large job."""

from __future__ import annotations

import json
import math
import subprocess
import sys
import time

import pytest
from hands import choose, keys, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox

from samples import THREE_EAVES
from yattle.derive import derive
from yattle.derive.roof_runs import run_of
from yattle.job import load, save
from yattle.job.store import as_text
from yattle.session import Session
from yattle.session.journal import Journal, journal_folder, left_behind
from yattle.ui.app import make_app, make_window
from yattle.ui.commands import job as jobs
from yattle.ui.frame.window import Window

SHED = load(THREE_EAVES)


@pytest.fixture
def start(qtbot):
    """Starts a window as the command line does, and ends it."""
    make_app()

    def starter(path) -> Window:
        window = make_window(path)
        window.store.session.patience = math.inf  # edits are there at once, however busy the machine is
        window.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard
        qtbot.addWidget(window, before_close_func=lambda w: settle(w, qtbot))
        window.show()
        qtbot.waitExposed(window)
        settle(window, qtbot)
        return window
    yield starter
    for left in journal_folder().glob("*"):
        left.unlink()


def left_by_another(path, *colours):
    """Another program edits a file and is killed."""
    code = ("import os, sys; from pathlib import Path\n"
            "from yattle.job import load; from yattle.session import Session; from yattle.session.journal import Journal\n"
            "s = Session(load(Path(sys.argv[1])), Path(sys.argv[1])); Journal(s)\n"
            "for colour in sys.argv[2:]: s.edit('colour', lambda job: job.but(colour=colour))\nos._exit(9)")
    assert subprocess.run([sys.executable, "-c", code, str(path), *colours], check=False).returncode == 9


@pytest.fixture
def loft(tmp_path):
    path = tmp_path / "loft.yattle"
    save(SHED, path)
    return path


def test_a_second_start_on_an_open_job_is_warned(start, loft):
    first = start(loft)
    second = start(loft)
    assert "is open in another window" in second.trouble.text.text() and not first.trouble.isVisible()
    second.close()
    third = start(loft)
    assert "is open in another window" in third.trouble.text.text(), "the first is still there"


def test_a_newer_job_opens_to_read_from_the_command_line(start, loft, tmp_path):
    loft.write_text(json.dumps(json.loads(as_text(SHED)) | {"format": "yattle-job/7", "hologram": True}))
    before = loft.read_bytes()
    window = start(loft)
    assert window.store.session.job == SHED and window.store.session.path is None
    assert "opened to read" in window.trouble.text.text()
    window.asking.save = lambda *_: str(tmp_path / "mine.yattle")
    window.do("job.save")
    assert load(tmp_path / "mine.yattle") == SHED and loft.read_bytes() == before


@pytest.mark.parametrize("way", ["start", "open", "recent"])
def test_what_was_left_is_offered_whichever_way_the_job_is_opened(start, loft, qtbot, way):
    left_by_another(loft, "sand")
    window, asked = start(loft if way == "start" else None), []
    window.asking.recover = lambda said: asked.append(said) or True
    if way == "start":
        jobs.offer_recovery(window.shop, loft)
    elif way == "open":
        window.asking.open = lambda *_: str(loft)
        keys(window, "Ctrl+O", qtbot)
    else:
        jobs.open_path(window.shop, loft)
    assert len(asked) == 1 and "colour" in asked[0] and window.store.session.job.colour == "sand"
    assert window.store.session.path == loft and window.store.session.changed
    assert len(list(journal_folder().glob("*.json"))) == 1, "only this window's own journal is left"


def test_taken_and_killed_again_it_is_there_again(start, loft, qtbot):
    left_by_another(loft, "sand")
    code = ("import os, sys; from pathlib import Path\n"
            "from yattle.ui.app import make_app, make_window\n"
            "from yattle.ui.commands import job as jobs\n"
            "app = make_app(); w = make_window(Path(sys.argv[1])); w.asking.recover = lambda said: True\n"
            "jobs.offer_recovery(w.shop, Path(sys.argv[1])); assert w.store.session.newest.colour == 'sand'\nos._exit(9)")
    assert subprocess.run([sys.executable, "-c", code, str(loft)], check=False).returncode == 9
    (left,) = left_behind().offers
    assert left.job.colour == "sand"
    left.put_off()


def test_later_and_one_edit_keeps_it_and_it_is_offered_again_with_its_file(start, loft, qtbot, tmp_path):
    left_by_another(loft, "sand")
    window, asked = start(loft), []
    window.asking.recover = lambda said: asked.append(said)  # later
    jobs.offer_recovery(window.shop, loft)
    window.store.session.edit("colour", lambda job: job.but(colour="mine"))
    other = tmp_path / "other.yattle"
    save(SHED, other)
    jobs.open_path(window.shop, other)
    assert len(asked) == 1, "it was put off, and this is not its file"
    window.asking.recover = lambda said: asked.append(said) or True
    jobs.open_path(window.shop, loft)
    assert len(asked) == 2 and window.store.session.job.colour == "sand"


def test_a_damaged_journal_is_said_and_the_good_one_offered(start, loft):
    left_by_another(loft, "sand")
    (journal_folder() / "broken.json").write_text("{" * 50)
    window = start(loft)
    window.asking.recover = lambda said: True
    told = []
    window.store.trouble.connect(told.append)
    jobs.offer_recovery(window.shop, loft)
    assert window.store.session.job.colour == "sand" and "broken.damaged" in told[0]
    assert (journal_folder() / "broken.damaged").read_text() == "{" * 50


def test_edits_of_two_jobs_are_both_offered_one_after_the_other(start, loft, tmp_path):
    second = tmp_path / "second.yattle"
    save(SHED, second)
    left_by_another(loft, "sand")
    left_by_another(second, "zinc")
    window = start(second)
    window.asking.recover = lambda said: True
    jobs.offer_recovery(window.shop, second)
    assert window.store.session.job.colour == "zinc" and "offered when the next job is opened" in window.trouble.text.text()
    window.store.session.save()
    jobs.open_path(window.shop, loft)
    assert window.store.session.job.colour == "sand"


def test_on_a_full_disk_what_was_left_stays_where_it_is(start, loft, monkeypatch):
    left_by_another(loft, "sand")
    window = start(loft)
    window.asking.recover = lambda said: True
    monkeypatch.setattr(window.journal, "place", loft / "no folder" / "x.json")
    jobs.offer_recovery(window.shop, loft)
    assert window.store.session.job.colour == "sand" and len(list(journal_folder().glob("*.json"))) == 1


# -- large jobs -----------------------------------------------------------------------------------------------


def slowly(job):
    """As if it were a large job."""
    time.sleep(0.15)
    return derive(job)


@pytest.fixture
def impatient(start, loft, monkeypatch):
    window = start(loft)
    window.store.session.patience = 0.0
    monkeypatch.setattr("yattle.session.session.derive", slowly)
    return window


def until_shown(window, qtbot):
    qtbot.waitUntil(lambda: not window.store.session.working, timeout=20000)
    settle(window, qtbot)


def test_keys_and_presses_wait_while_a_large_job_is_worked_out(impatient, qtbot):
    """They are done on what is shown then, in their order: nothing typed is lost or misplaced."""
    window, session = impatient, impatient.store.session
    window.activateWindow()
    window.show_bench("trim")
    session.select(run="E1")
    trim = window.benches["trim"]
    window.slow.setInterval(20)
    session.edit("sand", lambda job: job.but(colour="sand"))
    assert session.working and "working" not in window.windowTitle()
    qtbot.waitUntil(lambda: "working it out" in window.menus.title.text() and "working" in window.windowTitle(), timeout=2000)
    assert session.working
    field = trim.slate.row("face").field
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "4 1/2")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert run_of(session.newest, "E1").own.face is None
    until_shown(window, qtbot)
    qtbot.waitUntil(lambda: not window.holding._events, timeout=3000)
    until_shown(window, qtbot)
    assert session.job.colour == "sand" and window.menus.title.text().endswith("not saved")
    assert run_of(session.job, "E1").own.face == pytest.approx(114.3)


def test_a_measure_typed_stands_in_its_field_until_it_is_shown(impatient, qtbot):
    window = impatient
    window.show_bench("trim")
    window.store.session.select(run="E1")
    row = window.benches["trim"].slate.row("face")
    type_into(row, "5", qtbot)
    assert window.store.session.working and row.field.text() == "5"
    until_shown(window, qtbot)
    assert row.field.text() == "5" and run_of(window.store.session.job, "E1").own.face == 127


def test_a_block_added_to_a_large_job_is_selected_when_it_is_there(impatient, qtbot):
    window = impatient
    choose(window, "roof.gable")
    until_shown(window, qtbot)
    assert window.store.session.selection.part.startswith("face:") and len(window.store.session.job.roof.blocks) == (
        len(SHED.roof.blocks) + 1)
    keys(window, "Ctrl+Shift+N", qtbot)
    until_shown(window, qtbot)
    assert window.store.session.selection.run == window.store.session.job.runs[-1].id


def test_an_edit_that_cannot_be_worked_out_is_said_and_undone(impatient, qtbot):
    window, session = impatient, impatient.store.session
    opening = SHED.roof.openings[0].but(x=1e5) if SHED.roof.openings else None
    if opening is None:
        window.do("job.demo")
        until_shown(window, qtbot)
        opening = session.job.roof.openings[0].but(x=1e5)
    before = session.newest
    session.edit("off", lambda job: job.but(roof=job.roof.but(openings=(opening,))))
    until_shown(window, qtbot)
    assert session.newest is before and window.trouble.isVisible() and not window.holding._on


def test_the_window_is_there_before_the_work_beside_it_begins(loft, qtbot):
    make_app()
    begun = time.perf_counter()
    window = make_window(loft)
    assert window.store.board._held, "what is to be worked out waits"
    window.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard
    qtbot.addWidget(window, before_close_func=lambda w: settle(w, qtbot))
    window.show()
    qtbot.waitUntil(lambda: window.store.session.results.complete, timeout=30000)
    assert time.perf_counter() - begun < 30
    qtbot.waitUntil(lambda: len(window.benches) == 7, timeout=10000)  # the others are set up in idle turns


def test_papers_are_finished_before_the_window_goes(start, loft, qtbot, tmp_path):
    window = start(loft)
    window.asking.save = lambda *_: str(tmp_path / "site.pdf")
    choose(window, "papers.site")
    assert window.close() and (tmp_path / "site.pdf").exists()
    assert not list(journal_folder().glob("*.json")) and Journal(Session(SHED)).place.parent == journal_folder()


def test_the_window_comes_up_without_what_only_long_work_needs():
    """Each of these takes a tenth to a third of a second to read; they are read when something asks for them."""
    code = ("import sys; import yattle.ui.app; "
            "print(sorted({name.partition('.')[0] for name in sys.modules} & {'scipy', 'ortools', 'reportlab', 'ezdxf', 'numba', 'llvmlite'}))")
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"
