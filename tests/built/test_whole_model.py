"""The roof as one glTF: every piece, panel and deck under its name, at its place; ``plan`` writes it beside its places."""

from __future__ import annotations

import io
import json
from dataclasses import replace

import numpy as np
import pytest
import trimesh
from pypdf import PdfReader

from yattle.built import put_together
from yattle.built.mutants import longer
from yattle.derive import derive
from yattle.job import demo_path, load
from yattle.papers.built import built_to_glb
from yattle.papers.pack import write_pack


@pytest.mark.parametrize("name", ["net-shed", "sail-loft"])
def test_all_that_has_a_place_is_there_where_it_stands(name):
    """In metres with y up: x stays, the roof's z is y, its y is −z. The area of a piece's mesh is that of its folded parts."""
    derived = derive(load(demo_path(name)))
    built = put_together(derived)
    answer, standing = built.answer, built.standing
    meshes = trimesh.load(io.BytesIO(built_to_glb(built, answer)), file_type="glb").geometry
    assert set(meshes) == {one["pattern"] for one in answer["pieces"]} | {one["id"] for kind in ("panels", "structure")
                                                                         for one in answer[kind]}
    assert len(standing) == len(answer["pieces"])
    for piece, stands in standing.items():
        corners = np.concatenate(stands.parts)
        seen = meshes[piece].vertices * 1000
        assert np.abs(np.sort(seen[:, 0]) - np.sort(corners[:, 0])).max() < 0.01
        assert seen[:, 1].max() == pytest.approx(corners[:, 2].max(), abs=0.01)
        assert -seen[:, 2].min() == pytest.approx(corners[:, 1].max(), abs=0.01)
        assert meshes[piece].area * 1e6 == pytest.approx(sum(stands.sizes), rel=1e-3)


def test_plan_writes_places_and_model(tmp_path):
    derived = derive(load(demo_path("net-shed")))
    summary = write_pack(derived, tmp_path)
    written = summary["files"]
    assert summary["proven"] is True, "it folds up, and it fits"
    assert {"built.json", "models/built.glb"} <= set(written)
    assert json.loads((tmp_path / "built.json").read_text())["format"] == "yattle-built/1"
    assert (tmp_path / "models" / "built.glb").read_bytes()[:4] == b"glTF"


def test_a_plan_whose_trims_do_not_lap_is_not_ok_and_is_written_all_the_same(tmp_path):
    """One piece of a rake 10 too short, as if it came so from the detail: told with its millimetres; all papers are there."""
    sound = derive(load(demo_path("net-shed")))
    lap = put_together(sound).answer["covers"][0]
    run = next(run for run in sound.runs if any(piece.id == lap["under"] for piece in run.pieces))

    def cut(piece):
        return replace(piece, pattern=longer(-10.0)(piece.pattern)) if piece.id in (lap["under"], lap["over"]) else piece
    wrong = replace(run, detail=replace(run.detail, pieces=tuple(cut(piece) for piece in run.pieces)))
    derived = replace(sound, runs=tuple(wrong if one is run else one for one in sound.runs))
    summary = write_pack(derived, tmp_path)
    assert put_together(sound).answer["ok"] and not summary["ok"] and summary["proven"] is False
    assert any("10 mm short" in reason and lap["under"] in reason for reason in summary["reasons"])
    assert {"built.json", "papers/fold-cards.pdf", "papers/site-pack.pdf"} <= set(summary["files"])
    for name in ("fold-cards", "site-pack", "labels"):
        pages = PdfReader(tmp_path / "papers" / f"{name}.pdf").pages
        said = [page.extract_text() for page in pages]
        assert all("DOES NOT FIT AS BUILT" in text for text in said), "every page is marked"
        assert '3/8" short' in said[0] and "see the first page" in said[1]
        assert said[0].count("\n1\n") and run.run.id in said[0].splitlines(), "numbered on the plan, among its edges"
