"""Standing seam pans: blanks, tapered ones, the tray folded up at a wall without a cut, the relief where three meet."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from yattle.bounds import Id, RunLength, Size, SizeOrNone
from yattle.details.common import Finding
from yattle.details.feet import UP
from yattle.details.forms import Form
from yattle.details.pan_floor import CLEAR, Place
from yattle.details.pan_shape import PanHead, PanShape, SeamSide
from yattle.errors import InputError
from yattle.measure import Whole
from yattle.pattern.body import Body
from yattle.pattern.pattern import SCREW
from yattle.pattern.surface import Surface

_FROM_EDGE, _BESIDE_LEG = 25.0, 40.0  # mm from a screwed foot's edge and from the seam legs to its screws
_ROOM = 3.0  # mm less than a lying seam's allowance that a foot is turned under


class StandingPan(Form):
    """A standing seam pan. Lengths in mm, angles in degrees.

    ``coverage``: at its lower end; ``coverage_top``: at its upper one, where it is tapered or a last pan
    ``height``, ``lock``: the low seam edge takes ``height`` + ``lock``, the high one ``height`` + 2 · ``lock``
    ``seam``: how the lock is closed
    ``hem``: turned under at the eave end, where the seam legs are kept ``back``
    ``head``: the upper end, plain, turned up by ``turn_up`` with its corners cut, folded up as a tray, turned over by
        ``cross`` for a lying seam, or its seams' ends cut down over ``taper`` to ``keep`` so that they can be laid over
    ``lean``: how far what it stands against leans off the square to the pan, + where that rises away from it
    ``foot``: its hem hooked on the eave's edge or only stiffening its own, no hem and a row of screws at most
        ``screw_pitch`` apart through tape, or turned under into a lying seam
    ``cut``: slants the upper end along a valley or hip, + where the left side is longer; ``allowance``: beyond it
    """

    detail: Literal["pan"] = "pan"
    id: Id = "PN1"
    coverage: Size
    coverage_top: Size | None = None
    length: RunLength
    height: Size = 25.0
    lock: Size = 10.0
    seam: Literal["single", "double", "snap"] = "single"
    hem: SizeOrNone = 30.0
    back: SizeOrNone = 45.0
    head: Literal["plain", "turned up", "tray", "cross seam", "laid over"] = "plain"
    turn_up: Size = 60.0
    lean: Annotated[float, Field(gt=-60, lt=60)] = 0.0
    cross: Size = 25.0
    taper: Size = 60.0
    keep: Size = 8.0
    foot: Literal["hooked", "hemmed", "screwed", "cross seam"] = "hooked"
    screw_pitch: Size = 150.0
    cut: Annotated[float, Field(gt=-75, lt=75)] = 0.0
    allowance: SizeOrNone = 0.0

    @property
    def top(self) -> float:
        """What the pan covers at its head, mm; as at its foot where that is not said."""
        return self.coverage if self.coverage_top is None else self.coverage_top

    @property
    def blank(self) -> float:
        """The blank's width at its lower end as the sum of its parts, mm."""
        return self.coverage + 2 * self.height + 3 * self.lock

    def surfaces(self) -> tuple[Surface, ...]:
        self._check()
        return (self.shape().surface(),)

    def shape(self) -> PanShape:
        """The pan in its own frame, the middle of its foot at 0."""
        long = self.length + self.allowance
        lean = math.tan(math.radians(self.cut)) * self.top / 2
        low, high = self.coverage / 2, self.top / 2
        left, right = (-high, long + lean), (high, long - lean)
        lying = self.head == "cross seam"
        sizes: dict[str, Any] = {
            "height": self.height, "lock": self.lock, "back": (self.back, self.cross + CLEAR if lying else CLEAR),
            "relief": ("high", self.keep, self.taper) if self.head == "laid over" else None}
        heads = (PanHead(left=left, right=right, rise=self.turn_up, lean=self.lean, tray=self.head == "tray"),) if (
            self.head in ("turned up", "tray")) else ()
        under = {"cross seam": self.cross - _ROOM, "screwed": 0.0}.get(self.foot, self.hem)
        hems = ((-low, 0.0), (low, 0.0), under), *(((left, right, -self.cross),) if lying else ())
        return PanShape(
            name="pan" if self.top == self.coverage else "tapered pan", straight=self.top == self.coverage,
            floor=((-low, 0.0), (low, 0.0), right, left), hems=hems, heads=heads, lines=self._foot_screws(),
            seams=(SeamSide(low=(-low, 0.0), high=left, side=-1, locks=1, **sizes),
                   SeamSide(low=(low, 0.0), high=right, side=1, locks=2, **sizes)))

    def _foot_screws(self) -> tuple[tuple[Place, Place, str], ...]:
        """Of a screwed foot the tape and its screws, clear of the seam legs."""
        if self.foot != "screwed":
            return ()
        reach = self.coverage / 2 - _BESIDE_LEG
        many = max(1, math.ceil(2 * reach / self.screw_pitch - 1e-9))
        places = [(-reach + 2 * reach * n / many, _FROM_EDGE) for n in range(many + 1)]
        return ((places[0], places[-1], "tape and screws"), *((place, place, SCREW) for place in places))

    def _check(self) -> None:
        if self.foot == "screwed" and self.coverage < 4 * _BESIDE_LEG:
            raise InputError("foot", f"screwed on a pan of {self.coverage:g} mm",
                             f"a pan of {4 * _BESIDE_LEG:g} mm or more, or a hem")
        if self.back >= self.length / 2:
            raise InputError("back", f"{self.back:g} mm", f"less than half the pan's length, {self.length / 2:g} mm")
        if self.head == "laid over" and self.keep > self.height - 2:
            raise InputError("keep", f"{self.keep:g} mm",
                             f"at most {self.height - 2:g} mm, less than the seam's height")
        if self.head == "cross seam" and self.cut:
            raise InputError("cut", f"{self.cut:g}°", "0: a lying seam runs level")
        if self.hem > self.back and self.foot in ("hooked", "hemmed"):
            raise InputError("back", f"{self.back:g} mm", f"the hem's {self.hem:g} mm or more, so that it can be "
                                                          f"hooked")
        if self.length < math.tan(math.radians(abs(self.cut))) * self.top / 2 + 2 * self.back:
            raise InputError("length", f"{self.length:g} mm", "a longer pan for a cut that slants so much")

    @property
    def notes(self) -> tuple[str, ...]:
        closed = {"single": "the hook turned under the lock once",
                  "double": "the lock turned down once more on the roof",
                  "snap": "the hook snaps over the lock, no seaming"}[self.seam]
        return (f"Blank {self.blank:g} wide below: {self.coverage:g} + {self.height + self.lock:g} low edge + "
                f"{self.height + 2 * self.lock:g} high edge; {closed}.",
                f"Seam legs kept back {self.back:g} at the eave; {self._foot_says()}.")

    def _foot_says(self) -> str:
        screws = len(self._foot_screws()) - 1
        return {"hooked": f"the hem of {self.hem:g} hooks on the eave's edge",
                "hemmed": f"the hem of {self.hem:g} stiffens the edge, clips and the head hold the pan",
                "screwed": f"{screws} screws through tape {_FROM_EDGE:g} from the edge, {_BESIDE_LEG:g} or more from "
                           "the legs; they fix the pan there: its head must be free to move",
                "cross seam": f"turned under by {self.cross - _ROOM:g} into the lying seam below"}[self.foot]

    def looks(self) -> tuple[Finding, ...]:
        if min(self.coverage, self.top) >= 150:
            return ()
        return (Finding("look", "a pan of {0}", "too narrow to seam well: shift the "
                        "layout so that both last pans are wider", "coverage", (Whole(min(self.coverage, self.top)),)),)


class Tray(Form):
    """The end of a pan folded up at a wall or chimney without a cut: the corners are pockets, sheet folded double
    behind the turn-up, no sealant. Folded by hand, so without allowances. Lengths in mm, angles in degrees.

    ``width``: between the seam legs; ``legs``: their height
    ``floor``: of the pan
    ``pitch``: of the roof, which ``rises`` to the plumb wall or falls from it
    """

    detail: Literal["tray"] = "tray"
    id: Id = "TR1"
    width: Size = 500.0
    floor: Size = 300.0
    legs: Size = 60.0
    pitch: Annotated[float, Field(ge=0, lt=60)] = 10.0
    rises: bool = True

    @property
    def pocket(self) -> float:
        """Degrees of sheet in each pocket: 360 less the pan's 90, the turn-up's 90 and what the leg takes."""
        return 90.0 - self.pitch if self.rises else 90.0 + self.pitch

    @property
    def jig(self) -> float:
        """Half the pocket, the angle that the folding jig is set to. Degrees."""
        return self.pocket / 2

    def surfaces(self) -> tuple[Surface, ...]:
        """The tray as one sheet. Raises :class:`InputError` where the legs leave no width between them."""
        rise = self.legs / math.cos(math.radians(self.pitch))
        if self.pocket < 20 or 2 * rise * math.sin(math.radians(self.jig)) > self.width:
            raise InputError("width", f"{self.width:g} mm with legs of {self.legs:g} mm",
                             "a wider pan or lower legs: the pockets would meet behind the turn-up")
        half, lean = self.width / 2, self.pitch if self.rises else -self.pitch
        left, right = (-half, 0.0), (half, 0.0)
        foot = (-half, -self.floor), (half, -self.floor)
        pan = PanShape(name="tray", floor=(*foot, right, left), straight=False,
                       heads=(PanHead(left=left, right=right, rise=rise, lean=lean, tray=True),),
                       seams=(SeamSide(low=foot[0], high=left, side=-1, height=self.legs),
                              SeamSide(low=foot[1], high=right, side=1, height=self.legs)))
        return (pan.surface(), *self.template())

    def template(self) -> tuple[Surface, ...]:
        """The folding jig on paper, its angle half the pocket's."""
        body, turn = Body("folding jig", paper=True), math.radians(self.jig)
        long = self.legs / math.cos(math.radians(self.pitch)) + 60
        body.add("jig", [(0, 0, 0), (long, 0, 0), (long * math.cos(turn), long * math.sin(turn), 0)], UP)
        return (body.surface(),)

    @property
    def notes(self) -> tuple[str, ...]:
        return (f"Pocket {self.pocket:.1f}° = 360 − 90 pan − 90 turn-up − {360 - 180 - self.pocket:.1f} leg; the jig "
                f"is set "
                f"to half of it, {self.jig:.1f}°.",
                "Order: turn-up and legs part way, pockets creased over the jig, all brought up together, pockets laid "
                "behind the turn-up.", "No cut, no sealant; try it in paper first.")
