"""What is said where panels go on: once, at the stage where it applies, and never that something complies."""

from __future__ import annotations

import pytest

from yattle.derive import derive
from yattle.install.installation import installation
from yattle.install.panel_cautions import LOW, OLD_ROOF, ON_SUPPORTS, STEEP, TOO_LOW, cautions_of
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.panels import find
from yattle.roof.starts import STARTS
from yattle.roof.structure import Structure

RIB, DECK = find("rib 45, pitch 333"), Structure()


@pytest.mark.parametrize(("structure", "pitch", "says"), [
    (DECK, 20.0, ()), (DECK, RIB.rules.tape_below - 0.5, (LOW,)), (DECK, RIB.rules.least_pitch - 0.5, (TOO_LOW, LOW)), (DECK, 35.0, (STEEP,)),
    (Structure(kind="supports", spacing=900.0), 20.0, (ON_SUPPORTS,)),
    (Structure(kind="supports", spacing=900.0, old_roof=25.0), 20.0, (OLD_ROOF, ON_SUPPORTS))])
def test_by_pitch_by_old_roof_and_by_what_is_walked_on(structure, pitch, says):
    found = cautions_of(RIB, structure, pitch)
    assert len(found) == len(says) and all(said[-25:] in text for text, said in zip(found, says, strict=True))
    assert not any("compl" in text.lower() for text in found)


def test_each_is_said_once_at_the_first_stage_where_its_panels_go_on():
    job = with_system(Job(name="hall", roof=STARTS["gable with a lean-to"]), "rib 45, pitch 333")
    job = job.with_structure(Structure(kind="supports", spacing=900.0, old_roof=25.0))
    fit = installation(derive(job))
    by_stage = [fit.cautions(n) for n in range(len(fit.order.stages))]
    said = [text for texts in by_stage for text in texts]
    assert len(said) == len(set(said)) and {OLD_ROOF, ON_SUPPORTS} <= set(said)
    first = min(n for n, names in enumerate(fit.order.stages) if any(name.startswith("panels ") for name in names))
    assert OLD_ROOF in by_stage[first]
    assert any(text == f"Below 14° {LOW}" for text in said), "the lean-to of 8°"


def test_the_demo_says_them_in_fit():
    fit = installation(derive(load(demo_path())))
    assert any("roof ladder" in text for n in range(len(fit.order.stages)) for text in fit.cautions(n))
