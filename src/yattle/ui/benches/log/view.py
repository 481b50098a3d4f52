"""Every measured fold drawn with what it teaches, and the entries of the log."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout

from yattle.job.learn import folds_of, offer, offer_k
from yattle.job.log import searched
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.log.model import LogModel, says
from yattle.ui.benches.log.plot import SpringPlot
from yattle.ui.benches.log.slate import fill
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card


class LogBench(BenchPage):
    """Every measured fold drawn with what it teaches, and the entries of the log."""

    name, title = "log", "Log"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = LogModel(store, self.refresh)
        self.take_k = QPushButton("take the k-factor")
        self.take_k.clicked.connect(lambda: self.model.take(offer_k(self.store.session.job)))
        self.plot, self.list, self.words = SpringPlot(), QListWidget(), QLineEdit()
        self.words.setPlaceholderText("find in the log")
        self.words.setAccessibleName("find in the log")
        self.words.textChanged.connect(lambda _: self.refresh())
        self.list.setAccessibleName("entries of the log, newest first")
        self.list.setWordWrap(True)
        self.take = QPushButton("take it")
        self.take.setAccessibleName("take the springback that was found")
        self.take.clicked.connect(self.model.take_offer)
        self.plot_card = Card(self.plot, self.take)
        self.list_card = Card(self.list, self.words)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.plot_card, 4)
        column.addWidget(self.list_card, 6)
        fill(self.slate, self.model, self.take_k, self._show_k)

    def _show_k(self) -> None:
        found = offer_k(self.store.session.job)
        self.take_k.setVisible(found is not None and found.worth_taking)

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
