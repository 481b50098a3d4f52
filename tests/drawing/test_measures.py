"""Measures of blocks and openings drawn where they are taken."""

import math

import pytest

from yattle.drawing.measures import ACROSS, ALONG, block_measure, opening_measure
from yattle.drawing.shapes import MEASURED, Label, Line
from yattle.roof import RoofPlan, build

HIP = {"id": "B", "kind": "hip", "x": 1000.0, "y": -2000.0, "bearing": 30.0, "length": 12000.0, "span": 8000.0,
       "eave_height": 3000.0, "pitch": 30.0, "pitch_right": 40.0, "pitch_ends": 50.0, "eave_overhang": 400.0}
GABLE = {key: value for key, value in HIP.items() if key != "pitch_ends"} | {"kind": "gable", "rake_overhang": 250.0}
SHED = {key: value for key, value in HIP.items() if key not in ("pitch_ends", "pitch_right")} | {
    "kind": "shed", "rake_overhang": 250.0, "top_overhang": 150.0}


def drawn(block, field):
    roof = build(RoofPlan.model_validate({"format": "yattle-roof/1", "blocks": (block,)}))
    drawing = block_measure(roof, roof.plan.blocks[0], field, "said")
    line = next((shape for shape in drawing.shapes if isinstance(shape, Line) and shape.key == MEASURED), None)
    assert [shape.text for shape in drawing.shapes if isinstance(shape, Label) and shape.key == MEASURED] == ["said"]
    return line.points


@pytest.mark.parametrize("block", [HIP, GABLE, SHED], ids=lambda block: block["kind"])
@pytest.mark.parametrize("field", [*ACROSS, *ALONG])
def test_a_measure_of_a_block_has_its_size_on_the_cut(block, field):
    if field not in block:
        return
    points = drawn(block, field)
    if field.startswith("pitch"):
        (x0, z0), (x1, z1), (x2, z2) = points
        assert z0 == pytest.approx(z1) and x0 == pytest.approx(x2)
        assert math.degrees(math.atan2(z2 - z1, abs(x1 - x0))) == pytest.approx(block[field], abs=1e-6)
    else:
        assert math.dist(*points) == pytest.approx(block[field], abs=1e-6)
        upright = points[0][0] == pytest.approx(points[1][0])
        assert upright == (field == "eave_height")


def test_left_and_right_pitches_stand_at_their_sides():
    left, right = drawn(GABLE, "pitch"), drawn(GABLE, "pitch_right")
    assert max(x for x, _ in left) < min(x for x, _ in right)


def test_an_opening_s_measures_lie_along_its_sides_and_to_the_edges_of_its_face():
    box = {"id": "K", "kind": "chimney", "x": 2000.0, "y": -2000.0, "across": 600.0, "along": 450.0}
    gable = GABLE | {"x": 0.0, "y": 0.0, "bearing": 0.0}
    roof = build(RoofPlan.model_validate({"format": "yattle-roof/1", "blocks": (gable,), "openings": (box,)}))
    placed = roof.openings[0]

    def line(field):
        found = opening_measure(roof, placed, field, "said")
        return next(shape.points for shape in found.shapes if isinstance(shape, Line) and shape.key == MEASURED)
    assert math.dist(*line("across")) == pytest.approx(600) and math.dist(*line("along")) == pytest.approx(450)
    up, aside = line("up"), line("aside")
    assert sorted(y for _, y in up) == pytest.approx([-4000 - 400, -2000 - 225])  # from the eave's edge
    assert sorted(x for x, _ in aside) == pytest.approx([-6000 - 250, 2000 - 300])
    assert opening_measure(roof, placed, "top", "said") is None
