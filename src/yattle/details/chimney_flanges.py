"""How wide a chimney's flanges lie on the roof, and how far each goes on past its corners, over or under the next."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.details.feet import RoofHere, Stretch, cross
from yattle.details.upstand import Sizes


@dataclass(frozen=True)
class Flanges:
    """The flanges of one chimney, mm.

    ``height``: of its upstands, plumb
    ``apron``, ``flange``, ``pan``: the widths below, beside and behind
    ``cricket_slant``: how far a side's flange is cut back along a cricket's valley for each mm of its width; 0: none
    ``hem``: turned under along the apron's lower edge; ``turn_in``: of the upstands' tops, into the kerf
    """

    roof: RoofHere
    feet: tuple[Stretch, ...]
    height: float
    apron: float
    flange: float
    pan: float
    tab: float
    lap: float
    cricket_slant: float
    hem: float = 0.0
    turn_in: float = 0.0

    def beside(self, n: int) -> tuple[Stretch, Stretch]:
        """The feet before and after foot ``n``, anticlockwise."""
        return self.feet[n - 1], self.feet[(n + 1) % len(self.feet)]

    def rank(self, foot: Stretch) -> tuple[bool, float]:
        """Higher pieces go on later; of the two at the highest corner the one that reaches further up the slope. In
        mm."""
        dams = not (foot.sheds or foot.falls)
        up = cross(foot.normal, foot.across)
        return dams, round(self.width(foot) / abs(float(foot.away @ up)) if dams else foot.height, 3)

    def sizes(self, n: int, order: list[int]) -> Sizes:
        """What the piece on foot ``n`` measures; ``order``: the feet as they go on, the first beneath."""
        here = self.feet[n]
        before, after = self.beside(n)
        slant = (
            max(-self.flange * self.cricket_slant, -self.lap - here.length / 2) if self.cricket_slant else 0.0
        )  # along the cricket's valley, under its flange
        up = here.falls and here.b[2] > here.a[2], here.falls and here.a[2] > here.b[2]
        return Sizes(
            self.height,
            self.width(here),
            self._beyond(here, before, order),
            self._beyond(here, after, order),
            self.tab,
            self.lap,
            (slant * up[1], slant * up[0]),
            (self._by_neighbour(here, before), self._by_neighbour(here, after)),
            self.hem if here.sheds and not here.falls else 0.0,
            self.turn_in,
        )

    def width(self, here: Stretch) -> float:
        """How far a foot's flange lies out on the roof, mm."""
        if here.sheds or here.falls:
            return self.apron if here.sheds else self.flange
        return max(self.pan, *(self._up_to_valley(here, beside) for beside in self.beside(self._place(here))))

    def _up_to_valley(self, here: Stretch, beside: Stretch) -> float:
        """How far up a pan must reach to lie over a side whose flange goes up to where a valley's metal begins."""
        mate = next((foot for foot in self.feet if foot.side == beside.side and foot is not beside), None)
        if not (self.roof.valley and mate and beside.falls and beside.side != here.side):
            return 0.0
        way = self.roof.line if self.roof.line @ beside.out > 0 else -self.roof.line
        reach = max(self.width(foot) / float(way @ foot.away) for foot in (mate, beside))
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
            return self.width(beside) + 10.0
        if here.sheds:
            return self._over(beside, here) + 20.0
        return self._over(here, beside) - 15.0

    def _over(self, upper: Stretch, lower: Stretch) -> float:
        """How far across the fall the upper flange lies over the lower one's, past their corner: within that one's
        outer edge, and no further than that one stays beneath the upper one's."""
        wide, along = self.width(lower), abs(float(upper.along @ upper.across))
        if lower.falls:
            within = (wide - 15.0) * along / max(abs(float(upper.along @ lower.away)), 1e-6) + 15.0
            return min(wide * abs(float(lower.away @ upper.across)), within)
        beneath = (self.width(upper) - 15.0) / max(abs(float(lower.along @ upper.away)), 1e-6)
        return min(wide * along, beneath * abs(float(lower.along @ upper.across)) - 20.0)

    def _by_neighbour(self, here: Stretch, beside: Stretch) -> bool:
        """Whether a flange that sheds ends along the outer edge of its neighbour's, beneath it."""
        return beside.falls and not here.falls and here.sheds

    def _place(self, here: Stretch) -> int:
        return next(n for n, foot in enumerate(self.feet) if foot is here)
