"""A drawing as DXF: millimetres, a layer for cuts, folds by direction, marks and measures."""

from __future__ import annotations

import io
from collections.abc import Callable
from functools import lru_cache
from threading import Lock
from typing import Any

from yattle.drawing.shapes import Dim, Drawing, Line, Point, Ring
from yattle.papers.lines import PAPER

_TEXT = 6.0
_HANDLES = "F00000"
_LINETYPES = {"FOLD_PAINT": "DASHED", "FOLD_BACK": "DASHDOT", "MARK": "DOT"}
_DASHES = {"DASHED": [9.0, 6.0, -3.0], "DASHDOT": [10.0, 6.0, -2.0, 0.0, -2.0], "DOT": [3.0, 0.0, -3.0]}  # mm


class _Template:
    """A document with layers and linetypes, made once: what stands before and after its entities stays the same for
    every drawing, and making that anew would take most of the time."""

    def __init__(self) -> None:
        import ezdxf
        from ezdxf.units import MM

        ezdxf.options.write_fixed_meta_data_for_testing = True  # no clock in it: one job, one paper

        self.lock = Lock()
        self.document = ezdxf.new("R2010")
        for name, dashes in _DASHES.items():
            self.document.linetypes.add(name, pattern=dashes)
        self.document.units = MM
        self.document.header["$MEASUREMENT"] = 1
        self.document.layers.add("TEXT", color=7)
        for line in {pen.layer: pen for pen in PAPER.values()}.values():
            self.document.layers.add(line.layer, color=line.colour, linetype=_LINETYPES.get(line.layer, "CONTINUOUS"))
        handles = self.document.entitydb.handles
        self.first = str(handles)
        handles.reset(_HANDLES)  # so that the next free handle told is beyond those of any drawing
        out = io.StringIO()
        self.document.write(out)
        self.head, _, rest = out.getvalue().partition("  0\nSECTION\n  2\nENTITIES\n")
        self.tail = rest.partition("  0\nENDSEC\n")[2]

    def filled(self, draw: Callable[[Any], None]) -> str:
        """The document's text with what ``draw`` puts into its model space."""
        from ezdxf.lldxf.tagwriter import TagWriter

        with self.lock:
            document, space, out = self.document, self.document.modelspace(), io.StringIO()
            document.entitydb.handles.reset(self.first)
            draw(space)
            document.entities.export_dxf(TagWriter(out, dxfversion=document.dxfversion, write_handles=True))
            space.delete_all_entities()
            document.entitydb.purge()
        return self.head + out.getvalue() + self.tail


@lru_cache(maxsize=1)
def _template() -> _Template:
    return _Template()


def drawing_to_dxf(drawing: Drawing, text: float = _TEXT, title: str = "") -> str:
    """The drawing as DXF text (R2010, units mm), geometry exactly as described; ``text`` mm high; ``title``, what it is
    of, stands beneath it on the layer TEXT."""
    def draw(space: Any) -> None:
        for shape in drawing.shapes:
            if isinstance(shape, Line | Ring):
                space.add_lwpolyline(shape.points, close=isinstance(shape, Ring),
                                     dxfattribs={"layer": PAPER[shape.role].layer})
            elif isinstance(shape, Dim):
                _dim(space, shape, text)
            else:
                _text(space, shape.text, shape.at, shape.push, text * 1.33, "NOTES", text)
        if title:
            x0, y0, x1, _ = drawing.box
            _text(space, title, ((x0 + x1) / 2, y0), (0.0, -1.0), text * 4, "TEXT", text)
    return _template().filled(draw)


def _text(space: Any, text: str, at: Point, push: Point, by: float, layer: str, high: float) -> None:
    from ezdxf.enums import TextEntityAlignment

    entity = space.add_text(text.replace("\u00a0", " "), height=high, dxfattribs={"layer": layer})
    entity.set_placement((at[0] + push[0] * by, at[1] + push[1] * by), align=TextEntityAlignment.MIDDLE_CENTER)


def _dim(space: Any, dim: Dim, high: float) -> None:
    a, b = ((p[0] + dim.push[0] * 8, p[1] + dim.push[1] * 8) for p in (dim.a, dim.b))
    space.add_line(a, b, dxfattribs={"layer": "DIM"})
    _text(space, dim.text, ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), dim.push, 6.0, "DIM", high)
