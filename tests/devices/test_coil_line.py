"""The coil line: followed over its stand-in, also on a socket; it stops before anything too short is cut."""

from __future__ import annotations

import pytest

from yattle.devices.coil_line import CoilLine, StandInCoilLine, follow
from yattle.devices.folder import DeviceProblem
from yattle.devices.line import open_line, served

LENGTHS = (3000.0, 2450.0, 812.5)


def test_a_cut_sheet_is_followed_and_what_was_cut_is_told():
    device, told = StandInCoilLine(share=-0.0005, scatter=0.2), []
    done = follow(CoilLine(device), LENGTHS, told=told.append)
    assert [one.wanted for one in done] == list(LENGTHS) and list(done) == told
    assert [one.cut for one in done] == pytest.approx(device.cut, abs=0.05)
    assert all(0.3 < one.wanted - one.cut < 2.5 for one in done if one.wanted > 2000)  # its own error, half a mm a metre


def test_over_a_socket():
    with served(StandInCoilLine()) as address, open_line(address, StandInCoilLine()) as exchange:
        assert len(follow(CoilLine(exchange), LENGTHS)) == 3


def test_nothing_too_short_is_cut():
    device = StandInCoilLine(share=-0.01)
    with pytest.raises(DeviceProblem, match=r"piece 1: found 29\d\d\.\d mm under the shear, expected 3000.0 mm; not cut"):
        follow(CoilLine(device), LENGTHS)
    assert device.cut == []


def test_an_empty_coil_says_so():
    device = StandInCoilLine(length=4000.0)
    with pytest.raises(DeviceProblem, match="left on the coil"):
        follow(CoilLine(device), LENGTHS)
    assert len(device.cut) == 1


@pytest.mark.parametrize("line", ["FEED", "FEED x", "FEED -3", "SHEAR", "JUMP", ""])
def test_the_stand_in_refuses_what_it_does_not_know(line):
    assert StandInCoilLine()(line).startswith("ERR ")


@pytest.mark.parametrize("answers", [["FOLDER 1 x"], ["COIL 1 x", "OK FEED"], ["COIL 1 x", "OK FEED nan"], ["COIL 1 x", "ERR jam"]])
def test_strange_answers_are_said(answers):
    said = iter(answers)
    with pytest.raises(DeviceProblem):
        follow(CoilLine(lambda _: next(said)), (100.0,))


@pytest.mark.parametrize("came", ["98000.0", "2460.0", "2440.0", "0.0", "-3.0", "1e9", "nan"])
def test_a_feed_that_is_not_what_was_asked_is_not_sheared(came):
    heard = []

    def lying(line):
        heard.append(line)
        return "COIL 1 x" if line == "HELLO" else f"OK FEED {came}" if line.startswith("FEED") else "OK SHEAR"
    with pytest.raises(DeviceProblem):
        follow(CoilLine(lying), (2450.0,))
    assert "SHEAR" not in heard
