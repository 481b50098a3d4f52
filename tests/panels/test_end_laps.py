"""Structure and end laps: panels longer than can be handled are lapped at supports, each row of screws counted once."""

from __future__ import annotations

import json
import math
from itertools import pairwise

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from yattle.derive import derive
from yattle.details.schools import Schools
from yattle.install.installation import installation
from yattle.install.panel_fixings import needs_of_panels
from yattle.job import Job
from yattle.job.fixing_rules import FixingRules
from yattle.job.panel_systems import ruled_by, with_own_system, with_system
from yattle.job.store import as_text, parse
from yattle.panels import find
from yattle.roof import RoofPlan, build
from yattle.roof.build_up import build_up
from yattle.roof.panel_parts import end_laps
from yattle.roof.panels import PanelRule, lay
from yattle.roof.starts import STARTS
from yattle.roof.structure import Structure

RIB = find("rib 35, pitch 207")
GABLE = Job(name="hall", roof=STARTS["gable"] if "gable" in STARTS else next(iter(STARTS.values())))


def shed(span, length=4140.0, pitch=6.0):
    block = {"id": "porch", "kind": "shed", "x": 0.0, "y": 0.0, "length": length, "span": span, "eave_height": 2500.0,
             "pitch": pitch}
    return build(RoofPlan.model_validate_json(json.dumps({"blocks": [block]})))


def test_end_laps_lie_in_the_middle_over_supports_by_hand():
    """A slope of 20 m in pieces of 9 m at the most, laps of 300, supports every 1,200 from 200 up, no overhang: the first
    foot may be 8,700 up, its lap's middle 8,850: the support at 8,600 (200 + 7 · 1,200), foot 8,450; the next one 8,450 +
    8,700 + 150 = 17,300: 17,000, foot 16,850. The last piece is 3,150."""
    rule = PanelRule(overhang=0.0, longest=9000.0, lap=300.0, supports=1200.0, offset=200.0)
    assert end_laps(20_000.0, rule) == pytest.approx((8450.0, 16_850.0))
    assert end_laps(9000.0, rule) == () and end_laps(20_000.0, rule.but(longest=0.0)) == ()


def test_on_a_deck_the_lengths_are_even_by_hand():
    """20 m in pieces of 9 m with laps of 300: three, (20,000 + 2 · 300) / 3 = 6,866.67 each; feet 6,566.67 apart."""
    feet = end_laps(20_000.0, PanelRule(overhang=0.0, longest=9000.0, lap=300.0))
    assert feet == pytest.approx((6566.667, 13_133.333), abs=0.01)


@given(st.floats(2000, 60_000), st.floats(1500, 15_000), st.floats(0, 400), st.floats(0, 1500), st.floats(0, 1000),
       st.floats(0, 120))
def test_every_piece_can_be_handled_and_together_they_reach(height, longest, lap, spacing, offset, overhang):
    assume(lap < longest / 4)
    spacing = 0.0 if spacing < 200 else spacing
    rule = PanelRule(overhang=overhang, longest=longest, lap=lap, supports=spacing, offset=offset)
    feet = end_laps(height, rule)
    if not feet:
        assert height + overhang <= longest + 1e-6 or spacing > 0 or longest < 2 * lap + 100
        return
    ends = [-overhang, *feet, height]
    lengths = [high - low + (lap if n < len(feet) else 0.0) for n, (low, high) in enumerate(pairwise(ends))]
    assert max(lengths) <= longest + 1e-6 and min(lengths) > 0
    assert sum(lengths) == pytest.approx(height + overhang + lap * len(feet))
    if spacing:
        assert all((foot + lap / 2 - offset) / spacing == pytest.approx(round((foot + lap / 2 - offset) / spacing), abs=1e-6) for foot in feet)


def test_a_hall_of_two_lengths_has_its_row_in_the_lap_counted_once():
    """4,140 wide, 12 m up a slope of 6°: four panels of 1,035 with five ribs; handled up to 9 m, laps of 300 (below 10°);
    purlins every 1,500 from 300 up. Slope 12,000 / cos 6° = 12,066; overhang 40. The lap's middle may be 8,810 up at the
    most: the purlin at 7,800, foot 7,650. Rows of the lower pieces: foot, 300 … 6,300 (five), head is the lap. Upper ones:
    foot in the lap, 9,300 and 10,800 (7,800 is within 150 of the foot's row... it is that row), head. Two at ends, one
    between: 4 · 5 · (2 + 5 · 1 + 2 + 2 · 1 + 2) = 260."""
    system = RIB.but(rules=RIB.rules.but(longest=9000.0), fixing=RIB.fixing.but(end_row=2, middle_row=1, plates=True))
    roof = shed(12_000.0)
    structure = Structure(kind="supports", spacing=1500.0, offset=300.0)
    rule = ruled_by(PanelRule(start=0.0), system).but(lap=300.0, longest=9000.0, supports=1500.0, offset=300.0)
    laid = lay(roof, roof.facets[0].id, rule)
    assert len(laid.panels) == 8 and sum(panel.is_lapped for panel in laid.panels) == 4
    lower, upper = laid.panels[0], laid.panels[1]
    assert lower.length == pytest.approx(40 + 7650 + 300) and upper.length == pytest.approx(12_000 / math.cos(math.radians(6)) - 7650)
    found = {need.what: need for need in needs_of_panels(roof, laid, FixingRules(), system, structure)}
    assert found["panel screws"].many == 260 and found["backer plates"].many == 4
    tapes = [need.many for need in needs_of_panels(roof, laid, FixingRules(), system, structure) if need.what == "tape"]
    assert sorted(tapes) == [4140, 2 * 4140], "beneath the eave's row, and two beads in every lap"


def test_what_a_system_and_a_structure_ask_for_reaches_the_layout_and_is_said():
    own = RIB.but(name="own rib", rules=RIB.rules.but(longest=2500.0))
    job = with_system(with_own_system(GABLE, own), "own rib").but(structure=Structure(kind="supports", spacing=600.0, offset=50.0))
    derived = derive(job)
    laid = next(iter(derived.panels.values()))
    assert any(panel.is_lapped for panel in laid.panels) and max(p.length for p in laid.panels) <= 2500.0 + 1e-6
    assert laid.rule.lap == own.rules.lap_at(derived.roof.facets[0].plane.pitch)
    assert any("lengths, lapped by" in finding.says() for _, finding in installation(derived).findings)
    far = derive(job.but(structure=Structure(kind="supports", spacing=4900.0, offset=4000.0)))
    assert any("is handled up to" in finding.says() for _, finding in installation(far).findings)
    assert parse(as_text(job)) == job


def test_a_face_may_have_a_structure_of_its_own():
    face = build(GABLE.roof).facets[0].id
    job = GABLE.with_structure(Structure(kind="supports", spacing=900.0), face)
    assert job.structure_of(face).spacing == 900.0 and job.structure_of("other").kind == "deck"
    again = job.with_panels(face, job.panel_rule(face).but(overhang=60.0))
    assert again.structure_of(face).spacing == 900.0 and again.panel_rule(face).overhang == 60.0
    with pytest.raises(ValueError, match="spacing: found 10 mm, expected 50 mm or more"):
        Structure.model_validate({"kind": "supports", "spacing": 10.0})


@pytest.mark.parametrize(("schools", "more"), [({"closures": "folded"}, 38.0), ({"ridge": "vented"}, -20.0), ({}, 0.0)])
def test_pans_folded_up_and_slots_left_change_the_lengths(schools, more):
    """Folded up they are longer by the closure they stand for, vented shorter by the slot, each with a line of its own."""
    plain, other = (next(iter(derive(job).panels.values())).panels[1]
                    for job in (GABLE, GABLE.but(schools=Schools(**schools))))
    assert other.length - plain.length == pytest.approx(more)
    assert (len(other.terms) > len(plain.terms)) is bool(more)


def test_a_face_narrower_than_a_panel_is_said():
    job = with_system(Job(name="porch", roof=shed(3000.0, length=400.0).plan), RIB.name)
    assert any("narrower than one panel" in finding.says() for _, finding in installation(derive(job)).findings)


def test_heights_are_added_up_by_hand():
    """Deck 22, underlay 2, sheet 0.6, seams 38: flats 2.6 over the deck, 62.6 in all; with an old roof of 25 and battens
    of 30 on it the same over the battens."""
    on_deck = build_up(Structure(), 0.6, 38.0)
    assert [layer.name for layer in on_deck.layers] == ["deck", "underlay", "panel", "seams"]
    assert on_deck.layers[-1].top == pytest.approx(62.6) and on_deck.flat == pytest.approx(2.6)
    over = build_up(Structure(kind="supports", spacing=600.0, thickness=30.0, old_roof=25.0), 0.6, 38.0)
    assert [layer.name for layer in over.layers][:2] == ["old roof", "supports"] and over.flat == pytest.approx(2.6)
    assert over.layers[-1].top == pytest.approx(25 + 30 + 2.6 + 38) and over.seams == pytest.approx(40.6)
