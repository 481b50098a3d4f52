"""The window: menu, rail, benches, slate, girth tape; and what every action does."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from yattle.job import Job, demo_path, load
from yattle.job.next_job import next_job
from yattle.job.settings import THEMES, Settings, keep_settings, load_settings
from yattle.measure import UNITS
from yattle.papers.labels import CODE
from yattle.session.journal import Journal
from yattle.ui import theme as themes
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.brake import BrakeBench
from yattle.ui.benches.brake_slate import LANE as FOLDER
from yattle.ui.benches.coil import CoilBench
from yattle.ui.benches.coil_hand import LINE
from yattle.ui.benches.install import InstallBench
from yattle.ui.benches.log import LogBench
from yattle.ui.benches.opening import OpeningBench
from yattle.ui.benches.survey import SurveyBench
from yattle.ui.benches.trim import TrimBench
from yattle.ui.frame.actions import ACTIONS, MENUS, Action
from yattle.ui.frame.coil_deeds import CoilDeeds
from yattle.ui.frame.dialogs import AboutBox, KeysBox
from yattle.ui.frame.files import FILES, PAPERS, FileDeeds
from yattle.ui.frame.finder import Entry, Finder
from yattle.ui.frame.holding import Holding
from yattle.ui.frame.rail import Rail
from yattle.ui.frame.roof_deeds import RoofDeeds
from yattle.ui.frame.tape import GirthTape
from yattle.ui.frame.tour import HelpBox, TourBar
from yattle.ui.frame.trim_deeds import TrimDeeds
from yattle.ui.store import Store

BENCHES: tuple[type[BenchPage], ...] = (SurveyBench, TrimBench, BrakeBench, CoilBench, InstallBench, LogBench)
_SOON = 1500  # ms after the window is there
_WORKING, _SLOW = "working it out …", 400  # said after so many ms
_BETWEEN = 20  # ms between two steps of setting up
_PAPERS = 60.0  # seconds that the window stays for papers that are being written
PAGES: tuple[type[BenchPage], ...] = (*BENCHES, OpeningBench)  # the last in the place of the trim bench


class Window(FileDeeds, RoofDeeds, TrimDeeds, CoilDeeds, QMainWindow):
    """Everything on the screen belongs to one job and one selection."""

    def __init__(self, job: Job, path: Path | None = None, settings: Settings | None = None,
                 patience: float = math.inf, demo: bool = False) -> None:
        super().__init__()
        self.store = Store(job, path, patience, demo)
        self.journal = Journal(self.store.session, told=self.store.trouble.emit)
        self.settings = settings or load_settings()
        self.closing = False
        self._put_off: set[Path] = set()  # journals that the person left for later
        self.setMinimumSize(1000, 660)
        self.resize(1280, 800)
        self.actions_by_id: dict[str, QAction] = {}
        self.menus: dict[str, QMenu] = {}
        self._lay_out()
        self._make_menus()
        self.store.job_changed.connect(self.refresh)
        self.store.selection_changed.connect(self.refresh)
        self.store.trouble.connect(self.show_trouble)
        self.store.said.connect(self._hear)
        self.store.results_changed.connect(self._show_results)
        self.store.working.connect(self._hold)
        self.show_bench("trim" if self.store.session.derived.pieces else "survey")
        self.refresh()
        if self.store.session.derived.runs:
            self._trim.section.setFocus()

    # -- layout -----------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        self.stack, self.slates = QStackedWidget(), QStackedWidget()
        self.benches = Benches(self)
        slate_card = QFrame()
        slate_card.setObjectName("card")
        slate_card.setFixedWidth(340)
        inside = QVBoxLayout(slate_card)
        inside.setContentsMargins(2, 2, 2, 2)
        inside.addWidget(self.slates)
        self.rail = Rail(self.store, [(b.name, b.title) for b in BENCHES])
        self.rail.chosen.connect(self.show_bench)
        self.tape = GirthTape(self.store)
        self.holding, self.slow = Holding(self), QTimer(self)
        self.slow.setSingleShot(True)
        self.slow.setInterval(_SLOW)
        self.slow.timeout.connect(self._say_working)
        self.trouble, self.tour = TroubleBar(), TourBar()
        self.tour.stop.connect(self.show_bench)
        self.tour.ended.connect(self._toured)
        middle = QVBoxLayout()
        middle.setContentsMargins(8, 8, 8, 8)
        middle.setSpacing(8)
        middle.addWidget(self.tour)
        middle.addWidget(self.trouble)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.stack, 1)
        row.addWidget(slate_card)
        middle.addLayout(row, 1)
        across = QHBoxLayout()
        across.setSpacing(0)
        across.addWidget(self.rail)
        across.addLayout(middle, 1)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(across, 1)
        column.addWidget(self.tape)
        self.setCentralWidget(body)

    def _make_menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        for name in MENUS:
            menu = bar.addMenu(name)
            assert menu is not None
            self.menus[name] = menu
        for spec in ACTIONS:
            self._add_action(spec)
        self.recent = QMenu("Open recent", self)
        self.recent.aboutToShow.connect(self._fill_recent)
        self.menus["Job"].insertMenu(self.actions_by_id["job.demo"], self.recent)
        self.title = QLabel()
        self.title.setObjectName("dim")
        self.title.setFixedWidth(300)
        self.title.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.finder = Finder(self, self._entries)
        corner = QWidget()
        row = QHBoxLayout(corner)
        row.setContentsMargins(0, 0, 8, 0)
        row.addWidget(self.title)
        row.addSpacing(18)
        row.addWidget(self.finder)
        bar.setCornerWidget(corner)

    def _add_action(self, spec: Action) -> None:
        action = QAction(spec.title, self)
        if spec.shortcut:
            action.setShortcut(QKeySequence(spec.shortcut))
            action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
        action.setObjectName(spec.id)
        deed = getattr(self, spec.do)
        action.triggered.connect(lambda _checked, deed=deed, spec=spec: self._act(spec, deed))
        menu = self.menus[spec.menu]
        if spec.rule_before:
            menu.addSeparator()
        menu.addAction(action)
        self.actions_by_id[spec.id] = action

    def _act(self, spec: Action, deed: Callable[[], None]) -> None:
        """Do an action, once what is being typed is taken; where that is refused, nothing happens."""
        if not spec.settles or self.store.session.settle():
            deed()

    def _fill_recent(self) -> None:
        self.recent.clear()
        for path in self.settings.recent:
            action = self.recent.addAction(path)
            assert action is not None
            action.triggered.connect(lambda _checked, path=path: self.open_path(Path(path)))
        if not self.settings.recent:
            none = self.recent.addAction("nothing opened yet")
            assert none is not None
            none.setEnabled(False)

    # -- showing ----------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the job and selection as they are now; the nest is worked out beside the window."""
        session = self.store.session
        self.rail.refresh()
        elsewhere = (self._bench.name == "opening") != bool(session.selection.opening)
        if elsewhere and self._bench.name in ("trim", "opening"):
            self.show_bench("trim")
        else:
            self._bench.refresh()
        self._say_title()
        self._enable()

    def _say_title(self) -> None:
        session = self.store.session
        self.title.setText(f"{session.job.name}{' · not saved' if session.changed else ''}")
        self.setWindowTitle(f"{session.job.name}{' *' if session.changed else ''} — Yattle")

    def _say_working(self) -> None:
        """Where nothing has to make room for it: painting a large roof anew would only slow the work."""
        self.title.setText(_WORKING)
        self.setWindowTitle(f"{_WORKING} — Yattle")

    @property
    def _bench(self) -> BenchPage:
        bench = self.stack.currentWidget()
        assert isinstance(bench, BenchPage)
        return bench

    def _enable(self) -> None:
        session = self.store.session
        holds = {"always": True, "run": bool(session.derived.runs), "pieces": bool(session.derived.pieces),
                 "undo": session.undo_title is not None, "redo": session.redo_title is not None}
        for spec in ACTIONS:
            self.actions_by_id[spec.id].setEnabled(holds[spec.when])
        self.actions_by_id["edit.undo"].setText(f"Undo {session.undo_title or ''}".strip())
        self.actions_by_id["edit.redo"].setText(f"Redo {session.redo_title or ''}".strip())

    def _show_results(self) -> None:
        """Something of the job has been worked out beside the window: the bench in front and the rail say it."""
        results = self.store.session.results
        self.rail.refresh()
        self._bench.show_results()
        self.tell_coil()
        if results.installation is not None:
            self.rail.tell_fit(len(results.installation.order.stages), len(results.installation.findings))

    def tell_coil(self) -> None:
        """Say on the rail what the plan takes off the coils."""
        coil = self.benches["coil"]
        assert isinstance(coil, CoilBench)
        answer = coil.answer
        if answer is not None:
            self.rail.tell_coil(coil.used_says() if answer.used else "nothing to cut", len(answer.unplaced))

    def show_bench(self, name: str) -> None:
        """Bring a bench to the front, once what is typed on the one before is taken; on the trim bench an opening has a
        page of its own."""
        if self.stack.currentWidget() is not None and not self.store.session.settle():
            self.rail.buttons["trim" if self._bench.name == "opening" else self._bench.name].setChecked(True)
            return
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

    def _hear(self, said: str) -> None:
        if said in self.rail.buttons:
            self.show_bench(said)
        else:
            self.trouble.say(said, bad=False)

    def show_trouble(self, sentence: str) -> None:
        """A sentence somebody must read, above the bench, until it is put away."""
        self.trouble.say(sentence, bad=True)

    def _entries(self) -> list[Entry]:
        entries: list[Entry] = [(spec.title, spec.shortcut, self.actions_by_id[spec.id].trigger) for spec in ACTIONS
                                if self.actions_by_id[spec.id].isEnabled()]
        select = self.store.session.select
        for run in self.store.session.derived.runs:
            run_id = run.run.id
            entries.append((f"{run_id} {run.run.name}", "run", lambda run_id=run_id: select(run=run_id)))
            for n, piece in enumerate(run.pieces):
                for name in (piece.id, f"{CODE}piece/{piece.id}"):  # as it is called, and as its label's code says
                    entries.append((name, f"piece, {piece.hand}",
                                    lambda run_id=run_id, n=n: select(run=run_id, piece=n)))
        for opening in self.store.session.derived.openings:
            for n, made in enumerate(opening.pieces):
                for name in (made.pattern.id, f"{CODE}piece/{made.pattern.id}"):
                    entries.append((name, f"piece, {opening.title}",
                                    lambda of=opening.id, n=n: select(opening=of, piece=n)))
        return entries

    # -- actions ----------------------------------------------------------------------------------

    def undo(self) -> None:
        self.store.session.undo()

    def redo(self) -> None:
        self.store.session.redo()

    def find(self) -> None:
        self.finder.setFocus()
        self.finder.selectAll()

    def add_run(self) -> None:
        if self.store.attempt_aloud(self.store.session.add_run):
            self.show_bench("survey")

    def remove_run(self) -> None:
        run = self.store.session.selection.run
        if run is not None:
            self.store.attempt_aloud(lambda: self.store.session.remove_run(run))

    def next_run(self) -> None:
        self._step_run(1)

    def run_before(self) -> None:
        self._step_run(-1)

    def _step_run(self, step: int) -> None:
        ids = [run.run.id for run in self.store.session.derived.runs]
        here = self.store.session.selection.run
        if here in ids:
            self.store.session.select(run=ids[(ids.index(here) + step) % len(ids)])

    def next_piece(self) -> None:
        self._trim.step_piece(1)

    def piece_before(self) -> None:
        self._trim.step_piece(-1)

    @property
    def _trim(self) -> TrimBench:
        bench = self.benches["trim"]
        assert isinstance(bench, TrimBench)
        return bench

    def next_fold(self) -> None:
        self.tape.step_fold(1)

    def fold_before(self) -> None:
        self.tape.step_fold(-1)

    def turn_tape(self) -> None:
        self.tape.turn_round()

    def make_standard(self) -> None:
        run = self.store.session.selection.run
        if run is not None and self.store.attempt_aloud(lambda: self.store.session.own_for_all(run)):
            self.store.said.emit(f"every run now takes the values of {run}, unless it has its own")

    def next_step(self) -> None:
        self._step_brake(1)

    def step_back(self) -> None:
        self._step_brake(-1)

    def _step_brake(self, step: int) -> None:
        bench = self.benches["brake"]
        assert isinstance(bench, BrakeBench)
        self.show_bench("brake")
        bench.step(step)

    def copy_to_like(self) -> None:
        run = self.store.session.selection.run
        if run is not None and self.store.attempt_aloud(lambda: self.store.session.copy_to_like(run)):
            self.store.said.emit(f"all edges like {run} have its detail and values")

    def ask_advice(self) -> None:
        self.show_bench("trim")
        self._trim.ask_advice()

    def stop_devices(self) -> None:
        """End folder and coil line before the next stroke or cut."""
        self.store.said.emit("stopping before the next stroke or cut" if self.store.board.busy(FOLDER, LINE) else
                             "neither folder nor coil line is at work")
        self.store.board.stop(FOLDER, LINE)

    def fold_on_folder(self) -> None:
        bench = self.benches["brake"]
        assert isinstance(bench, BrakeBench)
        self.show_bench("brake")
        bench.fold_on_folder()

    def show_survey(self) -> None:
        self.show_bench("survey")

    def show_trim(self) -> None:
        self.show_bench("trim")

    def show_brake(self) -> None:
        self.show_bench("brake")

    def show_coil(self) -> None:
        self.show_bench("coil")

    def play(self) -> None:
        """Let the bench in front go through its strokes, cuts or stages by itself, or stop."""
        button = getattr(self.stack.currentWidget(), "play", None)
        if button is not None and button.isVisible():
            button.toggle()
        else:
            self.store.said.emit("nothing plays here: folds play on the brake, cuts on the coil, stages on fit")

    def show_fit(self) -> None:
        self.show_bench("fit")

    def show_log(self) -> None:
        self.show_bench("log")

    def next_unit(self) -> None:
        names = list(UNITS)
        now = names.index(self.store.session.job.unit)
        self.store.session.edit("units", lambda job: job.but(unit=names[(now + 1) % len(names)]))

    def next_theme(self) -> None:
        now = THEMES[(THEMES.index(self.settings.theme) + 1) % len(THEMES)]
        self.set_theme(now)

    def set_theme(self, name: str) -> None:
        """``desktop``, ``light`` or ``dark``; kept for the next start."""
        self.settings = replace(self.settings, theme=name)
        keep_settings(self.settings)
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        chosen = {"light": themes.LIGHT, "dark": themes.DARK}.get(name) or themes.desktop_theme()
        themes.use(chosen, app)
        self.refresh()
        self.tape.update()
        self.rail.update()

    def take_tour(self) -> None:
        """The first look round, from its first stop."""
        self.tour.go(0)

    def first_look(self) -> None:
        """The tour of the demo, the first time Yattle is started."""
        if not self.settings.toured:
            self.take_tour()

    def _toured(self) -> None:
        self.settings = replace(self.settings, toured=True)
        keep_settings(self.settings)

    def show_help(self) -> None:
        """The page of the bench in front."""
        self.help_box = HelpBox(self, "trim" if self._bench.name == "opening" else self._bench.name)
        self.help_box.open()

    def show_keys(self) -> None:
        KeysBox(self).exec()

    def show_about(self) -> None:
        AboutBox(self).exec()

    def new_job(self) -> None:
        """A roof of one's own in the same shop; what a demo shows is nobody's shop, so it takes nothing from one."""
        session = self.store.session
        if self.may_leave():
            own = not session.demo
            session.start(next_job(session.newest) if own else Job(name="new job"))
            session.when_shown(lambda: self.show_bench("survey"))
            self.store.said.emit("a new roof in the same shop: brake, metal, coils and standards are those of the job "
                                 "before, with what was learnt" if own else
                                 "a new job: nothing is taken over from the demo; metal, units and brake are on the "
                                 "slate")

    def open_demo(self) -> None:
        self._start_demo("sail-loft")

    def open_demo_inch(self) -> None:
        self._start_demo("net-shed")

    def _start_demo(self, which: str) -> None:
        if self.may_leave():
            self.store.session.start(load(demo_path(which)), demo=True)
            self.store.session.when_shown(lambda: self.show_bench("trim"))
            self.store.session.when_shown(self.offer_recovery)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Once it is on the screen the work beside it begins, and the benches that are not in front are set up."""
        super().showEvent(event)
        QTimer.singleShot(0, self.store.board.resume)
        if self.store.session.patience < math.inf:
            QTimer.singleShot(_SOON, self.benches.prepare)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A narrow window keeps its menus and lets the job's name go: the title bar has it."""
        self.title.setVisible(self.width() >= 1160)
        self.finder.setFixedWidth(290 if self.width() >= 1160 else 240)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if self.may_leave():
            self.closing = True
            self.store.leaving.emit()
            self.store.board.leave()
            if self.store.board.busy(FILES, PAPERS):  # what is being written is written to its end
                self.trouble.say("finishing the papers …", bad=False)
                self.store.finish(FILES, PAPERS, seconds=_PAPERS)
            self.journal.close()
            event.accept()
        else:
            event.ignore()

    def ask_unsaved(self) -> QMessageBox.StandardButton:
        """Ask what to do with what is not saved."""
        buttons = QMessageBox.StandardButton
        return QMessageBox.question(
            self, "Not saved", f"{self.store.session.job.name} has changes that are not saved.",
            buttons.Save | buttons.Discard | buttons.Cancel, buttons.Save)


class Benches(dict[str, BenchPage]):
    """The benches by name; each is set up when it is first wanted, so that the window opens at once."""

    def __init__(self, window: Window) -> None:
        super().__init__()
        self.window = window

    def __missing__(self, name: str) -> BenchPage:
        kind = next(bench for bench in PAGES if bench.name == name)
        bench = self[name] = kind(self.window.store)
        self.window.stack.addWidget(bench)
        self.window.slates.addWidget(bench.slate)
        return bench

    def prepare(self) -> None:
        """Set up what is not there yet, a little in each turn of the event loop, so that no bench is slow when it is
        wanted first."""
        deeds: list[Callable[[], object]] = []
        for bench in PAGES:
            deeds += [lambda name=bench.name: self[name], lambda name=bench.name: self[name].slate.refresh(),  # type: ignore[misc]
                      lambda name=bench.name: _dress(self[name]), lambda name=bench.name: _dress(self[name].slate)]  # type: ignore[misc]

        def next_one() -> None:
            if not deeds or self.window.closing:
                return
            busy = self.window.store.board.busy("results", "working out")  # one thing after another
            if not busy:
                deeds.pop(0)()
            QTimer.singleShot(_SOON // 4 if busy else _BETWEEN, next_one)
        next_one()


def _dress(widget: QWidget) -> None:
    """Have a widget and all in it get their style now, not when they are shown."""
    for part in widget.findChildren(QWidget):
        part.ensurePolished()


class TroubleBar(QFrame):
    """One sentence above the bench: what went wrong, or what was done."""

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 7, 8, 7)
        self.text = QLabel()
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

    def say(self, sentence: str, bad: bool) -> None:
        t = themes.theme()
        ground, line = (t.oxide_soft, t.oxide) if bad else (t.card, t.verdigris)
        self.setStyleSheet(f"TroubleBar {{ background: {ground}; border: 1px solid {line}; border-radius: 7px; }}")
        self.setAccessibleName(sentence)
        self.text.setText(sentence)
        self.show()
        self.timer.stop()
        if not bad:
            self.timer.start(8000)


