"""Cover between the trims of two runs: as far along the water as the house laps, on whole roofs and on spoiled ones."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from test_checked import derived_of

from yattle.built.checked import check_standing
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.built.trim_laps import trim_covers
from yattle.derive import derive
from yattle.derive.run import common_of, detail_of
from yattle.details import standard_for
from yattle.details.develop import develop
from yattle.job import Job
from yattle.job.model import EdgeNote
from yattle.job.panel_systems import with_system
from yattle.roof.starts import STARTS


def standing_of(name):
    derived = derived_of(name)
    return derived, stand_all(derived.patterns, places_of(derived)[0])


def by_kinds(derived, covers):
    kind = {piece.id: run.run.kind for run in derived.runs for piece in run.pieces}
    return {(kind[one.over.partition("/")[0]], kind.get(one.under.partition("/")[0])): one for one in covers}


@pytest.mark.parametrize("name", ["sail-loft", "net-shed", "gable with a lean-to", "hip"])
def test_on_sound_roofs_every_trim_laps_over_the_next_by_the_house_s_lap(name):
    derived, standing = standing_of(name)
    found = list(trim_covers(derived, standing))
    lap = standard_for(derived.job.system, derived.job.own).lap
    assert found and all(one.ok and not one.long for one in found)
    assert max(one.want for one in found) == pytest.approx(lap)


def test_widths_are_those_of_the_sections_that_lie_there():
    """By hand: a ridge's wing of 170 lies over the rakes' flanges, their whole width; an eave's flange of 85 goes under
    valleys and rakes as wide as it is; a dormer's apron turns 120 round its corner under the sidewall."""
    derived, standing = standing_of("sail-loft")
    found = by_kinds(derived, trim_covers(derived, standing))
    wing, flange = (next(run.detail for run in derived.runs if run.run.kind == kind and not run.run.layer)
                    for kind in ("ridge", "eave"))
    wings = [length for name, length in zip(wing.leg_names, wing.profile.strip_lengths, strict=False) if "wing" in name]
    assert found["ridge", "rake"].have == pytest.approx(max(wings), abs=1.0)
    assert found["valley", "eave"].have == pytest.approx(flange.profile.legs[0], abs=0.5)
    assert found["rake", "eave"].have == pytest.approx(flange.profile.legs[0], abs=0.5)
    assert found["sidewall", "headwall"].have == pytest.approx(120.0, abs=1.0)


def test_on_panels_that_are_twice_as_thick_as_a_hand_trims_still_lap_over_those_on_the_deck():
    derived = derive(with_system(Job(name="thick", roof=STARTS["hip"]), "sandwich 1000, core 80"))
    found = by_kinds(derived, trim_covers(derived, stand_all(derived.patterns, places_of(derived)[0])))
    assert found["hip", "eave"].ok and found["hip", "eave"].have > 0


@pytest.mark.parametrize(("over", "under"), [("ridge", "rake"), ("valley", "eave"), ("sidewall", "headwall")])
def test_a_trim_that_ends_short_of_the_next_one_is_found_and_said(over, under):
    """The run drawn back along itself until it leaves 30 mm, or nothing, over the other one."""
    derived, standing = standing_of("sail-loft")
    before = by_kinds(derived, trim_covers(derived, standing))[over, under]
    run = next(run for run in derived.runs if before.over.partition("/")[0] in {piece.id for piece in run.pieces})
    names = {piece.id for piece in run.pieces}
    piece, at = standing[before.over], np.array(before.at)
    way = piece.way if float((piece.middle - at) @ piece.way) > 0 else -piece.way
    for far in (60.0, 400.0):
        moved = {name: replace(one, parts=tuple(part + way * far for part in one.parts))
                 if one.pattern in names else one for name, one in standing.items()}
        if all(one.ok for one in trim_covers(derived, moved, frozenset(names))):
            continue
        checked = check_standing(derived, places_of(derived)[0], moved, frozenset(names))
        assert any(said["row"] == "cover" and before.over in said["says"] for said in said_of(checked))
        return
    pytest.fail(f"a {over} 400 mm off its place was not seen to leave the {under}")


def without_wraps(derived, run):
    trim = detail_of(run.run, run.family, run.standard, common_of(derived.job))
    return {piece.id: piece.pattern for piece in develop(trim.but(left="plain", right="plain")).pieces}


def test_a_wrap_forgotten_at_a_gable_s_corner_is_found_and_said():
    derived, standing = standing_of("sail-loft")
    eave = next(run for run in derived.runs if run.run.kind == "eave" and run.run.left == run.run.right == "wrap")
    bare = without_wraps(derived, eave)
    placed = places_of(derived)[0]
    found = check_standing(derived, placed, {**standing, **stand_all(bare.values(), placed)}, frozenset(bare))
    said = [one["says"] for one in said_of(found) if one["row"] == "cover"]
    assert len(said) == 2 and all("does not go round the corner at G" in one for one in said)


def test_whoever_chooses_an_eave_s_ends_is_not_told_to_wrap_them():
    derived, _ = standing_of("sail-loft")
    eave = next(run for run in derived.runs if run.run.kind == "eave" and run.run.left == run.run.right == "wrap")
    edge = derived.edge_runs[eave.run.id].edge
    chosen = derive(derived.job.but(edges=(*(note for note in derived.job.edges if note.key != edge.key),
                                           EdgeNote(key=edge.key, left="plain", right="plain"))))
    found = trim_covers(chosen, stand_all(chosen.patterns, places_of(chosen)[0]))
    assert all(one.ok for one in found)


def test_after_an_edit_only_the_laps_of_what_was_touched_are_asked():
    derived, standing = standing_of("sail-loft")
    run = next(run for run in derived.runs if run.run.kind == "rake" and run.pieces and not run.run.layer)
    names = frozenset(piece.id for piece in run.pieces)
    some, every = set(trim_covers(derived, standing, names)), set(trim_covers(derived, standing))
    assert some < every and some
    assert all({one.over.partition("/")[0], one.under.partition("/")[0]} & names or one.under.endswith(run.run.id)
               for one in some)
