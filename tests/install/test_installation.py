"""The demo's order of fitting: water runs downhill, every piece over the one below it."""

from __future__ import annotations

import pytest

from yattle.derive.graph import derive
from yattle.install.installation import STAGE_CAUTIONS, installation
from yattle.job import demo_path, load
from yattle.job.model import LapNote
from yattle.roof.edges import WALLS

DEMO = load(demo_path())
FIT = installation(derive(DEMO))


def test_every_piece_that_is_cut_is_fitted():
    ids = {item.id for item in FIT.items}
    derived = FIT.derived
    assert {run.run.id for run in derived.runs if run.pieces} <= ids
    assert {opening.id for opening in derived.openings if any(not p.paper for p in opening.pieces)} <= ids
    assert sorted(name for stage in FIT.order.stages for name in stage) == sorted(ids) and not FIT.order.troubles


def test_no_item_before_what_it_laps_over():
    for lap in FIT.laps:
        if {lap.over, lap.under} <= {item.id for item in FIT.items}:
            assert FIT.order.stage_of(lap.over) > FIT.order.stage_of(lap.under), lap


def test_from_the_eave_up():
    """Eaves before valleys before panels before closures before caps; counterflashings after what they cover."""
    stage = FIT.order.stage_of
    assert stage("E1") < stage("panels loft.1") and stage("V1") < stage("panels loft.2") < stage("R1")
    assert stage("R1.z1") < stage("R1") and stage("W1") < stage("W1.c")
    for placed in FIT.derived.roof.openings:
        for face in placed.facets:
            assert stage(f"panels {face}") < stage(placed.opening.id) < stage(f"panels {face} above")
    assert stage("G1.k") < stage("G1")


def test_cautions_once_where_they_apply():
    said = [text for n in range(len(FIT.order.stages)) for text in FIT.cautions(n)]
    assert len(said) == len(set(said)) and FIT.cautions(0)
    ours = [text for text in said if text not in STAGE_CAUTIONS.values()]
    assert all(any(text in installation(FIT.derived)._of_face(face) for face in FIT.derived.panels) for text in ours)
    assert not any(word in text.lower() for text in said for word in ("complies", "compliant"))


def test_somebody_s_word_against_the_water_is_found():
    job = DEMO.but(laps=(LapNote(over="E1", under="R1"),))
    found = installation(derive(job))
    assert "said by hand" in found.order.troubles[0].says()
    assert any(finding.level == "stop" and finding.field == "laps" for _, finding in found.findings)
    assert found.order.stage_of("E1") < found.order.stage_of("R1")


def test_sums_are_the_runs_together():
    screws = sum(need.many for fit in FIT.runs.values() for need in fit.needs if need.what == "screws")
    screws += sum(need.many for needs in FIT.openings.values() for need in needs if need.what == "screws")
    assert next(pack for pack in FIT.packs if pack.what == "screws").many == pytest.approx(screws)
    underlay = next(pack for pack in FIT.packs if pack.what == "underlay")
    assert underlay.many == pytest.approx(1.1 * sum(facet["area"] for facet in FIT.derived.roof.answer()["facets"]), rel=1e-6)
    ridge = FIT.runs["R1"]
    assert any(need.what == "tape" and need.many == pytest.approx(2 * ridge.run.run.length) for need in ridge.needs)


def test_quarrelling_metals_and_pinned_lengths_are_looked_at():
    job = DEMO.but(fit=DEMO.fit.but(screws="copper"), schools=DEMO.schools.but(joint="plain"))
    found = [finding.says() for _, finding in installation(derive(job)).findings]
    assert any("copper screws" in text for text in found) and any("fights by" in text for text in found)


def test_rivets_clips_and_long_panels_are_looked_at():
    """Panels of 5,961 mm in steel move 12e-6 · 90 K: 6.44 mm, less than a clip slides; of one that slides 6.4 it is told."""
    def said(**rules):
        return [f.says() + f.reason() for _, f in installation(derive(DEMO.but(fit=DEMO.fit.but(**rules)))).findings]
    assert not any("move" in text for text in said())
    (text,) = [text for text in said(slide=6.4) if "panels of loft.1" in text]
    assert "move 6.4 mm" in text and "fixed at the eave only" in text and "the hole of vent pipe" in text
    assert any("copper rivets" in text for text in said(rivets="copper"))
    assert any("copper clips" in text for text in said(clips="copper"))


def test_a_wall_s_flashing_must_be_in_before_the_wall_is_closed():
    """With cladding instead of a kerf the wall comes down over the upstand; somebody's word against it is explained."""
    clad = DEMO.but(schools=DEMO.schools.but(counter="cladding"))
    fit = installation(derive(clad))
    walls = [item for item in fit.items if item.kind == "cladding"]
    runs = {run.run.id for run in fit.derived.runs if run.pieces and run.run.kind in WALLS and not run.run.layer}
    assert {item.place for item in walls} == runs and runs
    for name in runs:
        assert fit.order.stage_of(f"wall {name}") > fit.order.stage_of(name)
    assert any(check.startswith("cladding: ") for n in range(len(fit.order.stages)) for check in fit.checks(n))
    late = installation(derive(clad.but(laps=(LapNote(over="W1", under="wall W1"),))))
    assert "it must be in before the wall is closed" in late.order.troubles[0].says()
    assert late.order.stage_of("W1") < late.order.stage_of("wall W1"), "what somebody said gives way"
    assert not [item for item in FIT.items if item.kind == "cladding"], "a kerf is cut when the wall stands"
