"""The headless verbs, driven from outside."""

from __future__ import annotations

import json
import subprocess
import sys
import time

import pytest

from samples import eave, section
from yattle import __version__
from yattle.brake import SHOP_BRAKE
from yattle.cli import main
from yattle.schemas import schemas

PROFILE = json.dumps(section().model_dump(mode="json"))


def run(capsys, tmp_path, verb, text, *more):
    path = tmp_path / "in.json"
    path.write_text(text)
    status = main([verb, str(path), *more])
    out, err = capsys.readouterr()
    return status, json.loads(out) if out else None, err


def outside(*arguments, text=""):
    return subprocess.run([sys.executable, "-m", "yattle", *arguments], input=text, capture_output=True, text=True)


def test_girth_from_standard_input():
    done = outside("girth", "-", text=PROFILE)
    assert done.returncode == 0 and json.loads(done.stdout)["girth"] == pytest.approx(163.170027066554, abs=1e-9)
    assert done.stderr == ""


def test_version_and_help_need_nothing_heavy():
    code = "import sys; from yattle.cli import main\ntry: main(['--help'])\nexcept SystemExit: pass\n" \
           "print([m for m in ('numpy','pydantic','PyQt6','shapely') if m in sys.modules])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.stdout.strip().endswith("[]")
    assert outside("--version").stdout.strip() == f"yattle {__version__}"


@pytest.mark.parametrize(("setting", "status"), [("legs.1=90", 0), ("legs.1=0.5", 1), ("legs.1=x", 2), ("legs.9=1", 2),
                                                 ("legz=1", 2), ("=3", 2), ("metal.thickness=0.7", 0)])
def test_set_and_statuses(capsys, tmp_path, setting, status):
    got, answer, err = run(capsys, tmp_path, "girth", PROFILE, "--set", setting)
    assert got == status
    if status == 2:
        assert answer is None and err.count("\n") == 1 and "Traceback" not in err
    else:
        assert answer["ok"] is (status == 0)


def test_reasons_name_the_leg(capsys, tmp_path):
    _, answer, _ = run(capsys, tmp_path, "girth", PROFILE, "--set", "legs.1=0.5")
    assert any("leg 2" in reason for reason in answer["reasons"])


@pytest.mark.parametrize("text", ["", "nonsense", "{}", "[1]", '{"legs": [NaN]}', "\x00", '{"a":' * 3000])
def test_wrong_input_is_one_line_and_never_a_traceback(capsys, tmp_path, text):
    for verb in ("girth", "folds", "nest", "develop"):
        status, answer, err = run(capsys, tmp_path, verb, text)
        assert status == 2 and answer is None and err.count("\n") == 1


def test_a_missing_file(capsys):
    assert main(["girth", "nowhere.json"]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_folds(capsys, tmp_path):
    job = {"profile": json.loads(PROFILE), "length": 3000, "brake": SHOP_BRAKE.model_dump(mode="json")}
    status, answer, _ = run(capsys, tmp_path, "folds", json.dumps(job))
    assert status == 0 and answer["cost"] == 1 and answer["proved_best"]
    status, answer, _ = run(capsys, tmp_path, "folds", json.dumps(job), "--set", "length=4000")
    assert status == 1 and answer["reasons"][0]["against"] == "length"
    assert [(s["kind"], s["at"]) for s in answer["suggest"]] == [("split", {"length": 2050, "pieces": 2})]


def test_develop_and_out(capsys, tmp_path):
    text = json.dumps(eave().model_dump(mode="json"))
    status, answer, _ = run(capsys, tmp_path, "develop", text, "--out", str(tmp_path / "out"))
    assert status == 0 and json.loads((tmp_path / "out" / "develop.json").read_text()) == answer


def test_plan_of_the_demo(capsys, tmp_path):
    assert main(["demo-path"]) == 0
    path = capsys.readouterr().out.strip()
    status = main(["plan", path, "--out", str(tmp_path / "pack"), "--set", "roof={}"])
    answer = json.loads(capsys.readouterr().out)
    assert status == 1 and "no runs" in answer["reasons"][0]
    assert main(["plan", path]) == 2


def test_schemas(capsys):
    assert main(["schema", "profile"]) == 0
    assert json.loads(capsys.readouterr().out)["additionalProperties"] is False
    assert main(["schema", "nothing"]) == 2


def test_the_written_schemas_are_the_code_s_own():
    from pathlib import Path

    folder = Path(__file__).parents[1] / "docs" / "formats"
    for name, schema in schemas().items():
        assert json.loads((folder / f"{name}.json").read_text()) == schema, f"run: make formats ({name})"


def test_nothing_outside_ui_needs_qt():
    code = "import sys; sys.modules['PyQt6'] = None\nimport yattle.cli, yattle.job, yattle.papers, yattle.schemas\n" \
           "from yattle.papers import cards, gltf, tables"
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0


def nest_job(pieces=40, **rules):
    sizes = [(400.0 + 61.0 * n, 80.0 + 7.0 * n) for n in range(pieces)]
    return json.dumps({"format": "yattle-nest-job/1", "rules": {"max_crosscut": 3200, **rules},
                       "stock": [{"id": "coil 1", "kind": "coil", "width": 1220, "metal": "m", "cost_per_m": 14.2}],
                       "parts": [{"id": f"P{n}", "outline": [[0, 0], [a, 0], [a, b], [0, b]], "qty": 2, "metal": "m"}
                                 for n, (a, b) in enumerate(sizes)]})


def test_a_nest_s_seconds_are_those_of_the_clock_on_the_wall():
    """Start, search, proof and answer in a process of its own; generous, since other tests run beside it."""
    began = time.perf_counter()
    done = outside("nest", "-", text=nest_job(seconds=3.0))
    wall = time.perf_counter() - began
    answer = json.loads(done.stdout)
    assert done.returncode == 0 and answer["stopped"] == "seconds" and 2.0 < wall < 6.0
    assert answer["seconds"] < wall + 0.5


def test_a_reader_that_stops_reading_is_no_trouble():
    process = subprocess.Popen([sys.executable, "-m", "yattle", "nest", "-"], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
                               stderr=subprocess.PIPE, text=True)
    process.stdout.close()
    process.stdin.write(nest_job(pieces=2, work=1))
    process.stdin.close()
    assert process.wait(timeout=60) == 1 and process.stderr.read() == ""
    process.stderr.close()
