"""Files written whole or not at all, as the file that was there; read with a byte order mark; nothing half left."""

from __future__ import annotations

import json
import os
import signal
import stat
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import THREE_EAVES
from yattle.csv_tables import rows_of
from yattle.derive.measures import read_measures
from yattle.errors import FileProblem, InputError, YattleError
from yattle.files import beside, careful, clean, put, read_text, shown, write_whole
from yattle.job import Job, demo_path, load, save
from yattle.job.ledger import stock_from_csv
from yattle.job.settings import Settings, load_settings, settings_path
from yattle.job.store import as_text, load_any, parse
from yattle.session.journal import left_behind

DEMO = load(THREE_EAVES)
TEXT = as_text(DEMO)


@pytest.mark.parametrize("mode", [0o664, 0o600, 0o640, 0o444, 0o2664])
def test_a_file_keeps_its_mode(tmp_path, mode):
    """0664 stays 0664: a job that a group shares was the saver's alone after one save."""
    path = tmp_path / "loft.yattle"
    save(DEMO, path)
    path.chmod(mode)
    save(DEMO.but(colour="sand"), path)
    assert stat.S_IMODE(path.stat().st_mode) == mode and load(path).colour == "sand"
    put(path, "{}")
    assert stat.S_IMODE(path.stat().st_mode) == mode


@pytest.mark.skipif(os.geteuid() != 0, reason="only root may give files away")
def test_a_file_keeps_its_owner_and_group(tmp_path):
    path = tmp_path / "loft.yattle"
    save(DEMO, path)
    os.chown(path, 1234, 4321)
    save(DEMO.but(colour="sand"), path)
    assert (path.stat().st_uid, path.stat().st_gid) == (1234, 4321)


def test_a_new_file_is_as_the_umask_says_and_a_link_stays_a_link(tmp_path):
    before = os.umask(0o027)
    try:
        put(tmp_path / "new.csv", "a")
    finally:
        os.umask(before)
    assert stat.S_IMODE((tmp_path / "new.csv").stat().st_mode) == 0o640
    (tmp_path / "link.csv").symlink_to("new.csv")
    put(tmp_path / "link.csv", "b")
    assert (tmp_path / "link.csv").is_symlink() and (tmp_path / "new.csv").read_text() == "b"


def fails(place):
    place.write_text("half of it")
    raise OSError(28, "No space left on device")


def test_a_full_disk_leaves_the_good_list_as_it_was(tmp_path):
    """A cut-off list lay over the good one."""
    path = tmp_path / "cut-list.csv"
    path.write_text("the good one")
    with pytest.raises(FileProblem, match=r"cut-list.csv: cannot be written to .*\(no space left on device\).*unchanged"):
        careful(path, fails)
    assert path.read_text() == "the good one" and [one.name for one in tmp_path.iterdir()] == ["cut-list.csv"]
    with pytest.raises(FileProblem, match=r"choose another place"):
        put(tmp_path / "nowhere" / "x.csv", "a")
    (tmp_path / "folder.csv").mkdir()
    with pytest.raises(FileProblem, match="is a directory"):
        put(tmp_path / "folder.csv", "a")


def killed_while_writing(path):
    out, into = os.pipe()
    child = os.fork()
    if child == 0:
        with beside(path) as place:
            place.write_text("half")
            os.write(into, b"x")
            time.sleep(60)
    os.read(out, 1)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    os.close(out)
    os.close(into)


def test_what_a_killed_program_left_is_taken_away_what_is_being_written_is_not(tmp_path):
    path = tmp_path / "list.csv"
    write_whole(path, "good")
    killed_while_writing(path)
    assert len(list(tmp_path.glob(".yattle-*"))) == 1 and path.read_text() == "good"
    with beside(path) as mine:  # this takes the left one away
        assert list(tmp_path.glob(".yattle-*")) == [mine]
        clean(tmp_path)
        assert mine.exists()
        mine.write_text("better")
    assert path.read_text() == "better" and not list(tmp_path.glob(".yattle-*"))


def test_a_name_as_long_as_names_can_be(tmp_path):
    path = tmp_path / ("n" * 251 + ".csv")
    put(path, "a")
    assert read_text(path) == "a"


def test_text_is_read_with_and_without_its_mark_and_refused_where_it_is_none(tmp_path):
    (tmp_path / "a.csv").write_bytes(b"\xef\xbb\xbfwhat,value")
    assert read_text(tmp_path / "a.csv") == "what,value"
    (tmp_path / "b.csv").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(FileProblem, match=r"b.csv: cannot be read as text, expected UTF-8"):
        read_text(tmp_path / "b.csv")
    assert shown(tmp_path / os.fsdecode(b"l\xf6ft.csv")) == "l?ft.csv" and shown(tmp_path / "løft.csv") == "løft.csv"


def test_a_newer_job_is_read_and_cannot_be_saved_to(tmp_path):
    path = tmp_path / "newer.yattle"
    path.write_text(json.dumps(json.loads(TEXT) | {"format": "yattle-job/9", "hologram": 1}))
    assert load_any(path) == (DEMO, False) and load_any(demo_path("net-shed")) == (load(demo_path("net-shed")), True)


# -- whatever stands in a file ----------------------------------------------------------------------------------

JSON = st.recursive(st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
                    lambda inside: st.lists(inside, max_size=4) | st.dictionaries(st.text(max_size=8), inside, max_size=4),
                    max_leaves=12)
KEYS = sorted({key for key in json.loads(TEXT)} | {"runs", "taped", "log", "ledger", "faces", "laps", "printed"})


def only_ours(work):
    """Do ``work``: nothing but an error of the program's own, in one line."""
    try:
        return work()
    except YattleError as wrong:
        assert "\n" not in str(wrong) and str(wrong)
        return None


@settings(max_examples=200, deadline=None)
@given(st.dictionaries(st.sampled_from(KEYS), JSON, min_size=1, max_size=3))
def test_any_value_in_any_field_of_a_job_is_refused_by_name_or_taken(changes):
    only_ours(lambda: parse(json.dumps(json.loads(TEXT) | changes)))


def places(document):
    """Every place in a document: what holds it, and its key or number there."""
    inside = list(document.items()) if isinstance(document, dict) else list(enumerate(document))
    for step, value in inside:
        yield document, step
        if isinstance(value, dict | list):
            yield from places(value)


@settings(max_examples=150, deadline=None)
@given(st.integers(0, 10_000), JSON)
def test_any_value_anywhere_in_a_job_is_refused_by_name_or_taken(where, value):
    document = json.loads(TEXT)
    every = list(places(document))
    holder, step = every[where % len(every)]
    holder[step] = value
    only_ours(lambda: parse(json.dumps(document)))


@settings(max_examples=200, deadline=None)
@given(st.text(max_size=60) | st.binary(max_size=60).map(lambda raw: raw.decode("utf-8", "replace")))
def test_any_text_is_no_trouble_as_a_job_or_a_table(text):
    only_ours(lambda: parse(text))
    only_ours(lambda: stock_from_csv(text))
    only_ours(lambda: read_measures(DEMO, text))


CELLS = st.text(max_size=10) | st.sampled_from(["E1", "inf", "nan", "1e400", "3.7", "-1", "coil", "sheet", "\x00", '"', "\r", "1 2; 3"])


@settings(max_examples=200, deadline=None)
@given(st.lists(st.lists(CELLS, max_size=13), max_size=4))
def test_any_cells_of_a_stock_list_or_of_measures(rows):
    head = "id,kind,metal,width_mm,length_mm,qty,lot,price_per_m,price,direction,outline_mm\n"
    only_ours(lambda: stock_from_csv(head + "\n".join(",".join(row) for row in rows)))
    only_ours(lambda: read_measures(DEMO, "\n".join(",".join(row) for row in rows)))


@pytest.mark.parametrize("value", ["0", "-0", "-1", "1e-9", "nan", "1e308"])
@pytest.mark.parametrize("what", ["E1", "length loft", "pitch loft.1", "diagonal loft.1 0-2", "fold R1"])
def test_a_measure_that_nobody_can_have_taken_is_said_with_its_line(what, value):
    """Of every kind there is, on the demo's roof."""
    with pytest.raises(InputError, match=r"found"):
        read_measures(load(demo_path()), f"{what},{value}")


def test_a_table_that_is_none_says_its_line():
    with pytest.raises(InputError, match=r"list, line 2: found field larger than field limit"):
        rows_of("a,b\n" + "x" * 200_000, "list")


@pytest.mark.parametrize("text", ["[" * 1000 + "]" * 1000, '{"recent": ' + "[" * 1000 + "]" * 1000 + "}", "[]", "7", "{}", "\xff", "",
                                  '{"recent": 3, "theme": "light"}', '{"recent": [], "theme": []}', '{"recent": [], "theme": {"a": 1}}',
                                  '{"recent": null, "theme": null}', '{"recent": [], "theme": "dark", "folder": {"a": []}}'])
def test_no_settings_file_stops_the_start(text):
    """One nested a thousand deep did."""
    settings_path().parent.mkdir(parents=True, exist_ok=True)
    settings_path().write_bytes(text.encode("latin-1"))
    assert isinstance(load_settings(), Settings)


@settings(max_examples=200, deadline=None)
@given(JSON)
def test_any_settings_and_any_journal(value):
    settings_path().parent.mkdir(parents=True, exist_ok=True)
    settings_path().write_text(json.dumps({"recent": value, "theme": value, "folder": value, "toured": value}))
    assert isinstance(load_settings(), Settings)
    folder = settings_path().parent / "journal"
    folder.mkdir(exist_ok=True)
    (folder / "one.json").write_text(json.dumps({"format": "yattle-journal/2", "path": value, "title": value, "job": value}))
    found = left_behind(folder)
    for left in found.offers:
        left.drop()
    for aside in found.damaged:
        aside.unlink()


def test_a_job_of_nothing_reads_back():
    assert parse(as_text(Job(name="x"))) == Job(name="x")
