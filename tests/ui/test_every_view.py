"""Every view of both demos, in both themes and three sizes: no text on a drawing lies over another, none on the slates is cut."""

from __future__ import annotations

import os
from itertools import combinations

import pytest
from hands import settle
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QToolButton

from yattle.drawing.placing import covers
from yattle.job import demo_path, load
from yattle.job.counted import counted_in
from yattle.ui.commands import view as views
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.widgets.words import ShortWords

SIZES = ((1000, 640), (1366, 768), (1600, 1000))
VIEWS = ("survey", "trim", "brake", "coil", "fit", "log", "opening")


def go(window, name):
    """Bring a view to the front, with something in hand that has it."""
    session = window.store.session
    if name == "opening":
        session.select(opening=next(one.id for one in session.derived.openings if one.pieces and one.kind in ("pipe", "chimney")))
        window.show_bench("trim")
    else:
        session.select(run=session.derived.runs[0].run.id)
        window.show_bench(name)


def over_each_other(window):
    """Pairs of texts of one drawing that share more than a border."""
    for canvas in window.findChildren(Canvas):
        if canvas.isVisible():
            canvas.grab()
            for one, other in combinations(canvas.ink.placed, 2):
                if covers(one, other):
                    yield canvas.accessibleName(), one, other


def shown(window, kind):
    return [one for one in window.findChildren(kind) if one.isVisible()]


def cut(window):
    """Words that have less room than they take: on labels, buttons and fields that are seen."""
    for label in shown(window, QLabel):
        free = isinstance(label, ShortWords) or label.wordWrap()
        if not free and label.fontMetrics().horizontalAdvance(label.text()) > label.contentsRect().width() + 1:
            yield label.text()
    for button in (*shown(window, QPushButton), *shown(window, QToolButton)):
        words = [] if button.objectName() in ("group", "edge") else button.text().split("\n")
        if max((button.fontMetrics().horizontalAdvance(line) for line in words), default=0) > button.width():
            yield button.text()
    for box in shown(window, QComboBox):
        if box.maxVisibleItems() < min(box.count(), 10):
            yield f"{box.accessibleName()} shows {box.maxVisibleItems()} of {box.count()}"
    for field in shown(window, QLineEdit):
        if field.objectName() == "number" and field.fontMetrics().horizontalAdvance(field.text()) > field.width() - 14:
            yield f"{field.accessibleName()}: {field.text()}"


def faults(window, name):
    """What is wrong with the texts of a view, its name with each."""
    size = window.width()
    return {(name, size, "over", *pair) for pair in over_each_other(window)} | {(name, size, "cut", text) for text in cut(window)}


def walk(window, qtbot):
    """Through every view; a view that is still being laid out is looked at again."""
    for name in VIEWS:
        go(window, name)
        for pause in (40, 80, 80, 160):
            qtbot.wait(pause)
            found = faults(window, name)
            if not found:
                break
        yield from found


@pytest.mark.parametrize("demo", ["sail-loft", "net-shed"])
def test_no_text_is_overlapped_or_cut(open_window, qtbot, demo):
    window = open_window(load(demo_path(demo)))
    found = set()
    for theme in ("light", "dark"):
        views.set_theme(window.shop, theme)
        for size in SIZES if theme == "light" or os.environ.get("THOROUGH") else SIZES[:1]:
            window.resize(*size)
            found |= set(walk(window, qtbot))
        settle(window, qtbot)
    views.set_theme(window.shop, "light")
    assert not found, "\n".join(map(str, sorted(found, key=str)))


@pytest.mark.parametrize(("demo", "system"), [("sail-loft", "inch"), ("net-shed", "metric")])
def test_none_is_in_the_other_units_either(open_window, qtbot, demo, system):
    """The metric demo counted in feet and inches, the other one in millimetres."""
    window = open_window(counted_in(load(demo_path(demo)), system))
    found, whole = set(), bool(os.environ.get("THOROUGH"))
    for theme in ("light", "dark") if whole else ("light",):
        views.set_theme(window.shop, theme)
        for size in SIZES if whole else SIZES[:1]:
            window.resize(*size)
            found |= set(walk(window, qtbot))
    views.set_theme(window.shop, "light")
    assert not found, "\n".join(map(str, sorted(found, key=str)))
