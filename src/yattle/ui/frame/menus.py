"""The menu bar: every action of the table with its shortcut, recent jobs, the job's name and the search field."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence, QShortcut
from PyQt6.QtWidgets import QHBoxLayout, QMainWindow, QMenu, QWidget

from yattle.help import pages
from yattle.job.settings import Settings
from yattle.papers.codes import CODE
from yattle.session import Session
from yattle.ui.commands.table import ACTIONS, MENUS, Action
from yattle.ui.frame.finder import Finder, FinderEntry
from yattle.ui.frame.trade_words import TradeWord, trade_words
from yattle.ui.theme import px
from yattle.ui.widgets.words import Words, unkeyed

_LETTERS = {"Job": "&Job", "Edit": "&Edit", "Roof": "&Roof", "Piece": "P&iece", "Coil": "&Coil", "Papers": "&Papers",
            "View": "&View", "Help": "&Help"}
"""The menus with the letter that opens each of them with Alt."""
_NARROW = 1100  # px from which the search field has room for its words
_WIDE = 1160  # px from which the job's name has room beside the menus


class Menus:
    """``do(action)`` is called when an action is chosen, ``open_path`` for a recent job, ``explain`` for a page of the
    guide."""

    def __init__(self, window: QMainWindow, session: Session, do: Callable[[Action], None],
                 settings: Callable[[], Settings], open_path: Callable[[Path], object],
                 explain: Callable[[str], object]) -> None:
        self._window, self._session, self._do = window, session, do
        self._settings, self._open_path, self._explain = settings, open_path, explain
        self.actions: dict[str, QAction] = {}
        self.by_name: dict[str, QMenu] = {}
        self.title, self.finder, self._corner = Words(), Finder(window, self.entries), QWidget()
        self.recent = QMenu("Open recent", window)
        self.recent.aboutToShow.connect(self.fill_recent)
        self._fill()

    def _fill(self) -> None:
        bar = self._window.menuBar()
        assert bar is not None
        for name in MENUS:
            menu = bar.addMenu(_LETTERS[name])
            assert menu is not None
            self.by_name[name] = menu
        for spec in ACTIONS:
            self._add(spec)
        opens = QShortcut(QKeySequence("F10"), self._window)
        opens.activated.connect(self.open_first)
        self.by_name["Job"].insertMenu(self.actions["job.demo"], self.recent)
        self.title.setObjectName("dim")
        self.title.setFixedWidth(300)
        self.title.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        row = QHBoxLayout(self._corner)
        row.setContentsMargins(0, 0, 8, 0)
        row.addWidget(self.title)
        row.addSpacing(18)
        row.addWidget(self.finder)
        bar.setCornerWidget(self._corner)

    def _add(self, spec: Action) -> None:
        action = QAction(spec.title, self._window)
        if spec.shortcut:
            action.setShortcuts([QKeySequence(keys) for keys in (spec.shortcut, *spec.also)])
            action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
        action.setObjectName(spec.id)
        action.triggered.connect(lambda _checked, spec=spec: self._do(spec))
        menu = self.by_name[spec.menu]
        if spec.rule_before:
            menu.addSeparator()
        menu.addAction(action)
        self.actions[spec.id] = action

    def open_first(self) -> None:
        """Go to the menus by the key, as everywhere: the first one opens, arrows go on from there."""
        bar = self._window.menuBar()
        assert bar is not None
        bar.setFocus(Qt.FocusReason.MenuBarFocusReason)
        bar.setActiveAction(bar.actions()[0])

    def fill_recent(self) -> None:
        """The jobs that were open before, the last one first."""
        self.recent.clear()
        recent = self._settings().recent
        for path in recent:
            action = self.recent.addAction(unkeyed(path))
            assert action is not None
            action.triggered.connect(lambda _checked, path=path: self._open_path(Path(path)))
        if not recent:
            none = self.recent.addAction("nothing opened yet")
            assert none is not None
            none.setEnabled(False)

    def enable(self) -> None:
        """What can be used now can be pressed; undo says what it would take back."""
        session = self._session
        holds = {"always": True, "run": bool(session.derived.runs), "pieces": bool(session.derived.pieces),
                 "undo": session.undo_title is not None, "redo": session.redo_title is not None}
        for spec in ACTIONS:
            self.actions[spec.id].setEnabled(holds[spec.when])
        self.actions["edit.undo"].setText(unkeyed(f"Undo {session.undo_title or ''}".strip()))
        self.actions["edit.redo"].setText(unkeyed(f"Redo {session.redo_title or ''}".strip()))

    def fit(self, width: int) -> None:
        """A narrow window keeps its menus and lets the job's name go: the title bar has it."""
        wide = width >= px(_WIDE)
        self.title.setVisible(wide)
        self.finder.setPlaceholderText("find a piece, run or action   Ctrl+K" if wide else "find   Ctrl+K")
        self.finder.setFixedWidth(px(290 if wide else 240) if width >= _NARROW else 170)
        self._set_corner()

    def _set_corner(self) -> None:
        """The bar gives its corner the room that it has, not what it would take now, and looks only when it is set."""
        room, bar = self._corner.layout(), self._window.menuBar()
        assert room is not None and bar is not None
        room.activate()
        self._corner.resize(self._corner.sizeHint())
        bar.setCornerWidget(self._corner)

    def entries(self) -> list[FinderEntry]:
        """What the search field finds: actions that can be used, runs, pieces as they are called and as their label's
        code says."""
        found = [FinderEntry(spec.title, spec.shortcut, self.actions[spec.id].trigger) for spec in ACTIONS
                 if self.actions[spec.id].isEnabled()]
        select = self._session.select
        for run in self._session.derived.runs:
            run_id = run.run.id
            found.append(FinderEntry(f"{run_id} {run.run.name}", "run", partial(select, run=run_id)))
            for n, piece in enumerate(run.pieces):
                found += [FinderEntry(name, f"piece, {piece.hand}", partial(select, run=run_id, piece=n))
                          for name in (piece.id, f"{CODE}piece/{piece.id}")]
        for opening in self._session.derived.openings:
            for n, made in enumerate(opening.pieces):
                found += [FinderEntry(name, f"piece, {opening.title}", partial(select, opening=opening.id, piece=n))
                          for name in (made.pattern.id, f"{CODE}piece/{made.pattern.id}")]
        show = self.actions["view.coil"].trigger
        found += [FinderEntry(name, "offcut on the rack" if piece.kind == "offcut" else piece.kind, show)
                  for piece in self._session.job.stock for name in (piece.id, f"{CODE}stock/{piece.id}")]
        found += [FinderEntry(f"{word.words[0]}: {word.says}", "", partial(self._lead, word), " ".join(word.words))
                  for word in trade_words()]
        return [*found, *(FinderEntry(page.title, "guide", partial(self._explain, page.id), " ".join(page.words))
                          for page in pages())]

    def _lead(self, word: TradeWord) -> None:
        """To where a word of the trade is at home in this job; to a page of the guide where it has no place there."""
        session = self._session
        if word.leads == "action":
            self.actions[word.to].trigger()
        elif word.leads == "page":
            self._explain(word.to)
        elif word.leads == "edge":
            runs = (found.run for found in session.derived.runs if not found.run.layer)
            self._to_trim("blocks", run=next((run.id for run in runs if run.kind == word.to), None))
        else:
            self._to_trim("openings", opening=next(
                (one.id for one in session.derived.openings if one.detail == word.to), None))

    def _to_trim(self, instead: str, run: str | None = None, opening: str | None = None) -> None:
        """To the trim of a run or an opening, or to a page ``instead`` where there is none."""
        if run is None and opening is None:
            self._explain(instead)
        elif self._session.select(run=run, opening=opening):
            self.actions["view.trim"].trigger()
