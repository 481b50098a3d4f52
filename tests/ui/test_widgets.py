"""The small controls on their own, with real keys and pictures."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter

from samples import made, section
from yattle.details import develop
from yattle.drawing import Drawing, Label, Line, Ring, Tag, section_drawing
from yattle.drawing.shapes import ROLES
from yattle.measure import Sum, Term
from yattle.pattern import End, StripPlan, strip_pattern
from yattle.section import girth_of
from yattle.ui import theme as themes
from yattle.ui.app import make_app
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.drawing.solid import Solid
from yattle.ui.drawing.words import width_of
from yattle.ui.widgets.rows import ChoiceRow, NumberRow, ReadRow, Shown
from yattle.ui.widgets.words import ShortWords


@pytest.fixture
def app(qapp):
    make_app()
    themes.use(themes.LIGHT, qapp)
    return qapp


class Held:
    """A value with a rule, as a job would hold it."""

    def __init__(self, value: float) -> None:
        self.value = value

    def get(self) -> Shown:
        return Shown(f"{self.value:g}", "note", Sum("all", (Term("a", self.value), Term("b", -1.0))), lambda v: f"{v:g}")

    def put(self, text: str) -> str | None:
        if not text.isdigit():
            return f"found {text}, expected digits"
        self.value = float(text)
        return None


def typed(row, text, qtbot):
    row.field.selectAll()
    qtbot.keyClicks(row.field, text)
    qtbot.keyClick(row.field, Qt.Key.Key_Return)


def test_a_number_row_has_no_memory_of_its_own(app, qtbot):
    held = Held(5)
    row = NumberRow("leg", held.get, held.put)
    qtbot.addWidget(row)
    row.show()
    row.refresh()
    assert row.field.text() == "5" and row.note.text() == "note"
    typed(row, "7", qtbot)
    assert held.value == 7
    held.value = 9
    row.refresh()
    assert row.field.text() == "9"


def test_a_wrong_text_stays_until_it_is_right_or_taken_back(app, qtbot):
    held = Held(5)
    row = NumberRow("leg", held.get, held.put)
    qtbot.addWidget(row)
    row.show()
    row.refresh()
    typed(row, "six", qtbot)
    assert row.wrong.text() == "found six, expected digits" and row.field.property("wrong") == "true" and held.value == 5
    typed(row, "6", qtbot)
    assert not row.wrong.isVisible() and row.field.property("wrong") == "false" and held.value == 6
    typed(row, "x", qtbot)
    qtbot.keyClick(row.field, Qt.Key.Key_Escape)
    assert row.field.text() == "6" and not row.wrong.isVisible()


def test_what_is_being_typed_is_not_overwritten(app, qtbot):
    held = Held(5)
    row = NumberRow("leg", held.get, held.put)
    qtbot.addWidget(row)
    row.show()
    row.field.setFocus()
    qtbot.waitUntil(row.field.hasFocus, timeout=2000)
    qtbot.keyClicks(row.field, "12")
    row.refresh()
    assert row.field.text().endswith("12")


def test_a_sum_follows_its_number(app, qtbot):
    held = Held(5)
    row = ReadRow("sum", held.get)
    qtbot.addWidget(row)
    row.show()
    row.refresh()
    qtbot.mouseClick(row.button, Qt.MouseButton.LeftButton)
    assert [label.text() for line in row.sum._lines for label in line] == ["a", "5", "b", "− 1", "all", "= 4"]
    held.value = 8
    row.refresh()
    assert row.sum._lines[-1][1].text() == "= 7"


def test_a_choice_tells_only_what_a_person_chose(app, qtbot):
    chosen = []
    row = ChoiceRow("school", lambda: [("a", "one"), ("b", "two")], lambda: "b", lambda key: chosen.append(key))
    qtbot.addWidget(row)
    row.refresh()
    assert row.box.currentText() == "two" and chosen == []
    row.box.setCurrentIndex(0)
    assert chosen == ["a"]


@pytest.mark.parametrize("t", [themes.LIGHT, themes.DARK], ids=["light", "dark"])
def test_every_role_is_seen_in_both_themes(app, t):
    themes.use(t, app)
    for role in (role for role in ROLES if role != "break"):
        image = QImage(120, 120, QImage.Format.Format_ARGB32)
        image.fill(QColor(t.card))
        blank = image.copy()
        painter = QPainter(image)
        shapes = (Ring(((0, 0), (10, 0), (10, 10)), role), Line(((0, 5), (9, 9)), role))
        paint(painter, Drawing(shapes), View.fit((0, 0, 10, 10), QRectF(10, 10, 100, 100)), Ink())
        painter.end()
        assert image != blank, role


def test_view_is_true_to_scale_and_turned_over():
    view = View.fit((0, 0, 200, 100), QRectF(0, 0, 400, 400))
    assert view.scale == 2 and view.at((0, 0)) == QPointF(0, 300) and view.at((200, 100)) == QPointF(400, 100)


def test_a_fraction_is_set_narrower_than_its_figures(app):
    font = themes.type_of(13)
    assert width_of("3 3/4", font) < width_of("3 3", font) + width_of("/4", font)
    assert width_of("3 13/16", font) > width_of("3", font)


def test_pressing_and_walking_over_a_drawing(app, qtbot):
    canvas = Canvas("section")
    qtbot.addWidget(canvas)
    canvas.resize(500, 400)
    canvas.show_drawing(section_drawing(section(), -20.0), Ink())
    canvas.show()
    qtbot.waitExposed(canvas)
    canvas.grab()
    keys = [hit.key for hit in canvas.hits]
    assert {"f1", "f2", "hB", "leg:1", "leg:2", "leg:3"} <= set(keys)
    pressed = []
    canvas.pressed.connect(pressed.append)
    place = next(hit for hit in canvas.hits if hit.key == "f2").rect.center().toPoint()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=place)
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPointF(2, 2).toPoint())
    assert pressed[0] == "f2" and len(pressed) == 2


def test_tags_never_hide_each_other(app):
    """On an ordinary eave drip at the bench's size every number and letter stands clear."""
    canvas = Canvas("section", (70, 30, 70, 46))
    canvas.resize(390, 340)
    canvas.show_drawing(section_drawing(section((85.0, 95.0, 18.0), (-58.0, 42.0)), -32.0), Ink())
    canvas.grab()
    tags = [hit.rect.adjusted(4, 4, -4, -4) for hit in canvas.hits]
    assert not any(a.intersects(b) for n, a in enumerate(tags) for b in tags[n + 1:])


def test_the_piece_in_space_shows_paint_in_front_and_bare_metal_behind(app, qtbot):
    profile = section((85.0, 95.0, 18.0), (-58.0, 42.0))
    pattern = strip_pattern(StripPlan("p", "p", girth_of(profile), 900.0, End(), End()))
    solid = Solid("piece")
    qtbot.addWidget(solid)
    solid.resize(300, 260)
    solid.show_piece(pattern, "#2040c0", 90.0)

    def blue_share() -> float:
        image = solid.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
        bits = image.constBits().asarray(image.sizeInBytes())
        pixels = np.frombuffer(bits, dtype=np.uint8).reshape(-1, 4).astype(int)
        return float(((pixels[:, 0] - pixels[:, 2]) > 50).mean())

    front = blue_share()
    solid.azimuth += 180
    solid.update()
    assert front > 0.08 > blue_share()


def test_lines_and_labels_have_keys_of_what_they_belong_to():
    shapes = section_drawing(section()).shapes
    assert all(s.key for s in shapes if isinstance(s, Tag)) and any(isinstance(s, Label) and s.strong for s in shapes)


def test_words_without_room_are_left_out_whole(qtbot):
    """At no width is a number or a name cut; dots stand for what is left out, and the tip says it."""
    label = ShortWords("main and low, 35°, 14\u202f600.0 in 5 pieces")
    qtbot.addWidget(label)
    words, seen = label.text().split(" "), set()
    for wide in range(0, label.sizeHint().width() + 20, 3):
        label.resize(wide, 30)
        shown = label.shown.split(" ") if label.shown else []
        assert not shown or shown == words or (shown[-1] == "…" and shown[:-1] == words[:len(shown) - 1])
        assert label.fontMetrics().horizontalAdvance(label.shown) <= max(label.contentsRect().width(), 0)
        seen.add(len(shown))
    assert len(words) in seen and 0 in seen and label.toolTip() == label.text()


def test_the_holes_of_a_piece_in_space_lie_on_it_where_its_middle_is_left_out(app, qtbot):
    """A vent strip of 2 m, drawn with its middle left out: its holes are drawn as far as its ends, and none is squeezed."""
    piece = develop(made("eave-vent", length=2000.0)).pieces[0]
    solid = Solid("piece")
    qtbot.addWidget(solid)
    solid.show_piece(piece.pattern, "#2040c0", piece.profile.metal.thickness)
    far = max(float(surface.points[:, 0].max()) for surface in solid.surfaces())
    holes = [hole for surface in solid.surfaces() for hole in surface.holes]
    assert holes and max(float(hole[:, 0].max()) for hole in holes) < far
    assert all(float(np.ptp(hole[:, 0])) == pytest.approx(8.0, rel=0.05) for hole in holes)
