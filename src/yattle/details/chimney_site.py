"""Whether a chimney can be flashed where it stands: its heights, the roof's pitch, a valley beside or beneath it."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from yattle.details.feet import stretches
from yattle.errors import InputError

if TYPE_CHECKING:
    from yattle.details.chimney import Chimney

CLEAR = 10.0  # mm from the kerf down to the upstand's top
_SHORT = 120.0  # mm: the shortest foot between a corner and a valley


def check(form: Chimney) -> None:
    """Raises :class:`InputError` where it cannot be flashed, with the measure, why, and what would do."""
    if form.pitch < 1:
        raise InputError(
            "pitch", f"{form.pitch:g}°", "a roof that falls by 1° or more: on a flat one a curb is wanted"
        )
    if form.height < 40:
        raise InputError(
            "saw",
            f"a kerf {form.kerf_square.value:g} mm over the roof",
            "50 mm or more: the upstands under it would be too low",
        )
    if form.counter_face < CLEAR + 20:
        raise InputError(
            "counter_face", f"{form.counter_face:g} mm", f"{CLEAR + 20:g} mm or more, to lap over the upstand"
        )
    if form.kerf_room >= form.kerf_depth:
        raise InputError(
            "kerf_room", f"{form.kerf_room:g} mm", f"less than the kerf's depth, {form.kerf_depth:g} mm"
        )
    _check_valley(form)
    if form.school == "folded" and not (form.straight and form.with_cricket == "none"):
        raise InputError("school", "'folded' round a chimney that is turned, has a cricket or meets another plane",
                         "'cut' there: pans folded without a cut want a straight chimney on one plane")
    if form.cricket not in (None, "none") and not form.straight:
        raise InputError(
            "cricket",
            f"{form.cricket!r} behind a chimney that is turned or meets another plane",
            "none there: its back sheds by itself, or is a matter for the roof's own planes",
        )


def _check_valley(form: Chimney) -> None:
    """Whether the valley it stands by is one, and leaves room to fold the sheet and a way for the water."""
    if form.meets is None or not form.roof.valley:
        return
    feet = stretches(form.roof, form.across, form.along, form.turned)
    meets = any(any(foot.kinks) for foot in feet)
    short = min(foot.length for foot in feet)
    if meets and not form.roof.drains:
        raise InputError("meets.turn", f"{form.meets.turn:g}° at {form.meets.pitch:g}°: the water of one roof "
                         "crosses the line and runs on over the other",
                         "a valley to which both roofs fall: turned further, or the chimney clear of the line")
    if not meets and not clear_of_valley(form):
        raise InputError("meets.away", "a valley under a flange beside the chimney",
                         "a valley clear of the flanges: narrower ones, or move the one or the other")
    if short < _SHORT:
        raise InputError("meets.away", f"a valley {short:.0f} mm from a corner of the chimney",
                         f"{_SHORT:g} mm or more, to fold the sheet round both: move the one or the other")
    if any(foot.kinks[1] and foot.b[2] < min(foot.a[2], after.b[2]) - 0.01 for foot, after in pairwise(feet)):
        raise InputError("meets.turn", f"{form.meets.turn:g}°: both roofs fall to one place on the wall",
                         "a saddle in the roof there first, or a wall that does not stand in the valley's way: "
                         "water would stand")


def clear_of_valley(form: Chimney) -> bool:
    """Whether all walls and flanges lie on the roof that the chimney stands on."""
    feet = stretches(form.roof, form.across, form.along, form.turned)
    out = [foot.away * (form.apron if foot.sheds else form.flange if foot.falls else form.pan) for foot in feet]
    corners = [foot.a + out[n - 1] + out[n] for n, foot in enumerate(feet)]
    return all(form.roof.on(*corner[:2].tolist()) == feet[0].plane for corner in corners) and not any(
        any(foot.kinks) for foot in feet)
