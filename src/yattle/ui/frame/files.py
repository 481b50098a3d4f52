"""Opening, saving and writing papers: what the window does with files."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from yattle.brake import Brake
from yattle.errors import FileProblem, YattleError
from yattle.job import load
from yattle.job.derive import Derived, DerivedRun
from yattle.job.journal import Left, kept_elsewhere, left_behind
from yattle.job.settings import Settings, keep_settings
from yattle.measure import UNITS
from yattle.ui.store import Store, Worker
from yattle.values import read

_JOBS = "Yattle jobs (*.yattle)"
_MACHINES = "Machines (*.json)"


class FileDeeds:
    """Mixed into the window; asks for names, never loses what is there."""

    store: Store
    settings: Settings
    writer: Worker
    ask_unsaved: Callable[[], QMessageBox.StandardButton]
    show_bench: Callable[[str], None]

    # -- names (tests answer these instead of a person) -------------------------------------------

    def ask_open(self, kinds: str = _JOBS) -> str:
        return QFileDialog.getOpenFileName(self, "Open", "", kinds)[0]  # type: ignore[call-overload]

    def ask_save(self, suggestion: str, kinds: str) -> str:
        return QFileDialog.getSaveFileName(self, "Save as", suggestion, kinds)[0]  # type: ignore[call-overload]

    def ask_folder(self) -> str:
        return QFileDialog.getExistingDirectory(self, "Folder for the shop pack")  # type: ignore[call-overload]

    # -- the job ----------------------------------------------------------------------------------

    def may_leave(self) -> bool:
        """Whether the job in hand may be left: saved, or let go by the person."""
        if not self.store.session.changed:
            return True
        answer = self.ask_unsaved()
        if answer == QMessageBox.StandardButton.Save:
            self.save_job()
            return not self.store.session.changed
        return answer == QMessageBox.StandardButton.Discard

    def open_job(self) -> None:
        if self.may_leave():
            name = self.ask_open()
            if name:
                self.open_path(Path(name), asked=True)

    def open_path(self, path: Path, asked: bool = False) -> None:
        """Open ``path``; when it cannot be read the job in hand stays."""
        if (asked or self.may_leave()) and self.store.attempt_aloud(lambda: self.store.session.open(path)):
            self._remember(path)
            self.show_bench("trim" if self.store.session.derived.pieces else "survey")
            if self.store.session.path is None:
                self.store.said.emit(f"{path.name} was written by a newer Yattle: opened to read, what this one does "
                                     "not know is left out; save it under another name")
            elif kept_elsewhere(path):
                self.store.said.emit(f"{path.name} is open in another Yattle with edits that are not saved: close one "
                                     "of them first, or save under another name")

    def ask_recover(self, said: str) -> bool | None:
        """Whether edits that were not saved are taken (``False``: let go; ``None``: later)."""
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(self, "Edits that were not saved", said,  # type: ignore[call-overload]
                                      buttons.Yes | buttons.Discard | buttons.Cancel, buttons.Yes)
        return {buttons.Yes: True, buttons.Discard: False}.get(answer)

    def offer_recovery(self) -> None:
        """What a program that was killed has left is offered, with what differs from the file."""
        for left in left_behind():
            answer = self.ask_recover(_recovery_says(left))
            if answer:
                self.store.session.recover(left.job, left.path)
                left.drop()
                self.show_bench("trim" if self.store.session.derived.pieces else "survey")
                return  # one job in one window: others wait for the next start
            if answer is False:
                left.drop()

    def save_job(self) -> None:
        if self.store.session.path is None:
            self.save_job_as()
        elif self.store.attempt_aloud(self.store.session.save):
            self._remember(self.store.session.path)

    def save_job_as(self) -> None:
        name = self.ask_save(f"{self.store.session.job.name}.yattle", _JOBS)
        if name:
            path = Path(name if name.endswith(".yattle") else f"{name}.yattle")
            if self.store.attempt_aloud(lambda: self.store.session.save(path)):
                self._remember(path)

    def _remember(self, path: Path) -> None:
        self.settings = self.settings.with_recent(path.resolve())
        keep_settings(self.settings)

    # -- machines ---------------------------------------------------------------------------------

    def open_machine(self) -> None:
        """Take a brake from its own JSON file into the job."""
        name = self.ask_open(_MACHINES)
        if name:
            self.store.attempt_aloud(lambda: self._take_machine(Path(name)))

    def _take_machine(self, path: Path) -> None:
        try:
            brake = read(Brake, path.read_bytes(), path.name)
        except OSError as trouble:
            raise FileProblem(f"{path.name}: cannot be read ({(trouble.strerror or str(trouble)).lower()})") from None
        self.store.session.edit("brake", lambda job: job.but(brake=brake))
        self.show_bench("brake")

    def save_machine(self) -> None:
        """Write the job's brake, as edited, into a file of its own."""
        brake = self.store.session.job.brake
        self._write(f"{brake.name}.json", _MACHINES,
                    lambda derived, path: _put_text(path, brake.model_dump_json(indent=1) + "\n"))

    # -- papers -----------------------------------------------------------------------------------

    def _here(self) -> DerivedRun | None:
        run = self.store.session.selection.run
        return self.store.session.derived.run(run) if run else None

    def _write(self, suggestion: str, kinds: str, write: Callable[[Derived, Path], None]) -> None:
        name = self.ask_save(suggestion, kinds)
        if name:
            derived, path = self.store.session.derived, Path(name)
            self._beside(lambda: _careful(lambda: write(derived, path), path), f"{path.name} is written")

    def _beside(self, work: Callable[[], object], done: str, after: Callable[[], None] = lambda: None) -> None:
        """Write beside the window, then say so and do what comes ``after``."""
        def then(result: object) -> None:
            if isinstance(result, Exception):
                self.store.trouble.emit(str(result))
            else:
                after()
                self.store.said.emit(done)

        self.writer.ask(work, then)

    def write_pack(self) -> None:
        folder = self.ask_folder()
        if folder:
            from yattle.papers.pack import write_pack

            derived, out = self.store.session.derived, Path(folder)
            self.store.said.emit("writing the shop pack …")
            self._beside(lambda: write_pack(derived, out), f"the shop pack is in {out}",
                         lambda: self._mark_printed(derived))

    def _mark_printed(self, derived: Derived) -> None:
        """Keep in the job what its papers hold, so that what changes afterwards can be told."""
        from yattle.job.printed import with_printed

        session = self.store.session
        self.store.attempt_aloud(lambda: session.edit("papers written", lambda job: with_printed(job, derived)))

    def write_card(self) -> None:
        run = self._here()
        opening = self.store.session.selection.opening
        if opening:
            self._write_hand_cards(opening)
        elif run is not None and run.pieces:
            run_id = run.run.id

            def write(derived: Derived, path: Path) -> None:
                from yattle.papers.cards import write_fold_cards

                write_fold_cards(derived, run_id, path)

            self._write(f"fold-card-{run_id}.pdf", "PDF (*.pdf)", write)

    def write_practice(self) -> None:
        """The piece selected for cutting out of paper."""
        from yattle.papers.selected import practice_of, selected_piece

        session = self.store.session
        found = selected_piece(session.derived, session.selection)
        if found is None:
            return
        practice = practice_of(session.derived, found)

        def write(derived: Derived, path: Path) -> None:
            from yattle.papers.practice import write_practice

            write_practice(practice, path)

        self._write(f"practice-{found.pattern.id}.pdf", "PDF (*.pdf)", write)

    def _write_hand_cards(self, opening: str) -> None:
        if not self.store.session.derived.opening(opening).pieces:
            return

        def write(derived: Derived, path: Path) -> None:
            from yattle.papers.practice import write_hand_cards
            from yattle.papers.selected import cards_of

            write_hand_cards(cards_of(derived, opening), path)

        self._write(f"fold-card-{opening}.pdf", "PDF (*.pdf)", write)

    def write_cuts(self) -> None:
        def write(derived: Derived, path: Path) -> None:
            from yattle.papers.cards import write_cut_sheet

            write_cut_sheet(derived, path)

        self._write("cut-sheet.pdf", "PDF (*.pdf)", write)

    def write_csv(self) -> None:
        def write(derived: Derived, path: Path) -> None:
            from yattle.papers.tables import cut_list

            path.write_text(cut_list(derived), encoding="utf-8")

        self._write("cut-list.csv", "CSV (*.csv)", write)

    def write_book(self) -> None:
        from yattle.papers.book import write_book

        self._write("all-papers.pdf", "PDF (*.pdf)", write_book)

    def compare_version(self) -> None:
        """Which pieces are not as they are in another version of the job, as a list."""
        from yattle.job.derive import derive
        from yattle.job.versions import changes, changes_csv

        name = self.ask_open()
        if not name:
            return
        other, now, found = Path(name), self.store.session.derived, []
        if not self.store.attempt_aloud(lambda: found.extend(changes(derive(load(other)), now))):
            return
        told = ", ".join(f"{change.piece} {change.what}" for change in found[:12])
        more = f" and {len(found) - 12} more" if len(found) > 12 else ""
        self.store.said.emit(f"against {other.name}: {told}{more}" if told else f"no piece differs from {other.name}")
        if told:
            said = changes_csv(tuple(found))
            self._write("changed-pieces.csv", "CSV (*.csv)", lambda derived, path: _put_text(path, said))

    def write_site(self) -> None:
        from yattle.papers.site import write_site_pack

        self._write("site-pack.pdf", "PDF (*.pdf)", write_site_pack)

    def write_order(self) -> None:
        from yattle.papers.site import order_list

        self._write("order-list.csv", "CSV (*.csv)", lambda derived, path: _put_text(path, order_list(derived)))

    def write_log(self) -> None:
        from yattle.job.log import log_csv

        self._write("log.csv", "CSV (*.csv)", lambda derived, path: _put_text(path, log_csv(derived.job.log)))

    def write_dxf(self) -> None:
        self._write_pattern("dxf")

    def write_svg(self) -> None:
        self._write_pattern("svg")

    def _write_pattern(self, kind: str) -> None:
        from yattle.papers.selected import selected_piece

        session = self.store.session
        piece = selected_piece(session.derived, session.selection)
        if piece is None:
            return

        def write(derived: Derived, path: Path) -> None:
            from yattle.drawing import pattern_drawing
            from yattle.papers import drawing_to_dxf, drawing_to_svg

            drawing = pattern_drawing(piece.pattern, piece.profile, UNITS[derived.job.unit])
            path.write_text(drawing_to_dxf(drawing) if kind == "dxf" else drawing_to_svg(drawing, piece.title),
                            encoding="utf-8")

        self._write(f"{piece.pattern.id}.{kind}", f"{kind.upper()} (*.{kind})", write)


def _recovery_says(left: Left) -> str:
    name = left.path.name if left.path else "a job that was never saved"
    try:
        saved = load(left.path) if left.path else None
    except YattleError:
        saved = None
    differs = ", ".join(left.differs(saved)) if saved is not None else "all of it"
    return (f"{left.job.name} ({name}): the program ended before the last edits were saved.\n\n"
            f"Last edit: {left.title}.\n"
            f"Differs from the file in: {differs or 'nothing'}.\n\nTake these edits? Discard lets them go for good.")


def _put_text(path: Path, text: str) -> None:
    path.write_text(text, encoding="utf-8")


def _careful(write: Callable[[], None], path: Path) -> None:
    try:
        write()
    except OSError as trouble:
        raise FileProblem(f"{path.name}: cannot be written to {path.parent} "
                          f"({(trouble.strerror or str(trouble)).lower()}); choose another place") from None
