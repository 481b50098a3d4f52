"""Look before print: every paper of the job as it will be, on the sheet that is chosen, sent to a printer, saved."""

from __future__ import annotations

import pytest
from hands import keys, settle
from pypdf import PdfReader
from PyQt6.QtGui import QPageSize
from PyQt6.QtPrintSupport import QPrinter

from yattle.job import demo_path, load


@pytest.fixture
def box(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    window.store.session.select(run="E1")
    keys(window, "Ctrl+P", qtbot)
    qtbot.waitUntil(lambda: window.shop.dialog is not None and window.shop.dialog.document.pageCount() > 0, timeout=30000)
    return window.shop.dialog


def looked(box, qtbot, key):
    box.paper.setCurrentIndex(box.paper.findData(key))
    qtbot.waitUntil(lambda: "page" in box.says.text(), timeout=30000)
    return box.document.pageCount()


def test_what_is_selected_is_shown_first_and_every_paper_can_be_looked_at(box, qtbot):
    assert box.paper.currentData() == "fold-card-E1" and box.print_button.isEnabled()
    many = {key: looked(box, qtbot, key) for key in (box.paper.itemData(n) for n in range(box.paper.count()))}
    assert set(many) == {"fold-card-E1", "practice", "templates", "fold-cards", "cut-sheet", "site-pack",
                         "labels", "all-papers"}
    assert all(many.values()) and many["all-papers"] > many["fold-cards"] > many["fold-card-E1"]
    assert not box.parent().store.session.changed, "looking changes nothing"


def test_the_sheet_is_chosen_and_belongs_to_the_job(box, qtbot):
    letter = box.document.pagePointSize(0).width()
    box.sheet.setCurrentIndex(box.sheet.findData("a4"))
    qtbot.waitUntil(lambda: "page" in box.says.text(), timeout=30000)
    assert letter == pytest.approx(612, abs=1) and box.document.pagePointSize(0).width() == pytest.approx(595.3, abs=1)
    assert box.parent().store.session.job.sheet == "a4"


def test_pages_go_to_a_printer_at_their_true_size(box, qtbot, tmp_path):
    printer = QPrinter(QPrinter.PrinterMode.ScreenResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "out.pdf"))
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.Letter))
    box.send(printer)
    pages = PdfReader(tmp_path / "out.pdf").pages
    assert len(pages) == box.document.pageCount() and float(pages[0].mediabox.width) == pytest.approx(612, abs=1)


def test_what_is_looked_at_can_be_saved(box, qtbot, tmp_path):
    window = box.parent()
    window.asking.save = lambda suggestion, kinds: str(tmp_path / suggestion)
    box.save_button.click()
    settle(window, qtbot)
    assert PdfReader(tmp_path / "fold-card-E1.pdf").pages


def test_the_coil_shows_its_cut_sheet_first(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    window.show_bench("coil")
    keys(window, "Ctrl+P", qtbot)
    assert window.shop.dialog.paper.currentData() == "cut-sheet"
    window.shop.dialog.reject()
