"""What does not fit, on the page in front: once for pieces alike, numbered on the roof's plan."""

from __future__ import annotations

from pypdf import PdfReader
from reportlab.pdfgen.canvas import Canvas

from plans import gable, roof
from yattle.drawing import Label, Line, PlanEdge, roof_drawing
from yattle.papers.unfit import _numbered, mark_unfit


def a_paper(path, size=(595.0, 842.0)):
    canvas = Canvas(str(path), pagesize=size)
    canvas.drawString(40.0, 40.0, "fold card 1")
    canvas.save()
    return path


def the_plan():
    made = roof(gable("main"))
    return roof_drawing(made, tuple(PlanEdge(edge.id, edge) for edge in made.edges))


FOUND = [(f"R1.z1-1/{n} looks 4 mm out from under R1", (-6000.0 + 300.0 * n, 100.0)) for n in range(1, 41)] + [
    ("G1-1 stands 3.0 mm off the deck", (-7000.0, 2000.0))]


def test_alike_ones_are_one_line_and_one_number(tmp_path):
    path = a_paper(tmp_path / "cards.pdf")
    mark_unfit(path, FOUND, the_plan())
    first, second = (page.extract_text() for page in PdfReader(path).pages)
    assert "1 R1.z1-1/1 looks 4 mm out from under R1 (40 places like this)" in first.replace("\n", " ")
    assert "2 G1-1 stands 3.0 mm off the deck" in first and first.count("looks 4 mm out") == 1
    assert "fold card 1" in second and "DOES NOT FIT AS BUILT · 41 places" in second


def test_crosses_stand_where_it_is_and_not_on_each_other():
    plan = the_plan()
    drawn = _numbered(plan, [[at for _, at in FOUND[:40]], [FOUND[40][1]]])
    crosses = [shape for shape in drawn.shapes[len(plan.shapes):] if isinstance(shape, Line)]
    middles = [tuple(sum(end) / 2 for end in zip(*line.points, strict=True)) for line in crosses[::2]]
    assert len(crosses) % 2 == 0 and 3 < len(middles) < 41 and set(middles) <= {at for _, at in FOUND}
    assert (-7000.0, 2000.0) in middles
    numbers = [shape for shape in drawn.shapes if isinstance(shape, Label) and shape.text in ("1", "2")]
    assert [(one.text, one.at) for one in numbers] == [("1", FOUND[0][1]), ("2", FOUND[40][1])]


def test_on_a_low_page_the_list_stands_alone_and_long_ones_go_on(tmp_path):
    path = a_paper(tmp_path / "labels.pdf", (420.0, 300.0))
    many = [(f"piece P{n}-1 lies open where nothing covers it at all", (0.0, 0.0)) for n in range(30)]
    mark_unfit(path, many, the_plan())
    pages = [page.extract_text() for page in PdfReader(path).pages]
    told = " ".join(pages[:-1]).replace("\n", " ")
    assert len(pages) > 2 and all(f"P{n}-1" in told for n in range(30)) and "R1" not in told
