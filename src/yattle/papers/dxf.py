"""A drawing as DXF: millimetres, a layer for cuts, folds by direction, marks and measures."""

from __future__ import annotations

import io
from typing import Any

from yattle.drawing.shapes import Dim, Drawing, Line, Point, Ring
from yattle.papers.lines import PAPER

_TEXT = 6.0
_LINETYPES = {"FOLD_PAINT": "DASHED", "FOLD_BACK": "DASHDOT", "MARK": "DOT"}
_DASHES = {"DASHED": [9.0, 6.0, -3.0], "DASHDOT": [10.0, 6.0, -2.0, 0.0, -2.0], "DOT": [3.0, 0.0, -3.0]}  # mm


def drawing_to_dxf(drawing: Drawing, text: float = _TEXT) -> str:
    """The drawing as DXF text (R2010, units mm), geometry exactly as described; ``text`` mm high."""
    import ezdxf
    from ezdxf.units import MM

    document = ezdxf.new("R2010")
    for name, dashes in _DASHES.items():
        document.linetypes.add(name, pattern=dashes)
    document.units = MM
    document.header["$MEASUREMENT"] = 1
    for line in {pen.layer: pen for pen in PAPER.values()}.values():
        document.layers.add(line.layer, color=line.colour, linetype=_LINETYPES.get(line.layer, "CONTINUOUS"))
    space = document.modelspace()
    for shape in drawing.shapes:
        if isinstance(shape, Line | Ring):
            space.add_lwpolyline(shape.points, close=isinstance(shape, Ring),
                                 dxfattribs={"layer": PAPER[shape.role].layer})
        elif isinstance(shape, Dim):
            _dim(space, shape, text)
        else:
            _text(space, shape.text, shape.at, shape.push, text * 1.33, "NOTES", text)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _text(space: Any, text: str, at: Point, push: Point, by: float, layer: str, high: float) -> None:
    from ezdxf.enums import TextEntityAlignment

    entity = space.add_text(text.replace("\u00a0", " "), height=high, dxfattribs={"layer": layer})
    entity.set_placement((at[0] + push[0] * by, at[1] + push[1] * by), align=TextEntityAlignment.MIDDLE_CENTER)


def _dim(space: Any, dim: Dim, high: float) -> None:
    a, b = ((p[0] + dim.push[0] * 8, p[1] + dim.push[1] * 8) for p in (dim.a, dim.b))
    space.add_line(a, b, dxfattribs={"layer": "DIM"})
    _text(space, dim.text, ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), dim.push, 6.0, "DIM", high)
