"""Panel systems in the window: looked at, chosen for a face or for all, own ones read from a file."""

from __future__ import annotations

import ezdxf
import pytest
from hands import keys, settle
from PyQt6.QtCore import Qt

from yattle.drawing.shapes import Dim, Label
from yattle.job import demo_path, load
from yattle.panels import find, library

DEMO = load(demo_path())


@pytest.fixture
def box(open_window, qtbot):
    window = open_window(DEMO.but(taped=()))
    keys(window, "Ctrl+1", qtbot)
    window.benches["survey"].model.press("face:loft.1")
    keys(window, "Shift+F8", qtbot)
    return window.shop.dialog


def pick(box, name):
    row = [box.list.item(n).text() for n in range(box.list.count())].index(name)
    box.list.setCurrentRow(row)


def test_every_system_is_drawn_with_its_figures(box):
    assert box.list.count() == len(library())
    for system in library():
        pick(box, system.name)
        said = [shape.text for shape in box.picture.drawing.shapes if isinstance(shape, Dim)]
        assert len(said) == 3 and any(text.startswith("clear ") for text in said)
        assert system.kind in box.says.text() and "maker's paper" in box.rules.text()


def test_one_face_and_all_faces(box, qtbot):
    window = box.parent()
    pick(box, "rib 45, pitch 333")
    box.for_face.click()
    job = window.store.session.job
    was = [system.name for system in DEMO.systems]
    assert job.panel_system("loft.1").name == "rib 45, pitch 333" and job.panel_system("loft.2").name == was[0]
    pick(box, "double seam 530 x 25")
    box.for_all.click()
    settle(window, qtbot)
    job = window.store.session.job
    assert job.panel_system("loft.2").name == "double seam 530 x 25" and job.panel_system("loft.1").kind == "ribbed"
    survey = window.benches["survey"]
    assert survey.slate.row("system") and "ribs every 333.3" in survey.model.panels.system_says()
    window.store.session.undo()
    window.store.session.undo()
    assert [system.name for system in window.store.session.job.systems] == was


def test_an_own_system_is_read_from_its_format_and_from_a_drawing(box, tmp_path, qtbot):
    window = box.parent()
    own = find("single seam 475 x 38").but(name="our seam", over=480.0, profile=((0.0, 38.0), (0.0, 0.0), (480.0, 0.0), (480.0, 38.0)))
    (tmp_path / "own.json").write_text(own.model_dump_json())
    drawing = ezdxf.new()
    drawing.units = ezdxf.units.MM
    drawing.modelspace().add_lwpolyline([(10, 40), (10, 5), (410, 5), (410, 40)])
    drawing.saveas(tmp_path / "drawn pan.dxf")
    for name, wide in (("own.json", 480.0), ("drawn pan.dxf", 400.0)):
        window.asking.open = lambda *_, name=name: str(tmp_path / name)
        box.read_button.click()
        assert box.system.pitch_of_seams == wide
        box.for_all.click()
        assert window.store.session.job.panels.coverage == wide and box.system.name in {s.name for s in window.store.session.job.systems}
    (tmp_path / "bad.json").write_text(own.model_dump_json().replace("480.0", "20.0"))
    window.asking.open = lambda *_: str(tmp_path / "bad.json")
    before = window.store.session.job
    box.read_button.click()
    assert window.store.session.job == before and "bad.json" in window.trouble.text.text()


def test_an_own_system_is_typed_point_by_point_and_pulled_into_shape(box, qtbot):
    """A pan of 420 by 30 typed, its right seam dragged 30 out, a point more pressed; kept under its name, laid, undone."""
    window = box.parent()
    box.own.name.setText("typed seam")
    qtbot.keyClicks(box.own.points, "0, 30; 0, 0; 420, 0; 420, 30")
    assert [shape.text for shape in box.picture.drawing.shapes if isinstance(shape, Dim)][:2] == ["420.0", "30.0"]
    assert len(box.picture.handles) == 4
    for n, to in ((2, (450.0, 0.0)), (3, (450.0, 30.0))):
        start = box.picture.place_of(box.picture.handles[n]).toPoint()
        end = box.picture._view.at(to).toPoint()
        qtbot.mousePress(box.picture, Qt.MouseButton.LeftButton, pos=start)
        qtbot.mouseMove(box.picture, end)
        qtbot.mouseRelease(box.picture, Qt.MouseButton.LeftButton, pos=end)
    at = box.picture._view.at((380.0, 30.0)).toPoint()
    qtbot.mousePress(box.picture, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, at)
    x, y = (float(one) for one in box.own.points.text().split(";")[-1].split(","))
    assert x == pytest.approx(380, abs=3) and y == pytest.approx(30, abs=3)
    box.own.points.setText("0, 30; 0, 0; 450, 0; 450, 30; 440, 30")
    qtbot.keyClick(box.own.points, Qt.Key.Key_Return)
    assert box.system.name == "typed seam" and box.system.pitch_of_seams == pytest.approx(450.0) and box.isVisible()
    box.for_all.click()
    job = window.store.session.job
    assert job.panels.system == "typed seam" and job.panels.coverage == pytest.approx(450.0)
    window.store.session.undo()
    window.store.session.undo()
    assert "typed seam" not in {system.name for system in window.store.session.job.systems}


@pytest.mark.parametrize(("typed", "says"), [
    ("0, 30; 0", "point 2"), ("0, 30", "two or more"), ("0, x; 5, 5", "point 1"), ("0, 0; 20, 0", "at least 50 mm"),
    ("0, 30; 0, 0; 400, 0; -10, 20; 400, 40", "without crossing"), ("0, 0; 9000, 0", "at most 3000"), ("0, 0; 0, 0; 400, 0", "same point")])
def test_points_that_make_no_module_are_said_where_they_are_typed(box, typed, says, qtbot):
    before = box.parent().store.session.job
    box.own.name.setText("x")
    box.own.points.setText(typed)
    assert says in box.says.text()
    box.own.button.click()
    assert says in box.says.text() and box.parent().store.session.job == before and box.own.points.text() == typed
    box.own.points.setText("0, 0; 400, 0")
    box.own.name.setText("")
    box.own.button.click()
    assert "what the system is called" in box.says.text()


def test_a_coverage_typed_by_itself_is_no_longer_that_system_s(box, qtbot):
    window = box.parent()
    pick(box, "single seam 475 x 38")
    box.for_all.click()
    panels = window.benches["survey"].model.panels
    assert panels.put_panels("coverage", "500") is None
    rule = window.store.session.job.panel_rule("loft.1")
    assert (rule.system, rule.coverage, rule.seam) == ("", 500.0, 0.0)


def test_what_a_face_lies_on_is_typed_and_drawn_under_its_panels(open_window, qtbot):
    """Battens every 400 from 150 up, 30 high, over an old roof of 25: told, added up and in the picture."""
    window = open_window(DEMO.but(taped=()))
    keys(window, "Ctrl+1", qtbot)
    survey = window.benches["survey"]
    survey.model.press("face:loft.1")
    panels = survey.model.panels
    assert panels.put_system("rib 45, pitch 333", "loft.1") is None and panels.put_structure_kind("supports") is None
    settle(window, qtbot)
    for field, text in (("spacing", "400"), ("offset", "150"), ("thickness", "30"), ("old_roof", "25")):
        assert panels.put_structure(field, text) is None
    job = window.store.session.job
    assert job.structure_of("loft.1").supports(1000.0) == (150.0, 550.0, 950.0) and job.structure.kind == "deck"
    assert "old roof 25.0" in panels.heights_say() and "supports 30.0" in panels.heights_say()
    assert "spacing: found" in (panels.put_structure("spacing", "9 m") or "")
    keys(window, "Shift+F8", qtbot)
    said = [shape.text for shape in window.shop.dialog.picture.drawing.shapes if isinstance(shape, Label)]
    assert any(text.startswith("supports 30.0, every 400.0") for text in said) and "old roof 25.0" in said


def test_pans_made_in_the_shop_are_pieces_until_they_are_bought(open_window, qtbot):
    """The net shed's pans: on the coil, seen on the trim bench with their folds, found by name; bought they are on the panel list."""
    window = open_window(load(demo_path("net-shed")))
    session, survey = window.store.session, window.benches["survey"]
    keys(window, "Ctrl+1", qtbot)
    survey.model.press("face:net shed.1")
    settle(window, qtbot)
    before = session.derived.piece_count
    pans = session.derived.opening("pans net shed.1")
    many = sum(piece.pattern.qty for piece in pans.pieces)
    assert many == len(session.derived.panels["net shed.1"].panels) == 18
    session.select(opening=pans.id)
    window.show_bench("trim")
    settle(window, qtbot)
    assert {piece.part for piece in session.derived.nest.placements} >= {piece.pattern.id for piece in pans.pieces}
    window.show_bench("survey")
    survey.model.press("face:net shed.1")
    settle(window, qtbot)
    box = survey.slate.row("made").box
    box.setCurrentIndex(box.findData("bought"))
    settle(window, qtbot)
    assert session.job.panel_system("net shed.1").made == "bought"
    assert session.derived.piece_count == before - 36 and not [one for one in session.derived.openings if one.kind == "pans"]
    session.undo()
    assert session.derived.piece_count == before
