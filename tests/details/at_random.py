"""Details with measures at random, near those they have by themselves and at their borders, and what must hold of every
piece that is made of them."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from typing import Any, get_args

import numpy as np
import shapely

from yattle.details import FAMILIES
from yattle.details.all_forms import FORMS
from yattle.details.trim import Trim
from yattle.errors import InputError
from yattle.pattern import Pattern
from yattle.values import check

ALLOWANCES: tuple[dict[str, Any], ...] = (
    {"rule": "k-factor", "k": 0.33}, {"rule": "din6935"}, {"rule": "sum"},
    {"rule": "table", "deductions": [[0, 0], [30, 0.3], [90, 1.4], [135, 2.0], [180, 1.2]]})
"""The four rules; the table from 0° to 180°."""
_BEGIN = {"length": 2400.0, "pitch": 30.0, "fold": 60.0, "coverage": 500.0, "degrees": 50.0, "diameter": 110.0,
          "bottom": 300.0, "top": 150.0, "height": 250.0, "width": 300.0, "depth": 300.0, "across": 600.0,
          "along": 500.0, "rise": 300.0, "plan": 30.0, "dip": 20.0}
STRAIGHT = ("pan",)
"""Forms that are a section along a line, where they are not tapered."""
_KEPT = ("format", "id", "metal", "detail", "measured", "outline", "avoid", "stock_length", "least_piece", "left_also",
         "right_also")


def a_metal(draw: random.Random) -> dict[str, Any]:
    """A metal of a thickness, radius and allowance rule at random."""
    return {"name": "made-up", "thickness": draw.choice([0.4, 0.6, 0.7, 1.0]), "density": 7850,
            "inside_radius": draw.choice([0.0, 0.5, 0.8, 1.5]), "allowance": draw.choice(ALLOWANCES)}


def _number(draw: random.Random, name: str, field: Any) -> float:
    begin = field.default if isinstance(field.default, float | int) and field.default else _BEGIN.get(name, 40.0)
    bounds = {kind: getattr(rule, kind) for rule in field.metadata for kind in ("gt", "ge", "lt", "le")
              if getattr(rule, kind, None) is not None}
    low, high = bounds.get("ge", bounds.get("gt", -math.inf)), bounds.get("le", bounds.get("lt", math.inf))
    if name == "chord":
        return draw.choice([0.05, 0.1, 0.5, 2.0])
    if high - low < 400:  # an angle, mostly
        return draw.uniform(low, high) if draw.random() < 0.7 else draw.choice([low + 1e-3, high - 1e-3, begin])
    kind = draw.random()
    size = begin if kind < 0.4 else begin * math.exp(draw.uniform(-0.7, 0.7)) if kind < 0.9 else begin * math.exp(
        draw.uniform(-4, 3))
    return min(max(round(size, draw.choice([0, 1, 3])), low + 1e-3 if low > -math.inf else low), high)


def _value(draw: random.Random, name: str, field: Any) -> Any:
    parts = [field.annotation, *get_args(field.annotation)]
    choices = [option for part in parts for option in get_args(part) if isinstance(option, str)]
    if choices:
        return draw.choice(choices)
    if bool in parts:
        return draw.random() < 0.5
    if int in parts:
        return draw.randint(1, 4)
    return _number(draw, name, field) if float in parts else None


def a_detail(draw: random.Random, names: tuple[str, ...] = (*FAMILIES, *FORMS)) -> Any:
    """One detail of any of these names, or why its fields make none (an :class:`InputError`)."""
    name = draw.choice(names)
    model = FORMS[name] if name in FORMS else FAMILIES[name].model
    given = {"metal": a_metal(draw), "detail": name, "measured": draw.choice(["outside", "inside"])}
    for field, about in model.model_fields.items():
        if field in _KEPT or (not about.is_required() and draw.random() < 0.35):
            continue
        value = _value(draw, field, about)
        if value is not None:
            given[field] = value
    if name == "free":
        given |= _free(draw)
    if "left_plane" in model.model_fields:
        given |= _ends(draw, model)
        if draw.random() < 0.2:  # other legs at the right end
            sizes = [(f, v) for f, v in given.items() if f not in Trim.model_fields and isinstance(v, float) and v > 20]
            given["tapers"] = tuple((f, v * draw.uniform(0.6, 1.5)) for f, v in sizes[:2])
    try:
        import json

        text = json.dumps(given)
        return check(lambda: model.model_validate_json(text))
    except InputError as wrong:
        return wrong


def _free(draw: random.Random) -> dict[str, Any]:
    legs = draw.randint(1, 6)
    return {"legs": [round(draw.uniform(5, 120), 1) for _ in range(legs)],
            "turns": [round(draw.uniform(-150, 150), 1) for _ in range(legs - 1)]}


def _ends(draw: random.Random, model: Any) -> dict[str, Any]:
    """Ends on planes on some, and runs from far too short to some pieces long."""
    given: dict[str, Any] = {"length": draw.choice([20.0, 60.0, 140.0, 350.0, 900.0, 2400.0, 3000.0, 7100.0])
                             * draw.uniform(0.9, 1.1)}
    for side in ("left_plane", "right_plane"):
        if draw.random() < 0.5:
            turn, lean = (math.radians(draw.choice([-60, -45, -30, 0, 30, 45, 60]) + draw.uniform(-5, 5))
                          for _ in range(2))
            given[side] = [math.cos(turn) * math.cos(lean), math.sin(turn), math.sin(lean)]
    return given


def faults(pattern: Pattern, on_a_line: bool) -> Iterator[str]:
    """What is wrong with a pattern as a sheet: its outline, its marks, how it lies."""
    shape = shapely.Polygon(pattern.outline, pattern.holes)
    if not shape.is_valid or not shape.exterior.is_ccw:
        yield "outline"
        return
    for mark in pattern.marks:
        if shapely.LineString([mark.a, mark.b]).difference(shape.buffer(0.01)).length > 0.01:
            yield f"mark off the sheet: {mark.text}"
    low_x, low_y, high_x, high_y = pattern.box
    if abs(high_x - low_x - pattern.length) > 1e-6 or abs(high_y - low_y - pattern.girth) > 1e-6:
        yield "extents"
    if not on_a_line:
        least = shapely.minimum_rotated_rectangle(shape).area
        if pattern.length * pattern.girth > 1.0101 * least:
            yield f"lies in {pattern.length * pattern.girth / least:.3f} of its least rectangle"


def folds_end_on_the_outline(pattern: Pattern) -> float:
    """How far, at most, a fold's end lies from the outline and from every other fold, mm."""
    lines = [shapely.LineString([*ring, ring[0]]) for ring in (pattern.outline, *pattern.holes)]
    folds = [shapely.LineString([fold.a, fold.b]) for fold in pattern.folds]
    off = [min(line.distance(shapely.Point(end)) for line in (*lines, *(f for m, f in enumerate(folds) if m != n)))
           for n, fold in enumerate(pattern.folds) for end in (fold.a, fold.b)]
    return float(np.max(off, initial=0.0))
