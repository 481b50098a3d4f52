"""Paper practice: tiles cover the pattern at its true size, folds in an order that hands can make."""

from __future__ import annotations

import math
import re
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from yattle.derive import derive
from yattle.job import demo_path, load
from yattle.measure import UNITS
from yattle.papers.one_to_one import tiles
from yattle.papers.piece_cards import order_lines
from yattle.papers.practice import Practice, angles, write_practice
from yattle.papers.selected import practice_of, selected_piece
from yattle.pattern.by_hand import hand_order
from yattle.pattern.folded import fold_tree
from yattle.session.session import Selection

DERIVED = derive(load(demo_path()))
CHIMNEY = [made.pattern for made in DERIVED.opening("chimney").pieces]


@given(st.floats(-500, 500), st.floats(-500, 500), st.floats(1, 3000), st.floats(1, 900))
def test_tiles_cover_the_whole_and_overlap(x0, y0, long, girth):
    found = list(tiles((x0, y0, x0 + long, y0 + girth), 182.0, 269.0))
    for size, low, span, at in ((182.0, x0, long, lambda t: t.x), (269.0, y0, girth, lambda t: t.y)):
        starts = sorted({at(tile) for tile in found})
        assert starts[0] == pytest.approx(low) and starts[-1] + size >= low + span - 1e-6
        assert all(b - a == pytest.approx(size - 10.0) for a, b in pairwise(starts))


def test_a_tile_is_at_its_true_size(tmp_path):
    """The outline's longest line, as it stands in the PDF, is as long as in the pattern."""
    pattern = CHIMNEY[0]
    sheets = write_practice(Practice(pattern, "apron"), tmp_path / "p.pdf")
    reader = PdfReader(tmp_path / "p.pdf")
    assert len(reader.pages) == sheets
    content = next(page for page in reader.pages if "1:1, row 1" in page.extract_text()).get_contents().get_data().decode("latin-1")
    points = [(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+) [ml]\b", content)]
    spans = [math.dist(a, b) * 25.4 / 72 for a, b in pairwise(points)]
    longest = max(math.dist(a, b) for a, b in pairwise(pattern.outline))  # the path closes itself
    assert any(span == pytest.approx(longest, abs=0.05) for span in spans)


@pytest.mark.parametrize("pattern", CHIMNEY, ids=lambda p: p.name)
def test_by_hand_what_hangs_furthest_out_is_folded_first(pattern):
    order = hand_order(pattern)
    assert sorted(f.id for f in order) == sorted(f.id for f in pattern.folds if f.kind != "roll")
    tree, place = fold_tree(pattern), {fold.id: n for n, fold in enumerate(order)}
    over = {joint.child: joint for joint in tree.joints}
    for joint in tree.joints:
        if joint.parent in over and over[joint.parent].fold.id != joint.fold.id:
            assert place[joint.fold.id] < place[over[joint.parent].fold.id]


def test_a_run_s_piece_keeps_the_brake_s_order_and_its_templates():
    piece = selected_piece(DERIVED, Selection("E1", piece=0))
    practice = practice_of(DERIVED, piece)
    brake = [step.fold for step in DERIVED.order("E1").steps]
    known = {fold.id for fold in piece.pattern.folds}
    assert list(practice.folds)[:len(set(brake) & known)] == list(dict.fromkeys(f for f in brake if f in known))
    assert set(practice.folds) == known and len(order_lines(practice.pattern, practice.folds, practice.profile, UNITS["mm"])) \
        == len(known)
    assert angles(piece.pattern) == sorted(angles(piece.pattern), reverse=True)
    assert selected_piece(DERIVED, Selection(None)) is None
