"""Jobs: begun, opened, saved, left."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QMessageBox

from yattle.files import safe_file, shown
from yattle.job import Job, demo_path, load
from yattle.job.next_job import next_job
from yattle.job.settings import keep_settings
from yattle.session.journal import open_elsewhere
from yattle.ui.commands import old_panels, recovery
from yattle.ui.commands.asking import JOBS
from yattle.ui.commands.shop import Shop


def may_leave(shop: Shop) -> bool:
    """Whether the job in hand may be left: what was typed is taken, and it is saved, or let go by the person."""
    if not shop.session.settle():
        return False
    if not shop.session.changed:
        return True
    answer = shop.asking.unsaved(shop.session.job.name)
    if answer == QMessageBox.StandardButton.Save:
        save(shop)
        return not shop.session.changed
    return answer == QMessageBox.StandardButton.Discard


def new(shop: Shop) -> None:
    """A roof of one's own in the same shop; what a demo shows is nobody's shop, so it takes nothing from one."""
    session = shop.session
    if may_leave(shop):
        own = not session.demo
        session.start(next_job(session.newest) if own else Job(name="new job"))
        session.when_shown(lambda: shop.frame.show_bench("survey"))
        shop.say("a new roof in the same shop: brake, metal, coils and standards are those of the job before, with "
                 "what was learnt" if own else
                 "a new job: nothing is taken over from the demo; metal, units and brake are on the slate")


def open_demo(shop: Shop, which: str) -> None:
    """One of the demo jobs."""
    if may_leave(shop):
        shop.session.start(load(demo_path(which)), demo=True)
        shop.session.when_shown(lambda: shop.frame.show_bench("trim"))
        shop.session.when_shown(lambda: recovery.offer(shop, leave=lambda: may_leave(shop)))


def start_page(shop: Shop) -> None:
    """A new roof, the jobs of late, the demos: the job in hand stays until one is taken."""
    if shop.session.settle():
        shop.frame.show_start()


def look_round(shop: Shop) -> None:
    """The tour, on the demo that it speaks of."""
    open_demo(shop, "sail-loft")
    shop.session.when_shown(lambda: shop.frame.tour.go(0))


def open_job(shop: Shop) -> None:
    """A job that the person names."""
    if may_leave(shop):
        name = shop.asking.open()
        if name:
            open_path(shop, Path(name), asked=True)


def open_path(shop: Shop, path: Path, asked: bool = False) -> None:
    """Open ``path``; when it cannot be read the job in hand stays. What was left behind is offered then. ``asked``: it
    is settled already that the job in hand may be left."""
    if (asked or may_leave(shop)) and shop.attempt(lambda: shop.session.open(path)):
        _remember(shop, path)
        shop.session.when_shown(lambda: _opened(shop, path))


def _opened(shop: Shop, path: Path) -> None:
    recovery.show_first_bench(shop)
    say_how_opened(shop, path)
    offer_recovery(shop, path)


def say_how_opened(shop: Shop, path: Path) -> None:
    """What somebody should know of the file that has just been opened."""
    if shop.session.path is None:
        shop.say(f"{shown(path)} was written by a newer Yattle: opened to read, what this one does not know is left "
                 "out; save it under another name")
    elif open_elsewhere(path, shop.journal):
        shop.complain(f"{shown(path)} is open in another window of Yattle: close one of them first, or save under "
                      "another name")


def offer_recovery(shop: Shop, path: Path | None = None) -> None:
    """What a program that was killed has left is offered, that of ``path`` first; then, of a job from before panel
    systems, what one changes."""
    recovery.offer(shop, path, leave=lambda: may_leave(shop))
    old_panels.offer(shop)


def save(shop: Shop) -> None:
    """Save the job, under a name that is asked for where it has none."""
    if not shop.session.settle():
        return
    if shop.session.path is None:
        save_as(shop)
    elif shop.attempt(shop.session.save):
        _remember(shop, shop.session.path)


def save_as(shop: Shop) -> None:
    """Save the job under another name."""
    if not shop.session.settle():
        return
    name = shop.asking.save(safe_file(f"{shop.session.job.name}.yattle"), JOBS)
    if name:
        path = Path(name if name.endswith(".yattle") else f"{name}.yattle")
        if shop.attempt(lambda: shop.session.save(path)):
            _remember(shop, path)


def _remember(shop: Shop, path: Path) -> None:
    shop.settings = shop.settings.with_recent(path.resolve())
    keep_settings(shop.settings)


def leave(shop: Shop) -> None:
    """Close the window."""
    shop.frame.close()
