"""An opening on the trim bench, by hand: reached from the roof and from the list, its choices typed and taken back."""

from __future__ import annotations

import pytest
from hands import settle, type_into

from yattle.job import demo_path, load
from yattle.job.model import OpeningNote

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
    window.benches["survey"].model.press("opening:chimney")
    window.show_bench("trim")
    bench = page(window)
    assert [name for _, name in bench.model.piece_names()][:2] == ["apron", "right side"]
    assert "pitch 35°" in bench.slate.row("from the roof").said.text()
    drawn = bench.pattern.grab().toImage()
    bench.model.step_piece(1)
    settle(window, qtbot)
    assert bench.model.piece.pattern.name == "right side" and bench.pattern.grab().toImage() != drawn
    assert window.tape._girth is None
    window.store.session.select(run="E1")
    assert window.stack.currentWidget() is window.benches["trim"]


def test_choices_change_the_pieces_and_undo_brings_them_back(window, qtbot):
    window.store.session.select(opening="vent pipe")
    window.show_bench("trim")
    bench = page(window)
    names = [piece.pattern.name for piece in bench.model.opening.pieces]
    assert bench.model.put("school", "boot") is None
    assert [piece.pattern.name for piece in bench.model.opening.pieces] == ["base plate", "boot"]
    window.do("edit.undo")
    assert [piece.pattern.name for piece in bench.model.opening.pieces] == names
    type_into(bench.slate.row("collar height"), "180", qtbot)
    settle(window, qtbot)
    assert bench.model.opening.form.height == 180.0
    assert "gap" in (bench.model.put("gap", -3.0) or "") and bench.model.opening.form.gap == 6.0, "a wrong value changes nothing"
    window.do("edit.undo")


def test_found_in_the_list_and_on_the_coil(window, qtbot):
    row = next(n for n in range(window.rail.runs.count()) if "soil pipe" in window.rail.runs.item(n).text())
    window.rail.runs.setCurrentRow(row)
    assert window.store.session.selection.opening == "soil pipe"
    window.show_bench("coil")
    window.store.finish("results")
    window.benches["coil"].model.pressed("CHIM-2")
    assert window.store.session.selection.opening == "chimney" and window.store.session.selection.piece == 1


def test_a_corner_from_the_run_that_ends_there(window, qtbot):
    window.store.session.select(run="E2")
    window.show_bench("trim")
    row = window.benches["trim"].slate.row("corners")
    options = dict(window.benches["trim"].model.at_ends())
    key = next(key for key, title in options.items() if title.startswith("E2 E4 V1"))
    assert row is not None and window.benches["trim"].model.open_corner(key) is None
    bench = page(window)
    assert not bench.model.opening.pieces and "nothing of its own" in bench.set_card.under.text()
    assert bench.model.put_made("gutter-corner") is None
    settle(window, qtbot)
    assert [p.pattern.name for p in bench.model.opening.pieces] == ["gutter corner, left arm", "gutter corner, right arm"]
    assert any(entry[1] == "E2 E4 V1" for entry in window.rail._listed)
    type_into(bench.slate.row("bottom"), "150", qtbot)
    assert bench.model.opening.form.bottom == 150.0
    window.do("edit.undo"), window.do("edit.undo")
    assert not bench.model.opening.pieces


def test_costs_and_drops_come_beside_the_window(window, qtbot):
    window.store.session.select(opening="chimney")
    window.show_bench("trim")
    bench = page(window)
    assert bench.model.costs() == "…"
    qtbot.waitUntil(lambda: not bench.model.desk.busy and "…" not in bench.model.costs(), timeout=30000)
    said = bench.model.costs()
    assert "folded pans, no cut: 8 pieces" in said and "cricket, one piece:" in said
    qtbot.waitUntil(lambda: not bench.model.desk.busy and bench.model.drops() != "…", timeout=30000)
    assert bench.model.drops() == "all stay on the metal"


def test_papers_of_an_opening_s_piece(window, qtbot, tmp_path):
    from pypdf import PdfReader

    window.store.session.select(opening="chimney", piece=1)
    for deed, name in (("practice", "practice.pdf"), ("card", "cards.pdf"), ("dxf", "piece.dxf")):
        path = tmp_path / name
        window.asking.save = lambda *_, path=path: str(path)
        window.do(f"papers.{deed}")
        window.store.finish("files", "papers")
        settle(window, qtbot)
        assert path.stat().st_size > 500
    practice, cards = PdfReader(tmp_path / "practice.pdf"), PdfReader(tmp_path / "cards.pdf")
    assert len(practice.pages) == 14 and "Fold in this order" in practice.pages[0].extract_text()
    made = [p for p in window.store.session.derived.opening("chimney").pieces if not p.paper]
    text = " ".join(page.extract_text() for page in cards.pages)
    assert text.count("Check: ") + text.count("the mirror image, its points") == len(made) > len(cards.pages)
    assert all(piece.pattern.id in text for piece in made)


def test_what_cannot_be_made_stays_drawn_as_it_can_be_with_what_would_do(window, qtbot):
    """A kerf of 20 over the roof: the picture is that of the chimney as it was made last; of one that was never made since the
    window opened as it usually is; the reason stands beside it, and it goes with the fault."""
    window.store.session.select(opening="chimney")
    window.show_bench("trim")
    bench = page(window)
    settle(window, qtbot)
    before = [piece.pattern.id for piece in bench.set_view.pieces]
    said = bench.model.put_number("saw", "saw to blade", "20")
    assert "70 mm or more" in said and bench.model.opening.pieces, "typed here it is refused, and nothing is lost"
    low = OpeningNote(of="chimney", own=(("packing", 0.0), ("saw", 20.0)))  # as a job may say that comes from a file
    window.store.session.edit("a low kerf", lambda job: job.but(openings=(low,)))
    settle(window, qtbot)
    assert not bench.model.opening.pieces and [piece.pattern.id for piece in bench.set_view.pieces] == before
    assert "cannot be made; drawn as it can be" in bench.set_card.under.text() and "70 mm or more" in bench.why.text()
    bench.model._made.clear()
    bench.refresh()
    assert len(bench.set_view.pieces) >= 7
    window.do("edit.undo")
    settle(window, qtbot)
    assert bench.model.opening.pieces and "pieces in the order" in bench.set_card.under.text()


def test_a_piece_of_its_own_without_a_roof(window, qtbot):
    window.do("roof.own-piece")
    settle(window, qtbot)
    bench = page(window)
    assert bench.model.opening.id == "piece 1" and bench.model.opening.detail == "pan" and len(bench.model.opening.pieces) == 1
    type_into(bench.slate.row("coverage"), "420", qtbot)
    assert bench.model.opening.form.coverage == 420.0
    for made in ("square-to-round", "gutter-corner"):
        assert bench.model.put_made(made) is None
        assert bench.model.opening.detail == made and bench.model.opening.pieces and bench.pattern.drawing.shapes
        assert bench.slate.row("piece").box.currentText() == bench.model.opening.pieces[0].pattern.name
    assert bench.model.put_made("bend") is None
    type_into(bench.slate.row("segments"), "3", qtbot)
    assert bench.model.opening.form.segments == 3 and bench.model.put_number("degrees", "degrees", "60") is None
    assert bench.model.opening.form.degrees == 60.0
    assert "found" in (bench.model.put_number("segments", "segments", "0") or "")
    assert any(pattern.id.startswith("P") for pattern in window.store.session.derived.patterns)
    assert bench.model.put_made("none") is None
    assert not [n for n in window.store.session.job.openings if n.of == "piece 1"]
    window.do("edit.undo")
    assert window.store.session.derived.opening("piece 1").detail == "bend"


def test_a_chimney_moved_beside_a_valley_is_told_why_and_comes_back_with_undo(window, qtbot):
    """Typed on the survey: the sentence stands where its pieces were, nothing else is lost."""
    window.show_bench("survey")
    survey = window.benches["survey"]
    survey.model.press("opening:chimney")
    before = len(window.store.session.derived.patterns)
    type_into(survey.slate.row("plan, north"), "-1500", qtbot)
    type_into(survey.slate.row("plan, east"), "-6100", qtbot)
    settle(window, qtbot)
    window.show_bench("trim")
    bench = page(window)
    assert not bench.model.opening.pieces and bench.why.isVisible() and not bench.pattern.isVisible()
    assert bench.why.text().startswith("A valley under a flange") and "\nWhat would do: a valley clear" in bench.why.text()
    assert bench.slate.row("side flange").field.text() == "120.0" and bench.model.drops() == "–"
    assert 0 < len(window.store.session.derived.patterns) < before
    for narrower in ("apron", "side flange"):  # what would do is done right there
        type_into(bench.slate.row(narrower), "60", qtbot)
    settle(window, qtbot)
    assert bench.model.opening.pieces and bench.pattern.isVisible() and not bench.why.isVisible()
    for _ in range(4):
        window.do("edit.undo")
    settle(window, qtbot)
    assert len(window.store.session.derived.patterns) == before and page(window).model.opening.pieces


def test_a_curb_s_rows_are_drawn_on_its_pattern_and_on_paper(window, qtbot, tmp_path):
    window.store.session.select(opening="fan curb", piece=0)
    window.show_bench("trim")
    bench = page(window)
    settle(window, qtbot)
    assert bench.model.piece.pattern.name == "lower flashing" and "second row of tape" in bench.slate.row("notes").said.text()
    drawn = bench.pattern.drawing.shapes
    assert any(getattr(shape, "text", "") == "tape and screws" for shape in drawn)
    marks = [shape for shape in drawn if getattr(shape, "role", "") == "mark"]
    assert len(bench.model.piece.pattern.marks) == 1 + 7 and len(marks) == 1 + 2 * 7, "a cross for each screw"
    type_into(bench.slate.row("screws every"), "100", qtbot)
    settle(window, qtbot)
    assert len(bench.model.piece.pattern.marks) == 1 + 10
    window.do("edit.undo")
