"""Holes on the pattern where the schedule has its screws; two versions compared; all papers in one book."""

from __future__ import annotations

import csv
import io

import pytest
from pypdf import PdfReader
from shapely import Point, Polygon

from samples import eaves_path
from yattle.derive.graph import derive
from yattle.derive.versions import changes, changes_csv
from yattle.install.installation import installation
from yattle.install.predrill import drilled
from yattle.job import demo_path, load
from yattle.papers.book import write_book

DERIVED = derive(load(demo_path()))


@pytest.mark.parametrize("run_id", ["E1", "R1", "G1", "W1"])
def test_every_screw_of_a_run_is_on_one_of_its_pieces(run_id):
    fit = installation(DERIVED).runs[run_id]
    need = next(need for need in fit.needs if need.what == "screws")
    centres, places = 0, set()
    for n, piece in enumerate(fit.run.pieces):
        pattern = drilled(DERIVED, run_id, n)
        added = pattern.marks[len(piece.pattern.marks):]
        sheet = Polygon(pattern.outline)
        for mark in added[::2]:  # the first arm of each cross
            centre = ((mark.a[0] + mark.b[0]) / 2, mark.a[1])
            assert sheet.contains(Point(centre)), "a hole beside the sheet"
            places.add(round(centre[0] + piece.start, 1))
            centres += 1
    assert centres >= need.many and places == {round(place, 1) for place in need.places}


def test_a_ridge_has_its_rows_an_edge_in_from_both_hems():
    pattern, edge = drilled(DERIVED, "R1", 0), DERIVED.job.fit.edge
    folds = {fold.id: fold.a[1] for fold in pattern.folds}
    rows = {round(mark.a[1], 3) for mark in pattern.marks if not mark.text and mark.a[1] == mark.b[1]}
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
    parts = [entry.title for entry in book.outline]
    assert parts[:2] == ["Site pack", "Cut sheet"] and parts[-1] == "Labels"
    assert sum(title.startswith("Fold card") for title in parts) >= sum(1 for run in derived.runs if run.pieces)
