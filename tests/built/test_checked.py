"""Bears and cover: sums by hand on plates, silence on sound roofs, and single faults that are found."""

from __future__ import annotations

import json
import random
from functools import lru_cache
from typing import Literal, get_args, get_origin

import numpy as np
import pytest
import shapely

from plans import plan, wild
from yattle.built.bears import Ground, contact
from yattle.built.checked import Checked, check_built, check_standing
from yattle.built.cover import cover
from yattle.built.hook import hook
from yattle.built.mutants import hem_turned, longer, mirrored, turned, wider_leg
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all
from yattle.derive import derive
from yattle.details import FAMILIES
from yattle.details.schools import Schools
from yattle.job import Job, demo_path, load
from yattle.job.model import EdgeNote
from yattle.job.panel_systems import with_system
from yattle.panels import library
from yattle.roof import RoofPlan
from yattle.roof.starts import STARTS

JOBS = ("net-shed", "sail-loft", "gable", "hip", "gable with a wing", "gable with a lean-to", "single slope")
UP = np.array([0.0, 0.0, 1.0])


@lru_cache(maxsize=16)
def derived_of(name, system="double seam 430 x 25"):
    known = "-" in name and " " not in name
    return derive(load(demo_path(name)) if known else long_cuts(with_system(Job(name=name, roof=STARTS[name]), system)))


def long_cuts(job):
    """Nine metres are cut off the coil, so that pans are pieces."""
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


@lru_cache(maxsize=16)
def placed_of(name):
    return tuple(places_of(derived_of(name))[0])


@lru_cache(maxsize=16)
def standing_of(name):
    return stand_all(derived_of(name).patterns, placed_of(name))


def checked(name, *wrong):
    """A job's roof with some of its patterns exchanged for wrong ones of the same id."""
    placed = list(placed_of(name))
    return check_standing(derived_of(name), placed, {**standing_of(name), **stand_all(wrong, placed)},
                          frozenset(pattern.id for pattern in wrong) or None)


def trouble(found: Checked):
    return [one["says"] for one in said_of(found) if one["row"] != "sealant"]


def but_clashes(found: Checked):
    """What is said besides: water gets in where pieces go through each other, too."""
    through = [(one.a, one.b) for one in found.clashes]
    return [one["says"] for one in said_of(found) if one["row"] not in ("clash", "slot", "sealant", "goes in", "laps")
            and "open deck" not in one["says"] and not (one["row"] == "water" and any(
                a in one["says"] and b in one["says"] for a, b in through))]


def plate(name, x, z=0.0, tilt=0.0):
    """1,000 along x, 150 across, its far edge ``tilt`` mm higher."""
    ring = [(x, 0, z), (x + 1000, 0, z), (x + 1000, 150, z + tilt), (x, 150, z + tilt)]
    return Standing(name, name, (np.array(ring, dtype=float),))


@pytest.mark.parametrize(("z", "tilt", "gap"), [(0.0, 0.0, 0.0), (25.0, 0.0, 0.0), (3.0, 0.0, 3.0), (22.0, 0.0, 3.0), (0.0, 4.0, 4.0),
                                                (13.0, 0.0, 12.0)])
def test_a_plate_over_a_deck_and_over_seams_by_hand(z, tilt, gap):
    """It may lie on the deck or 25 above it: what it is off the nearer one, at its worst corner."""
    found = contact(plate("P", 0.0, z, tilt), Ground("deck", np.zeros(3), UP, (0.0, 25.0)))
    assert found.gap == pytest.approx(gap) and found.ok == (gap <= 1.0)


@pytest.mark.parametrize(("x", "have"), [(900.0, 100.0), (-900.0, 100.0), (910.0, 90.0), (880.0, 120.0), (1000.0, 0.0), (1200.0, 0.0)])
def test_two_plates_over_each_other_by_hand(x, have):
    """From 0 to 1,000 and from x on, either side: what both have of the run; a sheet's thickness apart is on each other."""
    found = cover(plate("A", 0.0, 0.6), plate("B", x), 100.0)
    assert found.have == pytest.approx(have) and found.ok == (have >= 99.0) and found.long == (have > 103.0)
    assert found.closed == pytest.approx(min(have / 100.0, 1.0))
    assert not cover(plate("A", 0.0, 6.0), plate("B", x), 100.0).ok, "6 mm apart they do not lie on each other"


def pan(name, x, lock):
    """500 wide, 1,000 up the slope, its lock 25 above its floor from ``lock[0]`` to ``lock[1]`` across, beside x."""
    def flat(left, right, z):
        return np.array([(left, 0, z), (right, 0, z), (right, 1000, z), (left, 1000, z)], dtype=float)
    return Standing(name, name, (flat(x, x + 500, 0.0), flat(*lock, 25.0)))


def with_legs(piece, root, tip, down=10.0):
    """The pan's leg at its lock's root, and what goes down at its tip."""
    def upright(x, low):
        return np.array([(x, 0, low), (x, 1000, low), (x, 1000, 25), (x, 0, 25)], dtype=float)
    return Standing(piece.name, piece.pattern, (*piece.parts, upright(root, 0.0), *((upright(tip, 25.0 - down),) if down else ())))


@pytest.mark.parametrize(("low", "high", "have"), [((500, 510), (500, 510), 10.0), ((500, 510), (500, 506), 6.0),
                                                  ((500, 510), (490, 500), 0.0), ((501, 510), (500, 509), 8.0)])
def test_two_locks_by_hand(low, high, have):
    """Both over the right pan: what they share across. Each over its own side: they do not meet."""
    a = with_legs(pan("A", 0.0, high), 500.0, max(low[1], high[1]))
    found = hook(a, pan("B", 500.0, low), UP, np.array([0.0, 1.0, 0.0]))
    assert found.have == pytest.approx(have) and found.ok == (have >= 8.0) and (have == 0 or found.long == pytest.approx(1000.0))


@pytest.mark.parametrize("down", [0.0, 3.0])
def test_a_double_lock_that_does_not_go_round_the_other_one_is_no_hook(down):
    found = hook(with_legs(pan("A", 0.0, (500, 510)), 500.0, 510.0, down), pan("B", 500.0, (500, 510)), UP, np.array([0.0, 1.0, 0.0]))
    assert found.have == pytest.approx(10.0) and not found.closed and not found.ok


@pytest.mark.parametrize("name", ["net-shed", "hip"])
def test_every_seam_of_pans_made_in_the_shop_is_hooked_and_a_pan_of_the_other_hand_is_found(name):
    """As many locks as seams between pans that are pieces; a mirrored pan meets its neighbours' locks nowhere, and a leg 5 mm
    higher lifts its lock off theirs."""
    derived = derived_of(name)
    assert trouble(checked(name)) == []
    hooks = [one for one in checked(name).hooks if one.b.partition("/")[0][:1] not in "G" and one.how != "kerf"]
    pans = {one.id: one for opening in derived.openings if opening.kind == "pans" for one in (p.pattern for p in opening.pieces)}
    assert len(hooks) > 10 and {one.a.partition("/")[0] for one in hooks} <= set(pans)
    for pattern in [pans[one.a.partition("/")[0]] for one in hooks][::max(5, len(hooks) // 3)]:
        said = trouble(checked(name, mirrored(pattern)))
        assert any("reach 0.0 mm into each other" in says for says in said), pattern.id
        high = wider_leg(1, 5.0)(pattern)
        assert high is None or trouble(checked(name, high)), pattern.id


@pytest.mark.parametrize("name", JOBS)
def test_on_sound_roofs_it_is_silent_and_looks_at_every_trim_and_lap(name):
    derived, found = derived_of(name), checked(name)
    assert trouble(found) == [] and found.sound
    standing = stand_all(derived.patterns, placed_of(name))
    joints = sum(max(0, len([p for p in run.pieces if p.id in standing]) - 1) for run in derived.runs if not run.run.gaps)
    counters = sum(one.under.partition("-")[0] + ".c" == one.over.partition("-")[0] for one in found.covers)
    between = sum(one.free for one in found.covers)
    assert len(found.covers) - counters - between == joints > 0, "every joint, every counterflashing over its upstand, every trim over the next"
    looked = {one.piece.partition("/")[0] for one in found.contacts} | {
        piece.id for run in derived.runs if run.run.layer == "cleat" for piece in run.pieces}
    left = {p.id for run in derived.runs for p in run.pieces if p.id in standing} - looked
    assert all(next(run for run in derived.runs if any(p.id == one for p in run.pieces)).run.kind in ("pitch-break", "valley")
               for one in left), left
    assert max(one.gap for one in found.contacts) < 0.1


@pytest.mark.parametrize("seed", range(6))
def test_on_random_sound_roofs_it_is_silent(seed):
    """Any start, any system of the library, pitches from 3 to 60 degrees."""
    rng = random.Random(seed)
    plan = json.loads(STARTS[rng.choice(sorted(STARTS))].model_dump_json())
    for block in plan["blocks"]:
        block["pitch"] = rng.choice([3, 6, 12, 18, 25, 30, 38, 45, 52, 60])
    job = with_system(Job(name="x", roof=RoofPlan.model_validate_json(json.dumps(plan))), rng.choice(sorted(s.name for s in library())))
    derived = derive(job)
    found = check_built(derived, places_of(derived)[0])
    assert found.contacts and but_clashes(found) == []
    assert len({block["pitch"] for block in plan["blocks"]}) > 1 or not found.clashes, "what meets with one pitch goes together"


@pytest.mark.parametrize("name", ["net-shed", "gable"])
def test_a_length_that_is_10_off_is_told_by_its_millimetres(name):
    """Every piece whose middle lies on the lap's side: 10 shorter laps 10 less, 10 longer 10 more."""
    derived, sound = derived_of(name), checked(name)
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    joints = [lap for lap in sound.covers if not lap.free]
    seen, some = 0, joints[::max(1, len(joints) // 4)]
    for lap in some:
        for piece in (lap.over, lap.under):
            for by in (-10.0, 10.0):
                after = {(one.over, one.under): one for one in checked(name, longer(by)(patterns[piece])).covers}[lap.over, lap.under]
                if abs(after.have - lap.have) > 1.0:
                    assert after.have == pytest.approx(lap.have + by, abs=0.01) and after.ok == (by > 0) and after.long == (by > 0)
                    seen += 1
    assert seen == 2 * len(some), "one of the two pieces moves its end in the lap"


@pytest.mark.parametrize("name", ["net-shed", "gable"])
@pytest.mark.parametrize(("mutant", "least"), [(lambda n: wider_leg(n, 5.0), 0.7), (lambda n: wider_leg(n, -5.0), 0.7),
                                               (lambda n: turned(n, lambda t: -t), 0.75), (lambda n: turned(n, lambda t: t + 5.0), 0.55)])
def test_most_wrong_legs_and_folds_are_found(name, mutant, least):
    """Not all: the outer fold of a kick, a cleat's own stiffening and the last short zed may turn without anybody losing by it. Some
    fourteen of all; the page docs/built.md has the rest."""
    derived = derived_of(name)
    looked = {one.piece for one in checked(name).contacts}
    wrong = [made for pattern in derived.patterns if pattern.id in looked for n in range(6)
             if (made := mutant(n)(pattern)) is not None]
    some = wrong[::max(1, len(wrong) // 14)]
    seen = sum(bool(trouble(checked(name, one))) for one in some)
    assert len(some) > 12 and seen / len(some) >= least, (seen, len(some))


def test_panels_made_higher_after_the_trims_are_found_on_every_cap_and_rake():
    """Trims for seams of 25, panels of 50: caps on their closures and rakes on seams hang 25 too low."""
    high = next(s for s in library() if s.kind == "standing seam" and s.rules is not None and max(y for _, y in s.profile) > 35.0)
    other = derived_of("gable", high.name)
    found = check_built(other, placed_of("gable"), derived_of("gable").patterns)
    assert any(not one.ok for one in found.contacts)
    assert all("stands" in says and "mm off" in says for says in trouble(found)[:1])


def test_two_pieces_exchanged_are_found_where_they_differ():
    """A long and a short piece of one run put in each other's place leave a gap or lap too far."""
    derived = derived_of("sail-loft")
    run = next(run for run in derived.runs if not run.run.layer and len(run.pieces) > 1 and
               abs(run.pieces[0].pattern.length - run.pieces[1].pattern.length) > 20.0 and run.pieces[0].id in
               {one.over for one in checked("sail-loft").covers} | {one.under for one in checked("sail-loft").covers})
    a, b = run.pieces[0].pattern, run.pieces[1].pattern
    wrong = a.model_copy(update={"id": b.id}), b.model_copy(update={"id": a.id})
    assert trouble(checked("sail-loft", *wrong))


@pytest.mark.parametrize("seed", [40, 65, 7])
def test_roofs_of_any_blocks_with_their_pans_are_silent_too(seed):
    """Blocks through each other at odd bearings; the first four had pans whose head steps, which did not fold up."""
    rng = random.Random(seed)
    job = Job(name="x", roof=plan(*wild(seed)))
    derived = derive(long_cuts(with_system(job, rng.choice(sorted(s.name for s in library() if s.made == "shop")))))
    found = check_built(derived, places_of(derived)[0])
    assert found.contacts and but_clashes(found) == [], "where such roofs meet, trims do go through each other"


CHOICES = [(name, choice) for name, field in Schools.model_fields.items() for part in get_args(field.annotation)
           if get_origin(part) is Literal for choice in get_args(part)]


@pytest.mark.parametrize(("name", "choice"), CHOICES)
def test_with_any_school_it_is_silent(name, choice):
    """Vented ridges lie on higher zeds, a rake's zed is seen from behind: whatever is chosen, trims lie, lap and end where they should
    and go through nothing: a ridge's zeds end before a rake's zed, and before its flange where they stand higher."""
    start = {"closures": "hip", "counter": "gable with a lean-to"}.get(name, "gable")
    job = with_system(Job(name="x", roof=STARTS[start]).but(schools=Schools(**{name: choice})), "double seam 530 x 32")
    derived = derive(job)
    found = check_built(derived, places_of(derived)[0])
    assert found.contacts and found.ends and trouble(found) == []


@pytest.mark.parametrize("seed", [4, 38])
def test_roofs_of_any_blocks_with_bought_panels_are_silent_but_for_clashes(seed):
    """Back pans lie on the deck under the panels; the hips' shortest zeds are asked too; ridges are vented."""
    job = with_system(Job(name="x", roof=plan(*wild(seed))).but(schools=Schools(ridge="vented", rake_under="zed")),
                      "snap seam 16 x 1 3/4 in, nail strip")
    derived = derive(job)
    found = check_built(derived, places_of(derived)[0])
    assert found.contacts and but_clashes(found) == []


@pytest.mark.parametrize(("seed", "system"), [(199, "double seam 430 x 25")])
def test_scraps_are_no_pans_and_a_side_too_short_for_a_seam_has_no_lock(seed, system):
    """A corner of 23 by 9 mm beside a pan, and two pans whose common side is cut down by a valley to 42 mm."""
    derived = derive(long_cuts(with_system(Job(name="x", roof=plan(*wild(seed))), system)))
    found = check_built(derived, places_of(derived)[0])
    assert found.hooks and but_clashes(found) == []
    floors = [shapely.Polygon(shape.floor).area for one in derived.openings if one.kind == "pans" for shape in one.form.shapes]
    assert min(floors) > 400.0


@pytest.mark.parametrize("by", [10.0, -10.0])
def test_pans_and_cleats_10_off_are_found_at_either_end(by):
    """A pan against its panel's outline, a rake's cleat against where its rake leaves it room; the pan turned end for end too."""
    derived = derived_of("gable")
    pans = [piece.pattern for one in derived.openings if one.kind == "pans" for piece in one.pieces]
    cleats = [piece.pattern for run in derived.runs if run.run.layer == "cleat" for piece in (run.pieces[0], run.pieces[-1])]
    for pattern in (pans[0], pans[-1], cleats[0], cleats[-1]):
        said = trouble(checked("gable", longer(by)(pattern)))
        assert any(f"{abs(by):.0f} mm {'past' if by > 0 else 'short of'}" in says or "mm over" in says for says in said), (pattern.id, said)


def test_an_eave_apron_s_cleat_lies_in_its_hem_and_is_missed_where_it_does_not():
    """Flat on the fascia, as high as the apron less 4 under its fold, its edge in the hem at the apron's foot; 10 too low, too short
    or too long, or its own hem turned, it is found."""
    eaves = [run for run in derived_of("gable").edge_runs.values() if run.edge.kind == "eave"]
    derived = derive(derived_of("gable").job.but(edges=tuple(
        EdgeNote(key=run.edge.key, place=run.place, detail="eave-apron") for run in eaves)))
    placed, missing = places_of(derived)
    standing = stand_all(derived.patterns, placed)
    assert not missing and check_standing(derived, placed, standing).sound
    run = next(run for run in derived.runs if run.run.layer == "cleat" and run.run.kind == "eave")
    cleat, standard = standing[run.pieces[0].id], derived.run(run.run.id.removesuffix(".k")).standard
    heights = np.concatenate(cleat.parts)[:, 2]
    edge = derived.edge_runs[run.run.id.removesuffix(".k")].edge
    assert edge.a[2] - heights.min() == pytest.approx(standard.apron_face, abs=1.5)  # the fold's radius
    assert np.ptp(heights) == pytest.approx(standard.apron_face - 4.0, abs=1e-6)
    low = Standing(cleat.name, cleat.pattern, tuple(part - (0.0, 0.0, 10.0) for part in cleat.parts), cleat.flats, cleat.hems)
    only = frozenset({cleat.pattern})
    assert not check_standing(derived, placed, {**standing, cleat.name: low}, only).sound
    for wrong in (longer(10.0)(run.pieces[0].pattern), longer(-10.0)(run.pieces[0].pattern), hem_turned(0)(run.pieces[0].pattern)):
        assert not check_standing(derived, placed, {**standing, **stand_all((wrong,), placed)}, only).sound


def test_a_kick_that_turns_in_is_water_on_the_board():
    derived = derived_of("gable")
    for run in derived.runs:
        if run.run.kind in ("eave", "rake") and not run.run.layer:
            pattern = run.pieces[0].pattern
            level = sorted((fold for fold in pattern.folds if fold.a[1] == fold.b[1] and fold.kind == "fold"), key=lambda fold: fold.a[1])
            kick = min(level, key=lambda fold: abs(abs(fold.turn) - run.standard.kick_turn))
            folds = tuple(fold.model_copy(update={"turn": -fold.turn}) if fold.id == kick.id else fold for fold in pattern.folds)
            found = checked("gable", pattern.model_copy(update={"folds": folds}))
            assert any(drip.piece == pattern.id and drip.inward > 3.0 for drip in found.drips) and not found.sound
            assert any("runs back to the board" in says for says in trouble(found))


def test_a_zed_that_is_folded_the_other_way_is_told_by_its_flange():
    """Its top in under the cap instead of out to its edge: that one would be riveted to nothing; its foot out before it."""
    derived, said = derived_of("net-shed"), []
    for zed in [piece.pattern for run in derived.runs if run.run.layer == "closure" for piece in (run.pieces[0], run.pieces[-1])]:
        for fold in (0, 1):
            found = trouble(checked("net-shed", turned(fold, lambda turn: -turn)(zed)))
            assert found, (zed.id, fold)
            said += found
    assert any("its screws where rain comes" in one for one in said) and any("carries no edge" in one for one in said)


@pytest.mark.parametrize("trim", ["gutter-apron", "eave-apron", "flying-gable", "valley-closed", "valley-double", "back-pan",
                                  "wall-zed"])
def test_another_trim_chosen_for_an_edge_drips_where_it_should_bears_and_goes_through_no_panel(trim):
    """A flying gable's face goes back under the roof: it has no kick, and none is missed; that return ends before the eave's board.
    Panels end before both ribs of a valley that has two. A wall zed stands on its wall."""
    job = derived_of("sail-loft").job
    notes = tuple(EdgeNote(key=run.edge.key, place=run.place, detail=trim)
                  for run in derived_of("sail-loft").edge_runs.values() if run.edge.kind in FAMILIES[trim].kinds)
    derived = derive(job.but(edges=notes))
    found = check_built(derived, places_of(derived)[0])
    assert found.drips == () and found.hems == () and all(one.ok for one in found.contacts)
    assert found.sound


@pytest.mark.parametrize(("fold", "says"), [(1, "runs back to the upstand"), (2, "into the kerf over")])
def test_a_counterflashing_folded_the_other_way_drips_behind_itself_or_reaches_into_no_kerf(fold, says):
    derived = derived_of("gable with a lean-to")
    counters = [piece.pattern for run in derived.runs if run.run.layer == "counterflashing" for piece in run.pieces]
    assert counters
    for counter in counters:
        assert any(says in said for said in trouble(checked("gable with a lean-to", turned(fold, lambda turn: -turn)(counter)))), counter.id


@pytest.mark.parametrize("by", [5.0, -5.0])
def test_a_counterflashing_whose_face_is_5_off_misses_its_kerf(by):
    derived = derived_of("gable with a lean-to")
    for run in (run for run in derived.runs if run.run.layer == "counterflashing"):
        for piece in run.pieces:
            said = trouble(checked("gable with a lean-to", wider_leg(1, by)(piece.pattern)))
            assert any(f"{abs(by):.0f} mm {'past' if by > 0 else 'short of'} the kerf" in one or "over W1" in one for one in said), said


@pytest.mark.parametrize("name", ["gable", "gable with a lean-to", "hip"])
def test_every_fold_the_other_way_is_found(name):
    """Of every seventh pattern, each fold that is no hem."""
    derived = derived_of(name)
    corners = {piece.pattern.id for one in derived.openings if one.kind != "pans" for piece in one.pieces}
    for pattern in [one for one in derived.patterns if one.id in {p.pattern for p in placed_of(name)} - corners][::7]:
        for n in range(6):
            wrong = turned(n, lambda turn: -turn)(pattern)
            assert wrong is None or trouble(checked(name, wrong)), (pattern.id, n)


def test_what_ends_at_a_wing_that_stands_higher_ends_under_its_roof():
    """The main roof's ridge against the wing's wall: the flashing and its counterflashing stop under the wing's panels."""
    pitches = {"main": 6.0, "wing": 52.0}
    blocks = json.loads(STARTS["gable with a wing"].model_dump_json())
    for block in blocks["blocks"]:
        block["pitch"] = pitches[block["id"]]
    derived = derive(with_system(Job(name="x", roof=RoofPlan.model_validate_json(json.dumps(blocks))), "double seam 18 x 2 in"))
    found = check_built(derived, places_of(derived)[0])
    assert not [one for one in found.clashes if one.a.startswith("W1") or one.b.startswith("W1")]


def test_a_valley_s_foot_goes_on_beside_the_wall_that_begins_there():
    """Its water came onto the open deck in the corner between the wall, the panels below and those above."""
    derived = derive(with_system(Job(name="x", roof=plan(*wild(15))), "snap seam 16 x 1 3/4 in, nail strip"))
    found = check_built(derived, places_of(derived)[0])
    assert found.drops is not None and not [one for one in found.leaks if one.piece.startswith("V1-")]
