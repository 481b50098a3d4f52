"""Standing seam pans: blanks, tapered ones, the tray folded up at a wall without a cut, the relief where three meet."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, RunLength, Size, SizeOrNone
from yattle.details.common import Finding
from yattle.details.feet import UP, Array
from yattle.details.forms import Form
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.surface import Crease, Surface

_CLEAR = 3.0  # mm from a seam leg's end to the pan's head: room for the relief cut beside a turn-up


class StandingPan(Form):
    """A standing seam pan. Lengths in mm, angles in degrees.

    ``coverage``: at its lower end; ``coverage_top``: at its upper one, where it is tapered or a last pan
    ``height``, ``lock``: the low seam edge takes ``height`` + ``lock``, the high one ``height`` + 2 · ``lock``
    ``seam``: how the lock is closed
    ``hem``: turned under at the eave end, where the seam legs are kept ``back``
    ``head``: the upper end, plain or turned up by ``turn_up``
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
    head: Literal["plain", "turned up"] = "plain"
    turn_up: Size = 60.0
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
        body = Body("pan" if self.top == self.coverage else "tapered pan")
        long = self.length + self.allowance
        lean = math.tan(math.radians(self.cut)) * self.top / 2
        low = [np.array([-self.coverage / 2, 0.0, 0.0]), np.array([self.coverage / 2, 0.0, 0.0])]
        high = [np.array([-self.top / 2, long + lean, 0.0]), np.array([self.top / 2, long - lean, 0.0])]
        floor = body.add("pan", [low[0], low[1], high[1], high[0]], UP)
        if self.hem:
            body.flap(floor, low[0], low[1], (0.0, self.hem, 0.0), -UP, "eave hem", "brake",
                      (min(15.0, self.hem), min(15.0, self.hem)), layer=-UP)
        for n, locks in ((0, 1), (1, 2)):
            self._leg(body, floor, low[n], high[n], -1.0 if n == 0 else 1.0, locks)
        if self.head == "turned up":
            body.flap(floor, high[1], high[0], UP * self.turn_up, (0, -1, 0), "turn-up")
        return (replace(body.surface(), straight=self.top == self.coverage),)

    def _leg(self, body: Body, floor: int, low: Array, high: Array, side: float, locks: int) -> None:
        """A seam's leg on one side, kept back from the eave: up, out, and on the high side down again."""
        way = (high - low) / np.linalg.norm(high - low)
        start, end = low + way * self.back, high - way * _CLEAR
        out = np.cross(way, UP) * (1.0 if side > 0 else -1.0)
        out = out if out[0] * side > 0 else -out
        face, at = floor, [start, end]
        steps = [UP * self.height, out * self.lock, -UP * self.lock][:locks + 1]
        paints = [-out, UP, out][:locks + 1]
        names = ["seam leg", "lock", "hook"]
        for step, paint, name in zip(steps, paints, names, strict=False):
            child = body.add(name, [at[0], at[1], at[1] + step, at[0] + step], paint)
            body.fold(face, child, at[0], at[1])
            face, at = child, [at[0] + step, at[1] + step]

    def _check(self) -> None:
        if self.back >= self.length / 2:
            raise InputError("back", f"{self.back:g} mm", f"less than half the pan's length, {self.length / 2:g} mm")
        if self.hem > self.back:
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
                f"Seam legs kept back {self.back:g} at the eave; the hem of {self.hem:g} hooks on the eave's edge.")

    def looks(self) -> tuple[Finding, ...]:
        if min(self.coverage, self.top) >= 150:
            return ()
        return (Finding("look", f"a pan of {min(self.coverage, self.top):.0f} mm", "too narrow to seam well: shift the "
                        "layout so that both last pans are wider", "coverage"),)


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
        lean = math.radians(self.pitch if self.rises else -self.pitch)
        plumb = np.array([0.0, math.sin(lean), math.cos(lean)])  # in the pan's frame, the wall at y = 0
        rise = self.legs / math.cos(lean)
        if self.pocket < 20 or 2 * rise * math.sin(math.radians(self.jig)) > self.width:
            raise InputError("width", f"{self.width:g} mm with legs of {self.legs:g} mm",
                             "a wider pan or lower legs: the pockets would meet behind the turn-up")
        body, half = Body("tray"), self.width / 2
        corners = [np.array([half * side, 0.0, 0.0]) for side in (-1, 1)]
        back = np.array([0.0, -self.floor, 0.0])
        floor = body.add("pan", [corners[0], corners[1], corners[1] + back, corners[0] + back], UP)
        head = body.add("turn-up", [corners[0], corners[1], corners[1] + plumb * rise, corners[0] + plumb * rise],
                        np.array([0.0, -1.0, 0.0]))
        body.fold(floor, head, corners[0], corners[1], "tongs", soft=True)
        closing = [self._corner(body, floor, head, corners[n], plumb, rise, (-1.0, 1.0)[n]) for n in (0, 1)]
        surface = body.surface()
        creases = tuple(Crease(a, _edge_of(surface, a, p, q), b, "tongs", soft=True) for a, b, p, q in closing)
        return (Surface(surface.name, surface.faces, surface.creases, 1, creases), *self._template())

    def _corner(self, body: Body, floor: int, head: int, at: Array, plumb: Array, rise: float,
                side: float) -> tuple[int, int, Array, Array]:
        """A seam leg and the pocket between it and the turn-up."""
        back, top = np.array([0.0, -self.floor, 0.0]), at + plumb * rise
        leg_top = at + back + UP * self.legs
        leg = body.add("seam leg", [at, at + back, leg_top, top], (-side, 0, 0))
        body.fold(floor, leg, at, at + back, "tongs", soft=True)
        turn = math.radians(self.jig)
        tip = at + (plumb * math.cos(turn) + np.array([-side, 0.0, 0.0]) * math.sin(turn)) * rise
        behind = np.array([0.0, 1.0, 0.0])  # turn-up, then the pocket's two halves behind it
        inner = body.add("pocket", [at, top, tip], behind, behind)
        outer = body.add("pocket", [at, top, tip], -behind, 2 * behind)
        body.fold(head, inner, at, top, "tongs", soft=True)
        body.fold(leg, outer, at, top, "tongs", soft=True)
        return inner, outer, at, tip

    def _template(self) -> tuple[Surface, ...]:
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


class ThreePans(Form):
    """The end of a seam where three pans meet: ``over`` one over two or two over one. The seam is laid over toward
    ``hand``, its end relieved by a tapered cut so that never more than two locks lie on each other. A template
    for the cut, laid on the upright seam's leg; ``school`` offset keeps the seams apart by ``offset`` instead,
    no cut. Lengths in mm, angles in degrees."""

    detail: Literal["three-pans"] = "three-pans"
    id: Id = "TP1"
    over: Literal["one over two", "two over one"] = "one over two"
    hand: Literal["left", "right"] = "left"
    school: Literal["relieved", "offset"] = "relieved"
    height: Size = 25.0
    lock: Size = 10.0
    layers: Annotated[int, Field(ge=2, le=6)] = 4
    taper: Size = 60.0
    offset: Size = 100.0

    def surfaces(self) -> tuple[Surface, ...]:
        """The pans' ends at the seam. Raises :class:`InputError` where the taper of the cut is less than the seam's
        height."""
        if self.school == "offset":
            return (self._shim().surface(),)
        if self.taper < self.height:
            raise InputError("taper", f"{self.taper:g} mm", f"the seam's height or more, {self.height:g} mm: a "
                                                            f"shorter cut "
                             "tears when the seam is laid over")
        full = self.height + (2 if self.over == "one over two" else 1) * self.lock
        side = 1.0 if self.hand == "left" else -1.0
        body = Body(f"relief template, {self.hand}", paper=True)
        keep = self.lock if self.over == "one over two" else self.lock / 2
        body.add("template", [(0, 0, 0), (side * (self.taper + 80), 0, 0), (side * (self.taper + 80), full, 0),
                              (side * self.taper, full, 0), (0, keep, 0)], UP)
        return (body.surface(),)

    def _shim(self) -> Body:
        body = Body("offset gauge", paper=True)
        body.add("gauge", [(0, 0, 0), (self.offset, 0, 0), (self.offset, 40, 0), (0, 40, 0)], UP)
        return body

    @property
    def notes(self) -> tuple[str, ...]:
        thick = self.layers * self.metal.thickness
        if self.school == "offset":
            return (f"Seams above and below stand {self.offset:g} apart: three never meet, no cut; the upper pans' "
                    f"layout "
                    "differs from the lower one.",)
        return (f"Cut from {self.lock:g} at the end to nothing over {self.taper:g}; laid over, {self.layers} layers "
                f"are "
                f"{thick:.1f} thick instead of {thick + 3 * self.metal.thickness:.1f}.",
                "The template lies on the leg with its long side on the pan; the other hand is its mirror image.")


def _edge_of(surface: Surface, face: int, a: Array, b: Array) -> int:
    """Which edge of a face runs between two places."""
    ring = [np.array(p) for p in surface.faces[face].corners]
    for k, p in enumerate(ring):
        q = ring[(k + 1) % len(ring)]
        if min(np.abs(p - a).max() + np.abs(q - b).max(), np.abs(p - b).max() + np.abs(q - a).max()) < 1e-6:
            return k
    raise InputError(surface.name, "a pocket whose sides do not meet", "legs as high as the turn-up")
