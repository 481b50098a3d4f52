"""What is asked of the work beside the window, and what comes back.

Words: a *request* is a question with all that is needed to answer it; its *stamp* is the job that it was asked of, its
*target* what of that job the answer is for. A *lane* is a row of requests under one policy. The *hand* is what the
work holds while it goes on: it can ask whether to stop, and tell how far it is.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum

from yattle.errors import YattleError


class Policy(Enum):
    """What happens to requests of one lane that meet."""

    LATEST = "latest"
    """A newer one takes the place of older ones, which are stopped and not answered: previews."""
    QUEUE = "queue"
    """One after another, each answered: everything written."""
    EXCLUSIVE = "exclusive"
    """One alone; another is refused as long as it goes on: a device."""


class On(Enum):
    """Where the work is done."""

    PROCESS = "process"
    """Beside this program: searches and all that keeps the interpreter busy. Work and arguments are pickled."""
    THREAD = "thread"
    """In this program: what needs values that are large to send, for a short time."""
    FILES = "files"
    """The one thread that writes files, in turn."""
    DEVICE = "device"
    """A thread for the lane's device alone."""


@dataclass(frozen=True)
class Target:
    """What an answer is for: ``kind`` such as run, paper or folder, ``of`` which one, its ``field``."""

    kind: str
    of: str = ""
    field: str = ""

    def __str__(self) -> str:
        return " ".join(word for word in (self.of or self.kind, self.field) if word)


@dataclass(frozen=True)
class Hand:
    """``stopped`` asks whether to end with the best so far; ``tell`` says how far it is or what is found already."""

    stopped: Callable[[], bool] = lambda: False
    tell: Callable[[object], None] = lambda _: None


@dataclass(frozen=True)
class Request:
    """``work(*args)`` is asked for, ``work(hand, *args)`` where it wants a ``hand``."""

    lane: str
    work: Callable[..., object]
    args: tuple[object, ...] = ()
    stamp: object = None
    target: Target = Target("job")
    policy: Policy = Policy.QUEUE
    on: On = On.THREAD
    hand: bool = False

    def done_by(self, hand: Hand) -> object:
        """Do the work, holding ``hand``."""
        return self.work(hand, *self.args) if self.hand else self.work(*self.args)


@dataclass(frozen=True)
class Answer:
    """What came of a request: its ``result``, or the ``error`` that says why there is none; ``stopped``: it was ended
    before its time, with what it had."""

    request: Request
    result: object = None
    error: YattleError | None = None
    stopped: bool = False


def fault(trouble: BaseException) -> YattleError:
    """An error of the program's own as one that can be shown."""
    if isinstance(trouble, YattleError):
        return trouble
    return YattleError(f"something went wrong inside Yattle ({type(trouble).__name__}: {trouble})")
