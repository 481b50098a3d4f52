"""The survey bench in the real window: a roof built from nothing, dragged, typed, taped, laid and written."""

from __future__ import annotations

from itertools import pairwise

import ezdxf
import pytest
from hands import LEFT, choose, escape, findings, keys, press_finding, press_key_of, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit

from yattle.derive.roof_runs import roof_runs, run_of
from yattle.devices import StandInInstrument, served
from yattle.job import Job, demo_path, load
from yattle.job.settings import keep_address, load_settings

DEMO = load(demo_path()).but(taped=())  # without its taped measures: the adjustment is asked for where it matters


@pytest.fixture
def survey(open_window, qtbot):
    window = open_window(DEMO)
    window.show_bench("survey")
    settle(window, qtbot)
    window.benches["survey"].window_of = window
    return window.benches["survey"]


def job_of(bench):
    return bench.store.session.job


def kinds(bench):
    return [r.edge.kind for r in roof_runs(job_of(bench))]


def pull(bench, part, role, by, qtbot, which=0):
    """Drag a handle by ``by`` mm, through the mouse."""
    canvas = bench.plan
    canvas.grab()
    handle = [h for h in canvas.handles if (h.part, h.role) == (part, role)][which]
    start = canvas.place_of(handle).toPoint()
    end = canvas._view.at((handle.at[0] + by[0], handle.at[1] + by[1])).toPoint()
    qtbot.mousePress(canvas, LEFT, pos=start)
    for share in (0.3, 0.7, 1.0):
        qtbot.mouseMove(canvas, start + (end - start) * share)
    qtbot.mouseRelease(canvas, LEFT, pos=end)


def test_an_l_shaped_roof_with_a_dormer_from_nothing(open_window, qtbot):
    window = open_window(Job(name="new roof"))
    bench = window.benches["survey"]
    assert bench.pages.currentWidget() is bench.starts and bench.starts.isVisible()
    assert "Ctrl+Shift+N" in bench.plan_card.under.text() and not bench.buttons["space"].isVisible()
    qtbot.mouseClick(bench.starts.buttons["gable"], LEFT)
    assert len(kinds(bench)) == 7 and bench.model.block_id == "main" and not bench.starts.isVisible()
    choose(window, "roof.gable")
    assert bench.model.block_id == "wing" and kinds(bench).count("valley") == 2
    type_into(bench.slate.row("pitch left"), "9:12", qtbot)
    assert job_of(bench).roof.blocks[1].pitch == pytest.approx(36.8699, abs=1e-3)
    choose(window, "roof.dormer")
    assert bench.model.block_id == "dormer"
    type_into(bench.slate.row("centre east"), "-3 m", qtbot)
    assert kinds(bench).count("valley") == 4 and kinds(bench).count("sidewall") == 2 and kinds(bench).count("headwall") == 1
    assert window.store.session.derived.pieces and window.rail.runs.count() == len(
        window.store.session.derived.runs) + sum(found.detail != "none" for found in window.store.session.derived.openings)
    for _ in range(5):
        window.do("edit.undo")
    assert job_of(bench) == Job(name="new roof")


def test_pressing_on_the_plan_selects(survey, qtbot):
    press_key_of(survey.plan, "V1", qtbot)
    assert survey.store.session.selection.run == "V1" and survey.model.part == ""
    assert "fold 51.13°" in survey.slate.row("length").note.text()
    survey.model.press("face:wing.1")
    assert survey.model.block_id == "wing" and survey.slate.row("centre east").isVisible()
    assert not survey.slate.row("name").isVisible()
    survey.model.press("opening:chimney")
    assert survey.model.item.kind == "chimney" and survey.slate.row("across").isVisible() and not survey.slate.row("diameter").isVisible()
    survey.plan.setFocus()
    qtbot.keyClick(survey.plan, Qt.Key.Key_Right)
    assert survey.plan.ink.selected, "arrow keys go from one thing to the next"


def test_a_measure_is_typed_on_the_drawing(survey, qtbot):
    survey.model.press("face:wing.1")
    survey.plan.grab()
    hit = next(h for h in survey.plan.hits if h.key == "block:wing:span")
    qtbot.mouseClick(survey.plan, LEFT, pos=hit.rect.center().toPoint())
    editor = survey.plan.findChild(QLineEdit)
    qtbot.keyClicks(editor, "5.8 m")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert next(b for b in job_of(survey).roof.blocks if b.id == "wing").span == 5800.0


def test_handles_drag_and_snap(survey, qtbot):
    survey.model.press("face:wing.1")
    wing = next(b for b in job_of(survey).roof.blocks if b.id == "wing")
    pull(survey, "block:wing", "span", (430.0, 0.0), qtbot, which=1)
    wider = next(b for b in job_of(survey).roof.blocks if b.id == "wing")
    assert wider.span > wing.span and wider.span % 50 == 0
    pull(survey, "block:wing", "move", (-1000.0, 0.0), qtbot)
    assert next(b for b in job_of(survey).roof.blocks if b.id == "wing").x < wing.x - 500
    survey.model.press("opening:chimney")
    pull(survey, "opening:chimney", "move", (0.0, 40000.0), qtbot)
    chimney = next(o for o in job_of(survey).roof.openings if o.id == "chimney")
    assert (chimney.x, chimney.y) == (-6800.0, 1300.0), "off the roof it stays where it was"
    survey.model.press("face:loft.1")
    survey.plan.setFocus()
    qtbot.keyClick(survey.plan, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert job_of(survey).roof.blocks[0].y == 50.0


def test_views(survey, qtbot):
    for button, name in ((b, n) for n, b in survey.buttons.items()):
        qtbot.mouseClick(button, LEFT)
        settle(survey.window_of, qtbot)
        assert survey.model.view == name and not survey.grab().isNull()
    assert survey.model.facet is not None and survey.face.drawing.shapes, "panels need a face: the largest is taken"
    survey.model.show_view("space")
    survey.model.press("V1")
    before = survey.solid.grab().toImage()
    survey.model.press("face:wing.1")
    qtbot.waitUntil(lambda: survey.solid.grab().toImage() != before, timeout=3000)
    survey.solid.setFocus()
    turned = survey.solid.azimuth
    qtbot.keyClick(survey.solid, Qt.Key.Key_Left)
    assert survey.solid.azimuth != turned
    survey.model.show_view("cut")
    pull(survey, "cut", "a", (-4000.0, 0.0), qtbot)
    assert survey.model.shape.cut.a[0] == pytest.approx(-4000, abs=60) and survey.section.drawing.shapes


def test_panels_follow_what_is_typed(survey, qtbot):
    survey.model.press("face:loft.2")
    survey.model.show_view("panels")
    settle(survey.window_of, qtbot)
    best = survey.model.panels.laid
    clear = {c.opening: c.clear for c in best.clearances}
    assert set(clear) == {"soil pipe", "dormer"} and min(clear.values()) > 100
    type_into(survey.slate.row("start"), "30", qtbot)
    settle(survey.window_of, qtbot)
    assert survey.model.panels.laid.start == 30.0 and survey.model.panels.laid.clearances[0].clear < clear["soil pipe"]
    type_into(survey.slate.row("start"), "", qtbot)
    settle(survey.window_of, qtbot)
    assert survey.model.panels.laid.start == best.start
    assert "clear of dormer" in survey.slate.row("panels").said.text()


def test_a_drop_is_followed(survey, qtbot):
    survey.plan.grab()
    place = survey.plan._view.at((3000.0, -3000.0)).toPoint()
    qtbot.mouseClick(survey.plan, LEFT, Qt.KeyboardModifier.ShiftModifier, pos=place)
    assert "the drop comes to V1" in survey.plan.corners[0] and survey.model.shape.drop.end == "off"
    survey.model.press("V1")
    settle(survey.window_of, qtbot)
    survey.refresh()
    assert "l/s at 150 mm/h" in survey.slate.row("water").said.text() and "Advice" in survey.slate.row("water").said.text()


def test_the_wrong_measure_is_named_and_the_adjusted_roof_taken(survey, qtbot):
    survey.model.press("V1")
    type_into(survey.slate.row("taped"), "6390", qtbot)
    settle(survey.window_of, qtbot)
    survey.refresh()
    looks = [said for said in findings(survey.slate) if "most likely wrong" in said]
    assert looks and "taped valley V1" in looks[0]
    before = job_of(survey).roof
    press_finding(survey.slate, "most likely wrong", qtbot)
    assert job_of(survey).roof != before and survey.store.session.undo_title == "take the adjusted roof"


def test_taped_on_a_face(survey, qtbot):
    survey.model.press("face:loft.1")
    type_into(survey.slate.row("taped pitch"), "34.8", qtbot)
    type_into(survey.slate.row("diagonal 2"), "19.41 m", qtbot)
    taped = {(t.kind, t.of, t.field): t.value for t in job_of(survey).taped}
    assert taped["pitch", "loft.1", ""] == 34.8 and taped["diagonal", "loft.1", "1-3"] == 19410.0
    assert survey.slate.row("taped pitch").note.text() == "-0.2°"
    type_into(survey.slate.row("taped pitch"), "", qtbot)
    assert ("pitch", "loft.1", "") not in {(t.kind, t.of, t.field) for t in job_of(survey).taped}


def test_a_taped_nothing_is_said_where_it_was_typed(survey, qtbot):
    survey.model.press("face:loft.1")
    before = job_of(survey)
    for name in ("taped pitch", "diagonal 2"):
        type_into(survey.slate.row(name), "0", qtbot)
        row = survey.slate.row(name)
        assert row.wrong.isVisible() and "found 0" in row.wrong.text() and job_of(survey) == before
        escape(survey.slate.row(name), qtbot)


def test_taped_angles_and_block_measures(survey, qtbot):
    """A valley's fold and any measure of a block carry what was taken beside what the roof says."""
    survey.model.press("V1")
    row = survey.slate.row("taped fold")
    assert row.isVisibleTo(survey.slate) and row.note.text() == "roof says 51.1°"
    type_into(row, "50.9", qtbot)
    assert row.note.text() == "-0.2°"
    survey.model.press("E1")
    assert not row.isVisibleTo(survey.slate), "an eave has no fold"
    survey.model.press("face:wing.1")
    survey.slate.row("taped of it").put("eave_height")
    type_into(survey.slate.row("tape said"), "4.612 m", qtbot)
    assert survey.slate.row("tape said").note.text() == "+12 mm"
    survey.slate.row("taped of it").put("pitch")
    assert survey.slate.row("tape said").note.text() == "roof says 40.0°"
    type_into(survey.slate.row("tape said"), "lots", qtbot)
    assert survey.slate.row("tape said").wrong.isVisible()
    taped = {(t.kind, t.field): t.value for t in job_of(survey).taped}
    assert taped == {("fold", "0"): 50.9, ("block", "eave_height"): 4612.0}


def test_seams_on_an_edge(survey, qtbot):
    """Where the panels' seams come to an eave: every coverage one, and at a valley further apart on the slope."""
    survey.model.press("E1")
    settle(survey.window_of, qtbot)
    survey.refresh()
    places = survey.model.panels.laid_on("loft.1").on_edges[survey.model.edge_id]
    assert all(b - a == pytest.approx(475) for a, b in pairwise(places))
    assert f"{len(places)} at {places[0]:.0f}, {places[1]:.0f}" in survey.slate.row("seams").said.text()
    survey.model.press("V1")
    settle(survey.window_of, qtbot)
    survey.refresh()
    assert survey.slate.row("seams").said.text().startswith("loft.2: 7 at ")


def test_the_instrument_s_address_is_typed(survey, qtbot):
    row = survey.slate.row("instrument at")
    type_into(row, "tcp:nowhere", qtbot)
    assert row.wrong.isVisible() and load_settings().instrument == "stand-in"
    with served(StandInInstrument(51.4, True, seed=3)) as address:
        type_into(row, address, qtbot)
        assert load_settings().instrument == address
        survey.model.press("V1")
        survey.slate.row("taped fold").field.setFocus()
        survey.window_of.do("roof.reading")
        settle(survey.window_of, qtbot)
    assert [round(t.value) for t in job_of(survey).taped] == [51]
    keep_address(instrument="stand-in")


def test_wrong_measures_are_said_where_they_were_typed(survey, qtbot):
    survey.model.press("face:wing.1")
    for name, text in (("span", "0"), ("pitch left", "95°"), ("length", "x")):
        row = next(r for r in survey.slate.rows if r.name == name and r.isVisible())
        type_into(row, text, qtbot)
        assert row.wrong.isVisible()
    spoiled = survey.slate.row("span")
    assert "expected a number of at least 10" in spoiled.wrong.text() and job_of(survey) == DEMO
    survey.model.press("E1")
    assert survey.model.part == "face:wing.1", "what is refused stays with its face"
    for name in ("span", "pitch left", "length"):
        escape(next(r for r in survey.slate.rows if r.name == name and r.isVisible()), qtbot)
    survey.model.press("E1")
    survey.model.remove_part()
    assert "found nothing selected" in survey.window_of.trouble.text.text()


def test_readings_go_to_the_field_in_hand(survey, qtbot):
    window = survey.window_of
    survey.model.press("V1")
    field = survey.slate.row("taped").field
    window.activateWindow()
    field.setFocus()
    qtbot.waitUntil(field.hasFocus, timeout=2000)
    with served(StandInInstrument(5829.5, scatter=0.0)) as address:
        keep_address(instrument=address)
        keys(window, "F9", qtbot)
        settle(window, qtbot)
    assert run_of(job_of(survey), "V1").taped == 5829.5
    keep_address(instrument="stand-in")
    keys(window, "F9", qtbot)
    settle(window, qtbot)
    assert run_of(job_of(survey), "V1").taped == pytest.approx(run_of(job_of(survey), "V1").length, abs=8)
    survey.table.setFocus()
    keys(window, "F9", qtbot)
    assert "found no field in hand" in window.trouble.text.text()


def test_measures_in_and_drawings_out(survey, qtbot, tmp_path, monkeypatch):
    window = survey.window_of
    (tmp_path / "site.csv").write_text("what,value\nE1,18.47 m\n", encoding="utf-8")
    monkeypatch.setattr(window.asking, "open", lambda kinds: str(tmp_path / "site.csv"))
    choose(window, "roof.measures")
    assert run_of(job_of(survey), "E1").taped == 18470.0
    for name in ("roof.dxf", "roof.glb"):
        monkeypatch.setattr(window.asking, "save", lambda suggestion, kinds, name=name: str(tmp_path / name))
        choose(window, name)
        settle(window, qtbot)
    assert "VALLEY" in {e.dxf.layer for e in ezdxf.readfile(tmp_path / "roof.dxf").modelspace()}
    assert (tmp_path / "roof.glb").read_bytes()[:4] == b"glTF"


def test_adding_and_taking_off(survey, qtbot):
    window = survey.window_of
    for kind in ("chimney", "pipe", "curb", "skylight"):
        survey.model.press("face:loft.2")
        choose(window, f"roof.{kind}")
        assert survey.model.item.kind == kind
        choose(window, "roof.take-off")
    assert job_of(survey).roof == DEMO.roof
    survey.model.press("face:dormer.1")
    choose(window, "roof.take-off")
    assert "dormer" not in {b.id for b in job_of(survey).roof.blocks} and survey.model.part == ""


def test_every_edge_can_be_shown_on_every_bench(survey, qtbot):
    """A run without a detail yet is said to have none, and nothing breaks."""
    window = survey.window_of
    for name in ("trim", "brake", "coil"):
        window.show_bench(name)
        for run in ("V1", "R1", "S1", "E2"):
            window.store.session.select(run=run)
            settle(window, qtbot)
            assert not window.grab().isNull()
    derived = window.store.session.derived
    assert window.rail.runs.count() == len(derived.runs) + sum(
        found.detail != "none" for found in derived.openings)


def test_a_face_from_a_sketch(survey, qtbot):
    choose(survey.window_of, "roof.face")
    face = job_of(survey).roof.faces[0]
    assert survey.model.item == face and survey.slate.row("corners").isVisible()
    pull(survey, f"face:{face.id}", "corner 2", (500.0, 600.0), qtbot)
    corner = job_of(survey).roof.faces[0].outline[2]
    assert corner != face.outline[2] and corner[0] % 50 == 0
    type_into(survey.slate.row("corners"), "20 m, 0; 26 m, 0; 26 m, 3.5 m; 20 m, 3.5 m", qtbot)
    type_into(survey.slate.row("face pitch"), "25", qtbot)
    now = job_of(survey).roof.faces[0]
    assert now.outline == ((20000, 0), (26000, 0), (26000, 3500), (20000, 3500)) and now.pitch == 25
    type_into(survey.slate.row("corners"), "1, 2, 3; 4", qtbot)
    assert "expected east and north" in survey.slate.row("corners").wrong.text()
    survey.slate.row("eave edge").box.setCurrentIndex(2)
    assert job_of(survey).roof.faces[0].eave == 2


def test_out_of_square_is_told_from_two_diagonals(survey, qtbot):
    survey.model.press("face:loft.1")
    type_into(survey.slate.row("diagonal 1"), "19.43 m", qtbot)
    type_into(survey.slate.row("diagonal 2"), "19.41 m", qtbot)
    settle(survey.window_of, qtbot)
    survey.refresh()
    assert "corner stands out" in survey.slate.row("square").said.text() and "panels" in survey.slate.row("square").said.text()


def test_an_own_metal_is_entered_with_its_source_and_used(window, qtbot):
    survey = window.benches["survey"]
    window.show_bench("survey")
    job = window.store.session
    type_into(survey.slate.row("own metal"), "shed tin", qtbot)
    assert job.job.metal == "shed tin" and "until its maker" in job.job.metals[0].source
    type_into(survey.slate.row("other gauge"), "0.48", qtbot)
    type_into(survey.slate.row("springs by"), "1.06", qtbot)
    type_into(survey.slate.row("source"), "the maker's sheet, page 2", qtbot)
    own = job.job.metals[0]
    assert (job.job.thickness, own.springback, own.source) == (0.48, 1.06, "the maker's sheet, page 2")
    assert all(part.metal == "shed tin 0.48" for part in job.derived.nest_job.parts)
    type_into(survey.slate.row("own metal"), "copper", qtbot)
    assert "which there is" in survey.slate.row("own metal").wrong.text() and job.job.metal == "shed tin"
