"""Whether a section goes in: by hand in the plane, and on whole roofs."""

from __future__ import annotations

import numpy as np
import pytest
from test_checked import checked, derived_of

from yattle.built.fitted import opened
from yattle.built.goes_in import CutLines, crossed, way_in


def lines(*segments, name="it", outs=(0.0, 1.0)):
    a, b = (np.array([segment[n] for segment in segments], dtype=float) for n in (0, 1))
    return CutLines(a, b, np.tile(np.array(outs), (len(segments), 1)), (name,) * len(segments))


def joined(*parts):
    return CutLines(*(np.concatenate([getattr(part, name) for part in parts]) for name in ("a", "b", "outs")),
                    tuple(name for part in parts for name in part.names))


DECK = lines(((-200, 0), (200, 0)), name="deck")
ANGLE = lines(((0, 2), (60, 2)), ((0, 2), (0, 60)))  # a foot out over the deck and a leg up


def test_what_lies_free_goes_straight_in():
    assert way_in(ANGLE, DECK).ok and "from" in way_in(ANGLE, DECK).how


def test_a_wall_behind_leaves_the_ways_before_it():
    wall = lines(((-1, -5), (-1, 300)), name="wall", outs=(1.0, 0.0))
    assert way_in(ANGLE, joined(DECK, wall)).ok


def test_a_lid_over_the_foot_leaves_the_way_along_it():
    """A plate 30 over the deck above the foot's end: out from under it to the other side."""
    lid = lines(((30, 30), (200, 30)), name="lid")
    assert way_in(ANGLE, joined(DECK, lid)).ok


def test_a_box_round_it_is_told_with_what_stands_in_the_way():
    box = lines(((-20, -5), (-20, 90)), ((-20, 90), (90, 90)), ((90, 90), (90, -5)), name="box")
    found = way_in(ANGLE, joined(DECK, box))
    assert not found.ok and found.stands in ("box", "deck") and found.left > 50.0


def test_a_hook_behind_a_lip_needs_a_turn():
    """A lip over the foot's end and a wall before the leg: straight nothing goes, tilted over the lip it does."""
    hook = lines(((0, 2), (40, 2)), ((40, 2), (40, 16)))
    lip = lines(((30, 22), (52, 22)), ((52, 22), (52, -5)), name="lip")
    found = way_in(hook, joined(DECK, lip))
    assert found.ok


def test_a_clip_over_a_bar_is_sprung_off_it_where_its_sheet_is_thin():
    """Legs of 40, one with a barb of 8 under a bar: 40 mm of 0.3 spring 8° before they stay bent, of 2.0 one degree."""
    clip = lines(((0, 0), (46, 0)), ((0, 0), (0, -40)), ((0, -40), (8, -40)), ((46, 0), (46, -40)))
    bar = joined(lines(((3, -37), (43, -37)), name="bar", outs=(0.0, -1.0)),
                 lines(((3, -37), (3, -3)), name="bar", outs=(-1.0, 0.0)),
                 lines(((43, -37), (43, -3)), name="bar", outs=(1.0, 0.0)),
                 lines(((3, -3), (43, -3)), name="bar"))
    stiff, thin = way_in(clip, bar, 2.0), way_in(clip, bar, 0.3)
    assert not stiff.ok and stiff.stands == "bar"
    assert thin.ok and thin.how.startswith("sprung")


def test_what_it_goes_through_already_is_no_question_of_the_way_in():
    """A clash is told by its own row; a line that is only touched is not crossed."""
    through = lines(((30, -20), (30, 30)), name="post")
    assert crossed(ANGLE, through).tolist() == [True] and crossed(ANGLE, DECK).tolist() == [False]


@pytest.mark.parametrize("name", ["sail-loft", "net-shed", "gable with a lean-to"])
def test_on_sound_roofs_all_that_is_hooked_or_tucked_goes_in(name):
    found = checked(name).fitted
    assert found and all(one.ok for one in found)
    assert any(one.piece.partition("-")[0].endswith(".c") for one in found) or name == "gable with a lean-to"


WALL = np.array([0.0, -50.0]), np.array([0.0, 200.0]), np.array([1.0, 0.0])  # up a wall that looks out to the right


def in_its_kerf(*legs):
    section = lines(*legs)
    parts = [part for part in opened(WALL, section, "wall")]
    return section, joined(*parts)


def test_a_wall_is_open_where_a_leg_goes_into_it_and_the_kerf_has_faces():
    """A leg 30 into the wall at a height of 60: the wall below 55 and over 65, the kerf's faces at both, 80 deep."""
    _, there = in_its_kerf(((-30, 60), (0, 60)), ((0, 60), (0, -20)))
    rows = sorted(np.hstack((there.a, there.b)).round(6).tolist())
    assert rows == [[-80, 55, 0, 55], [-80, 65, 0, 65], [0, -50, 0, 55], [0, 65, 0, 200]]


def test_what_has_a_leg_in_a_kerf_goes_in_from_outside_alone():
    section, there = in_its_kerf(((-30, 60), (0, 60)), ((0, 60), (0, -20)))
    assert way_in(section, there).how == "from outside"


def test_a_leg_that_lies_deeper_behind_a_lip_of_the_wall_does_not_come_out_straight():
    """Turned up 3.5 at its inner end it stays in the kerf; with a stop 20 before it, 4 lower than the kerf's top, not."""
    section, there = in_its_kerf(((-30, 60), (0, 60)), ((0, 60), (0, -20)), ((-30, 60), (-30, 64.5)))
    assert way_in(section, there).how == "from outside"
    lip = lines(((-10, 70), (-10, 61.6)), name="lip", outs=(-1.0, 0.0))
    found = way_in(section, joined(there, lip))
    assert found.how != "from outside"


@pytest.mark.parametrize("name", ["sail-loft", "net-shed"])
def test_counterflashings_of_chimneys_go_into_their_kerfs_from_outside_and_the_rest_is_laid_on(name):
    derived = derived_of(name)
    named = {piece.pattern.id: piece.surface.name for one in derived.openings for piece in one.pieces}
    found = {named[one.piece.partition("/")[0]]: one for one in checked(name).fitted
             if one.piece.partition("/")[0] in named}
    assert all(one.ok for one in found.values())
    if name == "sail-loft":
        assert {"counter, apron", "counter, right side", "counter, left side", "counter, back pan"} <= set(found)
    for title, one in found.items():
        assert (one.how == "from outside") == title.startswith("counter"), (title, one.how)
