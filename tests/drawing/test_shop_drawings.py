"""The drawings that leave for the shop: stock with its cuts, patterns with their folds, a tape, a stroke in the brake."""

from __future__ import annotations

import json
import math
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import made, section, sections
from yattle.brake import LIBRARY, FoldJob, FoldOrder, plain_order
from yattle.coil import NestJob, Part, Stock, nest
from yattle.derive import derive
from yattle.details import FAMILIES, develop
from yattle.drawing import crosscuts, fold_letter, pattern_drawing, step_drawing, stock_drawing
from yattle.drawing.section import tape_drawing
from yattle.drawing.shapes import ROLES, Dim, Drawing, Label, Line, Ring, Tag
from yattle.job import demo_path, load
from yattle.measure import UNITS, parse_length
from yattle.section import GirthRefused, girth_of

COIL = Stock(id="coil", kind="coil", width=1220.0, length=30000.0, metal="m", cost_per_m=10.0)
SHEET = Stock(id="sheet", kind="sheet", width=1000.0, length=2000.0, metal="m", cost=20.0)


def part(name, length, width, qty=1):
    return Part(id=name, outline=((0.0, 0.0), (length, 0.0), (length, width), (0.0, width)), qty=qty, metal="m")


def planned(parts, stock=(COIL,), **rules):
    question = NestJob.model_validate({"stock": stock, "parts": parts, "rules": {"work": 2, **rules}})
    return nest(question)


ANSWER = planned((part("P", 2400.0, 208.0, 5), part("Q", 900.0, 300.0, 2)), max_crosscut=3000.0)


def rings(drawing, role):
    return [shape for shape in drawing.shapes if isinstance(shape, Ring) and shape.role == role]


def area(ring):
    points = ring.points
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, (*points[1:], points[0]), strict=True))) / 2


# -- stock ------------------------------------------------------------------------------------------------------


def test_every_piece_lies_on_the_stock_where_the_plan_has_it():
    drawing = stock_drawing(COIL, ANSWER, "coil")
    pieces = rings(drawing, "piece")
    assert len(pieces) == len(ANSWER.placements) == 7
    for ring, place in zip(pieces, ANSWER.placements, strict=True):
        xs, ys = zip(*ring.points, strict=True)
        assert (min(xs), min(ys)) == (place.x, place.y) and ring.key == place.part
        assert area(ring) == pytest.approx(place.width * place.height)
    (stock,) = rings(drawing, "stock")
    assert area(stock) == pytest.approx(ANSWER.used[0].length * 1220.0), "a coil is drawn as far as it is used"
    texts = [shape.text for shape in drawing.shapes if isinstance(shape, Dim)]
    assert texts[1].replace("\u00a0", "") == "1220"


def test_cuts_are_drawn_as_far_as_they_are_made_and_no_further_than_their_piece():
    """Each cut is an edge-to-edge line of one rectangle: its length is a side of a piece that is there by then."""
    for upto in range(len(ANSWER.cuts) + 1):
        drawing = stock_drawing(COIL, ANSWER, "coil", upto_cut=upto)
        lines = [shape for shape in drawing.shapes if isinstance(shape, Line) and shape.role == "cut"]
        assert [line.key for line in lines] == [f"cut:{n}" for n in range(1, upto + 1)]
        for line, cut in zip(lines, ANSWER.cuts, strict=False):
            (ax, ay), (bx, by) = line.points
            assert (ax == bx == cut.at) if cut.axis == "across" else (ay == by == cut.at)
            if cut.piece == "coil" and cut.axis == "across":
                assert abs(by - ay) == 1220.0
    assert crosscuts(ANSWER, "coil") == sorted(cut.at for cut in ANSWER.cuts if cut.piece == "coil" and cut.axis == "across")


def test_a_span_shows_only_its_stretch():
    whole, part_of = stock_drawing(COIL, ANSWER, "coil"), stock_drawing(COIL, ANSWER, "coil", span=(500.0, 1500.0))
    assert part_of.box == (500.0, 0.0, 1500.0, 1220.0) and whole.box[0] == 0.0
    dim = next(shape for shape in part_of.shapes if isinstance(shape, Dim))
    assert dim.text.replace("\u00a0", "") == "1000"


def test_an_offcut_that_is_kept_is_drawn_as_waste_beside_all_pieces():
    answer = planned((part("P", 1200.0, 400.0),), (SHEET,), min_offcut=(300.0, 100.0))
    drawing = stock_drawing(SHEET, answer, "sheet")
    kept = rings(drawing, "waste")
    assert kept and sum(area(ring) for ring in (*kept, *rings(drawing, "piece"))) <= 2000.0 * 1000.0 + 1e-6
    for ring in kept:
        for place in answer.placements:
            xs, ys = zip(*ring.points, strict=True)
            assert (max(xs) <= place.x + 1e-6 or min(xs) >= place.x + place.width - 1e-6
                    or max(ys) <= place.y + 1e-6 or min(ys) >= place.y + place.height - 1e-6)


def test_the_folds_of_the_piece_in_hand_lie_on_it():
    pattern = develop(made("ridge-cap", length=2400.0)).pieces[0].pattern
    answer = planned((Part(id=pattern.id, outline=pattern.outline, metal="m"),))
    drawing = stock_drawing(COIL, answer, "coil", folded=pattern)
    place = answer.placements[0]
    lines = [shape for shape in drawing.shapes if isinstance(shape, Line) and shape.role.startswith("fold")]
    assert [line.key for line in lines] == [fold.id for fold in pattern.folds]
    for line in lines:
        for x, y in line.points:
            assert place.x - 1e-6 <= x <= place.x + place.width + 1e-6 and place.y - 1e-6 <= y <= place.y + place.height + 1e-6


# -- patterns ---------------------------------------------------------------------------------------------------

DEVELOPED = {name: develop(made(name)) for name in FAMILIES}


@pytest.mark.parametrize("name", FAMILIES)
def test_a_pattern_s_drawing_holds_all_that_is_cut_folded_and_marked(name):
    detail = DEVELOPED[name]
    for piece in detail.pieces:
        drawing = pattern_drawing(piece.pattern, detail.profile)
        assert rings(drawing, "cut")[0].points == piece.pattern.outline
        folds = {shape.key: shape for shape in drawing.shapes if isinstance(shape, Line) and shape.role.startswith("fold")}
        assert set(folds) == {fold.id for fold in piece.pattern.folds}
        for fold in piece.pattern.folds:
            assert folds[fold.id].role == ("fold-paint" if fold.turn > 0 else "fold-back")
            assert folds[fold.id].points == (fold.a, fold.b)
        assert sum(isinstance(shape, Line) and shape.role == "mark" for shape in drawing.shapes) == len(piece.pattern.marks)
        assert all(shape.role in ROLES for shape in drawing.shapes if isinstance(shape, Line | Ring))
        lettered = {shape.key for shape in drawing.shapes if isinstance(shape, Tag)}
        assert lettered <= set(folds) and {key for key in folds if key.startswith(("f", "h"))} - lettered == set()


@pytest.mark.parametrize("name", ["ridge-cap", "valley", "rake"])
@pytest.mark.parametrize("keep", [120.0, 300.0])
def test_with_the_middle_left_out_both_ends_keep_their_scale(name, keep):
    detail = DEVELOPED[name]
    piece = max(detail.pieces, key=lambda piece: piece.pattern.length)
    whole, short = pattern_drawing(piece.pattern, detail.profile), pattern_drawing(piece.pattern, detail.profile, keep=keep)
    x0, _, x1, _ = piece.pattern.box
    assert short.box[2] - short.box[0] < 2 * keep + 60 < whole.box[2] - whole.box[0]
    outline = rings(short, "cut")[0].points
    for (x, y), (u, v) in zip(piece.pattern.outline, outline, strict=True):
        assert v == y
        if x <= x0 + keep:
            assert u == x
        elif x >= x1 - keep:
            assert short.box[2] - u == pytest.approx(x1 - x, abs=1e-6)
    assert len(rings(short, "break")) == 1 and not rings(whole, "break")
    told = [shape.text for shape in short.shapes if isinstance(shape, Dim)]
    assert told == [shape.text for shape in whole.shapes if isinstance(shape, Dim)], "the measures are the real ones"


def test_a_curved_piece_shows_some_of_its_rulings_and_letters_none():
    from yattle.details.all_forms import FORMS
    from yattle.details.forms import develop_form

    form = develop_form(FORMS["cone"](metal=made("ridge-cap").metal, bottom=300.0, top=120.0, height=250.0))
    pattern = form.pieces[0].pattern
    drawing = pattern_drawing(pattern, None)
    rolls = [fold for fold in pattern.folds if fold.kind == "roll"]
    drawn = [shape for shape in drawing.shapes if isinstance(shape, Line) and shape.role == "mark"]
    assert len(rolls) > 16 and 8 <= len(drawn) - len(pattern.marks) <= 32
    assert not any(isinstance(shape, Tag) and shape.key in {fold.id for fold in rolls} for shape in drawing.shapes)


# -- tape and letters -------------------------------------------------------------------------------------------


@settings(max_examples=60)
@given(sections(), st.booleans())
def test_the_tape_reads_the_same_marks_from_either_edge(profile, from_b):
    girth = girth_of(profile)
    if isinstance(girth, GirthRefused):
        return
    drawing = tape_drawing(girth.bends, girth.girth, profile, from_b=from_b)
    notches = {shape.key: shape.points[0][0] for shape in drawing.shapes if isinstance(shape, Line)}
    for bend in girth.bends:
        assert notches[bend.id] == pytest.approx(girth.girth - bend.mark if from_b else bend.mark)
    labels = [shape for shape in drawing.shapes if isinstance(shape, Label)]
    assert len(labels) == len(girth.bends) and drawing.notes == ("from B" if from_b else "from A",)


@pytest.mark.parametrize(("fold", "turn", "says"), [("f1", 42.0, "P 42"), ("f1", -58.04, "B 58"), ("hB", -180.0, "BH 12"),
                                                  ("f2", 30.5, "P 30.5")])
def test_letters_say_the_face_and_the_angle(fold, turn, says):
    assert fold_letter(fold, turn, section()) == says
    assert re.match(r"^[PB]H$", fold_letter(fold, math.copysign(180, turn), None))


@pytest.mark.parametrize("unit", UNITS)
def test_measures_on_a_drawing_are_in_the_unit_that_is_asked_for(unit):
    detail = DEVELOPED["ridge-cap"]
    drawing = pattern_drawing(detail.pieces[0].pattern, detail.profile, UNITS[unit])
    box = detail.pieces[0].pattern.box
    texts = [shape.text for shape in drawing.shapes if isinstance(shape, Dim)]
    for text, size in zip(texts, (box[2] - box[0], box[3] - box[1]), strict=True):
        assert parse_length(text, UNITS[unit].typed, "size") == pytest.approx(size, abs=25.4 / 16 + 0.01)


# -- in the brake -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("brake", LIBRARY, ids=lambda brake: brake.name)
def test_each_stroke_is_drawn_with_the_machine_and_the_fold_at_its_line(brake):
    profile = section((40.0, 60.0, 18.0), (-78.0, 42.0), hem_b=None)
    order = plain_order(FoldJob(profile=profile, length=1000.0, brake=brake))
    if not isinstance(order, FoldOrder):
        return
    girth, done = girth_of(profile), {}
    for step in order.steps:
        for share in (0.0, 0.5, 1.0):
            drawing = step_drawing(girth, brake, done, step.fold, step.face_up, step.out, abs(step.turn) * share, True, step.action)
            tools = rings(drawing, "tool") + rings(drawing, "leaf")
            assert len(tools) == 3
            swung = rings(drawing, "leaf")[0].points
            for corner, (x, y) in zip(brake.leaf, swung, strict=True):
                assert math.hypot(x, y) == pytest.approx(math.hypot(*corner), abs=1e-6), "the leaf turns about the fold line"
        done[step.fold] = step.turn
    plain = step_drawing(girth, brake, {}, order.steps[0].fold, order.steps[0].face_up, order.steps[0].out, 0.0, False, "fold")
    assert not rings(plain, "tool")


def test_a_drawing_of_nothing_has_a_box():
    assert Drawing(()).box == (0.0, 0.0, 1.0, 1.0)
    assert Drawing((Dim((1.0, 2.0), (5.0, 9.0), ""),)).box == (1.0, 2.0, 5.0, 9.0)
    json.dumps(Drawing(()).box)


def test_letters_of_a_piece_with_folds_every_way_do_not_cover_each_other():
    derived = derive(load(demo_path()))
    crowded = 0
    for opening in derived.openings:
        for piece in opening.pieces:
            pattern = piece.pattern
            x0, y0, x1, y1 = pattern.box
            size = max(x1 - x0, y1 - y0)
            tags = [shape for shape in pattern_drawing(pattern, None).shapes if isinstance(shape, Tag) and not shape.tongs]
            places = [(tag.at[0] + 0.1 * size * tag.push[0], tag.at[1]) for tag in tags]
            close = [(a, b) for n, a in enumerate(places) for b in places[:n]
                     if max(abs(a[0] - b[0]) / 1.6, abs(a[1] - b[1])) < 0.05 * size]
            crowded += bool(close) and len(tags) < 7
    assert not crowded


def test_holes_go_with_the_middle_that_is_left_out_and_are_no_blots():
    """A vent strip of 2 m with a hole every 16 mm: those within 160 of either end are drawn as wide as they are, the others not at all."""
    detail = develop(made("eave-vent", length=2000.0))
    drawing = pattern_drawing(detail.pieces[0].pattern, detail.profile, keep=160.0)
    holes = rings(drawing, "cut")[1:]
    assert len(holes) == 18
    for hole in holes:
        xs, ys = zip(*hole.points, strict=True)
        assert max(xs) - min(xs) == pytest.approx(max(ys) - min(ys), rel=0.03)
