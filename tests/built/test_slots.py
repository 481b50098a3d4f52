"""Open places of a face and laps against the water: by hand on plates, and on whole roofs with a sheet taken away."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from test_checked import derived_of, placed_of, standing_of

from yattle.built.checked import check_standing
from yattle.built.cover import WantedLap
from yattle.built.laid import faces_of_pans, laid_panels
from yattle.built.relations import Relations
from yattle.built.slots import CoveredFace, Covering, slots
from yattle.built.standing import Standing
from yattle.built.water import turned_laps
from yattle.roof.panel_edges import sides_of

FACE = CoveredFace("F", shapely.box(0, 0, 3000, 2000), np.zeros(3), np.array([0.0, 0.0, 1.0]))


def sheet(name, left, right, z=0.0, low=0.0, high=2000.0):
    return Covering(name, np.array([(left, low, z), (right, low, z), (right, high, z), (left, high, z)], dtype=float))


@pytest.mark.parametrize(("second", "wide"), [(1500.0, None), (1505.0, None), (1520.0, 20.0), (1600.0, 100.0), (1499.0, None)])
def test_a_slot_between_two_sheets_by_hand(second, wide):
    """One to 1,500, the other from there on: up to 5 mm are none (each sheet counts 0.6 further), more is told with what is beside."""
    found = list(slots([FACE], [sheet("A", 0, 1500), sheet("B", second, 3000)]))
    assert len(found) == (wide is not None)
    if wide is not None:
        assert found[0].wide == pytest.approx(wide - 1.2, abs=1.5) and set(found[0].between) == {"A", "B"}
        assert 1500 < found[0].at[0] < second and found[0].face == "F"


def test_what_stands_upright_or_far_above_covers_nothing():
    upright = Covering("U", np.array([(0, 0, 0), (3000, 0, 0), (3000, 0, 500), (0, 0, 500)], dtype=float))
    assert len(list(slots([FACE], [upright]))) == 1 and len(list(slots([FACE], [sheet("A", 0, 3000, 300.0)]))) == 1
    assert not list(slots([FACE], [sheet("A", 0, 3000, 40.0)])) and not list(slots([FACE], [sheet("A", 0, 3000, -2.0)]))


def test_a_sloping_face_tells_its_place_on_its_plane():
    """At 45°: over x 1,500 to 1,700 nothing lies; the place told lies on the plane z = y."""
    lean = np.array([0.0, -np.sqrt(0.5), np.sqrt(0.5)])
    face = CoveredFace("F", shapely.box(0, 0, 3000, 2000), np.zeros(3), lean)
    parts = [Covering(n, np.array([(a, 0, 0), (b, 0, 0), (b, 2000, 2000), (a, 2000, 2000)], dtype=float))
             for n, a, b in (("A", 0, 1500), ("B", 1700, 3000))]
    (found,) = slots([face], parts)
    assert found.at[2] == pytest.approx(found.at[1]) and found.wide == pytest.approx(198.8, abs=1.5)


@pytest.mark.parametrize("name", ["net-shed", "sail-loft", "gable with a wing"])
def test_whole_roofs_lie_open_nowhere_and_where_a_cap_or_a_valley_is_gone_they_do(name):
    derived = derived_of(name)
    standing = standing_of(name)
    assert check_standing(derived, list(placed_of(name)), standing).slots == ()
    for run in [run for run in derived.runs if run.run.kind == "valley" and run.pieces][:1]:
        left = {key: one for key, one in standing.items() if one.pattern not in {piece.id for piece in run.pieces}}
        found = check_standing(derived, list(placed_of(name)), left)
        assert found.slots and max(one.wide for one in found.slots) > 60.0 and not found.sound
    pans = faces_of_pans(derived)
    gone = next((key for key in standing if key.rpartition("-")[0] in pans), None)
    if gone is not None:
        found = check_standing(derived, list(placed_of(name)), {key: one for key, one in standing.items() if key != gone})
        assert any(one.wide > 100.0 for one in found.slots), gone


def test_bought_panels_lie_as_they_are_cut():
    """Over their eave by the overhang, clear of the valley's fold, their seams as high as the build-up says."""
    derived = derived_of("gable with a wing")
    panels = list(laid_panels(derived))
    assert panels and len({panel.id for panel in panels}) == len(panels)
    seen = 0
    for panel in panels:
        facet = derived.roof.facet(panel.face)
        off = (panel.ring - np.array(facet.plane.at((0.0, 0.0)))) @ np.array(facet.plane.normal)
        assert np.ptp(off) < 1e-6 and off.min() > 0 and all(np.ptp(seam, axis=0).max() > 50 for seam in panel.seams)
        laid = derived.panels[panel.face]
        ends = sides_of(derived.roof, laid)[int(panel.id.rpartition("/")[2])]
        for edge in derived.roof.edges_of(panel.face):
            if edge.kind == "valley" and "valley" in ends:
                line = shapely.LineString([edge.a[:2], edge.b[:2]])
                assert shapely.Polygon(panel.ring[:, :2]).distance(line) > 20.0, panel.id
                seen += 1
    assert seen > 5


def slope(name, low, high):
    """100 wide, along y from ``low`` to ``high``, rising 1 in 2."""
    ring = [(0, low, low / 2), (100, low, low / 2), (100, high, high / 2), (0, high, high / 2)]
    return Standing(name, name, (np.array(ring, dtype=float),))


@pytest.mark.parametrize(("over", "turned"), [("high", 0), ("low", 1)])
def test_a_lap_on_a_slope_has_its_upper_piece_on_top(over, turned):
    standing = {"low": slope("low", 0, 2000), "high": slope("high", 1920, 4000)}
    found = list(turned_laps(standing, [WantedLap(over, "low" if over == "high" else "high", 80.0)]))
    assert len(found) == turned and all(one.over == "low" for one in found)


def test_a_level_lap_has_no_upper_piece():
    flat = {n: Standing(n, n, (np.array([(x, 0, 0), (x + 2000, 0, 0), (x + 2000, 90, -40), (x, 90, -40)], dtype=float),))
            for n, x in (("a", 0.0), ("b", 1920.0))}
    assert not list(turned_laps(flat, [WantedLap("a", "b", 80.0), WantedLap("b", "a", 80.0)]))


def test_every_turned_lap_of_a_roof_is_found():
    """All laps of sloping runs asked the other way round: each is told; of level ones none."""
    derived = derived_of("sail-loft")
    standing = standing_of("sail-loft")
    laps = Relations.of(derived, list(placed_of("sail-loft")), None).laps
    assert laps and not list(turned_laps(standing, laps))
    other = [WantedLap(lap.under, lap.over, lap.want) for lap in laps]
    steep = [lap for lap in laps if derived.run(lap.over.rsplit("-", 1)[0]).run.slope > 1.0]
    assert {one.under for one in turned_laps(standing, other)} == {lap.over for lap in steep} != set()
