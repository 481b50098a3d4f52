"""Coils and the rack: search, keep, compare, stock lists, several jobs planned together."""

from __future__ import annotations

from pathlib import Path

from yattle.files import read_text
from yattle.papers.beside import plan_together as planned_together
from yattle.tasks import Answer, On, Request, Target
from yattle.ui.benches.coil.view import CoilBench
from yattle.ui.commands.asking import CSV
from yattle.ui.commands.papers import PAPERS, write
from yattle.ui.commands.shop import Shop

_SECONDS = 8.0  # for a plan of several jobs


def _coil(shop: Shop) -> CoilBench:
    shop.frame.show_bench("coil")
    return shop.frame.bench(CoilBench)


def search(shop: Shop) -> None:
    """A better plan looked for, or the search stopped."""
    _coil(shop).model.search()


def keep_block(shop: Shop) -> None:
    """The block of the selected piece stays as it is, or is let go."""
    coil = _coil(shop)
    coil.model.hand.toggle_lock(coil.model.selected_piece())


def keep_plan(shop: Shop) -> None:
    """This plan kept to compare."""
    _coil(shop).model.hand.keep_plan()


def take_plan(shop: Shop) -> None:
    """The plan is cut: it is taken off the stock."""
    _coil(shop).model.hand.take_plan()


def spoiled(shop: Shop) -> None:
    """The selected piece is spoiled: the rest is planned again."""
    coil = _coil(shop)
    coil.model.hand.spoil(coil.model.selected_piece(), coil.cut.value())


def follow_line(shop: Shop) -> None:
    """The cuts made one after another on the coil line."""
    coil = _coil(shop)
    coil.model.line.follow(coil.model.answer)


def write_stock(shop: Shop) -> None:
    """The stock as CSV."""
    from yattle.job.ledger import stock_csv

    write(shop, "stock.csv", CSV, lambda derived: stock_csv(derived.job.stock))


def read_stock(shop: Shop) -> None:
    """Stock from a CSV file, in the place of what there is."""
    name = shop.asking.open(CSV)
    if name:
        stock_from(shop, Path(name))


def stock_from(shop: Shop, path: Path) -> None:
    """The stock that a table lists."""
    from yattle.job.ledger import stock_from_csv

    def read() -> None:
        stock = stock_from_csv(read_text(path))
        shop.session.edit("stock list", lambda job: job.but(stock=stock))
    if shop.attempt(read):
        shop.frame.show_bench("coil")


def plan_together(shop: Shop) -> None:
    """This job and others planned as one, written into a folder; what it saves is said."""
    names = shop.asking.jobs()
    folder = shop.asking.folder() if names else ""
    if not folder:
        return
    shop.say("planning the jobs together …")

    def done(answer: Answer) -> None:
        if answer.error is not None:
            shop.complain(str(answer.error))
        else:
            shop.say(str(answer.result))
    session = shop.session
    shop.store.ask(Request(PAPERS, planned_together, (session.job, names, Path(folder), _SECONDS), session.stamp,
                           Target("folder", folder), on=On.PROCESS), done)
