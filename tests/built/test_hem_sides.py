"""Hems turned to the wrong side: where water runs they stand up as a stop, elsewhere they lie dry; on sound roofs nothing is said."""

from __future__ import annotations

import pytest
from test_checked import derived_of

from yattle.built.checked import check_standing
from yattle.built.hem_sides import turned_hems
from yattle.built.mutants import hem_turned
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all

ROOFS = ("sail-loft", "net-shed", "gable with a lean-to")


def pieces_of(derived, kinds, layer=""):
    return [piece for run in derived.runs if run.run.kind in kinds and run.run.layer == layer for piece in run.pieces]


@pytest.mark.parametrize("name", ROOFS)
def test_on_sound_roofs_every_hem_lies_as_it_should(name):
    derived = derived_of(name)
    standing = stand_all(derived.patterns, places_of(derived)[0])
    assert sum(len(one.hems) for one in standing.values()) > 20 and list(turned_hems(derived, standing)) == []


@pytest.mark.parametrize(("kinds", "layer", "wet"), [
    (("eave",), "", True), (("rake",), "", True), (("ridge", "half-ridge", "hip"), "", True), (("headwall",), "", True),
    (("headwall", "sidewall"), "counterflashing", True), (("valley",), "", False)])
def test_every_hem_of_a_trim_turned_the_other_way_is_seen(kinds, layer, wet):
    """In a valley the stop is missing, elsewhere the hem lies open to the rain."""
    tried = 0
    for name in ROOFS:
        derived = derived_of(name)
        placed = places_of(derived)[0]
        for piece in pieces_of(derived, kinds, layer):
            hems = sum(fold.kind == "hem" for fold in piece.pattern.folds)
            for n in range(hems):
                wrong = hem_turned(n)(piece.pattern)
                found = list(turned_hems(derived, stand_all((wrong,), placed)))
                assert [(one.piece, one.wet) for one in found] == [(wrong.id, wet)] * wrong.qty
                tried += 1
            assert hem_turned(hems)(piece.pattern) is None
    assert tried > 1


def test_it_is_said_with_its_place_and_the_roof_is_not_sound():
    derived = derived_of("net-shed")
    placed = places_of(derived)[0]
    sound, piece = stand_all(derived.patterns, placed), pieces_of(derived, ("rake",))[0]
    wrong = hem_turned(0)(piece.pattern)
    found = check_standing(derived, placed, {**sound, **stand_all((wrong,), placed)}, frozenset({wrong.id}))
    (said,) = (one for one in said_of(found) if "hem" in one["says"])
    assert not found.sound and said["row"] == "water" and said["says"].startswith(f"a hem of {wrong.id} lies on its wet side")
    assert min(abs(z - said["at"][2]) for part in sound[wrong.id].parts for z in part[:, 2]) < 2000.0
