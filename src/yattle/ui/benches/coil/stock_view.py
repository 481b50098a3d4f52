"""Stock to scale with the pieces on it: a long coil goes on in the next line."""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFont,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)
from PyQt6.QtWidgets import QMenu

from yattle.drawing.placing import Box
from yattle.drawing.shapes import Dim, Drawing, Line, Ring, Shape
from yattle.ui.benches.coil.lanes import Lane
from yattle.ui.benches.coil.rows import ABOVE, SIDE, best_rows
from yattle.ui.drawing.looking import LookedAt
from yattle.ui.drawing.menus import offer, offer_looks
from yattle.ui.drawing.nearer import Nearer
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.drawing.parts import DrawnParts, PartSaid
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.clipboard import copy_text
from yattle.ui.widgets.words import plain

_TURN = 0.05  # seconds that rows are painted in one turn
_DRAGGED = 12  # px: less is a press
_NAME = 22  # px over a row, where its name stands
_WHOLE = View(1.0, 0.0, 0.0)  # all of the stock, as large as it has room


class StockView(LookedAt):
    """All stock used, to one scale; a long coil goes on in the next line at a crosscut."""

    pressed = pyqtSignal(str)
    dropped = pyqtSignal(str, str, float, float)

    def __init__(self) -> None:
        super().__init__()
        self.lanes: list[Lane] = []
        self.breaks: dict[str, list[float]] = {}
        self.selected, self.fold, self.cut, self.metal = "", "", "", "#4a6b80"
        self.hits: list[tuple[QRectF, str]] = []
        self.parts = DrawnParts(self, self.pressed.emit)
        self.shown: list[tuple[QRectF, View, str]] = []
        self.kept: list[tuple[str, tuple[float, float, float, float]]] = []  # rectangles on stock
        self.pressed_at: tuple[str, float, float] | None = None
        self.tell: Callable[[str], str] = lambda key: key
        self._drag: tuple[str, QPointF, QPointF] | None = None
        self.nearer = Nearer()
        self._grabbed: QPointF | None = None  # where the whole is held while it is moved
        self._picture: tuple[object, QPixmap] | None = None  # what was painted last, and of what
        self._to_paint: list[tuple[Lane, float, float, float]] = []
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._paint_rows)
        self._spans: dict[str, list[tuple[float, float]]] = {}  # how far along its stock each shape reaches
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("stock with the pieces on it")

    def sizeHint(self) -> QSize:
        return QSize(500, 400)

    def show_stock(self, lanes: list[Lane], breaks: dict[str, list[float]], selected: tuple[str, str, str],
                   metal: str) -> None:
        """``selected``: the piece, the fold and the cut to be shown in copper, each may be empty."""
        if lanes is not self.lanes or (metal, *selected) != (self.metal, self.selected, self.fold, self.cut):
            self.lanes, self.breaks, self.metal = lanes, breaks, metal
            self.selected, self.fold, self.cut = selected
            self._picture = None
            self._spans = {lane.name: [_span(shape) for shape in lane.drawing.shapes] for lane in lanes}
            self.nearer.keep(self._box())
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        of = (self.size(), self.devicePixelRatioF(), theme())
        if self._picture is None or self._picture[0] != of:
            self._picture = (of, self._blank())
            self._paint_rows()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.drawPixmap(0, 0, self._picture[1])
        self._over(painter)
        if self.nearer.view is not None:
            painter.setFont(type_of(10.5))
            painter.setPen(QColor(theme().dim))
            painter.drawText(QRectF(self.rect()).adjusted(7, 5, -7, -5),
                             Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, "Ctrl+0 shows all")
        painter.end()

    def _blank(self) -> QPixmap:
        """An empty picture, and the rows that are to come onto it."""
        ratio = self.devicePixelRatioF()
        picture = QPixmap((QSizeF(self.size()) * ratio).toSize())
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        self.hits, self.shown = [], []
        rows, scale = best_rows(self.lanes, self.breaks, self.width(), self.height()) if self.lanes else ([], 1.0)
        near = self.nearer.view or _WHOLE
        places = ((row, x * near.scale + near.dx, (y + _NAME) * near.scale + near.dy - _NAME) for row, x, y in rows)
        scale *= near.scale
        self._to_paint = [(row, scale, x, y) for row, x, y in places if self._seen(row, scale, x, y)]
        return picture

    def _seen(self, row: Lane, scale: float, x: float, y: float) -> bool:
        """Whether anything of a row at a place lies on the screen."""
        return (x < self.width() and x + (row.end - row.start) * scale > 0 and y < self.height()
                and y + row.width * scale + ABOVE > 0)

    def _box(self) -> Box:
        """What is told of the plan, so that another one is seen whole again: how long its lanes are, mm."""
        return 0.0, 0.0, sum(lane.end - lane.start for lane in self.lanes), 1.0

    def look(self, times: float, at: QPointF | None = None) -> None:
        """So many times nearer, about a place; 0: all of the stock."""
        if times <= 0:
            self.nearer.view = None
        else:
            self.nearer.by(times, at or QPointF(self.rect().center()), self.nearer.view or _WHOLE, _WHOLE, self._box())
        self._again()

    def _again(self) -> None:
        self._picture = None
        self.update()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What can be done with the piece that is pressed, and how the stock is looked at."""
        assert event is not None
        self.menu_of(self._key_at(QPointF(event.pos()))).exec(event.globalPos())

    def menu_of(self, key: str) -> QMenu:
        """The menu of the stock, or of a piece on it."""
        menu = QMenu(self)
        if key:
            offer(menu, f"Copy {plain(self.tell(key))}", lambda: copy_text(self.tell(key)))
            menu.addSeparator()
        offer_looks(menu, self, self.look)
        return menu

    def _key_at(self, place: QPointF) -> str:
        return next((key for rect, key in reversed(self.hits) if rect.contains(place)), "")

    def _paint_rows(self) -> None:
        """The stock with its pieces, painted once for as long as nothing of it changes; of a large job some rows in
        this turn of the event loop, the others in the next ones."""
        if self._picture is None:
            return
        painter, until = QPainter(self._picture[1]), time.perf_counter() + _TURN
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        while self._to_paint and time.perf_counter() < until:
            self._row(painter, *self._to_paint.pop(0))
        painter.end()
        if self._to_paint:
            self._later.start()
        else:
            self.parts.show(PartSaid(key, self.tell(key), rect.toRect(), key == self.selected)
                            for rect, key in self.hits)
        self.update()

    def _over(self, painter: QPainter) -> None:
        """Kept blocks are framed; a piece that is dragged hangs on the hand."""
        t = theme()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(t.verdigris), 3))
        for stock, (x0, y0, x1, y1) in self.kept:
            for frame, view, name in self.shown:
                box = QRectF(view.at((x0, y1)), view.at((x1, y0)))
                if name == stock and frame.contains(box.center()):
                    painter.drawRect(box)
        if self._drag is not None:
            key, began, now = self._drag
            rect = next((rect for rect, name in self.hits if name == key and rect.contains(began)), None)
            if rect is not None:
                painter.setPen(QPen(QColor(t.copper), 1.6, Qt.PenStyle.DashLine))
                painter.drawRect(rect.translated(now - began))

    def _row(self, painter: QPainter, row: Lane, scale: float, x: float, y: float) -> None:
        t = theme()
        painter.setFont(type_of(10.5, QFont.Weight.DemiBold))
        painter.setPen(QColor(t.ink))
        painter.drawText(QPointF(x, y + 15), _named(row, scale, painter.fontMetrics().horizontalAdvance))
        view = View(scale, x - row.start * scale, y + _NAME + row.width * scale)
        frame = QRectF(x, y + _NAME - 2, (row.end - row.start) * scale, row.width * scale + 4)
        self.shown.append((frame, view, row.name))
        painter.save()
        painter.setClipRect(frame.adjusted(-SIDE + 4 if row.start == 0 else 0, -2, 0.5, 2))
        ink = Ink(self.metal, self.selected, 8.5 if scale > 0.05 else 7.5, also=self.fold if self.fold else self.cut)
        for hit in paint(painter, self._between(row), view, ink):
            if frame.contains(hit.rect.center()) and hit.key:
                self.hits.append((hit.rect, hit.key))
        painter.restore()

    def _between(self, row: Lane) -> Drawing:
        """What of a lane's drawing reaches into its stretch: the rest would be painted in vain."""
        spans = self._spans.get(row.name, [])
        return Drawing(tuple(shape for shape, (low, high) in zip(row.drawing.shapes, spans, strict=False)
                             if low <= row.end and high >= row.start))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        key = self._key_at(event.position())
        if event.button() == Qt.MouseButton.MiddleButton or (not key and self.nearer.view is not None):
            self._grabbed = event.position()
        elif key and event.button() == Qt.MouseButton.LeftButton:
            self.pressed_at = self._stock_at(event.position())
            self.pressed.emit(key)
            self._drag = key, event.position(), event.position()

    def _stock_at(self, place: QPointF) -> tuple[str, float, float] | None:
        """The stock piece at a place and where on it, mm."""
        return next(((name, (place.x() - view.dx) / view.scale, (view.dy - place.y()) / view.scale)
                     for frame, view, name in self.shown if frame.contains(place)), None)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        drag, self._drag, self._grabbed = self._drag, None, None
        if drag is None or (event.position() - drag[1]).manhattanLength() < _DRAGGED:
            return
        self.update()
        at = self._stock_at(event.position())
        if at is not None:
            self.dropped.emit(drag[0], *at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._grabbed is not None:
            by, self._grabbed = event.position() - self._grabbed, event.position()
            self.nearer.move(by.x(), by.y())
            self._again()
            return
        if self._drag is not None:
            self._drag = *self._drag[:2], event.position()
            self.update()
            return
        hit = self._key_at(event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if hit else Qt.CursorShape.ArrowCursor)
        self.setToolTip(plain(self.tell(hit)) if hit else "")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if self.nearer.key(event, QPointF(self.rect().center()), self.nearer.view or _WHOLE, _WHOLE, self._box()):
            self._again()
            return
        keys = list(dict.fromkeys(key for _, key in self.hits))
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}.get(
            Qt.Key(event.key()))
        if step is None or not keys:
            super().keyPressEvent(event)
            return
        here = keys.index(self.selected) if self.selected in keys else -1
        self.pressed.emit(keys[(here + step) % len(keys)])


def _span(shape: Shape) -> tuple[float, float]:
    """From where to where along the stock a shape reaches."""
    if isinstance(shape, Line | Ring):
        xs = [p[0] for p in shape.points]
        return min(xs), max(xs)
    if isinstance(shape, Dim):
        return min(shape.a[0], shape.b[0]), max(shape.a[0], shape.b[0])
    return shape.at[0], shape.at[0]


def _named(row: Lane, scale: float, wide: Callable[[str], int]) -> str:
    """What stands over a line: the stock's name, and that it goes on, as far as there is room."""
    if row.start == 0:
        return row.name
    said = f"{row.name}, goes on"
    return said if wide(said) < (row.end - row.start) * scale + SIDE - 8 else "…"
