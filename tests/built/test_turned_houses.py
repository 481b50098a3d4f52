"""Houses turned by an odd angle, whose places are off by rounding: the same roofs, and as silent."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from plans import gable, plan, shed
from yattle.built.checked import check_built
from yattle.built.cover import flat_on
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.derive import derive
from yattle.derive.too_close import as_advised
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.roof.panel_parts import without_necks

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
LOW = gable("house", bearing=217.0, length=13038.79841787124, span=7139.071604340811, eave=4500.0, pitch=12.0, eave_overhang=200.0,
            rake_overhang=0.0)
WIDE = gable("house", bearing=217.0, length=10842.031329263862, span=8331.478164002254, eave=4500.0, pitch=35.0, eave_overhang=350.0,
             rake_overhang=350.0)
AT_A_SIDE = shed("dormer", -1181.6838033967415, 1568.1473720903562, 217.0, 1894.7764551065884, 2773.4754950959937, 6183.403166030313, 15.0,
                 eave_overhang=150.0, rake_overhang=150.0)
STEEP = gable("house", bearing=217.0, length=11666.020037086468, span=8676.566178260186, eave=4500.0, pitch=40.0, eave_overhang=350.0,
              rake_overhang=0.0)
BOTH = [shed(name, x, y, bearing, 3184.33569456521, 1907.0480711858997, 6446.4876457963965, 8.0, eave_overhang=150.0, rake_overhang=150.0)
        for name, x, y, bearing in (("dormer", -1496.2083911508425, 1985.53559754173, 217.0),
                                    ("other", 1496.2083911508423, -1985.5355975417303, 37.0))]


def troubles(job):
    derived = derive(job)
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


def built_of(system, *blocks):
    job = with_system(Job(name="turned", roof=plan(*blocks)), system)
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


@pytest.mark.parametrize(("system", "blocks"), [
    ("single seam 475 x 38", [LOW]), ("double seam 18 x 2 in", [WIDE, AT_A_SIDE]), ("snap seam 300 x 38", [STEEP, *BOTH])])
def test_a_turned_house_is_as_silent_as_it_is_square(system, blocks):
    """A lock held nothing there; a panel beside a dormer had a spike along the line it is split at, and became the hole beside it."""
    assert troubles(built_of(system, *blocks)) == []


def test_two_sheets_that_lie_on_each_other_but_for_rounding_share_all_of_it():
    """Two locks of 12 by 3,888 of that house: between the raw rectangles GEOS finds nothing, for all that they differ by 1e-12."""
    one = np.array([(-2797.398390919491, -5082.399208935622), (1090.3510834364283, -5082.3992089356225),
                    (1090.3510834364288, -5094.399208935623), (-2797.3983909194912, -5094.3992089356225)])
    other = np.array([(-2797.3983909194917, -5094.399208935622), (1090.3510834364283, -5094.3992089356225),
                      (1090.351083436428, -5082.3992089356225), (-2797.3983909194912, -5082.399208935622)])
    x, y = np.array([1.0, 0.0]), np.array([0.0, 1.0])
    assert shapely.intersection(flat_on(one, x, y), flat_on(other, x, y)).area == pytest.approx(12.0 * 3887.7494743559)


def test_what_is_advised_brings_eaves_a_little_off_one_height_to_it():
    """House and wing at one eave height, 18 and 22°, 200 overhang: their edges lie 200 · (tan 22 − tan 18) = 15.8 apart. The wing goes up
    by that; 10 mm lower, the next whole height, its panels and the house's ran into each other."""
    wing = gable("wing", -186.0, -3771.0, 90.0, 7542.0, 4891.0, 4500.0, 22.0, eave_overhang=200.0, rake_overhang=0.0)
    house = gable("house", length=9183.0, span=9084.0, eave=4500.0, pitch=18.0, eave_overhang=200.0, rake_overhang=0.0)
    job = built_of("snap seam 16 x 1 3/4 in, nail strip", house, wing)
    advised = as_advised(derive(job))
    assert advised is not None
    assert {block.id: block.eave_height for block in advised.blocks} == pytest.approx({"house": 4500.0, "wing": 4515.82}, abs=0.02)
    assert troubles(job.but(roof=advised)) == []


def test_a_spike_goes_and_the_rest_stays():
    spiked = shapely.Polygon([(0, 0), (100, 0), (100, 1e-5), (500, 1.5e-5), (500, 300), (0, 300)])
    left = without_necks(spiked)
    assert left.area == pytest.approx(spiked.area, rel=1e-4)
    thin = shapely.Polygon([(0, 0), (100, 0), (100, 100), (400, 100), (400, 100.00001), (100, 100.00001), (100, 200), (0, 200)])
    assert without_necks(thin).bounds == pytest.approx((0, 0, 100, 200), abs=1e-6)
