"""The brake bench's slate: this step, the order, what stops it and helps, and the machine's measures."""

from __future__ import annotations

from PyQt6.QtWidgets import QPushButton

from yattle.measure import say_thickness
from yattle.ui.benches.brake.model import BrakeModel
from yattle.ui.frame.slate import Slate
from yattle.ui.shown import Shown


def fill(s: Slate, m: BrakeModel) -> None:
    """Rows from this step down to the machine."""
    store = m.store
    s.of(m.selected_says)
    s.group("This step")
    s.read("mark", m.mark, big=True)
    s.read("leaf to", m.leaf)
    s.said("fold", lambda: m.says(m.current) if m.current else "–")
    s.group("The order")
    s.said("handling", m.cost)
    s.said("batch", m.batch)
    s.words("folder at", lambda: Shown(m.folder.at), m.folder.put_address,
           "stand-in, tcp:HOST:PORT or serial:PORT; Ctrl+G folds a piece on it")
    s.said("measured", lambda: m.folder.measured)
    stop = QPushButton("stop the folder")
    stop.setToolTip("before the next stroke")
    stop.clicked.connect(m.folder.stop)
    s.widget_row(stop, lambda: stop.setVisible(m.folder.folding))
    s.look_list(m.troubles, m.help)
    s.group("The machine")
    s.choice("brake", m.machine.brakes, lambda: store.session.job.brake.name, m.machine.put_brake)
    for name, title, hint in (
            ("min_flange", "least flange", "least flat outside the fold line"),
            ("min_hold", "least hold", "least flat under the jaw"),
            ("throat", "throat", "how far a piece may reach into the machine"),
            ("max_length", "length", "longest piece"),
            ("max_thickness", "thickness", "thickest metal")):
        _limit(s, m, name, title, hint)
    s.number("in this metal", lambda: Shown(say_thickness(store.session.job.brake.thickest(
        store.session.job.metal_used.name), store.unit), store.session.job.metal_used.name), m.machine.put_gauge,
        "thickest sheet of the job's metal; empty: as thick as any other")
    s.number("greatest turn", lambda: Shown(f"{store.session.job.brake.max_turn:g}°"),
             lambda text: m.machine.put_number("max_turn", text), "as far as the leaf goes")
    s.number("springback", lambda: Shown(f"{store.session.job.brake.springback.ratio:g}", "leaf over fold"),
             m.machine.put_springback, "how far the leaf goes for each degree that stays")
    s.number("scale is off", lambda: Shown(f"{store.session.job.brake.springback.offset:g}°", "added to each angle"),
             m.machine.put_offset, "what the leaf has to go further at every fold, whatever its angle")


def _limit(s: Slate, m: BrakeModel, name: str, title: str, hint: str) -> None:
    store = m.store
    say = (lambda mm: say_thickness(mm, store.unit)) if name == "max_thickness" else m.say
    s.number(title, lambda: Shown(say(getattr(store.session.job.brake, name))),
             lambda text: m.machine.put_length(name, title, text), hint)
