"""The trim bench on the roof's edges: a detail for each, chosen and typed, and girth advice."""

from __future__ import annotations

import math

import pytest
from hands import findings, keys, press_finding, settle, type_into

from plans import gable, plan, shed
from samples import eaves_path
from yattle.drawing.shapes import Label, Line
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.pattern.piece_ends import end_points, piece_ends

DEMO = load(demo_path()).but(taped=())


@pytest.fixture
def trim(open_window, qtbot):
    window = open_window(DEMO)
    window.show_bench("trim")
    window.benches["trim"].window_of = window
    return window.benches["trim"]


def test_every_edge_has_its_section_and_pieces(trim, qtbot):
    session = trim.store.session
    for found in session.derived.runs:
        session.select(run=found.run.id)
        assert trim.section.drawing.shapes and trim.pattern.drawing.shapes, found.run.id
        assert found.family.title in trim.section_card.head.text()
        assert trim.slate.row("girth").button.text() != "–"
    assert len(session.derived.pieces) > 60 and not session.derived.misfits


def test_only_the_detail_s_own_legs_are_shown(trim):
    session = trim.store.session
    session.select(run="V1")
    shown = {row.name for row in trim.slate.rows if row.isVisible()}
    assert {"valley wing", "valley rib", "rib's apex", "valley hem"} <= shown and not {"face", "kick", "rake face"} & shown
    assert "fold 51.13°" in trim.slate.row("from the roof").said.text()
    session.select(run="E1")
    shown = {row.name for row in trim.slate.rows if row.isVisible()}
    assert {"deck flange", "face", "kick", "detail", "left", "right"} <= shown and "valley wing" not in shown


def test_another_detail_for_an_eave(trim, qtbot):
    session = trim.store.session
    session.select(run="E4")
    before = session.derived.run("E4").detail.girth.girth
    box = trim.slate.row("detail").box
    box.setCurrentIndex(box.findData("gutter-apron"))
    assert session.derived.run("E4").family.name == "gutter-apron" and session.derived.run("E4").detail.girth.girth != before
    assert session.derived.run("E5").family.name == "eave-drip"
    type_into(trim.slate.row("gutter apron"), "90", qtbot)
    assert session.derived.run("E4").detail.profile.legs[1] == 90
    session.undo()
    session.undo()
    assert session.job == DEMO


def test_folds_that_come_from_the_roof_cannot_be_typed(trim, qtbot):
    trim.store.session.select(run="V1")
    assert "follows from the roof" in trim.model.typed_on_drawing("f1", "40")
    trim.store.session.select(run="S1")
    assert "square by its nature" in trim.model.typed_on_drawing("f1", "40")
    trim.store.session.select(run="W1")
    assert "follows from the pitch" in trim.model.typed_on_drawing("f1", "40")
    trim.store.session.select(run="V1")
    assert trim.model.typed_on_drawing("f2", "80") is None and trim.model.run.standard.valley_apex == 80


def test_girth_advice_is_offered_and_taken(open_window, qtbot):
    job = load(eaves_path())
    window = open_window(job.but(stock=job.stock[:1]))
    trim = window.benches["trim"]
    keys(window, "Ctrl+Shift+G", qtbot)
    qtbot.waitUntil(lambda: not trim.model.advice.advising, timeout=60000)
    settle(window, qtbot)
    offers = [said for said in findings(trim.slate) if "→" in said]
    assert offers and "of coil" in trim.slate.row("advice").said.text()
    before = window.store.session.job
    press_finding(trim.slate, offers[0], qtbot)
    assert window.store.session.job.own != before.own and window.store.session.undo_title == "girth advice"
    assert "Ctrl+Shift+G looks" in trim.slate.row("advice").said.text(), "another job, another search"


def test_a_detail_is_copied_to_all_like_edges(trim, qtbot):
    session = trim.store.session
    session.select(run="E4")
    box = trim.slate.row("detail").box
    box.setCurrentIndex(box.findData("gutter-apron"))
    type_into(trim.slate.row("gutter apron"), "88", qtbot)
    keys(trim.window_of, "Ctrl+Shift+J", qtbot)
    eaves = [run for run in session.derived.runs if run.run.kind == "eave"]
    assert {run.family.name for run in eaves} == {"gutter-apron"} and {run.detail.profile.legs[1] for run in eaves} == {88.0}
    assert {run.family.name for run in session.derived.own_runs if run.run.kind == "rake"} == {"rake"}
    session.undo()
    assert [run.family.name for run in session.derived.runs].count("gutter-apron") == 1


def test_the_flat_pattern_shows_its_numbers_and_each_end_at_a_key(open_window, qtbot):
    """F3: whole, marked out, left end, right end; an end has all the room, with its length tape beneath."""
    window = open_window(load(demo_path()))
    window.store.session.select(run="V1", piece=0)
    keys(window, "Ctrl+2", qtbot)
    trim = window.benches["trim"]

    def said():
        return {s.text for s in trim.pattern.drawing.shapes if isinstance(s, Label)}
    whole = trim.pattern.drawing
    keys(window, "F3", qtbot)
    assert {"1", "2", "3"} <= said() and trim.section_card.isVisible()
    keys(window, "F3", qtbot)
    left = piece_ends(trim.model.piece.pattern)[0]
    points = end_points(left)
    assert {str(p.number) for p in points} <= said() and not trim.section_card.isVisible()
    assert {f"{p.place[0]:.1f}" for p in points} | {f"{p.place[1]:.1f}" for p in points} <= said()
    keys(window, "F3", qtbot)
    assert min(p[0] for s in trim.pattern.drawing.shapes if isinstance(s, Line) for p in s.points) < 0, "cut on the right"
    keys(window, "F3", qtbot)
    qtbot.waitUntil(lambda: trim.pattern.drawing == whole and trim.section_card.isVisible())
    keys(window, "Ctrl+4", qtbot)
    keys(window, "F3", qtbot)
    assert "the flat pattern is on the trim bench" in window.trouble.text.text()


def test_no_text_of_a_section_or_pattern_lies_on_another(open_window, qtbot):
    window = open_window(load(demo_path()))
    trim = window.benches["trim"]
    for run in ("E1", "G1", "V1", "R1", "W1", "S1", "W1.c", "R1.z1"):
        window.store.session.select(run=run)
        settle(window, qtbot)
        for canvas in (trim.section, trim.pattern):
            canvas.grab()
            boxes = [hit.rect for hit in canvas.hits if hit.text]
            for n, box in enumerate(boxes):
                for other in boxes[:n]:
                    shared = box.adjusted(5, 4, -5, -4).intersected(other.adjusted(5, 4, -5, -4))
                    assert not shared.isValid() or shared.isEmpty(), (run, box, other)


def test_a_cap_packed_up_to_the_one_it_meets_says_so_and_a_roof_too_close_is_a_finding_to_press(open_window, qtbot):
    """Level ridges of 30° and 38°: that of 30° lies lower by itself. A lean-to 49 under an eave: said with what would do."""
    blocks = [{**gable("main", length=12000.0, pitch=30.0, eave=3000.0)},
              {**gable("wing", 2500.0, -5000.0, 90.0, length=10000.0, span=6000.0, pitch=38.0,
                       eave=3000.0 + 4000.0 * math.tan(math.radians(30.0)) - 3000.0 * math.tan(math.radians(38.0)))}]
    window = open_window(with_system(Job(name="wing", roof=plan(*blocks)), "double seam 18 x 2 in"))
    window.show_bench("trim")
    session = window.store.session
    flat = [run.run.id for run in session.derived.own_runs if run.run.packed]
    session.select(run=flat[0])
    settle(window, qtbot)
    assert "packed up 5." in window.benches["trim"].slate.row("from the roof").said.text()
    low = plan(gable("main", length=12000.0, pitch=60.0, eave=3000.0, eave_overhang=300.0),
               shed("low", -1000.0, -5250.0, length=6000.0, span=2500.0, eave=2200.0, pitch=6.0, top_overhang=0.0))
    window = open_window(with_system(Job(name="low", roof=low), "rib 18, pitch 76"))
    window.show_bench("survey")
    slate = window.benches["survey"].slate
    said = [text for text in findings(slate) if "trim and the panels there want" in text]
    advice = [finding.reason() for name, finding in window.store.session.derived.findings if name == "E2"]
    assert said and advice[0].startswith("set the eave height of low to 2")
