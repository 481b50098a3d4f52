"""What is folded without a machine: tongs, and two boards with a mallet."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class HandTool:
    """What a hand tool can do. Lengths in mm.

    ``depth``: how far from an edge it reaches; ``least``: flange it can grip
    ``width``: of fold it takes at a time, 0: the whole length
    ``max_turn``: degrees; ``max_length``: of the piece
    """

    name: str
    depth: float
    width: float
    max_turn: float
    least: float
    max_length: float

    def reaches(self, from_edge: float, turn: float, length: float) -> bool:
        """Whether a fold ``from_edge`` mm inside the nearer edge can be made by hand."""
        return self.least <= from_edge <= self.depth and abs(turn) <= self.max_turn and length <= self.max_length

    def bites(self, length: float) -> int:
        """How many times it is set on along a fold of ``length`` mm."""
        return 1 if self.width == 0 else -int(-length // self.width)


TONGS = HandTool("hand tongs", depth=50.0, width=100.0, max_turn=100.0, least=4.0, max_length=6000.0)
BOARDS = HandTool("two boards and a mallet", depth=600.0, width=0.0, max_turn=95.0, least=25.0, max_length=3600.0)
HAND_TOOLS = (TONGS, BOARDS)
