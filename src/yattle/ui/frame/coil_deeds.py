"""What the window does with coils and the rack: search, keep, compare, stock lists, several jobs planned together."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from yattle.errors import FileProblem
from yattle.job import Derived
from yattle.ui.store import Store, Worker

_LISTS = "CSV (*.csv)"
_SECONDS = 8.0  # for a plan of several jobs


class CoilDeeds:
    """The coil's part of the window."""

    store: Store
    writer: Worker
    show_bench: Callable[[str], None]
    benches: dict
    ask_open: Callable[[str], str]
    ask_folder: Callable[[], str]
    _write: Callable[[str, str, Callable[[Derived, Path], None]], None]

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

    # -- lists ------------------------------------------------------------------------------------------------

    def write_stock(self) -> None:
        from yattle.job.rack import stock_csv

        self._write("stock.csv", _LISTS, lambda derived, path: _put(path, stock_csv(derived.job.stock)))

    def read_stock(self) -> None:
        name = self.ask_open(_LISTS)
        if not name:
            return
        from yattle.job.rack import stock_from_csv

        def read() -> None:
            try:
                stock = stock_from_csv(Path(name).read_text(encoding="utf-8"))
            except (OSError, UnicodeDecodeError) as trouble:
                raise FileProblem(f"{Path(name).name}: cannot be read ({trouble})") from None
            self.store.session.edit("stock list", lambda job: job.but(stock=stock))
        if self.store.attempt_aloud(read):
            self.show_bench("coil")

    def write_labels(self) -> None:
        from yattle.papers.labels import write_labels

        self._write("labels.pdf", "PDF (*.pdf)", write_labels)

    # -- several jobs ---------------------------------------------------------------------------------------------

    def plan_together(self) -> None:
        """This job and others planned as one, written into a folder; what it saves is said."""
        names = self.ask_jobs()
        folder = self.ask_folder() if names else ""
        if not folder:
            return
        derived, out = self.store.session.derived, Path(folder)
        self.store.said.emit("planning the jobs together …")

        def done(result: object) -> None:
            (self.store.trouble if isinstance(result, Exception) else self.store.said).emit(str(result))
        self.writer.ask(lambda: _planned_together(derived, names, out), done)


def _planned_together(derived: Derived, names: list[str], out: Path) -> str:
    from yattle.coil import nest
    from yattle.coil.together import cuts_csv, together
    from yattle.job import load
    from yattle.job.derive import derive, nest_job

    jobs = {derived.job.name: nest_job(derived)}
    for name in names:
        other = derive(load(Path(name)))
        jobs[other.job.name if other.job.name not in jobs else Path(name).stem] = nest_job(other)
    whole = together(jobs)
    answer = nest(whole.but(rules=whole.rules.but(seconds=_SECONDS)))
    alone = sum(nest(job.but(rules=job.rules.but(seconds=_SECONDS / len(jobs)))).objective for job in jobs.values())
    try:
        _put(out / "together.json", json.dumps(answer.answer(), indent=1, sort_keys=True) + "\n")
        _put(out / "together.csv", cuts_csv(answer))
    except OSError as trouble:
        raise FileProblem(f"{out}: cannot be written to ({(trouble.strerror or str(trouble)).lower()})") from None
    return (f"{len(jobs)} jobs together: {answer.objective:.1f}, one by one {alone:.1f}; together.csv and "
            f"together.json are in {out}")


def _put(path: Path, text: str) -> None:
    path.write_text(text, encoding="utf-8")
