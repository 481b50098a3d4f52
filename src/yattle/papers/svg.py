"""A drawing as SVG at 1:1: one user unit is one millimetre, the sheet's size in mm."""

from __future__ import annotations

from html import escape

from yattle.drawing.shapes import Dim, Drawing, Line, Point, Ring, Shape, Tag
from yattle.papers.lines import PAPER

_TEXT = 6.0  # mm
_MARGIN = 25.0


def drawing_to_svg(drawing: Drawing, title: str) -> str:
    """The whole drawing with ``title`` and its notes; y runs down in SVG, so it is turned over."""
    x0, y0, x1, y1 = drawing.box
    width, height = x1 - x0 + 2 * _MARGIN, y1 - y0 + 2 * _MARGIN
    frame = _PageFrame(x0 - _MARGIN, y1 + _MARGIN)
    body = "\n".join(line for shape in drawing.shapes for line in frame.shape(shape))
    notes = escape(" · ".join((title, *drawing.notes)))
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" font-family="Barlow, sans-serif" font-size="{_TEXT:g}">\n'
        f"<title>{escape(title)}</title>\n{body}\n"
        f'<text x="{_MARGIN:g}" y="{height - 6:.3f}">{notes}</text>\n</svg>\n'
    )


class _PageFrame:
    def __init__(self, left: float, top: float) -> None:
        self.left, self.top = left, top

    def at(self, point: Point, push: Point = (0.0, 0.0), by: float = 0.0) -> tuple[float, float]:
        return (point[0] + push[0] * by - self.left, self.top - point[1] - push[1] * by)

    def shape(self, shape: Shape) -> list[str]:
        if isinstance(shape, Line | Ring):
            return [self._path(shape)]
        if isinstance(shape, Dim):
            return self._dim(shape)
        if isinstance(shape, Tag):
            return self._text(shape.text, shape.at, shape.push, 9.0, True)
        return self._text(shape.text, shape.at, shape.push, 7.0, shape.strong)

    def _path(self, shape: Line | Ring) -> str:
        pen = PAPER[shape.role]
        points = " L ".join(f"{x:.4f} {y:.4f}" for x, y in (self.at(p) for p in shape.points))
        closed = " Z" if isinstance(shape, Ring) else ""
        fill = f"rgb({pen.fill:.0%},{pen.fill:.0%},{pen.fill:.0%})" if pen.fill is not None and closed else "none"
        dash = f' stroke-dasharray="{" ".join(f"{d:g}" for d in pen.dash)}"' if pen.dash else ""
        stroke = f'stroke="rgb({pen.grey:.0%},{pen.grey:.0%},{pen.grey:.0%})"' if pen.width else 'stroke="none"'
        key = f' data-key="{escape(shape.key)}"' if shape.key else ""
        return (f'<path class="{shape.role}"{key} d="M {points}{closed}" fill="{fill}" {stroke} '
                f'stroke-width="{pen.width:g}"{dash}/>')

    def _text(self, text: str, at: Point, push: Point, by: float, strong: bool) -> list[str]:
        x, y = self.at(at, push, by)
        weight = ' font-weight="600"' if strong else ""
        return [f'<text x="{x:.3f}" y="{y + _TEXT * 0.35:.3f}" text-anchor="middle"{weight}>{escape(text)}</text>']

    def _dim(self, dim: Dim) -> list[str]:
        a, b = self.at(dim.a, dim.push, 8.0), self.at(dim.b, dim.push, 8.0)
        middle = ((dim.a[0] + dim.b[0]) / 2, (dim.a[1] + dim.b[1]) / 2)
        return [f'<path class="dim" d="M {a[0]:.3f} {a[1]:.3f} L {b[0]:.3f} {b[1]:.3f}" stroke="#555" '
                'stroke-width="0.12" fill="none"/>', *self._text(dim.text, middle, dim.push, 13.0, False)]
