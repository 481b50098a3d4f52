"""What hands fold one after another, and what goes up all at once."""

from __future__ import annotations

import numpy as np
import pytest
from pypdf import PdfReader

from samples import metal
from yattle.details.chimney import Chimney
from yattle.details.forms import develop_form
from yattle.details.pans import StandingPan, Tray
from yattle.papers.practice import Practice, write_practice
from yattle.pattern.by_hand import hand_order, hand_steps
from yattle.pattern.folded import fold_tree

PAN = develop_form(StandingPan(metal=metal(), coverage=430.0, length=2000.0, head="tray", turn_up=40.0)).pieces[0].pattern
TRAY = develop_form(Tray(metal=metal(), width=500.0, pitch=15.0)).pieces[0].pattern
LOWER = develop_form(Chimney(metal=metal(), across=600.0, along=500.0, pitch=20.0, school="folded")).pieces[0].pattern


@pytest.mark.parametrize("pattern", [PAN, TRAY, LOWER], ids=["pan", "tray", "lower pan"])
def test_a_tray_s_pockets_go_up_together_with_its_legs_and_turn_up(pattern):
    """Nine folds meet at the two corners: two of each pocket's sides and the crease between them, two legs, the turn-up; they are
    one step, the creases laid double first, and it is the last one."""
    steps = hand_steps(pattern)
    assert [fold.id for fold in hand_order(pattern)] == [fold.id for step in steps for fold in step.folds]
    assert sorted(fold.id for step in steps for fold in step.folds) == sorted(fold.id for fold in pattern.folds)
    *single, last = steps
    assert last.together and last.pockets == 4 and len(last.folds) == 9 and not any(step.together for step in single)
    assert all(abs(fold.turn) == pytest.approx(180.0) for fold in last.folds[:4])
    assert all(abs(fold.turn) < 150.0 for fold in last.folds[4:])
    says = last.says([str(n) for n in range(1, 10)])
    assert says.startswith("1, 2, 3, 4: crease the pockets") and "5, 6, 7, 8, 9 all at once" in says and "clip" in says
    assert single == [] or single[0].says(["1"]) == ""


def test_folded_step_by_step_what_is_not_yet_made_stays_flat():
    tree, steps = fold_tree(PAN), hand_steps(PAN)
    made = {fold.id: 1.0 if n < len(steps) - 1 else 0.0 for n, step in enumerate(steps) for fold in step.folds}
    high = max(float(np.ptp(facet.space[:, 2])) for facet in tree.folded(1.0, 0.0, made))
    flat = max(float(np.abs(facet.space[:, 2]).max()) for facet in tree.folded(0.0))
    whole = max(float(np.abs(facet.space[:, 2]).max()) for facet in tree.folded(1.0, 0.0, dict.fromkeys(made, 1.0)))
    assert flat == 0.0 and 5.0 < high < 15.0, "locks and hooks are up, the legs are not"
    assert whole == pytest.approx(40.0, abs=1.0)


def test_the_card_says_what_goes_up_all_at_once(tmp_path):
    write_practice(Practice(TRAY, "tray"), tmp_path / "tray.pdf")
    said = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(tmp_path / "tray.pdf").pages)
    assert "crease the pockets over the jig" in said and "all at once" in said
