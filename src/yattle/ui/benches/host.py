"""What a bench's model works with: the open job, work beside it, a word to the person. Knows no Qt, so that models can
be tested without a window."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Protocol

from yattle.measure import Unit
from yattle.session import Session
from yattle.tasks import Answer, Board, On, Request, Ticket
from yattle.tasks.board import Then


class Answers(Protocol):
    """Answers worked out beside the window, each kept by its question."""

    @property
    def busy(self) -> bool:
        """Whether something is still worked out."""

    def get(self, question: tuple[Hashable, ...], work: Callable[..., object], *args: object, instead: bool = True,
            on: On = On.PROCESS, quick: bool = True) -> object | None:
        """The answer of ``work(*args)`` to ``question``; ``None`` while it is still worked out. Errors come as the
        answer. ``instead``: it takes the place of the question with the same first word asked before; else each is
        answered in turn. Only what can be ``quick`` is waited for."""


class Host(Protocol):
    """The store of a window, or something without one."""

    session: Session
    board: Board

    @property
    def unit(self) -> Unit:
        """The job's unit of length."""

    def say(self, sentence: str) -> None:
        """What was done, in one sentence that goes by itself."""

    def complain(self, sentence: str) -> None:
        """What went wrong, in one sentence that stays until it is put away."""

    def attempt(self, deed: Callable[[], object]) -> str | None:
        """Do ``deed``; the sentence of a Yattle error is returned (and nothing has changed)."""

    def attempt_aloud(self, deed: Callable[[], object]) -> bool:
        """Do ``deed``; an error is shown. Whether it went well."""

    def ask(self, request: Request, then: Then, told: Callable[[object], object] = lambda _: None) -> Ticket | None:
        """Have ``request`` done beside the window; one that is refused is said, and there is no ticket."""

    def take(self, answer: Answer, deed: Callable[[], object], late: str) -> bool:
        """Let an answer in by the session's door and do ``deed`` with it; what is wrong, or that it came too late (in
        the words ``late``), is said. Whether it was taken."""

    def desk(self, name: str, ready: Callable[[], None]) -> Answers:
        """Answers of one bench; ``ready`` is called when one has come later."""

    def when_edited(self, deed: Callable[[], None]) -> None:
        """Call ``deed`` after every edit, before anything is shown anew."""
