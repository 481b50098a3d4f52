"""What the window does with coils and the rack: search, keep, compare, stock lists, several jobs planned together."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from yattle.derive import Derived
from yattle.files import read_text
from yattle.papers.beside import plan_together
from yattle.tasks import Answer, On, Request, Target
from yattle.ui.store import Store

_LISTS = "CSV (*.csv)"
_SECONDS = 8.0  # for a plan of several jobs


class CoilDeeds:
    """The coil's part of the window."""

    store: Store
    show_bench: Callable[[str], None]
    benches: dict
    ask_open: Callable[[str], str]
    ask_folder: Callable[[], str]
    _write: Callable[[str, str, Callable[[Derived], str | bytes]], None]
    _write_paper: Callable[[str, str], None]

    def ask_jobs(self) -> list[str]:
        return QFileDialog.getOpenFileNames(self, "Other jobs", "", "Yattle jobs (*.yattle)")[0]  # type: ignore[call-overload]

    def _coil(self):
        self.show_bench("coil")
        return self.benches["coil"]

    def _pressed_piece(self) -> str:
        return self._coil()._selected_piece()

    def search_on(self) -> None:
        self._coil().search()

    def keep_block(self) -> None:
        self._coil().toggle_lock(self._pressed_piece())

    def keep_plan(self) -> None:
        self._coil().keep_plan()

    def take_plan(self) -> None:
        self._coil().take_plan()

    def spoiled(self) -> None:
        self._coil().spoil(self._pressed_piece())

    def follow_line(self) -> None:
        self._coil().follow_line()

    def stop_line(self) -> None:
        self._coil().stop_line()

    # -- lists ------------------------------------------------------------------------------------------------

    def write_stock(self) -> None:
        from yattle.job.ledger import stock_csv

        self._write("stock.csv", _LISTS, lambda derived: stock_csv(derived.job.stock))

    def read_stock(self) -> None:
        name = self.ask_open(_LISTS)
        if not name:
            return
        from yattle.job.ledger import stock_from_csv

        def read() -> None:
            stock = stock_from_csv(read_text(Path(name)))
            self.store.session.edit("stock list", lambda job: job.but(stock=stock))
        if self.store.attempt_aloud(read):
            self.show_bench("coil")

    def write_labels(self) -> None:
        self._write_paper("labels.pdf", "labels")

    # -- several jobs ---------------------------------------------------------------------------------------------

    def plan_together(self) -> None:
        """This job and others planned as one, written into a folder; what it saves is said."""
        names = self.ask_jobs()
        folder = self.ask_folder() if names else ""
        if not folder:
            return
        self.store.said.emit("planning the jobs together …")

        def done(answer: Answer) -> None:
            if answer.error is not None:
                self.store.trouble.emit(str(answer.error))
            else:
                self.store.said.emit(str(answer.result))
        session = self.store.session
        self.store.ask(Request("papers", plan_together, (session.job, names, Path(folder), _SECONDS), session.stamp,
                               Target("folder", folder), on=On.PROCESS), done)
