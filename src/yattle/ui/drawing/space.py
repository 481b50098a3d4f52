"""Flat surfaces in space: turnable, with what is hidden hidden (a depth buffer decides)."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QMenu

from yattle.ui.drawing.looking import LookedAt
from yattle.ui.drawing.menus import offer_looks

_LIGHT = np.array([-0.35, 0.55, 0.76])
_BY_KEY = 48.0  # px that Shift and an arrow move the picture


@dataclass
class SpaceSurface:
    """A flat polygon, shape (n, 3), seen from its front in ``front`` and from behind in ``back`` colour.

    ``lines`` are drawn on it: ends, width in points, colour. ``holes`` are cut out of it.
    """

    points: np.ndarray
    front: str
    back: str
    lines: list[tuple[np.ndarray, np.ndarray, float, str]]
    holes: list[np.ndarray] = field(default_factory=list)


class Space(LookedAt):
    """Shows the surfaces of :meth:`surfaces`; drag or arrow keys turn them, wheel, fingers, plus and minus bring them
    nearer, about the pointer, Shift and the arrows move them, Ctrl+0 shows them whole and as they first stood.
    ``azimuth``, ``tilt``: how that is, degrees."""

    nearest = 6.0  # times

    def __init__(self, name: str, azimuth: float = -32.0, tilt: float = 24.0) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._home = (azimuth, tilt)
        self.azimuth, self.tilt, self.zoom = azimuth, tilt, 1.0
        self.upright = 0.0
        self.aside = np.zeros(2)  # px that the picture is moved on the screen
        self.skin = 3.0  # px of depth that an edge may lie behind a surface and still be seen
        self._grip: QPointF | None = None
        self._soon = QTimer(self)  # flat drawings and numbers first, the picture in space right after
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.update)

    def surfaces(self) -> list[SpaceSurface]:
        """What is to be seen."""
        return []

    def sizeHint(self) -> QSize:
        return QSize(330, 260)

    def _rotation(self) -> np.ndarray:
        a, h, u = (math.radians(v) for v in (self.azimuth, self.tilt, self.upright))
        stand = np.array([[1, 0, 0], [0, math.cos(u), -math.sin(u)], [0, math.sin(u), math.cos(u)]])
        # Run along x, up is z; the eye looks from in front (−y) and above.
        spin = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
        tip = np.array([[1, 0, 0], [0, math.sin(h), math.cos(h)], [0, -math.cos(h), math.sin(h)]])
        return np.asarray(tip @ spin @ stand)

    # -- painting ---------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        surfaces = self.surfaces()
        if not surfaces or self.width() < 30 or self.height_px < 30:
            return
        rotation = self._rotation()
        eye = [surface.points @ rotation.T for surface in surfaces]
        everything = np.vstack(eye)
        low, high = everything.min(axis=0), everything.max(axis=0)
        frame = QRectF(self.rect()).adjusted(26, 20, -26, -20)
        scale = min(frame.width() / max(high[0] - low[0], 1), frame.height() / max(high[1] - low[1], 1)) * self.zoom
        middle, centre = (low + high) / 2, self._centre()

        def on_screen(space: np.ndarray) -> np.ndarray:
            p = space @ rotation.T
            return np.column_stack((centre[0] + (p[:, 0] - middle[0]) * scale,
                                    centre[1] - (p[:, 1] - middle[1]) * scale, p[:, 2] * scale))
        ratio = 2
        width, height = self.width() * ratio, self.height_px * ratio
        depth = np.full((height, width), -1e9, dtype=np.float32)
        colour = np.zeros((height, width), dtype=np.uint32)
        grow = np.array([ratio, ratio, 1])
        for surface, space in zip(surfaces, eye, strict=True):
            holes = [on_screen(hole) * grow for hole in surface.holes]
            _fill(on_screen(surface.points) * grow, holes, space, surface, depth, colour)
        image = QImage(colour.tobytes(), width, height, width * 4, QImage.Format.Format_ARGB32)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(self.rect()), image)
        for surface in surfaces:
            for a, b, thick, ink in surface.lines:
                pen = QPen(QColor(ink), thick)
                pen.setCapStyle(Qt.PenCapStyle.RoundCap)
                painter.setPen(pen)
                ends = on_screen(np.vstack((a, b)))
                painter.drawPath(_visible(ends[0], ends[1], depth, ratio, self.skin))
        painter.end()

    def _centre(self) -> np.ndarray:
        """Where the middle of what is shown comes on the screen, px."""
        centre = QRectF(self.rect()).center()
        return np.array([centre.x(), centre.y()]) + self.aside

    @property
    def height_px(self) -> int:
        return super().height()

    # -- turning ----------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._grip = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._grip is not None and event.buttons():
            moved = event.position() - self._grip
            self._grip = event.position()
            self.turn(moved.x() * 0.5, moved.y() * 0.5)

    def turn(self, sideways: float, up: float) -> None:
        """Turn by degrees; the piece never tips over."""
        self.azimuth = (self.azimuth + sideways) % 360
        self.tilt = max(-85.0, min(85.0, self.tilt + up))
        self.update()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """How it is looked at, and its picture."""
        assert event is not None
        self.menu().exec(event.globalPos())

    def menu(self) -> QMenu:
        """The menu of the drawing."""
        menu = QMenu(self)
        offer_looks(menu, self, self.look)
        return menu

    def look(self, times: float, at: QPointF | None = None) -> None:
        """So many times nearer, about a place of the screen; with 0 whole, and as it first stood."""
        if times == 0:
            self.azimuth, self.tilt = self._home
        nearer = max(0.4, min(self.nearest, self.zoom * times)) if times else 1.0
        to_it = np.array([at.x(), at.y()]) - self._centre() if at is not None else -self.aside
        self.aside = self.aside + to_it * (1.0 - nearer / self.zoom) if times else np.zeros(2)
        self.zoom = nearer
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        key, moves = Qt.Key(event.key()), event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        if key in ways and moves:
            self.aside = self.aside - np.array(ways[key]) * _BY_KEY
            self.update()
        elif key in ways:
            self.turn(8 * ways[key][0], 6 * ways[key][1])
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.look(1.15)
        elif event.key() == Qt.Key.Key_Minus:
            self.look(1 / 1.15)
        elif event.key() == Qt.Key.Key_0 and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.look(0)
        else:
            super().keyPressEvent(event)


def _fill(points: np.ndarray, holes: list[np.ndarray], space: np.ndarray, surface: SpaceSurface, depth: np.ndarray,
          colour: np.ndarray) -> None:
    normal = _normal(space)
    if abs(normal[2]) < 1e-3:
        return
    x0, y0 = np.floor(points[:, :2].min(axis=0)).astype(int)
    x1, y1 = np.ceil(points[:, :2].max(axis=0)).astype(int) + 1
    x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, depth.shape[1]), min(y1, depth.shape[0])
    if x1 <= x0 or y1 <= y0:
        return
    mask = _mask([ring[:, :2] - (x0, y0) for ring in (points, *holes)], x1 - x0, y1 - y0)
    # The surface is plane: its depth runs evenly over the screen.
    slope = np.linalg.lstsq(np.column_stack((points[:, :2], np.ones(len(points)))), points[:, 2], rcond=None)[0]
    slope = slope.astype(np.float32)
    z = ((np.arange(x0, x1, dtype=np.float32) * slope[0])[None, :]
         + (np.arange(y0, y1, dtype=np.float32) * slope[1] + slope[2])[:, None])
    near, shown = depth[y0:y1, x0:x1], colour[y0:y1, x0:x1]
    seen = mask & (z > near)
    np.copyto(near, z, where=seen)
    np.copyto(shown, _shade(normal, surface), where=seen)


def _shade(normal: np.ndarray, surface: SpaceSurface) -> np.uint32:
    front_seen = normal[2] > 0
    base = QColor(surface.front if front_seen else surface.back)
    toward = normal if front_seen else -normal
    light = 0.62 + 0.55 * max(float(toward @ _LIGHT), 0.0)
    red, green, blue = (min(int(c * light), 255) for c in (base.red(), base.green(), base.blue()))
    return np.uint32(QColor(red, green, blue).rgba())


def _normal(space: np.ndarray) -> np.ndarray:
    after = np.roll(space, -1, axis=0)
    normal = np.cross(space, after).sum(axis=0)
    length = np.linalg.norm(normal)
    return np.asarray(normal / length if length else normal)


def _mask(rings: list[np.ndarray], width: int, height: int) -> np.ndarray:
    image = QImage(width, height, QImage.Format.Format_Grayscale8)
    image.fill(0)
    painter = QPainter(image)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("white"))
    path = QPainterPath()  # odd and even: holes stay open
    for ring in rings:
        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring]))
        path.closeSubpath()
    painter.drawPath(path)
    painter.end()
    bits = image.constBits()
    assert bits is not None
    rows = np.frombuffer(bytes(bits.asarray(image.sizeInBytes())), dtype=np.uint8).reshape(height, image.bytesPerLine())
    return np.asarray(rows[:, :width] > 127)


def _visible(a: np.ndarray, b: np.ndarray, depth: np.ndarray, ratio: int, skin: float) -> QPainterPath:
    """What of the edge is not behind anything nearer."""
    count = max(2, int(math.hypot(b[0] - a[0], b[1] - a[1]) / 2))
    along = a + (b - a) * np.linspace(0, 1, count)[:, None]
    column = np.clip((along[:, 0] * ratio).astype(int), 1, depth.shape[1] - 2)
    row = np.clip((along[:, 1] * ratio).astype(int), 1, depth.shape[0] - 2)
    seen = along[:, 2] >= depth[row, column] - skin
    turns = np.flatnonzero(np.diff(np.concatenate(([False], seen, [False])).astype(np.int8)))
    path = QPainterPath()
    for start, end in zip(turns[::2], turns[1::2], strict=True):
        path.moveTo(along[start, 0], along[start, 1])
        path.lineTo(along[end - 1, 0], along[end - 1, 1])
    return path
