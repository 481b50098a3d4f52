"""Surfaces laid out flat and folded up again: lengths and angles kept, corners met, wrong ones refused."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon

from samples import RULES, metal
from yattle.errors import InputError
from yattle.pattern.proof import prove_against_faces
from yattle.pattern.surface import Crease, Face, Surface
from yattle.pattern.unfold import deduction_of, unfold


def tray(a=200.0, b=120.0, h=40.0, splay=0.0, clear=3.0):
    """An open tray seen from inside: the floor's paint face up, four walls up, splayed outward by ``splay`` mm and
    kept ``clear`` of each other at the corners."""
    square = [(0.0, 0.0), (a, 0.0), (a, b), (0.0, b)]
    out = [(0, -1), (1, 0), (0, 1), (-1, 0)]
    floor, walls = [], []
    for k in range(4):
        (px, py), (qx, qy) = square[k], square[(k + 1) % 4]
        ux, uy = (qx - px) / math.dist((px, py), (qx, qy)), (qy - py) / math.dist((px, py), (qx, qy))
        p, q = (px + ux * clear, py + uy * clear, 0.0), (qx - ux * clear, qy - uy * clear, 0.0)
        floor += [p, q] if clear else [p]  # its corners cut off: the relief where two folds meet
        top = [(x + out[k][0] * splay, y + out[k][1] * splay, h) for x, y, _ in (p, q)]
        walls.append(Face(f"wall {k}", (q, p, top[0], top[1])))
    at = [2 * k if clear else k for k in range(4)]
    return Surface("tray", (Face("floor", tuple(floor)), *walls), tuple(Crease(0, at[k], k + 1) for k in range(4)))


def proof_of(surface, spec):
    unfolded = unfold(surface, spec, "T-1")
    return unfolded, prove_against_faces(unfolded.pattern, unfolded.seats, unfolded.faces)


@given(RULES, st.floats(60, 500), st.floats(60, 500), st.floats(10, 80), st.floats(-5, 60))
def test_a_tray_folds_up_again(rule, a, b, h, splay):
    surface = tray(a, b, h, splay)
    unfolded, proof = proof_of(surface, metal(rule))
    assert proof.max_gap < 1e-5 and proof.checked > 40
    turn = math.degrees(math.atan2(h, splay))
    assert [fold.turn for fold in unfolded.pattern.folds] == pytest.approx([turn] * 4)


def test_a_square_tray_by_hand():
    """Walls of 40 square up: the blank is 200 + 2·40 less two deductions, cornered out."""
    unfolded, _ = proof_of(tray(), metal())
    off = deduction_of(metal(), "outside", 90.0)
    assert sorted((unfolded.pattern.length, unfolded.pattern.girth)) == pytest.approx([200 - 2 * off, 280 - 2 * off])
    assert Polygon(unfolded.pattern.outline).is_valid and unfolded.pattern.area > 0


def test_folds_end_on_the_outline_or_on_another_fold():
    pattern = proof_of(tray(splay=25.0), metal())[0].pattern
    edge = LineString([*pattern.outline, pattern.outline[0]])
    for fold in pattern.folds:
        others = [LineString([f.a, f.b]) for f in pattern.folds if f.id != fold.id]
        for end in (fold.a, fold.b):
            assert min(edge.distance(Point(end)), *(o.distance(Point(end)) for o in others)) < 0.001


@given(st.lists(st.tuples(st.floats(20, 200), st.floats(-120, 120), st.floats(-35, 35)), min_size=1, max_size=6), RULES)
def test_a_chain_of_slanting_folds(parts, rule):
    """A strip folded again and again over lines that lie askew: every face comes back to its place."""
    width, faces, frame, at = 90.0, [], np.eye(3), np.zeros(3)
    low, high = 0.0, 0.0
    for n, (long, turn, lean) in enumerate(parts):
        shift = math.tan(math.radians(lean)) * width / 2
        corners = [(low, -width / 2), (long - shift, -width / 2), (long + shift, width / 2), (high, width / 2)]
        if min(corners[1][0] - corners[0][0], corners[2][0] - corners[3][0]) < 5:
            continue
        faces.append(Face(f"part {n}", tuple(tuple(at + frame.T @ np.array([x, y, 0.0])) for x, y in corners)))
        a, b = np.array(faces[-1].corners[1]), np.array(faces[-1].corners[2])
        axis = (b - a) / np.linalg.norm(b - a)
        angle = -math.radians(turn)
        cross = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
        rotation = np.eye(3) + math.sin(angle) * cross + (1 - math.cos(angle)) * cross @ cross
        frame = frame @ rotation.T
        at = a + (b - a) / 2 - frame.T @ np.array([0.0, 0.0, 0.0])
        low, high = -shift, shift
    if len(faces) < 2:
        return
    surface = Surface("chain", tuple(faces), tuple(Crease(n, 1, n + 1) for n in range(len(faces) - 1)))
    try:
        _, proof = proof_of(surface, metal(rule))
    except InputError as wrong:
        assert "covers itself" in str(wrong) or "no allowance" in str(wrong)
        return
    assert proof.max_gap < 1e-5


def test_a_face_with_a_hole_keeps_it():
    ring = tuple((100 + 20 * math.cos(t), 60 - 20 * math.sin(t), 0.0) for t in np.linspace(0, 2 * math.pi, 24, endpoint=False))
    surface = tray()
    floor = Face("floor", surface.faces[0].corners, (ring,))
    unfolded, proof = proof_of(Surface("tray", (floor, *surface.faces[1:]), surface.creases), metal())
    (hole,) = unfolded.pattern.holes
    assert Polygon(hole).area == pytest.approx(Polygon([(x, y) for x, y, _ in ring]).area)
    assert proof.max_gap < 1e-5


def test_a_wrong_pattern_is_found_out():
    surface = tray()
    unfolded, _ = proof_of(surface, metal())
    first, *rest = unfolded.pattern.folds
    for wrong in (first.but(turn=80.0), first.but(turn=-90.0), first.but(deduction=0.0)):
        pattern = unfolded.pattern.but(folds=(wrong, *rest))
        assert prove_against_faces(pattern, unfolded.seats, surface.faces).max_gap > 0.5


def test_what_cannot_be_laid_out_is_said():
    surface = tray()
    bent = Face("floor", (*surface.faces[0].corners[:-1], (0.0, 117.0, 9.0)))
    with pytest.raises(InputError, match="off one plane"):
        unfold(Surface("tray", (bent,)), metal(), "T")
    with pytest.raises(InputError, match="edges do not meet"):
        unfold(Surface("tray", surface.faces, (Crease(0, 0, 3),)), metal(), "T")
    with pytest.raises(InputError, match="without area"):
        unfold(Surface("line", (Face("line", ((0, 0, 0), (1, 0, 0), (2, 0, 0))),)), metal(), "T")
    floor, wall = surface.faces[:2]
    back = Face("again", wall.corners)
    with pytest.raises(InputError, match="again covered in the flat sheet"):
        unfold(Surface("tray", (floor, wall, back), (Crease(0, 0, 1), Crease(0, 0, 2))), metal(), "T")


def test_corners_without_room_are_relieved():
    """Walls that meet at the corners of their floor: 2 mm are cut out between them, all else is kept."""
    unfolded, proof = proof_of(tray(clear=0.0), metal())
    assert proof.max_gap < 1e-5
    open_ = proof_of(tray(clear=3.0), metal())[0]
    assert 0 < unfolded.pattern.area - open_.pattern.area < 4 * 3 * 40 * 2
