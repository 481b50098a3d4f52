"""Files for machines read back: the whole nest as DXF, fold programs for folders with a gauge."""

from __future__ import annotations

import csv
import io
import json

import ezdxf
import pytest
import shapely

from samples import eaves_path
from yattle.brake import FoldOrder
from yattle.coil.answer import Placement
from yattle.derive import derive
from yattle.drawing import pattern_drawing
from yattle.job import demo_path, load
from yattle.papers.dxf import drawing_to_dxf
from yattle.papers.machine import PROGRAM_COLUMNS, fold_program, fold_program_csv, laid, laid_shapes, nests_as_dxf

SHED, LOFT = (derive(load(path)) for path in (demo_path("net-shed"), demo_path()))
SNIPS = derive(load(eaves_path()).but(rules=load(eaves_path()).rules.but(cutting="snips")))


@pytest.mark.parametrize("derived", [SHED, LOFT, SNIPS], ids=["shed", "loft", "snips"])
def test_the_nest_in_the_dxf_is_the_nest(derived):
    """Every copy once, at its true size, on its stock and clear of all others; every fold of every piece is there."""
    (text,) = nests_as_dxf(derived).values()
    space = ezdxf.read(io.StringIO(text)).modelspace()
    stock = [shapely.Polygon([p[:2] for p in line.get_points()]) for line in space.query('LWPOLYLINE[layer=="STOCK"]')]
    cut = [shapely.Polygon([p[:2] for p in line.get_points()]) for line in space.query('LWPOLYLINE[layer=="CUT"]')]
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    assert len(stock) == len(derived.nest.used)
    assert len(cut) == sum(1 + len(patterns[p.part].holes) for p in derived.nest.placements)
    wanted = sorted(shapely.Polygon(ring).area for p in derived.nest.placements
                    for ring in (patterns[p.part].outline, *patterns[p.part].holes))
    assert sorted(shape.area for shape in cut) == pytest.approx(wanted, rel=1e-6)
    for shape in cut:
        assert any(of.buffer(0.05).contains(shape) for of in stock)
    tree = shapely.STRtree(cut)
    for n, shape in enumerate(cut):
        for k in tree.query(shape):
            inside = cut[k].contains(shape) or shape.contains(cut[k])  # a hole in its piece
            assert k <= n or inside or cut[k].intersection(shape).area < 0.5
    folds = sum(1 for line in space.query("LWPOLYLINE") if line.dxf.layer.startswith("FOLD_"))
    assert folds == sum(sum(f.kind != "roll" for f in patterns[p.part].folds) for p in derived.nest.placements)
    names = [text.dxf.text for text in space.query("TEXT")]
    assert all(any(name.startswith(f"{p.part} ") for name in names) for p in derived.nest.placements)


def test_turned_over_a_fold_toward_the_paint_is_one_toward_the_back():
    pattern = LOFT.run("E1").pieces[0].pattern
    plain = Placement("E1-1", 1, "coil 1", 0.0, False, 10.0, 20.0, pattern.length, pattern.girth, None)
    over = Placement("E1-1", 1, "coil 1", 90.0, True, 10.0, 20.0, pattern.girth, pattern.length, None)
    for place, lies in ((plain, (10, 20, 10 + pattern.length, 20 + pattern.girth)),
                        (over, (10, 20, 10 + pattern.girth, 20 + pattern.length))):
        ring = laid(pattern.outline, pattern.outline, place)
        assert shapely.Polygon(ring).bounds == pytest.approx(lies)
    one, two = ([s.role == "fold-paint" for s in laid_shapes(pattern, place) if getattr(s, "role", "").startswith("fold")]
                for place in (plain, over))
    assert one == [not way for way in two]


@pytest.mark.parametrize("run", ["E1", "V1", "R1", "G1.k"])
def test_a_fold_program_is_the_order_as_it_is_folded(run):
    order, girth = LOFT.order(run), LOFT.run(run).detail.girth
    assert isinstance(order, FoldOrder)
    program = json.loads(fold_program(run, order, girth))
    rows = list(csv.DictReader(io.StringIO(fold_program_csv(order))))
    assert tuple(rows[0]) == PROGRAM_COLUMNS and program["format"] == "yattle-fold-program/1"
    for step, said, row in zip(order.steps, program["steps"], rows, strict=True):
        assert (said["gauge"], said["leaf"], said["side_up"], said["edge_out"]) == (
            step.mark_from_out_edge, step.set_angle, step.face_up, step.out)
        assert float(row["gauge_mm"]) == pytest.approx(step.mark_from_out_edge) and row["fold"] == step.fold
        mark = next(bend.mark for bend in girth.bends if bend.id == step.fold)
        assert said["gauge"] == pytest.approx(mark if step.out == "A" else girth.girth - mark)


def test_a_pattern_s_dxf_says_what_it_is_of():
    pattern = LOFT.run("E1").pieces[0].pattern
    text = drawing_to_dxf(pattern_drawing(pattern, None), title=f"{pattern.id}, 1 off, {pattern.metal.name}")
    document = ezdxf.read(io.StringIO(text))
    assert [t.dxf.text for t in document.modelspace().query('TEXT[layer=="TEXT"]')] == ["E1-1, 1 off, prepainted steel 0.60"]
    assert not document.audit().errors
