"""A drawing's shapes on a QPainter: its screen backend."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from yattle.drawing.placing import Box, clear_place, covers
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Point, Ring, Tag
from yattle.ui.drawing.words import draw_words, width_of
from yattle.ui.theme import Theme, theme, type_of

NONE = Qt.PenStyle.NoPen
PRESSED = ("piece", "face-1", "face-2", "face-3", "opening", "panel")
EDGES: dict[str, tuple[float, tuple[float, ...]]] = {
    "edge-eave": (2.8, ()), "edge-rake": (1.8, ()), "edge-ridge": (2.0, (9, 2)), "edge-hip": (2.0, (6, 2, 1, 2)),
    "edge-valley": (2.4, (1.2, 1.8)), "edge-wall": (3.6, (0.7, 0.9)), "edge-break": (1.8, (3, 2)),
    "wall-cut": (1.2, (2, 2))}
"""Every kind of roof edge has a line of its own: its width, and its dashes in widths."""


@dataclass(frozen=True)
class View:
    """Millimetres to pixels: ``scale`` px per mm, ``dx`` and ``dy`` where the origin lies."""

    scale: float
    dx: float
    dy: float

    @staticmethod
    def fit(box: tuple[float, float, float, float], frame: QRectF, most: float = 1e9) -> View:
        """The largest scale at which ``box`` fits into ``frame``, centred."""
        width, height = max(box[2] - box[0], 1e-6), max(box[3] - box[1], 1e-6)
        scale = min(frame.width() / width, frame.height() / height, most)
        middle = frame.center()
        return View(scale, middle.x() - (box[0] + box[2]) / 2 * scale, middle.y() + (box[1] + box[3]) / 2 * scale)

    def at(self, point: Point) -> QPointF:
        return QPointF(self.dx + point[0] * self.scale, self.dy - point[1] * self.scale)


@dataclass(frozen=True)
class Hit:
    """A place on the screen that belongs to ``key``."""

    rect: QRectF
    key: str
    text: str
    outline: QPolygonF | None = None

    def contains(self, place: QPointF) -> bool:
        """Whether ``place`` is on it: within its outline, or its rectangle where it has none."""
        return self.rect.contains(place) and (
            self.outline is None or self.outline.containsPoint(place, Qt.FillRule.OddEvenFill))

    def away(self, place: QPointF) -> float:
        """How far ``place`` is from its rectangle, px; 0 within."""
        x = max(self.rect.left() - place.x(), place.x() - self.rect.right(), 0.0)
        y = max(self.rect.top() - place.y(), place.y() - self.rect.bottom(), 0.0)
        return math.hypot(x, y)


@dataclass
class Ink:
    """How to paint: the metal's colour, what is selected (a fold or leg, and a piece), text size."""

    metal: str = "#4a6b80"
    selected: str = ""
    points: float = 11.0
    texts: bool = True
    band: float = 0.0
    also: str = ""
    sparse: bool = False  # texts that would lie on each other are left out, the selected one never


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
    if ink.texts and ink.sparse:
        return hits + _sparse_texts(painter, drawing, view, ink)
    return hits + _clear_texts(painter, drawing, view, ink) if ink.texts else hits


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


def _clear_texts(painter: QPainter, drawing: Drawing, view: View, ink: Ink) -> list[Hit]:
    """Measures where they belong, then letters, numbers and what is said beside them, each where it is clear of those
    before it; what has no room and is no number is left out. Names within pieces stay in the middle of them."""
    hits: list[Hit] = []
    taken: list[Box] = [_dim(painter, shape, view, ink) for shape in drawing.shapes if isinstance(shape, Dim)]
    frame: Box = (2.0, 2.0, painter.viewport().width() - 2.0, painter.viewport().height() - 2.0)
    for shape in drawing.shapes:
        if isinstance(shape, Label) and shape.room is not None:
            hits += _label(painter, shape, view, ink)
    told = [s for s in drawing.shapes if isinstance(s, Tag) or (isinstance(s, Label) and s.room is None)]
    for shape in sorted(told, key=lambda s: 0 if isinstance(s, Tag) else 2 - s.strong):
        rect = _text_place(shape, view, ink)
        wanted = rect.left(), rect.top(), rect.right(), rect.bottom()
        inside = frame if covers(wanted, frame) else None  # of what lies off the screen nothing is pulled onto it
        box = clear_place(wanted, (shape.push[0], -shape.push[1]) if isinstance(shape, Tag) else (0.0, 0.0), taken,
                          frame=inside)
        if any(covers(box, other) for other in taken) and isinstance(shape, Label) and not shape.strong:
            continue
        taken.append(box)
        place = QRectF(box[0], box[1], box[2] - box[0], box[3] - box[1])
        if max(abs(box[0] - wanted[0]), abs(box[1] - wanted[1])) > rect.height() and (
                isinstance(shape, Tag) or shape.strong):
            _lead(painter, view.at(shape.at), place)
        hits += (_tag(painter, shape, view, ink, place) if isinstance(shape, Tag) else
                 _label(painter, shape, view, ink, place))
    return hits


def _lead(painter: QPainter, at: QPointF, place: QRectF) -> None:
    """A fine line from what a text belongs to, to the text that had to give way."""
    painter.setPen(QPen(QColor(theme().dim), 0.8))
    painter.drawLine(at, QPointF(min(max(at.x(), place.left()), place.right()),
                                 min(max(at.y(), place.top()), place.bottom())))


def _sparse_texts(painter: QPainter, drawing: Drawing, view: View, ink: Ink) -> list[Hit]:
    """Texts in the order of their weight: the selected, measures, letters, the rest; none over another."""
    texts = [shape for shape in drawing.shapes if isinstance(shape, Label | Tag | Dim)]

    def weight(shape: Label | Tag | Dim) -> int:
        if isinstance(shape, Dim) or (isinstance(shape, Label) and shape.strong) or (
                shape.key and shape.key == ink.selected and isinstance(shape, Tag)):
            return 0
        return 2 if isinstance(shape, Tag) else 3
    taken: list[QRectF] = []
    hits: list[Hit] = []
    for shape in sorted(texts, key=weight):
        if isinstance(shape, Dim):
            _dim(painter, shape, view, ink)
            continue
        rect = _text_place(shape, view, ink)
        if any(rect.intersects(other) for other in taken) and weight(shape):
            continue
        taken.append(rect)
        hits += _tag(painter, shape, view, ink) if isinstance(shape, Tag) else _label(painter, shape, view, ink)
    return hits


def _text_place(shape: Label | Tag, view: View, ink: Ink) -> QRectF:
    """Where a text will stand on the screen."""
    font = type_of(ink.points, QFont.Weight.DemiBold) if isinstance(shape, Tag) else _font(ink, shape.strong)
    beside = (17 + (15 if shape.tongs else 0)) if isinstance(shape, Tag) else 6
    size = (width_of(shape.text, font) + beside, QFontMetricsF(font).height() + (4 if isinstance(shape, Tag) else 0))
    return _pushed(view.at(shape.at), shape.push, size, 9 if isinstance(shape, Tag) or shape.strong else 4)


@lru_cache(maxsize=256)
def _pen(t: Theme, role: str, chosen: bool) -> QPen:
    ink, dim = QColor(t.ink), QColor(t.dim)
    pens = {
        "cut": QPen(ink, 1.6), "trim": QPen(dim, 1.2), "back": QPen(QColor(t.bare), 2.2), "stock": QPen(dim, 1.4),
        "hatch": QPen(dim, 0.7), "piece": QPen(ink, 1.2), "tool": QPen(dim, 1.2), "leaf": QPen(dim, 1.2),
        "dim": QPen(dim, 1.0),
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
    elif role == "panel":
        pen = QPen(dim, 1.0)
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
             "panel": t.copper_soft if chosen else t.sheet}
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


def _font(ink: Ink, strong: bool) -> QFont:
    return type_of(ink.points + (1.5 if strong else 0), QFont.Weight.DemiBold if strong else QFont.Weight.Normal)


@lru_cache(maxsize=64)
def _height(points: float, strong: bool) -> float:
    return QFontMetricsF(_font(Ink(points=points), strong)).height()


def _pushed(at: QPointF, push: Point, size: tuple[float, float], gap: float) -> QRectF:
    """A rectangle of ``size`` beside ``at``, clear of it by ``gap`` along ``push``."""
    width, height = size
    x = at.x() + push[0] * (width / 2 + gap)
    y = at.y() - push[1] * (height / 2 + gap)
    return QRectF(x - width / 2, y - height / 2, width, height)


def _label(painter: QPainter, label: Label, view: View, ink: Ink, place: QRectF | None = None) -> list[Hit]:
    t, font = theme(), _font(ink, label.strong)
    high = _height(ink.points, label.strong)
    if label.room is not None and 0.8 * high > label.room[1] * view.scale:
        return []  # what it stands in is too small for it
    size = (width_of(label.text, font) + 6, high)
    if label.room is not None and size[0] - 6 > label.room[0] * view.scale:
        return []
    rect = place or _pushed(view.at(label.at), label.push, size, 9 if label.strong else 4)
    chosen = bool(label.key) and label.key == ink.selected
    painter.setPen(QColor(t.copper if chosen else t.ink if label.strong or label.key else t.dim))
    draw_words(painter, rect, label.text, font)
    return [Hit(rect.adjusted(-4, -3, 4, 3), label.key, label.text)] if label.key else []


def _tag(painter: QPainter, tag: Tag, view: View, ink: Ink, place: QRectF | None = None) -> list[Hit]:
    t = theme()
    font = type_of(ink.points, QFont.Weight.DemiBold)
    metrics = QFontMetricsF(font)
    jaw = 15 if tag.tongs else 0
    size = (width_of(tag.text, font) + 17 + jaw, metrics.height() + 4)
    rect = place or _pushed(view.at(tag.at), tag.push, size, 9)
    chosen = tag.key == ink.selected
    painter.setPen(QPen(QColor(t.copper if chosen else t.ink), 1.1))
    painter.setBrush(QColor(t.copper if chosen else t.card))
    painter.drawRoundedRect(rect, size[1] / 2, size[1] / 2)
    painter.setPen(QColor(t.on_copper if chosen else t.ink))
    draw_words(painter, rect.adjusted(0, 0, -jaw, 0), tag.text, font)
    if tag.tongs:
        _jaw(painter, QPointF(rect.right() - 14, rect.center().y()))
    return [Hit(rect.adjusted(-3, -3, 3, 3), tag.key, tag.text)]


def _jaw(painter: QPainter, at: QPointF) -> None:
    """The small jaw of hand tongs."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF([at + QPointF(7, -4), at + QPointF(1, -4), at + QPointF(-3, -1)]))
    painter.drawPolyline(QPolygonF([at + QPointF(7, 4), at + QPointF(1, 4), at + QPointF(-3, 1)]))


def _dim(painter: QPainter, dim: Dim, view: View, ink: Ink) -> Box:
    """A measure with its line; where its text stands."""
    t = theme()
    font = type_of(ink.points)
    metrics = QFontMetricsF(font)
    off = QPointF(dim.push[0] * 13, -dim.push[1] * 13)
    a, b = view.at(dim.a) + off, view.at(dim.b) + off
    painter.setPen(QPen(QColor(t.dim), 1.0))
    painter.drawLine(a, b)
    tick = QPointF(-off.x(), -off.y()) * 0.35
    for end in (a, b):
        painter.drawLine(end - tick, end + tick)
    middle = (a + b) / 2
    size = QRectF(0, 0, width_of(dim.text, font) + 6, metrics.height())
    at, upright = middle + QPointF(off.x(), off.y()) * 0.75, abs(dim.push[0]) > abs(dim.push[1])
    painter.save()
    painter.translate(at)
    if upright:
        painter.rotate(-90)
    size.moveCenter(QPointF(0, 0))
    draw_words(painter, size, dim.text, font)
    painter.restore()
    wide, high = (size.height() / 2, size.width() / 2) if upright else (size.width() / 2, size.height() / 2)
    return at.x() - wide, at.y() - high, at.x() + wide, at.y() + high
