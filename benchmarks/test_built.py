"""The roof put together: placed and all rows checked, after one edit, of a large job, and its memory."""

from __future__ import annotations

import json
import subprocess
import sys
from itertools import count
from pathlib import Path

import pytest
from turns import large

from yattle.built import put_together
from yattle.built.again import lies_otherwise, put_together_again
from yattle.built.checked import check_standing
from yattle.built.placed import places_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.roof_runs import run_of, with_run
from yattle.job import demo_path, load


def _whole(derived):
    placed, missing = places_of(derived)
    standing = stand_all(derived.patterns, placed)
    return placed, missing, standing, check_standing(derived, placed, standing)


@pytest.fixture(scope="module")
def loft():
    return derive(load(demo_path("sail-loft")))


def test_the_demo_is_placed_and_checked(benchmark, loft):
    """At most 3 s."""
    placed, missing, _, found = benchmark.pedantic(lambda: _whole(loft), rounds=3)
    assert len(placed) > 280 and not missing and found.sound


@pytest.mark.parametrize("kind", ["ridge", "valley", "rake"])
def test_after_an_edit_only_what_touches_it_is_checked(benchmark, loft, kind):
    """At most 0.3 s."""
    placed, _, standing, _ = _whole(loft)
    run = next(run for run in loft.runs if run.run.kind == kind and run.pieces and not run.run.layer)
    touched = frozenset(piece.id for piece in run.pieces)
    found = benchmark(lambda: check_standing(loft, placed, standing, touched))
    assert found.contacts or found.covers


@pytest.mark.parametrize("kind, entry, value", [("ridge", "ridge_wing", 151.0), ("valley", "lap_wet", 141.0),
                                                ("rake", "rake_face", 111.0), ("eave", "kick", 21.0)])
def test_after_an_edit_the_roof_is_put_together_again_where_it_touches(benchmark, loft, kind, entry, value):
    """At most 0.3 s: what the edit changes placed and held against what is round it, the job worked out before. Each
    time it is another edit, of which nothing is known."""
    before = put_together(loft)
    run = next(run for run in loft.runs if run.run.kind == kind and run.pieces and not run.run.layer)
    asked, values = run_of(loft.job, run.run.id), count(value)

    def edit():
        edited = derive(with_run(loft.job, run.run.id, own=asked.own.but(**{entry: next(values)})))
        assert edited.patterns
        return (edited, before), {}
    again = benchmark.pedantic(put_together_again, setup=edit, rounds=8)
    assert again is not None and lies_otherwise(again, before)


def test_two_thousand_pieces_are_placed_and_checked(benchmark):
    """At most 30 s."""
    derived = derive(large())
    placed, *_ = benchmark.pedantic(lambda: _whole(derived), rounds=1)
    assert len(placed) > 2000


def test_memory_of_two_thousand_pieces():
    """At most 600 MB, in a process of its own and the copy that helps it."""
    code = ("import resource, json; from turns import large; from yattle.derive import derive; d = derive(large());"
            "list(d.patterns); most = lambda who: resource.getrusage(who).ru_maxrss;"
            "before = most(resource.RUSAGE_SELF); from test_built import _whole; _whole(d);"
            "print(json.dumps([before, most(resource.RUSAGE_SELF), most(resource.RUSAGE_CHILDREN)]))")
    run = subprocess.run([sys.executable, "-c", code], cwd=Path(__file__).parent,
                         capture_output=True, text=True, timeout=600, check=True)
    before, after, beside = json.loads(run.stdout.splitlines()[-1])
    print(f"worked out {before / 1024:.0f} MB, put together {after / 1024:.0f} MB, its copy {beside / 1024:.0f} MB")
    assert after + beside < 600 * 1024
