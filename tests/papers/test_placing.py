"""Texts on paper: none over another, few lines through them; one card for equal pieces."""

from __future__ import annotations

import random

import pytest

from yattle.derive import derive
from yattle.drawing.placing import clear_place, covers, crossings, segments_of
from yattle.job import demo_path, load
from yattle.papers.cards import equal_pieces, in_rows, write_fold_cards
from yattle.papers.practice import Practice, write_hand_cards

DERIVED = derive(load(demo_path()))


def _text(path) -> list[str]:
    from pypdf import PdfReader

    return [page.extract_text() for page in PdfReader(path).pages]


@pytest.mark.parametrize("seed", range(40))
def test_crowded_texts_keep_clear_of_each_other(seed):
    chance = random.Random(seed)
    taken = []
    for _ in range(12):
        x, y, wide = chance.uniform(0, 200), chance.uniform(0, 120), chance.uniform(10, 40)
        push = chance.choice([(0.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.6, -0.8)])
        taken.append(clear_place((x, y, x + wide, y + 10), push, taken))
    assert not [(a, b) for n, a in enumerate(taken) for b in taken[:n] if covers(a, b)]


def test_a_free_place_is_kept_and_a_push_is_held():
    assert clear_place((0, 0, 10, 4), (0.0, 1.0), []) == (0, 0, 10, 4)
    left, low, right, high = clear_place((0, 0, 10, 4), (0.0, 1.0), [(-30, -2, 40, 2)])
    assert low >= 2 and (right - left, high - low) == (10, 4)


def test_a_text_goes_off_a_line_that_runs_through_it():
    lines = segments_of([[(-50.0, 2.0), (50.0, 2.0)]])
    assert crossings((0, 0, 10, 4), lines) == 1
    assert crossings(clear_place((0, 0, 10, 4), (0.0, 0.0), [], lines), lines) == 0
    slanted = segments_of([[(0.0, 10.0), (10.0, 4.1)]])
    assert crossings((0, 0, 10, 4), slanted) == 0
    assert crossings((0, 0, 10, 4), segments_of([[(1.0, 1.0), (2.0, 2.0)]])) == 1  # wholly within it


def test_equal_pieces_have_one_card_and_the_strokes_are_told_once(tmp_path):
    run = DERIVED.run("E1")
    assert equal_pieces(run) == [[0], [1, 2, 3, 4, 5], [6]]
    write_fold_cards(DERIVED, "E1", tmp_path / "card.pdf")
    pages = _text(tmp_path / "card.pdf")
    first, middle, last = (next(page for page in pages if f"E1-{n} · eave drip" in page and "girth tape" in page)
                           for n in (1, 2, 7))
    assert len(pages) == 4 and "make 5" in middle and "2 to 6 of 7" in middle and "under the next" in middle
    assert "lay in" in first and all("lay in" not in page and "Strokes: as on the card of E1-1." in page
                                     for page in (middle, last))
    assert sum("Mark out" in page and "Check: " in page for page in pages) == 3



def test_every_piece_of_every_run_is_on_one_card():
    for run in (run for run in DERIVED.runs if run.detail.profile is not None):
        groups = equal_pieces(run)
        assert sorted(n for alike in groups for n in alike) == list(range(len(run.pieces)))
        for alike in groups:
            assert len({round(run.pieces[n].pattern.length, 1) for n in alike}) == 1


def test_rows_of_numbers():
    assert in_rows([1, 2, 3, 4, 7, 9, 10]) == "1 to 4, 7, 9, 10"


def test_hand_cards_tell_every_point(tmp_path):
    made = next(opening for opening in DERIVED.openings if opening.id == "chimney").pieces
    write_hand_cards([Practice(piece.pattern, piece.pattern.id) for piece in made], tmp_path / "hand.pdf")
    pages = _text(tmp_path / "hand.pdf")
    assert sum("Mark out" in page for page in pages) == len(made)
    assert all("Check: " in page for page in pages if "Mark out" in page)
