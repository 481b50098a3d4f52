"""One open job: its value, every value before it, what is selected, what is worked out of it. Knows no window.

Three jobs may differ: the ``newest`` is what was entered, ``job`` is what is shown, with all that is worked out of it
(``derived``), and the saved one is what the file holds. A large job is worked out beside the window; until that is
done the one before is shown, ``working`` is true, and nothing is to be typed.

What comes back from work beside the window comes in by one door: :meth:`Session.still` tells whether an answer's
:class:`Stamp` is the job shown, that job changed since, or another one.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import count
from pathlib import Path
from typing import Literal

from yattle.coil import NestAnswer, NestJob
from yattle.derive.begun import undone, undone_says
from yattle.derive.derived import Derived, Told, worst_first
from yattle.derive.graph import derive
from yattle.errors import FileProblem, InputError, YattleError
from yattle.files import shown
from yattle.job.model import Job
from yattle.job.store import load, load_any, mark_of, save
from yattle.session.results import Results, built_of, scatter_on, work_out
from yattle.session.run_edits import RunEdits
from yattle.session.selection import Selection, first_run
from yattle.tasks import Answer, Board, On, Policy, Request, Ticket

__all__ = ["Selection", "Session", "Stamp"]
_MOST_STEPS = 500
_MOST_PLANS = 16  # better plans kept, since undo and redo come back to their jobs
_KEPT = 25  # blocks: of a larger roof somebody asks anew whether it fits
_DOCUMENTS = count(1)


@dataclass(frozen=True)
class _UndoStep:
    title: str
    job: Job


@dataclass(frozen=True)
class Stamp:
    """The job that something was asked of: ``document`` numbers what was opened, ``job`` is its value then."""

    document: int
    job: Job


@dataclass(frozen=True)
class _Kept:
    """All that an edit changes, so that one that cannot be worked out is taken back whole."""

    newest: Job
    saved: Job
    path: Path | None
    mark: str
    demo: bool
    document: int
    past: list[_UndoStep]
    future: list[_UndoStep]


class Session(RunEdits):
    """Edits are functions from job to job; a wrong one raises and changes nothing.

    ``board`` does the work beside the window; without one everything is worked out at once and there are no results.
    ``patience``: seconds that an edit is waited for before the window goes on without it. ``demo``: the job is one that
    ships with Yattle, and not the person's own until it is saved. ``consent`` is asked before pieces that are cut would
    become others: the sentence says which; where it answers false, nothing is changed.
    """

    def __init__(self, job: Job, path: Path | None = None, board: Board | None = None, patience: float = math.inf,
                 demo: bool = False) -> None:
        self._past: list[_UndoStep] = []
        self._future: list[_UndoStep] = []
        self._listeners: list[Callable[[str], None]] = []
        self._gates: list[Callable[[], bool]] = []
        self._in_gate = False
        self._held: list[str] | None = None
        self._waiting: list[Callable[[], object]] = []
        self._ticket: Ticket | None = None
        self._plans: dict[NestJob, NestAnswer] = {}
        self.board, self.patience = board, patience
        self.job = self.newest = self._saved = job
        self.path, self.demo, self.document = path, demo, next(_DOCUMENTS)
        self._mark = mark_of(path)
        self._shown = self._keep()
        self.derived: Derived = derive(job)
        self.results = self.latest = Results()
        self._wanted: dict[str, Job] = {}  # of what each result has been asked that is not worked out of itself
        self.share = 0.0  # of the roof being put together
        self.refused = ""
        self.consent: Callable[[str], bool] = lambda _: True
        self.selection = Selection(first_run(self.derived))
        self._ask_results()

    def listen(self, listener: Callable[[str], None]) -> None:
        """``listener`` is told ``job``, ``selection``, ``results``, ``share`` (how much of the roof is put
        together), ``saved``, ``working`` or ``refused`` (a large job
        that could not be worked out, :attr:`refused` says why) after each change."""
        self._listeners.append(listener)

    def _tell(self, what: str) -> None:
        if self._held is not None:
            self._held.append(what)
            return
        for listener in self._listeners:
            listener(what)

    # -- what is being typed ----------------------------------------------------------------------

    def before(self, gate: Callable[[], bool]) -> None:
        """``gate`` is asked before selection or job are changed by something else than what is typed: it takes what is
        being typed, and answers false where that is refused; then nothing changes."""
        self._gates.append(gate)

    def settle(self) -> bool:
        """Have everything taken that is being typed; false where something of it is refused."""
        if self._in_gate:
            return True
        self._in_gate = True
        try:
            return all(gate() for gate in self._gates)
        finally:
            self._in_gate = False

    def for_selection(self, selection: Selection, deed: Callable[[], object]) -> None:
        """Do ``deed`` as if ``selection`` were selected still: what was read or typed for it goes to it, whatever is
        selected by now. Raises :class:`InputError` where what was selected is not there any more."""
        if not selection.is_in(self.derived):
            raise InputError("target", f"{selection.opening or selection.part or selection.run} is not there any more",
                             "what it was read for")
        now, self.selection, self._held = self.selection, selection, []
        try:
            deed()
        finally:
            told, self._held = self._held, None
            self.selection = now.kept_in(self.derived)
            for what in dict.fromkeys(told):
                self._tell(what)

    # -- the one door -----------------------------------------------------------------------------

    @property
    def stamp(self) -> Stamp:
        """What an answer to a question asked now is for."""
        return Stamp(self.document, self.newest)

    def still(self, stamp: Stamp) -> Literal["same", "changed", "left"]:
        """Whether the job that was asked about is the one here, that one changed since, or another one."""
        if stamp.document != self.document:
            return "left"
        return "same" if stamp.job is self.newest or stamp.job == self.newest else "changed"

    def take(self, answer: Answer, deed: Callable[[], object]) -> bool:
        """The one door for answers: do ``deed`` with one that is for the job that is open, changed since or not; false,
        and nothing is done, for one that came too late, when another job is open: then it is to be said. What of
        the job the answer is for, its target, ``deed`` knows. Raises what ``deed`` raises."""
        stamp = answer.request.stamp
        if isinstance(stamp, Stamp) and self.still(stamp) == "left":
            return False
        deed()
        return True

    @property
    def findings(self) -> tuple[Told, ...]:
        """(run id, finding) of the job shown, its proofs too once they are there; what cannot be made first."""
        misfits = self.results.misfits
        return worst_first((*self.derived.findings, *misfits)) if misfits else self.derived.findings

    def _ask_results(self) -> None:
        self.results = Results()
        self.derived = self.derived.with_plan(self._plan_known())
        if self.board is not None:
            job = self.job
            self.board.ask(Request("results", work_out, (job, self.derived.plan), self.stamp, policy=Policy.LATEST,
                                   on=On.PROCESS, hand=True), self._take_results,
                           lambda found: self._show_results(job, found))
        if self.latest.built is not None and len(self.job.roof.blocks) <= _KEPT:
            self.want_built()  # somebody has looked at it: it is kept as the job is

    def want_built(self) -> None:
        """Have the roof put together, once for each job that is shown."""
        self._want("built", built_of, hand=True)

    def want_scatter(self) -> None:
        """Have the shop's scatter tried on the roof as built, once for each job that is shown."""
        self._want("scatter", scatter_on, hand=True)

    def _want(self, what: str, work: Callable[..., Results | None], hand: bool = False) -> None:
        """Ask for a result that is not worked out of itself; ``hand``: ``work`` can be stopped."""
        if self.board is not None and getattr(self.results, what) is None and self._wanted.get(what) is not self.job:
            self._wanted[what] = job = self.job
            self.share = 0.0 if what == "built" else self.share
            self.board.ask(Request(what, work, (job,), self.stamp, policy=Policy.LATEST, on=On.PROCESS, hand=hand),
                           self._take_results, lambda found: self._take_told(job, found))

    def _take_told(self, job: Job, found: object) -> None:
        """What is there of a result, or how much of it is done."""
        if isinstance(found, float) and job is self.job:
            self.share = found
            self._tell("share")
        self._show_results(job, found)

    def _take_results(self, answer: Answer) -> None:
        stamp = answer.request.stamp
        if answer.error is not None:
            self.refused = str(answer.error)
            self._tell("refused")
        elif isinstance(stamp, Stamp):
            self._show_results(stamp.job, answer.result)

    def _show_results(self, job: Job, found: object) -> None:
        """Take results of ``job`` if that is the one shown."""
        if not isinstance(found, Results) or job is not self.job:
            return
        if found.installation is not None:
            found = replace(found, installation=found.installation.on(self.derived))
        if found.plan is not None:
            self.derived = self.derived.with_plan(self.derived.plan or found.plan)  # a search may have been quicker
            found = replace(found, plan=self.derived.plan)
        self._set_results(self.results.with_more(found))
        self._tell("results")

    def _set_results(self, found: Results) -> None:
        """``latest`` keeps of each what was there last, of this job as it was a moment ago too: a view shows that until
        the new one comes."""
        self.results = found
        self.latest = self.latest.with_more(found)

    def _plan_known(self) -> NestAnswer | None:
        return self._plans.get(self.derived.nest_job) if self._plans else None

    def take_plan(self, nest: NestJob, plan: NestAnswer) -> bool:
        """Keep a better plan for a cutting job; whether it is that of the job shown, which then has it."""
        while len(self._plans) >= _MOST_PLANS:
            del self._plans[next(iter(self._plans))]
        self._plans[nest] = plan
        if self.derived.nest_job != nest:
            return False
        self.derived = self.derived.with_plan(plan)
        self._set_results(replace(self.results, plan=plan))
        self._tell("results")
        return True

    # -- the file ---------------------------------------------------------------------------------

    @property
    def changed(self) -> bool:
        """Whether there is anything that is not saved."""
        return self.newest != self._saved

    def recover(self, job: Job, path: Path | None) -> None:
        """Begin with edits that were never saved: the file's own job is what they are compared with."""
        try:
            saved = load(path) if path is not None else None
        except YattleError:  # the file is gone or spoiled: what was recovered is all there is
            saved = None
        before = saved or Job(name="new job")
        self._begin(job, before, path if saved is not None else None, [_UndoStep("recovered edits", before)])

    def open(self, path: Path) -> None:
        """Read ``path``; on any error this session stays as it was. A newer job is opened to read: it has no file here,
        so that saving asks for another name."""
        job, ours = load_any(path)
        self.start(job, path if ours else None)

    def start(self, job: Job, path: Path | None = None, demo: bool = False) -> None:
        """Begin anew with ``job``."""
        self._begin(job, job, path, [], demo)

    def _begin(self, job: Job, saved: Job, path: Path | None, past: list[_UndoStep], demo: bool = False) -> None:
        kept = self._keep()
        self.newest, self._saved, self.path, self.demo = job, saved, path, demo
        self._mark, self.document = mark_of(path), next(_DOCUMENTS)
        self._past, self._future = past, []
        self._work_out(kept, anew=True)

    def save(self, path: Path | None = None) -> None:
        """Write to ``path`` or where it came from; raises :class:`~yattle.errors.FileProblem`, also where somebody else
        has changed the file since: it is not written over."""
        target = path or self.path
        if target is None:
            raise InputError("file", "no name yet", "a name to save under")
        mark = mark_of(target) if target == self.path else ""
        if target == self.path and not mark and target.exists():
            raise FileProblem(f"{shown(target)}: cannot be read, so nobody can tell whether it has been changed; "
                              "nothing was written over, save under another name")
        if self._is_changed_by_others(mark):
            raise FileProblem(f"{shown(target)}: changed on the disk since it was opened; nothing was written over, "
                              "save under another name and compare")
        save(self.newest, target)
        self.path, self._saved, self._mark, self.demo = target, self.newest, mark_of(target), False
        self._tell("saved")

    def _is_changed_by_others(self, mark: str) -> bool:
        """Whether a file with this mark is another than was opened or saved here; one that is gone is not."""
        return bool(self._mark) and mark not in ("", self._mark)

    # -- edits ------------------------------------------------------------------------------------

    def edit(self, title: str, change: Callable[[Job], Job]) -> None:
        """Make the job ``change(job)``; undo gets ``title``. Raises and changes nothing if it is wrong."""
        job = change(self.newest)
        if job == self.newest:
            return
        kept = self._keep()
        self._past, self._future = [*self._past[-_MOST_STEPS:], _UndoStep(title, self.newest)], []
        self.newest = job
        self._work_out(kept)

    def book(self, title: str, change: Callable[[Job], Job]) -> None:
        """An edit that takes metal off the rack, or puts some on it. Raises :class:`~yattle.errors.FileProblem` and
        takes nothing where somebody else has changed the job's file since it was opened, as another window does that
        works on the same rack: what lies there is no longer what is counted here."""
        if self.path is not None and self._is_changed_by_others(mark_of(self.path)):
            raise FileProblem(f"{shown(self.path)}: changed on the disk since it was opened, its rack with it; nothing "
                              "was taken, open the job again")
        self.edit(title, change)

    def _keep(self) -> _Kept:
        return _Kept(self.newest, self._saved, self.path, self._mark, self.demo, self.document, self._past,
                     self._future)

    def _take_back(self, kept: _Kept) -> None:
        self.newest, self._saved, self.path, self._mark = kept.newest, kept.saved, kept.path, kept.mark
        self.demo, self.document, self._past, self._future = kept.demo, kept.document, kept.past, kept.future

    def _work_out(self, kept: _Kept, anew: bool = False) -> None:
        """Work the newest job out and show it: at once, or beside the window where that takes longer than its
        patience."""
        if self._ticket is not None:  # this takes the place of the one before
            self._ticket.dropped, self._ticket = True, None
        try:
            derived = self._derived_soon(kept, anew)
        except Exception:
            self._failed(kept)
            raise
        if derived is None:
            self._tell("working")
        else:
            self._agree(derived, kept, anew)

    def _agree(self, derived: Derived, kept: _Kept, anew: bool) -> None:
        """Show what was worked out; where pieces that are cut would become others, only if that is wanted."""
        said = "" if anew else undone_says(undone(self.derived, derived))
        if said and not self.consent(said):
            self._waiting = []
            self._failed(kept)
            self._tell("job")
        else:
            self._show(derived, anew)

    def _derived_soon(self, kept: _Kept, anew: bool) -> Derived | None:
        """The newest job worked out; ``None``: not yet, it will be shown when it is there."""
        if self.board is None or self.patience == math.inf:
            return derive(self.newest)
        ticket = self.board.ask(Request("working out", derive, (self.newest,), self.stamp, policy=Policy.LATEST),
                                lambda answer: self._worked_out(answer, kept, anew))
        if not ticket.came.wait(self.patience):
            self._ticket = ticket
            return None
        ticket.dropped = True  # its answer is taken here
        assert ticket.answer is not None
        if ticket.answer.error is not None:
            raise ticket.answer.error
        assert isinstance(ticket.answer.result, Derived)
        return ticket.answer.result

    def _worked_out(self, answer: Answer, kept: _Kept, anew: bool) -> None:
        """A large job is there, or it cannot be: then what led to it is taken back, and said."""
        self._ticket = None
        if isinstance(answer.result, Derived):
            self._agree(answer.result, kept, anew)
            return
        self._waiting = []
        self.refused = str(answer.error)
        self._failed(kept)
        self._tell("refused")

    def _failed(self, kept: _Kept) -> None:
        """Take back what cannot be worked out; an edit before it that is not shown yet is worked out again."""
        self._take_back(kept)
        if self.newest is not self.job:
            self._work_out(self._shown)

    @property
    def working(self) -> bool:
        """Whether what is shown is still the job before the newest one."""
        return self._ticket is not None

    def when_shown(self, deed: Callable[[], object]) -> None:
        """Do ``deed`` once the newest job is shown: now, or when it has been worked out."""
        if self.working:
            self._waiting.append(deed)
        else:
            deed()

    @property
    def undo_title(self) -> str | None:
        return self._past[-1].title if self._past else None

    @property
    def redo_title(self) -> str | None:
        return self._future[-1].title if self._future else None

    def undo(self) -> None:
        if self._past and self.settle() and self._past:  # what was being typed may have been taken meanwhile
            kept, step = self._keep(), self._past[-1]
            self._past, self._future = self._past[:-1], [*self._future, replace(step, job=self.newest)]
            self.newest = step.job
            self._work_out(kept)

    def redo(self) -> None:
        if self._future and self.settle() and self._future:
            kept, step = self._keep(), self._future[-1]
            self._past, self._future = [*self._past, replace(step, job=self.newest)], self._future[:-1]
            self.newest = step.job
            self._work_out(kept)

    def _show(self, derived: Derived, anew: bool = False) -> None:
        self.job, self.derived, self._shown = derived.job, derived, self._keep()
        if anew:
            self.selection, self.latest = Selection(), Results()
        self.selection = self.selection.kept_in(derived)
        self._ask_results()
        self._tell("job")
        waiting, self._waiting = self._waiting, []
        for deed in waiting:
            deed()

    # -- selection --------------------------------------------------------------------------------

    def select(self, run: str | None = None, piece: int | None = None, fold: str | None = None,
               opening: str | None = None, part: str | None = None) -> bool:
        """Select a run, an opening (its first piece) or a part of the roof, or a piece, or a fold of what is selected;
        ``fold`` "" clears it. False, and nothing changes, while something typed is refused."""
        now = self.selection.but(run, piece, fold, opening, part)
        if now == self.selection:
            return True
        if not self.settle():
            return False
        if now.is_in(self.derived):  # what was typed may have taken it away
            self.selection = now
            self._tell("selection")
        return True
