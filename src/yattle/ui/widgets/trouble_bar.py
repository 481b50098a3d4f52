"""One sentence over the foot of the bench, that moves nothing: what went wrong, or what was done."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPoint, QRect, Qt, QTimer
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from yattle.ui.theme import theme
from yattle.ui.widgets.words import Words

_WRAP = int(Qt.TextFlag.TextWordWrap)
_BESIDE = 8  # px to the bench's sides


class TroubleBar(QFrame):
    """One sentence over the foot of the bench: what went wrong, or what was done."""

    def __init__(self) -> None:
        super().__init__()
        self._bench: QWidget | None = None
        self._stays = False
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 7, 8, 7)
        self.text = Words()
        self.text.setWordWrap(True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.away = QPushButton("put away")
        self.away.setAccessibleName("put the message away")
        self.away.clicked.connect(self.hide)
        row.addWidget(self.text, 1)
        row.addWidget(self.away)
        self.timer = QTimer(self)
        self.timer.setSingleShot(True)
        self.timer.timeout.connect(self.hide)
        self.hide()

    def over(self, bench: QWidget, body: QWidget) -> None:
        """Lie over the foot of a bench in the window's ``body``, as wide as it; nothing there moves for it."""
        self.setParent(body)
        bench.installEventFilter(self)
        self._bench = bench

    def _place(self) -> None:
        body = self.parentWidget()
        if self._bench is not None and body is not None:
            wide = self._bench.width() - 2 * _BESIDE
            room = max(wide - self.away.sizeHint().width() - 40, 40)
            said = self.text.fontMetrics().boundingRect(QRect(0, 0, room, 10_000), _WRAP, self.text.text()).height()
            high = max(said, self.away.sizeHint().height()) + 16
            corner = self._bench.mapTo(body, QPoint(_BESIDE, self._bench.height() - high - _BESIDE))
            self.setGeometry(corner.x(), corner.y(), wide, high)
            self.raise_()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Resize and self.isVisible():
            self._place()
        return super().eventFilter(watched, event)

    def leave(self) -> None:
        """The bench it was said on is left: it goes, unless it is to stay."""
        if not self._stays:
            self.hide()

    def say(self, sentence: str, bad: bool, stays: bool = False) -> None:
        """What is ``bad``, or is to ``stay``, is there until it is put away; the rest goes by itself."""
        t = theme()
        ground, line = (t.oxide_soft, t.oxide) if bad else (t.card, t.verdigris)
        self.setStyleSheet(f"TroubleBar {{ background: {ground}; border: 1px solid {line}; border-radius: 7px; }}")
        self._stays = stays
        self.setAccessibleName(sentence)
        self.text.setText(sentence)
        self._place()
        self.show()
        QTimer.singleShot(0, self._place)  # once what is under it has its size
        self.timer.stop()
        if not bad and not stays:
            self.timer.start(8000)
