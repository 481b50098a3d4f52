"""The coil bench by hand: a piece dragged, its block kept, plans compared, metal taken off the stock, the line followed."""

from __future__ import annotations

import json

import pytest
from hands import choose, keys, settle, type_into
from pypdf import PdfReader
from PyQt6.QtCore import QPointF, Qt

from samples import THREE_EAVES
from yattle.coil import Stock, faults
from yattle.coil.read import table_after
from yattle.job import demo_path, load

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture(params=[THREE_EAVES], ids=["three eaves"])
def bench(request, open_window, qtbot):
    window = open_window(load(request.param))
    keys(window, "Ctrl+4", qtbot)
    settle(window, qtbot)
    found = window.benches["coil"]
    qtbot.waitUntil(lambda: found.model.answer is not None and bool(found.view.shown), timeout=20000)
    return window, found


def on_screen(coil, stock, x, y):
    """Where a place on a stock piece is drawn."""
    return next(view.at((x, y)) for frame, view, name in coil.view.shown
                if name == stock and frame.contains(view.at((x, y)))).toPoint()


def free_for(coil):
    """A piece and a place on left-over metal that has room for it."""
    answer, job = coil.model.answer, coil.store.session.derived.nest_job
    taken = {p.piece for p in answer.placements}
    coils = {stock.id for stock in job.stock if stock.kind == "coil"}
    rects = [(stock, rect) for name, (stock, rect) in table_after(job, answer, len(answer.cuts)).items()
             if name not in taken and name not in coils]
    rects.sort(key=lambda row: -min(row[1][2] - row[1][0], row[1][3] - row[1][1]))  # one that hands can hit
    for place in sorted(answer.placements, key=lambda p: -min(p.width, p.height)):
        for stock, (x0, y0, x1, y1) in rects:
            if x1 - x0 >= place.width + 5 and y1 - y0 >= place.height + 5 and (stock, round(x0)) != (place.stock, round(place.x)):
                return place, (stock, (x0 + x1) / 2, (y0 + y1) / 2)
    raise AssertionError("no metal is left that a piece fits on")


@pytest.mark.parametrize("bench", [demo_path()], ids=["sail-loft"], indirect=True)
def test_a_piece_is_dragged_onto_what_is_left(bench, qtbot):
    window, coil = bench
    place, (stock, x, y) = free_for(coil)
    start = on_screen(coil, place.stock, place.x + place.width / 2, place.y + place.height / 2)
    qtbot.mousePress(coil.view, LEFT, pos=start)
    assert window.store.session.selection.run == place.part.rpartition("-")[0] or window.store.session.selection.opening
    coil.view.pressed_at = (place.stock, place.x + place.width / 2, place.y + place.height / 2)
    coil.view._drag = (place.part, QPointF(start), QPointF(start))  # the plan may have been drawn anew
    end = on_screen(coil, stock, x, y)
    qtbot.mouseMove(coil.view, end)
    qtbot.mouseRelease(coil.view, LEFT, pos=end)
    new = next(p for p in coil.model.answer.placements if (p.part, p.copy) == (place.part, place.copy))
    assert window.trouble.text.text().startswith(f"{place.part} is moved")
    assert (new.stock, new.x, new.y) != (place.stock, place.x, place.y)
    derived = window.store.session.derived
    assert derived.nest is coil.model.answer
    assert faults(derived.nest_job, json.loads(json.dumps(coil.model.answer.answer()))) == []


def test_a_kept_block_stays_while_the_rest_is_searched(bench, qtbot):
    window, coil = bench
    place = coil.model.answer.placements[0]
    qtbot.mouseClick(coil.view, LEFT, pos=on_screen(coil, place.stock, place.x + place.width / 2, place.y + place.height / 2))
    keys(window, "Ctrl+B", qtbot)
    assert f"{place.part}/{place.copy}" in coil.model.hand.locked and coil.view.kept
    mates = {key.rpartition("/")[0] for key in coil.model.hand.locked}
    coil.model.plan.search.seconds = 2.0
    keys(window, "Ctrl+Return", qtbot)
    qtbot.waitUntil(lambda: not coil.model.plan.search.busy, timeout=20000)
    derived = window.store.session.derived
    assert faults(derived.nest_job, json.loads(json.dumps(coil.model.answer.answer()))) == []
    assert {key.rpartition("/")[0] for key in coil.model.hand.mates(place.part)} == mates
    keys(window, "Ctrl+B", qtbot)
    assert not coil.model.hand.locked or coil.model.hand.locked != coil.model.hand.mates(place.part)


def test_plans_are_compared_and_priced(bench, qtbot):
    window, coil = bench
    before = coil.model.hand.cost().value
    keys(window, "Ctrl+Shift+B", qtbot)
    assert coil.model.hand.compared().startswith("costs +0.0, coil +0.00 m, cuts +0")
    type_into(coil.slate.row("minutes a cut"), "2", qtbot)
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None, timeout=20000)
    assert coil.model.hand.cost().value > before and f"costs +{coil.model.hand.cost().value - before:.1f}" in coil.model.hand.compared()
    assert coil.slate.row("plan costs").button.text() == f"{coil.model.hand.cost().value:.1f}"
    assert coil.model.hand.waste_says() != "…"


def test_the_plan_is_taken_off_the_stock_and_undone(bench, qtbot):
    window, coil = bench
    before, plan = window.store.session.job, coil.model.answer
    assert any(line.startswith("coil") for line in coil.model.hand.promised().splitlines())
    choose(window, "coil.take")
    after = window.store.session.job
    assert after.ledger and after.stock != before.stock and after.cut
    coils = [(a, b) for a, b in zip(before.stock, after.stock, strict=False) if a.kind == "coil" and a.length]
    used = {u.stock: u.length for u in plan.used}
    assert all(a.length - b.length == pytest.approx(used.get(a.id, 0.0)) for a, b in coils)
    keys(window, "Ctrl+Z", qtbot)
    assert window.store.session.job == before


def test_after_a_spoiled_piece_only_the_rest_is_planned(bench, qtbot):
    window, coil = bench
    place = coil.model.answer.placements[0]
    coil.cut.setValue(0)
    coil.model.pressed(place.part)
    choose(window, "coil.spoiled")
    assert "not cut yet after cut 0" in window.trouble.text.text()
    before = window.store.session.job
    coil.cut.setValue(coil.cut.maximum())
    choose(window, "coil.spoiled")
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.model.answer is not None and len(coil.model.answer.placements) == 1, timeout=30000)
    job = window.store.session.job
    assert [p.part for p in coil.model.answer.placements] == [place.part] and "are cut" in coil.card.under.text()
    assert [(entry.what, entry.of) for entry in job.log[len(before.log):]] == [("spoiled", place.part)] and job.ledger
    choose(window, "coil.take")
    settle(window, qtbot)
    qtbot.waitUntil(lambda: coil.card.head.text() == "Nothing to cut", timeout=20000)
    assert "pieces are cut" in coil.card.under.text()
    choose(window, "coil.take")
    assert "found no plan" in window.trouble.text.text(), "metal is not taken twice"
    keys(window, "Ctrl+Z", qtbot)
    keys(window, "Ctrl+Z", qtbot)
    assert window.store.session.job == before


def test_the_coil_line_follows_the_cuts(bench, qtbot):
    window, coil = bench
    assert coil.model.line.says() == "not followed yet (Ctrl+Shift+L)"
    keys(window, "Ctrl+Shift+L", qtbot)
    qtbot.waitUntil(lambda: bool(coil.model.line.cut_off), timeout=10000)
    assert "pieces cut off" in coil.model.line.says() and "a metre" in coil.model.line.says()
    type_into(coil.slate.row("line's address"), "somewhere", qtbot)
    assert coil.model.line.address == "stand-in"


def test_stock_lists_labels_and_jobs_together(bench, qtbot, tmp_path):
    window, coil = bench
    window.asking.save = lambda suggestion, kinds: str(tmp_path / suggestion)
    choose(window, "coil.write-stock")
    settle(window, qtbot)
    text = (tmp_path / "stock.csv").read_text()
    (tmp_path / "more.csv").write_text(text + "coil 99,coil,prepainted steel 0.60,1000,,1,,9.5,,along,\n")
    window.asking.open = lambda kinds="": str(tmp_path / "more.csv")
    choose(window, "coil.read-stock")
    assert [piece.id for piece in window.store.session.job.stock][-1] == "coil 99"
    choose(window, "papers.labels")
    settle(window, qtbot)
    pages = PdfReader(tmp_path / "labels.pdf").pages
    said = "".join(page.extract_text() for page in pages)
    assert all(piece.id in said for piece in window.store.session.derived.pieces[:5]) and "paint face up" in said
    window.asking.jobs, window.asking.folder = lambda: [str(THREE_EAVES)], lambda: str(tmp_path)
    choose(window, "coil.together")
    qtbot.waitUntil(lambda: (tmp_path / "together.csv").exists() and not window.store.board.busy("files", "papers"), timeout=60000)
    answer = json.loads((tmp_path / "together.json").read_text())
    assert answer["ok"] and len(answer["placements"]) == 2 * len(coil.model.answer.placements)
    assert (tmp_path / "together.csv").read_text().startswith("cut,piece,axis,at_mm,gives\n1,")


def test_a_label_s_code_opens_its_piece(bench, qtbot):
    window, _ = bench
    piece = window.store.session.derived.pieces[3]
    deed = next(do for name, _, do, _also in window.menus.entries() if name == f"yattle:piece/{piece.id}")
    deed()
    selection = window.store.session.selection
    assert window.store.session.derived.run(selection.run).pieces[selection.piece].id == piece.id


def test_an_offcut_s_code_shows_the_rack(bench, qtbot):
    window, _ = bench
    window.store.session.edit("rack", lambda job: job.but(stock=(*job.stock, Stock(
        id="off 9", kind="offcut", metal=job.metal_name, outline=((0.0, 0.0), (700.0, 0.0), (700.0, 300.0))))))
    keys(window, "Ctrl+2", qtbot)
    said = {name: (about, do) for name, about, do, _also in window.menus.entries()}
    assert said["yattle:stock/off 9"][0] == said["off 9"][0] == "offcut on the rack"
    said["yattle:stock/off 9"][1]()
    assert window.stack.currentWidget() is window.benches["coil"] or window.benches["coil"].isVisible()
