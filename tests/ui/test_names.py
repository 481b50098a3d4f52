"""Names with markup in them show as they were typed: labels, tool tips, questions, menus, papers' names."""

from __future__ import annotations

import pytest
from hands import keys
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox

from samples import eaves_path
from yattle.files import safe_file, safe_name
from yattle.job import load
from yattle.ui.commands.asking import Asking
from yattle.ui.widgets.words import Words, plain, unkeyed

ODD = "<b>Loft</b> & <i>sons"


@pytest.fixture
def odd(open_window):
    job = load(eaves_path())
    run = job.runs[0].but(name=ODD)
    return open_window(job.but(name=ODD, runs=(run, *job.runs[1:])))


def test_labels_show_a_name_as_it_is(odd, qtbot):
    labels = odd.findChildren(Words)
    assert labels and all(label.textFormat() == Qt.TextFormat.PlainText for label in labels)
    assert ODD in odd.menus.title.text() and odd.windowTitle().startswith(ODD)
    keys(odd, "Ctrl+2", qtbot)
    assert any(ODD in label.text() for label in odd.findChildren(QLabel))
    loose = [label for label in odd.findChildren(QLabel) if not isinstance(label, Words) and "<" in label.text()]
    assert not any("Loft" in label.text() for label in loose)


def test_a_tool_tip_is_no_markup(odd):
    item = odd.rail.runs.item(0)
    assert "&lt;b&gt;Loft&lt;/b&gt; &amp;" in item.toolTip() and ODD in item.text()
    assert plain("a plain one") == "a plain one" and plain("a < b\nc") == "<qt>a &lt; b<br>c</qt>"


def test_menus_and_buttons_make_no_shortcut_of_it(odd):
    odd.store.session.edit("rename & more", lambda job: job.but(place="x"))
    assert odd.menus.actions["edit.undo"].text() == "Undo rename && more"
    assert unkeyed("a & b") == "a && b"


def test_a_question_says_it_as_it_is(odd, monkeypatch):
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *said: asked.append(said[2]) or QMessageBox.StandardButton.Cancel)
    Asking(odd).unsaved(ODD)
    assert "<b>" not in asked[0] and "&lt;b&gt;" in asked[0]


@pytest.mark.parametrize("name", ["../../x", "E/1", "a\x00b", "..", "", "/etc/passwd", "x" * 500, "CON\n", "a:b*c?", ".hidden", " "])
def test_names_of_files_stay_in_their_folder(name, tmp_path):
    made = tmp_path / safe_file(f"fold-card-{name}.pdf")
    assert made.parent == tmp_path and made.resolve().parent == tmp_path.resolve() and len(made.name) < 120
    made.write_text("x")
    assert safe_name(name) not in ("", ".", "..") and "/" not in safe_name(name) and "\x00" not in safe_name(name)


def test_two_names_never_share_a_file():
    names = ["E/1", "E-1", "E\\1", "E:1", "E 1", "E1", "E1 ", "e1", "É1", "E1.", "../E1"]
    assert len({safe_name(name) for name in names}) == len(names)
