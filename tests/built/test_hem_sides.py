"""Hems turned to the wrong side: where water runs they stand up as a stop, elsewhere they lie dry, of strips on their back; on sound
roofs nothing is said."""

from __future__ import annotations

import numpy as np
import pytest
from test_checked import derived_of

from yattle.built.checked import check_standing
from yattle.built.hem_sides import _of_a_form, turned_hems
from yattle.built.mutants import hem_turned
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all
from yattle.derive import derive
from yattle.derive.face_pans import is_pans
from yattle.details import FAMILIES
from yattle.job.model import EdgeNote
from yattle.job.panel_systems import with_system

ROOFS = ("sail-loft", "net-shed", "gable with a lean-to")


def pieces_of(derived, kinds, layer=""):
    return [piece for run in derived.runs if run.run.kind in kinds and run.run.layer == layer for piece in run.pieces]


@pytest.mark.parametrize("name", ROOFS)
def test_on_sound_roofs_every_hem_lies_as_it_should(name):
    derived = derived_of(name)
    standing = stand_all(derived.patterns, places_of(derived)[0])
    assert sum(len(one.hems) for one in standing.values()) > 20 and list(turned_hems(derived, standing)) == []


@pytest.mark.parametrize(("kinds", "layer", "lies"), [
    (("eave",), "", "wet"), (("rake",), "", "wet"), (("ridge", "half-ridge", "hip"), "", "wet"), (("headwall",), "", "wet"),
    (("headwall", "sidewall"), "counterflashing", "wet"), (("valley",), "", "dry"), (("rake",), "cleat", "paint"),
    (("eave",), "eave-cleat", "paint")])
def test_every_hem_of_a_trim_or_strip_turned_the_other_way_is_seen(kinds, layer, lies):
    """In a valley the stop is missing, elsewhere the hem lies open to the rain, or shows the back of a strip."""
    tried = 0
    for name in ROOFS:
        derived = derived_of(name)
        placed = places_of(derived)[0]
        for piece in pieces_of(derived, kinds, layer):
            hems = sum(fold.kind == "hem" for fold in piece.pattern.folds)
            for n in range(hems):
                wrong = hem_turned(n)(piece.pattern)
                found = list(turned_hems(derived, stand_all((wrong,), placed)))
                assert [(one.piece, one.lies) for one in found] == [(wrong.id, lies)] * wrong.qty
                tried += 1
            assert hem_turned(hems)(piece.pattern) is None
    assert tried > 1


@pytest.mark.parametrize("family", sorted({family.name for family in FAMILIES.values()} - {"free"}))
def test_whatever_trim_is_chosen_for_an_edge_its_hems_lie_as_they_should_and_no_other_way(family):
    """Of every family at all the edges that it is for: what goes back under a roof and what hangs down a wall among them."""
    job, kinds = derived_of("sail-loft").job, FAMILIES[family].kinds
    notes = tuple(EdgeNote(key=run.edge.key, place=run.place, detail=family)
                  for run in derived_of("sail-loft").edge_runs.values() if run.edge.kind in kinds)
    derived = derive(job.but(edges=notes))
    placed = places_of(derived)[0]
    assert list(turned_hems(derived, stand_all(derived.patterns, placed))) == []
    made = [piece.pattern for run in derived.runs if run.family is not None and run.family.name == family for piece in run.pieces]
    for pattern in made[::5]:
        for n in range(sum(fold.kind == "hem" for fold in pattern.folds)):
            assert len(list(turned_hems(derived, stand_all((hem_turned(n)(pattern),), placed)))) == pattern.qty


def test_beside_a_wall_the_return_stands_against_the_water_and_over_zeds_and_seams_it_is_turned_down():
    """Of a wall that goes up the slope: with ribs that profiles close it is the last stop; where its edge is carried on a zed, or
    turned over a seam, that holds it. Turned the other way both are seen, whatever the panels."""
    found = set()
    for name in ("snap seam 300 x 38", "rib 18, pitch 76"):
        derived = derive(with_system(derived_of("sail-loft").job, name))
        placed = places_of(derived)[0]
        standing = stand_all(derived.patterns, placed)
        assert list(turned_hems(derived, standing)) == []
        for run in (run for run in derived.runs if run.run.kind == "sidewall" and not run.run.layer):
            face = derived.job.panel_system(derived.edge_runs[run.run.id].edge.facets[0])
            for piece in run.pieces:
                (seen,) = turned_hems(derived, stand_all((hem_turned(0)(piece.pattern),), placed))
                found.add((face.name, seen.lies))
    assert found == {("snap seam 300 x 38", "wet"), ("rib 18, pitch 76", "dry"), ("sandwich 1000, core 80", "dry")}


def test_hems_and_pockets_of_pans_turned_the_other_way_are_seen():
    """At the eave the hem lies under its pan; in a tray's corner the pocket behind the turn-up, its second crease back."""
    derived = derived_of("gable with a lean-to", "double seam 530 x 25")
    placed, found = places_of(derived)[0], []
    pans = [piece.pattern for opening in derived.openings if is_pans(opening) for piece in opening.pieces]
    for pattern in pans[::3]:
        assert list(turned_hems(derived, stand_all((pattern,), placed))) == []
        for n in range(sum(fold.kind == "hem" for fold in pattern.folds)):
            wrong = list(turned_hems(derived, stand_all((hem_turned(n)(pattern),), placed)))
            assert len({one.piece for one in wrong}) == pattern.qty
            found += [one.lies for one in wrong]
    assert set(found) == {"wet", "pocket"}


def test_it_is_said_with_its_place_and_the_roof_is_not_sound():
    derived = derived_of("net-shed")
    placed = places_of(derived)[0]
    sound, piece = stand_all(derived.patterns, placed), pieces_of(derived, ("rake",))[0]
    wrong = hem_turned(0)(piece.pattern)
    found = check_standing(derived, placed, {**sound, **stand_all((wrong,), placed)}, frozenset({wrong.id}))
    (said,) = (one for one in said_of(found) if "hem" in one["says"])
    assert not found.sound and said["row"] == "water" and said["says"].startswith(f"a hem of {wrong.id} lies on its wet side")
    assert min(abs(z - said["at"][2]) for part in sound[wrong.id].parts for z in part[:, 2]) < 2000.0


def test_of_a_scrap_of_a_pan_the_hem_may_be_larger_than_what_it_is_folded_on():
    """A corner of a floor, 20 mm deep, whose hem along the eave is 25 wide and folded under: the largest part is the hem."""
    floor = np.array([[0.0, 0.0, 0.0], [100.0, 0.0, 0.0], [100.0, 20.0, 0.0]])
    hem = np.array([[0.0, 0.0, 0.0], [0.0, 25.0, 0.0], [100.0, 25.0, 0.0], [100.0, 0.0, 0.0]])
    for turn, said in ((-180.0, []), (180.0, ["wet"])):
        scrap = Standing("b1-1", "b1-1", (hem, floor), (), ((0, 1, turn),))
        assert scrap.sizes[0] > scrap.sizes[1] and [one.lies for one in _of_a_form(scrap, True)] == said
