"""A rake and what it lies on: its cleat or its zed on the last panel, screws clear of what covers its head."""

from __future__ import annotations

import json
import math

import pytest

from yattle.derive import derive
from yattle.details.schools import Schools
from yattle.install.answers import fit_answer
from yattle.install.chalk import chalk_lines
from yattle.install.covered import covered
from yattle.install.installation import installation
from yattle.job import demo_path, load
from yattle.roof import RoofPlan

JOB = load(demo_path())
ZED = derive(JOB.but(schools=Schools(rake_under="zed")))


def gable(pitch=30.0):
    blocks = [{"id": "hall", "kind": "gable", "x": 0.0, "y": 0.0, "length": 8000.0, "span": 6000.0, "eave_height": 3000.0,
               "pitch": pitch, "eave_overhang": 300.0, "rake_overhang": 200.0}]
    return derive(JOB.but(roof=RoofPlan.model_validate_json(json.dumps({"blocks": blocks})), runs=(), faces=(), edges=(), openings=(), taped=()))


def stage_of(found, name):
    return next(n for n, names in enumerate(found.order.stages) if name in names)


def test_a_zed_goes_on_after_the_panels_it_stands_on_and_before_its_rake():
    found = installation(ZED)
    zeds = [item for item in found.items if item.kind == "zed"]
    assert zeds
    for zed in zeds:
        under = {lap.under for lap in found.laps if lap.over == zed.id}
        assert under and all(name.startswith("panels") for name in under), "on panels, not on the underlay"
        assert all(stage_of(found, name) < stage_of(found, zed.id) for name in under)
        assert stage_of(found, zed.id) < stage_of(found, zed.place)
        assert not found.order.troubles


def test_a_zed_is_taped_and_screwed_and_the_rake_riveted_to_it():
    found = installation(ZED)
    for zed in (item for item in found.items if item.kind == "zed" and item.place.startswith("G")):
        takes = {need.what: need for need in found.runs[zed.id].needs}
        assert takes["tape"].many == pytest.approx(found.runs[zed.id].run.run.length) and takes["screws"].many > 0
        rake = {need.what: need for need in found.runs[zed.place].needs}
        assert "screws" not in rake and rake["zed rivets"].many == len(rake["zed rivets"].places) > 1
    answer = fit_answer(ZED)
    said = [text for stage in answer["stages"] for text in stage["checks"]]
    assert any("riveted to its zed" in text for text in said) and not any("hooked on its cleat" in text for text in said)
    bites = {need["bites"] for stage in answer["stages"] for item in stage["items"] for need in item.get("needs", ())
             if need["what"] == "zed rivets"}
    assert bites == {"zed"} and any(pack["what"] == "zed rivets" for pack in answer["totals"])


def test_a_cleat_lies_under_everything_and_a_rake_by_itself_has_screws_through_its_face():
    said = [text for stage in fit_answer(derive(JOB))["stages"] for text in stage["checks"]]
    assert any("hooked on its cleat" in text for text in said)
    bare = installation(derive(JOB.but(schools=Schools(rake_under="none"))))
    assert all({"screws", "face screws", "tape"} <= {n.what for n in bare.runs[item.id].needs}
               for item in bare.items if item.kind == "rake" and bare.runs[item.id].run.pieces)


@pytest.mark.parametrize("pitch", [10.0, 30.0, 55.0])
def test_no_screw_of_a_rake_is_under_the_cap_s_own_wing(pitch):
    """The ridge's wing lies down the slope beside the rake: what it covers is as long as the wing is wide."""
    derived = gable(pitch)
    wing = next(run.detail.profile.legs[run.detail.roles.wings[0]] for run in derived.runs if run.run.kind == "ridge")
    rakes = [run for run in derived.runs if run.run.kind == "rake" and not run.run.layer]
    assert len(rakes) == 4
    for run in rakes:
        ((low, high),) = covered(derived, run, 15.0)
        inside = high if low < 0 else run.run.length - low
        assert inside == pytest.approx(wing + 15.0, abs=1e-6)
        need = next(n for n in installation(derived).runs[run.run.id].needs if n.what == "screws")
        assert all(not low + 1e-3 < place < high - 1e-3 for place in (*need.places, *need.second))


def test_a_wider_cap_covers_more_and_a_slanting_one_as_much_more_as_it_slants():
    derived = gable()
    wide = derive(derived.job.but(own=derived.job.own.but(ridge_wing=260.0)))
    for before, after in zip(*([run for run in one.runs if run.run.kind == "rake" and not run.run.layer]
                               for one in (derived, wide)), strict=True):
        (a,), (b,) = covered(derived, before, 0.0), covered(wide, after, 0.0)
        assert (b[1] - b[0]) - (a[1] - a[0]) == pytest.approx(260.0 - 170.0)
    hips = [run for run in derive(JOB).runs if run.run.kind == "sidewall" and not run.run.layer]
    for run in hips:
        for low, high in covered(derive(JOB), run, 0.0):
            assert high - low > 100 and math.isfinite(high - low)


def test_a_job_that_names_a_stretch_free_at_the_ridge_is_read():
    from yattle.job.store import as_text, parse

    text = as_text(JOB).replace('"edge": 25.0', '"edge": 25.0,\n  "free": 150.0', 1)
    assert '"free": 150.0' in text and parse(text).fit == JOB.fit


def test_a_headwall_is_turned_down_over_the_rakes_it_ends_at():
    """A lean-to under a wall: its flashing lies over both rakes, each end with a tab folded down outside their faces."""
    derived = derive(JOB)
    walls = [run for run in derived.runs if run.run.kind == "headwall" and not run.run.layer and not run.run.collects
             and "turn-down" in (run.run.left, run.run.right)]
    assert walls
    laps = {(lap.over, lap.under) for lap in installation(derived).laps}
    for run in walls:
        ends = [piece.ends[n] for n, piece in ((0, run.pieces[0]), (1, run.pieces[-1])) if (run.run.left, run.run.right)[n] == "turn-down"]
        assert ends and all("turned down over the rake" in end.says() for end in ends)
        rakes = [name for over, name in laps if over == run.run.id and name.startswith("G") and "." not in name]
        assert len(rakes) == len(ends)
        tabs = [tab for piece in run.pieces for tab in piece.tabs if tab.turn == -90.0]
        assert len(tabs) == len(ends) and run.detail.max_gap < 1e-6


def test_every_closure_has_its_line_on_the_panels_behind_the_cap_as_it_lies():
    """By hand, seams of 38 under 30°: the cap's wing of 170 lies on them, so that it ends 38 · tan 30° sooner over the flats; the
    zed's top of 30 ends 25 behind it. Eaves' lines are on the deck, caps' on the panels."""
    found = gable()
    lines, over = chalk_lines(found), found.job.panel_rule(found.roof.facets[0].id).height
    closures = [line for line in lines if ".z" in line.run]
    end = 170.0 - over * math.tan(math.radians(30.0))
    assert len(closures) == 2 and all(line.away == pytest.approx(end - 25.0 - 30.0) and line.on == "panels" for line in closures)
    assert {line.on for line in lines if line.run.startswith("E")} == {"deck"}
    assert {line.on for line in lines if line.run.startswith("R")} == {"panels"}
    for line in closures:
        cap = next(one for one in lines if one.run == line.run.partition(".")[0] and one.face == line.face)
        assert cap.away == pytest.approx(end) and math.dist(line.a, cap.a) == pytest.approx(55.0)


def test_what_carries_a_sidewall_follows_from_the_first_seam():
    """A flange of 110 lies on a seam that stands up to 98 off the wall; else a zed carries its hooked edge."""
    answer = fit_answer(derive(JOB))
    walls = [item for stage in answer["stages"] for item in stage["items"] if item["kind"] == "sidewall"]
    assert walls
    for item in walls:
        if item["first_seam"] is None:  # a sandwich has none to hook on
            assert item["carried_by"] is None and "sail store" in derive(JOB).run(item["id"]).run.name
            continue
        assert item["carried_by"] == ("seam" if item["first_seam"] <= 98.0 else "zed")
        run = derive(JOB).run(item["id"])
        hem = run.detail.profile.hem_b
        assert (hem.kind, hem.toward) == (("open", "back") if item["carried_by"] == "zed" else ("closed", "back"))
        assert ({f"{item['id']}.k"} <= {r.run.id for r in derive(JOB).runs}) is (item["carried_by"] == "zed")


def test_a_valleys_chalk_line_is_measured_from_the_foot_of_its_rib():
    """By hand, in the section square to V1: legs of 30 that turn 70° at the top come down 55° off the plumb line, half a foot
    of 30 · sin 55°; the wings rise 60.57 − 35 = 25.57°; the wing of 185 begins at that foot, not at the valley's line."""
    found = derive(load(demo_path("sail-loft")))
    rise = found.run("V1").detail.profile.turns[0] - 35.0
    foot = 30.0 * math.sin(math.radians(55.0)) / math.cos(math.radians(rise))
    lines = [line for line in chalk_lines(found) if line.run == "V1"]
    assert [line.on for line in lines] == ["deck", "deck"]
    assert [line.away for line in lines] == pytest.approx([185.0 + foot] * 2)
