"""A host for bench models without a window: everything is answered in step, and what is said is kept."""

from __future__ import annotations

from yattle.errors import YattleError
from yattle.measure import UNITS
from yattle.session import Session
from yattle.tasks import Board, Busy
from yattle.tasks.executors import InStep


def bare(job):
    """A host with everything of the job worked out."""
    host = Bare(job)
    while host.board.busy():
        host.step()
    return host


class Bare:
    """As a window's store, without Qt."""

    def __init__(self, job, path=None):
        self.executors = InStep()
        self.board = Board(lambda deed: deed(), self.executors)
        self.session = Session(job, path, self.board)
        self.said, self.wrong, self.shown = [], [], 0
        self.edited = []
        self.session.listen(lambda what: [deed() for deed in self.edited] if what == "job" else None)

    def step(self):
        """Do what has been asked for longest."""
        self.executors.step()

    @property
    def unit(self):
        return UNITS[self.session.job.unit]

    def changed(self):
        self.shown += 1

    def say(self, sentence):
        self.said.append(sentence)

    def complain(self, sentence):
        self.wrong.append(sentence)

    def attempt(self, deed):
        try:
            deed()
        except YattleError as wrong:
            return str(wrong)
        return None

    def attempt_aloud(self, deed):
        wrong = self.attempt(deed)
        if wrong:
            self.complain(wrong)
        return wrong is None

    def ask(self, request, then, told=lambda _: None):
        try:
            return self.board.ask(request, then, told)
        except Busy as busy:
            self.complain(str(busy))
            return None

    def take(self, answer, deed, late):
        if answer.error is not None:
            self.complain(str(answer.error))
            return False
        if not self.session.take(answer, deed):
            self.complain(late)
            return False
        return True

    def desk(self, name, ready):
        return InStepDesk()

    def when_edited(self, deed):
        self.edited.append(deed)


class InStepDesk:
    """Works everything out when it is asked for."""

    busy = False

    def __init__(self):
        self.kept = {}

    def get(self, question, work, *args, **how):
        if question not in self.kept:
            self.kept[question] = work(*args)
        return self.kept[question]
