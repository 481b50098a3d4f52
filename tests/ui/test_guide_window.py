"""F1 on a field says what it is and leads to its page; every group of rows of every bench has one; the finder knows the trade's words."""

from __future__ import annotations

import pytest
from hands import keys, settle
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QColor

from yattle.details.all_forms import OWN_TITLES, TITLES
from yattle.help import page_of_rows
from yattle.help.fields import field_says
from yattle.job import demo_path, load
from yattle.ui.drawing.measured_here import picture_of
from yattle.ui.frame.help_box import HelpBox
from yattle.ui.theme import px, theme
from yattle.ui.widgets.rows import NumberRow


def test_every_field_says_what_it_is_and_leads_to_a_page(open_window, qtbot):
    window = open_window(load(demo_path("sail-loft")))
    session = window.store.session
    for bench in ("survey", "trim", "brake", "coil", "fit", "log", "opening"):
        if bench == "opening":
            session.select(opening=next(one.id for one in session.derived.openings if one.kind == "chimney"))
        window.show_bench("trim" if bench == "opening" else bench)
        slate = window.front.slate
        for row in slate.rows:
            group = slate.group_of(row)
            found = page_of_rows("trim" if bench == "opening" else bench, group) if group else None
            assert found is not None or not group, f"{bench}: no page explains {group}"
            assert row.explained.startswith(f"{row.name}: ") and len(row.explained) > len(row.name) + 5
        session.select(opening=None, run=session.derived.runs[0].run.id)


def test_f1_in_a_field(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    keys(window, "Ctrl+2", qtbot)
    row = next(row for row in window.front.slate.rows if isinstance(row, NumberRow) and row.isVisible())
    row.field.setFocus()
    keys(window, "F1", qtbot)
    box = window.shop.dialog
    assert box.about.isVisibleTo(box) and box.about.text().startswith(f"{row.name}: ")
    assert "leg" in box.page.toPlainText().lower() or "schools" in box.page.toPlainText().lower()
    box._follow(QUrl("page:plan"))
    assert "better plan" in box.page.toPlainText()
    box.reject()
    window.front.section.setFocus()
    keys(window, "F1", qtbot)
    assert window.shop.dialog.page.toPlainText().startswith("Trim") and not window.shop.dialog.about.isVisibleTo(window.shop.dialog)
    window.shop.dialog.reject()


def copper_in(picture):
    """How many pixels of a picture are of the colour of what is in hand."""
    image, copper = picture.toImage(), QColor(theme().copper).rgb()
    return sum(image.pixel(x, y) == copper for x in range(image.width()) for y in range(image.height()))


def shown_for(window, row):
    return picture_of(window.front, window.front.drawn_as(row.name), window.front.measured(row.name))


def test_f1_shows_the_measures_of_openings_on_the_plan_and_on_their_pieces(open_window, qtbot):
    window = open_window(load(demo_path()))
    window.show_bench("survey")
    window.front.model.press("opening:chimney")
    settle(window, qtbot)
    for name in ("across", "along", "from eave", "from left"):
        assert copper_in(shown_for(window, window.front.slate.row(name))) > 20, name
    window.show_bench("trim")
    settle(window, qtbot)
    assert window.front.name == "opening"
    for name in ("apron", "side flange", "kerf depth"):
        assert copper_in(shown_for(window, window.front.slate.row(name))) > 20, name
    assert shown_for(window, window.front.slate.row("stock length")) is None  # nothing of it follows from that
    row = window.front.slate.row("apron")
    row.field.setFocus()
    keys(window, "F1", qtbot)
    assert window.shop.dialog.picture.isVisibleTo(window.shop.dialog)
    window.shop.dialog.reject()


def test_f1_in_a_measure_shows_where_it_is_taken(open_window, qtbot):
    """Legs and folds on the section, a block's measures on the plan and on cuts, those of an opening on its pieces, in
    copper; what no drawing shows has its words alone."""
    window = open_window(load(demo_path("net-shed")))
    window.store.session.select(run="R1")
    pictures = {}
    for bench, part, names in (("trim", "", ("ridge wing", "hem", "joints")), ("survey", "block", ("length", "span", "eave height", "pitch left", "bearing"))):
        window.show_bench(bench)
        if part:
            block = window.store.session.job.roof.blocks[0].id
            window.front.model.press(window.front.model.part_of_block(block))
        settle(window, qtbot)
        for name in names:
            row = next(row for row in window.front.slate.rows if row.name == name)
            picture = shown_for(window, row)
            pictures[name] = 0 if picture is None else copper_in(picture)
    assert all(pictures[name] > 20 for name in ("ridge wing", "length", "span", "eave height", "pitch left")), pictures
    assert pictures["joints"] == pictures["bearing"] == 0
    keys(window, "Ctrl+2", qtbot)
    row = window.front.slate.row("ridge wing")
    row.field.setFocus()
    keys(window, "F1", qtbot)
    box = window.shop.dialog
    assert box.picture.isVisibleTo(box) and copper_in(box.picture.pixmap()) == pictures["ridge wing"]
    box.reject()


def find(window, words, qtbot):
    window.finder.setFocus()
    window.finder.clear()
    qtbot.keyClicks(window.finder, words)
    return [window.finder.list.item(n).text() for n in range(window.finder.list.count())]


def test_the_finder_knows_the_trade_s_words_and_goes_there(open_window, qtbot):
    window = open_window(load(demo_path("sail-loft")))
    session = window.store.session
    assert find(window, "soaker", qtbot)[0].startswith("soaker: the sidewall's trim")
    qtbot.keyClick(window.finder, Qt.Key.Key_Return)
    assert session.derived.run(session.selection.run).run.kind == "sidewall" and window.front.name == "trim"
    assert any("step flashing" in word.also for word in window.menus.entries() if word.name.startswith("soaker"))
    find(window, "flue", qtbot)
    qtbot.keyClick(window.finder, Qt.Key.Key_Return)
    assert session.derived.openings and session.selection.opening == "chimney" and window.front.name == "opening"
    assert any("practise in paper" in said for said in find(window, "apprentice", qtbot))
    qtbot.keyClick(window.finder, Qt.Key.Key_Return)
    assert "Paper practice" in window.shop.dialog.page.toPlainText()
    window.shop.dialog.reject()


@pytest.mark.parametrize("demo", ["sail-loft", "net-shed"])
def test_every_field_says_in_one_sentence_what_it_is(open_window, demo):
    """Of every bench, every kind of run and every kind of opening of both demos."""
    window = open_window(load(demo_path(demo)))
    session, bare, seen = window.store.session, set(), set()

    def look(bench):
        window.show_bench(bench)
        slate = window.slates.currentWidget()
        bare.update((slate.bench, row.name) for row in slate.rows if not row.hint)
        assert all("\n" not in row.explained and row.explained.endswith(".") for row in slate.rows)
    for run in session.derived.runs:
        if (kind := (run.detail.name, run.run.kind)) not in seen:
            seen.add(kind)
            session.select(run=run.run.id)
            for bench in ("survey", "trim", "fit") if len(seen) > 1 else ("survey", "trim", "brake", "coil", "fit", "log"):
                look(bench)
    for opening in session.derived.openings:
        if (kind := (opening.kind, opening.detail)) not in seen:
            seen.add(kind)
            session.select(opening=opening.id)
            for bench in ("survey", "trim", "fit"):
                look(bench)
    assert not bare and len(seen) > 10


def test_every_measure_of_every_form_has_its_sentence_and_no_sentence_is_of_nothing():
    from yattle.help.fields import _fields

    titles = {title for form in (*TITLES.values(), *OWN_TITLES.values()) for title in form.values()}
    assert not {title for title in titles if not field_says("opening", title)}
    assert all(bench in {"survey", "trim", "brake", "coil", "fit", "log", "opening"} and says[0].islower() and says[-1] not in ".;"
               for (bench, _), says in _fields().items())


@pytest.mark.parametrize("size", [(560, 500), (740, 620), (1060, 620)])
def test_no_title_and_no_picture_of_the_guide_is_cut(window, qtbot, size):
    """Chapters and questions all opened: the list is as wide as the widest; where that would leave the page less than half, titles go on
    in a second line. Pictures are no wider than the page."""
    box = HelpBox(window, "trim")
    qtbot.addWidget(box)
    box.show()
    assert box.width() <= box.screen().availableGeometry().width()
    box.resize(*size)
    box.list.expandAll()
    qtbot.wait(50)
    assert box.list.sizeHintForColumn(0) <= box.list.viewport().width() and box.list.width() <= round(0.45 * box.width()) + 1
    lines = []
    for head in (box.list.topLevelItem(n) for n in range(box.list.topLevelItemCount())):
        for item in (head, *(head.child(k) for k in range(head.childCount()))):
            lines.append(item.text(0).count("\n") + 1)
            assert item.text(0).replace("\n", " ") == item.toolTip(0) == item.data(0, Qt.ItemDataRole.AccessibleTextRole)
            assert box.list.visualItemRect(item).height() >= lines[-1] * box.list.fontMetrics().height()
    assert (max(lines) > 1) == (box._widest() + 2 * box.list.indentation() + px(30) > round(0.45 * box.width()))
    assert box.page.horizontalScrollBar().maximum() == 0
