"""The log bench's slate: what is written down, what was learnt, the stock."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from yattle.ui.benches.log.model import HINTS, KINDS, LogModel
from yattle.ui.frame.slate import Slate
from yattle.ui.shown import Shown


def fill(s: Slate, m: LogModel, take_k: QWidget, show_k: Callable[[], None]) -> None:
    """Rows of what is written down, of what was learnt, of the stock."""
    store = m.store
    s.group("Write down")
    s.said("of", lambda: m.of or "the whole job")
    s.choice("what", lambda: [(kind, kind) for kind in KINDS], lambda: m.kind, m.choose)
    with s.when(lambda: m.kind == "measured"):
        s.number("fold wanted", lambda: m.angle("wanted"), lambda text: m.keep("wanted", text), "degrees")
        s.number("leaf set to", lambda: m.angle("leaf"), lambda text: m.keep("leaf", text), "degrees")
        s.number("found", lambda: Shown("", "degrees"), m.measured, "by the angle finder; Return writes it")
        s.number("leg wanted", lambda: m.leg_shown("leg"), m.keep_leg, "outside, as drawn")
        s.choice("its folds", lambda: [("1", "one, an end leg"), ("2", "two, between folds")],
                 lambda: str(m.leg_folds), m.choose_folds)
        s.number("leg found", lambda: Shown(""), m.measured_leg, "by the tape; Return writes it")
    s.words("note", lambda: Shown("", HINTS[m.kind]), m.note, "Return writes it into the log")
    s.group("Learnt")
    s.read("springback", m.learnt, "of this metal on this brake; never taken by itself")
    s.read("k-factor", m.learnt_k, "from legs measured; girths and marks follow when it is taken")
    s.widget_row(take_k, show_k)
    s.group("Stock")
    s.said("last", m.stock)
    s.group("In all")
    s.said("entries", lambda: str(len(store.session.job.log)))
