"""Once printed, names stay; what differs from the print is told, and its cards alone can be printed."""

from __future__ import annotations

from pypdf import PdfReader

from yattle.derive import derive
from yattle.derive.printed import changed, next_revision, since_print, with_printed
from yattle.derive.roof_runs import roof_runs
from yattle.job import Job, demo_path, load
from yattle.papers.cards import write_changed_cards, write_fold_cards
from yattle.papers.labels import piece_labels

JOB = load(demo_path())
PRINTED = with_printed(JOB, derive(JOB), "2026-11-29")


def edges(job):
    return {(found.edge.key, found.place): found.run.id for found in roof_runs(job)}


def block(job, name, **changes):
    return job.but(roof=job.roof.but(blocks=tuple(b.but(**changes) if b.id == name else b for b in job.roof.blocks)))


def test_names_on_paper_stay_whatever_is_built_beside():
    """The porch taken away and a shelter put on first: without names kept every rake and eave would be another."""
    first, *rest = JOB.roof.blocks
    new = JOB.roof.blocks[-1].but(id="shelter", x=first.x - 3000.0, y=first.y + 9000.0) if hasattr(first, "x") else first
    for change in (lambda job: job.but(roof=job.roof.but(blocks=(new, first, *rest))),
                   lambda job: block(job, "wing", pitch=32.0), lambda job: block(job, "dormer", pitch=30.0)):
        before, after = edges(PRINTED), edges(change(PRINTED))
        assert all(after[key] == before[key] for key in before.keys() & after.keys())
        assert len(set(after.values())) == len(after)
        fresh = {after[key] for key in after.keys() - before.keys()}
        assert not fresh & set(before.values()), "a name that is on paper is no other edge's"
    assert Job.model_validate_json(PRINTED.model_dump_json()) == PRINTED


def test_a_revision_says_what_differs_and_the_same_print_is_the_same_revision(tmp_path):
    assert PRINTED.revisions[0].letter == "A" and not PRINTED.revisions[0].says and not since_print(derive(PRINTED))
    assert with_printed(PRINTED, derive(PRINTED)).revisions == PRINTED.revisions
    wider = PRINTED.but(own=PRINTED.own.but(cap_wing=185.0)) if hasattr(PRINTED.own, "cap_wing") else block(PRINTED, "wing", pitch=33.0)
    now = derive(wider)
    found = changed(now)
    assert found and next_revision(now).letter == "B"
    said = since_print(now)
    assert said.startswith("since print A: ") and f"{sum(w == 'changed' for w in found.values())} piece" in said
    again = with_printed(wider, now)
    assert [r.letter for r in again.revisions] == ["A", "B"] and set(again.revisions[1].changed) == {
        name for name, word in found.items() if word == "changed"}
    write_fold_cards(now, tmp_path / "all.pdf")
    write_changed_cards(now, tmp_path / "some.pdf")
    many, few = (len(PdfReader(tmp_path / name).pages) for name in ("all.pdf", "some.pdf"))
    text = "\n".join(page.extract_text() for page in PdfReader(tmp_path / "some.pdf").pages)
    assert few < many and "Revision B" in text and "revision B" in text and "* differs from the last print" in text
    assert any("rev B" in line for label in piece_labels(now) for line in label.lines)
    assert all(name in text for name, word in found.items() if word == "gone")


def test_nothing_is_told_before_anything_was_printed():
    assert since_print(derive(JOB)) == "" and next_revision(derive(JOB)).letter == "A"
