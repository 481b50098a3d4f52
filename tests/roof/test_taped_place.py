"""Openings as they are taped: up from the eave, level from the rake or the hip; new ones find a free place, two in one place are told."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from yattle.derive import derive
from yattle.job import Job
from yattle.roof import build
from yattle.roof.openings import outline
from yattle.roof.starts import STARTS, add_opening, with_part
from yattle.roof.taped_place import moved, taped_place


def with_openings(start, *kinds, face=None):
    plan = STARTS[start]
    for kind in kinds:
        plan, _ = add_opening(plan, build(plan), kind, face)
    return plan


@pytest.mark.parametrize("start", ["gable", "hip", "gable with a wing", "single slope"])
@pytest.mark.parametrize("kind", ["pipe", "chimney", "curb"])
def test_a_place_is_where_the_tape_says(start, kind):
    """The lower side's middle lies so far up the slope from the edge below, measured in space; moved there and back it is the same."""
    plan = with_openings(start, kind)
    roof = build(plan)
    placed = roof.openings[0]
    found, facet = taped_place(roof, placed), roof.facet(placed.facets[0])
    assert found.below and found.left and found.up > 0 and found.aside > 0
    below = roof.edge(found.below)
    a, b = np.array(below.a), np.array(below.b)
    corners = np.array([(x, y, facet.plane.z((x, y))) for x, y in outline(placed.opening)])
    way = (b - a) / np.linalg.norm(b - a)
    away = np.linalg.norm(np.cross(corners - a, way), axis=1)
    if abs(way[2]) < 1e-6 and kind != "pipe":
        assert away.min() == pytest.approx(found.up, abs=1.0)
    x, y = moved(roof, placed, up=found.up + 500.0, aside=found.aside - 120.0)
    again = build(with_part(plan, placed.opening.id, x=x, y=y))
    there = taped_place(again, again.openings[0])
    assert there.up == pytest.approx(found.up + 500.0, abs=0.5)
    if start != "hip":  # beside a hip the edge at its left leans away as it goes up
        assert there.aside == pytest.approx(found.aside - 120.0, abs=0.5)
    back = moved(again, again.openings[0], up=found.up)
    home = build(with_part(plan, placed.opening.id, x=back[0], y=back[1]))
    assert taped_place(home, home.openings[0]).up == pytest.approx(found.up, abs=0.5)


def test_new_openings_stand_clear_of_each_other():
    plan = with_openings("gable", "chimney", "pipe", "curb", "pipe", "skylight", face="main.1")
    shapes = [shapely.Polygon(outline(opening)) for opening in plan.openings]
    assert len(shapes) == 5 and all(one.distance(other) > 50.0 for n, one in enumerate(shapes) for other in shapes[:n])
    assert all("stands in" not in finding.text for one in derive(Job(name="x", roof=plan)).openings for finding in one.findings)


def test_two_in_one_place_are_told_of_both():
    plan = with_openings("gable", "chimney", "pipe", face="main.1")
    chimney = next(one for one in plan.openings if one.id == "chimney")
    derived = derive(Job(name="x", roof=with_part(plan, "pipe", x=chimney.x, y=chimney.y)))
    said = {one.id: [finding.says() for finding in one.findings if finding.level == "stop"] for one in derived.openings if one.kind in ("pipe", "chimney")}
    assert "it stands in chimney" in said["pipe"] and "it stands in pipe" in said["chimney"]
