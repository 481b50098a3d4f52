"""Opening, saving and writing papers: what the window does with files."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from yattle.brake import Brake
from yattle.derive.derived import Derived
from yattle.derive.run import DerivedRun
from yattle.errors import YattleError
from yattle.files import put, read_text, shown
from yattle.job import load
from yattle.job.settings import Settings, keep_settings
from yattle.measure import UNITS
from yattle.papers.beside import write_paper, write_shop_pack
from yattle.session.journal import Journal, Left, left_behind, open_elsewhere
from yattle.session.session import Selection
from yattle.tasks import Answer, On, Request, Target
from yattle.ui.store import Store
from yattle.values import read

_JOBS = "Yattle jobs (*.yattle)"
_MACHINES = "Machines (*.json)"
_PDF = "PDF (*.pdf)"
FILES, PAPERS = "files", "papers"
"""The lanes of what is written: short lists and drawings by a thread of the program, papers by a process beside it."""


class FileDeeds:
    """Mixed into the window; asks for names, never loses what is there."""

    store: Store
    settings: Settings
    journal: Journal
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
        """Whether the job in hand may be left: what was typed is taken, and it is saved, or let go by the person."""
        if not self.store.session.settle():
            return False
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
        """Open ``path``; when it cannot be read the job in hand stays. What was left behind is offered then."""
        if (asked or self.may_leave()) and self.store.attempt_aloud(lambda: self.store.session.open(path)):
            self._remember(path)
            self.store.session.when_shown(lambda: self._opened(path))

    def _opened(self, path: Path) -> None:
        self._show_first_bench()
        self.say_how_opened(path)
        self.offer_recovery(path)

    def _show_first_bench(self) -> None:
        self.show_bench("trim" if self.store.session.derived.pieces else "survey")

    def say_how_opened(self, path: Path) -> None:
        """What somebody should know of the file that has just been opened."""
        if self.store.session.path is None:
            self.store.said.emit(f"{shown(path)} was written by a newer Yattle: opened to read, what this one does not "
                                 "know is left out; save it under another name")
        elif open_elsewhere(path, self.journal):
            self.store.trouble.emit(f"{shown(path)} is open in another window of Yattle: close one of them first, or "
                                    "save under another name")

    def ask_recover(self, said: str) -> bool | None:
        """Whether edits that were not saved are taken (``False``: let go; ``None``: later)."""
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(self, "Edits that were not saved", said,  # type: ignore[call-overload]
                                      buttons.Yes | buttons.Discard | buttons.Cancel, buttons.Yes)
        return {buttons.Yes: True, buttons.Discard: False}.get(answer)

    def offer_recovery(self, path: Path | None = None) -> None:
        """What a program that was killed has left is offered, with what differs from the file: that of ``path`` first.
        What was put off in this window is offered again when its own file is opened, or at the next start."""
        found = left_behind()
        if found.damaged:
            self.store.trouble.emit(f"edits that were kept between saves are damaged and cannot be read: set aside as "
                                    f"{', '.join(shown(one) for one in found.damaged)} in {found.damaged[0].parent}")
        mine = path.resolve() if path is not None else None
        waiting = sorted(found.offers, key=lambda left: left.path != mine)
        taken = False
        for left in waiting:
            if taken or (left.kept in self._put_off and (left.path != mine or mine is None)):
                left.put_off()
                continue
            taken = self._offer(left)
        if taken and len(waiting) > 1:
            self.store.said.emit("edits of other jobs that were not saved are offered when the next job is opened")

    def _offer(self, left: Left) -> bool:
        """Whether what was left behind has been taken; it goes only when it is safe in this window's own journal."""
        answer = self.ask_recover(_recovery_says(left))
        if answer is False:
            left.drop()
            return False
        if answer is None or not self.may_leave():
            self._put_off.add(left.kept)
            left.put_off()
            return False
        if not self.store.attempt_aloud(lambda: self.store.session.recover(left.job, left.path)):
            left.put_off()
            return False
        self.store.session.when_shown(self._show_first_bench)
        if self.journal.holds(left.job):
            left.drop()
        else:  # the file holds it already, or it cannot be kept here: then it stays where it is
            left.drop() if not self.store.session.changed else left.put_off()
        return True

    def save_job(self) -> None:
        if not self.store.session.settle():
            return
        if self.store.session.path is None:
            self.save_job_as()
        elif self.store.attempt_aloud(self.store.session.save):
            self._remember(self.store.session.path)

    def save_job_as(self) -> None:
        if not self.store.session.settle():
            return
        name = self.ask_save(f"{self.store.session.job.name.replace('/', '-')}.yattle", _JOBS)
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
        brake = read(Brake, read_text(path), path.name)
        self.store.session.edit("brake", lambda job: job.but(brake=brake))
        self.show_bench("brake")

    def save_machine(self) -> None:
        """Write the job's brake, as edited, into a file of its own."""
        brake = self.store.session.job.brake
        self._write(f"{brake.name}.json", _MACHINES, lambda _: brake.model_dump_json(indent=1) + "\n")

    # -- papers -----------------------------------------------------------------------------------

    def _here(self) -> DerivedRun | None:
        run = self.store.session.selection.run
        return self.store.session.derived.run(run) if run else None

    def _write(self, suggestion: str, kinds: str, content: Callable[[Derived], str | bytes]) -> None:
        """A short list or drawing of the job as it is now: made and written beside the window, in turn."""
        name = self.ask_save(suggestion, kinds)
        if name:
            session, path = self.store.session, Path(name)
            derived = session.derived
            self.store.ask(Request(FILES, lambda: put(path, content(derived)), (), session.stamp,
                                   Target("file", path.name), on=On.FILES), self._say_written)

    def _write_paper(self, suggestion: str, what: str, of: str | Selection | None = None) -> None:
        """A paper of the job as it is now, by a process beside the window, in turn."""
        name = self.ask_save(suggestion, _PDF)
        if name:
            session, path = self.store.session, Path(name)
            self.store.ask(Request(PAPERS, write_paper, (session.job, session.derived.plan, what, path, of),
                                   session.stamp, Target("file", path.name), on=On.PROCESS), self._say_written)

    def _say_written(self, answer: Answer) -> None:
        """Each is reported, whatever was asked for since."""
        if answer.error is not None:
            self.store.trouble.emit(str(answer.error))
        else:
            self.store.said.emit(f"{answer.request.target.of} is written")

    def write_pack(self) -> None:
        folder = self.ask_folder()
        if folder:
            session, out = self.store.session, Path(folder)
            self.store.said.emit("writing the shop pack …")
            derived = session.derived
            self.store.ask(Request(PAPERS, write_shop_pack, (session.job, derived.plan, out), session.stamp,
                                   Target("folder", str(out)), on=On.PROCESS, hand=True),
                           lambda answer: self._pack_written(answer, derived),
                           lambda stage: self.store.said.emit(f"writing the shop pack: {stage} …"))

    def _pack_written(self, answer: Answer, derived: Derived) -> None:
        """Keep in the job that was printed what its papers hold, so that what is changed afterwards can be told."""
        from yattle.derive.printed import with_printed

        session, out = self.store.session, answer.request.target.of
        if self.store.take(answer, lambda: session.edit("papers written", lambda job: with_printed(job, derived)),
                           f"the shop pack of {derived.job.name} is in {out}; that job is closed: it is not marked as "
                           "printed"):
            self.store.said.emit(f"the shop pack is in {out}")

    def write_card(self) -> None:
        run, opening = self._here(), self.store.session.selection.opening
        if opening:
            if self.store.session.derived.opening(opening).pieces:
                self._write_paper(f"fold-card-{opening}.pdf", "hand cards", opening)
        elif run is not None and run.pieces:
            self._write_paper(f"fold-card-{run.run.id}.pdf", "fold cards", run.run.id)

    def write_practice(self) -> None:
        """The piece selected for cutting out of paper."""
        from yattle.papers.selected import selected_piece

        session = self.store.session
        found = selected_piece(session.derived, session.selection)
        if found is not None:
            self._write_paper(f"practice-{found.pattern.id}.pdf", "practice", session.selection)

    def write_cuts(self) -> None:
        self._write_paper("cut-sheet.pdf", "cut sheet")

    def write_csv(self) -> None:
        from yattle.papers.tables import cut_list

        self._write("cut-list.csv", "CSV (*.csv)", cut_list)

    def write_book(self) -> None:
        self._write_paper("all-papers.pdf", "book")

    def compare_version(self) -> None:
        """Which pieces are not as they are in another version of the job, as a list."""
        from yattle.derive.graph import derive
        from yattle.derive.versions import changes, changes_csv

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
            self._write("changed-pieces.csv", "CSV (*.csv)", lambda _: said)

    def write_site(self) -> None:
        self._write_paper("site-pack.pdf", "site pack")

    def write_order(self) -> None:
        from yattle.papers.site import order_list

        self._write("order-list.csv", "CSV (*.csv)", order_list)

    def write_log(self) -> None:
        from yattle.job.log import log_csv

        self._write("log.csv", "CSV (*.csv)", lambda derived: log_csv(derived.job.log))

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

        def content(derived: Derived) -> str:
            from yattle.drawing import pattern_drawing
            from yattle.papers import drawing_to_dxf, drawing_to_svg

            drawing = pattern_drawing(piece.pattern, piece.profile, UNITS[derived.job.unit])
            return drawing_to_dxf(drawing) if kind == "dxf" else drawing_to_svg(drawing, piece.title)

        self._write(f"{piece.pattern.id}.{kind}", f"{kind.upper()} (*.{kind})", content)


def _recovery_says(left: Left) -> str:
    name = shown(left.path) if left.path else "a job that was never saved"
    try:
        saved = load(left.path) if left.path else None
    except YattleError:
        saved = None
    differs = ", ".join(left.differs(saved)) if saved is not None else "all of it"
    return (f"{left.job.name} ({name}): the program ended before the last edits were saved.\n\n"
            f"Last edit: {left.title}.\n"
            f"Differs from the file in: {differs or 'nothing'}.\n\nTake these edits? Discard lets them go for good.")
