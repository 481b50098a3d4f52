"""The line itself: sockets and serial ports with the stand-in at the other end, and lines that go wrong."""

from __future__ import annotations

import contextlib
import os
import socket
import threading
import time

import pytest

from samples import section
from yattle.brake import SHOP_BRAKE, FoldJob, best_order
from yattle.devices import DeviceProblem, Folder, StandInFolder, check_address, fold_piece, open_line, served
from yattle.devices.line import number_in
from yattle.errors import InputError

ORDER = best_order(FoldJob(profile=section((85.0, 95.0, 18.0), (-58.0, 42.0)), length=2400.0, brake=SHOP_BRAKE))
HERE = fold_piece(Folder(StandInFolder(seed=5)), ORDER.steps)


def test_over_a_socket_as_in_the_program():
    with served(StandInFolder(seed=5)) as address, open_line(address, StandInFolder()) as exchange:
        assert fold_piece(Folder(exchange), ORDER.steps) == HERE


def test_over_a_serial_port():
    """A pair of pseudo-terminals is a serial line with nothing between."""
    machine, port = os.openpty()
    device = StandInFolder(seed=5)

    def answer():
        with os.fdopen(machine, "rb", buffering=0) as lines:
            kept = b""
            try:
                while data := lines.read(1):
                    kept += data
                    if data == b"\n":
                        os.write(machine, device(kept.decode().strip()).encode() + b"\r\n")
                        kept = b""
            except OSError:
                return

    threading.Thread(target=answer, daemon=True).start()
    with open_line(f"serial:{os.ttyname(port)}", device, 3.0) as exchange:
        assert fold_piece(Folder(exchange), ORDER.steps) == HERE
    os.close(port)


def test_the_stand_in_needs_no_line():
    with open_line("stand-in", StandInFolder(seed=5)) as exchange:
        assert fold_piece(Folder(exchange), ORDER.steps) == HERE


@pytest.mark.parametrize("says", [b"", b"OK", b"x" * 1000])
def test_a_line_that_says_nothing_or_too_much(says):
    """A device that never ends its line is given up, not waited for."""
    with socket.create_server(("127.0.0.1", 0)) as server:
        def half_an_answer():
            device, _ = server.accept()
            with device:
                device.sendall(says)
                device.recv(100)
                threading.Event().wait(0.6)

        threading.Thread(target=half_an_answer, daemon=True).start()
        address = f"tcp:127.0.0.1:{server.getsockname()[1]}"
        with open_line(address, StandInFolder(), 0.3) as exchange, pytest.raises(OSError, match=r"in time|timed out"):
            exchange("HELLO")


def test_nobody_there():
    with socket.create_server(("127.0.0.1", 0)) as server:
        port = server.getsockname()[1]
    with pytest.raises(OSError), open_line(f"tcp:127.0.0.1:{port}", StandInFolder(), 0.5):
        pass
    with pytest.raises(OSError), open_line(f"serial:{os.devnull}", StandInFolder()):
        pass


@pytest.mark.parametrize("address", ["", "usb", "tcp:", "tcp:host", "tcp:host:x", "tcp:host:70000", "tcp::4001", "serial:"])
def test_an_address_that_is_none(address):
    with pytest.raises(InputError, match="expected stand-in, tcp:HOST:PORT or serial:PORT"):
        check_address(address)


@pytest.mark.parametrize("address", ["stand-in", " tcp:brake.shop:4001 ", "serial:/dev/ttyUSB0"])
def test_addresses(address):
    assert check_address(address) == address.strip()


class Talker:
    """A device on a socket that answers with whatever it is told to, and when."""

    def __init__(self, *answers, ahead=b""):
        self.answers, self.ahead, self.heard = list(answers), ahead, []
        self.server = socket.create_server(("127.0.0.1", 0))
        self.address = f"tcp:127.0.0.1:{self.server.getsockname()[1]}"
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self):
        line, _ = self.server.accept()
        self.server.close()
        with contextlib.suppress(OSError), line, line.makefile("rb") as lines:
            line.sendall(self.ahead)
            for text in lines:
                self.heard.append(text.decode().strip())
                delay, answer = self.answers.pop(0) if self.answers else (0, b"ERR no more\n")
                time.sleep(delay)
                line.sendall(answer)


def test_an_answer_sent_ahead_is_thrown_away():
    talker = Talker((0, b"FOLDER 1 x\nOK GAUGE 10.00\n"), (0, b"OK GAUGE 55.00\n"), ahead=b"FOLDER 1 sly\n")
    with open_line(talker.address, StandInFolder()) as exchange:
        time.sleep(0.2)
        folder = Folder(exchange)
        assert folder.name == "x", "not what had come before it was asked"
        time.sleep(0.2)
        with pytest.raises(DeviceProblem, match=r"found it at 55.00 mm, expected 10.00"):
            folder.gauge(10.0)


def test_after_a_late_answer_the_line_is_not_used_again():
    talker = Talker((0, b"FOLDER 1 x\n"), (0.5, b"OK GAUGE 10.00\n"), (0, b"OK GAUGE 20.00\n"))
    with open_line(talker.address, StandInFolder(), seconds=0.2) as exchange:
        folder = Folder(exchange)
        with pytest.raises(DeviceProblem, match="does not answer"):
            folder.gauge(10.0)
        time.sleep(0.5)
        with pytest.raises(DeviceProblem, match="connect anew"):
            folder.gauge(20.0)
    assert len(talker.heard) == 2


@pytest.mark.parametrize("word", ["1e300", "-57x", "nan", "inf", "1_0", "0x10", "", "１２", "9" * 20, "1.2.3", "+5", " 5"])
def test_what_is_no_plain_number(word):
    assert number_in(word, -1e9, 1e9) is None
