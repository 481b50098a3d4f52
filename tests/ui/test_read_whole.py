"""Numbers on the girth tape stand clear of each other, names on the rail are read whole, what cannot be made is marked where it is."""

from __future__ import annotations

from itertools import combinations

import pytest
from hands import settle
from PyQt6.QtCore import QRect, Qt

from samples import eaves_path
from yattle.drawing.shapes import Label, Line
from yattle.job import demo_path, load


def over_each_other(tape):
    """Texts of the tape that share more than a border, and texts that a notch's line goes through."""
    return [(one, other) for one, other in combinations(tape._taken, 2) if one.adjusted(0.5, 0.5, -0.5, -0.5).intersects(other)
            and min(one.width(), other.width()) > 2]


@pytest.mark.parametrize("demo", ["sail-loft", "net-shed"])
def test_no_two_marks_on_the_girth_tape_lie_on_each_other(open_window, qtbot, demo):
    window = open_window(load(demo_path(demo)))
    looked = 0
    for run in window.store.session.derived.runs:
        if run.pieces:
            window.store.session.select(run=run.run.id)
            window.tape.grab()
            assert not over_each_other(window.tape), run.run.id
            looked += len(window.tape.notches)
    assert looked > 40


def test_marks_3_mm_apart_stand_beside_each_other(open_window, qtbot):
    window = open_window(load(eaves_path()))
    window.store.session.select(run="E1")
    window.store.session.set_own("E1", "kick", 3.0)
    settle(window, qtbot)
    window.tape.grab()
    assert len(window.tape.notches) == 3 and not over_each_other(window.tape)


def test_every_name_on_the_rail_has_the_lines_it_takes(open_window):
    window = open_window(load(demo_path()))
    runs = window.rail.runs
    for item in map(runs.item, range(runs.count())):
        rect = runs.visualItemRect(item)
        room = QRect(0, 0, rect.width() - 12, 500)
        needs = runs.fontMetrics().boundingRect(room, Qt.TextFlag.TextWordWrap, item.text())
        assert needs.height() <= rect.height() and needs.width() <= rect.width(), item.text()


@pytest.mark.parametrize(("entry", "length"), [("kick", 3.0), ("hem", 36.0)])
def test_what_cannot_be_made_stays_drawn_with_its_place_marked(open_window, qtbot, entry, length):
    window = open_window(load(eaves_path()))
    window.show_bench("trim")
    window.store.session.select(run="E1")
    section = window.benches["trim"].section
    assert not [shape for shape in section.drawing.shapes if isinstance(shape, Line) and shape.role == "fault"]
    window.store.session.set_own("E1", entry, length)
    settle(window, qtbot)
    assert not window.store.session.derived.run("E1").pieces
    marked = [shape for shape in section.drawing.shapes if isinstance(shape, Line) and shape.role == "fault"]
    crosses = [shape for shape in section.drawing.shapes if isinstance(shape, Label) and shape.text == "✕"]
    assert len(marked) == len(crosses) == 1
    assert window.benches["trim"].model.faulty_strips() == ["hB"]
    window.do("edit.undo")
    settle(window, qtbot)
    assert not [shape for shape in section.drawing.shapes if isinstance(shape, Line) and shape.role == "fault"]


def test_of_two_hems_the_one_that_cannot_be_made_is_marked(open_window, qtbot):
    """A rake has one at its flange and one at its kick: only the kick is too short for its own."""
    window = open_window(load(demo_path()))
    window.show_bench("trim")
    window.store.session.select(run="G1")
    window.store.session.set_own("G1", "rake_kick", 5.0)
    settle(window, qtbot)
    model = window.benches["trim"].model
    assert len([name for name in model.run.detail.profile.strip_names if name.startswith("h")]) == 2 and len(model.faulty_strips()) == 1
