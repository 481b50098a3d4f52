"""Straight gutters: a box of four legs, and a half-round that is kinked on the brake."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Size, SizeOrNone
from yattle.details.common import Finding, Roles, Surrounding
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem
from yattle.pattern import Mark
from yattle.runs import RunPiece
from yattle.section import Girth

_RIM = 8.0  # mm of the bottom that stay beside an outlet, for its flange
_EXPANDS = 12_000.0  # mm: usual for steel, less for other metals
_SIDES = 24  # of the line that an outlet is marked with
_HIGHER = 10.0  # mm: so much the back stands over the front, so that it runs over outside


class _StraightGutter(Trim):
    """Seen from its front: raw edge A is the lip's, paint outside."""

    hem: SizeOrNone = 12.0

    def _looks(self, front: float, back: float, bottom: float) -> tuple[Finding, ...]:
        found = []
        if back < front + _HIGHER:
            found.append(Finding("look", "its back stands {0} over its front: it runs over against the wall",
                                 "the back at least {1} higher, so that it runs over where it is seen", "back",
                                 (back - front, _HIGHER)))
        wide = max((wide for _, wide in self.outlets), default=0.0)
        if wide > bottom - 2 * _RIM:
            found.append(Finding("stop", "outlet: found {0}, the bottom takes at most {1}", "a wider bottom, or two "
                                 "outlets", "outlets", (wide, max(bottom - 2 * _RIM, 0.0))))
        if self.length > _EXPANDS:
            joints = math.ceil(self.length / _EXPANDS) - 1
            found.append(Finding("look", f"{{0}} in one stretch: {joints} expansion joint{'' if joints == 1 else 's'}",
                                 "one every {1} or so, an outlet on both its sides; the maker's figure comes first",
                                 "length", (self.length, _EXPANDS)))
        return tuple(found)


_NOTES = ("Lapped with the flow, two rows of rivets and sealant or solder; no lap at an outlet.",
          "Straps bent to the fall by a string, the outlet at the low end.")


class BoxGutter(_StraightGutter):
    """A box: ``lip`` turned in over the front, ``front`` down, ``bottom``, ``back`` up the fascia. Front and back that
    are higher at the other end give it a fall of its own, its rims level. Sizes in mm."""

    detail: Literal["box-gutter"] = "box-gutter"
    lip: Size = 20.0
    front: Size = 85.0
    bottom: Size = 120.0
    back: Size = 110.0

    def sheet(self) -> TrimSection:
        x = self.lip - self.hem - self.bottom - 2.0  # of the fascia's face; raw edge A is at the origin
        board = ((x, 0.4 * self.back), (x, -1.4 * self.back), (x - 26.0, -1.4 * self.back), (x - 26.0, 0.4 * self.back))
        legs = (Leg("lip", "lip", self.lip), Leg("front", "front", self.front),
                Leg("bottom", "bottom", self.bottom), Leg("back", "back", self.back))
        around = (Surrounding("fascia", board),)
        return TrimSection("box gutter", legs, (-90.0, -90.0, -90.0), ("", "", ""), 0.0, closed_hem(self.hem, "back"),
                           datum=4, roles=Roles(face=1, water=(2,), cap=self._stop()), around=around,
                           looks=self._looks(self.front, self.back, self.bottom), notes=_NOTES, cautions=SHARP)

    @property
    def drained(self) -> int | None:
        """Its bottom, counted from the lip."""
        return 2

    def _stop(self) -> tuple[tuple[int, float], ...]:
        """The flaps of a stop end, folded in: tabs of front and back, and over them the bottom's, as high as both."""
        high = min(self.front, self.back) - 1.0
        return ((1, self.tab), (3, self.tab), (2, high)) if high > self.tab else ((2, self.tab),)


class RoundGutter(_StraightGutter):
    """Half a round of ``wide`` mm inside its mould lines, folded in ``kinks`` even kinks: as long round as the half
    circle. A lip in front, a straight ``back`` behind it. Sizes in mm."""

    detail: Literal["round-gutter"] = "round-gutter"
    wide: Size = 150.0
    kinks: Annotated[int, Field(ge=4, le=24)] = 9
    lip: Size = 20.0
    back: Size = 20.0

    @property
    def chord(self) -> float:
        """One flat part of the round, mm: so many together are as long as the half circle."""
        return math.pi * self.wide / 2 / self.kinks

    @property
    def takes_outlets(self) -> bool:
        """They run over its kinks: marked on the sheet, cut in the ready gutter."""
        return True

    def marks(self, girth: Girth, cut: RunPiece) -> tuple[Mark, ...]:
        """Each outlet's line on the flat sheet: a circle seen from below, of which a place ``w`` mm off the middle lies
        r·asin(w/r) round from it."""
        first = 1 + (1 if girth.profile.hem_a else 0)
        edges = (0.0, *(bend.mark for bend in girth.bends), girth.girth)
        middle, radius = girth.girth - (edges[first] + edges[first + self.kinks]) / 2, self.wide / 2
        found = list[Mark]()
        for place, wide in self.outlets:
            if cut.start <= place <= cut.start + cut.share and wide < self.wide:
                turns = [2 * math.pi * n / _SIDES for n in range(_SIDES + 1)]
                ring = [(place - cut.start + wide / 2 * math.cos(turn),
                         middle + radius * math.asin(wide / 2 * math.sin(turn) / radius)) for turn in turns]
                text = f"outlet {wide:g}: cut in the ready gutter"
                found += [Mark(a=a, b=b, text=text if n == 0 else "") for n, (a, b) in enumerate(pairwise(ring))]
        return tuple(found)

    def sheet(self) -> TrimSection:
        step = 180.0 / self.kinks
        legs = (Leg("lip", "lip", self.lip), *(Leg(f"flat {n}", "wide", self.chord) for n in range(1, self.kinks + 1)),
                Leg("back", "back", self.back))
        turns = (-90.0 - step / 2, *(-step,) * (self.kinks - 1), -step / 2)
        return TrimSection("half-round gutter", legs, turns, ("",) * len(turns), 0.0, closed_hem(self.hem, "back"),
                           datum=self.kinks + 1, roles=Roles(face=1), looks=self._looks(0.0, self.back, self.wide),
                           notes=_NOTES, cautions=SHARP)
