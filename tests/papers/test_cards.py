"""Papers that a hand can work from: a piece is marked out from what stands on its card, the cut sheet is replayed as a
machine would, every page is read back for texts on each other and outside its margins."""

from __future__ import annotations

import json
import math
import re

import pytest
import shapely
from pypdf import PdfReader

from metric import find_units
from samples import eaves_path
from yattle import cores
from yattle.coil.steps import block_says, blocks_of_plan, step_lines
from yattle.derive import derive
from yattle.derive.roof_runs import roof_runs
from yattle.derive.sections import section_of, sections_of
from yattle.job import demo_path, load
from yattle.job.model import Run
from yattle.measure import UNITS, say_length
from yattle.papers.book import write_book
from yattle.papers.cards import write_fold_cards, write_opening_cards, write_run_card
from yattle.papers.cut_sheet import write_cut_sheet
from yattle.papers.labels import write_labels
from yattle.papers.numbers import in_rows, natural
from yattle.papers.paint import MM, fonts
from yattle.papers.piece_cards import odd_pieces
from yattle.papers.practice import Practice, write_practice
from yattle.papers.site import write_site_pack
from yattle.pattern import marking_points
from yattle.pattern.marking import round_hole
from yattle.pattern.piece_ends import end_points, piece_ends, slopes
from yattle.roof import RoofPlan
from yattle.roof.starts import STARTS

LOFT, SHED, EAVES = (derive(load(path)) for path in (demo_path(), demo_path("net-shed"), eaves_path()))


# -- read back ---------------------------------------------------------------------------------------------


def texts_of(page):
    """(text, left, low, right, high) of everything written on a page, in points."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    fonts()
    found = []

    def visit(text, cm, tm, font, size):
        text = text.strip()
        if text:
            x, y = tm[4] * cm[0] + tm[5] * cm[2] + cm[4], tm[4] * cm[1] + tm[5] * cm[3] + cm[5]
            name = "Barlow-SemiBold" if font and "SemiBold" in str(font.get("/BaseFont")) else "Barlow-Regular"
            wide, upright = stringWidth(text, name, size), abs(tm[0] * cm[1] + tm[1] * cm[3]) > 0.5
            found.append((text, x - size * 0.7, y, x, y + wide) if upright else (text, x, y, x + wide, y + size * 0.68))
    page.extract_text(visitor_text=visit)
    return found


def faults(path):
    """Texts on each other, and texts outside the margins, page by page."""
    found = []
    for n, page in enumerate(PdfReader(path).pages, 1):
        texts = texts_of(page)
        wide, tall = float(page.mediabox.width), float(page.mediabox.height)
        found += [(n, "outside", a[0]) for a in texts if a[1] < 20 or a[3] > wide - 20 or a[2] < 15 or a[4] > tall - 15]
        found += [(n, a[0], b[0]) for k, a in enumerate(texts) for b in texts[:k]
                  if a[1] + 0.6 < b[3] and b[1] + 0.6 < a[3] and a[2] + 0.6 < b[4] and b[2] + 0.6 < a[4]]
    return found


def lines_of(path):
    return [[line.strip().replace(" ", "") for line in page.extract_text().split("\n")] for page in PdfReader(path).pages]


PAPERS = {"cards": write_fold_cards, "cut": write_cut_sheet, "site": write_site_pack}


@pytest.mark.parametrize("derived", [LOFT, SHED, EAVES], ids=["loft", "shed", "eaves"])
@pytest.mark.parametrize("paper", PAPERS)
def test_no_text_lies_on_another_or_outside_the_margins(derived, paper, tmp_path):
    PAPERS[paper](derived, tmp_path / "p.pdf")
    assert faults(tmp_path / "p.pdf") == []
    pages = lines_of(tmp_path / "p.pdf")
    assert all(any(f"page{n}of{len(pages)}" in line for line in page) for n, page in enumerate(pages, 1))


def test_papers_of_awkward_jobs_are_right_too(tmp_path):
    """A name of 200 letters with < and &, letter in place of A4, a piece of forty points, hips and dormers."""
    job = load(demo_path()).but(name="The <long> & winding name of a boat shed " * 4, place="W" * 200, roof=STARTS["hip"],
                                runs=(), system="inch", unit="in16", openings=())
    derived = derive(job)
    for name, write in PAPERS.items():
        write(derived, tmp_path / f"{name}.pdf")
        assert faults(tmp_path / f"{name}.pdf") == [], name
    page = PdfReader(tmp_path / "site.pdf").pages[0]
    assert float(page.mediabox.width) == pytest.approx(215.9 * MM, abs=0.1)
    assert "<long> & winding" in PdfReader(tmp_path / "cards.pdf").metadata["/Title"]


def test_the_demo_takes_fewer_pages_than_it_has_pieces(tmp_path):
    """All papers but the labels: at most 70 pages."""
    write_book(LOFT, tmp_path / "book.pdf")
    write_labels(LOFT, tmp_path / "labels.pdf")
    pages, labels = (len(PdfReader(tmp_path / name).pages) for name in ("book.pdf", "labels.pdf"))
    assert labels <= 14 and pages - labels <= 70 < LOFT.piece_count / 4


def test_papers_of_an_inch_job_say_no_metric_measure(tmp_path):
    """Sealant, underlay, what rounding moves a mark by, how far a piece is off: all in the job's own unit."""
    write_book(SHED, tmp_path / "book.pdf")
    said = [line for page in PdfReader(tmp_path / "book.pdf").pages for line in page.extract_text().split("\n")]
    assert len(said) > 500 and not [line for line in said if find_units(line)]
    assert all(any(word in line for line in said) for word in ("fl oz", "ft²", "folds up to 0.0000\""))


def test_a_book_written_by_two_is_the_one_written_by_one(tmp_path, monkeypatch):
    for helped in (True, False):
        monkeypatch.setattr(cores, "can_share", lambda helped=helped: helped)
        write_book(SHED, tmp_path / f"{helped}.pdf")
    one, two = (PdfReader(tmp_path / f"{helped}.pdf") for helped in (True, False))
    assert [mark.title for mark in one.outline if not isinstance(mark, list)] == ["Site pack", "Cut sheet", "Fold cards", "Labels"]
    assert [page.get_contents().get_data() for page in one.pages] == [page.get_contents().get_data() for page in two.pages]


def test_a_roof_of_many_edges_comes_in_parts_that_can_be_read(tmp_path):
    blocks = [{"id": f"shed {n}", "kind": "gable", "x": 9000.0 * (n % 4), "y": 8000.0 * (n // 4), "length": 6000.0,
               "span": 4000.0, "eave_height": 3000.0, "pitch": 30.0 + n % 3, "eave_overhang": 300.0,
               "rake_overhang": 200.0} for n in range(12)]
    derived = derive(load(demo_path()).but(roof=RoofPlan.model_validate_json(json.dumps({"blocks": blocks})), runs=(),
                                           openings=(), taped=(), laps=()))
    write_site_pack(derived, tmp_path / "site.pdf")
    assert faults(tmp_path / "site.pdf") == []
    parts = [page for page in lines_of(tmp_path / "site.pdf") if any("Theroof,part" in line for line in page)]
    told = [line for page in parts for line in page]
    assert len(parts) > 1 and all(told.count(found.run.id) == 1 for found in roof_runs(derived.job))


# -- marked out from the card ------------------------------------------------------------------------------------


def number(text):
    return float(text.replace("\u00a0", "").replace(" ", ""))


def read_card(path):
    """What a hand finds on a card: girth, fold marks, pieces with their ends by letter, each end's corners."""
    lines = [line for page in lines_of(path) for line in page]
    girth = number(re.search(r"girth([\d.\u00a0]+)mm", "\n".join(lines))[1])
    k = next(n for n, line in enumerate(lines) if line.startswith("Girthtape"))
    marks = []
    for line in lines[k + 2:]:
        if re.fullmatch(r"[\d.\u00a0]+", line):
            marks.append(number(line))
        elif marks or line.startswith("Strokes"):
            break
    ends, n = {}, 0
    while n < len(lines):
        head = re.match(r"([a-z]+):(.*)", lines[n])
        if head and re.match(r"square\b", head[2]):
            ends[head[1]] = [(0.0, 0.0), (0.0, girth)]
        elif head and re.search(r"(leftend|rightend|mirrorpair)$", head[2]):
            ends[head[1]], n = read_points(lines, n + 1)
            continue
        n += 1
    pieces, k = [], next(n for n, line in enumerate(lines) if line == "goesto") + 1
    while k + 6 < len(lines) and re.fullmatch(r"[A-Z]+\d+[.\w]*-[\d,to]+", lines[k]):
        pieces.append((lines[k], number(lines[k + 2]), lines[k + 4], lines[k + 5]))
        k += 7
    return girth, marks, pieces, ends


def read_points(lines, n):
    """The corners of an end: rows of a number, how far in, how far down, with nothing written beside them."""
    found = {}
    while not lines[n].startswith("Check:"):
        row = lines[n:n + 3]
        if re.fullmatch(r"\d+", row[0]) and all(re.fullmatch(r"[\d\u00a0]+\.\d", cell) for cell in row[1:]):
            what = lines[n + 3]
            plain = re.fullmatch(r"\d+|in|Check:.*|\d+–\d+:.*", what) is not None
            found[int(row[0])] = (number(row[1]), number(row[2]), plain)
            n += 3
        else:
            n += 1
    return [(x, y) for _, (x, y, plain) in sorted(found.items()) if plain], n


def marked_out(length, girth, left, right, ends):
    """The outline that a hand draws: down the left end, along edge B, up the right end."""
    corners = {letter: points for letter, points in ends.items()} | {"square": [(0.0, 0.0), (0.0, girth)]}
    ring = [(x, -y) for x, y in corners[left]] + [(length - x, -y) for x, y in reversed(corners[right])]
    return shapely.Polygon(ring)


@pytest.mark.parametrize("run", ["E1", "E4", "G1", "R1", "R2", "V1", "W1", "W2", "S1", "W1.c", "G1.k"])
def test_a_hand_that_marks_out_the_card_gets_the_piece(run, tmp_path):
    """From the numbers on the page alone, rounded to 0.1 mm: the outline within half a millimetre, the folds too."""
    write_run_card(LOFT, run, tmp_path / "card.pdf")
    girth, marks, pieces, ends = read_card(tmp_path / "card.pdf")
    group = section_of(LOFT, run)
    assert marks == pytest.approx([bend.mark for bend in group.girth.bends], abs=0.051)
    assert len(pieces) == len(group.rows)
    for (name, length, left, right), row in zip(pieces, group.rows, strict=True):
        pattern = row.piece.pattern
        x0, _, _, y1 = pattern.box
        true = shapely.Polygon([(x - x0, y - y1) for x, y in pattern.outline])
        mine = marked_out(length, girth, left, right, ends)
        assert mine.is_valid and mine.hausdorff_distance(true) < 0.5, name
        assert mine.symmetric_difference(true).area / true.length < 0.12, name


@pytest.mark.parametrize("derived", [LOFT, SHED], ids=["loft", "shed"])
def test_every_piece_stands_in_one_row_of_one_card_and_equal_ones_together(derived):
    seen = []
    for group in sections_of(derived):
        for row in group.rows:
            same = [row.run.pieces[n].pattern for n in row.places]
            seen += [pattern.id for pattern in same]
            assert len({round(p.length, 1) for p in same}) == 1 and len({row.run.pieces[n].hand for n in row.places}) == 1
            assert len({shapely.Polygon(p.outline).area.__round__(0) for p in same}) == 1
    assert sorted(seen) == sorted(piece.id for run in derived.runs for piece in run.pieces)
    assert len(sections_of(LOFT)) == 16


def test_ends_are_told_from_their_own_end_and_mirror_pairs_alike():
    for run in LOFT.runs:
        for piece in run.pieces:
            found = piece_ends(piece.pattern)
            assert found is not None, piece.id
            for end in found:
                points = end_points(end)
                assert [p.number for p in points] == list(range(1, len(points) + 1))
                assert all(-1e-6 <= v <= max(piece.pattern.length, piece.pattern.girth) for p in points for v in p.place)
                assert end.corners[0][1] == pytest.approx(0, abs=0.1) or end.depth > 0
                for slope in slopes(end):
                    a, b = end.corners[slope.a - 1], end.corners[slope.b - 1]
                    assert math.tan(math.radians(slope.degrees)) == pytest.approx(slope.off / slope.over)
                    assert slope.off <= slope.over and math.dist(a, b) > 0
    left, right = (piece_ends(LOFT.run(run).pieces[n].pattern)[n and 1] for run, n in (("G1", 0), ("G2", -1)))
    assert left.kind == right.kind and (left.side, right.side) == ("left", "right")


def test_an_odd_piece_has_its_points_order_and_check_on_its_page(tmp_path):
    write_opening_cards(LOFT, "chimney", tmp_path / "c.pdf")
    text = "\n".join(page.extract_text() for page in PdfReader(tmp_path / "c.pdf").pages)
    made = [piece for piece in LOFT.opening("chimney").pieces if not piece.paper]
    cards = odd_pieces(LOFT, "chimney")
    twins = [card for card in cards if card.twin is not None]
    assert len(cards) + len(twins) == len(made) and {card.pattern.name for card in twins} >= {"right side", "counter, right side"}
    assert text.count("Check: ") == len(cards) and text.count("Fold in this order") == len(cards)
    assert text.count("the mirror image, its points measured") == len(twins) and all(p.pattern.id in text for p in made)
    cells = {line.strip().replace(" ", "").replace("\u00a0", "") for line in text.split("\n")}
    for card in cards:
        for point in marking_points(card.pattern):
            assert f"{point.left:.1f}" in cells and f"{point.top:.1f}" in cells


def test_a_round_hole_is_marked_by_its_middle_and_diameter():
    ring = tuple((100 + 55 * math.cos(a), 40 + 55 * math.sin(a)) for a in [k * math.tau / 48 for k in range(48)])
    middle, sizes, _ = round_hole(ring)
    assert middle == pytest.approx((100, 40), abs=0.1) and sizes == pytest.approx((110, 110), abs=0.3)
    turn = math.radians(25)
    oval = tuple((x * 1.2 * math.cos(turn) - y * math.sin(turn), x * 1.2 * math.sin(turn) + y * math.cos(turn))
                 for x, y in [(50 * math.cos(a), 50 * math.sin(a)) for a in [k * math.tau / 60 for k in range(60)]])
    middle, sizes, angle = round_hole(oval)
    assert sizes == pytest.approx((120, 100), abs=0.5) and angle == pytest.approx(25, abs=1.5)
    assert round_hole(((0, 0), (50, 0), (50, 50), (0, 50))) is None
    assert round_hole(tuple((x, 0.0) for x in range(10)) + tuple((x, 30.0) for x in range(9, -1, -1))) is None


def test_practice_goes_down_its_pages_with_nothing_on_anything(tmp_path):
    piece = LOFT.opening("chimney").pieces[4].pattern
    write_practice(Practice(piece, "cricket"), tmp_path / "p.pdf", tiled=False)
    assert faults(tmp_path / "p.pdf") == []


# -- the cut sheet ------------------------------------------------------------------------------------------


def replayed(block, fall, x, y):
    """Where every part of a block comes to lie, from the stops alone: (part, x, y, along, across)."""
    if fall.part:
        yield fall.part, x, y, fall.along, fall.across
        return
    for step in fall.steps:
        for each in step.falls:
            assert (each.along if step.axis == "across" else each.across) == pytest.approx(step.stop, abs=0.051)
            yield from replayed(block, each, x, y)
            x, y = (x + step.stop, y) if step.axis == "across" else (x, y + step.stop)


@pytest.mark.parametrize("derived", [LOFT, SHED, EAVES], ids=["loft", "shed", "eaves"])
def test_the_cut_sheet_replayed_gives_exactly_the_placements(derived):
    blocks = blocks_of_plan(derived.job.stock, derived.nest)
    found = sorted((block.stock, *row) for block in blocks for row in replayed(block, block.fall, block.at, 0.0))
    wanted = sorted((p.stock, p.part, p.x, p.y, p.width, p.height) for p in derived.nest.placements)
    assert len(found) == len(wanted)
    for a, b in zip(found, wanted, strict=True):
        assert a[:2] == b[:2] and a[2:] == pytest.approx(b[2:], abs=0.3)
    cuts = sorted(n for block in blocks for n in block.cuts)
    assert cuts == list(range(1, len(derived.nest.cuts) + 1)), "every cut is told once"


def test_as_many_lines_as_different_cuts():
    blocks = blocks_of_plan(LOFT.job.stock, LOFT.nest)
    lines = [line for block in blocks for line in step_lines(block)]
    assert len(lines) + len(blocks) <= 200 < len(LOFT.nest.cuts)
    off_the_coil = {cut.n for cut in LOFT.nest.cuts if cut.piece in cut.gives}
    assert sorted({n for line in lines for n in line.cuts} | off_the_coil) == [cut.n for cut in LOFT.nest.cuts]
    said = " ".join(line.says for line in lines)
    assert all(place.part in said for place in LOFT.nest.placements)
    assert block_says(blocks[-1]).startswith("Block") and "pull to the stop at" in block_says(blocks[-1])


def test_of_a_plan_by_snips_every_part_has_its_place(tmp_path):
    derived = derive(load(eaves_path()).but(rules=load(eaves_path()).rules.but(cutting="snips")))
    assert blocks_of_plan(derived.job.stock, derived.nest) and not derived.nest.cuts
    write_cut_sheet(derived, tmp_path / "cut.pdf")
    text = "\n".join(page.extract_text() for page in PdfReader(tmp_path / "cut.pdf").pages)
    assert all(place.part in text for place in derived.nest.placements) and faults(tmp_path / "cut.pdf") == []


@pytest.mark.parametrize("gap", [0.0, 10.0, 25.0])
def test_a_block_with_more_steps_than_a_page_holds_goes_on_over_the_page(tmp_path, gap):
    """A house that leaves waste between all its cuts has twice the steps; one block of these takes over a page."""
    job = load(demo_path("net-shed"))
    derived = derive(job.but(rules=job.rules.but(gap=gap, work=2))).searched(None)
    write_cut_sheet(derived, tmp_path / "cut.pdf")
    assert faults(tmp_path / "cut.pdf") == []
    text = "".join(page.extract_text() for page in PdfReader(tmp_path / "cut.pdf").pages)
    blocks = blocks_of_plan(derived.job.stock, derived.nest)
    lines = [[line.says for line in step_lines(block, UNITS[job.unit])] for block in blocks]
    for says in (says for block in lines for says in block):
        assert says.split(":")[0] in text
    if gap == 10:
        assert max(map(len, lines)) > 40


def test_names_sort_as_people_do():
    assert sorted(["E10", "E2", "G1.k-10", "G1.k-9"], key=natural) == ["E2", "E10", "G1.k-9", "G1.k-10"]
    assert in_rows([1, 2, 3, 4, 7, 9, 10]) == "1 to 4, 7, 9, 10"


def test_a_tapered_piece_has_the_marks_of_both_its_ends_on_its_card(tmp_path):
    """A gutter 7 m long, its back 110 to 145: the last fold of three pieces at both ends, a third of the way each."""
    gutter = Run(id="F1", kind="free", detail="box-gutter", length=7000.0, left="plain", right="cap",
                 tapers=(("front", 120.0), ("back", 145.0)))
    derived = derive(load(eaves_path()).but(runs=(gutter,)))
    write_fold_cards(derived, tmp_path / "cards.pdf")
    said = " ".join(page.extract_text() for page in PdfReader(tmp_path / "cards.pdf").pages)
    assert "Marks at both ends, from raw edge A" in said
    for piece in derived.run("F1").pieces:
        for girth in piece.girths:
            assert say_length(girth.bends[-1].mark, UNITS["mm"]) in said and say_length(girth.girth, UNITS["mm"]) in said
