"""Drops let go beside every joint: by hand on plates in space, and on whole roofs with a sheet wrong or taken away."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
import shapely
from test_checked import checked, derived_of, placed_of, standing_of

from yattle.built.checked import check_standing
from yattle.built.cover import WantedLap
from yattle.built.drops import grid_over, lost_drops
from yattle.built.laid import laid_panels
from yattle.built.orders import piece_orders
from yattle.built.rims import rims_of
from yattle.built.said import said_of
from yattle.built.sheets import Sheet, Sheets
from yattle.built.slots import CoveredFace
from yattle.built.standing import Standing
from yattle.built.told import told_wrong
from yattle.built.wind import Wind, driven_in

LEAN = np.array([0.0, -np.sin(np.radians(30)), np.cos(np.radians(30))])  # water runs toward −y
DECK = CoveredFace("F", shapely.box(0, 0, 2000, 3000), np.zeros(3), LEAN)


def plate(name, order, low, high, left=0.0, right=2000.0, lift=0.0):
    """On the slope z = y · tan 30°, ``lift`` mm over it."""
    rise = np.tan(np.radians(30))
    ring = np.array([(x, y, y * rise + lift) for x, y in ((left, low), (right, low), (right, high), (left, high))])
    return Sheet(name, ring, order)


def panel(name, order, low, high):
    return replace(plate(name, order, low, high), item="panels F")


def lost(*sheets, sealed=()):
    return [(one.piece, one.under, one.how) for one in found_on(lost_drops, sheets, sealed=frozenset(sealed))]


def found_on(asked, sheets, *more, **how):
    lying = Sheets(list(sheets))
    return asked(lying, rims_of(lying), [DECK], *more, **how)


def driven(*sheets, rise=15.0, most=300.0, sealed=()):
    return [(one.piece, one.under, one.how)
            for one in found_on(driven_in, sheets, Wind(rise, most), sealed=frozenset(sealed))]


def test_the_upper_sheet_over_the_lower_one_sheds_and_the_other_way_round_it_leaks():
    assert lost(plate("low", 1, 0, 1600), plate("up", 2, 1500, 3000)) == []
    assert lost(plate("low", 2, 0, 1600), plate("up", 1, 1500, 3000)) == [("up", "low", "under")]
    assert lost(plate("low", 2, 0, 1600), plate("up", 1, 1500, 3000), sealed={"low"}) == [("up", "low", "sealant")]


@pytest.mark.parametrize(("gap", "leaks"), [(0.0, False), (-50.0, False), (3.0, False), (30.0, True)])
def test_what_comes_off_an_edge_has_to_land_on_a_sheet(gap, leaks):
    found = lost(plate("low", 1, 0, 1500), plate("up", 2, 1500 + gap, 3000))
    assert (("up", "deck F", "deck") in found) is leaks and len(found) == leaks


@pytest.mark.parametrize(("turned", "gap", "leaks"), [(0, 0.6, False), (0, 2.4, False), (0, 40.0, True), (90, 0.6, False),
                                                      (45, 2.0, False), (90, 40.0, True)])
def test_a_drop_does_not_get_in_between_the_legs_of_a_seam(turned, gap, leaks):
    """A sheet that ends 60 mm over the seam between two others, so that its drops land on a gap narrower than they are."""
    upper = plate("upper", 3, 1000, 2000, 700, 1300, lift=60.0)
    at = upper.ring[:2, :2].mean(axis=0) - (0.0, 5.0)  # where drops from the middle of its edge land
    way = np.array([np.cos(np.radians(turned)), np.sin(np.radians(turned))])

    def half(name, side):
        aside = side * np.array([-way[1], way[0]])
        corners = [at + aside * off + way * along for off, along in ((gap / 2, -3000), (gap / 2, 3000), (3000, 3000), (3000, -3000))]
        return Sheet(name, np.array([(x, y, y * np.tan(np.radians(30))) for x, y in corners]), 1)
    found = [(one.piece, one.how) for one in found_on(lost_drops, (half("left", 1), half("right", -1), upper))]
    assert (("upper", "deck") in found) is leaks


def test_clear_of_the_roof_is_no_leak():
    """Off the eave at y = 0, off both sides."""
    assert lost(plate("all", 1, -40, 3000, -20, 2020)) == []


def test_under_a_cap_that_hangs_over_it_water_needs_something_that_stops_it():
    """A cap 60 mm over the sheets' gap: over a zed only its tape keeps the water out, without one it runs off the pan's end."""
    low, pan, cap = plate("low", 1, 0, 900), plate("pan", 1, 1000, 3000), plate("cap", 3, 850, 1200, lift=60.0)
    assert lost(low, pan, cap) == [("pan", "cap", "cover")]
    rise = 1050 * np.tan(np.radians(30))
    zed = Sheet("zed", np.array([(0, 1050, rise), (2000, 1050, rise), (2000, 1050, rise + 60), (0, 1050, rise + 60)], dtype=float), 2)
    assert lost(low, pan, cap, zed) == [("pan", "zed", "sealant")]


def test_water_under_the_outermost_rim_comes_out_again():
    """A flange that lies 15 mm beside its neighbour's edge takes in no water; one of 300 does. The rest of it is covered."""
    pan, beside = plate("pan", 1, 0, 3000, 0, 1000), plate("beside", 3, 0, 3000, 1000, 2000)
    assert lost(pan, beside, plate("flange", 2, 1000, 2000, 985, 1200)) == []
    assert lost(pan, beside, plate("flange", 2, 1000, 2000, 700, 1130)) == [("pan", "flange", "under")]


@pytest.mark.parametrize(("over", "rise", "leaks"), [(100.0, 15.0, False), (24.0, 15.0, False), (20.0, 15.0, True),
                                                     (90.0, 60.0, True), (110.0, 60.0, False)])
def test_wind_drives_water_over_a_lap_that_rises_less(over, rise, leaks):
    """In plan a lap of 30° rises by its tangent: 15 mm on 26, 60 mm on 104."""
    low, up = panel("low", 1, 0, 1500 + over), panel("up", 2, 1500, 3000)
    assert driven(low, up, rise=rise) == ([("low", "up", "wind")] if leaks else [])
    assert driven(low, up, rise=rise, sealed={"up"}) == []
    assert driven(low, up, rise=rise, most=over * 0.9) == [], "past the longest lap only a bead helps"


def test_what_stands_up_beneath_a_lap_stops_the_wind():
    low, up = panel("low", 1, 0, 1510), panel("up", 2, 1500, 3000)
    rise = 1508 * np.tan(np.radians(30))
    dam = Sheet("low", np.array([(0, 1508, rise), (2000, 1508, rise), (2000, 1508, rise + 20), (0, 1508, rise + 20)]), 1)
    assert driven(low, up) and driven(low, dam, up) == []
    assert driven(plate("low", 1, 0, 1510), up) == [], "what lies on the deck is lapped by the underlay"


@pytest.mark.parametrize("name", ["sail-loft", "gable with a wing"])
def test_sound_roofs_shed_and_a_panel_run_short_of_its_valley_does_not(name):
    assert checked(name).leaks == ()
    derived, standing = derived_of(name), standing_of(name)
    for run in [run for run in derived.runs if run.run.kind == "valley" and run.pieces][:1]:
        ids = {piece.id for piece in run.pieces}
        left = {key: one for key, one in standing.items() if one.pattern not in ids}
        found = check_standing(derived, list(placed_of(name)), left)
        assert found.leaks and any(one["row"] == "water" and "deck" in one["says"] for one in said_of(found))


def test_a_zed_further_out_than_its_cap_is_told():
    """Moved 60 mm down the slope it looks out from under the wing, whose rain it then takes."""
    name = "gable"
    derived, standing = derived_of(name), dict(standing_of(name))
    zed = next(one for one in standing.values() if ".z1" in one.name)
    way = zed.middle * np.array([0.0, 1.0, 0.0])
    by = way / np.linalg.norm(way) * 60.0
    standing[zed.name] = Standing(zed.name, zed.pattern, tuple(part + by for part in zed.parts), zed.flats)
    found = check_standing(derived, list(placed_of(name)), standing)
    assert any(not one.ok and one.piece == zed.name for one in found.hidden) and not found.sound
    assert any("out from under" in one["says"] for one in said_of(found))


def test_a_lap_told_the_wrong_way_round_is_found():
    """Fitting says the cap goes over the pan: over it is right, told the other way round it lies 60 mm under what it should be over."""
    sheets = Sheets([plate("pan", 1, 0, 3000), plate("cap", 2, 1000, 1400, lift=60.0)])
    items = ["panels", "R1"]
    assert list(told_wrong(sheets, items, [("R1", "panels")])) == []
    (found,) = told_wrong(sheets, items, [("panels", "R1")])
    assert (found.over, found.under) == ("panels", "R1") and found.below == pytest.approx(60.0)
    assert list(told_wrong(Sheets([plate("pan", 1, 0, 3000), plate("cap", 2, 1000, 1400, lift=400.0)]), items, [("panels", "R1")])) == []


@pytest.mark.parametrize("seed", range(12))
def test_a_lap_is_right_where_one_of_its_places_is_and_else_the_least_wrong_is_told(seed):
    """Strips on a slope, each of one of three items, at random heights: all pairs that share 900 mm² gone through by hand."""
    draw = np.random.default_rng(seed)
    ends, wide, lifts = draw.uniform(0, 1500, (40, 2)), draw.uniform(20, 600, (40, 2)), draw.uniform(-25, 25, 40)
    lifts += np.resize(draw.uniform(-50, 50, 3), 40)  # each item's own height
    strips = [plate(f"s{n}", n, y, y + high, x, x + long, lift)
              for n, ((x, y), (long, high), lift) in enumerate(zip(ends, wide, lifts, strict=True))]
    items, laps = [("a", "b", "c")[n % 3] for n in range(40)], [("a", "b"), ("c", "a"), ("c", "b")]
    below = {lap: [] for lap in laps}
    for upper, lower in ((a, b) for a in range(40) for b in range(40) if (items[a], items[b]) in laps):
        shared = np.minimum(ends[upper] + wide[upper], ends[lower] + wide[lower]) - np.maximum(ends[upper], ends[lower])
        if (shared > 0).all() and shared.prod() >= 900.0 and abs(lifts[upper] - lifts[lower]) < 120.0:
            below[items[upper], items[lower]].append(lifts[lower] - lifts[upper])
    wrong = {lap: min(places) for lap, places in below.items() if places and min(places) > 8.0}
    found = {(one.over, one.under): one.below for one in told_wrong(Sheets(strips), items, laps)}
    assert found == pytest.approx(wrong)


@pytest.mark.parametrize("turned", [False, True])
def test_a_row_of_laps_is_raised_from_its_lowest_piece(turned):
    """Four pieces of an eave, each over the next one or each under it: whichever lap is told first."""
    derived, placed = derived_of("gable"), placed_of("gable")
    names = [piece.id for piece in derived.run("E1").pieces][:4]
    row = names[::-1] if turned else names
    for laps in ([WantedLap(a, b, 80.0) for a, b in pairwise(row)], [WantedLap(a, b, 80.0) for a, b in pairwise(row)][::-1]):
        orders = piece_orders(derived, placed, laps)
        assert [orders[name] for name in row] == sorted((orders[name] for name in row), reverse=True)
        assert len({orders[name] for name in row}) == 4


@pytest.mark.parametrize("turned", range(0, 360, 24))
def test_a_drop_that_falls_on_a_sheet_runs_to_its_rim_the_shortest_way_down(turned):
    """By hand: straight down the slope from where it falls; on the uppermost of two; a plate lying level lets none go."""
    angle = np.radians(turned)
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])

    def turned_plate(*plate_of, **how):
        one = plate(*plate_of, **how)
        return replace(one, ring=np.column_stack((one.ring[:, :2] @ turn.T, one.ring[:, 2])))
    lying = Sheets([turned_plate("low", 1, 0, 1600), turned_plate("up", 2, 1500, 3000, lift=0.5)])
    drops = np.array([(700.0, 900.0), (1100.0, 2000.0), (50.0, 1550.0), (2500.0, 800.0)])
    before, found = rims_of(lying), rims_of(lying, drops @ turn.T)
    new = found.at[len(before.at):, :2] @ turn
    assert new == pytest.approx(np.array([(700.0, 0.0), (1100.0, 1500.0), (50.0, 1500.0)]), abs=1e-6), "beside both nothing lies"
    assert [lying.name(n) for n in found.sheet[len(before.at):].tolist()] == ["low", "up", "up"]
    assert found.out[len(before.at):] @ turn == pytest.approx(np.array([(0.0, -1.0)] * 3), abs=1e-9)
    level = Sheets([Sheet("level", np.array([(0, 0, 5.0), (900, 0, 5.0), (900, 900, 5.0), (0, 900, 5.0)]), 1)])
    assert len(rims_of(level, np.array([(300.0, 300.0)])).at) == len(rims_of(level).at)


@pytest.mark.parametrize("name", ["net-shed", "sail-loft"])
def test_wherever_a_drop_falls_on_a_roof_the_rim_it_comes_to_is_asked(name):
    """Drops on a grid over every face: each that comes to a rim comes to one beside which drops are let go, within 300 mm."""
    derived, standing = derived_of(name), standing_of(name)
    panels = [Sheet(one.id, one.ring, 0.5) for one in laid_panels(derived)]
    lying = Sheets([*panels, *(Sheet(one.name, part, 1.0) for one in standing.values() for part in one.parts)])
    grid = grid_over([facet.shape for facet in derived.roof.facets])
    beside = rims_of(lying)
    found = rims_of(lying, grid)
    new = found.some(np.arange(len(found.at)) >= len(beside.at))
    assert len(grid) > 100 and len(new.at) > 0.7 * len(grid)
    for sheet in np.unique(new.sheet).tolist():
        asked, came = beside.at[beside.sheet == sheet], new.at[new.sheet == sheet]
        off = np.linalg.norm(came[:, None, :] - asked, axis=2).min(axis=1)
        assert off.max() < 300.0, lying.name(sheet)
    assert {lying.name(n) for n in new.sheet.tolist()} & {panel.name for panel in panels}


def hemmed(low, high, turned, over=0.0):
    """A sheet on the slope with a hem of 20 mm at its foot, so many degrees back, ``over`` mm off it."""
    flat = plate("up", 2, low, high)
    fold, way = flat.ring[:2], np.array([0.0, np.cos(np.radians(30)), np.sin(np.radians(30))])
    down = way * np.cos(np.radians(180 - turned)) + LEAN * (-np.sin(np.radians(180 - turned)))
    return [flat, replace(flat, ring=np.array([fold[0], fold[1], fold[1] + down * 20.0, fold[0] + down * 20.0]) + LEAN * over)]


@pytest.mark.parametrize("turned", [180.0, 176.0, 150.0, 120.0])
def test_over_a_hem_at_its_foot_water_comes_off_a_sheet(turned):
    """Closed, open or a hook under it: what lies there must be a sheet, or nothing of the roof."""
    assert ("up", "deck F", "deck") in lost(*hemmed(1000, 3000, turned))
    assert lost(plate("low", 1, 0, 1100), *hemmed(1000, 3000, turned)) == []
    assert lost(*hemmed(0, 3000, turned)) == [], "at the eave it comes down outside"


def test_what_is_turned_up_and_back_over_a_sheet_holds_the_water():
    """A closed hem on top lets it over; the same 30 mm up on a leg does not."""
    up = plate("up", 2, 1000, 3000)
    leg = replace(up, ring=np.array([up.ring[0], up.ring[1], up.ring[1] + LEAN * 30, up.ring[0] + LEAN * 30]))
    assert lost(up, leg) == []


@pytest.mark.parametrize("fill, found", [("strip", False), ("open", True)])
def test_wind_is_held_by_strips_cut_to_the_profile_where_there_are_some(fill, found):
    cap = replace(plate("R1-1", 2, 2800, 3000, lift=40.0), item="R1")
    low = replace(panel("F/1", 0.5, 0, 2815), name="F/1")
    shut = frozenset({("R1", "F")}) if fill == "strip" else frozenset()
    said = [one.how for one in found_on(driven_in, (low, cap), Wind(15.0, 300.0, shut=shut))]
    assert ("wind" in said) is found
