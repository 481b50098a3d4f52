"""Templates at 1:1: the ends of a piece stand on the sheets in their true size, whole, with nothing on anything."""

from __future__ import annotations

import math
import re
from itertools import pairwise

import pytest
from pypdf import PdfReader
from test_cards import LOFT, SHED, faults

from yattle.derive import derive
from yattle.derive.sections import sections_of
from yattle.errors import InputError
from yattle.job import demo_path, load
from yattle.measure import UNITS
from yattle.papers.one_to_one import CAPTION, tiles_of
from yattle.papers.page import Book
from yattle.papers.templates import _end, write_templates
from yattle.pattern.piece_ends import end_points, piece_ends
from yattle.session.session import Selection

GROUPS = [(group, kind) for group in sections_of(LOFT) for kind in group.ends if not kind.is_plain]


def pieces():
    """One piece for every pair of ends in the demo that is not square."""
    seen = set()
    for group in sections_of(LOFT):
        for row in group.rows:
            if any(row.ends) and "?" not in row.ends and (group.n, row.ends) not in seen:
                seen.add((group.n, row.ends))
                yield row.run.run.id, row.places[0], row.ends


def spans_of(path):
    """How long every straight line on the sheets is, mm."""
    found = []
    for page in PdfReader(path).pages:
        content = page.get_contents().get_data().decode("latin-1")
        for line in re.findall(r"(?:-?[\d.]+ -?[\d.]+ [ml]\s+)+", content):
            points = [(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+) [ml]", line)]
            found += [math.dist(a, b) * 25.4 / 72 for a, b in pairwise(points)]
    return found


@pytest.mark.parametrize(("run", "place", "ends"), list(pieces()), ids=lambda v: str(v))
def test_every_cut_of_an_end_is_on_the_sheet_as_long_as_it_is(run, place, ends, tmp_path):
    sheets = write_templates(LOFT, Selection(run=run, piece=place), tmp_path / "t.pdf")
    reader = PdfReader(tmp_path / "t.pdf")
    assert len(reader.pages) == sheets and faults(tmp_path / "t.pdf") == []
    both, plain = set(ends), {kind.letter for group, kind in ((g, k) for g in sections_of(LOFT) for k in g.ends) if kind.is_plain
                              and any(r.run.run.id == run for r in group.rows)}
    if both <= plain | {""}:
        assert "nothing to lay on" in reader.pages[0].extract_text()
        return
    spans = spans_of(tmp_path / "t.pdf")
    for letter, end in zip(ends, piece_ends(LOFT.run(run).pieces[place].pattern), strict=True):
        if letter in plain | {""}:
            continue
        for a, b in pairwise(end.corners):
            if math.dist(a, b) > 1:
                assert any(span == pytest.approx(math.dist(a, b), abs=0.15) for span in spans), (letter, a, b)
        assert letter + ":" in "".join(page.extract_text() for page in reader.pages)


@pytest.mark.parametrize(("group", "kind"), GROUPS, ids=[f"{g.n}{k.letter}" for g, k in GROUPS])
def test_every_point_that_is_pricked_lies_on_a_sheet(group, kind):
    for side in ("left", "right"):
        book, sign = Book("t", "t"), 1.0 if side == "left" else -1.0
        drawing, near = _end(group, kind, side, UNITS["mm"])
        sheets = tiles_of(drawing, book, near)
        for point in end_points(kind.end):
            x, y = sign * point.place[0], -point.place[1]
            assert any(t.x - 0.01 <= x <= t.x + book.width + 0.01 and t.y - 0.01 <= y <= t.y + book.height - CAPTION + 0.01
                       for t in sheets), (side, point)


def test_mirror_images_share_a_sheet_that_is_turned_over(tmp_path):
    run, place, _ = next(one for one in pieces() if one[2][0] == one[2][1] and one[2][0] and any(
        k.letter == one[2][0] and any(r.run.run.id == one[0] for r in g.rows) for g, k in GROUPS))
    write_templates(LOFT, Selection(run=run, piece=place), tmp_path / "t.pdf")
    heads = {page.extract_text().split("·")[0].split("\n")[-1].strip() for page in PdfReader(tmp_path / "t.pdf").pages}
    assert heads == {f"{run}-{place + 1}, left end; turned over it is the right end"}


def test_an_odd_piece_is_whole_and_an_inch_job_has_a_line_of_four_inches(tmp_path):
    inch = derive(load(demo_path()).but(system="inch", unit="in16"))
    sheets = write_templates(inch, Selection(opening="chimney", piece=4), tmp_path / "t.pdf")
    pattern, spans = inch.opening("chimney").pieces[4].pattern, spans_of(tmp_path / "t.pdf")
    assert sheets > 1 and faults(tmp_path / "t.pdf") == []
    assert all(any(span == pytest.approx(math.dist(a, b), abs=0.05) for span in spans) for a, b in pairwise(pattern.outline))
    assert "the line is 4 in" in PdfReader(tmp_path / "t.pdf").pages[0].extract_text()
    assert sum(span == pytest.approx(101.6, abs=0.01) for span in spans) >= sheets


def test_square_ends_need_none_and_no_piece_is_said(tmp_path):
    write_templates(SHED, Selection(run="E1", piece=1), tmp_path / "t.pdf")
    assert len(PdfReader(tmp_path / "t.pdf").pages) >= 1 and faults(tmp_path / "t.pdf") == []
    with pytest.raises(InputError, match="piece: found none, expected one that is selected"):
        write_templates(SHED, Selection(run="E1", piece=99), tmp_path / "t.pdf")
