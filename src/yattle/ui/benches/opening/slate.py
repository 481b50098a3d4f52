"""The slate of an opening: where it is, how it is made, its measures, how it goes on."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from yattle.details.all_forms import ANSWERS, OWN_TITLES, SAYS, TITLES
from yattle.details.common import Finding
from yattle.ui.benches.opening.model import OpeningModel
from yattle.ui.frame.slate import Slate


def fill(s: Slate, m: OpeningModel, go: Callable[[Finding], object]) -> Callable[[], None]:
    """Rows from the place to how it goes on; what is returned adds the rows of the form in hand, once."""
    store = m.store
    s.of(m.selected_says)
    s.group("Opening")
    s.choice("place", m.places, lambda: store.session.selection.opening or "", m.take_place)
    with s.when(lambda: bool(m.opening and m.opening.made)):
        s.choice("made as", m.made, lambda: m.form, m.put_made)
    s.choice("piece", m.piece_names, lambda: str(store.session.selection.piece), m.take_piece)
    with s.when(lambda: not m.own):
        s.said("from the roof", m.from_roof)
    choices = s.mark()
    s.group("How it goes on")
    s.said("fold order", m.order)
    with s.when(lambda: m.form in ("chimney", "curb", "pipe")):
        s.said("drops", m.drops)
    s.said("notes", lambda: m.say_of("notes"))
    s.said("take care", lambda: m.say_of("cautions"))
    s.look_list(m.looks, lambda _, finding: go(finding))
    filled: set[tuple[str, bool]] = set()
    return lambda: _fill_choices(s, m, choices, filled)


def _fill_choices(s: Slate, m: OpeningModel, choices: QWidget, filled: set[tuple[str, bool]]) -> None:
    """The rows of the form in hand, made when it is shown first: there are many forms."""
    form, own = m.form, m.own
    if not form or (form, own) in filled or form not in (OWN_TITLES if own else TITLES):
        return
    filled.add((form, own))
    with s.before(choices), s.when(lambda: m.form == form and m.own == own):
        s.group("Measures" if own else "Choices")
        for field, title in (OWN_TITLES if own else TITLES)[form].items():
            _row(s, m, form, field, title)
        if not own:
            with s.when(lambda: bool(m.asked())):
                s.said("costs", m.costs)


def _row(s: Slate, m: OpeningModel, form: str, field: str, title: str) -> None:
    answers = m.answers(form, field)
    if answers:
        s.choice(title, lambda: [(key, ANSWERS.get(key, key)) for key in answers],
                          lambda: str(m.value(field)), lambda key: m.put(field, key),
                          "; ".join(f"{ANSWERS.get(key, key)}: {SAYS[key]}" for key in answers if key in SAYS))
    else:
        s.number(title, lambda: m.shown(field), lambda text: m.put_number(field, title, text))
