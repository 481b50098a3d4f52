"""The roof as built in space: pieces, panels and decks at their places, stage by stage, drawn apart or cut open."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from yattle.built.cut_open import cut_layers
from yattle.built.shown import BuiltShown, ShownPart
from yattle.pattern.rings import area_vectors, before_plane, boxes
from yattle.ui.drawing.layers import paint_key, paint_layers, paint_sheets
from yattle.ui.drawing.sight import CHUNK, Sight, pieces_of
from yattle.ui.drawing.space import Space
from yattle.ui.theme import theme

_RANK = 90.0  # mm nearer for every stage: what goes on later lies over what is there
_LIGHT = np.array([-0.35, 0.55, 0.76])
_TURNS = (0, 30, -30, 60, -60, 90, -90, 120, -120, 150, -150, 180)  # degrees: the least turn first
_CLOSE = 40.0  # mm off a place: what is nearer is the place itself
_ROUND_IT = 250.0  # mm: what is so near a place is to be seen with it
_RING = 13.0  # px: round the place of what is wrong
_FAR = 2800.0  # mm that the last stage is lifted where all is drawn apart
_FLAT = 0.02  # of a unit normal: seams stand upright and are seen from both sides
_TONES = {"deck": "#c4aa84", "panel": "#aaaeb2"}


@dataclass(frozen=True)
class _DrawnPiece:
    """A piece of a part as it is drawn: its corners (n, 3), and from which to which of them its part's edges go."""

    part: ShownPart
    ring: np.ndarray
    edges: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class _TurnedScene:
    """All pieces ready to be turned: the corners of all, where each one's begin, their middles and unit normals, the
    stages they go on at, whether they are of a piece of the job and seen from both sides, the boxes round them."""

    facets: list[_DrawnPiece]
    corners: np.ndarray
    starts: np.ndarray
    middles: np.ndarray
    normals: np.ndarray
    stages: np.ndarray
    pieces: np.ndarray
    lows: np.ndarray
    highs: np.ndarray

    @staticmethod
    def of(built: BuiltShown) -> _TurnedScene:
        facets = [facet for part in built.parts for facet in _facets(part)]
        sizes = np.array([len(facet.ring) for facet in facets], dtype=int)
        starts = np.concatenate(([0], np.cumsum(sizes)))
        corners = np.concatenate([facet.ring for facet in facets]) if facets else np.empty((0, 3))
        middles = np.array([facet.ring.mean(axis=0) for facet in facets]).reshape(-1, 3)
        normals = area_vectors([facet.ring for facet in facets])
        normals = normals / np.maximum(np.linalg.norm(normals, axis=1), 1e-9)[:, None]
        lies = np.array([facet.part.kind != "piece" for facet in facets], dtype=bool)
        normals[lies & (normals[:, 2] < 0.0)] *= -1.0  # what lies looks up
        lows, highs = boxes([facet.ring for facet in facets])
        return _TurnedScene(facets, corners, starts, middles, normals, np.array([facet.part.stage for facet in facets]),
                            ~lies, lows - 1.0, highs + 1.0)

_Drawn = tuple[float, int, np.ndarray, tuple[tuple[int, int], ...]]
"""How near a piece is, which facet of the scene it is of, its corners on the screen and its edges that are seen."""


class BuiltSolid(Space):
    """All that is on at a stage; what goes on now in copper, what is lit in copper with a ring at its place. ``apart``
    lifts every stage off the one before; ``cut`` opens it from one side, its layers drawn as thick as they are."""

    nearest = 240.0  # times: a sheet's thickness is seen

    def __init__(self, name: str) -> None:
        super().__init__(name, -28.0, 30.0)
        self.metal, self.stage, self.item = "#4a6b80", 0, ""
        self.apart, self.cut = 0.0, 1.0
        self.place: tuple[float, float, float] | None = None
        self._shown: BuiltShown | None = None
        self._scene = _TurnedScene.of(BuiltShown((), (), ()))

    def show_built(self, built: BuiltShown | None, metal: str, stage: int, item: str = "") -> None:
        """``stage``: so many are on; ``item``: lit, whatever its stage."""
        if built is self._shown and (metal, stage, item) == (self.metal, self.stage, self.item):
            return
        if built is not self._shown:
            self._scene = _TurnedScene.of(built if built is not None else BuiltShown((), (), ()))
        self._shown, self.metal, self.stage, self.item = built, metal, stage, item
        self._soon.start(20)

    def light(self, place: tuple[float, float, float] | None) -> None:
        """Ring a place, mm, turned so that the least lies before it; with none, nothing."""
        self.place = place
        if place is not None and self._scene.facets:
            now = self.azimuth
            self.azimuth = min(((now + turn) % 360 for turn in _TURNS), key=lambda one: self._before(place, one))
        self.zoom = max(self.zoom, 4.0) if place is not None else 1.0
        self.aside = np.zeros(2)
        self.update()

    def _before(self, place: tuple[float, float, float], azimuth: float) -> int:
        """How many of the drawn pieces lie between the eye and a place, and those round it, from some way round,
        degrees."""
        self.azimuth, scene = azimuth, self._scene
        eye = self._rotation()[2]
        straight = scene.normals @ eye
        on = np.array([self._is_on(facet.part) for facet in scene.facets], dtype=bool)
        shown = on & ((straight > _FLAT) | (scene.pieces & (straight < -_FLAT)))
        found = 0
        for at in np.array(place) + _ROUND_IT * np.concatenate((np.zeros((1, 3)), np.eye(3), -np.eye(3))):
            off = ((scene.middles - at) * scene.normals).sum(axis=1) / np.where(shown, straight, 1.0)
            met = at + off[:, None] * eye
            found += int((shown & (off > _CLOSE) & ((met > scene.lows) & (met < scene.highs)).all(axis=1)).sum())
        return found

    @property
    def seen(self) -> list[ShownPart]:
        """What is drawn at the stage, each part as often as it is drawn in pieces."""
        return [facet.part for facet in self._scene.facets if self._is_on(facet.part)]

    def _is_on(self, part: ShownPart) -> bool:
        return part.stage <= self.stage or part.item == self.item != ""

    # -- painting ---------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._scene.facets and self.width() > 30 and self.height_px > 30:
            self._paint(painter)
        painter.end()

    def _paint(self, painter: QPainter) -> None:
        scene, rotation, toward = self._scene, self._rotation(), self._eye_level()
        lift = np.zeros((len(scene.facets), 3))
        lift[:, 2] = _FAR * self.apart * scene.stages / max(int(scene.stages.max()), 1)
        corners = scene.corners + np.repeat(lift, np.diff(scene.starts), axis=0)
        sight = self._fit(rotation, corners)
        faces = scene.normals @ rotation.T
        shade = 0.62 + 0.5 * np.maximum(np.where(faces[:, 2:] > 0, faces, -faces) @ _LIGHT, 0.0)
        level, inks = self._level(corners, toward), self._inks()
        on = np.array([self._is_on(facet.part) for facet in scene.facets], dtype=bool)
        if level is None:
            on &= scene.pieces | (faces[:, 2] >= -_FLAT)  # the underside of what lies is not seen from above
        on &= sight.shows(corners, scene.starts[:-1])
        layered = self._shown.layers if self._shown is not None else {}  # no sheets: they are drawn as layers
        drawn, cuts = list[_Drawn](), list[tuple[np.ndarray, np.ndarray]]()
        flat, depth = sight.at(corners), (scene.middles + lift) @ rotation[2] + _RANK * scene.stages
        reach = np.maximum.reduceat(corners @ toward, scene.starts[:-1])
        for n in np.nonzero(on)[0].tolist():
            (i, j), facet, line = scene.starts[n:n + 2], scene.facets[n], None
            ring, edges = corners[i:j], facet.edges
            if level is not None and reach[n] > level:
                ring, line = before_plane(ring, toward, level)
                cuts += [line] if line is not None and facet.part.name not in layered else []
                edges = ()
            if sight.near:
                drawn += [(float(piece.mean(axis=0) @ rotation[2]) + _RANK * float(scene.stages[n]), n, sight.at(piece),
                           tuple(_edges_on(corners[i:j], facet.edges, piece))) for piece in sight.pieces(ring)]
            elif len(ring) > 2:
                drawn.append((float(depth[n]), n, flat[i:j] if line is None else sight.at(ring), edges))
        for _, n, points, edges in sorted(drawn, key=lambda one: one[0]):
            part = scene.facets[n].part
            self._facet(painter, part.kind == "piece", points, edges, _shaded(inks[self._tone(part)], float(shade[n])))
        if level is not None and self._shown is not None:
            layers = list(cut_layers(self._shown, toward, level))
            paint_layers(painter, layers, sight.at)
            paint_sheets(painter, cuts, self._shown.sheet, sight.at)
            paint_key(painter, self.rect(), layers, self._shown.sheet, sight.at)
        self._ring(painter, sight.at)

    def _ring(self, painter: QPainter, at: Callable[[np.ndarray], np.ndarray]) -> None:
        """A ring at the place that is lit."""
        t = theme()
        if self.place is not None:
            (p,) = at(np.array([self.place]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(t.oxide), 3.0))
            painter.drawEllipse(QPointF(*p), _RING, _RING)

    def _tone(self, part: ShownPart) -> str:
        """Lit, going on now, or of its kind."""
        if part.item == self.item != "" or (part.stage == self.stage and part.kind != "deck" and not self.item):
            return "now"
        return part.kind

    def _inks(self) -> dict[str, QColor]:
        tones = {**_TONES, "piece": self.metal, "now": theme().copper}
        return {name: QColor(tone) for name, tone in tones.items()}

    def _facet(self, painter: QPainter, is_piece: bool, flat: np.ndarray, edges: tuple[tuple[int, int], ...],
               fill: QColor) -> None:
        points = [QPointF(x, y) for x, y in flat.tolist()]
        painter.setPen(QPen(fill, 0.8))
        painter.setBrush(fill)
        painter.drawPolygon(QPolygonF(points))
        if is_piece and self._grip is None:
            painter.setPen(QPen(fill.darker(170), 0.8))
            for a, b in edges:
                painter.drawLine(points[a], points[b])

    def _fit(self, rotation: np.ndarray, corners: np.ndarray) -> Sight:
        """How the roof comes on the widget: the whole in sight, or about the lit place."""
        eye = corners @ rotation.T
        low, high = eye.min(axis=0), eye.max(axis=0)
        frame = QRectF(self.rect()).adjusted(26, 20, -26, -20)
        scale = min(frame.width() / max(high[0] - low[0], 1), frame.height() / max(high[1] - low[1], 1)) * self.zoom
        middle = (low + high) / 2 if self.place is None else rotation @ np.array(self.place)
        return Sight(rotation, middle[:2], self._centre(), scale, (self.width(), self.height_px))

    def _eye_level(self) -> np.ndarray:
        """The level way to the eye."""
        a = math.radians(self.azimuth)
        return np.array([-math.sin(a), -math.cos(a), 0.0])

    def _level(self, corners: np.ndarray, toward: np.ndarray) -> float | None:
        """How far toward the eye the roof is left standing, mm; ``None`` where it is whole."""
        if self.cut >= 1.0 - 1e-6:
            return None
        off = corners @ toward
        return float(off.min() + (off.max() - off.min()) * self.cut)


def _facets(part: ShownPart) -> list[_DrawnPiece]:
    """A part in pieces no larger than so many mm either way."""
    return [_DrawnPiece(part, piece, tuple(_own_edges(part.ring, piece))) for piece in pieces_of(part.ring, CHUNK)]


def _shaded(base: QColor, shade: float) -> QColor:
    return QColor(min(int(base.red() * shade), 255), min(int(base.green() * shade), 255),
                  min(int(base.blue() * shade), 255))


def _own_edges(ring: np.ndarray, piece: np.ndarray) -> Iterator[tuple[int, int]]:
    """Which edges of a piece lie on an edge of its part."""
    return _edges_on(ring, tuple((n, (n + 1) % len(ring)) for n in range(len(ring))), piece)


def _edges_on(ring: np.ndarray, edges: tuple[tuple[int, int], ...], piece: np.ndarray) -> Iterator[tuple[int, int]]:
    """Which edges of a piece lie on some edges of a ring."""
    if not edges:
        return
    starts = ring[[a for a, _ in edges]]
    ways = ring[[b for _, b in edges]] - starts
    ways = ways / np.maximum(np.linalg.norm(ways, axis=1), 1e-9)[:, None]
    away = piece[:, None, :] - starts
    off = away - (away * ways).sum(axis=2)[:, :, None] * ways
    on = np.linalg.norm(off, axis=2) < 0.01
    yield from ((n, (n + 1) % len(piece)) for n in np.nonzero((on & np.roll(on, -1, axis=0)).any(axis=1))[0].tolist())
