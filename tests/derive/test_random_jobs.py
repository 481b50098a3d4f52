"""Any job within reason is worked out whole: pieces, proofs, orders, nest."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import Stock, faults
from yattle.derive import derive
from yattle.details import Own
from yattle.job import Job, Run
from yattle.job.store import as_text, parse
from yattle.metal import library

GAUGES = [(metal.id, gauge) for metal in library().metals for gauge in metal.thicknesses]
RUNS = st.lists(st.tuples(st.floats(0, 80), st.floats(400, 30000), st.sampled_from(["wrap", "plain"]),
                          st.floats(40, 180)), min_size=1, max_size=4)


@settings(max_examples=30, deadline=None)
@given(RUNS, st.sampled_from(GAUGES), st.sampled_from(["metal", "din6935", "sum"]), st.sampled_from(["left", "right"]),
       st.sampled_from(["even", "full"]), st.sampled_from(["metric", "inch"]))
def test_pieces_add_up_fold_up_and_fit_the_coil(runs, gauge, allowance, weather, joints, system):
    metal, thickness = gauge
    job = Job(name="any", metal=metal, thickness=thickness, allowance=allowance, weather=weather, joints=joints,
              system=system, runs=tuple(
                  Run(id=f"E{n}", pitch=pitch, length=length, left=left, own=Own(face=face, kick=25.0))
                  for n, (pitch, length, left, face) in enumerate(runs)))
    job = job.but(stock=(Stock(id="coil 1", kind="coil", width=1250.0, metal=job.metal_name, cost_per_m=12.0),))
    derived = derive(job)
    assert derived.misfits == ()
    for run in derived.runs:
        assert sum(piece.share for piece in run.pieces) == pytest.approx(run.run.length, abs=1e-6)
        assert all(piece.ledger.value == pytest.approx(piece.pattern.length, abs=1e-6) for piece in run.pieces)
    answer = json.loads(json.dumps(derived.nest.answer()))
    assert faults(derived.nest_job, answer) == []
    assert answer["ok"] == (not answer["unplaced"])
    assert parse(as_text(job)) == job
