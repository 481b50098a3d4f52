"""A job in feet and inches at home: no text of any view of the inch demo says a metric unit."""

from __future__ import annotations

import re

import pytest
from hands import settle
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QListWidget, QTableView, QWidget
from test_every_view import VIEWS, go

from metric import find_units
from yattle.drawing.shapes import Dim, Label, Tag
from yattle.job import demo_path, load
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.widgets.rows import ReadRow


def texts(window):
    """Every text that is seen or told by a tip."""
    for widget in window.findChildren(QWidget):
        if not widget.isVisible():
            continue
        yield re.sub("<[^>]*>", "", widget.toolTip())
        if isinstance(widget, QLabel | QAbstractButton | QLineEdit):
            yield widget.text()
        elif isinstance(widget, QComboBox):
            yield widget.currentText()
        elif isinstance(widget, QListWidget):
            yield from (widget.item(n).text() for n in range(widget.count()))
        elif isinstance(widget, QTableView) and widget.model() is not None:
            model = widget.model()
            yield from (str(model.index(row, column).data() or "") for row in range(model.rowCount()) for column in range(model.columnCount()))
        if isinstance(widget, Canvas):
            yield from (shape.text for shape in widget.drawing.shapes if isinstance(shape, Label | Tag | Dim))
            yield from widget.corners


def told(window):
    """What findings say, whole."""
    for view in window.front.slate.lists:
        for row in range(view.found.rowCount()):
            yield view.found.head(row)
            yield view.found.reason(row)


def test_the_finder_of_units_finds_them():
    assert find_units("60.0 mm off") and find_units("2,5 m²") and find_units("3 000 mm") and find_units("12 kg")
    assert not find_units("6' 3 1/2\"") and not find_units("35° M12 x 3") and not find_units("4 more")


def every_view(window, qtbot):
    """Bring every view to the front, where runs are shown with one of each kind in hand; the view's name each time."""
    session = window.store.session
    for name in VIEWS:
        runs = [None] if name in ("opening", "coil", "log") else {run.run.kind: run.run.id for run in session.derived.runs}.values()
        for run in runs:
            go(window, name)
            if run is not None:
                session.select(run=run)
            qtbot.wait(30)
            settle(window, qtbot)
            yield name


def test_no_text_of_the_inch_demo_says_a_metric_unit(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    found = set()
    for name in every_view(window, qtbot):
        found |= {(name, text) for text in (*texts(window), *told(window)) if find_units(text)}
    assert not found, "\n".join(f"{name}: {text}" for name, text in sorted(found))


def same_number(said, shown):
    """Whether a sum says the number that stands over it: letter for letter, or the same measure, rounded no further."""
    numbers = [re.fullmatch(r"(-?[\d\s]+(?:\.\d+)?)(\D*)", text) for text in (said, shown)]
    if not all(numbers):
        return said.strip('"') == shown.strip('"')
    (one, unit), (other, other_unit) = ((float(re.sub(r"\s", "", met[1])), met[2].strip()) for met in numbers)
    step = 10.0 ** -len(numbers[1][1].partition(".")[2])
    return unit == other_unit and abs(one - other) <= 0.51 * step


@pytest.mark.parametrize("demo", ["net-shed", "sail-loft"])
def test_a_sum_comes_to_the_number_over_it(open_window, qtbot, demo):
    """What unfolds under a number ends in that number, in its own unit; but for a share, which is one of areas."""
    window = open_window(load(demo_path(demo)))
    seen, found = set(), set()
    for name in every_view(window, qtbot):
        for row in window.front.slate.findChildren(ReadRow):
            shown = row.get()
            if row.isVisible() and shown.sum is not None and "%" not in shown.text:
                seen.add((name, row.name))
                said = shown.say(shown.sum.value)
                if not same_number(said, shown.text) or (demo == "net-shed" and find_units(shown.sum.what)):
                    found.add((name, row.name, shown.text, said))
    assert len(seen) > 8 and ("coil", "waste") in seen
    assert not found, "\n".join(map(str, sorted(found)))


@pytest.mark.parametrize(("entry", "value"), [("kick", 3.5), ("hem", 36.0)])
def test_what_cannot_be_made_or_typed_is_said_in_inches_in_an_inch_job(open_window, qtbot, entry, value):
    """Shapes and machines say mm; whoever reads them counts in inches."""
    window = open_window(load(demo_path("net-shed")))
    session = window.store.session
    session.select(run="E1")
    session.set_own("E1", entry, value)
    settle(window, qtbot)
    for bench in ("trim", "brake", "fit"):
        window.show_bench(bench)
        settle(window, qtbot)
        said = [text for view in window.front.slate.lists for text in view.says()]
        assert not [text for text in said if find_units(text)], said
    window.store.complain("leg 2: found 5.0 mm, expected at least 12.5 mm")
    assert window.trouble.text.text() == 'leg 2: found 3/16", expected at least 1/2"'
