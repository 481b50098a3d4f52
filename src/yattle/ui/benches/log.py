"""The log bench: what was measured, tried, changed and learnt; the springback found, with its spread."""

from __future__ import annotations

from datetime import date

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from yattle.errors import InputError
from yattle.job.learn import Offer, folds_of, offer, offer_k, with_offer_taken
from yattle.job.log import searched, with_entries
from yattle.job.model import LogEntry
from yattle.measure import parse_angle
from yattle.ui.benches.base import BenchPage
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.card import Card

KINDS = ("measured", "fitted", "changed", "spoiled", "weather", "time", "photo", "lesson")
HINTS = {"fitted": "how it went", "changed": "what, why", "spoiled": "and why", "weather": "wind, wet",
         "time": "minutes", "photo": "file name", "lesson": "next time", "measured": "with what"}


class SpringPlot(QWidget):
    """Each measured fold's own springback over its angle; the value in use, the value found and its spread."""

    def __init__(self) -> None:
        super().__init__()
        self.points: list[tuple[float, float]] = []
        self.offer: Offer | None = None
        self.setMinimumHeight(150)
        self.setAccessibleName("springback of each measured fold")

    def show_folds(self, points: list[tuple[float, float]], found: Offer | None) -> None:
        self.points, self.offer = points, found
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), theme()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(self.rect()).adjusted(58, 10, -120, -26)
        painter.setFont(type_of(10.5))
        if not self.points:
            painter.setPen(QColor(t.dim))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter,
                             "Fold a piece on the folder (Ctrl+G), or type what you measured:\n"
                             "the springback shows here.")
            painter.end()
            return
        values = [ratio for _, ratio in self.points] + ([self.offer.found, self.offer.now] if self.offer else [])
        low, high = min(values) - 0.004, max(values) + 0.004
        most = max(angle for angle, _ in self.points) * 1.08

        def at(angle: float, ratio: float) -> QPointF:
            return QPointF(frame.left() + frame.width() * angle / most,
                           frame.bottom() - frame.height() * (ratio - low) / (high - low))
        self._axes(painter, frame, low, high, most)
        if self.offer is not None:
            band = QColor(t.verdigris)
            band.setAlpha(40)
            top, bottom = at(0, min(self.offer.found + self.offer.spread, high)), at(
                most, max(self.offer.found - self.offer.spread, low))
            painter.fillRect(QRectF(top, bottom), band)
            for value, colour, name in ((self.offer.found, t.verdigris, f"found {self.offer.found:.4f}"),
                                        (self.offer.now, t.copper, f"in use {self.offer.now:.4f}")):
                painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.SolidLine if colour == t.verdigris
                                    else Qt.PenStyle.DashLine))
                painter.drawLine(at(0, value), at(most, value))
                painter.drawText(at(most, value) + QPointF(6, 4), name)
        painter.setPen(QPen(QColor(t.ink), 1.4))
        painter.setBrush(QColor(t.card))
        for angle, ratio in self.points:
            painter.drawEllipse(at(angle, ratio), 4, 4)
        painter.end()

    def _axes(self, painter: QPainter, frame: QRectF, low: float, high: float, most: float) -> None:
        painter.setPen(QPen(QColor(theme().line), 1))
        painter.drawLine(frame.bottomLeft(), frame.bottomRight())
        painter.drawLine(frame.bottomLeft(), frame.topLeft())
        painter.setPen(QColor(theme().dim))
        for share in (0.0, 0.5, 1.0):
            y = frame.bottom() - frame.height() * share
            painter.drawText(QPointF(frame.left() - 50, y + 4), f"{low + (high - low) * share:.3f}")
        step = 30 if most > 60 else 10
        for angle in range(step, int(most) + 1, step):
            painter.drawText(QPointF(frame.left() + frame.width() * angle / most - 8, frame.bottom() + 17), f"{angle}°")


class LogBench(BenchPage):
    name, title = "log", "Log"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.kind, self.leg_folds = "fitted", 1
        self.wanted: float | None = None
        self.leaf: float | None = None
        self.leg: float | None = None
        self.take_k = QPushButton("take the k-factor")
        self.take_k.clicked.connect(lambda: self._take(offer_k(self.store.session.job)))
        self.plot, self.list, self.words = SpringPlot(), QListWidget(), QLineEdit()
        self.words.setPlaceholderText("find in the log")
        self.words.setAccessibleName("find in the log")
        self.words.textChanged.connect(lambda _: self.refresh())
        self.list.setAccessibleName("entries of the log, newest first")
        self.list.setWordWrap(True)
        self.take = QPushButton("take it")
        self.take.setAccessibleName("take the springback that was found")
        self.take.clicked.connect(self.take_offer)
        self.plot_card = Card(self.plot, self.take)
        self.list_card = Card(self.list, self.words)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.plot_card, 4)
        column.addWidget(self.list_card, 6)
        self._fill_slate()

    @property
    def of(self) -> str:
        """The piece or run that an entry is about."""
        selection = self.store.session.selection
        run = self.run
        if selection.opening:
            return selection.opening
        return run.pieces[selection.piece].id if run and selection.piece < len(run.pieces) else selection.run or ""

    def _fill_slate(self) -> None:
        s = self.slate
        s.group("Write down")
        s.said("of", lambda: self.of or "the whole job")
        s.choice("what", lambda: [(kind, kind) for kind in KINDS], lambda: self.kind, self._choose)
        with s.when(lambda: self.kind == "measured"):
            s.number("fold wanted", lambda: self._angle("wanted"), lambda text: self._keep("wanted", text), "degrees")
            s.number("leaf set to", lambda: self._angle("leaf"), lambda text: self._keep("leaf", text), "degrees")
            s.number("found", lambda: Shown("", "degrees"), self._measured, "by the angle finder; Return writes it")
            s.number("leg wanted", lambda: self._leg_shown("leg"), self._keep_leg, "outside, as drawn")
            s.choice("its folds", lambda: [("1", "one, an end leg"), ("2", "two, between folds")],
                     lambda: str(self.leg_folds), self._choose_folds)
            s.number("leg found", lambda: Shown(""), self._measured_leg, "by the tape; Return writes it")
        s.words("note", lambda: Shown("", HINTS[self.kind]), self._note, "Return writes it into the log")
        s.group("Learnt")
        s.read("springback", self._learnt, "of this metal on this brake; never taken by itself")
        s.read("k-factor", self._learnt_k, "from legs measured; girths and marks follow when it is taken")
        s.widget_row(self.take_k, self._show_k)
        s.group("Stock")
        s.said("last", self._stock)
        s.group("In all")
        s.said("entries", lambda: str(len(self.store.session.job.log)))

    def _choose(self, key: str) -> None:
        self.kind = key
        self.refresh()

    def _angle(self, name: str) -> Shown:
        value = getattr(self, name)
        return Shown("" if value is None else f"{value:g}")

    def _keep(self, name: str, text: str) -> str | None:
        def deed() -> None:
            setattr(self, name, parse_angle(text, name) if text.strip() else None)
            self.refresh()
        return self.store.attempt(deed)

    def _measured(self, text: str) -> str | None:
        job = self.store.session.job

        def deed() -> None:
            self._write(LogEntry(when=_today(), what="measured", of=self.of, wanted=self.wanted, set=self.leaf,
                                 found=parse_angle(text, "found"), metal=job.metal_name, brake=job.brake.name))
        return self.store.attempt(deed)

    def _leg_shown(self, name: str) -> Shown:
        value = getattr(self, name)
        return Shown("" if value is None else self.say(value))

    def _keep_leg(self, text: str) -> str | None:
        def deed() -> None:
            self.leg = self.length_from(text, "leg wanted") if text.strip() else None
            self.refresh()
        return self.store.attempt(deed)

    def _choose_folds(self, key: str) -> None:
        self.leg_folds = int(key)
        self.refresh()

    def _measured_leg(self, text: str) -> str | None:
        job = self.store.session.job

        def deed() -> None:
            if self.leg is None:
                raise InputError("leg wanted", "nothing", "the leg as drawn, before what was found")
            self._write(LogEntry(when=_today(), what="measured", of=self.of, fold="leg", wanted=self.leg,
                                 found=self.length_from(text, "leg found"), folds=self.leg_folds,
                                 metal=job.metal_name, brake=job.brake.name))
        return self.store.attempt(deed)

    def _learnt_k(self) -> Shown:
        found = offer_k(self.store.session.job)
        if found is None:
            return Shown("–", "from four legs on")
        return Shown(f"{found.found:.3f}", f"± {found.spread:.3f} a leg, {found.many} legs; {found.now:.3f} in use")

    def _show_k(self) -> None:
        found = offer_k(self.store.session.job)
        self.take_k.setVisible(found is not None and found.worth_taking)

    def _note(self, text: str) -> str | None:
        if not text.strip():
            return None
        return self.store.attempt(lambda: self._write(
            LogEntry(when=_today(), what=self.kind, of=self.of, text=text.strip())))  # type: ignore[arg-type]

    def _write(self, entry: LogEntry) -> None:
        self.store.session.edit(f"log: {entry.what}", lambda job: with_entries(job, (entry,)))

    def _learnt(self) -> Shown:
        found = offer(self.store.session.job)
        if found is None:
            return Shown("–", "from four folds on")
        return Shown(f"{found.found:.4f}", f"± {found.spread:.4f} a fold, {found.many} folds; {found.now:.4f} in use")

    def _stock(self) -> str:
        rows = self.store.session.job.ledger[-4:]
        return "\n".join(f"{row.when} {row.what} {row.stock} {row.amount:g}" for row in rows) or "nothing yet"

    def take_offer(self) -> None:
        """Let the brake have the springback that was found; undo gives the old one back."""
        self._take(offer(self.store.session.job))

    def _take(self, found: Offer | None) -> None:
        if found is not None:
            self.store.attempt_aloud(lambda: self.store.session.edit(
                f"{found.what} learnt", lambda job: with_offer_taken(job, found, _today())))

    def refresh(self) -> None:
        job = self.store.session.job
        found = offer(job)
        folds = folds_of(job, job.metal_name, job.brake.name)
        points = [(entry.found, entry.set / entry.found) for entry in folds if entry.found and entry.set]
        self.plot.show_folds(points, found)
        count = f"{len(folds)} folds" if folds else ""
        self.plot_card.say("Springback", f"{job.metal_name} on {job.brake.name}", count)
        self.take.setVisible(found is not None and found.worth_taking)
        if found is not None:
            self.take.setText(f"take {found.found:.4f} for the next set angles")
        entries = searched(job.log, self.words.text())
        self.list_card.say("Log", "newest first", f"{len(entries)} of {len(job.log)}" if job.log else "")
        self.list.clear()
        for entry in entries[:400]:
            self.list.addItem(QListWidgetItem(says(entry)))
        if not job.log:
            self.list.addItem(QListWidgetItem("Nothing written down yet: choose what, type a note on the slate."))
        super().refresh()


def says(entry: LogEntry) -> str:
    """An entry as one line."""
    parts = [entry.when, entry.what, entry.of]
    if entry.found is not None:
        of = " mm" if entry.folds else "°"
        wanted = f", wanted {entry.wanted:g}{of}" if entry.wanted else ""
        leaf = f", leaf {entry.set:g}°" if entry.set else ""
        parts.append(f"{entry.fold} found {entry.found:g}{of}{wanted}{leaf}")
    if entry.by == "stand-in":
        parts.append("by a stand-in, not measured")
    return "  ·  ".join(part for part in (*parts, entry.text) if part)


def _today() -> str:
    return date.today().isoformat()
