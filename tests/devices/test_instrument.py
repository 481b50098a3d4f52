"""Tape and angle finder: readings over a line, and what is not one."""

from __future__ import annotations

import statistics

import pytest

from yattle.devices import DeviceProblem, StandInInstrument, open_line, served, take_reading


def test_readings():
    tape = take_reading(StandInInstrument(5371.4, scatter=0.0))
    assert (tape.value, tape.is_angle, tape.text) == (5371.4, False, "5371.4 mm")
    angle = take_reading(StandInInstrument(35.2, angle=True, scatter=0.0))
    assert (angle.value, angle.is_angle, angle.text) == (35.2, True, "35.2°")


def test_over_a_socket():
    with served(StandInInstrument(2400.0, scatter=0.0)) as address, open_line(address, lambda line: "") as exchange:
        assert take_reading(exchange).value == 2400.0


def test_the_stand_in_scatters_round_the_truth():
    stand_in = StandInInstrument(4000.0, seed=4)
    found = [take_reading(stand_in).value for _ in range(60)]
    assert abs(statistics.mean(found) - 4000) < 1 and 0.8 < statistics.stdev(found) < 2.5


@pytest.mark.parametrize(("hello", "answer", "says"), [
    ("FOLDER 1 x", "OK 1 mm", "expected 'TAPE 1'"), ("TAPE 2 x", "OK 1 mm", "expected 'TAPE 1'"), ("", "OK 1 mm", "expected"),
    ("TAPE 1 x", "OK 1 deg", "expected a reading from 0 to 200000 in mm"), ("ANGLE 1 x", "OK nan deg", "expected a reading from 0 to 180 in deg"),
    ("TAPE 1 x", "OK", "expected a reading"), ("TAPE 1 x", "ERR low battery", "low battery"),
    ("TAPE 1 x", "OK 12 mm 3", "expected a reading")])
def test_what_is_no_reading(hello, answer, says):
    with pytest.raises(DeviceProblem, match=says):
        take_reading(lambda line: hello if line == "HELLO" else answer)


def test_a_line_that_breaks():
    def broken(line):
        raise TimeoutError("no answer in time")
    with pytest.raises(DeviceProblem, match="no answer in time"):
        take_reading(broken)
    assert StandInInstrument(0.0)("READ").startswith("ERR") and StandInInstrument(1.0)("DANCE").startswith("ERR unknown")
