"""The shop pack: the same each time, inside its folder whatever things are called, counted in copies."""

from __future__ import annotations

import csv
import json
import re
from multiprocessing import active_children

import pytest

from samples import THREE_EAVES
from yattle.cli import main
from yattle.csv_tables import as_csv, rows_of
from yattle.derive import derive
from yattle.job import demo_path, load
from yattle.papers import pack

ODD = ["../../x", "=1+1\u0000"]


def planned(capsys, path, out, *more):
    status = main(["plan", str(path), "--out", str(out), *more])
    said, _ = capsys.readouterr()
    return status, json.loads(said)


def timeless(text):
    return re.sub(rb'"seconds": [-+.0-9e]+', b"", text)


def test_one_job_one_pack(capsys, tmp_path):
    answers = [planned(capsys, THREE_EAVES, tmp_path / name, "--set", "rules.work=40") for name in ("one", "two")]
    assert answers[0] == answers[1]
    files = sorted(path.relative_to(tmp_path / "one") for path in (tmp_path / "one").rglob("*") if path.is_file())
    assert len(files) > 20
    for name in files:
        assert timeless((tmp_path / "one" / name).read_bytes()) == timeless((tmp_path / "two" / name).read_bytes()), name
    _, summary = answers[0]
    counted = sum(json.loads(path.read_text())["qty"] for path in (tmp_path / "one" / "patterns").glob("*.json"))
    assert summary["pieces"] == counted >= summary["patterns"]


def test_seconds_that_somebody_gives_bound_the_search(capsys, tmp_path):
    _, summary = planned(capsys, demo_path(), tmp_path / "pack", "--set", "rules.seconds=0.5", "--set", "roof={}",
                         "--set", "edges=[]", "--set", "openings=[]", "--set", "faces=[]", "--set", "taped=[]",
                         "--set", 'runs=[{"id": "E1", "kind": "eave", "pitch": 30.0, "length": 41000.0}]')
    assert summary.get("stopped") in ("seconds", None) and "work" not in str(summary.get("stopped"))


@pytest.mark.parametrize("odd", ODD, ids=repr)
def test_nothing_is_written_outside_and_no_cell_is_run(odd, capsys, tmp_path):
    out = tmp_path / "deep" / "er" / "pack"
    run = json.dumps([{"id": odd, "kind": "eave", "pitch": 30.0, "length": 4000.0}])
    status, summary = planned(capsys, THREE_EAVES, out, "--set", f"runs={run}", "--set", "roof={}",
                              "--set", "edges=[]", "--set", "openings=[]", "--set", "faces=[]", "--set", "taped=[]")
    assert status in (0, 1) and summary["files"]
    everything = {path for path in tmp_path.rglob("*") if path.is_file()}
    assert everything == {out / name for name in summary["files"]}
    cells = [cell for row in csv.reader((out / "cut-list.csv").read_text().splitlines()) for cell in row]
    assert not any(cell.startswith(("=", "+", "-", "@")) for cell in cells)
    assert any(odd.replace("\u0000", "") in cell.replace("\u0000", "") for cell in cells)


def test_a_run_s_id_has_its_bounds(capsys, tmp_path):
    run = json.dumps([{"id": "E" * 13, "kind": "eave", "pitch": 30.0, "length": 4000.0}])
    assert main(["plan", str(THREE_EAVES), "--out", str(tmp_path), "--set", f"runs={run}"]) == 2
    assert "at most 12 letters" in capsys.readouterr().err


def test_tables_come_back_as_they_went():
    rows = [["=1+1", "-x", "'quoted", "'=x", "+", "@here", "plain", "a,b", "1"], ["", "x\ny", "-", "\tt", "''=", "e", "f", "g", "h"]]
    text = as_csv(rows)
    assert rows_of(text, "x") == rows
    assert not any(cell.startswith(("=", "+", "-", "@", "\t")) for row in csv.reader(text.splitlines()) for cell in row)


def test_the_process_beside_is_gone_before_the_pack_is_told(tmp_path, monkeypatch):
    monkeypatch.setattr(pack, "_LARGE", 1)
    derived = derive(load(THREE_EAVES))
    (tmp_path / "papers").mkdir()
    others = {child.pid for child in active_children()}  # of windows that other tests opened
    with pack._cards_beside(derived, tmp_path) as cards:
        assert {child.pid for child in active_children()} - others
        written = cards.result()
    assert {child.pid for child in active_children()} <= others and all((tmp_path / name).exists() for name in written)
