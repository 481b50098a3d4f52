"""Undo, and steps from run to run, from piece to piece, from fold to fold."""

from __future__ import annotations

from yattle.job.counted import said_in
from yattle.measure import UNITS
from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.commands.shop import Shop


def undo(shop: Shop) -> None:
    """The last edit taken back."""
    shop.session.undo()


def redo(shop: Shop) -> None:
    """What was taken back done again."""
    shop.session.redo()


def find(shop: Shop) -> None:
    """The keyboard goes to the search field."""
    shop.frame.finder.setFocus()
    shop.frame.finder.selectAll()


def step_run(shop: Shop, step: int) -> None:
    """Another run, ``step`` further in the list, round its end."""
    ids = [run.run.id for run in shop.session.derived.runs]
    here = shop.session.selection.run
    if here in ids:
        shop.session.select(run=ids[(ids.index(here) + step) % len(ids)])


def step_piece(shop: Shop, step: int) -> None:
    """Another piece of the run."""
    shop.frame.bench(TrimBench).model.step_piece(step)


def step_fold(shop: Shop, step: int) -> None:
    """Another fold on the girth tape."""
    shop.frame.tape.step_fold(step)


def turn_tape(shop: Shop) -> None:
    """The girth tape read from the other edge."""
    shop.frame.tape.turn_round()


def next_unit(shop: Shop) -> None:
    """Lengths in the next unit."""
    names = list(UNITS)
    now = names.index(shop.session.job.unit)
    shop.session.edit("units", lambda job: said_in(job, names[(now + 1) % len(names)]))
