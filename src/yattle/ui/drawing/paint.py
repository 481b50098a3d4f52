"""A drawing's shapes on a QPainter: its screen backend."""

from __future__ import annotations

from functools import lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from yattle.drawing.shapes import Drawing, Line, Ring
from yattle.ui.drawing.ink import Hit, Ink, View
from yattle.ui.drawing.texts import paint_texts
from yattle.ui.theme import Theme, theme

__all__ = ["Hit", "Ink", "View", "paint"]

NONE = Qt.PenStyle.NoPen
PRESSED = ("piece", "face-1", "face-2", "face-3", "opening", "panel")
EDGES: dict[str, tuple[float, tuple[float, ...]]] = {
    "edge-eave": (2.8, ()), "edge-rake": (1.8, ()), "edge-ridge": (2.0, (9, 2)), "edge-hip": (2.0, (6, 2, 1, 2)),
    "edge-valley": (2.4, (1.2, 1.8)), "edge-wall": (3.6, (0.7, 0.9)), "edge-break": (1.8, (3, 2)),
    "wall-cut": (1.2, (2, 2))}
"""Every kind of roof edge has a line of its own: its width, and its dashes in widths."""


def paint(painter: QPainter, drawing: Drawing, view: View, ink: Ink) -> list[Hit]:
    """Paint ``drawing``; the places of its texts and outlines are returned, topmost last."""
    hits: list[Hit] = []
    cuts, pieces = list[QLineF](), list[QRectF]()  # thousands of them: painted together
    for shape in drawing.shapes:
        if isinstance(shape, Line | Ring) and (
                shape.key in (ink.selected, ink.also) or not _together(shape, view, cuts, pieces, hits)):
            _pieces(painter, pieces, ink)
            hits += _path(painter, shape, view, ink)
    _pieces(painter, pieces, ink)
    if cuts:
        painter.setPen(_pen(theme(), "cut", False))
        painter.drawLines(*cuts)
    return hits + paint_texts(painter, drawing, view, ink) if ink.texts else hits


def _together(shape: Line | Ring, view: View, cuts: list[QLineF], pieces: list[QRectF], hits: list[Hit]) -> bool:
    """Whether a shape is a cut or a piece's rectangle, which are painted together."""
    p = shape.points
    if isinstance(shape, Line):
        if shape.role != "cut" or len(p) != 2:
            return False
        cuts.append(QLineF(view.at(p[0]), view.at(p[1])))
        return True
    if shape.role != "piece" or len(p) != 4 or (p[0][0], p[1][0], p[0][1], p[2][1]) != (
            p[3][0], p[2][0], p[1][1], p[3][1]):
        return False
    rect = QRectF(view.at(p[0]), view.at(p[2])).normalized()
    pieces.append(rect)
    hits.append(Hit(rect, shape.key, ""))
    return True


def _pieces(painter: QPainter, pieces: list[QRectF], ink: Ink) -> None:
    if pieces:
        painter.setPen(_pen(theme(), "piece", False))
        painter.setBrush(_brush(theme(), "piece", ink.metal, False))
        painter.drawRects(*pieces)
        pieces.clear()


@lru_cache(maxsize=256)
def _pen(t: Theme, role: str, chosen: bool) -> QPen:
    ink, dim = QColor(t.ink), QColor(t.dim)
    pens = {
        "cut": QPen(ink, 1.6), "trim": QPen(dim, 1.2), "back": QPen(QColor(t.bare), 2.2), "stock": QPen(dim, 1.4),
        "hatch": QPen(dim, 0.7), "piece": QPen(ink, 1.2), "tool": QPen(dim, 1.2), "leaf": QPen(dim, 1.2),
        "seen": QPen(dim, 0.7), "seen-back": QPen(dim, 0.7),
        "dim": QPen(dim, 1.0), "panel": QPen(dim, 1.0), "fault": QPen(QColor(t.oxide), 4.0),
    }
    pen = pens.get(role, QPen(ink, 1.2))
    if role in EDGES:
        width, dashes = EDGES[role]
        pen = QPen(ink, width)
        if dashes:
            pen.setDashPattern(list(dashes))
    elif role in ("walls", "water"):
        pen = QPen(QColor(t.copper if role == "walls" else t.verdigris), 1.6 if role == "walls" else 3.0)
        pen.setDashPattern([5, 3] if role == "walls" else [1, 2])
    elif role.startswith("face"):
        pen = QPen(NONE)
    elif role == "fold-paint":
        pen.setDashPattern([7, 3.5])
    elif role == "fold-back":
        pen.setDashPattern([9, 3, 2, 3])
    elif role in ("mark", "waste"):
        pen = QPen(dim, 1.1)
        pen.setDashPattern([2.5, 3.5])
    elif role in ("paint", "around", "break"):
        pen = QPen(NONE)
    if chosen:
        pen.setColor(QColor(t.copper))
        pen.setWidthF(max(pen.widthF(), 1.2) + 1.0)
        if role in ("paint",):
            pen = QPen(NONE)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return pen


@lru_cache(maxsize=256)
def _brush(t: Theme, role: str, metal: str, chosen: bool) -> QBrush:
    fills = {"cut": t.sheet, "paint": metal, "around": t.around, "break": t.card, "tool": t.around,
             "leaf": t.line, "piece": t.copper_soft if chosen else t.sheet, "stock": t.field, "opening": t.card,
             "panel": t.copper_soft if chosen else t.sheet, "seen": t.sheet, "seen-back": t.around}
    if role.startswith("face"):
        return QBrush(QColor(t.copper_soft) if chosen else QColor(t.sheet).darker(104 + 7 * int(role[-1])))
    if role == "waste":
        return QBrush(QColor(t.dim), Qt.BrushStyle.BDiagPattern)
    return QBrush(QColor(fills[role])) if role in fills else QBrush(Qt.BrushStyle.NoBrush)


def _path(painter: QPainter, shape: Line | Ring, view: View, ink: Ink) -> list[Hit]:
    t, chosen = theme(), bool(shape.key) and shape.key in (ink.selected, ink.also)
    points = QPolygonF([view.at(p) for p in shape.points])
    painter.setPen(_pen(t, shape.role, chosen))
    if isinstance(shape, Ring):
        painter.setBrush(_brush(t, shape.role, ink.metal, chosen))
        painter.drawPolygon(points)
        return [Hit(points.boundingRect(), shape.key, "", points)] if shape.role in PRESSED else []
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if ink.band and shape.role in ("paint", "back"):
        colour = ink.metal if shape.role == "back" else t.copper
        width = max(shape.width * view.scale, ink.band)
        painter.setPen(QPen(QColor(colour), width, cap=Qt.PenCapStyle.FlatCap, join=Qt.PenJoinStyle.RoundJoin))
    painter.drawPolyline(points)
    if shape.key and shape.role in EDGES:
        return [_line_hit(points[0], points[points.count() - 1], shape.key)]
    return []


def _line_hit(a: QPointF, b: QPointF, key: str) -> Hit:
    """A line can be pressed within 6 px of it."""
    along = b - a
    size = max((along.x() ** 2 + along.y() ** 2) ** 0.5, 1e-6)
    aside = QPointF(-along.y(), along.x()) * (6.0 / size)
    outline = QPolygonF([a + aside, b + aside, b - aside, a - aside])
    return Hit(outline.boundingRect(), key, "", outline)
