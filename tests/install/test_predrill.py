"""Holes on the pattern where the schedule has its screws; two versions compared; all papers in one book."""

from __future__ import annotations

import csv
import io

import pytest
from pypdf import PdfReader
from shapely import Point, Polygon

from samples import eaves_path
from yattle.derive.graph import derive
from yattle.derive.sections import sections_of
from yattle.derive.versions import changes, changes_csv
from yattle.install.installation import installation
from yattle.install.predrill import drilled
from yattle.job import demo_path, load
from yattle.papers.book import write_book
from yattle.pattern.pattern import SCREW

DERIVED = derive(load(demo_path()))


@pytest.mark.parametrize("run_id", ["E1", "R1", "G1", "W1"])
def test_every_screw_of_a_run_is_on_one_of_its_pieces(run_id):
    fit = installation(DERIVED).runs[run_id]
    need = next(need for need in fit.needs if need.what == "screws")
    places, edge = [], DERIVED.job.fit.edge
    for n, piece in enumerate(fit.run.pieces):
        pattern = drilled(DERIVED, run_id, n)
        outline = Polygon(pattern.outline).exterior
        for mark in pattern.marks[len(piece.pattern.marks):]:
            assert mark.a == mark.b and mark.text == SCREW
            assert Polygon(outline).contains(Point(mark.a)) and outline.distance(Point(mark.a)) >= edge - 1e-5
            places.append(mark.a[0] + piece.start)
    assert len(places) >= 0.9 * need.many, "at cut ends a few find no place"
    rows = (*need.places, *need.second)
    assert all(min(abs(place - wanted) for wanted in rows) < 60 for place in places)
    assert all(min(abs(place - wanted) for place in places) < 60 for wanted in rows)
    assert sum(min(abs(place - wanted) for wanted in rows) < 1e-6 for place in places) >= 0.75 * len(places)


def test_a_ridge_has_its_rows_an_edge_in_from_both_hems():
    pattern, edge = drilled(DERIVED, "R1", 0), DERIVED.job.fit.edge
    folds = {fold.id: fold.a[1] for fold in pattern.folds}
    rows = {round(mark.a[1], 3) for mark in pattern.marks if mark.text == SCREW}
    assert {round(folds["hA"] - edge, 3), round(folds["hB"] + edge, 3)} <= rows


def test_what_changed_since_another_version():
    job = load(eaves_path())
    before, now = derive(job), derive(job.but(runs=(*job.runs[1:], job.runs[0].but(id="E77", length=job.runs[0].length + 100))))
    found = {change.piece: change for change in changes(before, now)}
    gone = next(run for run in before.runs if run.run.id == job.runs[0].id).pieces
    assert {piece.id for piece in gone} == {name for name, change in found.items() if change.what == "gone"}
    assert all(change.piece.startswith("E77") for change in found.values() if change.what == "new")
    wider = changes(before, derive(job.but(own=job.own.but(face=110.0))))
    assert wider and all(change.what == "changed" and change.now[1] > change.before[1] for change in wider)
    rows = list(csv.DictReader(io.StringIO(changes_csv(wider))))
    assert len(rows) == len(wider) and float(rows[0]["girth_now_mm"]) > float(rows[0]["girth_before_mm"])
    assert changes(before, before) == ()


def test_one_book_of_all_papers(tmp_path):
    derived = derive(load(demo_path("net-shed")))
    write_book(derived, tmp_path / "book.pdf")
    book = PdfReader(tmp_path / "book.pdf")
    parts = [entry.title for entry in book.outline if not isinstance(entry, list)]
    assert parts == ["Site pack", "Cut sheet", "Fold cards", "Labels"]
    cards = [entry.title for entry in book.outline[book.outline.index(next(
        e for e in book.outline if not isinstance(e, list) and e.title == "Fold cards")) + 1]]
    formed = sum(bool(place.pieces) for place in derived.openings)
    assert len(cards) == 1 + len(sections_of(derived)) + bool(formed) > 9, "a bookmark for each card under its part, one for all odd pieces"
