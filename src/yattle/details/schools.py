"""Where good people disagree: the schools of the trade as choices, each with what it costs in plain words.

What a choice costs in pieces, metal and folds is worked out for the job in hand (:mod:`yattle.derive.compare`).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from yattle.values import Value


@dataclass(frozen=True)
class Choice:
    """One school of a question; ``says`` what it costs and how long it lasts."""

    title: str
    says: str


@dataclass(frozen=True)
class School:
    """A question with its choices, the usual one first; ``details`` whose runs it concerns."""

    title: str
    choices: dict[str, Choice]
    details: tuple[str, ...]


_CAPS = ("ridge-cap", "half-ridge", "hip-cap", "headwall", "skew-wall", "pitch-break")
_WALLS = ("headwall", "sidewall", "skew-wall")
SCHOOLS: dict[str, School] = {
    "joint": School("joints", {
        "nested": Choice("hem cut back, nested", "two cuts more for each joint; lies flat, does not flap"),
        "plain": Choice("plain lap", "no cutting; two beads of sealant and rivets, to be renewed when they harden"),
    }, ()),
    "flaps": School("end flaps", {
        "tongs": Choice("by tongs", "no machine; about 50 mm deep, a hand wide at a time"),
        "brake": Choice("by brake", "straight creases of any depth, before the long folds; only as long a piece as the "
                        "throat takes"),
    }, ()),
    "closures": School("seam gaps", {
        "square": Choice("zeds cut square", "least work; each end stands by its caulk alone"),
        "tabs": Choice("zeds with side tabs", "two tabs more for each zed; taped on three sides"),
        "folded": Choice("pan folded up", "no zeds, no sealant; panels longer by the turn-up, pocket folds by hand"),
    }, _CAPS),
    "ridge": School("ridge", {
        "sealed": Choice("sealed", "closures are plain; moisture must leave another way"),
        "vented": Choice("vented", "closures higher and perforated; moisture leaves, drifting snow may come in"),
    }, ("ridge-cap",)),
    "eave_vent": School("air at the eave", {
        "closed": Choice("closed", "least metal; where the roof breathes another way or not at all"),
        "vented": Choice("a perforated strip", "one strip more behind the trim; air for a vented ridge to draw"),
    }, ("eave-drip", "gutter-apron", "eave-apron")),
    "rake_under": School("under it", {
        "cleat": Choice("cleat", "a strip along the barge board; no screw seen, the trim can move"),
        "zed": Choice("zed on the last panel", "a zed with tape along the panel; the trim is riveted to it, seen"),
        "none": Choice("neither", "no metal more; screws seen through the face"),
    }, ("rake",)),
    "rake_end": School("eave end", {
        "tab": Choice("one tab, flush", "one tab; quick, the corner is open behind"),
        "plumb": Choice("cut plumb and closed", "tabs on top and face in the plumb cut, hems at 45°: follows the panel "
                        "at its pitch, three cuts more"),
        "box": Choice("boxed", "two tabs and rivets; closed to wind, birds and wasps"),
    }, ("rake",)),
    "coping_top": School("its top", {
        "inside": Choice("falls to the roof", "the wall that is seen stays clean; one fold less"),
        "both": Choice("falls to both sides", "half as high for a wide wall; it drips down both faces"),
    }, ("coping",)),
    "counter": School("at the wall", {
        "kerf": Choice("counterflashing in a kerf", "one more section, a cut in the masonry; can be renewed by itself"),
        "surface": Choice("on the wall's face", "no cut; screwed and caulked, only as long as the bead lasts"),
        "cladding": Choice("under the cladding", "no section more; only where the cladding goes on afterwards"),
    }, _WALLS),
}


class Schools(Value):
    """Schools chosen, each ``None`` where nothing was chosen (names as in :data:`SCHOOLS`)."""

    joint: Literal["nested", "plain"] | None = None
    flaps: Literal["tongs", "brake"] | None = None
    closures: Literal["square", "tabs", "folded"] | None = None
    ridge: Literal["sealed", "vented"] | None = None
    eave_vent: Literal["closed", "vented"] | None = None
    rake_under: Literal["cleat", "zed", "none"] | None = None
    rake_end: Literal["tab", "plumb", "box"] | None = None
    coping_top: Literal["inside", "both"] | None = None
    counter: Literal["kerf", "surface", "cladding"] | None = None

    def over(self, below: Schools) -> Schools:
        """These choices, and where there is none those of ``below``."""
        return self.but(**{name: getattr(below, name) for name in SCHOOLS if getattr(self, name) is None})


USUAL = Schools.model_validate({name: next(iter(school.choices)) for name, school in SCHOOLS.items()})
"""What is taken where nobody chose."""


def schools_for(detail: str) -> tuple[str, ...]:
    """The questions that a detail answers."""
    return tuple(name for name, school in SCHOOLS.items() if not school.details or detail in school.details)
