"""What a half-folded piece is to the search: which actions are done, how it lies on the brake.

An *action* is one stroke: a fold, a hem's fold, or a hem's flatten. The section is the
chain of straight parts between fold marks on the blank. A *position* is which face is up
and which edge is out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from yattle.brake.machine import Brake
from yattle.section import Girth

Face = Literal["paint", "back"]
Edge = Literal["A", "B"]
Position = tuple[Face, Edge]
POSITIONS: tuple[Position, ...] = (("paint", "A"), ("paint", "B"), ("back", "A"), ("back", "B"))
PREFOLD = 150.0
HANDS = {"start": "lay in", "stay": "leave it", "roll": "roll over", "spin": "spin end for end",
         "roll+spin": "roll and spin"}
"""What the hands do for each kind of handling."""


def handling(before: Position | None, after: Position) -> tuple[int, str]:
    """Cost and name of bringing the piece from one position to the next.

    Rolling over its long axis changes face and edge (1), spinning it end for end the edge
    alone (2), both the face alone (3).
    """
    if before is None:
        return 0, "start"
    face, edge = before[0] != after[0], before[1] != after[1]
    return {(False, False): (0, "stay"), (True, True): (1, "roll"),
            (False, True): (2, "spin"), (True, False): (3, "roll+spin")}[face, edge]


@dataclass(frozen=True)
class Operation:
    """One stroke: on which fold (its place in the chain), to which signed turn. In degrees, + toward the paint face;
    ``flatten`` presses a hem shut."""

    index: int
    fold: str
    kind: Literal["fold", "flatten"]
    turn: float
    needs: int  # bits of actions that must be done before

    @property
    def face(self) -> Face:
        return "paint" if self.turn > 0 else "back"


@dataclass(frozen=True)
class Limit:
    """Why a stroke is not possible: on which fold, against what."""

    fold: str
    against: str
    says: str


class Bench:
    """A section on a brake: its actions, and whether a stroke is possible in a state."""

    def __init__(self, girth: Girth, brake: Brake) -> None:
        self.girth, self.brake = girth, brake
        self.marks = tuple(bend.mark for bend in girth.bends)
        self.actions = tuple(self._actions())
        self._turns: dict[int, tuple[float, ...]] = {}
        self._limits: dict[tuple[str, str, Edge, str, int], Limit | None] = {}

    def _actions(self) -> list[Operation]:
        actions: list[Operation] = []
        for index, bend in enumerate(self.girth.bends):
            if bend.turn == 0:
                continue
            if bend.kind == "fold":
                actions.append(Operation(index, bend.id, "fold", bend.turn, 0))
                continue
            prefold = math.copysign(min(self.brake.max_turn, PREFOLD), bend.turn)
            actions.append(Operation(index, bend.id, "fold", prefold, 0))
            actions.append(Operation(index, bend.id, "flatten", bend.turn, 1 << (len(actions) - 1)))
        return actions

    @cached_property
    def everything(self) -> int:
        return (1 << len(self.actions)) - 1

    def turns(self, done: int) -> tuple[float, ...]:
        """The signed turn, degrees, that each fold of the chain has when the operations ``done`` are done."""
        if done not in self._turns:
            self._turns[done] = self._turns_of(done)
        return self._turns[done]

    def _turns_of(self, done: int) -> tuple[float, ...]:
        turns = [0.0] * len(self.marks)
        for bit, action in enumerate(self.actions):
            if done >> bit & 1:
                turns[action.index] = action.turn
        return tuple(turns)

    @cached_property
    def beside(self) -> dict[tuple[int, str], int]:
        """Bits of the strokes on the A side and on the B side of each fold."""
        sides = {}
        for index in range(len(self.marks)):
            sides[(index, "A")] = sum(1 << bit for bit, a in enumerate(self.actions) if a.index < index)
            sides[(index, "B")] = sum(1 << bit for bit, a in enumerate(self.actions) if a.index > index)
        return sides

    def limit(self, done: int, action: Operation, out: Edge) -> Limit | None:
        """What of the machine's plain limits stops this stroke; ``None`` when nothing does.

        The flange hangs on what is made outside the fold, hold and throat on what is made inside, so each is
        worked out once for each side.
        """
        inside = done & self.beside[(action.index, "B" if out == "A" else "A")]
        key = (action.fold, action.kind, out)
        outside = done & self.beside[(action.index, out)]
        if (*key, "out", outside) not in self._limits:
            self._limits[(*key, "out", outside)] = self._flange(done, action, out)
        if (*key, "in", inside) not in self._limits:
            self._limits[(*key, "in", inside)] = self._hold(done, action, out)
        return self._limits[(*key, "out", outside)] or self._limits[(*key, "in", inside)]

    def _flange(self, done: int, action: Operation, out: Edge) -> Limit | None:
        outside, _ = self._room(self.turns(done), action.index, out)
        if action.kind == "flatten" or outside >= self.brake.min_flange:
            return None
        return Limit(action.fold, "flange", f"{action.fold}: {outside:.1f} mm outside the fold line, "
                     f"the leaf needs {self.brake.min_flange:g} mm")

    def _hold(self, done: int, action: Operation, out: Edge) -> Limit | None:
        turns = self.turns(done)
        _, inside = self._room(turns, action.index, out)
        if action.kind == "fold" and inside < self.brake.min_hold:
            return Limit(action.fold, "hold", f"{action.fold}: {inside:.1f} mm under the jaw, "
                         f"it needs {self.brake.min_hold:g} mm")
        depth = self._held_depth(turns, action, out)
        if depth <= self.brake.throat:
            return None
        return Limit(action.fold, "throat", f"{action.fold}: the held part reaches {depth:.0f} mm into the "
                     f"machine, its throat is {self.brake.throat:g} mm")

    def _room(self, turns: tuple[float, ...], index: int, out: Edge) -> tuple[float, float]:
        """Flat beside the fold mark, outside and inside, to the next fold made or the raw edge."""
        mark = self.marks[index]
        toward_a = mark - max((m for m, t in zip(self.marks[:index], turns, strict=False) if t), default=0.0)
        toward_b = min((m for m, t in zip(self.marks[index + 1:], turns[index + 1:], strict=True) if t),
                       default=self.girth.girth) - mark
        return (toward_a, toward_b) if out == "A" else (toward_b, toward_a)

    def _held_depth(self, turns: tuple[float, ...], action: Operation, out: Edge) -> float:
        """How far the held part of the chain reaches behind the fold line, mm."""
        edges = (0.0, *self.marks, self.girth.girth)
        place = action.index + 1
        if action.kind == "flatten" and (action.fold == "hA") != (out == "A"):
            return edges[1] if action.fold == "hA" else edges[-1] - edges[-2]  # only the hem is in the jaw
        order = range(place, len(edges) - 1) if out == "A" else range(place - 1, -1, -1)
        x, deepest, heading = 0.0, 0.0, 0.0
        for n in order:
            x += (edges[n + 1] - edges[n]) * math.cos(math.radians(heading))
            deepest = max(deepest, x)
            beyond = n if out == "A" else n - 1
            if 0 <= beyond < len(turns):
                heading += turns[beyond]
        return deepest
