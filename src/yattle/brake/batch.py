"""Many like pieces: each finished before the next, or one setting of the machine for all of them."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.brake.order import Step


@dataclass(frozen=True)
class Batch:
    """What the two ways cost for a number of pieces.

    A *setting* is a change of gauge or leaf stop; a *lift* is laying a piece in that was not on the
    machine. Rolls and spins (``handling``) are the same in both, so they do not decide.
    """

    pieces: int
    settings_each: int
    handling: int

    @property
    def one_by_one(self) -> tuple[int, int]:
        """(lifts, settings): every piece is laid in once, the machine set anew for every stroke."""
        return self.pieces, self.pieces * self.settings_each

    @property
    def all_at_once(self) -> tuple[int, int]:
        """(lifts, settings): the machine is set once a stroke, every piece laid in for each setting."""
        return self.pieces * self.settings_each, self.settings_each

    def better(self, lift: float = 1.0, setting: float = 1.0) -> str:
        """``one by one`` or ``all at once``, for what a lift and a setting are worth to the shop (any unit)."""
        costs = {name: lifts * lift + settings * setting
                 for name, (lifts, settings) in (("one by one", self.one_by_one), ("all at once", self.all_at_once))}
        return min(costs, key=lambda name: costs[name])


def batch(steps: tuple[Step, ...], pieces: int) -> Batch:
    """Settings are counted from stroke to stroke: the same mark and leaf angle need no new one."""
    settings = 0
    before: tuple[float, float | None] | None = None
    for step in steps:
        now = (round(step.mark_from_out_edge, 3), step.set_angle)
        flattens_in_place = step.set_angle is None and before is not None and before[0] == now[0]
        if now != before and not flattens_in_place:
            settings += 1
        before = now
    handling = sum({"roll": 1, "spin": 2, "roll+spin": 3}.get(step.handling, 0) for step in steps)
    return Batch(pieces, settings, handling * pieces)
