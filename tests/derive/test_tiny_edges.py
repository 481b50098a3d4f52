"""Roofs whose blocks nearly line up: edges of some millimetres stop no job."""

from __future__ import annotations

import json
import random

import pytest

from yattle.derive import derive
from yattle.job import Job
from yattle.roof import RoofPlan
from yattle.values import read


def nearly_in_line(seed):
    """A main block and a wing whose ridge or eaves come out within a hand of the main one's."""
    draw = random.Random(seed)
    pitch, span = draw.choice([11.0, 12.0, 14.0, 30.0, 45.0, 53.0, 60.0]), draw.uniform(4000, 9000)
    main = {"id": "main", "kind": draw.choice(["gable", "hip"]), "x": 0.0, "y": 0.0, "length": 12_000.0, "span": span,
            "eave_height": 3000.0, "pitch": pitch, "eave_overhang": draw.choice([0.0, 400.0])}
    wing = {"id": "wing", "kind": draw.choice(["gable", "hip"]), "x": draw.uniform(-5900, 5900), "y": -span / 2 - draw.uniform(50, 1500),
            "bearing": 90.0, "length": draw.uniform(1000, 6000) + span / 2, "span": span * draw.choice([0.5, 0.95, 0.99, 0.998]),
            "eave_height": 3000.0 + draw.choice([0.0, 20.0, -20.0]), "pitch": pitch, "eave_overhang": draw.choice([0.0, 400.0])}
    return read(RoofPlan, json.dumps({"blocks": [main, wing]}))


@pytest.mark.parametrize("seeds", [(2, 3, 9, 17), (26, 48, 51, 59)], ids=str)
def test_no_tiny_edge_stops_a_plan(seeds):
    short = 0
    for seed in seeds:
        derived = derive(Job(name="in line", roof=nearly_in_line(seed)))
        stops = [(run, finding.says()) for run, finding in derived.findings if finding.level == "stop"]
        assert not stops, seed
        for run in derived.runs:
            if run.left_out:
                short += 1
                said = next(f for f in run.findings if f.short)
                assert said.level == "look" and run.run.length < 700 and not run.pieces
                covers = said.says().partition("covered by ")[2]
                for name in covers.split(", ") if covers else ():
                    assert derived.run(name).run.id == name
        assert derived.patterns and not derived.misfits
    assert short >= 2
