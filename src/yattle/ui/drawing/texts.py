"""The texts of a drawing: the one labeller of the screen. Each stands where it belongs, moved where something is
there already, with a fine line back where it went far; what has no room at all is left out, the least first."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from yattle.drawing.placing import Box, Segments, clear_place, covers, rank, segments_of
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Point, Ring, Tag
from yattle.ui.drawing.ink import Hit, Ink, View
from yattle.ui.drawing.words import draw_words, width_of
from yattle.ui.theme import theme, type_of

_AIR = 1.0  # px between two texts
_FAR = 2.5  # heights of a line: what is only said beside something has a line back from there on
_OFF = 13.0  # px that a measure's line stands off what it measures
_LINES = 300  # of a drawing with more lines than that texts do not keep clear
_RUN_THROUGH = ("cut", "trim", "stock", "tool", "paint", "opening")
"""What a number should not stand on."""


@dataclass(frozen=True)
class _Text:
    """A text to be placed: where it is ``wanted``, px, the way it may move, how high a line of it is; ``rank``: the
    least goes first; ``kept``: it is never left out."""

    shape: Label | Tag | Dim
    wanted: Box
    push: Point
    high: float
    rank: int
    kept: bool


def paint_texts(painter: QPainter, drawing: Drawing, view: View, ink: Ink) -> list[Hit]:
    """Measures, letters, numbers and what is said beside them, none over another; names within pieces stay in the
    middle of these. Where they stand is returned, and kept in the ink."""
    hits, taken = list[Hit](), list(ink.clear)
    ink.placed.clear()
    for shape in drawing.shapes:
        if isinstance(shape, Dim):
            _measure_line(painter, shape, view)
        elif isinstance(shape, Label) and shape.room is not None and (place := _in_its_room(shape, view, ink)):
            taken.append(_box(place))
            ink.placed.append(_box(place))
            hits += _label(painter, shape, ink, place)
    lines = _lines(drawing, view)
    measured = _with_measures(lines, drawing, view)
    at = painter.viewport()
    frame: Box = (2.0, 2.0, at.width() - 2.0, at.height() - 2.0)
    for text in sorted(_texts(drawing, view, ink), key=lambda one: one.rank):
        own = None if isinstance(text.shape, Tag) else lines if isinstance(text.shape, Dim) else measured
        box = _placed(text, taken, own, frame, ink.sparse)
        if box is None:
            hits += _left_out(text.shape, view)
            continue
        taken.append((box[0] - _AIR, box[1] - _AIR, box[2] + _AIR, box[3] + _AIR))
        ink.placed.append(box)
        hits += _put(painter, text, view, ink, box)
    return hits


def _texts(drawing: Drawing, view: View, ink: Ink) -> Iterator[_Text]:
    for shape in drawing.shapes:
        if isinstance(shape, Dim):
            wanted, high = _measure_place(shape, view, ink)
            yield _Text(shape, wanted, (shape.push[0], -shape.push[1]), high, rank(shape), True)
        elif isinstance(shape, Tag) or (isinstance(shape, Label) and shape.room is None):
            rect = _text_place(shape, view, ink)
            here = bool(shape.key) and shape.key == ink.selected
            strong = isinstance(shape, Label) and shape.strong
            push = (shape.push[0], -shape.push[1]) if isinstance(shape, Tag) else (0.0, 0.0)
            yield _Text(shape, _box(rect), push, rect.height(), rank(shape, here), here or strong)


def _placed(text: _Text, taken: list[Box], lines: Segments | None, frame: Box, still: bool) -> Box | None:
    """Where a text goes; ``None`` where there is no room for it. ``still``: none is moved."""
    if still:
        free = not any(covers(text.wanted, other) for other in taken)
        return text.wanted if free or text.kept else None
    inside = frame if covers(text.wanted, frame) else None  # of what lies off the screen nothing is pulled onto it
    box = clear_place(text.wanted, text.push, taken, lines, inside, text.high / 2)
    free = not any(covers(box, other) for other in taken)
    return box if free or (text.kept and not isinstance(text.shape, Dim)) else None


def _left_out(shape: Label | Tag | Dim, view: View) -> list[Hit]:
    """What has no room for its text can be pressed all the same."""
    if isinstance(shape, Dim) or not shape.key:
        return []
    at = view.at(shape.at)
    return [Hit(QRectF(at.x() - 5, at.y() - 5, 10, 10), shape.key, shape.text)]


def _put(painter: QPainter, text: _Text, view: View, ink: Ink, box: Box) -> list[Hit]:
    place, shape, wanted = QRectF(box[0], box[1], box[2] - box[0], box[3] - box[1]), text.shape, text.wanted
    moved = max(abs(box[0] - wanted[0]), abs(box[1] - wanted[1]))
    if isinstance(shape, Dim):
        _measure_text(painter, shape, ink, place)
        return []
    if moved > text.high * (1.0 if isinstance(shape, Tag) or shape.strong else _FAR):
        _lead(painter, view.at(shape.at), place)
    return _tag(painter, shape, ink, place) if isinstance(shape, Tag) else _label(painter, shape, ink, place)


def _lead(painter: QPainter, at: QPointF, place: QRectF) -> None:
    """A fine line from what a text belongs to, to the text that had to give way."""
    painter.setPen(QPen(QColor(theme().dim), 0.8))
    painter.drawLine(at, QPointF(min(max(at.x(), place.left()), place.right()),
                                 min(max(at.y(), place.top()), place.bottom())))


def _lines(drawing: Drawing, view: View) -> Segments | None:
    """The outlines of a drawing on the screen; ``None`` where there are too many to look at each."""
    shapes = [shape for shape in drawing.shapes if isinstance(shape, Line | Ring) and (
        shape.role in _RUN_THROUGH or shape.role.startswith("fold"))]
    if sum(len(shape.points) for shape in shapes) > _LINES:
        return None
    paths = [[(at.x(), at.y()) for at in map(view.at, (*shape.points, shape.points[0]) if isinstance(shape, Ring)
                                             else shape.points)] for shape in shapes]
    return segments_of(paths)


def _with_measures(lines: Segments | None, drawing: Drawing, view: View) -> Segments | None:
    """The outlines and the lines of the measures, which are struck through no name."""
    if lines is None:
        return None
    ends = [_measure_ends(shape, view)[:2] for shape in drawing.shapes if isinstance(shape, Dim)]
    return np.concatenate((lines, segments_of([[(a.x(), a.y()), (b.x(), b.y())] for a, b in ends])))


# -- where texts are wanted ------------------------------------------------------------------------------


def _box(rect: QRectF) -> Box:
    return rect.left(), rect.top(), rect.right(), rect.bottom()


def _text_place(shape: Label | Tag, view: View, ink: Ink) -> QRectF:
    """Where a text belongs on the screen."""
    font = type_of(ink.points, QFont.Weight.DemiBold) if isinstance(shape, Tag) else _font(ink, shape.strong)
    beside = (17 + (15 if shape.tongs else 0)) if isinstance(shape, Tag) else 6
    size = (width_of(shape.text, font) + beside, QFontMetricsF(font).height() + (4 if isinstance(shape, Tag) else 0))
    return _pushed(view.at(shape.at), shape.push, size, 9 if isinstance(shape, Tag) or shape.strong else 4)


def _in_its_room(label: Label, view: View, ink: Ink) -> QRectF | None:
    """A name within a thing, in the middle of it; ``None`` where that is too small for it."""
    assert label.room is not None
    high, wide = _height(ink.points, label.strong), width_of(label.text, _font(ink, label.strong))
    if 0.8 * high > label.room[1] * view.scale or wide > label.room[0] * view.scale:
        return None
    return _pushed(view.at(label.at), label.push, (wide + 6, high), 9 if label.strong else 4)


def _pushed(at: QPointF, push: Point, size: tuple[float, float], gap: float) -> QRectF:
    """A rectangle of ``size`` beside ``at``, clear of it by ``gap`` along ``push``."""
    width, height = size
    x = at.x() + push[0] * (width / 2 + gap)
    y = at.y() - push[1] * (height / 2 + gap)
    return QRectF(x - width / 2, y - height / 2, width, height)


def _font(ink: Ink, strong: bool) -> QFont:
    return type_of(ink.points + (1.5 if strong else 0), QFont.Weight.DemiBold if strong else QFont.Weight.Normal)


@lru_cache(maxsize=64)
def _height(points: float, strong: bool) -> float:
    return QFontMetricsF(_font(Ink(points=points), strong)).height()


# -- labels and letters ----------------------------------------------------------------------------------


def _label(painter: QPainter, label: Label, ink: Ink, rect: QRectF) -> list[Hit]:
    t, chosen = theme(), bool(label.key) and label.key == ink.selected
    painter.setPen(QColor(t.copper if chosen else t.ink if label.strong or label.key else t.dim))
    draw_words(painter, rect, label.text, _font(ink, label.strong))
    return [Hit(rect.adjusted(-4, -3, 4, 3), label.key, label.text)] if label.key else []


def _tag(painter: QPainter, tag: Tag, ink: Ink, rect: QRectF) -> list[Hit]:
    t, jaw = theme(), 15 if tag.tongs else 0
    chosen = tag.key == ink.selected
    painter.setPen(QPen(QColor(t.copper if chosen else t.ink), 1.1))
    painter.setBrush(QColor(t.copper if chosen else t.card))
    painter.drawRoundedRect(rect, rect.height() / 2, rect.height() / 2)
    painter.setPen(QColor(t.on_copper if chosen else t.ink))
    draw_words(painter, rect.adjusted(0, 0, -jaw, 0), tag.text, type_of(ink.points, QFont.Weight.DemiBold))
    if tag.tongs:
        _jaw(painter, QPointF(rect.right() - 14, rect.center().y()))
    return [Hit(rect.adjusted(-3, -3, 3, 3), tag.key, tag.text)]


def _jaw(painter: QPainter, at: QPointF) -> None:
    """The small jaw of hand tongs."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF([at + QPointF(7, -4), at + QPointF(1, -4), at + QPointF(-3, -1)]))
    painter.drawPolyline(QPolygonF([at + QPointF(7, 4), at + QPointF(1, 4), at + QPointF(-3, 1)]))


# -- measures --------------------------------------------------------------------------------------------


def _measure_ends(dim: Dim, view: View) -> tuple[QPointF, QPointF, QPointF]:
    """The ends of a measure's line, and how far it stands off."""
    off = QPointF(dim.push[0] * _OFF, -dim.push[1] * _OFF)
    return view.at(dim.a) + off, view.at(dim.b) + off, off


def _measure_line(painter: QPainter, dim: Dim, view: View) -> None:
    a, b, off = _measure_ends(dim, view)
    painter.setPen(QPen(QColor(theme().dim), 1.0))
    painter.drawLine(a, b)
    tick = QPointF(-off.x(), -off.y()) * 0.35
    for end in (a, b):
        painter.drawLine(end - tick, end + tick)


def _measure_place(dim: Dim, view: View, ink: Ink) -> tuple[Box, float]:
    """Where a measure's text belongs, and how high its line is; beside an upright measure it stands on end."""
    a, b, off = _measure_ends(dim, view)
    font = type_of(ink.points)
    wide, high = width_of(dim.text, font) + 6, QFontMetricsF(font).height()
    at = (a + b) / 2 + off * 0.75
    x, y = (high / 2, wide / 2) if _stands(dim) else (wide / 2, high / 2)
    return (at.x() - x, at.y() - y, at.x() + x, at.y() + y), high


def _stands(dim: Dim) -> bool:
    return abs(dim.push[0]) > abs(dim.push[1])


def _measure_text(painter: QPainter, dim: Dim, ink: Ink, place: QRectF) -> None:
    painter.save()
    painter.setPen(QPen(QColor(theme().dim), 1.0))
    painter.translate(place.center())
    size = QRectF(0, 0, place.width(), place.height())
    if _stands(dim):
        painter.rotate(-90)
        size = QRectF(0, 0, place.height(), place.width())
    size.moveCenter(QPointF(0, 0))
    draw_words(painter, size, dim.text, type_of(ink.points))
    painter.restore()
