"""Runs that taper: sums on paper, patterns folded up again and cut across, what twists, what is refused."""

from __future__ import annotations

import math
import random

import pytest
from at_random import faults

from samples import made, metal
from yattle.details import FAMILIES, develop
from yattle.errors import InputError
from yattle.pattern.folded import fold_up

SUM = metal({"rule": "sum"})
GUTTER = {"tapers": (("front", 120.0), ("back", 145.0))}




def lengths_on(piece, fold):
    """How long a fold is in the flat sheet, mm."""
    return next(math.dist(f.a, f.b) for f in piece.pattern.folds if f.id == fold)


def test_a_gutter_with_a_fall_by_hand():
    """2.5 m, front 85 to 120, back 110 to 145: the rims level, the bottom falls by 35. Flat, by the sum of the legs, the
    lip's fold is 2,500 long, the bottom's two are √(2500² + 35²); the area is that of four legs in true shape."""
    piece = develop(made("box-gutter", length=2500.0, metal=SUM, **GUTTER)).pieces[0]
    slant = math.hypot(2500.0, 35.0)
    assert [lengths_on(piece, fold) for fold in ("hA", "f1", "f2", "f3")] == pytest.approx([2500.0, 2500.0, slant, slant])
    legs = (12 + 20) * 2500 + (85 + 120) / 2 * 2500 + 120 * slant + (110 + 145) / 2 * 2500
    assert piece.pattern.area == pytest.approx(legs, rel=1e-9)
    assert {fold.id: fold.turn for fold in piece.pattern.folds} == pytest.approx({"hA": -180, "f1": -90, "f2": -90, "f3": -90})
    assert [girth.girth for girth in piece.girths] == pytest.approx([12 + 20 + 85 + 120 + 110, 12 + 20 + 120 + 120 + 145])


def test_a_wedge_of_an_apron_by_hand():
    """Two legs at a right angle, the second 100 to 40 on 1 m: the flat sheet's far edge is cut by 60 in 1,000."""
    piece = develop(made("free", legs=(50.0, 100.0), turns=(-90.0,), length=1000.0, metal=SUM, tapers=(("legs.1", 40.0),))).pieces[0]
    corners = sorted(piece.pattern.outline)
    assert corners[0] == pytest.approx((0, 0)) and piece.pattern.girth == pytest.approx(150.0)
    assert any(p == pytest.approx((1000.0, 60.0)) for p in corners) and piece.ledger.value == pytest.approx(1000.0)


def test_what_is_set_up_at_the_joint_is_the_same_for_both_neighbours():
    result = develop(made("box-gutter", length=7000.0, **GUTTER))
    assert len(result.pieces) == 3
    for left, right in zip(result.pieces, result.pieces[1:], strict=False):
        assert left.girths[1].girth == pytest.approx(right.girths[0].girth)
        assert [b.mark for b in left.girths[1].bends] == pytest.approx([b.mark for b in right.girths[0].bends])
    assert result.pieces[0].girths[0].girth == pytest.approx(result.girth.girth)


@pytest.mark.parametrize("name", [name for name in FAMILIES if name not in ("closure", "cleat", "hip-receiver", "eave-cleat", "apron-cleat")])
def test_any_section_tapers_on_both_hands_and_folds_up(name):
    """Legs at random to other lengths, ends as they can be; and the run seen from the other side is its mirror."""
    family, draw, done = FAMILIES[name], random.Random(name), 0
    fields = [f for f in family.entries if f in family.model.model_fields and f not in family.roof and isinstance(
        getattr(made(name), f), float) and getattr(made(name), f) > 20 and f not in (
            "lap", "wrap", "tab", "kick_out", "stock_length", "least_piece", "kick_turn", "apex", "lean", "open", "over", "carry", "under",
            "fall", "angle", "hem", "nest_gap")] or ["legs.0"]
    for _ in range(6):
        tapers = tuple((f, getattr(made(name), f, 40.0) * draw.uniform(0.7, 1.4)) for f in draw.sample(fields, min(2, len(fields))))
        ends = develop(made(name)).ends
        try:
            detail = made(name, tapers=tapers, length=draw.choice([900.0, 4000.0]), left=draw.choice(ends), right=draw.choice(ends))
        except InputError:
            continue
        result = develop(detail)
        if not result.ok:
            assert result.findings[0].level == "stop"
            continue
        assert result.max_gap < 1e-4, (tapers, result.max_gap)
        assert result.name.endswith("tapered")
        for piece in result.pieces:
            assert not list(faults(piece.pattern, True)) and piece.pattern.length <= detail.stock_length + 1e-6
            assert piece.ledger.value == pytest.approx(piece.pattern.length)
        done += 1
    assert done


@pytest.mark.parametrize(("back", "taper"), [(110.0, 145.0), (145.0, 110.0)])
def test_the_same_run_from_its_other_end_takes_the_same_metal(back, taper):
    one = develop(made("box-gutter", length=2500.0, back=back, tapers=(("back", taper),)))
    other = develop(made("box-gutter", length=2500.0, back=taper, tapers=(("back", back),)))
    assert one.pieces[0].pattern.area == pytest.approx(other.pieces[0].pattern.area)


def test_cut_across_anywhere_the_folded_piece_has_the_section_between():
    """Folded up and cut at a third of its length: four legs as long as a third of the way from one end's to the other's."""
    piece = develop(made("free", legs=(40.0, 90.0, 60.0), turns=(-80.0, 50.0), length=1200.0, metal=SUM,
                         tapers=(("legs.0", 70.0), ("legs.2", 30.0)))).pieces[0]
    found = []
    facets = fold_up(piece.pattern)
    along = facets[1].space  # the run's line is the mould line between the first two legs
    line = max(((along[n], along[(n + 1) % len(along)]) for n in range(len(along))), key=lambda e: math.dist(*e))
    way = (line[1] - line[0]) / math.dist(*line)
    low, high = sorted((line[0] @ way, line[1] @ way))
    for facet in facets:
        cut = low + (high - low) / 3
        places = []
        ring = facet.space
        for n in range(len(ring)):
            a, b = ring[n] @ way - cut, ring[(n + 1) % len(ring)] @ way - cut
            if a * b < 0:
                places.append(ring[n] + (ring[(n + 1) % len(ring)] - ring[n]) * (a / (a - b)))
        found.append(math.dist(*places))
    either = [sorted((40 + 30 * s, 90.0, 60 - 30 * s)) for s in (1 / 3, 2 / 3)]
    assert any(sorted(found) == pytest.approx(lengths, abs=0.05) for lengths in either)


def test_a_leg_that_turns_on_the_way_twists_is_told_by_how_much_and_made_flat():
    """A leg of 60 turned from 80° to 60°: its far corner moves by 2 · 60 · sin 10° = 20.8, nearly square to the leg."""
    result = develop(made("free", legs=(40.0, 60.0), turns=(80.0,), length=1000.0, tapers=(("turns.0", 60.0),)))
    said = next(f for f in result.findings if "twists" in f.text)
    assert said.level == "look" and said.lengths[0] == pytest.approx(60 * math.sin(math.radians(20)), rel=0.01)
    assert result.max_gap < 1e-6 and [fold.id for fold in result.pieces[0].pattern.folds] == ["f1", "d1"]
    slight = result.pieces[0].pattern.folds[1]
    assert 0 < abs(slight.turn) < 30
    assert not any("twists" in f.text for f in develop(made("free", legs=(40.0, 60.0), turns=(80.0,), tapers=(("legs.1", 30.0),))).findings)


@pytest.mark.parametrize(("tapers", "says"), [
    ((("height", 3.0),), "tapers.0: found 'height', expected one of hem, lip, front, bottom, back"),
    ((("length", 3.0),), "tapers.0: found 'length'"), ((("front", -3.0),), "front: found -3"),
    ((("hem", 0.0),), "tapers: found other legs or hems at the right end")])
def test_what_cannot_differ_is_said_in_a_line(tapers, says):
    with pytest.raises(InputError) as wrong:
        develop(made("box-gutter", tapers=tapers))
    assert says in str(wrong.value) and "\n" not in str(wrong.value)


def test_a_hem_on_a_leg_that_twists_is_refused_with_what_would_do():
    result = develop(made("coping", tapers=(("kick_turn", 60.0),)))
    assert not result.ok and "a hem lies on a leg that twists" in result.findings[0].text and "no hem there" in result.findings[0].why


def test_a_hem_that_widens_stands_in_the_marks_of_both_ends():
    """A gutter's hem of 12 at the left and 18 at the right: the tape's first mark and the girth are 6 more there."""
    (piece,) = develop(made("box-gutter", length=2000.0, metal=SUM, tapers=(("hem", 18.0),))).pieces
    left, right = piece.girths
    assert [round(right.bends[n].mark - left.bends[n].mark, 6) for n in range(4)] == [6.0] * 4
    assert right.girth - left.girth == pytest.approx(6.0) and piece.proof.holds
