"""From an empty job to a porch with panels, trims and its order list: what hands do, counted, takes less than three minutes."""

from __future__ import annotations

import csv
import io

import pytest
from hands import LEFT, settle
from PyQt6.QtCore import Qt

from yattle.job import Job

KEY, POINT, PRESS, HOME, THINK = 0.28, 1.1, 0.2, 0.4, 1.35  # s, after S. Card, T. Moran and A. Newell: a typist who is no typist


class Hands:
    """Presses and types in the window, and adds up how long a person takes over it."""

    def __init__(self, qtbot) -> None:
        self.qtbot, self.seconds, self.deeds = qtbot, 0.0, 0

    def press(self, widget) -> None:
        self.seconds += THINK + HOME + POINT + PRESS
        self.deeds += 1
        self.qtbot.mouseClick(widget, LEFT)

    def type(self, row, text) -> None:
        """A field pointed at, its old value typed over, Enter."""
        self.seconds += THINK + HOME + POINT + PRESS + HOME + KEY * (len(text) + 1)
        self.deeds += 1
        row.field.setFocus()
        row.field.selectAll()
        self.qtbot.keyClicks(row.field, text)
        self.qtbot.keyClick(row.field, Qt.Key.Key_Return)

    def choose(self, row, key) -> None:
        """A list opened, an entry found and pressed."""
        self.seconds += 2 * THINK + HOME + 2 * (POINT + PRESS)
        self.deeds += 1
        row.box.setCurrentIndex(row.box.findData(key))



@pytest.mark.parametrize("system", ["rib 35, pitch 207", "double seam 430 x 25"])
def test_a_porch_in_three_minutes(open_window, qtbot, tmp_path, system):
    """Single slope of 4 by 2.4 m at 12°, its panel system, a coil, a look at Fit, the order list written."""
    window, hands = open_window(Job(name="new job")), Hands(qtbot)
    survey = window.benches["survey"]
    hands.press(survey.starts.buttons["single slope"])
    settle(window, qtbot)
    for title, text in (("length", "4000"), ("span", "2400"), ("pitch left", "12"), ("eave height", "2300")):
        hands.type(next(row for row in survey.slate.rows if row.name == title and row.field.isVisibleTo(survey.slate)), text)
        settle(window, qtbot)
    survey.model.press("face:main.1")
    hands.seconds += THINK + HOME + POINT + PRESS
    settle(window, qtbot)
    hands.choose(survey.slate.row("system"), system)
    settle(window, qtbot)
    session = window.store.session
    block = session.job.roof.blocks[0]
    assert (block.length, block.span, block.pitch, block.eave_height) == (4000.0, 2400.0, 12.0, 2300.0)
    assert session.job.panel_system("main.1").name == system
    window.show_bench("coil")
    hands.seconds += THINK + HOME + POINT + PRESS
    hands.type(next(row for row in window.benches["coil"].slate.rows if row.name == "width"), "1250")
    settle(window, qtbot)
    window.show_bench("fit")
    hands.seconds += THINK + HOME + POINT + PRESS
    settle(window, qtbot)
    window.asking.save = lambda *_: str(tmp_path / "order.csv")
    window.do("papers.order")
    hands.seconds += 2 * THINK + HOME + 2 * (POINT + PRESS)
    settle(window, qtbot)
    rows = list(csv.DictReader(io.StringIO((tmp_path / "order.csv").read_text(encoding="utf-8-sig"))))
    kinds = {row["kind"] for row in rows}
    assert kinds >= {"metal", "fixings", "sealing", "sheets"}
    assert ("panels" in kinds) == (system.startswith("rib")), "seamed pans are cut from the coil"
    assert all(run.pieces for run in session.derived.own_runs if run.run.kind in ("eave", "rake"))
    assert hands.seconds < 180.0, f"{hands.seconds:.0f} s for {hands.deeds} deeds"
    assert hands.seconds > 20.0, "what was done is counted"
