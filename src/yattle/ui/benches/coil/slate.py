"""The coil bench's slate: what is taken off the coil, the search, the coil, the shop, the shear, what to order."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from yattle.coil import NestRules
from yattle.measure import parse_angle
from yattle.ui.benches.coil.model import CoilModel
from yattle.ui.frame.slate import Slate
from yattle.ui.shown import Shown
from yattle.ui.widgets.words import Words

_LEAST = (("cost", "metal, by its price"), ("money", "money, all counted"), ("area", "metal, by its area"),
          ("length", "metres of coil"))


def fill(s: Slate, m: CoilModel) -> None:
    """Rows from what is taken off the coil down to what to order."""

    def rules() -> NestRules:
        return m.store.session.job.rules
    s.group("Off the coil")
    s.read("used", m.used, "length cut off the coils", big=True)
    s.read("used well", m.share, "pieces' area over the area taken")
    s.read("waste", m.waste, "what is taken and becomes no piece; offcuts kept are in it")
    s.read("at the least", m.bound, "what no plan can be under")
    _search_row(s, m)
    s.said("cuts", m.cuts_say)
    s.read("plan costs", m.hand.price_shown, "metal, cutting time, less what kept offcuts are worth")
    s.said("waste beside", m.hand.waste_says)
    s.said("compared", m.hand.compared)
    s.group("The coil")
    _coil_field(s, m, "width", "width")
    _coil_field(s, m, "length", "length left")
    with s.when(lambda: not m.store.unit.parts):
        s.number("price a metre", m.coil_price, m.put_price)
    with s.when(lambda: m.store.unit.parts > 0):
        s.number("price a foot", m.coil_price, m.put_price)
    s.said("promised", m.hand.promised)
    s.said("coil line", m.line.says)
    stop = QPushButton("stop the coil line")
    stop.setToolTip("before the next cut")
    stop.clicked.connect(m.line.stop)
    s.widget_row(stop, lambda: stop.setVisible(m.line.busy))
    s.words("line's address", lambda: Shown(m.line.address), m.line.put_address,
            "stand-in, tcp:HOST:PORT or serial:PORT")
    s.group("The shop")
    s.choice("find the least", lambda: list(_LEAST), lambda: rules().objective,
             lambda key: m.set_rules("the least of", objective=key),
             "what the search makes least: money counts metal, cuts with handling, and what kept offcuts are worth")
    _shop(s, m, "an_hour", "an hour", "what an hour at the shear costs")
    _shop(s, m, "minutes_a_cut", "minutes a cut", "with handling")
    _shop(s, m, "offcuts_worth", "offcuts worth", "share of the metal's price that a kept offcut counts for, 0 to 1")
    s.group("The shear")
    _rule(s, m, "max_crosscut", "longest piece", "longest piece cut off the coil")
    _rule(s, m, "end_trim", "end trim", "scrap off the coil's fresh end")
    _rule(s, m, "min_sliver", "least sliver", "narrowest strip the shear can take off")
    s.choice("cutting", lambda: [("shear", "shear, edge to edge"), ("snips", "snips, true shapes"),
                                  ("mixed", "strips sheared, rest by snips")],
             lambda: rules().cutting, lambda key: m.set_rules("cutting", cutting=key),
             "with snips pieces lie closer: search on for the best")
    s.choice("first", lambda: [("crosscut", "cut across, then slit"), ("slit", "slit, then cut across")],
             lambda: rules().first, lambda key: m.set_rules("first cut", first=key))
    s.choice("one face from", lambda: [("lot", "one lot"), ("coil", "one coil")],
             lambda: rules().match_by, lambda key: m.set_rules("one face from",
             match_by=key), "pieces of one roof face come from one lot of paint, or off one coil")
    s.group("To order")
    s.said("fresh coil", m.order)
    s.look_list(m.unplaced, lambda part, _: m.pressed(part))


def _search_row(s: Slate, m: CoilModel) -> None:
    """One button that begins and ends the search, and how it goes."""
    row, look_on, progress, search = QWidget(), QPushButton("search on"), Words(), m.plan.search
    across = QHBoxLayout(row)
    across.setContentsMargins(0, 2, 0, 6)
    look_on.setAccessibleName("search for a better plan, or stop")
    look_on.setToolTip("look for a plan that takes less; it can be stopped at any time")
    look_on.clicked.connect(m.search)
    progress.setObjectName("dim")
    progress.setWordWrap(True)
    across.addWidget(look_on)
    across.addWidget(progress, 1)

    def show() -> None:
        if not search.busy and (m.answer is None or not m.answer.seconds):
            search.progress = ""
        look_on.setText("stop" if search.busy else "search on")
        look_on.setEnabled(m.answer is not None and bool(m.answer.placements))
        progress.setText(search.progress)
    search.told = show
    s.widget_row(row, show)


def _shop(s: Slate, m: CoilModel, name: str, title: str, hint: str) -> None:
    def put(text: str) -> str | None:
        return m.store.attempt(lambda: m.store.session.edit(title, lambda job: job.but(
            shop=job.shop.but(**{name: parse_angle(text, title)}))))
    s.number(title, lambda: Shown(f"{getattr(m.store.session.job.shop, name):g}"), put, hint)


def _coil_field(s: Slate, m: CoilModel, name: str, title: str) -> None:
    s.number(title, lambda: Shown(m.of_coil(name)),
             lambda text: m.put_coil(title, name, text))


def _rule(s: Slate, m: CoilModel, name: str, title: str, hint: str) -> None:
    def get() -> Shown:
        value = getattr(m.store.session.job.rules, name)
        return Shown(m.say(value) if value is not None else "", "" if value is not None else "as the brake")

    def put(text: str) -> str | None:
        value = (lambda: None) if name == "max_crosscut" and not text.strip() else (
            lambda: m.length_from(text, title))
        return m.store.attempt(lambda: m.change_rules(title, **{name: value()}))

    s.number(title, get, put, hint)
