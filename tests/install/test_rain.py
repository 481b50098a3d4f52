"""What rain asks for: by hand sums of the formulas, and what is said where water has no way out."""

from __future__ import annotations

import math

import pytest

from plans import flat, gable, plan
from yattle.derive import derive
from yattle.derive.roof_runs import roof_runs
from yattle.install.answers import fit_answer
from yattle.install.installation import installation
from yattle.install.rain import drains, gutter_flow, gutter_for, outlet_flow, valley_width
from yattle.job import Job
from yattle.roof.drain import drainage

WING = gable("wing", x=2000.0, y=-5000.0, bearing=90.0, length=10000.0, span=6000.0)


def job_of(*blocks, **more):
    return Job(name="rain", roof=plan(*blocks), **more)


def said(job):
    return [(item, finding.says()) for item, finding in installation(derive(job)).findings]


def test_gutters_and_outlets_by_hand():
    """Half-round 150: A = 8836 mm², 0.9 · 2.78e-5 · A^1.25 = 2.14 l/s; an outlet of 80 under 60 mm: 6400·√60/15000."""
    assert gutter_flow(150.0) == pytest.approx(2.14, abs=0.01)
    assert outlet_flow(80.0, 60.0) == pytest.approx(80 * 80 * math.sqrt(60) / 15000)
    assert outlet_flow(150.0, 60.0) == pytest.approx(150 * 60 * math.sqrt(60) / 7500), "a weir, the water is shallow"
    assert outlet_flow(120.0, 60.0) == pytest.approx(outlet_flow(120.0, 59.999), rel=1e-3), "both meet at half the diameter"
    small, long = gutter_for(1.0, 9000.0), gutter_for(1.0, 31_000.0)
    assert (small.diameter, small.outlets, long.outlets) == (125.0, 1, 3) and long.diameter < small.diameter
    assert "engineer" in gutter_for(60.0, 9000.0).says()


def test_a_valley_carries_its_open_width_by_its_slope():
    """10 mm deep at 26.3°: v = 0.01^⅔ · √sin 26.3° / 0.011 = 2.81 m/s; 1 l/s takes 35.6 mm."""
    assert valley_width(1.0, 26.3) == pytest.approx(1000 / (0.01 ** (2 / 3) * math.sqrt(math.sin(math.radians(26.3))) / 0.011 * 10))
    assert valley_width(1.0, 26.3) == pytest.approx(35.6, abs=0.1) and valley_width(1.0, 2.0) > 3 * valley_width(1.0, 26.3)


def test_what_comes_to_an_edge_decides():
    job = job_of(gable("main"), WING)
    rows = {row["run"]: row for row in drains(derive(job))}
    water = drainage(derive(job).roof)
    for found in roof_runs(job):
        if found.edge.kind in ("eave", "valley"):
            assert rows[found.run.id]["area"] == pytest.approx(water.catchment[found.edge.id])
            assert ("half-round" in rows[found.run.id].get("advice", "")) == (found.edge.kind == "eave")
    assert fit_answer(derive(job))["water"]["drains"] == list(rows.values())
    assert not any("come down it" in text for _, text in said(job))
    flood = [text for _, text in said(job.but(rain=2000.0)) if "come down it" in text]
    assert len(flood) == 2 and all("2000 mm/h" in text and "wanted" in text for text in flood)


def parapets(height):
    """A flat roof between four thin blocks that stand higher."""
    walls = [flat(f"wall {n}", x=x, y=y, length=long, span=wide, eave=height, eave_overhang=0.0)
             for n, (x, y, long, wide) in enumerate(((0, 2100, 5400, 200), (0, -2100, 5400, 200), (2600, 0, 200, 4000), (-2600, 0, 200, 4000)))]
    return [flat("deck", eave_overhang=0.0), *walls]


def test_a_flat_roof_inside_parapets_has_inner_corners_and_no_way_out():
    job = job_of(*parapets(3200.0))
    walls = [f for f in roof_runs(job) if f.edge.wall]
    assert [f.edge.kind for f in walls] == ["headwall"] * 4
    assert sorted(end for f in walls for end in (f.run.left, f.run.right)) == ["plain"] * 4 + ["wall-in"] * 4
    assert any("no way out for the water of deck.1, 20.0 m²" in text for _, text in said(job))
    assert sum(drainage(derive(job).roof).catchment[f.edge.id] for f in walls) == pytest.approx(20.0)
    assert not any("no way out" in text for _, text in said(job_of(flat("deck"))))


def test_a_wall_that_water_comes_to_says_where_it_goes():
    tower = gable("tower", x=1000.0, y=-2000.0, length=2000.0, span=1500.0, eave=8500.0)
    texts = [text for _, text in said(job_of(gable("main"), tower)) if "against this wall" in text]
    assert len(texts) == 1 and "go round its ends" in texts[0] and "l/s" in texts[0]
    skew = [text for _, text in said(job_of(gable("main"), {**tower, "bearing": 30.0})) if "against this wall" in text]
    assert len(skew) == 2 and all("run along it" in text for text in skew)
    closed = job_of(flat("yard", y=0.0, length=6000.0, span=200.0, eave=6000.0),
                    {"id": "lean", "kind": "shed", "x": 0.0, "y": 1600.0, "length": 6000.0, "span": 3000.0,
                     "eave_height": 3000.0, "pitch": 8.0})
    assert any("no way out for the water" in text for _, text in said(closed))


def test_a_level_valley_is_told():
    job = job_of(gable("one", y=-4000.0, eave_overhang=0.0), gable("other", y=4000.0, eave_overhang=0.0))
    found = next(f for f in roof_runs(job) if f.edge.kind == "valley")
    assert any("the valley is level" in f.says() for f in derive(job).run(found.run.id).findings)
    assert drainage(derive(job).roof).catchment[found.edge.id] == pytest.approx(14.6 * 8.0)
