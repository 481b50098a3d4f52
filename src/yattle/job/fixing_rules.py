"""How things are fixed, as the job's house standard has it: starting defaults, each with its source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from yattle.bounds import Count, LapOrNone, Positive, Temperature
from yattle.measure import MM_PER_INCH
from yattle.values import Value

Spacing = Annotated[float, Field(ge=5, le=5000)]
"""From one fixing to the next, mm."""


FixingMetal = Literal["coated steel", "stainless", "aluminium", "copper"]


@dataclass(frozen=True)
class Said:
    """A rule's title, its unit and where its starting default comes from."""

    title: str
    unit: str
    source: str


class FixingRules(Value):
    """Lengths mm, temperatures °C; packs in pieces, rolls and tubes. Rivets and clips whose metal is not said
    (``None``) are of the roof's own."""

    screw_pitch: Spacing = 300.0
    clip_pitch: Spacing = 350.0
    panel_clip_pitch: Spacing = 400.0
    screws_a_clip: Count = 2
    wedge_pitch: Spacing = 300.0
    anchor_pitch: Spacing = 250.0
    strap_pitch: Spacing = 600.0
    rivet_pitch: Spacing = 60.0
    edge: LapOrNone = 25.0
    wide: Positive = 200.0
    beside: LapOrNone = 15.0
    tape_roll: Positive = 15_000.0
    sealant_a_metre: Positive = 25.0
    sealant_tube: Positive = 300.0
    screws_a_pack: Count = 250
    rivets_a_pack: Count = 500
    clips_a_pack: Count = 100
    strip_length: Positive = 3000.0
    underlay_roll: Positive = 75.0
    underlay_laps: Annotated[float, Field(ge=0, le=1)] = 0.1
    vent_share: Annotated[float, Field(ge=20, le=5000)] = 300.0
    spare: Annotated[float, Field(ge=0, le=1)] = 0.05
    coldest: Temperature = -20.0
    hottest: Temperature = 70.0
    play: LapOrNone = 2.0
    slide: LapOrNone = 10.0
    screws: FixingMetal = "coated steel"
    rivets: FixingMetal | None = None
    clips: FixingMetal | None = None
    drains_from: Literal["nothing", "copper", "bare steel"] = "nothing"
    drains_onto: Literal["nothing", "zinc", "aluminium", "galvanised steel"] = "nothing"

    @model_validator(mode="before")
    @classmethod
    def _without_what_follows_now(cls, given: Any) -> Any:
        """What is kept free at a ridge followed from a number in older jobs; now the cap's own wing tells."""
        return {name: value for name, value in given.items() if name != "free"} if isinstance(given, dict) else given


_INCH = {"screw_pitch": 12.0, "clip_pitch": 14.0, "panel_clip_pitch": 16.0, "wedge_pitch": 12.0, "anchor_pitch": 10.0,
         "strap_pitch": 24.0, "rivet_pitch": 2.5, "edge": 1.0, "wide": 8.0, "beside": 0.625, "tape_roll": 600.0,
         "strip_length": 120.0, "play": 0.0625, "slide": 0.375}
"""The twins of the lengths among them for those who count in inches, in inches."""


def fixing_rules_for(system: Literal["metric", "inch"], rules: FixingRules | None = None) -> FixingRules:
    """The starting defaults of those who count in mm or in inches; of ``rules`` what stands at the other one's default
    goes to this one's, everything else stays."""
    metric = FixingRules()
    inch = metric.but(**{name: value * MM_PER_INCH for name, value in _INCH.items()})
    mine, other = (inch, metric) if system == "inch" else (metric, inch)
    if rules is None:
        return mine
    return rules.but(**{name: getattr(mine, name) for name in _INCH if getattr(rules, name) == getattr(other, name)})


SAID: dict[str, Said] = {
    "screw_pitch": Said("screws every", "mm", "usual in the trade; the panel maker's instructions come first"),
    "clip_pitch": Said("clips every", "mm", "usual for valleys that must be free to move"),
    "panel_clip_pitch": Said("in seams every", "mm", "usual for standing seams; wind and the panel maker come first"),
    "screws_a_clip": Said("screws a clip", "", "usual for clips of standing seams"),
    "wedge_pitch": Said("wedges every", "mm", "usual for a counterflashing in a kerf"),
    "anchor_pitch": Said("wall anchors every", "mm", "usual in masonry; the anchor's maker comes first"),
    "strap_pitch": Said("gutter straps every", "mm", "usual; closer where snow slides"),
    "rivet_pitch": Said("rivets every", "mm", "usual for sealed laps of trim"),
    "edge": Said("off the edge", "mm", "so that the sheet does not tear out"),
    "wide": Said("second row from", "mm", "a wider lap on the panels lifts between one row and its edge"),
    "beside": Said("clear of a cap", "mm", "a washer's room beside the wing that covers the trim"),
    "tape_roll": Said("tape a roll", "mm", "as it is sold"),
    "sealant_a_metre": Said("a bead takes", "ml/m", "a bead about as thick as a pencil is 40, one as a quill 25"),
    "sealant_tube": Said("tube holds", "ml", "as it is sold"),
    "screws_a_pack": Said("screws a pack", "", "as they are sold"),
    "rivets_a_pack": Said("rivets a pack", "", "as they are sold"),
    "clips_a_pack": Said("clips a pack", "", "as they are sold"),
    "strip_length": Said("hook strip", "mm", "a length of it, as it is made or sold"),
    "underlay_roll": Said("underlay roll", "m²", "as it is sold"),
    "underlay_laps": Said("its laps", "share", "side laps and turned up at walls"),
    "vent_share": Said("air, 1 part in", "", "of the plan area, half low and half high; local rules come first"),
    "spare": Said("spare", "share", "what falls into the gutter"),
    "coldest": Said("coldest", "°C", "metal on a clear winter night; local figures come first"),
    "hottest": Said("hottest", "°C", "dark metal in the summer sun; local figures come first"),
    "slide": Said("clips slide", "mm", "what a sliding clip of a seam gives in all; its maker comes first"),
    "play": Said("play", "mm", "what a clip or a hook gives either way"),
}
