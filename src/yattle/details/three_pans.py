"""Where three standing seam pans meet at a lying cross seam: the seam between two of them is laid over and relieved, or
kept apart from the others' seams."""

from __future__ import annotations

import math
from typing import Any, Literal

from yattle.bounds import Id, Size, SizeOrNone
from yattle.details.common import Finding
from yattle.details.drops import Leak, Piece, leaks
from yattle.details.feet import UP
from yattle.details.forms import Form, tilted
from yattle.details.pan_floor import CLEAR, Place
from yattle.details.pan_shape import PanShape, SeamSide
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface

_FALL = 15.0  # degrees: the fall on which drops are followed; they go the same way on any
_BENEATH = 50.0  # mm that the bare roof lies under the pans there
_ROOM = 3.0  # mm less than the head's allowance that a foot is turned under, so that it goes in
_TRIM = 2.0  # mm that a leg is lower where its lock is cut off


class ThreePans(Form):
    """Pans at a cross seam. ``over``: one pan over two, whose seam ends below the cross seam, or two over one, whose
    seam begins above it; that seam is laid over toward ``hand`` and cut down over ``taper`` to ``keep``, so that it
    lies flat where the cross seam is closed. ``school`` offset keeps seams ``offset`` apart instead, without a cut.
    Lengths in mm.

    ``coverage``, ``length``: of each pan; ``height``, ``lock``: of the seams
    ``cross``: how the cross seam is closed; ``head``: turned over onto the lower pan at its head, once for a single and
        twice for a double one; the upper pan's foot is turned under by a little less
    """

    detail: Literal["three-pans"] = "three-pans"
    id: Id = "TP1"
    over: Literal["one over two", "two over one"] = "one over two"
    hand: Literal["left", "right"] = "left"
    school: Literal["relieved", "offset"] = "relieved"
    cross: Literal["single", "double"] = "single"
    coverage: Size = 500.0
    length: Size = 500.0
    height: Size = 25.0
    lock: Size = 10.0
    head: Size = 25.0
    taper: Size = 60.0
    keep: Size = 8.0
    offset: SizeOrNone = 100.0

    def surfaces(self) -> tuple[Surface, ...]:
        """The pans as they lie, the lower ones first, and the cut's template. Raises :class:`InputError` where the cut
        cannot be."""
        self._check()
        pans = tuple(shape.surface() for shape in self.shapes())
        return pans if self.school == "offset" else (*pans, self._template())

    def _check(self) -> None:
        if self.taper < self.height:
            raise InputError("taper", f"{self.taper:g} mm", f"the seam's height or more, {self.height:g} mm: a shorter "
                             "cut tears when the seam is laid over")
        if self.keep > self.height - _TRIM:
            raise InputError("keep", f"{self.keep:g} mm",
                             f"less than the seam's height, at most {self.height - _TRIM:g} mm")
        if self.length < self.taper + 2 * self.head + 50:
            raise InputError("length", f"{self.length:g} mm", f"{self.taper + 2 * self.head + 50:g} mm or more")

    @property
    def turns(self) -> int:
        """How often the cross seam is turned over."""
        return 1 if self.cross == "single" else 2

    # -- pans -------------------------------------------------------------------------------------------

    def shapes(self) -> tuple[PanShape, ...]:
        """The three pans, the middle of the cross seam at 0: the lower ones' heads end in its fold."""
        two = self._pair(self.over == "two over one")
        one = self._single(self.over == "one over two")
        return (*two, one) if self.over == "one over two" else (one, *two)

    def _pair(self, above: bool) -> tuple[PanShape, PanShape]:
        """The two pans beside each other, their seam at x = 0 ended at the cross seam."""
        end: Literal["low", "high"] = "low" if above else "high"
        relief = None if self.school == "offset" else (end, self.keep, self.taper)
        names = ("upper left pan", "upper right pan") if above else ("lower left pan", "lower right pan")
        return (self._pan(names[0], (-self.coverage, 0.0), above, (None, relief)),
                self._pan(names[1], (0.0, self.coverage), above, (relief, None)))

    def _single(self, above: bool) -> PanShape:
        """The pan across the others' seam; of the offset school its own seams stand aside of that."""
        aside = self.offset - self.coverage / 2 if self.school == "offset" else 0.0
        half = self.coverage / 2
        return self._pan("upper pan" if above else "lower pan", (aside - half, aside + half), above, (None, None))

    def _pan(self, name: str, sides: tuple[float, float], above: bool, reliefs: tuple[Any, Any]) -> PanShape:
        """A pan with its foot or its head at the cross seam; ``reliefs`` of its left and its right side."""
        low, high = (-self.head, self.length) if above else (-self.length, 0.0)
        left, right = sides
        kept = self.turns * self.head + CLEAR
        back = (kept, CLEAR) if above else (CLEAR, kept)
        sizes: dict[str, Any] = {"height": self.height, "lock": self.lock, "back": back}
        locks = (1, 2) if self.hand == "right" else (2, 1)
        foot = self.turns * self.head - _ROOM
        edge = ((left, low), (right, low), foot) if above else ((left, high), (right, high), -self.turns * self.head)
        return PanShape(
            name=name, floor=((left, low), (right, low), (right, high), (left, high)), hems=(edge,),
            seams=(SeamSide(low=(left, low), high=(left, high), side=-1, locks=locks[0], relief=reliefs[0], **sizes),
                   SeamSide(low=(right, low), high=(right, high), side=1, locks=locks[1], relief=reliefs[1], **sizes)),
            lines=self._second_fold(sides, low if above else high, above))

    def _second_fold(self, sides: tuple[float, float], end: float, above: bool) -> tuple[tuple[Place, Place, str], ...]:
        """Where a double cross seam is turned over once more, on the roof."""
        if self.cross == "single":
            return ()
        at = end + self.head if above else end - self.head
        return (((sides[0] + 20.0, at), (sides[1] - 20.0, at), "second turn"),)

    # -- template and layers ----------------------------------------------------------------------------

    def _template(self) -> Surface:
        """The cut's template, its long side on the pan, its short one at the leg's end."""
        side = 1.0 if (self.hand == "right") == (self.over == "one over two") else -1.0
        full = self.height - _TRIM
        body = Body(f"relief template, {self.hand}", paper=True)
        body.add("template", [(0, 0, 0), (side * (self.taper + 80), 0, 0), (side * (self.taper + 80), full, 0),
                              (side * self.taper, full, 0), (0, self.keep, 0)], UP)
        return body.surface()

    def layers_at(self, along: float, out: float) -> int:
        """How many sheets lie on each other once the seam is laid over: ``along`` mm from its end, ``out`` mm from its
        foot. The floor beneath, both legs as far as they reach, and where the lock is its three parts."""
        reach = self.height - _TRIM
        if self.school == "relieved" and along < self.taper:
            reach = self.keep + (reach - self.keep) * along / self.taper
        locked = self.school == "offset" or along >= self.taper
        return 1 + (2 if out <= (self.height if locked else reach) else 0) + (
            3 if locked and self.height - self.lock <= out <= self.height else 0)

    @property
    def most_layers(self) -> tuple[int, int]:
        """The most sheets on each other at the seam's end beside the cross seam: as cut, and as it would be uncut."""
        outs = [self.height * n / 50 for n in range(51)]
        cut = max(self.layers_at(1.0, out) for out in outs)
        return cut, max(self.but(school="offset").layers_at(1.0, out) for out in outs)

    def lost_drops(self) -> tuple[Leak, ...] | None:
        fall = math.tan(math.radians(_FALL))
        pieces = [Piece(tilted(surface, _FALL), surface.name.startswith("lower") or self.over == "two over one")
                  for surface in self.surfaces() if not surface.paper]
        return tuple(leaks(pieces, [], lambda x, y: y * fall - _BENEATH))

    # -- what is said -----------------------------------------------------------------------------------

    @property
    def notes(self) -> tuple[str, ...]:
        allow = self.turns * self.head
        lying = (f"Lying cross seam, {self.cross}: the lower pan's head turned over by {allow:g}, the upper pan's foot "
                 f"turned under by {allow - _ROOM:g}; the upper pan is {self.head:g} longer than to the fold.")
        if self.school == "offset":
            return (f"Seams above and below stand {self.offset:g} apart: three never meet, no cut; the upper pans have "
                    "a layout of their own: their first and last pan other widths, one set-up more, no metal.", lying)
        cut, uncut = self.most_layers
        thick = self.metal.thickness
        return (f"Kept: {self.keep:g} of both legs at the end, rising to their height over {self.taper:g}; cut away: "
                f"what is above that line, the lock with it. Laid over to the {self.hand}, {cut} sheets lie on each "
                f"other there, {cut * thick:.1f} thick, instead of {uncut} and {uncut * thick:.1f}.", lying,
                "The template lies on the upright leg with its long side on the pan, its low end at the cross seam; "
                "the other hand is its mirror image.")

    def looks(self) -> tuple[Finding, ...]:
        if self.school == "offset" and self.offset < 2 * self.height:
            return (Finding("look", "seams only {0} apart: laid over they reach each other", "{1} or more", "offset",
                            (self.offset, 2 * self.height)),)
        return ()
