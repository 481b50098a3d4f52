"""What runs in a process beside the window: requests come in by a pipe, answers and what is told go out by it."""

from __future__ import annotations

import os
import queue
import signal
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection

from yattle.cores import LISTENS
from yattle.tasks.request import Hand, fault

READY = [  # what most requests need, read once and shared by all children
    "yattle.tasks.modest", "yattle.tasks.child", "yattle.derive.graph", "yattle.install.installation",
    "yattle.session.results", "yattle.coil.solve", "scipy.optimize", "scipy.sparse"]


def serve(pipe: Connection) -> None:
    """Answer requests one after another until the program that asks is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl+C is for the window
    waiting: queue.SimpleQueue[tuple[int, Callable[..., object], tuple[object, ...], bool]] = queue.SimpleQueue()
    halts: dict[int, threading.Event] = {}
    sending = threading.Lock()

    def send(kind: str, number: int, value: object) -> None:
        with sending:
            try:
                pipe.send((kind, number, value))
            except OSError:  # nobody is there any more
                os._exit(0)

    threading.Thread(target=_listen, name=LISTENS, args=(pipe, waiting, halts), daemon=True).start()
    while True:
        number, work, args, wants_hand = waiting.get()
        halt = halts[number]
        hand = Hand(halt.is_set, lambda value, number=number: send("told", number, value))  # type: ignore[misc]
        try:
            result = work(hand, *args) if wants_hand else work(*args)
            send("done", number, (result, halt.is_set()))
        except Exception as trouble:
            send("fault", number, (fault(trouble), halt.is_set()))
        halts.pop(number, None)


def _listen(pipe: Connection, waiting: queue.SimpleQueue[tuple[int, Callable[..., object], tuple[object, ...], bool]],
            halts: dict[int, threading.Event]) -> None:
    while True:
        try:
            number, question = pipe.recv()
        except (EOFError, OSError):
            os._exit(0)
        if question is None:
            halts[number].set() if number in halts else None
        else:
            halts[number] = threading.Event()
            waiting.put((number, *question))
