"""``yattle-brake/1`` and ``yattle-fold-job/1``: a brake in cross-section, and what is to be folded on it.

The fold line is the origin; x < 0 runs into the machine, y up, the sheet lies on y = 0.
``clamp`` is the jaw above, ``bed`` the support below, ``leaf`` the part that swings up
about the origin and takes the flange with it. All in mm and degrees.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.bounds import Name, NotNegative, PlacePair, Positive, Thickness
from yattle.errors import InputError
from yattle.section.profile import Profile
from yattle.values import Value

Outline = Annotated[tuple[PlacePair, ...], Field(min_length=3, max_length=100)]


class Springback(Value):
    """The leaf goes to ``ratio`` times the turn that is to stay and ``offset`` degrees further, as its scale is off."""

    kind: Literal["ratio"] = "ratio"
    ratio: Annotated[float, Field(ge=1, lt=2)] = 1.0
    offset: Annotated[float, Field(ge=-20, le=20)] = 0.0

    def leaf(self, turn: float) -> float:
        """What the leaf is set to for a turn that is to stay; degrees, both positive.

        >>> Springback(ratio=1.03, offset=0.5).leaf(90.0)
        93.2
        """
        return max(turn * self.ratio + self.offset, 0.0) if turn else 0.0


class GaugeOfMetal(Value):
    """How thick one metal may be on a brake, ``thickness`` in mm: a stiff metal less than a soft one."""

    metal: Name
    thickness: Thickness


class Brake(Value):
    """A leaf brake. Lengths and tool outlines in mm, turns in degrees.

    ``max_turn``: of one fold
    ``throat``: for the held part; ``min_flange``: outside the fold line, ``min_hold``: inside it
    ``max_length``, ``max_thickness``: of the piece; ``by_metal``: of pieces of these metals, instead
    ``clamp``, ``leaf``, ``bed``: the tools' outlines in section, the fold line at the origin
    ``can_flatten``: whether it presses hems shut
    """

    format: Literal["yattle-brake/1"] = "yattle-brake/1"
    name: Name
    max_length: Positive
    max_thickness: Thickness
    by_metal: Annotated[tuple[GaugeOfMetal, ...], Field(max_length=50)] = ()
    max_turn: Annotated[float, Field(ge=1, lt=180)]
    throat: Positive
    min_flange: NotNegative
    min_hold: NotNegative
    clamp: Outline
    leaf: Outline
    bed: Outline
    can_flatten: bool = True
    springback: Springback = Springback()

    def thickest(self, metal: str) -> float:
        """The thickest sheet of a metal that it folds, mm. ``metal`` may go on with a gauge and a finish: the longest
        name in :attr:`by_metal` that it begins with decides.

        >>> SHOP_BRAKE.thickest("stainless steel 0.50"), SHOP_BRAKE.thickest("copper 0.60")
        (0.6, 1.0)
        """
        known = [one for one in self.by_metal if metal.lower().startswith(one.metal.lower())]
        return max(known, key=lambda one: len(one.metal)).thickness if known else self.max_thickness

    @model_validator(mode="after")
    def _metals_are_told_once(self) -> Self:
        names = [one.metal.lower() for one in self.by_metal]
        if len(set(names)) < len(names):
            raise InputError("by_metal", "a metal twice", "each metal once")
        return self

    @model_validator(mode="after")
    def _rings_are_simple(self) -> Self:
        for name in ("clamp", "leaf", "bed"):
            if _crosses_itself(getattr(self, name)):
                raise InputError(name, "an outline that crosses itself", "a simple outline")
        return self


class FoldJob(Value):
    """A section to be folded over ``length`` mm on a brake."""

    format: Literal["yattle-fold-job/1"] = "yattle-fold-job/1"
    profile: Profile
    length: Positive
    brake: Brake


def _crosses_itself(ring: tuple[tuple[float, float], ...]) -> bool:
    """Whether two sides that are not neighbours meet, or a side has no length."""
    sides = list(zip(ring, (*ring[1:], ring[0]), strict=True))
    count = len(sides)
    if any(a == b for a, b in sides):
        return True
    return any(_meet(*sides[i], *sides[j]) for i in range(count) for j in range(i + 2, count)
               if not (i == 0 and j == count - 1))


def _meet(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float], d: tuple[float, float]) -> bool:
    def side(p: tuple[float, float], q: tuple[float, float], r: tuple[float, float]) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0


def gauges(**thickest: float) -> tuple[GaugeOfMetal, ...]:
    """Thickest sheets by metal, mm; a name's underscores are spaces."""
    return tuple(GaugeOfMetal(metal=name.replace("_", " "), thickness=mm) for name, mm in thickest.items())


SHOP_BRAKE = Brake(
    name="shop leaf brake", max_length=3200, max_thickness=1.0,
    by_metal=gauges(stainless_steel=0.6, aluminium=1.5), max_turn=135, throat=450, min_flange=8.0, min_hold=10.0,
    clamp=((0, 0), (-130, 91), (-150, 230), (-450, 230), (-450, 130), (-190, 130), (-110, 50), (-12, 0)),
    leaf=((0, 0), (15, 0), (15, -8), (50, -60), (50, -140), (0, -140)),
    bed=((0, 0), (-18, 0), (-58, -60), (-58, -140), (0, -140)),
    can_flatten=True, springback=Springback(ratio=1.03),
)
"""The sample machine: a long leaf brake of a trim shop."""
