"""Edits between saves: killed again and again, nothing is lost but the edit in hand; never a broken file."""

from __future__ import annotations

import json
import os
import random
import resource
import signal
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import eaves_path
from yattle.errors import FileProblem, YattleError
from yattle.job import Job, Session, derive, load, save
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


def full_disk(work):
    """Run ``work`` where no file can grow beyond 512 bytes, as on a disk that has filled up; what it returns."""
    out, into = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
            resource.setrlimit(resource.RLIMIT_FSIZE, (512, 512))
            os.write(into, json.dumps(work()).encode())
        finally:
            os._exit(0)
    os.close(into)
    os.waitpid(child, 0)
    told = os.read(out, 1 << 16)
    os.close(out)
    return json.loads(told)


def test_on_a_full_disk_edits_go_on_that_is_said_once_and_what_was_kept_stays_whole(tmp_path):
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    save(DEMO, path)
    session = Session(load(path), path)
    Journal(session, folder)
    session.edit("colour", lambda job: job.but(colour="kept"))
    before = next(folder.glob("*.json")).read_text()

    def work():
        said = []
        mine = Session(load(path), path)
        Journal(mine, folder, said.append)
        for colour in ("a", "b", "c"):
            mine.edit("colour", lambda job, colour=colour: job.but(colour=colour))
        return [said, mine.job.colour, mine.changed]
    said, colour, changed = full_disk(work)
    assert colour == "c" and changed and len(said) == 1
    assert said[0].startswith("edits between saves are not kept (file too large)")
    assert [one.name for one in folder.iterdir()] == [next(folder.glob("*.json")).name], "no halves are left"
    assert next(folder.glob("*.json")).read_text() == before


def test_on_a_full_disk_the_file_stays_as_it_was_and_that_is_said(tmp_path):
    path = tmp_path / "loft.yattle"
    save(DEMO, path)
    before = path.read_bytes()

    def work():
        mine = Session(load(path), path)
        mine.edit("colour", lambda job: job.but(colour="new"))
        try:
            mine.save()
        except FileProblem as wrong:
            return [str(wrong), mine.job.colour, mine.changed]
        return None
    said, colour, changed = full_disk(work)
    assert "cannot be written (file too large); save it somewhere else, nothing is lost" in said
    assert colour == "new" and changed and path.read_bytes() == before
    assert sorted(one.name for one in tmp_path.iterdir()) == ["loft.yattle"], "nothing is left half written"


def test_when_its_folder_is_gone_that_is_said_and_it_can_be_saved_when_it_is_back(tmp_path):
    """A network folder that goes away and comes back, with the file as it was or changed by somebody else."""
    share, away = tmp_path / "share", tmp_path / "away"
    share.mkdir()
    path = share / "loft.yattle"
    save(DEMO, path)
    session = Session(load(path), path)
    Journal(session, tmp_path / "journal")
    share.rename(away)
    session.edit("colour", lambda job: job.but(colour="mine"))
    with pytest.raises(FileProblem, match=r"cannot be written to .*share"):
        session.save()
    assert session.changed and session.job.colour == "mine" and len(list((tmp_path / "journal").glob("*.json"))) == 1
    away.rename(share)
    session.save()
    assert load(path).colour == "mine" and not session.changed
    session.edit("colour", lambda job: job.but(colour="later"))
    share.rename(away)
    save(load(away / "loft.yattle").but(colour="theirs"), away / "loft.yattle")
    away.rename(share)
    with pytest.raises(FileProblem, match="changed on the disk"):
        session.save()
    assert load(path).colour == "theirs" and session.job.colour == "later"


def test_a_file_that_cannot_be_read_back_is_not_written_over(tmp_path):
    path = tmp_path / "loft.yattle"
    save(DEMO, path)
    session = Session(load(path), path)
    session.edit("colour", lambda job: job.but(colour="mine"))
    path.unlink()
    path.mkdir()  # there, but nobody can read it
    with pytest.raises(FileProblem, match="cannot be read, so nobody can tell"):
        session.save()
    assert session.changed


@pytest.mark.parametrize(("name", "pieces"), [("first-sail-loft", 26), ("early-roof", 133), ("six-eaves", 26)])
def test_jobs_of_older_yattles_open_derive_and_are_saved_as_today_s(tmp_path, name, pieces):
    """Written before roofs, openings, rack, shop and log were in a job: what they say is kept, the rest begins as usual."""
    old = eaves_path().with_name(f"{name}.yattle")
    job = load(old)
    assert len(derive(job).pieces) >= 0.9 * pieces and job.shop == Job(name="x").shop and job.log == ()
    said = json.loads(old.read_text())
    save(job, tmp_path / "today.yattle")
    again = load(tmp_path / "today.yattle")
    assert again == job
    kept = json.loads((tmp_path / "today.yattle").read_text())
    assert kept["name"] == said["name"] and len(kept["runs"]) == len(said["runs"])
