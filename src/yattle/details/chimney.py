"""A chimney: apron, sides, back pan or cricket, counterflashing, on a slope, at a ridge or by a valley."""

from __future__ import annotations

import math
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.details import chimney_site as site
from yattle.details.chimney_site import CLEAR
from yattle.details.common import Finding
from yattle.details.counter import CounterSizes, stepped, straight
from yattle.details.cricket import Cricket
from yattle.details.drops import Leak, Piece, leaks
from yattle.details.feet import UP, Array, Meets, RoofHere, Stretch, angle, corners_of, cross, stretches
from yattle.details.folded_pans import PANS_NOTES, folded_pans
from yattle.details.forms import Form, NotNegative, Positive
from yattle.details.upstand import Sizes, through_valley, upstand
from yattle.errors import InputError
from yattle.measure import Sum, Term
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface

WIDE = 750.0  # mm across the slope from which many codes ask for a cricket


class Chimney(Form):
    """A chimney ``across`` by ``along`` (plan, mm) on a roof of ``pitch``, ``turned`` in plan (degrees anticlockwise).
    ``meets`` a ridge or a valley beside it. ``school``: ``cut``, upstands cut and tabbed at the corners; ``folded``,
    pans folded round them without a cut.

    The kerf runs as high over the roof (square to it) as the saw's guide and its packing stand: ``saw`` + ``packing``.
    From it follow the sides' upstands, from these the front's. ``cricket``: none, of two pieces with a seam on its
    ridge, or of one piece with two patches; as wide a chimney as many codes want one for gets it where nothing is
    said.
    """

    detail: Literal["chimney"] = "chimney"
    id: str = "CH1"
    across: Positive
    along: Positive
    pitch: Annotated[float, Field(ge=0, lt=80)]
    turned: Annotated[float, Field(ge=-360, le=360)] = 0.0
    meets: Meets | None = None
    school: Literal["cut", "folded"] = "cut"
    saw: Positive = 110.0
    packing: NotNegative = 20.0
    kerf_depth: Positive = 30.0
    kerf_room: NotNegative = 5.0
    apron: Positive = 180.0
    flange: Positive = 120.0
    pan: Positive = 250.0
    lap: Positive = 80.0
    tab: Positive = 60.0
    cricket: Literal["none", "two", "one"] | None = None
    cricket_pitch: Annotated[float, Field(gt=0, lt=80)] | None = None
    counter: Literal["straight", "stepped", "none"] = "straight"
    counter_face: Positive = 80.0
    counter_kick: NotNegative = 12.0
    course: Positive = 75.0

    # -- heights: the sides first, the front from them --------------------------------------------------

    @property
    def kerf_square(self) -> Sum:
        """The kerf over the roof, square to it."""
        return Sum("kerf over the roof", (Term("saw, shoe to blade", self.saw), Term("packing", self.packing)))

    @property
    def kerf_plumb(self) -> float:
        """The same measured plumb, mm."""
        return self.kerf_square.value / math.cos(math.radians(self.pitch))

    @property
    def height(self) -> float:
        """The upstands, plumb: up to just under the kerf."""
        return self.kerf_plumb - CLEAR

    @property
    def turn_in(self) -> Sum:
        """What goes into the kerf."""
        return Sum(
            "turned into the kerf", (Term("kerf depth", self.kerf_depth), Term("room for the seal", -self.kerf_room))
        )

    # -- the roof and what stands on it -----------------------------------------------------------------

    @cached_property
    def roof(self) -> RoofHere:
        return RoofHere.of(self.pitch, self.meets)

    @cached_property
    def feet(self) -> list[Stretch]:
        """Every foot, anticlockwise from the front's left corner."""
        site.check(self)
        return stretches(self.roof, self.across, self.along, self.turned)

    @property
    def with_cricket(self) -> str:
        """The cricket in force: ``none``, ``two`` or ``one``."""
        if self.cricket is not None:
            return self.cricket
        wide = self.across > WIDE and self.straight and self.pitch > 0
        return "two" if wide and self.school == "cut" else "none"

    @property
    def straight(self) -> bool:
        """Whether it stands square on one plane."""
        return abs(self.turned) < 0.5 and self.meets is None

    @property
    def clear_of_valley(self) -> bool:
        """Whether all walls and flanges lie on the roof that the chimney stands on."""
        return site.clear_of_valley(self)

    @cached_property
    def behind(self) -> Cricket | None:
        """The cricket, if there is one."""
        if self.with_cricket == "none":
            return None
        back = self.roof.at(0.0, self.along / 2)
        return Cricket(
            self.across,
            self.pitch,
            self.cricket_pitch or self.pitch,
            back,
            self.height,
            self.flange,
            self.lap,
            self.tab,
            self.flange - 15,
        )

    # -- pieces -----------------------------------------------------------------------------------------

    @cached_property
    def bodies(self) -> tuple[Body, ...]:
        """Every piece, in the order in which they go on: each laps over those before it."""
        return (*self.base, *self._counters())

    @cached_property
    def base(self) -> tuple[Body, ...]:
        """What lies on the roof, the lowest first."""
        groups = self.groups
        order = [n for group in groups for n in group]
        made = [self._piece(group, order) for group in groups if not (self.behind and self.feet[group[0]].side == 2)]
        if self.behind is not None:
            made += self.behind.one_piece() if self.with_cricket == "one" else self.behind.halves()
        return tuple(made)

    @property
    def groups(self) -> list[tuple[int, ...]]:
        """Which feet each piece has, the lowest piece first: one, or two with a valley between them."""
        found: list[tuple[int, ...]] = []
        feet = self.feet
        for n, foot in enumerate(feet):
            if self.roof.valley and foot.kinks[1]:
                found.append((n, n + 1))
            elif not (self.roof.valley and foot.kinks[0]):
                found.append((n,))
        if not self.roof.valley:
            return sorted(found, key=lambda group: (self._rank(feet[group[0]]), group))
        uphill: dict[int, set[int]] = {n: set() for n in range(len(found))}
        for n, group in enumerate(found):  # at each corner one lies over the other
            other = (n + 1) % len(found)
            above = self._rank(feet[found[other][0]]) > self._rank(feet[group[-1]])
            uphill[other if above else n].add(n if above else other)
        try:
            return [found[n] for n in TopologicalSorter(uphill).static_order()]
        except CycleError as round_about:
            raise InputError("meets.turn", "a valley by which each piece would have to lie over the next one, all "
                             "round the chimney", "the chimney turned, or moved along the valley") from round_about

    def _rank(self, foot: Stretch) -> tuple[bool, float]:
        """Higher pieces go on later; of the two at the highest corner the one that reaches further up the slope."""
        dams = not (foot.sheds or foot.falls)
        up = cross(foot.normal, foot.across)
        return dams, round(self._width(foot) / abs(float(foot.away @ up)) if dams else foot.height, 3)

    def _piece(self, group: tuple[int, ...], order: list[int]) -> Body:
        feet = [self.feet[n] for n in group]
        sizes = [self._sizes(n, order) for n in group]
        before, after = self._beside(group[0])[0], self._beside(group[-1])[1]
        if len(group) == 1:
            return upstand(self._named(group[0]), feet[0], before, after, sizes[0], self.roof)
        name = ("front", "right side", "back", "left side")[feet[0].side] + ", through the valley"
        return through_valley(name, (feet[0], feet[1]), before, after, (sizes[0], sizes[1]), self.roof)

    def surfaces(self) -> tuple[Surface, ...]:
        if self.school == "folded":
            site.check(self)
            pans = folded_pans(self.across, self.along, self.pitch, self.height, (self.apron, self.flange, self.pan),
                               self.metal)
            return (*pans[:4], *(body.surface() for body in self._counters()), *pans[4:])
        return tuple(body.surface() for body in self.bodies)

    def _beside(self, n: int) -> tuple[Stretch, Stretch]:
        return self.feet[n - 1], self.feet[(n + 1) % len(self.feet)]

    def _sizes(self, n: int, order: list[int]) -> Sizes:
        here = self.feet[n]
        before, after = self._beside(n)
        slant = (
            max(
                -self.flange * self.behind.reach / (self.across / 2) / math.cos(math.radians(self.pitch)),
                -self.lap - here.length / 2,
            )
            if self.behind
            else 0.0
        )  # along the cricket's valley, under its flange
        up = here.falls and here.b[2] > here.a[2], here.falls and here.a[2] > here.b[2]
        return Sizes(
            self.height,
            self._width(here),
            self._beyond(here, before, order),
            self._beyond(here, after, order),
            self.tab,
            self.lap,
            (slant * up[1], slant * up[0]),
            (self._by_neighbour(here, before), self._by_neighbour(here, after)),
        )

    def _width(self, here: Stretch) -> float:
        if here.sheds or here.falls:
            return self.apron if here.sheds else self.flange
        return max(self.pan, *(self._up_to_valley(here, beside) for beside in self._beside(self._place(here))))

    def _up_to_valley(self, here: Stretch, beside: Stretch) -> float:
        """How far up a pan must reach to lie over a side whose flange goes up to where a valley's metal begins."""
        mate = next((foot for foot in self.feet if foot.side == beside.side and foot is not beside), None)
        if not (self.roof.valley and mate and beside.falls and beside.side != here.side):
            return 0.0
        way = self.roof.line if self.roof.line @ beside.out > 0 else -self.roof.line
        reach = max(self._width(foot) / float(way @ foot.away) for foot in (mate, beside))
        return abs(float(way @ beside.along)) * reach - beside.length + 20.0 if way[2] > 0 else 0.0

    def _beyond(self, here: Stretch, beside: Stretch, order: list[int]) -> float:
        """How far a flange goes on past a corner, so that water always comes from the one on top to the one beneath.

        Down the slope by the lap. Elsewhere, where both shed (the lowest corner), the one beneath goes on under the
        other; where neither does (the highest), the one on top goes on over the other; else the upper one stays within
        the lower one's flange, and that one reaches a little further.
        """
        if here.falls and not beside.falls:
            return self.lap
        later = order.index(self._place(here)) > order.index(self._place(beside))
        if here.sheds == beside.sheds and (here.sheds or not beside.falls):
            return self.lap if later != here.sheds else 0.0
        if self._by_neighbour(here, beside):
            return self._width(beside) + 10.0
        if here.sheds:
            return self._over(beside, here) + 20.0
        return self._over(here, beside) - 15.0

    def _over(self, upper: Stretch, lower: Stretch) -> float:
        """How far across the fall the upper flange lies over the lower one's, past their corner: within that one's
        outer edge, and no further than that one stays beneath the upper one's."""
        wide, along = self._width(lower), abs(float(upper.along @ upper.across))
        if lower.falls:
            within = (wide - 15.0) * along / max(abs(float(upper.along @ lower.away)), 1e-6) + 15.0
            return min(wide * abs(float(lower.away @ upper.across)), within)
        beneath = (self._width(upper) - 15.0) / max(abs(float(lower.along @ upper.away)), 1e-6)
        return min(wide * along, beneath * abs(float(lower.along @ upper.across)) - 20.0)

    def _by_neighbour(self, here: Stretch, beside: Stretch) -> bool:
        """Whether a flange that sheds ends along the outer edge of its neighbour's, beneath it."""
        return beside.falls and not here.falls and here.sheds

    def _place(self, here: Stretch) -> int:
        return next(n for n, foot in enumerate(self.feet) if foot is here)

    def _named(self, n: int) -> str:
        here = self.feet[n]
        if abs(self.turned) >= 0.5:
            place = "lower" if here.sheds else "upper"
            return f"{place} side {here.side + 1}"
        if here.side in (1, 3):
            half = f", {'upper' if here.plane else 'lower'}" if any(here.kinks) else ""
            return f"{'right' if here.side == 1 else 'left'} side{half}"
        if here.sheds:
            return "apron" if here.side == 0 else "apron, far side"
        return "back pan"

    # -- the drop's way --------------------------------------------------------------------------------------

    def lost_drops(self) -> tuple[Leak, ...] | None:
        if self.school == "folded":
            return None
        groups = [group for group in self.groups if not (self.behind and self.feet[group[0]].side == 2)]
        sheds = [any(self.feet[n].sheds for n in group) for group in groups]
        sheds += [False] * (len(self.base) - len(groups))
        pieces = [Piece(body.surface(), shed) for body, shed in zip(self.base, sheds, strict=True)]
        wall = [(float(x), float(y)) for x, y in corners_of(self.across, self.along, self.turned)]
        return tuple(leaks(pieces, wall, self.roof.over))

    # -- counterflashing ----------------------------------------------------------------------------------

    def _counters(self) -> list[Body]:
        if self.counter == "none":
            return []
        sizes = CounterSizes(
            self.turn_in.value, self.counter_face, self.counter_kick, self.tab, self.lap, self.course
        )
        made: list[Body] = []
        for n in sorted(range(len(self.feet)), key=lambda n: (round(self.feet[n].height, 3), n)):
            here = self.feet[n]
            if self.counter == "stepped" and here.falls:
                made += stepped(here, self.kerf_plumb - self.counter_face, sizes, self._named(n))
            else:
                made.append(
                    straight(
                        f"counter, {self._named(n)}", *self._kerf(here), here.out, self._tabs(n), sizes
                    )
                )
        return made

    def _kerf(self, here: Stretch) -> tuple[Array, Array]:
        rise = self.kerf_plumb
        if self.behind is not None and here.side == 2:
            rise += self.behind.rise
        return np.asarray(here.a + UP * rise), np.asarray(here.b + UP * rise)

    def _tabs(self, n: int) -> tuple[Array | None, Array | None]:
        """Round its corners a counterflashing laps over those that are lower."""
        here = self.feet[n]
        made: list[Array | None] = []
        for other, on, kink in zip(self._beside(n), (-1.0, 1.0), here.kinks, strict=True):
            lower = (round(other.height, 3), other.side) < (round(here.height, 3), here.side)
            level = np.array([*(other.along * on)[:2], 0.0])
            if self.behind is not None and here.side == 2:
                made.append(level / np.linalg.norm(level))  # level: the cricket's kerf stands higher than the sides'
            else:
                made.append(np.asarray(other.along * on) if lower and not kink else None)
        return made[0], made[1]

    # -- what is said -------------------------------------------------------------------------------------

    @property
    def notes(self) -> tuple[str, ...]:
        kerf, turn = self.kerf_square, self.turn_in
        said = [
            f"Kerf {kerf.value:.1f} over the roof square to it ({self.saw:g} saw + {self.packing:g} packing), "
            f"{self.kerf_plumb:.1f} plumb; the sides' upstands {self.height:.1f} plumb, the front's level from their "
            f"corners; {turn.value:g} turned in ({self.kerf_depth:g} kerf − {self.kerf_room:g}).",
            "In the order listed each piece laps over those before it. Corners stand closed by the tabs beneath; a dot "
            "of solder or sealant goes into each relief cut.",
        ]
        if self.school == "folded":
            return said[0], *PANS_NOTES
        if self.behind is not None:
            c = self.behind
            said.append(
                f"Cricket: ridge {c.rise:.1f} above the back corners, {c.reach:.1f} back in plan, valleys "
                f"{c.valley:.1f} long, {angle(c.corner(1) - c.end, c.foot - c.end):.1f}° from its ridge in the "
                "sheet."
            )
        return tuple(said)

    @property
    def cautions(self) -> tuple[str, ...]:
        return (
            "Cut edges are sharp: wear gloves.",
            "Cutting masonry: water or extraction, and a mask.",
            "Clearance to the flue and to what can burn: local code and the maker's word.",
            "Secure yourself and the sheets on the roof.",
        )

    def looks(self) -> tuple[Finding, ...]:
        found = []
        if self.across > WIDE and self.with_cricket == "none":
            found.append(
                Finding(
                    "look",
                    f"{self.across:g} mm across the slope without a cricket",
                    f"many codes want one from about {WIDE:g} mm; water and snow lie behind it",
                    "cricket",
                )
            )
        if self.meets is not None and self.meets.kind == "valley":
            found.append(
                Finding(
                    "look",
                    "a valley runs into it or close by",
                    "its water comes past the flashing, which takes the valley's place there: no seam in its line",
                    "meets",
                )
            )
        return tuple(found)
