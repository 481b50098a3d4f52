"""Panels drilled in stacks: rows and ribs by hand, against the count of screws, and on paper."""

from __future__ import annotations

import json
import math
from itertools import pairwise

import pytest
from pypdf import PdfReader

from yattle.derive import derive
from yattle.install.panel_fixings import panel_needs
from yattle.install.stacked import drill_stacks
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.papers.site import write_site_pack
from yattle.roof import RoofPlan
from yattle.roof.structure import Structure

K = 1 / math.cos(math.radians(6))
SHED = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 6000.0, "span": 3000.0 / K, "eave_height": 2500.0, "pitch": 6.0}


def shed(**changes):
    plan = RoofPlan.model_validate_json(json.dumps({"blocks": [SHED]}))
    job = with_system(Job(name="store", roof=plan), "rib 45, pitch 333")
    return job.but(panels=job.panels.but(overhang=60.0, start=0.0),
                   structure=Structure(kind="supports", spacing=900.0, offset=100.0)).but(**changes)


def test_rows_at_the_supports_by_hand():
    """Supports at 100, 1,000, 1,900 and 2,800 up; 60 over the eave: the eave's row is on the first support, the head's, which has
    none near, 25 in from it. A panel of 1,000 has three ribs, the one that is lapped among them."""
    derived = derive(shed())
    (stack,) = drill_stacks(derived, derived.roof.facets[0].id)
    assert stack.length == pytest.approx(3060.0) and len(stack.numbers) == 6
    assert [at for at, _ in stack.rows] == pytest.approx([160.0, 1060.0, 1960.0, 2860.0, 3035.0], abs=0.06)
    assert len(stack.ribs) == 3
    assert all(b - a == pytest.approx(1000 / 3, abs=0.1) for a, b in pairwise(stack.ribs))


def test_stacks_hold_the_screws_that_are_counted():
    derived = derive(shed())
    face = derived.roof.facets[0].id
    (stack,) = drill_stacks(derived, face)
    counted = next(need.many for need in panel_needs(derived)[face] if need.what == "panel screws")
    assert len(stack.numbers) * len(stack.ribs) * sum(each for _, each in stack.rows) == counted


def test_the_demo_s_porch_and_store_are_on_paper_and_seamed_faces_are_not(tmp_path):
    derived = derive(load(demo_path()))
    assert not drill_stacks(derived, "loft.1")
    stacks = [stack for face in ("porch.1", "sail store.1") for stack in drill_stacks(derived, face)]
    assert len(stacks) >= 2
    write_site_pack(derived, tmp_path / "site.pdf")
    said = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(tmp_path / "site.pdf").pages)
    assert said.count("in stacks: rows") == sum(len(drill_stacks(derived, facet.id)) for facet in derived.roof.facets)


def test_shingles_are_told_course_by_course_on_paper(tmp_path):
    write_site_pack(derive(with_system(load(demo_path()), "shingle 600 x 300", "loft.2")), tmp_path / "site.pdf")
    said = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(tmp_path / "site.pdf").pages)
    assert "courses," in said and "turned down off the valley's line" in said
