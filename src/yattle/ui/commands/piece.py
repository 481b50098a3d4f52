"""Pieces and runs: values for all, girth advice, strokes on the brake, machines."""

from __future__ import annotations

from pathlib import Path

from yattle.brake import Brake
from yattle.files import read_text
from yattle.job.in_use import with_brake
from yattle.ui.benches.brake.folder import LANE as FOLDER
from yattle.ui.benches.brake.view import BrakeBench
from yattle.ui.benches.coil.line import LINE
from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.commands.papers import write
from yattle.ui.commands.shop import Shop
from yattle.values import read

_MACHINES = "Machines (*.json)"


def make_standard(shop: Shop) -> None:
    """This run's values for the whole job."""
    run = shop.session.selection.run
    if run is not None and shop.attempt(lambda: shop.session.own_for_all(run)):
        shop.say(f"every run now takes the values of {run}, unless it has its own")


def copy_to_like(shop: Shop) -> None:
    """This run's detail and values for all like edges."""
    run = shop.session.selection.run
    if run is not None and shop.attempt(lambda: shop.session.copy_to_like(run)):
        shop.say(f"all edges like {run} have its detail and values")


def ask_advice(shop: Shop) -> None:
    """Girths that save coil, looked for beside the window."""
    shop.frame.show_bench("trim")
    shop.frame.bench(TrimBench).model.advice.ask()


def _brake(shop: Shop) -> BrakeBench:
    shop.frame.show_bench("brake")
    return shop.frame.bench(BrakeBench)


def step_brake(shop: Shop, step: int) -> None:
    """Another stroke on the brake."""
    _brake(shop).model.step(step)


def fold_on_folder(shop: Shop) -> None:
    """The piece folded on the folder, stroke by stroke."""
    _brake(shop).model.fold_on_folder()


def stop_devices(shop: Shop) -> None:
    """End folder and coil line before the next stroke or cut."""
    shop.say("stopping before the next stroke or cut" if shop.store.board.busy(FOLDER, LINE) else
             "neither folder nor coil line is at work")
    shop.store.board.stop(FOLDER, LINE)


def open_machine(shop: Shop) -> None:
    """A brake from its own JSON file into the job."""
    name = shop.asking.open(_MACHINES)
    if name:
        shop.attempt(lambda: _take_machine(shop, Path(name)))


def _take_machine(shop: Shop, path: Path) -> None:
    brake = read(Brake, read_text(path), path.name)
    shop.session.edit("brake", lambda job: with_brake(job, brake, own=True))
    shop.frame.show_bench("brake")


def save_machine(shop: Shop) -> None:
    """The job's brake, as edited, into a file of its own."""
    brake = shop.session.job.brake
    write(shop, f"{brake.name}.json", _MACHINES, lambda _: brake.model_dump_json(indent=1) + "\n")
