"""The roof's edges as runs: names, ends, edits that find their block, measures from a table."""

from __future__ import annotations

import json

import ezdxf
import pytest
import trimesh

from yattle.derive import derive
from yattle.derive.measures import read_measures
from yattle.derive.roof_runs import all_runs, roof_runs, run_of, with_run
from yattle.errors import InputError
from yattle.job import demo_path, load
from yattle.job.store import as_text, parse
from yattle.papers.roof import roof_to_dxf, roof_to_glb
from yattle.roof import build
from yattle.roof.starts import NEW_OPENINGS, STARTS, add_block, add_opening, with_part, without

DEMO = load(demo_path())


def test_every_edge_of_the_roof_is_a_run_once():
    runs = list(all_runs(DEMO))
    assert len(runs) == len(build(DEMO.roof).edges) == len({run.id for run in runs})
    south = run_of(DEMO, "E2")
    assert (south.name, south.left, south.right, south.taped) == ("loft south", "wrap", "plain", 10420.0)
    assert run_of(DEMO, "V1").fold == pytest.approx(51.134, abs=1e-3) and run_of(DEMO, "G1").name == "loft north, east end"
    assert {d.made for d in derive(DEMO).runs if d.run.kind == "eave"} == {True}


def test_a_pitch_typed_on_an_edge_changes_its_block():
    steeper = with_run(DEMO, "E4", pitch=42.0)
    assert next(b for b in steeper.roof.blocks if b.id == "wing").pitch == 42.0
    assert run_of(steeper, "V1").fold != run_of(DEMO, "V1").fold
    with pytest.raises(InputError, match="the blocks' measures to be changed"):
        with_run(DEMO, "E4", length=9000.0)
    with pytest.raises(InputError, match="expected one of E1"):
        with_run(DEMO, "X9", pitch=30.0)


def test_what_is_said_of_an_edge_stays_with_it():
    named = with_run(DEMO, "E10", name="store eave", own={"face": 120.0}, left="plain")
    run = run_of(named, "E10")
    assert (run.name, run.left, run.own.face) == ("store eave", "plain", 120.0)
    without_dormer = named.but(roof=without(named.roof, "dormer"))
    moved = next(r for r in all_runs(without_dormer) if r.name == "store eave")
    assert moved.id != "E10" and moved.own.face == 120.0, "numbers move up, what was chosen stays with the edge"
    assert with_run(named, "E10", name=None, left=None, own={}).edges == ()
    assert with_run(DEMO, "E2", taped=None).taped == DEMO.taped[1:]


def test_a_job_with_its_roof_is_kept_whole():
    assert parse(as_text(DEMO)) == DEMO
    with pytest.raises(InputError, match=r"runs.0.kind: found valley"):
        parse(json.dumps({**json.loads(as_text(DEMO)), "runs": [{"id": "V9", "kind": "valley", "pitch": 30, "length": 900}]}))


def test_measures_from_a_table():
    job = read_measures(DEMO.but(taped=()), "what,value\nE1, 18.48 m\npitch wing.1,39.5\ndiagonal loft.1 0-2,19430\n"
                        "span sail store,4195\npitch wing,39.9°\n\n", "site.csv")
    assert [(t.kind, t.of, t.field, t.value) for t in job.taped] == [
        ("edge", "eave loft.1", "0", 18480.0), ("pitch", "wing.1", "", 39.5), ("diagonal", "loft.1", "0-2", 19430.0),
        ("block", "sail store", "span", 4195.0), ("block", "wing", "pitch", 39.9)]
    assert run_of(job, "E1").taped == 18480.0


@pytest.mark.parametrize(("text", "says"), [
    ("", "expected a line for each"), ("what,value\n", "no measures"), ("E1", "line 1: found 'E1'"), ("E99,400", "E99"),
    ("pitch nowhere,30", "line 1: found 'pitch nowhere'"), ("E1,banana", "line 1"), ("span loft,", "line 1")])
def test_tables_that_are_wrong_change_nothing(text, says):
    with pytest.raises(InputError) as told:
        read_measures(DEMO, text, "site.csv")
    assert says in str(told.value)


def test_angles_from_a_table():
    job = read_measures(load(demo_path()), "fold V1,50.8\nbearing wing,90.4\npitch wing,39.5")
    assert {(t.kind, t.field, t.value) for t in job.taped} >= {
        ("fold", "0", 50.8), ("block", "bearing", 90.4), ("block", "pitch", 39.5)}
    with pytest.raises(InputError, match="between two planes"):
        read_measures(load(demo_path()), "fold E1,20")


def test_the_roof_for_other_programs(tmp_path):
    (tmp_path / "roof.dxf").write_text(roof_to_dxf(derive(DEMO)), encoding="utf-8")
    space = ezdxf.readfile(tmp_path / "roof.dxf").modelspace()
    assert {"VALLEY", "RIDGE", "EAVE", "WALL", "OPENING"} <= {e.dxf.layer for e in space}
    (tmp_path / "roof.glb").write_bytes(roof_to_glb(build(DEMO.roof)))
    scene = trimesh.load(tmp_path / "roof.glb")
    area = sum(mesh.area for mesh in scene.geometry.values())
    assert area == pytest.approx(sum(f["area"] for f in build(DEMO.roof).answer()["facets"]), rel=1e-5)


@pytest.mark.parametrize("name", list(STARTS))
def test_roofs_to_begin_with(name):
    plan = STARTS[name]
    roof = build(plan)
    assert roof.edges and all(e.length > 50 for e in roof.edges)
    for kind in ("gable", "hip", "shed", "flat", "dormer"):
        bigger, block = add_block(plan, kind)
        assert block in {b.id for b in bigger.blocks} and build(bigger).facets
        assert add_block(bigger, kind)[1] != block
        assert without(bigger, block) == plan
    for kind in NEW_OPENINGS:
        pierced, opening = add_opening(plan, roof, kind, None)
        assert build(pierced).openings[0].opening.id == opening
    assert add_block(plan.but(blocks=()), "gable")[0].blocks[0].id == "wing"


def test_openings_go_with_the_roof_they_stood_on():
    less = without(DEMO.roof, "loft")
    assert {o.id for o in less.openings} == set() and roof_runs(DEMO.but(roof=less))
    with pytest.raises(InputError, match="span: found 0"):
        with_part(DEMO.roof, "loft", span=0.0)
