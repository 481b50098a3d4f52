"""The line a device hangs on: a socket, a serial port, or a stand-in in the program itself.

An address is ``stand-in``, ``tcp:HOST:PORT`` or ``serial:PORT`` (9600 baud, 8N1). One line of
ASCII, ended by a newline, goes out; one comes back. Nothing is opened before it is asked for.
"""

from __future__ import annotations

import contextlib
import re
import socket
import socketserver
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Protocol

from yattle.errors import InputError

Exchange = Callable[[str], str]  # a command line to its answer line, without line ends
_LONGEST = 400  # bytes of one line: more is no answer of ours


class _Stream(Protocol):
    def send(self, data: bytes) -> None: ...
    def receive(self, seconds: float) -> bytes: ...
    def drop(self) -> None: ...


class _Socket:
    def __init__(self, host: str, port: int, seconds: float) -> None:
        self.socket = socket.create_connection((host, port), timeout=seconds)

    def send(self, data: bytes) -> None:
        self.socket.sendall(data)

    def receive(self, seconds: float) -> bytes:
        self.socket.settimeout(max(seconds, 0.001))
        return self.socket.recv(256)

    def drop(self) -> None:
        """Throw away what has come unasked."""
        self.socket.settimeout(0.0)
        with contextlib.suppress(BlockingIOError):
            while self.socket.recv(4096):
                pass

    def close(self) -> None:
        self.socket.close()


class _Serial:
    def __init__(self, port: str) -> None:
        from serial import Serial

        self.port = Serial(port, baudrate=9600)

    def send(self, data: bytes) -> None:
        self.port.write(data)

    def receive(self, seconds: float) -> bytes:
        self.port.timeout = max(seconds, 0.0)
        data = self.port.read(1)  # then all that came with it
        if not data:
            raise TimeoutError("no answer in time")
        return bytes(data + self.port.read(self.port.in_waiting))

    def drop(self) -> None:
        """Throw away what has come unasked."""
        self.port.reset_input_buffer()

    def close(self) -> None:
        self.port.close()


def number_in(word: str, least: float, most: float) -> float | None:
    """The plain decimal number that ``word`` is, if it lies between ``least`` and ``most``; ``None`` otherwise.

    >>> number_in("2450.0", 0, 20_000), number_in("1e300", 0, 20_000), number_in("-57", 0, 180)
    (2450.0, None, None)
    """
    if not re.fullmatch(r"-?[0-9]{1,7}(\.[0-9]{1,6})?", word):
        return None
    value = float(word)
    return value if least <= value <= most else None


def _read_line(stream: _Stream, seconds: float) -> str:
    until, kept = time.monotonic() + seconds, bytearray()
    while b"\n" not in kept:
        if time.monotonic() > until or len(kept) > _LONGEST:
            raise TimeoutError("no answer in time")
        data = stream.receive(until - time.monotonic())
        if not data:
            raise ConnectionError("the line was closed")
        kept += data
    line, _, _ = bytes(kept).partition(b"\n")
    return line.decode("ascii", "replace").strip()


@contextmanager
def open_line(address: str, stand_in: Exchange, seconds: float = 5.0) -> Iterator[Exchange]:
    """The exchange at ``address``; each answer is awaited ``seconds`` at most (:class:`OSError` beyond).

    What has come before a command is sent is no answer to it and is thrown away. Once an answer has been late the line
    is not used again, since the late one would be taken for the next.
    """
    if address == "stand-in":
        yield stand_in
        return
    stream, late = _opened(address, seconds), False

    def exchange(line: str) -> str:
        nonlocal late
        if late:
            raise TimeoutError("an answer was late: connect anew")
        stream.drop()
        stream.send(line.encode("ascii", "replace") + b"\n")
        try:
            return _read_line(stream, seconds)
        except TimeoutError:
            late = True
            raise

    with contextlib.closing(stream):
        yield exchange


def check_address(address: str) -> str:
    """``address`` without spaces, or an :class:`InputError` that says what one looks like."""
    text = address.strip()
    kind, _, rest = text.partition(":")
    host, _, port = rest.rpartition(":")
    if text == "stand-in" or (kind == "serial" and rest) or (kind == "tcp" and host and port.isdigit()
                                                             and 0 < int(port) < 65536):
        return text
    raise InputError("device", repr(address), "stand-in, tcp:HOST:PORT or serial:PORT")


def _opened(address: str, seconds: float) -> _Socket | _Serial:
    kind, _, rest = check_address(address).partition(":")
    if kind == "serial":
        return _Serial(rest)
    host, _, port = rest.rpartition(":")
    return _Socket(host, int(port), seconds)


@contextmanager
def served(device: Exchange, port: int = 0) -> Iterator[str]:
    """Serve a stand-in on this machine alone while the context lasts; its address."""
    class Handler(socketserver.StreamRequestHandler):
        def handle(self) -> None:
            for line in self.rfile:
                self.wfile.write(device(line.decode("ascii", "replace").strip()).encode("ascii", "replace") + b"\n")

    class Server(socketserver.ThreadingTCPServer):
        daemon_threads = allow_reuse_address = True

    with Server(("127.0.0.1", port), Handler) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        try:
            yield f"tcp:127.0.0.1:{server.server_address[1]}"
        finally:
            server.shutdown()
