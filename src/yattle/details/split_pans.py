"""A pan split at a pipe: the lower one, the upper one that laps over it, and how far. Frames as in
:mod:`yattle.details.pan_shape`, the pipe's middle at 0; mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.details.pan_floor import CLEAR, Place
from yattle.details.pan_shape import PanSet, PanShape, SeamSide
from yattle.errors import InputError

LEAST_PAST = 25.0  # mm that a pan goes on past its hole at the least


@dataclass(frozen=True)
class SplitAtPipe:
    """Where a pan is split at a pipe of a ``bore`` (its hole's radius) on a roof of ``pitch`` degrees: both pans go on
    ``past`` their holes, or lap by ``lap`` where that is said. ``gap``: by how much the upper hole is wider all round.
    In mm."""

    bore: float
    pitch: float
    past: float
    gap: float = 0.0
    lap: float | None = None

    @property
    def half(self) -> float:
        """Half the upper hole along the slope, mm."""
        return (self.bore + self.gap) / math.cos(math.radians(self.pitch))

    @property
    def over(self) -> float:
        """How far the upper pan laps over the lower one, mm. Raises :class:`InputError` where the holes would reach
        an edge."""
        least = 2 * (self.half + LEAST_PAST)
        if self.lap is not None and self.lap < least - 1e-9:
            raise InputError("pan_lap", f"{self.lap:g} mm", f"{math.ceil(least)} mm or more: the hole is "
                             f"{2 * self.half:.0f} along the slope and stays whole in both pans, {LEAST_PAST:g} from "
                             "their edges")
        return 2 * (self.half + max(self.past, LEAST_PAST)) if self.lap is None else self.lap

    def hole(self, upper: bool, parts: int) -> tuple[Place, ...]:
        """The hole in one of the pans: an ellipse on the slope, about the pipe's middle."""
        across = self.bore + (self.gap if upper else 0.0)
        turns = np.linspace(0.0, 2 * math.pi, parts + 1)[:-1]
        along = across / math.cos(math.radians(self.pitch))
        return tuple((float(across * math.cos(t)), float(along * math.sin(t))) for t in turns)


@dataclass(frozen=True)
class SplitSeams:
    """The seams of the pans that are split, from their ``left`` side to their ``right`` one (x, the pipe's middle at
    0): ``height`` and ``lock``; the strip set down at the upper pan's foot is ``set_width`` wide, by ``set_angle``
    degrees. In mm."""

    left: float
    right: float
    height: float
    lock: float
    set_width: float
    set_angle: float


def lower_pan(split: SplitAtPipe, seams: SplitSeams, reach: float, parts: int) -> PanShape:
    """The lower pan from ``reach`` mm below the pipe: over the lap its lock is cut off and its leg kept, so that it
    stands between its neighbours' legs."""
    top = split.over / 2
    return _pan("lower pan", seams, (-reach, top), split.hole(False, parts), free=(0.0, split.over))


def upper_pan(split: SplitAtPipe, seams: SplitSeams, reach: float, parts: int) -> PanShape:
    """The upper pan up to ``reach`` mm above the pipe, with its whole lock and a strip set down along its foot."""
    foot = -split.over / 2
    pan = _pan("upper pan", seams, (foot, reach), split.hole(True, parts), free=(0.0, 0.0))
    if not (seams.set_width and seams.set_angle):
        return pan
    edge = PanSet(a=(seams.left, foot), b=(seams.right, foot), width=seams.set_width, angle=seams.set_angle)
    return pan.but(sets=(edge,))


def _pan(name: str, seams: SplitSeams, reach: tuple[float, float], hole: tuple[Place, ...],
         free: tuple[float, float]) -> PanShape:
    (low, high), left, right = reach, seams.left, seams.right
    return PanShape(
        name=name, floor=((left, low), (right, low), (right, high), (left, high)), holes=(hole,),
        seams=(SeamSide(low=(left, low), high=(left, high), side=-1, height=seams.height, lock=seams.lock, locks=1,
                        back=(CLEAR, CLEAR), free=free),
               SeamSide(low=(right, low), high=(right, high), side=1, height=seams.height, lock=seams.lock, locks=2,
                        back=(CLEAR, CLEAR), free=free)))
