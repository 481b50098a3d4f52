"""A pack read again: patterns that were damaged, lost or altered since are said, and never come out as a roof that fits."""

from __future__ import annotations

import json
import shutil

import pytest

from yattle.cli import main
from yattle.derive import derive
from yattle.job import demo_path, load
from yattle.papers.pack import write_pack
from yattle.papers.written import read_again

SHED = derive(load(demo_path("net-shed")))


@pytest.fixture(scope="module")
def whole(tmp_path_factory):
    """The pack of the net shed, written once."""
    pack = tmp_path_factory.mktemp("whole")
    write_pack(SHED, pack)
    return pack


@pytest.fixture
def pack(whole, tmp_path):
    """A pack to be damaged, with only what is read of it."""
    shutil.copytree(whole / "patterns", tmp_path / "pack" / "patterns", ignore=shutil.ignore_patterns("*.dxf", "*.svg"))
    return tmp_path / "pack"


def built(pack, capsys):
    """Status and answer of ``yattle built`` into the pack."""
    status = main(["built", str(demo_path("net-shed")), "--out", str(pack)])
    return status, json.loads(capsys.readouterr().out)


def altered(pack, name, change):
    place = pack / "patterns" / f"{name}.json"
    document = json.loads(place.read_text())
    change(document)
    place.write_text(json.dumps(document))


def longer(document):
    """10 mm longer at its far end."""
    end = max(x for x, _ in document["outline"])
    document["outline"] = [[x + 10.0 if x > end - 200.0 else x, y] for x, y in document["outline"]]


def turned(document):
    document["folds"][0]["turn"] *= -1.0


def test_a_pack_as_it_was_written_is_the_roof_that_was_checked(pack, capsys):
    found = read_again(SHED, pack)
    assert len(found.patterns) == len(SHED.patterns) > 40 and found.said == ()
    status, answer = built(pack, capsys)
    assert status == 0 and answer["ok"] and (pack / "built.glb").exists()


def test_a_folder_without_patterns_of_the_job_is_no_pack(tmp_path, capsys):
    (tmp_path / "patterns").mkdir()
    (tmp_path / "patterns" / "else.json").write_text("{}")
    assert read_again(SHED, tmp_path) is None and built(tmp_path, capsys)[0] == 0


@pytest.mark.parametrize("raw", [b"", b"{", b"[]", b"\xff\xfe\x00", b'{"format": "yattle-pattern/1"}', b"1" * 300])
def test_a_pattern_that_cannot_be_read_is_said_with_its_file(raw, pack, capsys):
    (pack / "patterns" / "G1-1.json").write_bytes(raw)
    status, answer = built(pack, capsys)
    assert status == 1 and not answer["ok"]
    assert answer["reasons"][0].startswith("patterns/G1-1.json: ") and "\n" not in answer["reasons"][0]
    assert answer["findings"][0]["row"] == "pattern"


def test_a_lost_pattern_is_said_and_what_it_covered_lies_open(pack, capsys):
    (pack / "patterns" / "R1-1.json").unlink()
    status, answer = built(pack, capsys)
    assert status == 1 and answer["reasons"][0] == "patterns/R1-1.json is not there: write the papers anew"
    assert {one["row"] for one in answer["findings"]} & {"open", "slot", "water", "cover"}


@pytest.mark.parametrize("change", [longer, turned])
@pytest.mark.parametrize("name", ["G1-1", "E1-1"])
def test_an_altered_pattern_is_said_and_seen_where_it_stands(change, name, pack, capsys):
    altered(pack, name, change)
    status, answer = built(pack, capsys)
    assert status == 1 and answer["reasons"][0].startswith(f"patterns/{name}.json is not the pattern")
    assert any(name in reason for reason in answer["reasons"][1:]), "the roof put together from it shows it"


@pytest.mark.parametrize("field", ["outline", "folds", "holes"])
def test_whatever_is_written_into_a_pattern_the_check_answers(field, pack, capsys):
    for number, odd in enumerate(([[0, 0], [1e9, 0], [0, 1e9]], [[0, 0], [1, 0], [0, 0]], [[[0, 0], [5, 5], [0, 5]]], "x", None)):
        shutil.copy(pack / "patterns" / "R1-1.json", pack / "kept.json")
        altered(pack, "R1-1", lambda document, odd=odd: document.update({field: odd}))
        status, answer = built(pack, capsys)
        assert status == 1 and "patterns/R1-1.json" in answer["reasons"][0], (field, number)
        shutil.copy(pack / "kept.json", pack / "patterns" / "R1-1.json")
