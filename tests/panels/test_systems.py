"""Panel systems: what is derived from a profile against closed forms; what hangs together is checked."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from samples import metal
from yattle.errors import InputError
from yattle.panels import PanelSystem, derive_profile, find, library
from yattle.panels.profile import blank_width, figures_of
from yattle.panels.system import PanelRules


def pan(coverage=475.0, height=38.0, lock=12.0, seam=14.0, **more):
    points = ((0.0, height), (0.0, 0.0), (coverage, 0.0), (coverage, height), (coverage + lock, height))
    return PanelSystem(**{"name": "pan", "kind": "standing seam", "profile": points, "under": 0.0, "over": coverage, "seam": seam,
                          "lock": "single"} | more)


def ribbed(count=3, coverage=900.0, height=35.0, foot=80.0, top=40.0, lip=15.0, **more):
    pitch, points = coverage / count, [(-foot / 2 - lip, 0.0)]
    for k in range(count + 1):
        at = k * pitch
        points += [(at - foot / 2, 0.0), (at - top / 2, height), (at + top / 2, height), (at + foot / 2, 0.0)]
    points.append((coverage + foot / 2 + lip, 0.0))
    return PanelSystem(**{"name": "ribs", "kind": "ribbed", "profile": tuple(points), "under": 0.0, "over": coverage} | more)


@pytest.mark.parametrize("system", library(), ids=lambda s: s.name)
def test_the_library_hangs_together_and_says_where_its_figures_come_from(system):
    found = derive_profile(system)
    assert 25 < found.clear <= found.coverage and found.height > 0 and dict(system.sources)["profile"]
    assert found.coverage == pytest.approx(system.over - system.under)
    assert bool(found.ribs) == (system.kind in ("ribbed", "sandwich"))
    assert any(flat.takes_screw for flat in found.flats)
    fixing = system.fixing
    assert fixing.clips or fixing.strip or fixing.supports, "it is held by something"


def test_there_are_twelve_and_more_in_mm_and_in_inches():
    names = [system.name for system in library()]
    assert len(set(names)) == len(names) >= 12 and sum(" in" in name for name in names) >= 4
    assert {system.kind for system in library()} == {"standing seam", "snap seam", "ribbed", "sandwich", "shingle"}


@given(st.floats(200, 700), st.floats(15, 60), st.floats(3, 20))
def test_a_pan_s_clear_width_is_its_coverage_less_the_seam(coverage, height, seam):
    found = derive_profile(pan(coverage, height, seam=seam))
    assert found.clear == pytest.approx(coverage - seam) and found.height == pytest.approx(height)
    assert [flat.width for flat in found.flats] == pytest.approx([coverage]) and not found.ribs


def test_an_18_inch_pan_with_a_three_eighths_seam_by_hand():
    """18 in less 3/8 in: 17 5/8 in clear."""
    system = pan(18 * 25.4, 38.1, seam=0.375 * 25.4, kind="snap seam")
    assert derive_profile(system).clear == pytest.approx(17.625 * 25.4)


@given(st.integers(1, 8), st.floats(10, 60), st.floats(20, 70), st.floats(0, 15))
def test_ribs_are_read_off_the_profile(count, height, top, slope):
    foot = top + 2 * slope + 2
    system = ribbed(count, count * 200.0, height, foot, top)
    found = derive_profile(system)
    assert len(found.ribs) == count and found.rib_pitch == pytest.approx(200.0) and found.height == pytest.approx(height)
    assert all((rib.foot, rib.top, rib.height) == pytest.approx((foot, top, height), abs=1e-6) for rib in found.ribs)
    assert found.clear == pytest.approx(200.0 - foot)
    assert [rib.at for rib in found.ribs] == pytest.approx([200.0 * (k + 1) for k in range(count)])


def test_the_blank_of_a_pan_is_its_girth():
    """Sum of the legs less three deductions at 90°: 38 + 475 + 38 + 12 less 3 × (2·1.4 − ½π·(0.8 + 0.33·0.6))."""
    deduction = 2 * (0.8 + 0.6) - math.pi / 2 * (0.8 + 0.33 * 0.6)
    assert blank_width(pan(), metal()) == pytest.approx(38 + 475 + 38 + 12 - 3 * deduction)
    assert blank_width(pan(), metal({"rule": "sum"})) == pytest.approx(563.0)


@pytest.mark.parametrize(("change", "says"), [
    ({"profile": ((0.0, 38.0), (0.0, 0.0), (475.0, 0.0), (475.0, 38.0), (-20.0, 20.0))}, "crosses itself"),
    ({"profile": ((0.0, 0.0), (0.0, 0.0), (475.0, 0.0))}, "the same point twice"),
    ({"coverage": 470.0}, "475 mm, as far as the profile's seams stand apart"),
    ({"over": 20.0}, "a coverage of 50 to 2000"), ({"seam": 480.0}, "less than the coverage"),
    ({"kind": "ribbed", "profile": ((0.0, 0.0), (475.0, 1.0))}, "ribs of at least 3 mm")])
def test_what_does_not_hang_together_is_said(change, says):
    with pytest.raises(InputError, match=says):
        pan().but(**change)


def test_an_unknown_system_is_said_with_the_nearest():
    with pytest.raises(InputError, match=r"system: found 'single seam 475', expected a panel system such as 'single seam 475 x 38'"):
        find("single seam 475")
    own = pan(name="our own")
    assert find("our own", (own,)) is own


def test_laps_by_pitch():
    rules = PanelRules(lap=((20.0, 150.0), (0.0, 300.0), (10.0, 200.0)))
    assert [rules.lap_at(pitch) for pitch in (0, 9.9, 10, 19.9, 45)] == [300, 300, 200, 200, 150]


def test_figures_are_shown_with_the_sums_they_come_from():
    """430 and its seam of 12: 418 clear; blank 430 + 25 + 10 + 25 + 2 · 10. Ribs of 100 every 333.3: 233.3 clear."""
    seamed = {figure.what: figure.value for figure in figures_of(find("double seam 430 x 25"))}
    assert seamed == pytest.approx({"coverage": 430.0, "clear": 418.0, "blank": 510.0})
    ribbed = {figure.what: figure.value for figure in figures_of(find("rib 45, pitch 333"))}
    assert ribbed == pytest.approx({"coverage": 1000.0, "clear": 1000.0 / 3 - 100.0})
    for system in library():
        read = derive_profile(system)
        assert {figure.what: figure.value for figure in figures_of(system)}["coverage"] == pytest.approx(read.coverage)
        clear = [figure.value for figure in figures_of(system) if figure.what == "clear"]
        assert clear in ([], [pytest.approx(read.clear)])
