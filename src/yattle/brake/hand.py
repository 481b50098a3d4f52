"""What is folded without a machine: tongs, and two boards with a mallet, tried on the piece as the brake leaves it.

To the simulation a hand tool is a small brake that is held in the hand: its jaws lie on the sheet on one side of the
fold, all along what they hold, and the rest of the piece swings. So whatever stands up in the way of the jaws or of
the swing is seen, as on a machine.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from itertools import permutations

from yattle.brake.machine import Brake, FoldJob
from yattle.brake.simulate import Simulator
from yattle.brake.state import POSITIONS, Bench
from yattle.section import Girth, girth_of

_ARM = 200.0  # mm: how far tongs reach back to the hands
_SLIVER = ((0.0, 0.0), (3.0, 0.0), (3.0, -3.0), (0.0, -3.0))
"""The leaf of a tool that has none."""


@dataclass(frozen=True)
class HandTool:
    """What a hand tool can do. Lengths in mm.

    ``depth``: how far from an edge of the folded piece it reaches; ``least``: flat it can grip
    ``width``: of fold it takes at a time, 0: the whole length
    ``max_turn``: degrees; ``max_length``, ``max_thickness``: of the piece
    ``thick``: of one jaw; ``jaws``: how long they are from the fold, any of these
    """

    name: str
    depth: float
    width: float
    max_turn: float
    least: float
    max_length: float
    max_thickness: float
    thick: float
    jaws: tuple[float, ...]

    def bites(self, length: float) -> int:
        """How many times it is set on along a fold of ``length`` mm."""
        return 1 if self.width == 0 else -int(-length // self.width)

    @lru_cache(maxsize=8)  # noqa: B019  the tools are two constants
    def brakes(self) -> tuple[Brake, ...]:
        """The tool as brakes, one for each length of its jaws."""
        return tuple(self._brake(jaw) for jaw in self.jaws)

    def _brake(self, jaw: float) -> Brake:
        high = self.thick
        return Brake(name=self.name, max_length=self.max_length, max_thickness=self.max_thickness,
                     max_turn=self.max_turn, throat=self.depth, min_flange=self.least, min_hold=self.least,
                     clamp=((0.0, 0.0), (-1.0, high), (-jaw, high), (-jaw, 0.0)), leaf=_SLIVER,
                     bed=((0.0, 0.0), (-jaw, 0.0), (-jaw, -high), (-1.0, -high)), can_flatten=False)


TONGS = HandTool("hand tongs", depth=50.0, width=100.0, max_turn=100.0, least=4.0, max_length=6000.0, max_thickness=1.0,
                 thick=9.0, jaws=(_ARM,))
BOARDS = HandTool("two boards and a mallet", depth=600.0, width=0.0, max_turn=95.0, least=25.0, max_length=3600.0,
                  max_thickness=0.8, thick=25.0, jaws=(30.0, 45.0, 70.0, 120.0))
HAND_TOOLS = (TONGS, BOARDS)


@dataclass(frozen=True)
class HandFold:
    """A fold made by hand: with what, ``deep`` mm from the edge of the folded piece that the tool comes over."""

    fold: str
    tool: HandTool
    deep: float

    def says(self, length: float) -> str:
        """In words, for a piece of ``length`` mm."""
        bites = self.tool.bites(length)
        return (f"{self.fold} to {self.tool.name}, {self.deep:.0f} mm from the edge, {bites} "
                f"bite{'' if bites == 1 else 's'}")


def folds_by_hand(job: FoldJob, folds: Iterable[str]) -> tuple[HandFold, ...] | None:
    """How these folds are made by hand when all others are made, in an order in which each can be; ``None`` where they
    cannot. Every one is tried on the piece as it then is."""
    girth, left = girth_of(job.profile), tuple(folds)
    if not isinstance(girth, Girth):
        return None
    for order in permutations(left):
        made: list[HandFold] = []
        for n, fold in enumerate(order):
            found = _one(job, girth, fold, frozenset(order[n:]))
            if found is None:
                break
            made.append(found)
        if len(made) == len(left):
            return tuple(made)
    return None


def _one(job: FoldJob, girth: Girth, fold: str, open_still: frozenset[str]) -> HandFold | None:
    """With which tool a fold can be made while those ``open_still`` are flat; tongs before boards."""
    for tool in HAND_TOOLS:
        if job.length > tool.max_length or job.profile.metal.thickness > tool.max_thickness:
            continue
        for brake in tool.brakes():
            deep = _deep(Bench(girth, brake), fold, open_still)
            if deep is not None:
                return HandFold(fold, tool, deep)
    return None


def _deep(bench: Bench, fold: str, open_still: frozenset[str]) -> float | None:
    """How deep the tool holds the piece, mm, from the side where that is least; ``None`` where it strikes or does not
    reach."""
    bit = next(n for n, action in enumerate(bench.actions) if action.fold == fold)
    action = bench.actions[bit]
    if action.kind != "fold" or abs(action.turn) > bench.brake.max_turn:
        return None
    done = sum(1 << n for n, one in enumerate(bench.actions) if one.fold not in open_still)
    simulator, found = Simulator(bench), []
    for face, out in POSITIONS:
        if face == action.face and bench.limit(done, action, out) is None and simulator.free(done, bit, out):
            held = simulator.side(done, action.index, "B" if out == "A" else "A", 1 if face == "paint" else -1)
            found.append(float(held[:, 0].max()))
    return min(found, default=None)
