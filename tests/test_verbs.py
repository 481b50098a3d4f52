"""The verbs of the benches, held against sums worked out here from the job itself."""

from __future__ import annotations

import json
import math
from itertools import pairwise

import pytest
import trimesh

from samples import COVERAGE_ONLY, eaves_path, section
from yattle.brake import SHOP_BRAKE, FoldJob, best_order, natural_order
from yattle.cli import main
from yattle.coil.check import faults
from yattle.derive import derive
from yattle.derive.advice import coil_used
from yattle.derive.roof_runs import roof_runs
from yattle.install.answers import UNKNOWN_PANELS, order_answer
from yattle.job import demo_path, load, save

DEMO = load(demo_path())
DAY = "2026-11-28"
PROFILE = section()


@pytest.fixture
def verb(capsys, tmp_path):
    """Run a verb on a document: its status, its answer, what it says on standard error."""
    def run(name, document, *more):
        path = tmp_path / "in.json"
        path.write_text(document if isinstance(document, str) else json.dumps(document))
        status = main([name, str(path), *more])
        out, err = capsys.readouterr()
        return status, json.loads(out) if out else None, err
    return run


@pytest.fixture(scope="module")
def fitted(tmp_path_factory):
    """``yattle fit`` of the demo, written once."""
    out = tmp_path_factory.mktemp("fit")
    assert main(["fit", str(demo_path()), "--out", str(out)]) == 0
    return json.loads((out / "fit.json").read_text())


def items_of(fitted):
    return {item["id"]: (stage["n"], item) for stage in fitted["stages"] for item in stage["items"]}


# -- fit ---------------------------------------------------------------------------------------------------------


def test_every_item_goes_on_after_all_that_it_lies_over(fitted):
    items = items_of(fitted)
    made = {run.run.id for run in derive(DEMO).runs if run.pieces}
    assert made <= set(items) and len(items) == sum(len(stage["items"]) for stage in fitted["stages"])
    for stage, item in items.values():
        for lap in item["over"]:
            assert items[lap["item"]][0] < stage and lap["why"]


def test_places_lie_on_the_roof_as_far_apart_as_along_the_run(fitted):
    edges = {found.run.id: found.edge for found in roof_runs(DEMO)}
    seen = 0
    for name, (_, item) in items_of(fitted).items():
        for need in item.get("needs", ()) if item["kind"] != "panels" else ():
            edge = edges.get(name.partition(".")[0])  # those of openings are marked on their pieces
            for along, at in zip(need["places"], need["at"], strict=True):
                assert math.dist(edge.a, at) + math.dist(at, edge.b) == pytest.approx(edge.length, abs=0.01)
                ends = sorted((math.dist(edge.a, at), math.dist(edge.b, at)))
                if item["length"] == pytest.approx(edge.length, abs=0.01):
                    assert min(abs(along - end) for end in ends) < 0.01
                seen += 1
    assert seen > 300


def test_what_is_counted_is_what_has_a_place(fitted):
    for _, item in items_of(fitted).values():
        for need in item.get("needs", ()):
            if need["what"] in ("screws", "clips", "wedges") and need["places"]:
                assert need["many"] == need["rows"] * len(need["places"]) and need["unit"] == "pieces"
                assert need["bites"]
            if need["what"] == "tape" and item["kind"] not in ("closure", "panels", "curb"):
                assert need["many"] == pytest.approx(need["rows"] * item["length"])


def test_totals_are_the_sum_of_all_needs_in_whole_packs(fitted):
    needs = [need for _, item in items_of(fitted).values() for need in item.get("needs", ())]
    for total in fitted["totals"]:
        if total["what"] != "underlay":
            assert total["many"] == pytest.approx(sum(n["many"] for n in needs if n["what"] == total["what"]))
        wanted = total["many"] * (1 + total["spare"])
        assert total["packs"] * total["a_pack"] >= wanted - 1e-6 > (total["packs"] - 1) * total["a_pack"] - 1e-6


def test_movement_is_length_times_expansion_times_temperature(fitted):
    from yattle.metal import library

    expansion = library().find(DEMO.metal).expansion * 1e-6
    for _, item in items_of(fitted).values():
        if item["kind"] == "eave" and item["pieces"]:
            piece = item["length"] / item["pieces"]
            whole = piece * expansion * (DEMO.fit.hottest - DEMO.fit.coldest)
            assert item["movement"]["whole"] == pytest.approx(whole)
            assert item["movement"]["longer"] + item["movement"]["shorter"] == pytest.approx(whole)


def test_chalk_lines_run_along_their_edge_on_the_face(fitted):
    roof = derive(DEMO).roof
    assert {line["run"] for line in fitted["chalk_lines"]} > {"E1", "R1", "V1"}
    for line in fitted["chalk_lines"]:
        edge, plane = roof.edge(line["edge"]), roof.facet(line["face"]).plane
        for snapped, corner in ((line["a"], edge.a), (line["b"], edge.b)):
            assert sum(n * p for n, p in zip(plane.normal, snapped, strict=True)) == pytest.approx(plane.offset, abs=0.1)  # corners are joined to a tenth
            assert math.dist(snapped, corner) == pytest.approx(line["away"])
            along = sum((s - c) * (b - a) for s, c, a, b in zip(snapped, corner, edge.a, edge.b, strict=True))
            assert along == pytest.approx(0, abs=1)  # square to the edge
        middle = [(a + b) / 2 for a, b in zip(line["a"], line["b"], strict=True)]
        assert roof.facet(line["face"]).shape.buffer(line["away"] / 2).contains(_point(middle))


def _point(at):
    import shapely

    return shapely.Point(at[0], at[1])


def test_a_job_of_nothing_is_told(verb):
    status, answer, _ = verb("fit", demo_path().read_text(), "--set", "roof={}", "--set", "runs=[]", "--set", "openings=[]")
    assert status == 1 and answer["stages"] == [] and "no roof" in answer["reasons"][0]


def test_what_is_counted_nowhere_is_said(fitted):
    derived = derive(DEMO)
    for run in derived.runs:
        assert any(line.startswith(f"{run.run.id},") for line in fitted["left_out"]) == (not run.pieces)
    assert not any("panels" in line for line in fitted["left_out"]), "every face has its system"
    assert UNKNOWN_PANELS in order_answer(derive(load(COVERAGE_ONLY)))["left_out"]


# -- order and advice --------------------------------------------------------------------------------------------


def test_the_order_holds_the_metal_that_the_plan_takes(verb):
    status, answer, _ = verb("order", demo_path().read_text())
    derived = derive(DEMO)
    assert status == 0
    coil = [row for row in answer["metal"] if row["kind"] == "coil"]
    assert sum(row["length"] for row in coil) == pytest.approx(coil_used(derived))
    for row in coil:
        assert row["area"] == pytest.approx(row["length"] * row["width"] / 1e6, rel=1e-6)
    for facet in derived.roof.facets:  # panels cover at least the face they lie on
        rows = [row for row in answer["panels"] if row["face"] == facet.id]
        rule = DEMO.panel_rule(facet.id)
        area = sum(row["length"] * row["qty"] for row in rows) * rule.coverage
        assert area > facet.shape.area / facet.plane.normal[2]
    assert {row["what"] for row in answer["sealing"]} == {"tape", "lap tape", "sealant"} and answer["left_out"]


def test_a_job_beyond_its_stock_is_told(verb):
    status, answer, _ = verb("order", eaves_path().read_text(), "--set", "stock=[]")
    assert status == 1 and answer["reasons"] and not answer["metal"]


def test_advice_saves_what_it_says(verb):
    job = load(eaves_path())
    status, answer, _ = verb("advice", eaves_path().read_text())
    assert status == 0
    before = coil_used(derive(job))
    for one in answer["advice"]:
        job = job.but(own=job.own.but(**{one["entry"]: one["after"]}))
        after = coil_used(derive(job))
        assert before - after == pytest.approx(one["saves"]) and one["saves"] > 5
        before = after
    assert answer["saves"] == pytest.approx(sum(one["saves"] for one in answer["advice"]))


# -- adjust ------------------------------------------------------------------------------------------------------

GABLE = {"id": "main", "kind": "gable", "x": 0.0, "y": 0.0, "bearing": 0.0, "length": 14000.0, "span": 8000.0,
         "eave_height": 4200.0, "pitch": 35.0, "eave_overhang": 400.0, "rake_overhang": 300.0}


def taped(values, **more):
    return {"format": "yattle-roof/1", "blocks": [GABLE], "taped": [
        {"kind": "block", "of": "main", "field": field, "value": value, **more} for field, value in values]}


def test_a_taped_measure_far_off_is_the_suspect_and_right_ones_are_not(verb):
    slope = 4400 / math.cos(math.radians(35))  # eave to ridge
    roof = taped([("span", 8000.0), ("length", 14150.0)])
    roof["taped"] += [{"kind": "diagonal", "of": "main.1", "field": "0-2", "value": math.hypot(14600, slope)}]
    status, answer, _ = verb("adjust", roof)
    assert status == 0 and answer["suspects"][0] == "taped length of main"
    for row in answer["residuals"]:
        assert row["residual"] == pytest.approx(row["measured"] - row["adjusted"])
    assert 14000 < answer["roof"]["blocks"][0]["length"] < 14150


def test_what_a_stand_in_said_moves_no_roof(verb):
    status, answer, _ = verb("adjust", taped([("length", 14900.0)], by="stand-in"))
    assert status == 0 and answer["roof"]["blocks"][0]["length"] == 14000 and not answer["residuals"]


@pytest.mark.parametrize("of", ["nowhere", ""])
def test_a_measure_of_nothing_is_wrong_input(verb, of):
    status, answer, err = verb("adjust", {"format": "yattle-roof/1", "blocks": [GABLE], "taped": [
        {"kind": "edge", "of": of, "value": 1000.0}]})
    assert status == 2 and answer is None and "taped.0.of" in err and err.count("\n") == 1


# -- try ---------------------------------------------------------------------------------------------------------


def fold_job(order, **changes):
    profile = json.loads(PROFILE.model_dump_json())
    brake = json.loads(SHOP_BRAKE.model_dump_json())
    return {"format": "yattle-fold-job/1", "profile": profile, "length": 2400.0, "brake": brake,
            "order": [{"fold": fold, "action": action} for fold, action in order], **changes}


JOB = FoldJob(profile=PROFILE, length=2400.0, brake=SHOP_BRAKE)


def test_the_best_order_tried_costs_nothing_over_itself(verb):
    best = best_order(JOB)
    status, answer, _ = verb("try", fold_job([(step.fold, step.action) for step in best.steps]))
    assert status == 0 and answer["over_best"] == 0 and answer["cost"] == best.cost
    assert [step["fold"] for step in answer["steps"]] == [step.fold for step in best.steps]
    assert all(step["free"] and step["strikes"] is None for step in answer["steps"])


def test_an_order_that_strikes_names_the_stroke(verb):
    hem_first_flat = [("hB", "flatten"), *[stroke for stroke in natural_order(JOB) if stroke != ("hB", "flatten")]]
    status, answer, _ = verb("try", fold_job(hem_first_flat))
    assert status == 1 and not answer["steps"][0]["free"] and answer["steps"][0]["strikes"]["fold"] == "hB"
    assert answer["reasons"][0]["fold"] == "hB"


@pytest.mark.parametrize(("order", "field"), [
    ([("f1", "fold")], "order:"), ([("f1", "fold"), ("f1", "fold")], "order.1"), ([("f9", "fold")], "order.0")])
def test_an_order_that_is_not_of_this_section_is_wrong_input(verb, order, field):
    status, answer, err = verb("try", fold_job(order))
    assert status == 2 and answer is None and field in err and err.count("\n") == 1


# -- learn -------------------------------------------------------------------------------------------------------


def fold_entry(n, ratio, by="hand", brake="shop leaf brake"):
    came = 30.0 + 12.0 * n
    return {"when": DAY, "what": "measured", "fold": f"f{n}", "wanted": came, "set": came * ratio, "found": came,
            "metal": "zinc 0.70", "brake": brake, "by": by}


def test_springback_by_metal_and_brake(verb):
    entries = [fold_entry(n, 1.04) for n in range(6)] + [fold_entry(n, 1.02, brake="thin") for n in range(5)]
    status, answer, _ = verb("learn", {"entries": entries})
    assert status == 0 and [(row["brake"], row["count"]) for row in answer["springback"]] == [("shop leaf brake", 6), ("thin", 5)]
    assert answer["springback"][0]["found"] == pytest.approx(1.04) and answer["springback"][1]["found"] == pytest.approx(1.02)


def test_the_k_factor_by_the_sum_on_paper(verb):
    """One fold at 90° in 0.7 mm: each 1 of k is ½π·0.7 mm of arc, half of which falls to either leg."""
    k, used, t = 0.45, 0.33, 0.7
    off = -(k - used) * math.pi / 2 * t / 2  # a leg comes out short by half of what the fold takes more
    legs = [{"when": DAY, "what": "measured", "fold": "leg", "wanted": 80.0, "found": 80.0 + off, "folds": 1,
             "metal": "zinc 0.70"} for _ in range(5)]
    status, answer, _ = verb("learn", {"entries": legs, "metals": [{"name": "zinc 0.70", "thickness": t, "k": used}]})
    assert status == 0 and answer["k"][0]["found"] == pytest.approx(k) and answer["k"][0]["count"] == 5


def test_a_stand_in_teaches_nothing(verb):
    status, answer, _ = verb("learn", {"entries": [fold_entry(n, 1.04, by="stand-in") for n in range(9)]})
    assert status == 1 and answer["springback"] == [] and answer["passed_over"] == 9 and answer["reasons"]


# -- together ----------------------------------------------------------------------------------------------------


def test_one_plan_for_two_jobs_is_valid_and_the_same_each_time(capsys, tmp_path, monkeypatch):
    monkeypatch.setattr("yattle.verbs.TOGETHER_WORK", 1)
    monkeypatch.setattr("yattle.coil.solve._PROOF", 0.3)
    texts = [tmp_path / f"{name}.yattle" for name in ("a", "b")]
    job = load(eaves_path())
    job = job.but(runs=job.runs[:2])
    for path in texts:
        save(job, path)
    answers = []
    for _ in range(2):
        status = main(["together", *map(str, texts)])
        answers.append(json.loads(capsys.readouterr().out))
        assert status == (0 if answers[-1]["ok"] else 1)
    assert _timeless(answers[0]) == _timeless(answers[1])
    from yattle.coil.together import together

    whole = together({f"{job.name} {n}": derive(job).nest_job for n in (1, 2)})
    assert faults(whole, answers[0]) == []
    placed = {place["part"] for place in answers[0]["placements"]}
    assert {name.partition(":")[0] for name in placed} == {f"{job.name} 1", f"{job.name} 2"}


def _timeless(answer):
    return {key: value for key, value in answer.items() if key not in ("seconds", "bound", "proved_best")}


def test_every_verb_says_wrong_input_in_one_line(verb):
    for name in ("fit", "order", "advice", "adjust", "try", "learn", "together"):
        for text in ("", "{}", "[1]", '{"format": "yattle-nothing/1"}'):
            status, answer, err = verb(name, text)
            if status != 2:  # a roof without anything is a roof
                assert name == "adjust" and text == "{}" and not answer["residuals"]
            else:
                assert answer is None and err.count("\n") == 1 and "Traceback" not in err


def test_neighbours_of_a_row_keep_the_pitch(fitted):
    for _, item in items_of(fitted).values():
        for need in item.get("needs", ()):
            if need["what"] == "screws" and item["kind"] in ("eave", "ridge", "cleat"):
                gaps = [b - a for a, b in pairwise(need["places"])]
                most = 1000 / 3 if item["id"] == "R4" else DEMO.fit.screw_pitch  # in every rib of the sandwich
                assert all(0 < gap <= most + 1e-3 for gap in gaps)


# -- built -------------------------------------------------------------------------------------------------------


def test_built_writes_its_answer_and_the_model_with_a_mesh_for_every_piece(verb, tmp_path):
    status, answer, err = verb("built", demo_path("net-shed").read_text(), "--out", str(tmp_path / "new" / "built"))
    assert (status, err) == (0, "") and json.loads((tmp_path / "new" / "built" / "built.json").read_text()) == answer
    scene = trimesh.load(tmp_path / "new" / "built" / "built.glb")
    named = {piece["pattern"] for piece in answer["pieces"]}
    assert len(named) > 40 and named <= set(scene.geometry)


def test_a_folder_that_cannot_be_made_is_said_and_nothing_is_printed(verb, tmp_path):
    (tmp_path / "taken").write_text("")
    status, answer, err = verb("built", demo_path("net-shed").read_text(), "--out", str(tmp_path / "taken" / "in"))
    assert status == 2 and answer is None and "cannot be written to" in err and err.count("\n") == 1
