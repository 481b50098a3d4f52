"""Work shared with another core: a copy of this process takes half of it, or does something else beside it, where that
is safe, and sends its answers back. What comes out does not depend on who did what."""

from __future__ import annotations

import gc
import os
import pickle
import signal
import sys
import threading
import warnings
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from itertools import takewhile
from typing import Any, NoReturn

LISTENS = "yattle listens"
"""The name of a thread that only waits, and holds nothing that a copy of the process needs."""
_MOST = 4096  # pieces of work: as many as numbers fit in a pipe
_Answers = Callable[..., list[Any]]


def _unheard(_: float) -> None:
    """Nobody asks how far the work is."""


def shared(work: Sequence[Callable[[], Any]], apart: bool | None = None,
           told: Callable[[float], object] = _unheard) -> list[Any]:
    """The answers to all pieces of work, in their order; each must depend on nothing that another one does, and its
    answer must be plain enough to be sent. Whoever is free takes the next one: the longest should come first.
    ``apart``: whether a copy of the process helps; else it does where this one has a core to spare and no other thread
    at work. ``told``: how much of it is begun, from 0 to 1; what it raises ends the work. What the work raises is
    raised."""
    with beside(work, apart if len(work) > 1 else False) as answers:
        return answers(told)


@contextmanager
def beside(work: Sequence[Callable[[], Any]], apart: bool | None = None) -> Iterator[_Answers]:
    """The same, begun by the copy while this process goes on with something else: calling what is given takes a share
    in what is left, and gives the answers. The copy is gone afterwards, whether it was called or not."""
    if not (can_share() if apart is None else apart) or not 0 < len(work) < _MOST:
        yield lambda told=_unheard: [work[n]() for n in _counted(range(len(work)), len(work), told)]
        return
    (numbers, filled), (sent, sends) = os.pipe(), os.pipe()
    os.write(filled, b"".join(n.to_bytes(2, "little") for n in range(len(work))))
    os.close(filled)
    asks, helper = os.getpid(), _copy()
    if helper == 0:
        _help(work, numbers, sends, asks)
    os.close(sends)

    def answers(told: Callable[[float], object] = _unheard) -> list[Any]:
        found = {n: work[n]() for n in _counted(_taken(numbers), len(work), told)}
        with os.fdopen(sent, "rb", closefd=False) as stream:
            found |= _sent(stream.read())
        return [found[n] if n in found else one() for n, one in enumerate(work)]

    try:
        yield answers
    finally:
        os.kill(helper, signal.SIGKILL)  # it is done, or nobody waits for it
        os.waitpid(helper, 0)
        os.close(numbers)
        os.close(sent)


def can_share() -> bool:
    """Whether there is a core to spare, and a copy of this process would be whole: threads at work, and a window, are
    not copied with it."""
    return hasattr(os, "fork") and len(os.sched_getaffinity(0)) > 1 and not _is_window() and all(
        thread is threading.main_thread() or thread.name == LISTENS for thread in threading.enumerate())


def _is_window() -> bool:
    toolkit = sys.modules.get("PyQt6.QtCore")  # not read here: nobody who works headless needs it
    return toolkit is not None and toolkit.QCoreApplication.instance() is not None


def _copy() -> int:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", DeprecationWarning)  # of threads that libraries hold ready: they copy as such
        return os.fork()


def _counted(numbers: Iterable[int], many: int, told: Callable[[float], object]) -> Iterator[int]:
    for n in numbers:
        told(n / many)
        yield n


def _taken(numbers: int) -> Iterator[int]:
    """Numbers of work, as long as there is any."""
    while taken := os.read(numbers, 2):
        yield int.from_bytes(taken, "little")


def _help(work: Sequence[Callable[[], Any]], numbers: int, sends: int, asks: int) -> NoReturn:
    """What the copy does: its share, and then it is gone, or as soon as the process that ``asks`` is. What it cannot
    answer is left to the other."""
    try:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        gc.disable()  # nothing lasts here, and what is not touched need not be copied
        for first, last in ((3, min(numbers, sends)), (min(numbers, sends) + 1, max(numbers, sends)),
                            (max(numbers, sends) + 1, os.sysconf("SC_OPEN_MAX"))):
            os.closerange(first, last)  # nobody waits for the end of what only the copy still holds
        found = {n: work[n]() for n in takewhile(lambda _: os.getppid() == asks, _taken(numbers))}
        with os.fdopen(sends, "wb") as stream:
            pickle.dump(found, stream, protocol=pickle.HIGHEST_PROTOCOL)
    finally:
        os._exit(0)


def _sent(answers: bytes) -> dict[int, Any]:
    """The copy's answers; none where it ended before it had them."""
    try:
        return dict(pickle.loads(answers)) if answers else {}
    except (pickle.UnpicklingError, EOFError):
        return {}
