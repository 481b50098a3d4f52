"""How long pieces get and short: expansion, what has to give way for it, what is held twice."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.job.fixing_rules import FixingRules
from yattle.measure import Sum, Term

_LAID = 15.0  # °C: what it is when most roofs are laid


@dataclass(frozen=True)
class Movement:
    """Of one stretch of metal held at one place: ``whole`` mm from the coldest to the hottest; ``longer`` and
    ``shorter`` than as laid, at its free end."""

    whole: float
    longer: float
    shorter: float

    @property
    def sum(self) -> Sum:
        return Sum("movement", (Term("longer in the sun", self.longer), Term("shorter in the cold", self.shorter)))


def movement_of(length: float, expansion: float, rules: FixingRules) -> Movement:
    """length · expansion · temperature; ``expansion`` in 10⁻⁶ per kelvin, ``length`` mm from the fixed point.

    >>> round(movement_of(5000.0, 12.0, FixingRules(coldest=-20.0, hottest=70.0)).whole, 1)  # 5 m of steel
    5.4
    """
    a_degree = length * expansion * 1e-6
    laid = min(max(_LAID, rules.coldest), rules.hottest)
    return Movement(a_degree * (rules.hottest - rules.coldest), a_degree * (rules.hottest - laid),
                    a_degree * (laid - rules.coldest))


def fights(length: float, expansion: float, rules: FixingRules) -> float:
    """By how many mm a stretch that is held at both ends will fight: its movement less the play of both ends."""
    return max(0.0, movement_of(length, expansion, rules).whole - 2 * rules.play)


def slides_wanted(length: float, expansion: float, rules: FixingRules) -> int:
    """How many of a run's joints have to be left free to slide so that no stretch between them fights: the fewest of
    equal stretches. ``length`` in mm, ``expansion`` in 10⁻⁶ per kelvin."""
    many = 0
    while fights(length / (many + 1), expansion, rules) > 0 and many < 200:
        many += 1
    return many
