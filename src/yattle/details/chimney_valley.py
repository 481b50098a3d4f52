"""Whether a chimney can be flashed by a valley beside or beneath it."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from yattle.details.feet import Meets, RoofHere, Stretch
from yattle.errors import InputError

Widths = tuple[float, float, float]
"""How far flanges lie out on the roof below, beside and behind, mm."""
_SHORT = 120.0  # mm: the shortest foot between a corner and a valley


def check_valley(valley: Meets, roof: RoofHere, feet: Sequence[Stretch], widths: Widths) -> None:
    """Whether the valley it stands by is one, and leaves room to fold the sheet and a way for the water. Raises
    :class:`~yattle.errors.InputError` where not, with the measure, why, and what would do."""
    meets = any(any(foot.kinks) for foot in feet)
    short = min(foot.length for foot in feet)
    if meets and not roof.drains:
        raise InputError("meets.turn", f"{valley.turn:g}° at {valley.pitch:g}°: the water of one roof "
                         "crosses the line and runs on over the other",
                         "a valley to which both roofs fall: turned further, or the chimney clear of the line")
    if not meets and not clear_of_valley(roof, feet, widths):
        raise InputError("meets.away", "a valley under a flange beside the chimney",
                         "a valley clear of the flanges: narrower ones, or move the one or the other")
    if short < _SHORT:
        raise InputError("meets.away", f"a valley {short:.0f} mm from a corner of the chimney",
                         f"{_SHORT:g} mm or more, to fold the sheet round both: move the one or the other")
    if any(foot.kinks[1] and foot.b[2] < min(foot.a[2], after.b[2]) - 0.01 for foot, after in pairwise(feet)):
        raise InputError("meets.turn", f"{valley.turn:g}°: both roofs fall to one place on the wall",
                         "a saddle in the roof there first, or a wall that does not stand in the valley's way: "
                         "water would stand")


def clear_of_valley(roof: RoofHere, feet: Sequence[Stretch], widths: Widths) -> bool:
    """Whether all walls and flanges lie on the roof that the chimney stands on."""
    below, beside, behind = widths
    out = [foot.away * (below if foot.sheds else beside if foot.falls else behind) for foot in feet]
    corners = [foot.a + out[n - 1] + out[n] for n, foot in enumerate(feet)]
    return all(roof.on(*corner[:2].tolist()) == feet[0].plane for corner in corners) and not any(
        any(foot.kinks) for foot in feet)
