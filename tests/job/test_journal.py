"""Edits between saves: killed again and again, nothing is lost but the edit in hand; never a broken file."""

from __future__ import annotations

import json
import os
import random
import signal
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import eaves_path
from yattle.errors import FileProblem, YattleError
from yattle.job import Job, Session, load, save
from yattle.job.journal import Journal, kept_elsewhere, left_behind
from yattle.job.store import as_text, parse

DEMO = Job(name="0", runs=load(eaves_path()).runs[:1])
TEXT = as_text(load(eaves_path())).encode()


def edits_for_ever(path, folder, pipe):
    """What the child does until it is killed: edits, now and then a save; each is told once it is done."""
    session = Session(load(path), path)
    Journal(session, folder)
    for n in range(1, 100_000):
        session.edit("name", lambda job, n=n: job.but(name=str(n)))
        if n % 5 == 0:
            session.save()
        os.write(pipe, n.to_bytes(4, "big"))


def test_killed_two_hundred_times_nothing_is_lost(tmp_path):
    draw, path, folder = random.Random(1), tmp_path / "loft.yattle", tmp_path / "journal"
    for _ in range(200):
        save(DEMO, path)
        for old in folder.glob("*"):
            old.unlink()
        out, into = os.pipe()
        child = os.fork()
        if child == 0:
            try:
                edits_for_ever(path, folder, into)
            finally:
                os._exit(1)
        os.close(into)
        time.sleep(draw.uniform(0.002, 0.03))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        told = os.read(out, 1 << 20)
        os.close(out)
        last = int.from_bytes(told[-4:], "big") if told else 0
        there = [int(load(path).name), *(int(left.job.name) for left in left_behind(folder))]
        assert max(there) >= last, f"edit {last} was done, {there} are there"


def test_what_is_left_is_offered_with_what_differs(tmp_path):
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    save(DEMO, path)
    child = os.fork()
    if child == 0:
        try:
            session = Session(load(path), path)
            Journal(session, folder)
            session.edit("colour", lambda job: job.but(colour="sand"))
        finally:
            os._exit(0)
    os.waitpid(child, 0)
    (left,) = left_behind(folder)
    assert left.path == path and left.title == "colour" and left.differs(load(path)) == ("colour",)
    session = Session(DEMO)
    session.recover(left.job, left.path)
    assert session.job.colour == "sand" and session.changed and session.path == path
    session.undo()
    assert session.job == load(path)
    left.drop()
    assert left_behind(folder) == ()


def test_saved_or_undone_there_is_nothing_to_keep(tmp_path):
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    session = Session(DEMO, path)
    Journal(session, folder)
    session.edit("colour", lambda job: job.but(colour="sand"))
    assert len(list(folder.glob("*.json"))) == 1 and left_behind(folder) == ()  # its program is still there
    session.save()
    assert not list(folder.glob("*"))
    session.edit("colour", lambda job: job.but(colour="zinc"))
    session.undo()
    assert not list(folder.glob("*"))


def test_a_job_never_saved_is_kept_too_and_moves_with_its_name(tmp_path):
    folder = tmp_path / "journal"
    session = Session(DEMO)
    Journal(session, folder)
    session.edit("colour", lambda job: job.but(colour="sand"))
    (kept,) = folder.glob("*.json")
    assert json.loads(kept.read_text())["path"] is None
    session.save(tmp_path / "new.yattle")
    session.edit("colour", lambda job: job.but(colour="zinc"))
    (moved,) = folder.glob("*.json")
    assert moved != kept and not kept_elsewhere(tmp_path / "new.yattle", folder)


def test_a_file_changed_by_somebody_else_is_not_written_over(tmp_path):
    path = tmp_path / "loft.yattle"
    save(DEMO, path)
    mine, other = Session(load(path), path), Session(load(path), path)
    other.edit("colour", lambda job: job.but(colour="theirs"))
    other.save()
    mine.edit("colour", lambda job: job.but(colour="mine"))
    with pytest.raises(FileProblem, match="changed on the disk"):
        mine.save()
    assert load(path).colour == "theirs" and mine.changed
    mine.save(tmp_path / "mine.yattle")
    assert load(tmp_path / "mine.yattle").colour == "mine" and load(path).colour == "theirs"


def test_journals_that_cannot_be_read_are_passed_over(tmp_path):
    (tmp_path / "a.json").write_text("{")
    (tmp_path / "b.json").write_text('{"format": "yattle-journal/1", "path": null, "pid": 999999999, "title": "", "job": "{}"}')
    (tmp_path / "c.json").write_text("[]")
    assert left_behind(tmp_path) == () and len(list(tmp_path.iterdir())) == 3


@settings(max_examples=150, deadline=None)
@given(st.lists(st.tuples(st.integers(0, len(TEXT) - 1), st.integers(0, 255)), min_size=1, max_size=6), st.booleans())
def test_flipped_bytes_never_crash_it(flips, cut):
    spoiled = bytearray(TEXT)
    for at, byte in flips:
        spoiled[at] = byte
    if cut:
        del spoiled[flips[0][0]:]
    try:
        parse(bytes(spoiled).decode("utf-8", "replace"), "spoiled")
    except YattleError as wrong:
        assert "\n" not in str(wrong)


def test_a_newer_job_is_opened_to_read(tmp_path):
    """What this Yattle does not know is left out; the file stays as it is, and saving wants another name."""
    document = json.loads(TEXT) | {"format": "yattle-job/2", "hologram": {"on": True}}
    document["runs"][0]["scent"] = "pine"
    path = tmp_path / "newer.yattle"
    path.write_text(json.dumps(document))
    before = path.read_bytes()
    session = Session(DEMO)
    session.open(path)
    assert session.job == load(eaves_path()) and session.path is None
    with pytest.raises(YattleError, match="no name yet"):
        session.save()
    assert path.read_bytes() == before
    document["runs"] = "many"
    path.write_text(json.dumps(document))
    with pytest.raises(FileProblem, match="too different"):
        session.open(path)
    assert session.job == load(eaves_path())
