"""A chimney whose side runs through a valley: how far up its back pan must reach, by vector algebra and by drops."""

from __future__ import annotations

import numpy as np
import pytest

from samples import metal
from yattle.details.chimney import Chimney
from yattle.details.drops import Piece, leaks
from yattle.details.feet import Meets, corners_of
from yattle.details.forms import develop_form

REACHING = [
    (729.2, 594.6, 36.3, Meets(kind="valley", pitch=47.5, turn=69.8, away=-319.9), 150.0),
    (321.3, 556.5, 28.5, Meets(kind="valley", pitch=48.0, turn=-84.6, away=114.9), 250.0),
    (834.8, 370.6, 28.4, Meets(kind="valley", pitch=45.3, turn=-83.8, away=366.8), 150.0),
    (878.3, 435.0, 49.0, Meets(kind="valley", pitch=49.4, turn=-51.2, away=368.3), 250.0),
    (645.9, 850.2, 29.0, Meets(kind="valley", pitch=27.7, turn=-54.1, away=142.6), 250.0),
    (731.9, 719.1, 24.6, Meets(kind="valley", pitch=28.1, turn=56.9, away=276.2), 250.0)]
"""Chimneys whose side's flange reaches further up than the pan would by itself: across, along, pitch, valley, pan."""


def standing(across, along, pitch, meets, pan):
    return Chimney(metal=metal(), across=across, along=along, pitch=pitch, meets=meets, pan=pan)


def uppermost(form, side):
    """Where the outer edges of a side's two flanges come to the valley's line: the one further from the wall."""
    halves = [foot for foot in form.feet if foot.side == side]
    lower = next(foot for foot in halves if foot.kinks[0] or foot.kinks[1])
    kink = lower.b if lower.kinks[1] else lower.a
    line = form.roof.line / np.linalg.norm(form.roof.line)
    out = line if line @ lower.out > 0 else -line
    ways = [form.flanges.width(foot) / float(out @ foot.away) for foot in halves]
    return kink + out * max(ways)


@pytest.mark.parametrize("given", REACHING, ids=lambda given: f"{given[0]:.0f} by {given[1]:.0f}")
def test_the_pan_goes_up_past_the_side_s_flange(given):
    """Its upper edge lies 20 mm above the place where the side's flange ends on the valley's line."""
    form = standing(*given)
    pan = next(foot for foot in form.feet if foot.side == 2 and not foot.falls)
    sides = {foot.side for foot in form.feet if any(foot.kinks) and foot.side in (1, 3)}
    assert len(sides) == 1
    up = float((uppermost(form, sides.pop()) - pan.a) @ pan.away)
    assert up > form.pan - 20 and form.flanges.width(pan) == pytest.approx(up + 20.0)


@pytest.mark.parametrize("given", REACHING, ids=lambda given: f"{given[0]:.0f} by {given[1]:.0f}")
def test_no_drop_gets_under_it(given):
    form = standing(*given)
    result = develop_form(form)
    assert result.max_gap < 1e-3 and form.lost_drops() == ()


def test_a_pan_cut_down_to_its_own_measure_leaks():
    """The drops would find it: a pan that does not reach over the side's flange lets water in beneath."""
    leaking = 0
    for given in REACHING[:3]:
        form = standing(*given)
        pieces, wall = pieces_of(form), [(float(x), float(y)) for x, y in corners_of(form.across, form.along, form.turned)]
        assert leaks(pieces, wall, form.roof.over) == []
        short = form.flanges.__class__(**{**vars_of(form.flanges), "pan": 30.0})
        object.__setattr__(short, "_up_to_valley", lambda here, beside: 0.0)
        form.__dict__["flanges"] = short
        form.__dict__.pop("base", None)
        leaking += bool(leaks(pieces_of(form), wall, form.roof.over))
    assert leaking >= 2


def vars_of(value):
    return {name: getattr(value, name) for name in value.__dataclass_fields__}


def pieces_of(form):
    groups = form.groups
    sheds = [any(form.feet[n].sheds for n in group) for group in groups]
    return [Piece(body.surface(), shed) for body, shed in zip(form.base, sheds, strict=True)]


def test_away_from_a_valley_a_pan_is_as_wide_as_it_is_told():
    form = Chimney(metal=metal(), across=600.0, along=500.0, pitch=30.0, pan=333.0)
    pan = next(foot for foot in form.feet if foot.side == 2)
    assert form.flanges.width(pan) == 333.0
