"""Pieces at their places: patterns folded up again, put where ``yattle built`` says, lie on what they should lie on."""

from __future__ import annotations

import json
from functools import lru_cache

import numpy as np
import pytest
import shapely

from yattle.built import put_together
from yattle.built.frames import built_up
from yattle.built.placed import places_of
from yattle.built.standing import stand_all
from yattle.cli import main
from yattle.derive import derive
from yattle.derive.meetings import meetings
from yattle.derive.roof_runs import base_id
from yattle.job import Job, demo_path, load
from yattle.job.model import OpeningNote
from yattle.job.panel_systems import with_system
from yattle.pattern.folded import fold_tree
from yattle.roof.starts import STARTS

JOBS = ("net-shed", "sail-loft", "gable", "hip", "gable with a wing", "gable with a lean-to")


@lru_cache(maxsize=8)
def derived_of(name):
    return derive(load(demo_path(name)) if "-" in name and " " not in name else with_system(
        Job(name=name, roof=STARTS[name]), "double seam 430 x 25").but(rules=Job(name="x").rules.but(max_crosscut=9000.0)))


@lru_cache(maxsize=8)
def built_of(name):
    return put_together(derived_of(name)).answer


def facets(derived, piece):
    """The facets of a placed piece in the roof's coordinates, each with its paint's normal; folded up by the base's own facet."""
    pattern = next(p for p in derived.patterns if p.id == piece["pattern"].partition("/")[0])
    tree = fold_tree(pattern)
    folded = tree.folded()
    place = np.array(piece["place"])
    assert np.allclose(place[:, :3] @ place[:, :3].T, np.eye(3), atol=1e-9) and np.linalg.det(place[:, :3]) == pytest.approx(1.0)
    base = folded[tree.base]
    assert np.abs(base.space[:, 2]).max() < 1e-9, "the facet of the base stays in z = 0"
    low, high = base.flat.min(axis=0), base.flat.max(axis=0)
    assert (low <= np.array(piece["base"])).all() and (np.array(piece["base"]) <= high).all()
    for facet in folded:
        ring = facet.space @ place[:, :3].T + place[:, 3]
        side = np.cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0)
        yield ring, side / np.linalg.norm(side)


@pytest.mark.parametrize("name", JOBS)
def test_trims_lie_on_deck_panels_or_seams_as_their_kind_says(name):
    """For every face of a trim's edge one part of the folded piece lies in a plane parallel to it: at the deck for eaves and
    valleys, at the flats and what stands on them for caps, rakes and wall flashings; none is left out."""
    derived, seen = derived_of(name), 0
    for piece in built_of(name)["pieces"]:
        run = next((run for run in derived.runs if any(p.id == piece["pattern"] for p in run.pieces)), None)
        if run is None or run.run.layer:
            continue  # strips beneath and above have tests of their own
        edge = derived.edge_runs[base_id(run.run.id)].edge
        parts = list(facets(derived, piece))
        for face in edge.facets:
            plane = derived.roof.facet(face).plane
            normal, on = np.array(plane.normal), np.array(plane.at((0.0, 0.0)))
            deck = edge.kind in ("eave", "valley", "pitch-break")
            wanted = 0.0 if deck else built_up(derived, face).flat + run.run.over
            if edge.kind == "pitch-break" or run.run.collects:
                continue
            level = [np.abs((ring - on) @ normal - wanted).max() for ring, paint in parts if abs(float(paint @ normal)) > 0.99999]
            assert level and min(level) < 0.1, (piece["pattern"], edge.kind, face, level)
            seen += 1
    assert seen > 8


@pytest.mark.parametrize("name", JOBS)
def test_paint_looks_out_and_pieces_stand_at_their_edge(name):
    """The paint of what lies on the roof looks up; a piece's parts stay within a metre of its edge's line, and its two ends lie on
    either side of its share's middle."""
    derived = derived_of(name)
    for piece in built_of(name)["pieces"]:
        found = [(run, p) for run in derived.runs for p in run.pieces if p.id == piece["pattern"] and not run.run.layer]
        for run, made in found:
            edge = derived.edge_runs[base_id(run.run.id)].edge
            parts = list(facets(derived, piece))
            largest = max(parts, key=lambda part: float(np.ptp(part[0], axis=0).max() * 1.0))
            way = (np.array(edge.b) - edge.a) / edge.length
            points = np.concatenate([ring for ring, _ in parts]) - edge.a
            off = np.linalg.norm(points - np.outer(points @ way, way), axis=1)
            assert off.max() < 1000.0, (piece["pattern"], off.max())
            along = points @ way
            assert -made.share - 700 < along.min() and along.max() < edge.length + made.share + 700
            normals = [np.array(derived.roof.facet(face).plane.normal) for face in edge.facets]
            on_roof = [paint for _, paint in parts if any(abs(float(paint @ n)) > 0.9999 for n in normals)]
            assert largest is not None and any(float(paint[2]) > 0 for paint in on_roof), piece["pattern"]


@pytest.mark.parametrize("name", ["net-shed", "gable", "hip"])
def test_pans_lie_on_their_flats_with_their_seams_where_the_layout_has_them(name):
    derived, answer = derived_of(name), built_of(name)
    panels = {panel["id"]: panel for panel in answer["panels"]}
    seen = 0
    for opening in derived.openings:
        if opening.kind != "pans":
            continue
        face = opening.id.removeprefix("pans ")
        plane, flat = derived.roof.facet(face).plane, built_up(derived, face).flat
        normal, on = np.array(plane.normal), np.array(plane.at((0.0, 0.0)))
        for n, piece in enumerate(opening.pieces):
            placed = [one for one in answer["pieces"] if one["pattern"].partition("/")[0] == piece.pattern.id]
            assert len(placed) == piece.pattern.qty == len(opening.form.numbers[n])
            for one, number in zip(placed, opening.form.numbers[n], strict=True):
                parts = list(facets(derived, one))
                floor = max(parts, key=lambda part: float(np.linalg.norm(np.cross(part[0], np.roll(part[0], -1, axis=0)).sum(axis=0))))
                assert np.abs((floor[0] - on) @ normal - flat).max() < 0.05 and float(floor[1] @ normal) > 0.9999
                outline = np.array(panels[f"{face}/{number}"]["outline"])
                boxes = [np.array([ring.min(axis=0), ring.max(axis=0)]) for ring in (floor[0], outline)]
                assert np.abs(boxes[0] - boxes[1]).max() < 60.0, "but for overhang, allowance and what is held back"
                assert min(float(((ring - on) @ normal).max()) for ring, _ in parts) < flat + 0.1
                seen += 1
    assert seen == sum(len(laid.panels) for face, laid in derived.panels.items() if f"pans {face}" in {o.id for o in derived.openings})


def test_openings_stand_where_the_survey_has_them_on_the_panels():
    """The sail loft: the hole of each pipe's plate is round the pipe, a curb's upstands stand round its sides, the chimney's feet too."""
    derived, answer = derived_of("sail-loft"), built_of("sail-loft")
    for placed in derived.roof.openings:
        opening = derived.opening(placed.opening.id)
        ids = {piece.pattern.id for piece in opening.pieces}
        pieces = [one for one in answer["pieces"] if one["pattern"].partition("/")[0] in ids]
        assert pieces and len({one["pattern"] for one in pieces}) >= len([p for p in opening.pieces if not p.paper])
        corners = np.concatenate([ring for one in pieces for ring, _ in facets(derived, one)])
        plane = derived.roof.facet(placed.facets[0]).plane
        high = (corners - np.array(plane.at((0.0, 0.0)))) @ np.array(plane.normal)
        assert high.min() > -30.0, "nothing far under the panels"
        middle = (corners[:, :2].max(axis=0) + corners[:, :2].min(axis=0)) / 2
        assert np.linalg.norm(middle - (placed.opening.x, placed.opening.y)) < 400.0, opening.id


@pytest.mark.parametrize(("name", "kind"), [("hip", "ThreeWay"), ("sail-loft", "DormerRidge")])
def test_corner_pieces_lie_parallel_to_the_faces_round_them(name, kind):
    """A cap of a corner lies as high as the caps that end under it, a joint of valleys on the deck: sums of both faces' planes."""
    derived, found = derived_of(name), 0
    standing = {one.name: one for one in stand_all(derived.patterns, places_of(derived)[0]).values()}
    for opening in derived.openings:
        if type(opening.form).__name__ != kind:
            continue
        at = next(one.at for one in meetings(derived.roof) if one.id == opening.id)
        faces = [facet for facet in derived.roof.facets if facet.shape.distance(shapely.Point(at[:2])) < 2.0]
        high = 0.0 if kind == "DormerRidge" else None
        for piece in opening.pieces:
            for part, square, size in zip(*(getattr(standing[piece.pattern.id], f) for f in ("parts", "normals", "sizes")), strict=True):
                if size < 4000.0:
                    continue
                face = max(faces, key=lambda facet: abs(float(np.array(facet.plane.normal) @ square)))
                normal = np.array(face.plane.normal)
                off = (part - np.array(at)) @ normal
                assert np.ptp(off) < 0.5, "flat on its face"
                high = float(off.mean()) if high is None else high
                assert off.mean() == pytest.approx(high, abs=0.5)
                found += 1
    assert found >= 4


def test_further_plugs_and_caps_stand_at_every_seam():
    """Below and above the fan's curb, made wider, one at each seam that runs in, those below turned half round."""
    job = load(demo_path("sail-loft"))
    wide = tuple(one.but(across=900.0) if one.id == "fan curb" else one for one in job.roof.openings)
    derived = derive(job.but(roof=job.roof.but(openings=wide)))
    assert len(derived.opening("fan curb").form.seams) == 2
    standing = stand_all(derived.patterns, places_of(derived)[0])
    plugs = [one for name, one in standing.items() if name.startswith("FC-7/")]
    assert len(plugs) == 4 and len({tuple(one.middle.round(0).tolist()) for one in plugs}) == 4
    lean = np.radians(derived.roof.facet("loft.1").plane.pitch)
    up = np.array([0.0, -np.cos(lean), np.sin(lean)])  # it falls toward y
    looks = sorted(max((float(normal @ up) for normal in one.normals), key=abs) for one in plugs)
    assert np.allclose(np.abs(looks), 1.0) and [look > 0 for look in looks] == [False, False, True, True]


def test_a_split_pipe_s_pans_lie_in_the_layout_s_panels():
    job = load(demo_path("net-shed"))
    job = job.but(openings=(OpeningNote(of="stove pipe", own=(("school", "split"),)),))
    derived = derive(job)
    answer = put_together(derived).answer
    pipe = derived.opening("stove pipe")
    lower = next(p.pattern.id for p in pipe.pieces if p.pattern.name == "lower pan")
    (one,) = [piece for piece in answer["pieces"] if piece["pattern"] == lower]
    corners = np.concatenate([ring for ring, _ in facets(derived, one)])
    panels = [np.array(panel["outline"]) for panel in answer["panels"] if panel["part"] == "lower"]
    assert len(panels) == 1 and np.abs(corners[:, :2].max(axis=0) - panels[0][:, :2].max(axis=0)).max() < 400.0


@pytest.mark.parametrize("name", ["net-shed", "sail-loft"])
def test_everything_has_its_place_and_what_is_not_asked_is_said(name, capsys):
    """Corner pieces and further copies too: so the verb is status 0, and says what its rows say nothing of."""
    answer = built_of(name)
    placed = {one["pattern"].partition("/")[0] for one in answer["pieces"]}
    missing = [finding["says"] for finding in answer["findings"] if finding["row"] == "place"]
    assert answer["ok"] and answer["reasons"] == [] and missing == []
    assert any("not asked: upright slots at rakes" in finding["says"] for finding in answer["findings"])
    for pattern in derived_of(name).patterns:
        assert (pattern.id in placed) != any(said.startswith((f"{pattern.id} ", f"{pattern.id}/1 ")) for said in missing), pattern.id
    status = main(["built", str(demo_path(name))])
    printed = json.loads(capsys.readouterr().out)
    assert status == 0 and printed["format"] == "yattle-built/1" and len(printed["pieces"]) == len(answer["pieces"])
