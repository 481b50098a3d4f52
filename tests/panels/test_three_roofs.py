"""Three small roofs counted by hand, as docs/panel-counts.md has them: a screwed lean-to, a standing seam hip, a sandwich
hall."""

from __future__ import annotations

import json
import math

import pytest

from yattle.derive import derive
from yattle.install.panel_fixings import panel_needs
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.roof import RoofPlan
from yattle.roof.panels import PanelRule
from yattle.roof.structure import Structure


def roof(**block):
    given = {"id": "a", "x": 0.0, "y": 0.0, "eave_height": 3000.0, "eave_overhang": 0.0} | block
    if block["kind"] != "hip":
        given |= {"rake_overhang": 0.0}
    return RoofPlan.model_validate_json(json.dumps({"blocks": [given]}))


def counted(plan, system, structure=None, **rule):
    job = Job(name="three", roof=plan, panels=PanelRule(start=0.0, **rule), structure=structure or Structure())
    found = {}
    for needs in panel_needs(derive(with_system(job, system))).values():
        for need in needs:
            found[need.what] = found.get(need.what, 0.0) + need.many
    return found


def test_a_screwed_lean_to():
    """Four panels of 1,035 with five ribs; 3,016.5 up the slope, rows every 1,200 at the most: two at the ends, two
    between; 4 · 5 · (2 + 1 + 1 + 2) = 120 screws. Three side laps under 14°: 7 screws each, 21, and 9,049.6 of tape."""
    found = counted(roof(kind="shed", length=4140.0, span=3000.0, pitch=6.0), "rib 35, pitch 207")
    slope = 3000 / math.cos(math.radians(6))
    assert found == pytest.approx({"panel screws": 120, "lap screws": 21, "lap tape": 3 * slope, "tape": 4140})


def test_a_standing_seam_hip():
    """8 × 6 m, 45°, pans of 500 (530 less 30 by a rule of its own): the ends' seams are 707.1 to 4,242.6 long and back,
    3 + 5 + 7 + 8 + 10 clips twice and 12 in the middle, 78; the sides' five in the middle are 4,242.6, 66 + 5 · 12 = 126.
    Twice both: 408 clips, 816 screws."""
    found = counted(roof(kind="hip", length=8000.0, span=6000.0, pitch=45.0), "", coverage=500.0)
    assert found == {"panel clips": 408, "clip screws": 816}


def test_a_sandwich_hall():
    """12 × 10 m gable at 10°, panels of 1,000 with a core of 80: 12 a face, 5,077.1 up the slope. Purlins every 2,000 from
    100 up: rows at the foot, at 2,100, 4,100 and at the head. One screw a rib and row. Eleven side laps a face: 5,027.1 in
    13 gaps, 14 screws each, 308 in all, and 111,696 of tape; tape under both eaves."""
    structure = Structure(kind="supports", spacing=2000.0, offset=100.0, thickness=160.0)
    found = counted(roof(kind="gable", length=12_000.0, span=10_000.0, pitch=10.0), "sandwich 1000, core 80", structure)
    slope = 5000 / math.cos(math.radians(10))
    assert found["lap screws"] == 2 * 11 * 14 and found["lap tape"] == pytest.approx(22 * slope)
    assert found["tape"] == 24_000
    assert found["panel screws"] == 2 * 12 * 4 * RIBS


RIBS = 3
"""Of the sandwich's outer skin, in one module of 1,000."""


@pytest.mark.parametrize("kind", ["gable", "hip", "shed"])
@pytest.mark.parametrize("system", ["rib 35, pitch 207", "single seam 475 x 38", "snap seam 16 x 1 3/4 in, nail strip"])
def test_counts_are_the_same_seen_in_a_mirror(kind, system):
    """Laid from the right instead of the left everything is counted alike."""
    plan = roof(kind=kind, length=9000.0, span=7000.0, pitch=30.0)
    assert counted(plan, system, side="left") == pytest.approx(counted(plan, system, side="right"))
