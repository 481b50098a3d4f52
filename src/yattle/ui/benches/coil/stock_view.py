"""Stock to scale with the pieces on it: a long coil goes on in the next line."""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget

from yattle.drawing.shapes import Dim, Drawing, Line, Ring, Shape
from yattle.ui.benches.coil.lanes import Lane
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.drawing.parts import DrawnParts, PartSaid
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.words import plain

_SIDE, _ABOVE = 44, 34  # px beside and above a row
_TURN = 0.05  # seconds that rows are painted in one turn
_DRAGGED = 12  # px: less is a press


class StockView(QWidget):
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
        self.update()

    def _rows(self, longest: float) -> list[Lane]:
        """The lanes cut at crosscuts so that none is longer than ``longest`` mm (where that can be)."""
        rows = []
        for lane in self.lanes:
            start = lane.start
            stops = [stop for stop in self.breaks.get(lane.name, []) if lane.start < stop < lane.end] + [lane.end]
            for n, stop in enumerate(stops):
                last = n == len(stops) - 1
                if last or stops[n + 1] - start > longest:
                    rows.append(Lane(lane.name, lane.drawing, start, stop, lane.width))
                    start = stop
        return rows

    def _best_rows(self) -> tuple[list[tuple[Lane, float, float]], float]:
        """The rows with their places, and the scale at which everything is shown largest."""
        best: tuple[list[tuple[Lane, float, float]], float] = ([], 0.0)
        total = max((lane.end - lane.start for lane in self.lanes), default=1.0)
        for count in range(1, 9):
            rows = self._rows(total / count * 1.08)
            low, high = 0.0, (self.width() - 2 * _SIDE) / max(row.end - row.start for row in rows)
            for _ in range(18):
                scale = (low + high) / 2 if low else high
                placed, height = self._flow(rows, scale)
                if height <= self.height():
                    low = scale
                    if scale > best[1]:
                        best = (placed, scale)
                    if scale == high:
                        break
                else:
                    high, low = scale, low or scale / 64
        return best

    def _flow(self, rows: list[Lane], scale: float) -> tuple[list[tuple[Lane, float, float]], float]:
        """Rows set side by side while they fit, like words; their places and the height taken."""
        placed: list[tuple[Lane, float, float]] = []
        x, y, tall = float(_SIDE), 4.0, 0.0
        for row in rows:
            wide, high = (row.end - row.start) * scale, row.width * scale + _ABOVE
            if placed and x + wide > self.width() - _SIDE / 2:
                x, y, tall = float(_SIDE), y + tall, 0.0
            placed.append((row, x, y))
            x, tall = x + wide + _SIDE + 10, max(tall, high)
        return placed, y + tall

    def paintEvent(self, event: QPaintEvent | None) -> None:
        of = (self.size(), self.devicePixelRatioF(), theme())
        if self._picture is None or self._picture[0] != of:
            self._picture = (of, self._blank())
            self._paint_rows()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.drawPixmap(0, 0, self._picture[1])
        self._over(painter)
        painter.end()

    def _blank(self) -> QPixmap:
        """An empty picture, and the rows that are to come onto it."""
        ratio = self.devicePixelRatioF()
        picture = QPixmap((QSizeF(self.size()) * ratio).toSize())
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        self.hits, self.shown = [], []
        rows, scale = self._best_rows() if self.lanes else ([], 1.0)
        self._to_paint = [(row, scale, x, y) for row, x, y in rows]
        return picture

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
        view = View(scale, x - row.start * scale, y + 22 + row.width * scale)
        frame = QRectF(x, y + 20, (row.end - row.start) * scale, row.width * scale + 4)
        self.shown.append((frame, view, row.name))
        painter.save()
        painter.setClipRect(frame.adjusted(-_SIDE + 4 if row.start == 0 else 0, -2, 0.5, 2))
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
        for rect, key in reversed(self.hits):
            if rect.contains(event.position()):
                self.pressed_at = self._stock_at(event.position())
                self.pressed.emit(key)
                self._drag = key, event.position(), event.position()
                return

    def _stock_at(self, place: QPointF) -> tuple[str, float, float] | None:
        """The stock piece at a place and where on it, mm."""
        return next(((name, (place.x() - view.dx) / view.scale, (view.dy - place.y()) / view.scale)
                     for frame, view, name in self.shown if frame.contains(place)), None)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        drag, self._drag = self._drag, None
        if drag is None or (event.position() - drag[1]).manhattanLength() < _DRAGGED:
            return
        self.update()
        at = self._stock_at(event.position())
        if at is not None:
            self.dropped.emit(drag[0], *at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag is not None:
            self._drag = *self._drag[:2], event.position()
            self.update()
            return
        hit = next((key for rect, key in reversed(self.hits) if rect.contains(event.position())), "")
        self.setCursor(Qt.CursorShape.PointingHandCursor if hit else Qt.CursorShape.ArrowCursor)
        self.setToolTip(plain(self.tell(hit)) if hit else "")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
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
    return said if wide(said) < (row.end - row.start) * scale + _SIDE - 8 else "…"
