"""Edits that a killed program left behind: offered, taken, put off or let go."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from yattle.errors import YattleError
from yattle.files import shown
from yattle.job import load
from yattle.session.journal import Left, left_behind
from yattle.ui.commands.shop import Shop


def show_first_bench(shop: Shop) -> None:
    """The bench that a job is opened on."""
    shop.frame.show_bench("trim" if shop.session.derived.pieces else "survey")


def offer(shop: Shop, path: Path | None = None, leave: Callable[[], bool] = lambda: True) -> None:
    """What a program that was killed has left is offered, with what differs from the file: that of ``path`` first.
    What was put off in this window is offered again when its own file is opened, or at the next start. ``leave``:
    whether the job in hand may be left for it."""
    found = left_behind()
    if found.damaged:
        shop.complain(f"edits that were kept between saves are damaged and cannot be read: set aside as "
                      f"{', '.join(shown(one) for one in found.damaged)} in {found.damaged[0].parent}")
    mine = path.resolve() if path is not None else None
    waiting = sorted(found.offers, key=lambda left: left.path != mine)
    taken = False
    for left in waiting:
        if taken or (left.kept in shop.put_off and (left.path != mine or mine is None)):
            left.put_off()
            continue
        taken = _taken(shop, left, leave)
    if taken and len(waiting) > 1:
        shop.say("edits of other jobs that were not saved are offered when the next job is opened")


def _taken(shop: Shop, left: Left, leave: Callable[[], bool]) -> bool:
    """Whether what was left behind has been taken; it goes only when it is safe in this window's own journal."""
    answer = shop.asking.recover(_says(left))
    if answer is False:
        left.drop()
        return False
    if answer is None or not leave():
        shop.put_off.add(left.kept)
        left.put_off()
        return False
    if not shop.attempt(lambda: shop.session.recover(left.job, left.path)):
        left.put_off()
        return False
    shop.session.when_shown(lambda: show_first_bench(shop))
    if shop.journal.holds(left.job) or not shop.session.changed:
        left.drop()
    else:  # it cannot be kept here: then it stays where it is
        left.put_off()
    return True


def _says(left: Left) -> str:
    name = shown(left.path) if left.path else "a job that was never saved"
    try:
        saved = load(left.path) if left.path else None
    except YattleError:
        saved = None
    differs = ", ".join(left.differs(saved)) if saved is not None else "all of it"
    return (f"{left.job.name} ({name}): the program ended before the last edits were saved.\n\n"
            f"Last edit: {left.title}.\n"
            f"Differs from the file in: {differs or 'nothing'}.\n\nTake these edits? Discard lets them go for good.")
