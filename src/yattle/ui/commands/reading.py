"""Readings of the tape or angle finder, each into the field that it was asked for."""

from __future__ import annotations

from PyQt6.QtWidgets import QApplication, QLineEdit

from yattle.devices import DeviceProblem, StandInInstrument, open_line, take_reading
from yattle.devices.instrument import Reading
from yattle.files import why
from yattle.job.settings import load_settings
from yattle.tasks import Answer, On, Policy, Request, Target
from yattle.ui.benches.survey.view import SurveyBench
from yattle.ui.commands.shop import Shop
from yattle.ui.typing import Bound

LANE = "the instrument"


def take(shop: Shop) -> None:
    """A reading goes to the field in hand, of what is selected now, whatever is selected when it comes. While one is
    read another is refused."""
    field = QApplication.focusWidget()
    bound = shop.store.typing.bound(field)
    if bound is None or not isinstance(field, QLineEdit):
        shop.complain("reading: found no field in hand, expected one to be pressed first")
        return
    request = Request(LANE, _read_from, (load_settings().instrument, _stand_in(shop, field)), shop.session.stamp,
                      Target("field", bound.says), Policy.EXCLUSIVE, On.DEVICE)
    shop.store.ask(request, lambda answer: _put(shop, answer, bound))


def _put(shop: Shop, answer: Answer, bound: Bound) -> None:
    reading = answer.result
    said = f"read {reading.text} for {bound.says}" if isinstance(reading, Reading) else ""

    def put() -> None:
        assert isinstance(reading, Reading)
        wrong = shop.store.attempt(lambda: found.append(bound.put(reading.text, reading.simulated))) or found[0]
        if wrong:
            shop.complain(f"{said}: {wrong}")
        else:
            by = ", by a stand-in: not measured" if reading.simulated else ""
            shop.say(f"read {reading.text} into {bound.says}{by}")
    found: list[str | None] = []
    shop.store.take(answer, put, f"{said} of a job that is closed: not taken")


def _stand_in(shop: Shop, field: QLineEdit) -> StandInInstrument:
    """The stand-in reads what the roof says, with a scatter of its own."""
    name = field.accessibleName()
    truth, is_angle = shop.frame.bench(SurveyBench).model.measures.truth_of(name)
    return StandInInstrument(truth, is_angle, seed=len(name) + len(field.text()))


def _read_from(address: str, stand_in: StandInInstrument) -> Reading:
    try:
        with open_line(address, stand_in) as exchange:
            return take_reading(exchange)
    except OSError as trouble:
        raise DeviceProblem(f"the instrument at {address} does not answer ({why(trouble)})") from None
