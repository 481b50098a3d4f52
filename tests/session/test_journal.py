"""Edits between saves: killed again and again, nothing is lost but the edit in hand; never a broken file."""

from __future__ import annotations

import json
import os
import random
import resource
import signal
import time
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import THREE_EAVES, eaves_path
from yattle.derive import derive
from yattle.errors import FileProblem, YattleError
from yattle.files import shown
from yattle.job import Job, load, save
from yattle.job.deeds import with_cuts_made
from yattle.job.store import as_text, parse
from yattle.session import Session
from yattle.session.journal import Journal, left_behind, open_elsewhere

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


def recovered_for_ever(path, folder, pipe):
    """A child that takes what was left behind, tells what it came to, and goes on editing until it is killed too."""
    session = Session(load(path), path)
    journal = Journal(session, folder)
    for left in left_behind(folder).offers:
        session.recover(left.job, left.path)
        if journal.holds(left.job) or not session.changed:
            left.drop()
    last = int(session.job.name)
    os.write(pipe, last.to_bytes(4, "big"))
    for n in range(last + 1, last + 100_000):
        session.edit("name", lambda job, n=n: job.but(name=str(n)))
        os.write(pipe, n.to_bytes(4, "big"))


def killed(work, path, folder, seconds):
    """Let ``work`` run in a child for so long, kill it, and give the last edit that it told was done."""
    out, into = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            work(path, folder, into)
        finally:
            os._exit(1)
    os.close(into)
    time.sleep(seconds)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    told = os.read(out, 1 << 20)
    os.close(out)
    return int.from_bytes(told[-4:], "big") if told else 0


def there(path, folder):
    """The newest edit that can still be had: in the file or in what is offered."""
    found = left_behind(folder)
    names = [int(load(path).name), *(int(left.job.name) for left in found.offers)]
    for left in found.offers:
        left.put_off()
    assert not found.damaged
    return max(names)


def test_killed_two_hundred_times_taken_up_and_killed_again_nothing_is_lost(tmp_path):
    """Half of the time what is left is taken up by a program that is killed as well, at any moment of it."""
    draw, path, folder = random.Random(1), tmp_path / "loft.yattle", tmp_path / "journal"
    kills = 0
    while kills < 200:
        save(DEMO, path)
        for old in folder.glob("*"):
            old.unlink()
        last = killed(edits_for_ever, path, folder, draw.uniform(0.002, 0.02))
        kills += 1
        assert there(path, folder) >= last, f"edit {last} was done and is not there"
        while draw.random() < 0.6:
            last = max(last, killed(recovered_for_ever, path, folder, draw.uniform(0.001, 0.012)))
            kills += 1
            assert there(path, folder) >= last, f"edit {last} was there, taken up, and is gone"


def leave(session_of, folder, *colours):
    """A program that edits and ends without a word."""
    child = os.fork()
    if child == 0:
        try:
            session = session_of()
            Journal(session, folder)
            for colour in colours:
                session.edit("colour", lambda job, colour=colour: job.but(colour=colour))
        finally:
            os._exit(0)
    os.waitpid(child, 0)


def test_what_is_left_is_offered_with_what_differs(tmp_path):
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    save(DEMO, path)
    leave(lambda: Session(load(path), path), folder, "sand")
    (left,) = left_behind(folder).offers
    assert left.path == path and left.title == "colour" and left.differs(load(path)) == ("colour",)
    session = Session(DEMO)
    session.recover(left.job, left.path)
    assert session.job.colour == "sand" and session.changed and session.path == path
    session.undo()
    assert session.job == load(path)
    left.drop()
    assert left_behind(folder).offers == () and list(folder.iterdir()) == []


def test_later_and_one_edit_and_two_left_behind_lose_nothing(tmp_path):
    """What was put off is there after this window has edited the same file; two of one file are both offered."""
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    save(DEMO, path)
    leave(lambda: Session(load(path), path), folder, "sand")
    leave(lambda: Session(load(path), path), folder, "zinc")
    mine = Session(load(path), path)
    journal = Journal(mine, folder)
    offers = left_behind(folder).offers
    assert sorted(left.job.colour for left in offers) == ["sand", "zinc"]
    assert left_behind(folder).offers == (), "what one window is being asked about another is not"
    for left in offers:
        left.put_off()
    mine.edit("colour", lambda job: job.but(colour="mine"))
    assert sorted(left.job.colour for left in left_behind(folder).offers) == ["sand", "zinc"]
    assert journal.holds(mine.job)


def test_a_process_number_in_use_again_keeps_nothing_from_being_offered(tmp_path):
    """A lock, not a number, tells whether a window lives: a journal of a number that is in use is offered."""
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    save(DEMO, path)
    leave(lambda: Session(load(path), path), folder, "sand")
    (kept,) = folder.glob("*.json")
    document = json.loads(kept.read_text()) | {"pid": os.getppid(), "format": "yattle-journal/1"}
    kept.write_text(json.dumps(document))
    assert [left.job.colour for left in left_behind(folder).offers] == ["sand"]


def test_saved_or_undone_there_is_nothing_to_keep(tmp_path):
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    session = Session(DEMO, path)
    journal = Journal(session, folder)
    session.edit("colour", lambda job: job.but(colour="sand"))
    assert len(list(folder.glob("*.json"))) == 1 and left_behind(folder).offers == ()  # its window is still there
    session.save()
    assert not list(folder.glob("*.json"))
    session.edit("colour", lambda job: job.but(colour="zinc"))
    session.undo()
    assert not list(folder.glob("*.json"))
    journal.close()
    assert not list(folder.iterdir())


def test_a_job_never_saved_is_kept_too_and_knows_its_file_once_it_has_one(tmp_path):
    folder = tmp_path / "journal"
    session = Session(DEMO)
    journal = Journal(session, folder)
    session.edit("colour", lambda job: job.but(colour="sand"))
    assert json.loads(journal.place.read_text())["path"] is None
    session.save(tmp_path / "new.yattle")
    session.edit("colour", lambda job: job.but(colour="zinc"))
    assert json.loads(journal.place.read_text())["path"] == str(tmp_path / "new.yattle")
    assert not open_elsewhere(tmp_path / "new.yattle", journal, folder)


def test_two_windows_on_one_job_are_told_and_each_keeps_its_own(tmp_path):
    """Another window is seen at once, before anybody has edited anything; in this program or in another one."""
    path, folder = tmp_path / "loft.yattle", tmp_path / "journal"
    save(DEMO, path)
    first = Session(load(path), path)
    one = Journal(first, folder)
    assert not open_elsewhere(path, one, folder)
    second = Session(load(path), path)
    two = Journal(second, folder)
    assert open_elsewhere(path, one, folder) and open_elsewhere(path, two, folder) and open_elsewhere(path, None, folder)
    first.edit("colour", lambda job: job.but(colour="first"))
    second.edit("colour", lambda job: job.but(colour="second"))
    assert sorted(json.loads(json.loads(j.place.read_text())["job"])["colour"] for j in (one, two)) == ["first", "second"]
    second.start(DEMO)
    assert not open_elsewhere(path, one, folder), "it has gone to another job"
    second.open(path)
    assert open_elsewhere(path, one, folder)
    two.close()
    assert not open_elsewhere(path, one, folder)


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


def test_two_windows_on_one_rack_take_it_once(tmp_path):
    """The second one is told, and takes nothing, whatever it has planned; opened again it goes on from what is left."""
    path = tmp_path / "shed.yattle"
    save(load(THREE_EAVES), path)

    def booked(session):
        asked = session.derived.nest_job
        session.book("cut", lambda job: with_cuts_made(job, asked, session.derived.nest, "2026-11-29"))
    one, two = Session(load(path), path), Session(load(path), path)
    booked(one)
    one.save()
    before = two.newest
    with pytest.raises(FileProblem, match="its rack with it; nothing was taken"):
        booked(two)
    assert two.newest == before and two.undo_title is None
    two.open(path)
    assert two.newest == one.newest and not two.derived.nest_job.parts
    one.undo()
    booked(one)  # its own saving is no other window's
    assert one.newest.cut == two.newest.cut


def test_damaged_journals_are_set_aside_and_said_and_stop_nothing(tmp_path):
    """Cut off, nested a thousand deep, of another kind: kept under another name, and the good one is offered."""
    spoiled = {"a": "{", "b": '{"format": "yattle-journal/1", "path": null, "pid": 9, "title": "", "job": "{}"}', "c": "[]",
               "d": "[" * 100_000, "e": '{"format": "yattle-journal/2", "path": 7, "title": 1, "job": []}', "f": "\x00\xff"}
    for name, text in spoiled.items():
        (tmp_path / f"{name}.json").write_bytes(text.encode("latin-1"))
    leave(lambda: Session(DEMO), tmp_path, "sand")
    found = left_behind(tmp_path)
    assert [left.job.colour for left in found.offers] == ["sand"]
    assert sorted(aside.name for aside in found.damaged) == [f"{name}.damaged" for name in sorted(spoiled)]
    assert all((tmp_path / f"{name}.damaged").read_bytes() == text.encode("latin-1") for name, text in spoiled.items())
    assert left_behind(tmp_path).damaged == ()


def test_a_file_whose_name_is_no_text_and_a_job_with_a_byte_order_mark(tmp_path):
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/l\xf6ft.yattle"))
    save(DEMO, path)
    session = Session(load(path), path)
    journal = Journal(session, tmp_path / "journal")
    session.edit("colour", lambda job: job.but(colour="sand"))
    assert Path(json.loads(journal.place.read_text())["path"]) == path and not open_elsewhere(path, journal)
    session.save()
    assert load(path).colour == "sand" and shown(path) == "l?ft.yattle"
    path.write_bytes(b"{")
    with pytest.raises(FileProblem, match=r"l\?ft.yattle: not a Yattle job"):
        load(path)
    marked = tmp_path / "marked.yattle"
    marked.write_bytes(b"\xef\xbb\xbf" + TEXT)
    assert load(marked) == load(eaves_path())


@settings(max_examples=90, deadline=None)
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
    assert not list(folder.glob(".yattle-*")), "no halves are left"
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
    assert "(file too large); save it somewhere else, nothing is lost" in said
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


@pytest.mark.parametrize(("name", "pieces"), [("second-sail-loft", 139), ("first-sail-loft", 26), ("early-roof", 133), ("six-eaves", 26)])
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
