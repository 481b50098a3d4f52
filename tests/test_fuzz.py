"""Every verb on documents changed at random: status 0 or 1 with an answer, 2 with one line; never anything else."""

from __future__ import annotations

import copy
import json
import random
import time

import pytest

from samples import metal, section
from yattle.brake import SHOP_BRAKE
from yattle.cli import main
from yattle.details import FAMILIES
from yattle.job import demo_path

ODD = (1e-7, 1e12, 1e308, -0.0, 5e-324, 1e-9, 1e8, -1, 0, 1, 0.5, 3.7, 180, -180, 90, 10**30, None, "", "../../x", "=1+1",
       "\x00", [], {}, True, [1], 1e6, 80.1, 89.99)
PROFILE = section().model_dump(mode="json")
FOLD = {"format": "yattle-fold-job/1", "profile": PROFILE, "length": 3000.0, "brake": SHOP_BRAKE.model_dump(mode="json")}
ROOF = {"format": "yattle-roof/1", "blocks": [
    {"id": "main", "kind": "gable", "x": 0.0, "y": 0.0, "length": 14000.0, "span": 8000.0, "eave_height": 4200.0,
     "pitch": 35.0, "eave_overhang": 400.0, "rake_overhang": 300.0},
    {"id": "porch", "kind": "shed", "x": 0.0, "y": -6000.0, "length": 4000.0, "span": 4000.0, "eave_height": 2500.0, "pitch": 10.0},
    {"id": "hall", "kind": "hip", "x": 5000.0, "y": 5000.0, "bearing": 90.0, "length": 8000.0, "span": 5000.0,
     "eave_height": 4200.0, "pitch": 35.0, "pitch_ends": 40.0}],
    "openings": [{"id": "vent", "kind": "pipe", "x": -3000.0, "y": -2000.0, "diameter": 110.0}]}
NEST = {"format": "yattle-nest-job/1", "stock": [
    {"id": "coil 1", "kind": "coil", "width": 1220.0, "length": 45000.0, "metal": "m", "cost_per_m": 14.2},
    {"id": "off 7", "kind": "offcut", "outline": [[0, 0], [1500, 0], [1500, 200], [900, 520], [0, 520]], "metal": "m"}],
    "parts": [{"id": "P1", "outline": [[0, 0], [900, 0], [900, 200], [0, 200]], "qty": 3, "metal": "m"},
              {"id": "P2", "outline": [[0, 0], [500, 0], [500, 200], [250, 300], [0, 200]],
               "holes": [[[100, 50], [120, 50], [120, 80]]], "qty": 2, "metal": "m", "turns": "any", "mirror": True}],
    "rules": {"max_crosscut": 3200.0, "seconds": 0.3, "work": 2}}
LOG = {"format": "yattle-log/1", "entries": [
    {"when": "2026-01-01", "what": "measured", "fold": "f1", "wanted": 90.0, "set": 92.0 + n / 10, "found": 89.5 + n / 10,
     "metal": "m", "brake": "b"} for n in range(4)], "metals": [{"name": "m", "thickness": 0.6}]}
DOCUMENTS = {"girth": (PROFILE,), "folds": (FOLD,), "roof": (ROOF,), "nest": (NEST,), "learn": (LOG,),
             "adjust": (ROOF | {"taped": [{"kind": "block", "of": "main", "field": "length", "value": 14010.0}]},),
             "try": tuple(FOLD | {"order": order} for order in (
                 [{"fold": "hB"}, {"fold": "f2"}, {"fold": "f1"}, {"fold": "hB", "action": "flatten"}],
                 [{"fold": "hB"}, {"fold": "hB", "action": "flatten"}, {"fold": "f2"}, {"fold": "f1"}])),
             "develop": tuple({"detail": name, "metal": metal().model_dump(mode="json"), "length": 2400.0} | more
                              for name, more in (("eave-drip", {"pitch": 30.0}), ("sidewall", {}), ("cleat", {}),
                                                 ("free", {"legs": [30.0, 60.0], "turns": [90.0]}),
                                                 ("pan", {"coverage": 500.0}))),
             "order": (json.loads(demo_path("net-shed").read_text()),)}


def places(node, before=()):
    """Every path of a document but its own."""
    inner = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in inner:
        yield (*before, key)
        yield from places(value, (*before, key))


def changed(draw, document):
    """The document with one to three of its values changed, left out or doubled."""
    document = copy.deepcopy(document)
    for _ in range(draw.choice([1, 1, 1, 2, 3])):
        *way, last = draw.choice(list(places(document)))
        node = document
        for part in way:
            node = node[part]
        value, kind = node[last], draw.random()
        if isinstance(value, float | int) and not isinstance(value, bool) and kind < 0.6:
            new = value * 10 ** draw.uniform(-4, 4) if kind < 0.4 else value + draw.uniform(-60, 60)
            node[last] = round(new) if isinstance(value, int) else new
        elif kind < 0.9:
            node[last] = copy.deepcopy(draw.choice(ODD))
        elif isinstance(node, list):
            node.append(copy.deepcopy(value))
        else:
            del node[last]
    return document


@pytest.mark.parametrize("verb", DOCUMENTS)
def test_a_changed_document_is_an_answer_or_one_line(verb, tmp_path, capsys):
    file, statuses = tmp_path / "in.json", []
    for seed in range({"nest": 25, "order": 25, "adjust": 30}.get(verb, 60)):
        draw = random.Random(f"{verb} {seed}")
        file.write_text(json.dumps(changed(draw, draw.choice(DOCUMENTS[verb]))))
        began = time.perf_counter()
        statuses.append(main([verb, str(file)]))
        took = time.perf_counter() - began
        out, err = capsys.readouterr()
        assert took < 15, "seconds"
        if statuses[-1] == 2:
            assert not out and err.count("\n") == 1 and "Traceback" not in err
        else:
            assert out.count("\n") == 1 and isinstance(json.loads(out), dict)
    assert 2 in statuses and 0 in statuses


@pytest.mark.parametrize(("verb", "path", "value", "says"), [
    ("girth", "metal.thickness", 1e-7, "metal.thickness: found 1e-07, expected a number of at least 0.05"),
    ("girth", "legs.1", 1e12, "legs.1: found 1000000000000.0, expected a number of at most 1e+06"),
    ("girth", "legs", [1.0] * 10**6, "legs: found 1000000 entries, expected at most 100 entries"),
    ("folds", "brake.max_thickness", 1e-7, "brake.max_thickness"), ("nest", "stock.0.width", 1e8, "stock.0.width"),
    ("nest", "parts.0.qty", 10**30, "parts.0.qty"), ("nest", "parts.0.qty", 900_000, "parts: found 900002 pieces"),
    ("nest", "parts.1.holes", [[[900, 900], [910, 900], [910, 910]]], "parts.1.holes"),
    ("order", "runs.0.schools.hip", "both", "runs.0.schools.hip: found"),
    ("order", "runs.0.taped", 3e6, "runs.0.taped"), ("roof", "blocks.0.pitch", "steep", "blocks.0.pitch: found \"steep\""),
    ("learn", "entries.0.found", 5e-324, "entries.0.found"), ("learn", "entries.0.when", "today", "a date such as")])
def test_what_is_out_of_reason_is_said_with_its_whole_path(verb, path, value, says, tmp_path, capsys):
    document = copy.deepcopy(DOCUMENTS[verb][0])
    if path == "order":
        document.setdefault("runs", [])
    if path.startswith("runs."):
        document["runs"] = [{"id": "E1", "kind": "eave", "pitch": 30.0, "length": 4000.0, "schools": {}}]
    *way, last = (int(part) if part.isdigit() else part for part in path.split("."))
    node = document
    for part in way:
        node = node[part]
    node[last] = value
    file = tmp_path / "in.json"
    file.write_text(json.dumps(document))
    assert main([verb, str(file)]) == 2
    out, err = capsys.readouterr()
    assert not out and says in err and err.count("\n") == 1


def test_a_chord_too_fine_and_a_lap_too_long(tmp_path, capsys):
    file = tmp_path / "in.json"
    for name, field, value in (("pipe", "chord", 1e-9), ("chimney", "lap", 200_000.0), ("curb", "lap", 200_000.0)):
        more = {"diameter": 110.0} if name == "pipe" else {"across": 600.0, "along": 500.0}
        file.write_text(json.dumps({"detail": name, "metal": metal().model_dump(mode="json"), "pitch": 30.0, field: value} | more))
        assert main(["develop", str(file)]) == 2 and f"{field}: found" in capsys.readouterr().err


def test_every_family_refuses_a_run_of_3_km():
    from pydantic import ValidationError

    for family in FAMILIES.values():
        with pytest.raises(ValidationError):
            family.model(metal=metal(), length=3e6, pitch=30.0)
