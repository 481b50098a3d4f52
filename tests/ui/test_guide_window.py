"""F1 on a field says what it is and leads to its page; every group of rows of every bench has one; the finder knows the trade's words."""

from __future__ import annotations

from hands import keys
from PyQt6.QtCore import Qt, QUrl

from yattle.help import page_of_rows
from yattle.job import demo_path, load
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
