"""The window: menu, rail, benches, slate, girth tape. It lays out and shows; what actions do stands in ``commands``."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QMimeData, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from yattle.derive.printed import since_print
from yattle.job import Job
from yattle.job.settings import Settings, keep_settings, load_settings
from yattle.measure import in_unit
from yattle.session.journal import Journal
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.coil.view import CoilBench
from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.commands import dropped, view
from yattle.ui.commands import job as jobs
from yattle.ui.commands.asking import Asking
from yattle.ui.commands.papers import FILES, PAPERS
from yattle.ui.commands.shop import BENCH, Shop
from yattle.ui.commands.table import ACTIONS, Action
from yattle.ui.frame.benches import BENCHES, Benches
from yattle.ui.frame.focus_ring import FocusRing
from yattle.ui.frame.holding import Holding
from yattle.ui.frame.menus import Menus
from yattle.ui.frame.place import place_of
from yattle.ui.frame.rail import Rail
from yattle.ui.frame.start_page import StartPage
from yattle.ui.frame.tape import GirthTape
from yattle.ui.frame.tour import TourBar
from yattle.ui.store import Store
from yattle.ui.theme import px
from yattle.ui.widgets.edge_button import EdgeButton
from yattle.ui.widgets.trouble_bar import TroubleBar
from yattle.ui.widgets.words import Words

_ROOMY = 1120  # px: a narrower window has its rail folded
_SOON = 1500  # ms after the window is there
_WORKING, _SLOW = "working it out …", 400  # said after so many ms
_PAPERS = 60.0  # seconds that the window stays for papers that are being written


class Window(QMainWindow):
    """Everything on the screen belongs to one job and one selection."""

    def __init__(self, job: Job, path: Path | None = None, settings: Settings | None = None,
                 patience: float = math.inf, demo: bool = False) -> None:
        super().__init__()
        self.store = Store(job, path, patience, demo)
        self.journal = Journal(self.store.session, told=self.store.trouble.emit)
        self.asking = Asking(self)
        self.store.session.consent = lambda said: self.asking.change_made(said)
        self.shop = Shop(self.store, self.journal, settings or load_settings(), self.asking, self, self)
        self.store.folded |= set(self.shop.settings.folded)
        self.closing = False
        self.setMinimumSize(1000, 640)
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self._lay_out()
        self.menus = Menus(self, self.store.session, self._act, lambda: self.shop.settings,
                           lambda path: jobs.open_path(self.shop, path),
                           lambda page: view.show_page(self.shop, page))
        self.finder, self.ring = self.menus.finder, FocusRing(self)
        self.show_folded()
        self._listen()
        self.show_bench("trim" if self.store.session.derived.pieces else "survey")
        self.refresh()
        if self.store.session.derived.runs:
            self.bench(TrimBench).section.setFocus()

    # -- layout -----------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        self.stack, self.slates = QStackedWidget(), QStackedWidget()
        self.benches = Benches(self.store, self.stack, self.slates)
        self.rail = Rail(self.store, [(b.name, b.title) for b in BENCHES])
        self.tape, self.trouble, self.tour = GirthTape(self.store), TroubleBar(), TourBar()
        self.since = Words("")
        self.since.setObjectName("since-print")
        self.since.setWordWrap(True)
        self.since.setContentsMargins(px(12), 2, px(8), 4)
        self.since.setAccessibleName("what differs from the last print")
        self.edges = {"rail": EdgeButton("rail", True, "Ctrl+F9"), "slate": EdgeButton("slate", False, "Ctrl+F10")}
        for part, button in self.edges.items():
            button.clicked.connect(lambda _, part=part: self.fold(part))
        self.holding, self.slow = Holding(self), QTimer(self)
        self.slow.setSingleShot(True)
        self.slow.setInterval(_SLOW)
        across = QHBoxLayout()
        across.setSpacing(0)
        across.addWidget(self.rail)
        across.addWidget(self.edges["rail"])
        across.addLayout(self._middle(), 1)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(across, 1)
        column.addWidget(self.tape)
        self.start = StartPage(self.do, lambda path: jobs.open_path(self.shop, path),
                               lambda name: jobs.open_demo(self.shop, name), lambda: jobs.look_round(self.shop))
        self.body, self.pages = body, QStackedWidget()
        self.pages.addWidget(body)
        self.pages.addWidget(self.start)
        self.trouble.over(self.stack, body)
        self.setCentralWidget(self.pages)

    def _middle(self) -> QVBoxLayout:
        """What is said, then the bench with its slate beside it."""
        slate_card = self.slate_card = QFrame()
        slate_card.setObjectName("card")
        slate_card.setFixedWidth(px(340))
        inside = QVBoxLayout(slate_card)
        inside.setContentsMargins(2, 2, 2, 2)
        inside.addWidget(self.slates, 1)
        inside.addWidget(self.since)
        row = QHBoxLayout()
        row.setSpacing(0)
        row.addWidget(self.stack, 1)
        row.addWidget(self.edges["slate"])
        row.addWidget(slate_card)
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 8, 8, 8)
        middle.setSpacing(8)
        middle.addWidget(self.tour)
        middle.addLayout(row, 1)
        return middle

    def _listen(self) -> None:
        self.rail.chosen.connect(self.show_bench)
        self.slow.timeout.connect(self._say_working)
        self.tour.stop.connect(self.show_bench)
        self.tour.ended.connect(lambda: view.toured(self.shop))
        self.store.job_changed.connect(lambda: self.pages.setCurrentWidget(self.body))
        self.store.job_changed.connect(self.refresh)
        self.store.selection_changed.connect(self.refresh)
        self.store.trouble.connect(self._complain)
        self.store.said.connect(self._hear)
        self.store.told.connect(lambda sentence: self.trouble.say(sentence, bad=False, stays=True))
        self.store.results_changed.connect(self._show_results)
        self.store.working.connect(self._hold)

    # -- actions ----------------------------------------------------------------------------------

    def do(self, action_id: str) -> None:
        """Do an action of the table."""
        self._act(next(spec for spec in ACTIONS if spec.id == action_id))

    def _act(self, spec: Action) -> None:
        """Do an action, once what is being typed is taken; where that is refused, nothing happens."""
        if not spec.settles or self.store.session.settle():
            spec.do(self.shop)

    # -- showing ----------------------------------------------------------------------------------

    @property
    def front(self) -> BenchPage:
        """The bench that is shown."""
        bench = self.stack.currentWidget()
        assert isinstance(bench, BenchPage)
        return bench

    def bench(self, kind: type[BENCH]) -> BENCH:
        """The bench of that kind, set up if it was not yet."""
        bench = self.benches[kind.name]
        assert isinstance(bench, kind)
        return bench

    def refresh(self) -> None:
        """Show the job and selection as they are now; the nest is worked out beside the window."""
        session = self.store.session
        self.rail.refresh()
        elsewhere = (self.front.name == "opening") != bool(session.selection.opening)
        if elsewhere and self.front.name in ("trim", "opening"):
            self.show_bench("trim")
        else:
            self.front.refresh()
        self.since.setText(since_print(session.derived))
        self.since.setVisible(bool(self.since.text()))
        self._say_title()
        self.menus.enable()

    def dress(self) -> None:
        """Show everything anew, in the theme that is in use."""
        self.refresh()
        self.tape.update()
        self.rail.update()

    def fold(self, part: str) -> None:
        """Fold the rail or the slate away, or open it again; it is kept for the next start."""
        self.store.folded ^= {part}
        self.show_folded()

    def show_folded(self) -> None:
        """The rail narrow and the slate away, where they are folded."""
        folded = self.store.folded | ({"rail"} if self.width() < px(_ROOMY) else set())
        self.rail.narrow("rail" in folded)
        self.slate_card.setVisible("slate" not in folded)
        for part, button in self.edges.items():
            button.tell(part in folded)

    def show_start(self) -> None:
        """What there is to begin with, in the place of the benches, until a job is begun or opened."""
        self.pages.setCurrentWidget(self.start)
        self.start.show_recent(self.shop.settings.recent)

    def full_screen(self) -> None:
        """The window on the whole screen, or as it was."""
        self.setWindowState(self.windowState() ^ Qt.WindowState.WindowFullScreen)

    def _say_title(self) -> None:
        session = self.store.session
        self.menus.title.setText(f"{session.job.name}{' · not saved' if session.changed else ''}")
        self.setWindowTitle(f"{session.job.name}{' *' if session.changed else ''} — Yattle")

    def _say_working(self) -> None:
        """Where nothing has to make room for it: painting a large roof anew would only slow the work."""
        self.menus.title.setText(_WORKING)
        self.setWindowTitle(f"{_WORKING} — Yattle")

    def _show_results(self) -> None:
        """Something of the job has been worked out beside the window: the bench in front and the rail say it."""
        results = self.store.session.results
        self.rail.refresh()
        self.front.show_results()
        coil = self.bench(CoilBench).model
        if coil.answer is not None:
            takes = coil.plan.used_says() if coil.answer.used else "nothing to cut"
            self.rail.tell_coil(takes, len(coil.answer.unplaced))
        if results.installation is not None:
            unfit = sum(one.stops for one in results.built.troubles) if results.built is not None else 0
            self.rail.tell_fit(len(results.installation.order.stages), len(results.installation.findings) + unfit)

    def show_bench(self, name: str) -> None:
        """Bring a bench to the front, once what is typed on the one before is taken; on the trim bench an opening has a
        page of its own."""
        if self.stack.currentWidget() is not None and not self.store.session.settle():
            self.rail.buttons["trim" if self.front.name == "opening" else self.front.name].setChecked(True)
            return
        if self.stack.currentWidget() is not None and name != self.front.name:
            self.trouble.leave()  # what went wrong on one bench does not follow to another
        page = "opening" if name == "trim" and self.store.session.selection.opening else name
        fresh = page not in self.benches and self.store.session.patience < math.inf
        bench = self.benches[page]
        self.stack.setCurrentWidget(bench)
        self.slates.setCurrentWidget(bench.slate)
        self.rail.buttons[name].setChecked(True)
        self.rail.refresh()
        if fresh:  # it has just been set up: it is filled in the next turn of the event loop
            QTimer.singleShot(0, bench.refresh)
        else:
            bench.refresh()

    def _hold(self, on: bool) -> None:
        """While a large job is worked out keys and presses wait; they are done on what is shown then."""
        self.holding.hold(on)
        if on:
            self.slow.start()  # nothing is said of what takes no time
        else:
            self.slow.stop()
            self._say_title()

    def _complain(self, sentence: str) -> None:
        self.pages.setCurrentWidget(self.body)
        self.trouble.say(in_unit(sentence, self.store.unit), bad=True)

    def _hear(self, said: str) -> None:
        self.pages.setCurrentWidget(self.body)
        if said in self.rail.buttons:
            self.show_bench(said)
        else:
            self.trouble.say(said, bad=False)

    # -- on and off the screen ----------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Once it is on the screen the work beside it begins, and the benches that are not in front are set up."""
        super().showEvent(event)
        QTimer.singleShot(0, self.store.board.resume)
        if self.store.session.patience < math.inf:
            QTimer.singleShot(_SOON, lambda: self.benches.prepare(lambda: not self.closing))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Files that can be taken may be dropped anywhere on the window."""
        assert event is not None
        if self._dropped(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        paths = self._dropped(event.mimeData())
        event.acceptProposedAction()
        for path in paths:
            QTimer.singleShot(0, lambda path=path: dropped.take(self.shop, path))  # the drop ends first

    @staticmethod
    def _dropped(data: QMimeData | None) -> list[Path]:
        urls = data.urls() if data is not None else []
        return [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.menus.fit(self.width())
        self.show_folded()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not jobs.may_leave(self.shop):
            event.ignore()
            return
        self.closing = True
        self.shop.settings = replace(place_of(self, self.shop.settings), folded=tuple(sorted(self.store.folded)))
        keep_settings(self.shop.settings)
        self.store.leaving.emit()
        self.store.board.leave()
        if self.store.board.busy(FILES, PAPERS):  # what is being written is written to its end
            self.trouble.say("finishing the papers …", bad=False)
            self.store.finish(FILES, PAPERS, seconds=_PAPERS)
        self.journal.close()
        event.accept()
