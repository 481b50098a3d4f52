"""A measure of a form is shown where it is taken: between places that move apart by just as much as it grows."""

import math

import numpy as np
import pytest

from yattle.derive import derive
from yattle.details.all_forms import TITLES
from yattle.details.taped_at import taped_at
from yattle.drawing.installed import measured_drawing
from yattle.drawing.shapes import MEASURED, Label, Line
from yattle.job.store import demo_path, load

FORMS = {found.detail: found.form for which in ("sail-loft", "net-shed")
         for found in derive(load(demo_path(which))).openings if found.form is not None}
LENGTHS = [(kind, field) for kind, form in FORMS.items() for field in TITLES.get(kind, ())
           if isinstance(getattr(form, field, None), float)]
ON_THE_PIECES = {
    "chimney": {"apron", "flange", "lap", "tab", "counter_face", "counter_kick", "apron_hem"},
    "pipe": {"height", "skirt", "lap", "tabs"},
    "curb": {"height", "lower", "side", "upper", "tab", "lap", "seam_height", "seam_width", "diverter_reach",
             "caps_past"},
    "dormer-ridge": {"arm", "wing", "lap", "up"}}


def places(surfaces):
    return {tuple(np.round(place, 6)) for surface in surfaces for face in surface.faces
            for ring in (face.corners, *face.holes) for place in ring}


@pytest.mark.parametrize(("kind", "field"), LENGTHS)
def test_what_is_shown_is_as_long_as_the_measure_and_begins_at_a_corner(kind, field):
    form = FORMS[kind]
    found = taped_at(form, field)
    if field in ON_THE_PIECES[kind]:
        assert math.dist(found.a, found.b) == pytest.approx(getattr(form, field), abs=5.0)
        assert {tuple(np.round(end, 6)) for end in (found.a, found.b)} & places(form.surfaces())
    elif found is not None:
        assert found.a is None, f"{field} of a {kind} is shown at {found.a}: is it there?"


def test_an_apron_is_taped_from_its_upright_down_the_slope():
    form = FORMS["chimney"]
    found = taped_at(form, "apron")
    (_, y0, z0), (_, y1, z1) = sorted((found.a, found.b), key=lambda end: end[2])
    assert math.degrees(math.atan2(z1 - z0, y1 - y0)) == pytest.approx(form.pitch, abs=1e-6)
    assert math.dist(found.a, found.b) == pytest.approx(form.apron)


def test_of_what_nothing_follows_nothing_moves():
    assert taped_at(FORMS["chimney"], "stock_length").moved == frozenset()
    assert taped_at(FORMS["chimney"], "cricket_pitch") is None  # empty: no number


def test_the_measure_is_drawn_on_the_pieces_and_seen_near_where_it_is_short():
    form = FORMS["chimney"]
    for field, short in (("apron", True), ("counter_kick", True)):
        found = taped_at(form, field)
        drawn = measured_drawing(form.surfaces(), (found.a, found.b), found.moved, "so long")
        line = next(shape for shape in drawn.shapes if isinstance(shape, Line) and shape.key == MEASURED)
        assert [shape.text for shape in drawn.shapes if isinstance(shape, Label)] == ["so long"]
        assert (drawn.frame is not None) == short
        x0, y0, x1, y1 = drawn.box
        assert all(x0 < x < x1 and y0 < y < y1 for x, y in line.points)
    kerf = taped_at(form, "kerf_depth")
    lit = [shape for shape in measured_drawing(form.surfaces(), None, kerf.moved, "").shapes if shape.key == MEASURED]
    assert 0 < len(lit) < 20


def test_where_nearly_all_of_it_changes_nothing_is_lit():
    gap = taped_at(FORMS["pipe"], "gap")
    assert gap.a is None and measured_drawing(FORMS["pipe"].surfaces(), None, gap.moved, "") is None
