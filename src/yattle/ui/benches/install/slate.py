"""The fit bench's slate: the run in hand, what to order, the house standard of fixing."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import get_args

from yattle.details import Finding
from yattle.job.fixing_rules import SAID, FixingMetal
from yattle.measure import parse_angle
from yattle.ui.benches.install.model import InstallModel
from yattle.ui.frame.slate import Slate
from yattle.ui.shown import Shown

_ORDERED = ("screws", "clips", "panel clips", "clip screws", "strip screws", "panel screws", "lap screws", "wedges",
            "rivets", "tape", "lap tape", "sealant", "underlay")
"""What is summed up over the job, in this order."""


def fill(s: Slate, m: InstallModel, go: Callable[[str, Finding], object]) -> None:
    """Rows of the run in hand, of what to order, of the house standard of fixing."""
    s.of(m.selected_says)
    with s.when(lambda: m.panels is not None):
        s.group("These panels")
        s.said("laid", m.when)
        s.said("of", m.system_says)
        s.said("lengths", m.lengths_say)
        s.said("held by", m.panels_take)
    with s.when(lambda: m.here is not None):
        s.group("This run")
        s.said("goes on", m.when)
        for what in ("screws", "clips", "wedges", "rivets", "tape", "sealant"):
            with s.when(partial(m.takes, what)):
                s.read(what, partial(m.need_shown, what))
        with s.when(lambda: bool(m.joints())):
            s.said("joints", m.joints_say)
        s.read("moves", m.moves, "a piece held at one end, from the coldest night to the hottest day")
        s.said("clearance", m.clear)
        s.said("far end", m.far)
        s.choice("goes on after", m.others, lambda: "", m.say_lap, "said by hand; undo takes it back")
    s.group("Put together")
    s.said("folds up", m.folds_say)
    s.said("fits", m.fits_say)
    with s.when(lambda: bool(m.scatter_say())):
        s.said("by scatter", m.scatter_say)
    s.group("To order, the whole job")
    for what in _ORDERED:
        with s.when(partial(m.is_ordered, what)):
            s.read(what if " " in what else f"{what} in all", partial(m.pack_shown, what))
    s.look_list(m.looks, go)
    s.group("House standard of fixing")
    for name in SAID:
        _rule(s, m, name)
    metals = [(k, k) for k in get_args(FixingMetal)]
    s.choice("screws are of", lambda: metals, lambda: m.rules.screws, lambda key: m.change("screws", screws=key))
    for what in ("rivets", "clips"):
        s.choice(f"{what} are of", lambda: [("", "the roof's metal"), *metals],
                 lambda what=what: getattr(m.rules, what) or "",  # type: ignore[misc]
                 lambda key, what=what: m.change(what, **{what: key or None}))  # type: ignore[misc]
    s.choice("water comes from", lambda: [(k, k) for k in ("nothing", "copper", "bare steel")],
             lambda: m.rules.drains_from, lambda key: m.change("water from", drains_from=key))
    s.choice("water goes onto", lambda: [(k, k) for k in ("nothing", "zinc", "aluminium", "galvanised steel")],
             lambda: m.rules.drains_onto, lambda key: m.change("water onto", drains_onto=key))


def _rule(s: Slate, m: InstallModel, name: str) -> None:
    said = SAID[name]

    def get() -> Shown:
        value = getattr(m.rules, name)
        return Shown(m.say(value) if said.unit == "mm" else f"{value:g}", said.unit if said.unit != "mm" else "")

    def put(text: str) -> str | None:
        def deed() -> None:
            value = m.length_from(text, said.title) if said.unit == "mm" else parse_angle(text, said.title)
            m.set_rules(said.title, **{name: int(value) if isinstance(getattr(m.rules, name), int) else value})
        return m.store.attempt(deed)
    s.number(said.title, get, put, said.source)
