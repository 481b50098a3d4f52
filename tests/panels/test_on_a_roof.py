"""Panel systems on a roof: closures between clear widths, strips under ribs, screws and laps counted by hand."""

from __future__ import annotations

import json
import math

import pytest

from samples import COVERAGE_ONLY
from yattle.cli import main
from yattle.derive import derive
from yattle.derive.roof_runs import roof_runs
from yattle.details.schools import Schools
from yattle.errors import InputError
from yattle.install.answers import fit_answer, order_answer
from yattle.install.installation import installation
from yattle.install.panel_answer import panels_answer
from yattle.install.panel_fixings import needs_of_panels, strips
from yattle.job import Job, demo_path, load
from yattle.job.fixing_rules import FixingRules
from yattle.job.model import EdgeNote
from yattle.job.next_job import next_job
from yattle.job.panel_systems import ruled_by, with_own_system, with_system
from yattle.panels import derive_profile, find
from yattle.roof import RoofPlan, build
from yattle.roof.panels import PanelRule, lay
from yattle.roof.starts import STARTS
from yattle.roof.structure import Structure
from yattle.section.fold import headings

GABLE = Job(name="hall", roof=STARTS["gable"] if "gable" in STARTS else next(iter(STARTS.values())))
LEAN_TO = {"id": "porch", "kind": "shed", "x": 0.0, "y": 0.0, "length": 4140.0, "span": 3000.0, "eave_height": 2500.0, "pitch": 6.0}


def lean_to(system, pitch=6.0, **rule):
    plan = RoofPlan.model_validate_json(json.dumps({"blocks": [LEAN_TO | {"pitch": pitch}]}))
    roof = build(plan)
    return roof, lay(roof, roof.facets[0].id, ruled_by(PanelRule(start=0.0, **rule), system))


def needs(roof, laid, system):
    return {need.what: need.many for need in needs_of_panels(roof, laid, FixingRules(), system)}


def test_a_gap_too_narrow_for_a_closure_is_said():
    """Laid from 24 mm on: at each end of the ridge there are 19 clear beside a seam of 10, which no zed fills."""
    job = GABLE.but(panels=GABLE.panels.but(coverage=500.0, seam=10.0, start=24.0))
    said = {item: finding for item, finding in installation(derive(job)).findings if "too narrow" in finding.says()}
    ridge = next(found for found in roof_runs(job) if found.edge.kind == "ridge")
    assert "gap" in said[ridge.run.id].says() and "19.0 mm" in said[ridge.run.id].says().replace("\u00a0", " ")
    wide = GABLE.but(panels=GABLE.panels.but(coverage=500.0, seam=10.0, start=200.0))
    gaps = [gap for run in derive(wide).runs if run.run.layer == "closure" for gap, _ in run.run.gaps]
    assert min(gaps) > 25 and not [f for _, f in installation(derive(wide)).findings if "too narrow" in f.says()]


def test_a_screwed_lean_to_by_hand():
    """4,140 wide: four panels of 1,035 with five ribs each; 3,000 / cos 6° = 3,016.5 up the slope: supports every 1,200
    leave two rows between. Two screws a rib at both ends, one between: 4 · 5 · (2 + 1 + 1 + 2) = 120. Under 14° the three
    side laps get screws every 500: 3,016.5 less 50 in six gaps, 7 each, 21, and 3 · 3,016.5 of tape."""
    system = find("rib 35, pitch 207")
    roof, laid = lean_to(system)
    found = needs(roof, laid, system)
    assert len(laid.panels) == 4 and found["panel screws"] == 120
    assert found["lap screws"] == 21 and found["lap tape"] == pytest.approx(3 * 3000 / math.cos(math.radians(6)))
    steep = needs(*lean_to(system, 20.0), system)
    assert "lap screws" not in steep and "lap tape" not in steep
    assert found["tape"] == 4140, "beneath the eave's row"
    hooked = system.but(rules=system.rules.but(eave="hooked", eave_hem=25.0))
    assert "tape" not in needs(*lean_to(hooked), hooked)


def test_a_snapped_seam_with_a_nail_strip_by_hand():
    """16 in pans on 4,140: ten seams of 3,016.5; strip screws every 12 in: 2,966.5 in ten gaps, 11 a seam."""
    system = find("snap seam 16 x 1 3/4 in, nail strip")
    roof, laid = lean_to(system)
    assert len(laid.seams) == 10 and needs(roof, laid, system) == {"strip screws": 110}


def test_closures_are_as_long_as_the_clear_width_less_the_tape_s_room():
    """18 in pans with a 3/8 in seam: 17 5/8 in clear between two seams, 6 mm of the house standard less each closure."""
    system = find("snap seam 18 x 1 1/2 in, clips")
    job = with_system(GABLE, system.name)
    runs = [run for run in derive(job).runs if run.run.layer == "closure"]
    assert runs
    clear = 17.625 * 25.4
    for run in runs:
        gaps = dict(run.run.gaps)
        assert max(gaps, key=gaps.get) == pytest.approx(clear, abs=0.06)
        assert any(p.pattern.length == pytest.approx(clear - 6, abs=0.06) for p in run.pieces)


def test_nothing_changes_of_a_job_that_knows_only_a_coverage():
    before = load(COVERAGE_ONLY)
    assert not before.panels.system and before.panels.seam == 0.0
    plain = {run.run.id: run.run.gaps for run in derive(before).runs if run.run.layer == "closure"}
    seamed = derive(before.but(panels=before.panels.but(seam=10.0)))
    for run in seamed.runs:
        if run.run.layer == "closure" and run.run.id in plain:
            assert max(g for g, _ in run.run.gaps) < max(g for g, _ in plain[run.run.id])


def test_ribs_get_strips_that_are_ordered_and_no_zeds():
    job = with_system(GABLE, "rib 45, pitch 333")
    derived = derive(job)
    assert not [run for run in derived.runs if run.run.layer == "closure"]
    ridge = sum(found.edge.length for found in roof_runs(job) if found.edge.kind == "ridge")
    many = strips(derived)["rib 45, pitch 333"]
    assert many >= 2 * math.ceil(ridge / 1000.0 - 1e-9) > 0, "both faces of the ridge"
    (filler,) = order_answer(derived)["fillers"]
    assert filler["many"] == many <= filler["packs"] and "rib 45" in filler["what"]
    whats = {need["what"] for stage in fit_answer(derived)["stages"] for item in stage["items"] if item["kind"] == "panels"
             for need in item["needs"]}
    assert "panel screws" in whats and "panel clips" not in whats


def test_a_system_below_its_pitch_and_panels_too_long_are_looked_at():
    job = with_system(GABLE.but(roof=GABLE.roof.but(blocks=tuple(b.but(pitch=8.0) for b in GABLE.roof.blocks))),
                      "single seam 475 x 38")
    said = [finding.says() for _, finding in installation(derive(job)).findings]
    assert any("is 8.0°, single seam 475 x 38 is laid from 14.0° on" in text for text in said)
    own = find("rib 18, pitch 76")
    short = with_system(with_own_system(GABLE, own.but(rules=own.rules.but(longest=1000.0))), own.name).but(
        structure=Structure(kind="supports", spacing=2000.0, offset=100.0))
    assert any("is handled up to 1 000.0 mm" in finding.says().replace("\u00a0", " ")
               for _, finding in installation(derive(short)).findings)


def test_a_chosen_system_stays_in_the_job_and_its_coverage_agrees():
    job = with_system(GABLE, "double seam 530 x 25")
    assert job.systems[0].name == "double seam 530 x 25" and job.panels.coverage == 530.0 and job.panels.hem == 25.0
    assert Job.model_validate_json(job.model_dump_json()) == job and next_job(job).systems == job.systems
    with pytest.raises(InputError, match=r"panels.coverage: found 500 mm, expected 530 mm, as double seam 530 x 25 covers"):
        job.but(panels=job.panels.but(coverage=500.0))
    with pytest.raises(InputError, match="system: found 'gone'"):
        job.but(panels=job.panels.but(system="gone"))
    wide = job.systems[0].but(over=540.0, profile=((0.0, 25.0), (0.0, 0.0), (540.0, 0.0), (540.0, 25.0)))
    assert with_own_system(job, wide).panels.coverage == 540.0
    assert with_system(job, "").panels.system == "" and with_system(job, "").panels.coverage == 530.0
    face = build(job.roof).facets[0].id
    mixed = with_system(job, "rib 35, pitch 207", face)
    assert mixed.panel_system(face).kind == "ribbed" and mixed.panel_system("other").kind == "standing seam"


def test_every_millimetre_of_every_panel_is_told(tmp_path, capsys):
    job = with_system(load(COVERAGE_ONLY), "double seam 430 x 25")
    derived = derive(job)
    for facet in derived.roof.facets:
        laid = lay(derived.roof, facet.id, job.panel_rule(facet.id))
        for panel in laid.panels:
            assert sum(mm for _, mm in panel.terms) == pytest.approx(panel.length) and panel.terms[0][0] == "face"
    answer = panels_answer(derived)
    for face in answer["faces"]:
        plane = derived.roof.facet(face["face"]).plane
        for panel in face["panels"]:
            assert all(abs(z - plane.z((x, y))) < 1e-6 for x, y, z in panel["outline"])
            assert panel["blank"]["girth"] > panel["width"] and panel["blank"]["length"] == panel["length"]
            assert (panel["ripped"] is None) == (panel["width"] > 429.5)
    (tmp_path / "job.yattle").write_text(job.model_dump_json())
    assert main(["panels", str(tmp_path / "job.yattle")]) == 0
    assert json.loads(capsys.readouterr().out)["faces"] == json.loads(json.dumps(answer["faces"]))


def test_turned_up_at_ridge_and_wall_and_held_back_for_a_vent_by_hand():
    """Double seams: 40 overhang, 25 hem, 60 turned up at the ridge; with a slot of 30 the pan ends that much before it."""
    system = find("double seam 530 x 25")
    roof = build(GABLE.roof)
    face = roof.facets[0]
    slope = max(e.length for e in roof.edges_of(face.id) if e.kind == "rake")
    plain = lay(roof, face.id, PanelRule(coverage=530.0, overhang=40.0)).panels[1]
    tray = lay(roof, face.id, ruled_by(PanelRule(overhang=40.0), system)).panels[1]
    square = with_own_system(GABLE, system.but(name="own", rules=system.rules.but(ridge="square", slot=30.0)))
    vented = with_system(square.but(schools=Schools(ridge="vented"), panels=PanelRule(overhang=40.0)), "own")
    slot = derive(vented).panels[face.id].panels[1]
    sealed = derive(vented.but(schools=Schools())).panels[face.id].panels[1]
    assert sealed.length == pytest.approx(slope + 40 + 25) and sealed.length - slot.length == pytest.approx(30)
    assert plain.length == pytest.approx(slope + 40) and tray.length == pytest.approx(slope + 40 + 25 + 60)
    assert slot.length == pytest.approx(slope + 40 + 25 - 30) and ("held back at the ridge", -30.0) in slot.terms
    walled = load(demo_path())
    roof = build(walled.roof)
    face = next(e.facets[0] for e in roof.edges if e.kind == "headwall" and e.id == "W2")
    at = [panel for panel in lay(roof, face, ruled_by(PanelRule(overhang=40.0), system)).panels]
    assert any(("turned up at the wall", 60.0) in panel.terms for panel in at)
    assert not any(what.endswith("ridge") for panel in at for what, _ in panel.terms)


# -- what follows from how high the seams stand -------------------------------------------------------------


def test_a_closure_is_as_high_as_the_seams_unless_somebody_said_otherwise():
    high = {name: derive_profile(find(name)).height for name in ("double seam 530 x 25", "single seam 475 x 38")}
    for name, height in high.items():
        runs = [run for run in derive(with_system(GABLE, name)).runs if run.run.layer == "closure"]
        assert runs and all(run.detail.profile.legs[1] == height == run.run.over for run in runs)
        assert not [f for run in runs for f in run.findings]
    own = with_system(GABLE.but(own=GABLE.own.but(closure_height=40.0)), "double seam 530 x 25")
    assert {run.detail.profile.legs[1] for run in derive(own).runs if run.run.layer == "closure"} == {40.0}


def test_a_zed_stands_with_its_paint_to_the_weather_and_its_foot_up_the_slope():
    """The paint is on the left of the walk from edge A: where the walk goes down, that is out, down the slope."""
    for run in derive(with_system(GABLE, "single seam 475 x 38")).runs:
        if run.run.layer == "closure":
            top, height, foot = (math.radians(h) for h in headings(run.detail.profile, run.detail.heading))
            assert math.sin(height) == pytest.approx(-1) and math.sin(height + math.pi / 2) == pytest.approx(0, abs=1e-9)
            assert math.cos(height + math.pi / 2) == pytest.approx(1), "its paint looks out"
            assert math.cos(foot) == pytest.approx(-1) == math.cos(top), "the foot points in, the top comes from out"


@pytest.mark.parametrize("name", ["double seam 530 x 25", "single seam 475 x 38", "rib 45, pitch 333"])
def test_a_boxed_rake_closes_the_seam_s_height_and_3_mm_more(name):
    job = with_system(GABLE.but(schools=Schools(rake_end="box")), name)
    height = derive_profile(find(name)).height
    assert box_tabs(job) == {round(height + 3.0, 6)}
    plain = GABLE.but(schools=Schools(rake_end="box"))
    assert box_tabs(plain) == {38.0 + 3.0}, "of a system nobody knows by the house standard's seam"


def box_tabs(job):
    """How far the flange's tabs come down at boxed ends; the flange is the second flat part, after its hem."""
    return {round(tab.length, 6) for run in derive(job).runs if run.run.kind == "rake" and not run.run.layer
            for piece in run.pieces for tab in piece.tabs if tab.leg == 1}


# -- what hooked panels hold on to ----------------------------------------------------------------------------


def test_hooked_panels_get_a_strip_set_back_from_their_fold_by_hand():
    """Pans that hang over by 40 on a strip 60 wide on the deck, set back by 12: 88 wide, and a hem. Screwed ones none."""
    hooked = with_system(GABLE.but(panels=GABLE.panels.but(overhang=40.0)), "double seam 530 x 25")
    derived = derive(hooked)
    strips_made = [run for run in derived.runs if run.run.layer == "eave-cleat"]
    eaves = [found for found in roof_runs(hooked) if found.edge.kind == "eave"]
    assert len(strips_made) == len(eaves) and all(run.detail.profile.legs == (88.0,) for run in strips_made)
    assert all(run.detail.max_gap < 1e-6 and run.pieces for run in strips_made)
    found = installation(derived)
    for run in strips_made:
        over = {lap.under for lap in found.laps if lap.over == run.run.id}
        held = {lap.over for lap in found.laps if lap.under == run.run.id}
        assert run.run.id.partition(".")[0] in over and any(name.startswith("panels") for name in held)
        assert {need.what for need in found.runs[run.run.id].needs} >= {"screws"}
    assert not found.order.troubles
    screwed = derive(with_system(GABLE, "rib 45, pitch 333"))
    assert not [run for run in screwed.runs if run.run.layer == "eave-cleat"]


def test_an_eave_apron_hooks_on_a_cleat_with_a_hem_that_takes_it():
    """Its hem stays open by 3 mm, more than the cleat's folded edge of 0.6 sheet is thick."""
    job = GABLE.but(edges=tuple(EdgeNote(key=found.edge.key, place=found.place, detail="eave-apron")
                                for found in roof_runs(GABLE) if found.edge.kind == "eave"))
    derived = derive(job)
    aprons = [run for run in derived.runs if run.run.kind == "eave" and not run.run.layer]
    assert aprons and all(run.family.name == "eave-apron" for run in aprons)
    for run in aprons:
        hem = run.detail.profile.hem_b
        assert hem.kind == "open" and hem.gap >= 2 * 0.6 + 1.0
        cleat = derived.run(f"{run.run.id}.k")
        assert cleat.family.name == "apron-cleat" and cleat.pieces
        assert any(lap.over == run.run.id and lap.under == cleat.run.id for lap in installation(derived).laps)
