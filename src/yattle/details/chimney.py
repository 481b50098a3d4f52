"""A chimney: apron, sides, back pan or cricket, counterflashing, on a slope, at a ridge or by a valley."""

from __future__ import annotations

import math
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, Lap, Size, SizeOrNone
from yattle.details.chimney_flanges import Flanges
from yattle.details.chimney_valley import Widths, check_valley, clear_of_valley
from yattle.details.common import Finding
from yattle.details.counter import CounterSizes, stepped, straight
from yattle.details.cricket import Cricket
from yattle.details.drops import Leak, Piece, leaks
from yattle.details.feet import UP, Array, Meets, RoofHere, Stretch, angle, corners_of, stretches
from yattle.details.folded_pans import PANS_NOTES, SeamsBeside, folded_pans
from yattle.details.forms import Form
from yattle.details.panels_round import Flashed, panels_round
from yattle.details.parted import parted
from yattle.details.upstand import through_valley, upstand
from yattle.errors import InputError
from yattle.measure import Sum, Term, Whole
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface

_LEAST = 60.0  # mm of upstand
_LOW = 100.0  # mm: lower ones want a look
CLEAR = 10.0  # mm from the kerf down to the upstand's top
_PANELS_BELOW, PANELS_ABOVE = 10.0, 60.0  # mm: how far from a chimney the panels end, as at a curb
_SEAM_WIDE = 25.0  # mm that a seam stands wide
WIDE = 750.0  # mm across the slope from which many codes ask for a cricket


class Chimney(Form):
    """A chimney on a roof of ``pitch``. Lengths in mm, angles in degrees.

    The kerf runs as high over the roof (square to it) as the saw's guide and its packing stand: ``saw`` + ``packing``.
    From it follow the sides' upstands, from these the front's.

    ``across``, ``along``: its sizes in plan; ``turned``: in plan, anticlockwise
    ``meets``: a ridge or a valley beside it
    ``school``: ``cut``, upstands cut and tabbed at the corners; ``folded``, pans folded round them without a cut
    ``cricket``: none, of two pieces with a seam on its ridge, or of one piece with two patches; as wide a chimney as
        many codes want one for gets it where nothing is said
    ``counter``: a counterflashing, straight in a kerf or stepped up the courses; ``turned``: none, the upstands go into
        the kerf themselves; ``none``: no kerf, the wall is closed over them by others
    ``apron_hem``: turned under along the apron's lower edge, hooked in the course or the seam below
    ``stock_length``: what is longer is parted and lapped
    ``coverage``, ``from_seam``: of folded pans: the pans', and from the next seam on the left to its left side
    ``seam_height``, ``lock``: the seams' beside it
    ``cross_foot``, ``water_check``: what is turned under at the feet and over at the heads of folded pans
    """

    detail: Literal["chimney"] = "chimney"
    id: Id = "CH1"
    across: Size
    along: Size
    pitch: Annotated[float, Field(ge=0, lt=80)]
    turned: Annotated[float, Field(ge=-360, le=360)] = 0.0
    meets: Meets | None = None
    school: Literal["cut", "folded"] = "cut"
    saw: Size = 110.0
    packing: SizeOrNone = 20.0
    kerf_depth: Size = 30.0
    kerf_room: SizeOrNone = 5.0
    apron: Size = 180.0
    flange: Size = 120.0
    pan: Size = 250.0
    lap: Lap = 80.0
    tab: Size = 60.0
    cricket: Literal["none", "two", "one"] | None = None
    cricket_pitch: Annotated[float, Field(gt=0, lt=80)] | None = None
    counter: Literal["straight", "stepped", "turned", "none"] = "straight"
    apron_hem: SizeOrNone = 15.0
    stock_length: Size = 3000.0
    counter_face: Size = 80.0
    counter_kick: SizeOrNone = 12.0
    course: Size = 75.0
    coverage: SizeOrNone = 0.0
    from_seam: SizeOrNone = 0.0
    seam_height: Size = 38.0
    lock: Size = 10.0
    cross_foot: SizeOrNone = 20.0
    water_check: SizeOrNone = 12.0

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
        """The upstands, plumb: up to just under the kerf, or to it where they are turned in themselves. In mm."""
        return self.kerf_plumb - (0.0 if self.counter == "turned" else CLEAR)

    @property
    def hangs(self) -> float:
        """How far a counterflashing hangs down, plumb: never longer than the upstand behind it. In mm."""
        return min(self.counter_face, self.height)

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
        self._check()
        return self._standing

    def _check(self) -> None:
        """Raises :class:`InputError` where it cannot be flashed, with the measure, why, and what would do."""
        if self.pitch < 1:
            raise InputError("pitch", f"{self.pitch:g}°",
                             "a roof that falls by 1° or more: on a flat one a curb is wanted")
        if self.height < _LEAST:
            raise InputError("saw", f"a kerf {self.kerf_square.value:g} mm over the roof",
                             f"{_LEAST + CLEAR:g} mm or more: the upstands under it would be too low")
        if self.counter_face < CLEAR + 20:
            raise InputError("counter_face", f"{self.counter_face:g} mm",
                             f"{CLEAR + 20:g} mm or more, to lap over the upstand")
        if self.counter == "turned" and not (self.straight and self.with_cricket == "none"):
            raise InputError("counter", "'turned' on a chimney that is turned, has a cricket or meets another plane",
                             "a counterflashing there, 'straight' or 'stepped'")
        if self.kerf_room >= self.kerf_depth:
            raise InputError("kerf_room", f"{self.kerf_room:g} mm",
                             f"less than the kerf's depth, {self.kerf_depth:g} mm")
        if self.meets is not None and self.roof.valley:
            check_valley(self.meets, self.roof, self._standing, self._widths)
        if self.school == "folded" and not (self.straight and self.with_cricket == "none"):
            raise InputError("school", "'folded' round a chimney that is turned, has a cricket or meets another plane",
                             "'cut' there: pans folded without a cut want a straight chimney on one plane")
        if self.cricket not in (None, "none") and not self.straight:
            raise InputError("cricket", f"{self.cricket!r} behind a chimney that is turned or meets another plane",
                             "none there: its back sheds by itself, or is a matter for the roof's own planes")

    @cached_property
    def _standing(self) -> list[Stretch]:
        return stretches(self.roof, self.across, self.along, self.turned)

    @property
    def _widths(self) -> Widths:
        return self.apron, self.flange, self.pan

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
        return clear_of_valley(self.roof, self._standing, self._widths)

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

    @cached_property
    def flanges(self) -> Flanges:
        """What lies on the roof round it."""
        slant = self.behind.reach / (self.across / 2) / math.cos(math.radians(self.pitch)) if self.behind else 0.0
        return Flanges(self.roof, tuple(self.feet), self.height, self.apron, self.flange, self.pan, self.tab, self.lap,
                       slant, self.apron_hem, self.turn_in.value if self.counter == "turned" else 0.0)

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
        """Which feet each piece has, the lowest piece first: one, or two with a valley between them. Raises
        :class:`InputError` where the school cannot go round there."""
        found: list[tuple[int, ...]] = []
        feet = self.feet
        for n, foot in enumerate(feet):
            if self.roof.valley and foot.kinks[1]:
                found.append((n, n + 1))
            elif not (self.roof.valley and foot.kinks[0]):
                found.append((n,))
        if not self.roof.valley:
            return sorted(found, key=lambda group: (self.flanges.rank(feet[group[0]]), group))
        uphill: dict[int, set[int]] = {n: set() for n in range(len(found))}
        for n, group in enumerate(found):  # at each corner one lies over the other
            other = (n + 1) % len(found)
            above = self.flanges.rank(feet[found[other][0]]) > self.flanges.rank(feet[group[-1]])
            uphill[other if above else n].add(n if above else other)
        try:
            return [found[n] for n in TopologicalSorter(uphill).static_order()]
        except CycleError as round_about:
            raise InputError("meets.turn", "a valley by which each piece would have to lie over the next one, all "
                             "round the chimney", "the chimney turned, or moved along the valley") from round_about

    def _piece(self, group: tuple[int, ...], order: list[int]) -> Body:
        feet = [self.feet[n] for n in group]
        sizes = [self.flanges.sizes(n, order) for n in group]
        before, after = self.flanges.beside(group[0])[0], self.flanges.beside(group[-1])[1]
        if len(group) == 1:
            return upstand(self._named(group[0]), feet[0], before, after, sizes[0], self.roof)
        name = ("front", "right side", "back", "left side")[feet[0].side] + ", through the valley"
        return through_valley(name, (feet[0], feet[1]), before, after, (sizes[0], sizes[1]), self.roof)

    def surfaces(self) -> tuple[Surface, ...]:
        if self.school == "folded":
            self._check()
            pans = folded_pans(self.seams, self.along, self.pitch, self.height, (self.apron, self.flange, self.pan),
                               self.metal)
            return (*pans[:4], *(body.surface() for body in self._counters()), *pans[4:])
        return tuple(part for body in self.bodies for part in self._to_stock(body.surface()))

    def _to_stock(self, surface: Surface) -> tuple[Surface, ...]:
        """A level piece longer than its stock in several that lap; others as they are."""
        level = self.straight and surface.name in ("apron", "back pan", "counter, apron", "counter, back pan")
        return parted(surface, np.array([1.0, 0.0, 0.0]), self.stock_length, self.lap) if level else (surface,)

    @property
    def seams(self) -> SeamsBeside:
        """The seams round it, for folded pans."""
        return SeamsBeside(self.across, self.coverage, self.from_seam, self.seam_height, self.lock, self.cross_foot,
                           self.water_check)

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
            pans = [Piece(surface, surface.name != "upper pan") for surface in self.surfaces()[:4]]
            return tuple(leaks(pans, self._walls, self.roof.over))
        groups = [group for group in self.groups if not (self.behind and self.feet[group[0]].side == 2)]
        sheds = [any(self.feet[n].sheds for n in group) for group in groups]
        sheds += [False] * (len(self.base) - len(groups))
        pieces = [Piece(body.surface(), shed) for body, shed in zip(self.base, sheds, strict=True)]
        if not (self.straight and self.meets is None):
            return tuple(leaks(pieces, self._walls, self.roof.over))
        below, above, seams = panels_round(self._flashed, [piece.surface for piece in pieces], self._over)
        pieces = [Piece(below, True), *pieces, Piece(above, False)]
        return tuple(leaks(pieces, self._walls, self.roof.over, standing=seams))

    def _over(self, x: float, y: float) -> float:
        return float(self.roof.over(np.array(x), np.array(y)))

    @property
    def _flashed(self) -> Flashed:
        """On one plane, with its panels as far off as they are at a curb, seams where a layout says them."""
        each = self.coverage
        many = math.ceil((self.across + self.from_seam) / each) if each else 0
        seams = tuple(n * each - self.from_seam - self.across / 2 for n in range(1, many)
                      if n * each > self.from_seam + 1.0)
        return Flashed(self.across, self.along, self.flange, self.apron, self.pan, _PANELS_BELOW, PANELS_ABOVE, seams,
                       _SEAM_WIDE, False)

    @property
    def _walls(self) -> list[tuple[float, float]]:
        return [(float(x), float(y)) for x, y in corners_of(self.across, self.along, self.turned)]

    # -- counterflashing ----------------------------------------------------------------------------------

    def _counters(self) -> list[Body]:
        if self.counter in ("none", "turned"):
            return []
        sizes = CounterSizes(
            self.turn_in.value, self.hangs, self.counter_kick, self.tab, self.lap, self.course
        )
        made: list[Body] = []
        for n in sorted(range(len(self.feet)), key=lambda n: (round(self.feet[n].height, 3), n)):
            here = self.feet[n]
            if self.counter == "stepped" and here.falls:
                made += stepped(here, self.kerf_plumb - self.hangs, sizes, self._named(n))
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
        for other, on, kink in zip(self.flanges.beside(n), (-1.0, 1.0), here.kinks, strict=True):
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
            f"corners; {turn.value:g} turned in ({self.kerf_depth:g} kerf − {self.kerf_room:g})"
            f"{', of the upstands themselves: no counterflashing' if self.counter == 'turned' else ''}."
            if self.counter != "none" else
            f"Upstands {self.height:.1f} plumb, the front's level from their corners; no kerf: the wall is closed over "
            "them by others.",
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
        found = list(self.seams.looks()) if self.school == "folded" else []
        if self.height < _LOW:
            found.append(Finding("look", "upstands of only {0}", "splash and snow reach over them: {1} or more, unless "
                                 "the maker's or the code's figure is less", "saw", (self.height, _LOW)))
        if self.hangs < self.counter_face and self.counter in ("straight", "stepped"):
            found.append(Finding("look", "counterflashing cut to {0}: longer it would hang below the roof",
                                 "a higher kerf, or a shorter face", "counter_face", (self.hangs,)))
        if self.across > WIDE and self.with_cricket == "none":
            found.append(
                Finding(
                    "look",
                    "{0} across the slope without a cricket",
                    "many codes want one from about {1}; water and snow lie behind it",
                    "cricket",
                    (Whole(self.across), Whole(WIDE)),
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
