"""An opening on the trim bench, by hand: reached from the roof and from the list, its choices typed and taken back."""

from __future__ import annotations

import pytest
from hands import settle, type_into

from yattle.job import demo_path, load

DEMO = load(demo_path()).but(taped=())


@pytest.fixture
def window(open_window):
    return open_window(DEMO)


def page(window):
    bench = window.benches["opening"]
    assert window.stack.currentWidget() is bench and window.rail.buttons["trim"].isChecked()
    return bench


def test_from_the_roof_to_its_pieces(window, qtbot):
    window.show_bench("survey")
    window.benches["survey"].press("opening:chimney")
    window.show_bench("trim")
    bench = page(window)
    assert [name for _, name in bench._piece_names()][:2] == ["apron", "right side"]
    assert "pitch 35°" in bench.slate.row("from the roof").said.text()
    drawn = bench.pattern.grab().toImage()
    bench.step_piece(1)
    settle(window, qtbot)
    assert bench.piece.pattern.name == "right side" and bench.pattern.grab().toImage() != drawn
    assert window.tape._girth is None
    window.store.session.select(run="E1")
    assert window.stack.currentWidget() is window.benches["trim"]


def test_choices_change_the_pieces_and_undo_brings_them_back(window, qtbot):
    window.store.session.select(opening="vent pipe")
    window.show_bench("trim")
    bench = page(window)
    names = [piece.pattern.name for piece in bench.opening.pieces]
    assert bench._put("school", "boot") is None
    assert [piece.pattern.name for piece in bench.opening.pieces] == ["base plate", "boot"]
    window.undo()
    assert [piece.pattern.name for piece in bench.opening.pieces] == names
    type_into(bench.slate.row("collar height"), "180", qtbot)
    settle(window, qtbot)
    assert bench.opening.form.height == 180.0
    assert "gap" in (bench._put("gap", -3.0) or "") and bench.opening.form.gap == 6.0, "a wrong value changes nothing"
    window.undo()


def test_found_in_the_list_and_on_the_coil(window, qtbot):
    row = next(n for n in range(window.rail.runs.count()) if "soil pipe" in window.rail.runs.item(n).text())
    window.rail.runs.setCurrentRow(row)
    assert window.store.session.selection.opening == "soil pipe"
    window.show_bench("coil")
    window.nester.finish()
    window.benches["coil"]._pressed("CHIM-2")
    assert window.store.session.selection.opening == "chimney" and window.store.session.selection.piece == 1
