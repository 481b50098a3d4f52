"""What follows from a module's profile: ribs, flats, clear widths, height, the blank of a pan made in the shop.

All of it is read off the points (across, up), seen from the eave, mm; nothing is typed twice.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from yattle.errors import InputError
from yattle.measure import Sum, Term
from yattle.panels.system import PanelSystem
from yattle.section import Girth, MetalSpec, Profile, girth_of

_LEVEL = 6.0  # degrees: what lies flatter is a flat
_SCREW = 20.0  # mm: the least flat that takes a screw with its washer
_ON = 1.0  # mm: heights that are one


@dataclass(frozen=True)
class Rib:
    """A rib: its middle, ``foot`` and ``top`` width and height over the flats, mm."""

    at: float
    foot: float
    top: float
    height: float


@dataclass(frozen=True)
class PanelFlat:
    """A flat between ribs or seams, from ``left`` to ``right``, mm across."""

    left: float
    right: float

    @property
    def width(self) -> float:
        """Its width, mm."""
        return self.right - self.left

    @property
    def takes_screw(self) -> bool:
        """Whether a screw with its washer lies on it."""
        return self.width >= _SCREW


@dataclass(frozen=True)
class ModuleFigures:
    """What a profile comes to, mm.

    ``coverage``: from seam to seam; ``height`` over the flats
    ``ribs``: those of one module, the one that is lapped once; ``rib_pitch``: from one to the next, 0 of none
    ``flats``: at the lowest level
    ``clear``: the widest free flat between two seams or ribs, where closures and feet stand
    """

    coverage: float
    height: float
    ribs: tuple[Rib, ...]
    rib_pitch: float
    flats: tuple[PanelFlat, ...]
    clear: float


def derive_profile(system: PanelSystem) -> ModuleFigures:
    """Read a system's figures off its profile."""
    base = _base(system)
    ribs = _ribs(system, base)
    flats = tuple(_flats(system, base))
    height = max(y for _, y in system.profile) - base
    coverage = system.pitch_of_seams
    pitch = coverage / len(ribs) if ribs else 0.0
    if system.kind in ("standing seam", "snap seam"):
        clear = coverage - system.seam
    else:
        clear = pitch - max((rib.foot for rib in ribs), default=0.0) if ribs else coverage
    return ModuleFigures(coverage, height, ribs, pitch, flats, clear)


def _base(system: PanelSystem) -> float:
    """The level of the flats: that of the most level metal, weighed by its width."""
    level: dict[float, float] = {}
    for (ax, ay), (bx, by) in pairwise(system.profile):
        if _is_level(ax, ay, bx, by):
            key = round((ay + by) / 2)
            level[key] = level.get(key, 0.0) + abs(bx - ax)
    widest = max(level.values(), default=0.0)
    low = [height for height, wide in level.items() if wide > 0.35 * widest]
    return float(min(low, default=min(y for _, y in system.profile)))


def _is_level(ax: float, ay: float, bx: float, by: float) -> bool:
    return abs(math.degrees(math.atan2(by - ay, bx - ax))) < _LEVEL or abs(
        abs(math.degrees(math.atan2(by - ay, bx - ax))) - 180) < _LEVEL


def _ribs(system: PanelSystem, base: float) -> tuple[Rib, ...]:
    """Stretches of the profile that rise from the flats and come down again, within the module; of a rib that is lapped
    at the sides only the right one."""
    if system.kind in ("standing seam", "snap seam", "shingle"):
        return ()
    found, start = list[Rib](), None
    points = system.profile
    for n, (a, b) in enumerate(pairwise(points)):
        if a[1] <= base + _ON < b[1] and start is None:
            start = n
        if b[1] <= base + _ON < a[1] and start is not None:
            inside = points[start:n + 2]
            high = max(y for _, y in inside)
            top = [x for x, y in inside if y > high - _ON]
            found.append(Rib((inside[0][0] + inside[-1][0]) / 2, inside[-1][0] - inside[0][0], max(top) - min(top),
                             high - base))
            start = None
    half = 0.5 * system.pitch_of_seams / max(len(found), 1)
    return tuple(rib for rib in found if system.under + 0.05 * half < rib.at <= system.over + 0.05 * half)


def _flats(system: PanelSystem, base: float) -> Iterator[PanelFlat]:
    """Level stretches at the flats' height, neighbours drawn together."""
    left: float | None = None
    right = 0.0
    for (ax, ay), (bx, by) in pairwise(system.profile):
        if _is_level(ax, ay, bx, by) and abs((ay + by) / 2 - base) < 3 * _ON:
            left, right = (ax if left is None else left), bx
        elif left is not None:
            yield PanelFlat(min(left, right), max(left, right))
            left = None
    if left is not None:
        yield PanelFlat(min(left, right), max(left, right))


def figures_of(system: PanelSystem) -> tuple[Sum, ...]:
    """Coverage, clear width and, of a pan made in the shop, its blank, each as the sum it comes from, mm; the blank
    before its folds' allowances."""
    read = derive_profile(system)
    found = [Sum("coverage", (Term("right seam", system.over), Term("left seam", -system.under)))]
    if system.kind in ("standing seam", "snap seam"):
        found.append(Sum("clear", (Term("coverage", read.coverage), Term("seam", -system.seam))))
    elif read.ribs:
        foot = max(rib.foot for rib in read.ribs)
        found.append(Sum("clear", (Term("rib to rib", read.rib_pitch), Term("rib's foot", -foot))))
    past = system.profile[-1][0] - system.over
    if system.made == "shop" and system.kind in ("standing seam", "snap seam") and past > 0:
        found.append(Sum("blank", (Term("coverage", read.coverage), Term("low edge", read.height + past),
                                   Term("high edge", read.height + 2 * past))))
    return tuple(found)


def blank_width(system: PanelSystem, metal: MetalSpec) -> float:
    """The girth of one module made from coil, mm: its profile as legs and turns by the metal's allowance rule. Raises
    :class:`~yattle.errors.InputError` where it cannot be folded."""
    legs = [math.dist(a, b) for a, b in pairwise(system.profile)]
    ways = [math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) for a, b in pairwise(system.profile)]
    turns = [(after - before + 180) % 360 - 180 for before, after in pairwise(ways)]
    kept_legs, kept_turns = [legs[0]], list[float]()
    for leg, turn in zip(legs[1:], turns, strict=True):
        if abs(turn) < 0.05:
            kept_legs[-1] += leg
        else:
            kept_legs.append(leg)
            kept_turns.append(turn)
    found = girth_of(Profile(name=system.name, metal=metal, legs=tuple(kept_legs), turns=tuple(kept_turns)))
    if not isinstance(found, Girth):
        raise InputError("profile", "; ".join(found.reasons), "a profile that can be folded in this metal")
    return found.girth
