"""Mirror images are found, whichever way they lie in their blank; what only looks alike is none."""

from __future__ import annotations

import pytest

from samples import metal
from yattle.details.chimney import Chimney
from yattle.details.curb import Curb
from yattle.details.forms import develop_form
from yattle.pattern.mirror import mirrored_across


def patterns(form):
    return {piece.pattern.name: piece.pattern for piece in develop_form(form).pieces}


@pytest.mark.parametrize("form", [Curb(metal=metal(), across=700.0, along=500.0, pitch=20.0, panel="ribbed"),
                                  Chimney(metal=metal(), across=600.0, along=500.0, pitch=30.0)], ids=["curb", "chimney"])
def test_sides_of_an_opening_are_mirror_images_and_each_is_not_its_own(form):
    made = patterns(form)
    right, left = made["right side"], made["left side"]
    way = mirrored_across(right, left)
    assert way in ("right end", "lower edge") and mirrored_across(left, right) == way
    x0, y0, x1, y1 = right.box
    turned = [(x0 + x1 - x, y) if way == "right end" else (x, y0 + y1 - y) for x, y in right.outline]
    assert all(min(abs(px - qx) + abs(py - qy) for qx, qy in left.outline) < 0.1 for px, py in turned)
    assert mirrored_across(right, next(iter(made.values()))) == "", "the lower flashing, or the apron"


def test_a_fold_the_other_way_makes_it_none():
    made = patterns(Curb(metal=metal(), across=700.0, along=500.0, pitch=20.0))
    left = made["left side"]
    wrong = left.but(folds=(left.folds[0].but(turn=-left.folds[0].turn), *left.folds[1:]))
    assert mirrored_across(made["right side"], left) and not mirrored_across(made["right side"], wrong)
