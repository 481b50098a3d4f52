"""Schools, ends and sections of one's own on the trim bench, in the real window: chosen, drawn, kept, compared."""

from __future__ import annotations

import math

import ezdxf
import pytest
from hands import LEFT, keys, settle, type_into
from hands import choose as do_action
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QLabel

from yattle.derive.printed import with_printed
from yattle.derive.roof_runs import run_of
from yattle.derive.sections import section_of
from yattle.details.free import Shape
from yattle.drawing.brake import step_says
from yattle.job import demo_path, load
from yattle.job.standards import HouseStandard, save_standard
from yattle.measure import UNITS

DEMO = load(demo_path()).but(taped=())


@pytest.fixture
def trim(open_window, qtbot, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    window = open_window(DEMO)
    window.show_bench("trim")
    window.benches["trim"].window_of = window
    return window.benches["trim"]


def choose(row, key):
    row.box.setCurrentIndex(row.box.findData(key))


def test_a_school_changes_what_is_made_and_says_what_it_costs(trim, qtbot):
    session = trim.store.session
    session.select(run="R1")
    before = session.derived.piece_count
    choose(trim.slate.row("seam gaps"), "folded")
    assert session.derived.piece_count == before - 80 and run_of(session.job, "R1").schools.closures == "folded"
    choose(trim.slate.row("compare with"), "closures:tabs")
    settle(trim.window_of, qtbot)
    trim.refresh()
    assert trim.right.currentWidget() is trim.other and trim.other.drawing.shapes
    assert trim.solid_card.head.text() == "instead: zeds with side tabs" and not trim.slider.isEnabled()
    assert "no joint by sealant" in trim.slate.row("this one").said.text()
    assert "87 pieces" in trim.slate.row("instead").said.text() and "345 folds" in trim.slate.row("instead").said.text()
    choose(trim.slate.row("compare with"), "")
    assert trim.right.currentWidget() is trim.solid and trim.slider.isEnabled()


def test_two_details_side_by_side(trim, qtbot):
    trim.store.session.select(run="V1")
    choose(trim.slate.row("compare with"), "detail:valley-closed")
    settle(trim.window_of, qtbot)
    trim.refresh()
    assert "closed valley" in trim.solid_card.head.text() and "pieces" in trim.slate.row("instead").said.text()
    trim.store.session.select(run="E1")
    assert trim.right.currentWidget() is trim.solid, "another run has no closed valley to be compared with"


def test_ends_are_chosen_for_each_side(trim, qtbot):
    session = trim.store.session
    session.select(run="S3")
    assert trim.slate.row("right").box.currentText() == "kick-out with a dam" and trim.slate.row("kick-out").isVisible()
    type_into(trim.slate.row("kick-out"), "150", qtbot)
    assert session.derived.run("S3").pieces[-1].ends[1].says().startswith("kick-out with a dam 150")
    choose(trim.slate.row("right"), "wall-in")
    assert session.derived.run("S3").run.right == "wall-in"
    choose(trim.slate.row("right"), "plain")
    assert not trim.slate.row("kick-out").isVisible()
    session.select(run="S3.c")
    assert not trim.slate.row("right").isVisible(), "a layer's ends follow its run"
    assert trim.section_card.head.text() == "S3.c · counterflashing"


def test_neighbours_and_proofs_are_shown(trim, qtbot):
    session = trim.store.session
    session.select(run="E1")
    qtbot.waitUntil(lambda: len(trim.solid.neighbours) == 1, timeout=3000)
    session.select(piece=1)
    qtbot.waitUntil(lambda: len(trim.solid.neighbours) == 2, timeout=3000)
    assert len(trim.solid.surfaces()) > 8
    assert trim.solid_card.right.text().replace("\u00a0", " ") == "folds up to 0.00 mm, on the roof 0.00 mm"
    session.select(run="R1.z1")
    qtbot.waitUntil(lambda: not trim.solid.neighbours, timeout=3000)
    assert "38 like this" in trim.pattern_card.under.text()


def test_a_section_drawn_by_its_corners(trim, qtbot):
    window, session = trim.window_of, trim.store.session
    keys(window, "Ctrl+Shift+F", qtbot)
    assert session.selection.run == "F1" and trim.model.own.shape == Shape() and len(trim.section.handles) == 3
    corner = trim.section.place_of(trim.section.handles[2]).toPoint()
    by = QPoint(0, round(20 * trim.section._view.scale))
    qtbot.mousePress(trim.section, LEFT, pos=corner)
    qtbot.mouseMove(trim.section, corner + by)
    qtbot.mouseRelease(trim.section, LEFT, pos=corner + by)
    assert trim.model.own.shape.legs == (60.0, 100.0) and trim.model.own.shape.turns == (-90.0,)
    end = trim.section.place_of(trim.section.handles[2]).toPoint()
    beside = end + QPoint(round(30 * trim.section._view.scale), 0)
    qtbot.mouseClick(trim.section, LEFT, Qt.KeyboardModifier.ShiftModifier, beside)
    assert trim.model.own.shape.legs == pytest.approx((60, 100, 30), abs=1) and trim.model.own.shape.turns == pytest.approx((-90, 90), abs=2)
    assert session.derived.run("F1").pieces[0].proof.max_gap < 1e-6
    scale, half = trim.section._view.scale, QPoint(0, 0)
    ends = [trim.section.place_of(handle) for handle in trim.section.handles]
    half = ((ends[1] + ends[2]) / 2).toPoint() + QPoint(round(2 * scale), 0)
    qtbot.mouseClick(trim.section, LEFT, Qt.KeyboardModifier.ShiftModifier, half)
    assert len(trim.model.own.shape.legs) == 4, "pressed on a leg it is parted there"
    ends = [trim.section.place_of(handle).toPoint() for handle in trim.section.handles]
    qtbot.mousePress(trim.section, LEFT, pos=ends[2])
    qtbot.mouseMove(trim.section, (ends[2] + ends[1]) / 2)
    assert len(trim.section.ghost) == 5 and trim.section.ghost[2] != trim.model.own._corners(session.derived.run("F1").detail.profile)[2], (
        "it is seen while it is dragged")
    qtbot.mouseMove(trim.section, ends[1])
    qtbot.mouseRelease(trim.section, LEFT, pos=ends[1])
    assert len(trim.model.own.shape.legs) == 3 and not trim.section.ghost, "let go on its neighbour it is away"


def test_a_section_typed(trim, qtbot):
    keys(trim.window_of, "Ctrl+Shift+F", qtbot)
    session = trim.store.session
    type_into(trim.slate.row("legs"), "50 110, 2 cm", qtbot)
    assert session.derived.run("F1").detail.profile.legs == (50.0, 110.0, 20.0)
    type_into(trim.slate.row("legs"), "50; 120; 20", qtbot)
    type_into(trim.slate.row("turns"), "-90; 40", qtbot)
    choose(trim.slate.row("edge B"), "back")
    type_into(trim.slate.row("long"), "1.5 m", qtbot)
    type_into(trim.slate.row("right mitre"), "90 plan", qtbot)
    run = session.derived.run("F1")
    assert run.detail.profile.legs == (50.0, 120.0, 20.0) and run.detail.profile.turns == (-90.0, 40.0)
    assert run.detail.profile.hem_b.toward == "back" and run.run.length == 1500 and run.pieces[0].hand == "right hand"
    for name, text in (("legs", "50; x"), ("turns", "-90; 190"), ("right mitre", "90"), ("first leg", "up")):
        row = trim.slate.row(name)
        type_into(row, text, qtbot)
        assert row.wrong.isVisible(), name
    type_into(trim.slate.row("right mitre"), "", qtbot)
    assert session.derived.run("F1").pieces[0].hand == "middle"


def test_an_own_section_on_an_edge_of_the_roof_goes_to_its_like(trim, qtbot):
    session = trim.store.session
    session.select(run="E4")
    choose(trim.slate.row("detail"), "free")
    type_into(trim.slate.row("called"), "island drip", qtbot)
    keys(trim.window_of, "Ctrl+Shift+J", qtbot)
    assert {r.detail.name for r in session.derived.own_runs if r.run.kind == "eave"} == {"island drip"}


def test_sections_kept_and_read(trim, qtbot, tmp_path):
    window, session = trim.window_of, trim.store.session
    do_action(window, "piece.keep-section")
    assert "no section of your own" in window.trouble.text.text()
    document = ezdxf.new("R2010")
    document.units = 4
    document.modelspace().add_lwpolyline([(0, 0), (70, 0), (70, -90), (95, -90)])
    document.saveas(tmp_path / "pier.dxf")
    window.asking.open = lambda kinds="": str(tmp_path / "pier.dxf")
    do_action(window, "piece.read-section")
    assert trim.model.own.shape.legs == (70.0, 90.0, 25.0) and trim.model.own.shape.name == "pier"
    do_action(window, "piece.keep-section")
    session.undo()
    keys(window, "Ctrl+Shift+F", qtbot)
    choose(trim.slate.row("library"), "pier")
    assert trim.model.own.shape.legs == (70.0, 90.0, 25.0)
    window.asking.open = lambda kinds="": str(tmp_path / "none.dxf")
    do_action(window, "piece.read-section")
    assert "none.dxf: cannot be read" in window.trouble.text.text()


def test_standards_saved_taken_and_compared(trim, qtbot, tmp_path):
    window, session = trim.window_of, trim.store.session
    mine, other = tmp_path / "mine.standard.json", tmp_path / "other.standard.json"
    window.asking.save = lambda suggestion, kinds: str(mine)
    do_action(window, "piece.save-standard")
    settle(window, qtbot)
    assert mine.exists()
    save_standard(HouseStandard(name="harbour yard", own=DEMO.own.but(face=111.0)), other)
    window.asking.open = lambda kinds="": str(other)
    do_action(window, "piece.compare-standard")
    said = [label.text() for label in window.shop.dialog.findChildren(QLabel)]
    assert {"face", "111.0", "harbour yard"} <= set(said)
    window.shop.dialog.reject()
    do_action(window, "piece.take-standard")
    assert session.job.own.face == 111.0 and session.derived.run("E1").detail.profile.legs[1] == 111.0
    other.write_text("{}{")
    do_action(window, "piece.take-standard")
    assert window.trouble.isVisible() and session.job.own.face == 111.0


def test_what_changed_since_the_print_is_marked(trim, qtbot):
    session = trim.store.session
    session.edit("papers written", lambda job: with_printed(job, session.derived))
    session.select(run="E1")
    assert "since the print" not in trim.pattern_card.under.text()
    type_into(trim.slate.row("face"), "91", qtbot)
    assert trim.pattern_card.under.text().startswith("changed since the print")
    session.undo()
    assert "since the print" not in trim.pattern_card.under.text()


def test_a_coping_from_the_finder_gets_its_length_wall_and_stop_end(trim, qtbot):
    """Found by its name, told its wall, closed at one end; made a gutter it is called one, and its own legs are gone."""
    window, session = trim.window_of, trim.store.session
    keys(window, "Ctrl+K", qtbot)
    qtbot.keyClicks(window.menus.finder, "coping")
    qtbot.keyClick(window.menus.finder, Qt.Key.Key_Return)
    settle(window, qtbot)
    run = session.selection.run
    assert trim.model.run.family.name == "coping" and trim.model.run.run.name == "coping"
    type_into(trim.slate.row("long"), "5200", qtbot)
    type_into(trim.slate.row("wall under it"), "300", qtbot)
    choose(trim.slate.row("right"), "cap")
    settle(window, qtbot)
    made = session.derived.run(run)
    assert made.run.length == 5200 and made.detail.profile.legs[2] == pytest.approx(310 / math.cos(math.radians(5)))
    assert [piece.hand for piece in made.pieces] == ["middle", "right hand"]
    choose(trim.slate.row("detail"), "box-gutter")
    settle(window, qtbot)
    assert trim.model.run.run.name == "box gutter" and trim.slate.row("gutter front").isVisibleTo(window)
    assert not trim.slate.row("legs").isVisibleTo(window) and trim.slate.row("long").isVisibleTo(window)


def test_a_gutter_is_given_a_fall_and_its_tape_is_read_at_both_ends(trim, qtbot):
    """Typed as names and measures; a wrong name is told what there is; the tape goes from end to end with R."""
    window, session = trim.window_of, trim.store.session
    window.menus.actions["piece.box-gutter"].trigger()
    type_into(trim.slate.row("long"), "7000", qtbot)
    type_into(trim.slate.row("tapers to"), "gutter 120", qtbot)
    assert "lip, front, bottom, back" in trim.slate.row("tapers to").wrong.text()
    type_into(trim.slate.row("tapers to"), "front 120; Back 145", qtbot)
    settle(window, qtbot)
    run = session.derived.run(session.selection.run)
    assert run.run.tapers == (("front", 120.0), ("back", 145.0)) and run.detail.name == "box gutter, tapered"
    assert trim.slate.row("tapers to").field.text() == "front 120.0, back 145.0"
    session.select(piece=1)
    last = {}
    for end in ("left", "right"):
        bends = run.pieces[1].girths[0 if end == "left" else 1].bends
        last[end] = window.tape.distance(bends[-1])
        assert last[end] == pytest.approx(bends[-1].mark)
        keys(window, "Ctrl+R", qtbot)
    assert last["right"] - last["left"] == pytest.approx(35 / 3, abs=0.01) and window.tape.from_b
    session.undo()
    type_into(trim.slate.row("tapers to"), "", qtbot)
    assert not session.derived.run(run.run.id).run.tapers


def test_a_tapered_piece_is_not_given_to_the_folder_and_its_strokes_name_lines(trim, qtbot):
    window, session = trim.window_of, trim.store.session
    window.menus.actions["piece.box-gutter"].trigger()
    type_into(trim.slate.row("tapers to"), "front 120, back 145", qtbot)
    window.show_bench("brake")
    settle(window, qtbot)
    brake = window.benches["brake"]
    assert brake.model.tapers and "left end" in brake.model.mark().note
    window.menus.actions["piece.folder"].trigger()
    settle(window, qtbot)
    assert "the piece tapers" in brake.model.folder.measured
    group = section_of(session.derived, session.selection.run)
    step = session.derived.order(session.selection.run).steps[-1]
    assert group.tapers and "on its line" in step_says(step, group.girth, UNITS["mm"], group.tapers)[0]


def test_an_end_s_parts_are_typed_switched_off_and_come_from_the_school(trim, qtbot):
    """A rake's foot by the school cut plumb and closed; one part switched off by name; a wrong one is told what there is."""
    session = trim.store.session
    session.select(run="G1")
    choose(trim.slate.row("eave end"), "plumb")
    settle(trim.window_of, qtbot)
    run = session.derived.run("G1")
    side = "left" if run.run.left == "tab" else "right"
    piece = run.pieces[0 if side == "left" else -1]
    assert {fold.id[:2] for fold in piece.pattern.folds if fold.id[0] == "w"} == {"wL" if side == "left" else "wR"}
    assert sum(fold.id[0] == "w" for fold in piece.pattern.folds) == 2 and run.detail.max_gap < 1e-6
    row = trim.slate.row(f"{side} also")
    type_into(row, "top tab, gargoyle", qtbot)
    assert "some of top tab, face tab, wrap, hem 45, drip back" in row.wrong.text()
    type_into(row, "top tab, hem 45", qtbot)
    settle(trim.window_of, qtbot)
    piece = session.derived.run("G1").pieces[0 if side == "left" else -1]
    assert sum(fold.id[0] == "w" for fold in piece.pattern.folds) == 1 and row.field.text() == "top tab, hem 45"
    type_into(row, "", qtbot)
    assert getattr(session.derived.run("G1").run, f"{side}_also") is None


def test_a_gutter_s_outlets_are_typed_and_drawn(trim, qtbot):
    session = trim.store.session
    trim.window_of.menus.actions["piece.box-gutter"].trigger()
    row = trim.slate.row("outlets")
    assert row.isVisibleTo(trim.window_of)
    type_into(row, "400", qtbot)
    assert "expected a place and a width" in row.wrong.text()
    type_into(row, "400 by 100", qtbot)
    settle(trim.window_of, qtbot)
    (piece,) = session.derived.run(session.selection.run).pieces
    assert len(piece.pattern.holes) == 1 and row.field.text() == "400.0 by 100.0"
    session.select(run="E1")
    assert not row.isVisibleTo(trim.window_of)
