"""A drawing on the screen: fitted, pressable, its numbers typed in place."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QFont,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import QLineEdit, QMenu, QToolTip, QWidget

from yattle.drawing.placing import Box
from yattle.drawing.shapes import Drawing
from yattle.session import Session
from yattle.ui.drawing.looking import LookedAt
from yattle.ui.drawing.menus import offer, offer_looks
from yattle.ui.drawing.nearer import Nearer
from yattle.ui.drawing.paint import Hit, Ink, View, paint
from yattle.ui.drawing.parts import DrawnParts, PartSaid
from yattle.ui.drawing.words import width_of
from yattle.ui.theme import theme, type_of
from yattle.ui.typing import Bound
from yattle.ui.widgets.clipboard import copy_text
from yattle.ui.widgets.words import plain


class Canvas(LookedAt):
    """Shows one :class:`Drawing`.

    ``pressed(key)``: a shape was pressed, or reached with Tab-like arrow keys and Return.
    ``resized``: the drawing may want to be made anew for the new size. Where a bench takes what is typed
    (:meth:`takes`), ``edit`` takes a key and a text and returns what is wrong with it, or ``None``.
    """

    pressed = pyqtSignal(str)
    resized = pyqtSignal()

    def __init__(self, name: str, margin: tuple[int, int, int, int] = (40, 34, 40, 34)) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.drawing, self.ink = Drawing(()), Ink()
        self.margin = margin
        self.most_scale = 1e9
        self.finger = 0.0  # px: what is pressed beside everything means the nearest thing this near
        self.elsewhere = ""  # the key that is meant where nothing is
        self.corners = ("", "")
        self.edit: Callable[[str, str], str | None] | None = None
        self._typeable: Callable[[str], bool] = lambda key: False
        self._session: Session | None = None
        self.hits: list[Hit] = []
        self.parts = DrawnParts(self, self.pressed.emit)
        self._view = View(1, 0, 0)
        self.held: View | None = None  # a view that is kept whatever is drawn
        self.nearer = Nearer()
        self._grabbed: QPointF | None = None  # where the drawing is held while it is moved
        self._editor: QLineEdit | None = None
        self._editing, self._refused = "", False

    def takes(self, session: Session, edit: Callable[[str, str], str | None], typeable: Callable[[str], bool]) -> None:
        """Let numbers be typed on the drawing: ``edit`` takes them, ``typeable`` tells which keys are numbers."""
        self._session, self.edit, self._typeable = session, edit, typeable

    def sizeHint(self) -> QSize:
        return QSize(400, 260)

    def show_drawing(self, drawing: Drawing, ink: Ink) -> None:
        self.drawing, self.ink = drawing, ink
        self.nearer.keep(drawing.box)
        self.update()

    @property
    def frame(self) -> QRectF:
        left, top, right, bottom = self.margin
        return QRectF(self.rect()).adjusted(left, top, -right, -bottom)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.drawing.frame is not None:
            painter.setClipRect(self.rect())
        if self.nearer.view is not None:
            painter.setClipRect(self.rect())
        self._view = self.held or self.nearer.view or self.whole
        self.ink.clear = self.kept_clear()
        self.hits = paint(painter, self.drawing, self._view, self.ink)
        self._tell_reader()
        self._say_corners(painter)
        painter.end()

    def _tell_reader(self) -> None:
        """What of the drawing is in hand, for who cannot see it: its text, and which of how many parts it is."""
        parts = list(dict.fromkeys(hit.key for hit in self.hits if hit.key))
        here = next((hit for hit in reversed(self.hits) if hit.key and hit.key == self.ink.selected), None)
        said = f"{len(parts)} parts, arrows go from one to the next" if here is None else (
            f"{here.text or here.key.replace(':', ' ')}, {parts.index(here.key) + 1} of {len(parts)}")
        if said != self.accessibleDescription():
            self.setAccessibleDescription(said)
        names = {hit.key: hit.text for hit in self.hits if hit.text}
        self.parts.show(PartSaid(hit.key, names.get(hit.key) or hit.key.replace(":", " "), hit.rect.toRect(),
                                 hit.key == self.ink.selected) for hit in self.hits)

    @property
    def whole(self) -> View:
        """The view in which all of the drawing is seen."""
        return View.fit(self.drawing.box, self.frame, self.most_scale)

    def kept_clear(self) -> tuple[Box, ...]:
        """Places that texts keep clear of, px."""
        return ()

    def look(self, times: float, at: QPointF | None = None) -> None:
        """So many times nearer, about a place; 0: the whole drawing. One whose view is held stays as it is."""
        if self.held is not None:
            return
        if times <= 0:
            self.nearer.view = None
        else:
            self.nearer.by(times, at or QPointF(self.rect().center()), self._view, self.whole, self.drawing.box)
        self.update()

    def _say_corners(self, painter: QPainter) -> None:
        """What the drawing says of itself: below on the left, and the hand below on the right."""
        foot = QRectF(self.rect()).adjusted(7, 5, -7, -5)  # within the ring
        left, right = self.corners
        if self.nearer.view is not None:
            painter.setFont(type_of(10.5))
            painter.setPen(QColor(theme().dim))
            painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, "Ctrl+0 shows all")
        if right and width_of(left + right, type_of(10.5)) > foot.width() - 30:
            left = ""  # no room for both: the hand matters more
        for said, side, weight in ((left, Qt.AlignmentFlag.AlignLeft, QFont.Weight.Normal),
                                   (right, Qt.AlignmentFlag.AlignRight, QFont.Weight.DemiBold)):
            painter.setFont(type_of(10.5, weight))
            painter.setPen(QColor(theme().dim if side == Qt.AlignmentFlag.AlignLeft else theme().ink))
            painter.drawText(foot, side | Qt.AlignmentFlag.AlignBottom, said)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.resized.emit()

    def hit_at(self, place: QPointF) -> Hit | None:
        met = next((hit for hit in reversed(self.hits) if hit.contains(place)), None)
        if met is not None or not self.finger:
            return met
        near = min(self.hits, key=lambda hit: hit.away(place), default=None)
        return near if near is not None and near.away(place) <= self.finger else None

    def key_at(self, place: QPointF) -> str:
        """What is meant by a press at ``place``; empty where it means nothing."""
        hit = self.hit_at(place)
        return hit.key if hit is not None else self.elsewhere

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        key = self.key_at(event.position())
        if event.button() == Qt.MouseButton.MiddleButton or (not key and self.nearer.view is not None):
            self._grabbed = event.position()
            return
        if not key or event.button() != Qt.MouseButton.LeftButton:
            return
        self.pressed.emit(key)
        if key.startswith(("leg:", "turn:", "block:")):
            self.type_into(key)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._grabbed is not None:
            by, self._grabbed = event.position() - self._grabbed, event.position()
            self.nearer.move(by.x(), by.y())
            self.update()
            return
        pressable = bool(self.key_at(event.position()))
        self.setCursor(Qt.CursorShape.PointingHandCursor if pressable else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grabbed = None

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What can be done with what is pressed, and how the drawing is looked at."""
        assert event is not None
        hit = self.hit_at(QPointF(event.pos()))
        menu = self.menu_of(hit)
        menu.exec(event.globalPos())

    def menu_of(self, hit: Hit | None) -> QMenu:
        """The menu of a drawing, or of a number on it."""
        menu = QMenu(self)
        if hit is not None and hit.text:
            offer(menu, f"Copy {hit.text}", lambda: copy_text(hit.text))
            if self._typeable(hit.key) and self.edit is not None:
                offer(menu, "Type it …", lambda: self.type_into(hit.key))
            menu.addSeparator()
        offer_looks(menu, self, self.look)
        return menu

    def type_into(self, key: str) -> None:
        """Open a field over the number of ``key``."""
        hit = next((hit for hit in self.hits if hit.key == key), None)
        if hit is None or self.edit is None or not self._typeable(key):
            return
        if self._editor is not None and self.take() is not None:
            return  # what stands there is refused: it stays
        editor = QLineEdit(hit.text, self)
        editor.setObjectName("number")
        editor.setAccessibleName(f"type {key}")
        rect = hit.rect.toRect()
        rect.setWidth(max(rect.width() + 34, 96))
        rect.setHeight(34)
        rect.moveCenter(hit.rect.center().toPoint())
        editor.setGeometry(rect)
        editor.installEventFilter(self)
        editor.returnPressed.connect(self._typed)
        editor.show()
        editor.setFocus()
        editor.selectAll()
        self._editor, self._editing, self._refused = editor, key, False

    def _typed(self) -> None:
        self.take()

    # -- what is being typed (see yattle.ui.typing) -------------------------------------------------

    def typed(self) -> str:
        under_way = self._editor is not None and (self._editor.isModified() or self._refused)
        return self._editing.replace(":", " ").removeprefix("block ") if under_way else ""

    def take(self) -> str | None:
        """Take the number that is typed; a wrong one stays with its sentence."""
        editor = self._editor
        if editor is None or self.edit is None:
            return None
        wrong = self.edit(self._editing, editor.text())
        if wrong is None:
            self.stop_typing()
            return None
        self._refused = True
        editor.setProperty("wrong", "true")
        style = editor.style()
        assert style is not None
        style.polish(editor)
        editor.setToolTip(plain(wrong))
        QToolTip.showText(editor.mapToGlobal(editor.rect().bottomLeft()), wrong, editor)
        return wrong

    def show_it(self) -> None:
        if self._editor is not None:
            self._editor.setFocus()

    def bound(self, widget: QWidget) -> Bound | None:
        session, key, edit = self._session, self._editing, self.edit
        if widget is not self._editor or session is None or edit is None:
            return None
        selection = session.selection

        def put(text: str, simulated: bool) -> str | None:
            if simulated:
                return f"found {text} of a stand-in, which is no measure, expected a measure to be typed"
            if selection == session.selection and self._editor is not None and self._editing == key:
                self._editor.setText(text)
                return self.take()
            wrong: list[str | None] = []
            session.for_selection(selection, lambda: wrong.append(edit(key, text)))
            return wrong[0]
        return Bound(key.replace(":", " "), put)

    def stop_typing(self) -> None:
        """Close the field; what is in it is let go."""
        if self._editor is not None:
            editor, self._editor, self._refused = self._editor, None, False
            here = editor.hasFocus()
            editor.hide()
            editor.deleteLater()
            if here:
                self.setFocus()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if watched is not self._editor:
            return super().eventFilter(watched, event)
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape:
            self.stop_typing()
            return True
        if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusOut:
            self._left(event.reason())
        return super().eventFilter(watched, event)

    def _left(self, reason: Qt.FocusReason) -> None:
        """The keyboard went elsewhere: what was typed is taken; another window or a menu is no reason."""
        editor = self._editor
        if editor is None or reason in (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason):
            return
        if editor.isModified():
            self.take()
        elif not self._refused:
            self.stop_typing()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if self._editor is not None:  # what the field leaves over is not for the drawing
            return
        if self.nearer.key(event, QPointF(self.rect().center()), self._view, self.whole, self.drawing.box):
            self.update()
            return
        keys = list(dict.fromkeys(hit.key for hit in self.hits if hit.key))
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}.get(
            Qt.Key(event.key()))
        if step is None or not keys:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.ink.selected:
                self.type_into(self.ink.selected)
                return
            super().keyPressEvent(event)
            return
        here = keys.index(self.ink.selected) if self.ink.selected in keys else (-1 if step > 0 else 0)
        self.pressed.emit(keys[(here + step) % len(keys)])
