"""The shop pack: the same each time, inside its folder whatever things are called, counted in copies."""

from __future__ import annotations

import csv
import json
import os
import re
import shutil

import pytest

from samples import THREE_EAVES
from yattle import cores
from yattle.cli import main
from yattle.csv_tables import as_csv, rows_of
from yattle.derive import derive
from yattle.errors import FileProblem
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


@pytest.mark.parametrize("job", [THREE_EAVES, demo_path("net-shed")])
def test_a_pack_written_by_two_is_the_pack_written_by_one(job, tmp_path, monkeypatch):
    """Byte for byte, whoever writes the cards and the patterns; and nobody is left behind."""
    packs, copies, copy = [], [], cores._copy
    monkeypatch.setattr(cores, "_copy", lambda: copies.append(copy()) or copies[-1])
    for helped in (True, False):
        monkeypatch.setattr(cores, "can_share", lambda helped=helped: helped)
        out = tmp_path / str(helped)
        files = pack.write_pack(derive(load(job)), out)["files"]
        assert sorted(str(path.relative_to(out)) for path in out.rglob("*") if path.is_file()) == files
        packs.append({name: timeless((out / name).read_bytes()) for name in files})
    assert packs[0] == packs[1] and copies
    for helper in copies:
        with pytest.raises(ProcessLookupError):
            os.kill(helper, 0)


def test_a_folder_that_goes_away_while_two_write_into_it_is_one_sentence(tmp_path, monkeypatch):
    monkeypatch.setattr(cores, "can_share", lambda: True)

    def gone(derived):
        shutil.rmtree(tmp_path / "out")
        (tmp_path / "out").write_text("a file of that name")
        return derived
    with pytest.raises(FileProblem, match=r"cannot be written to .*; choose another folder"):
        pack.write_pack(derive(load(THREE_EAVES)), tmp_path / "out", better=gone)
