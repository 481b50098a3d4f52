"""Pictures of each main view, made from the demo jobs: screenshots.py FOLDER [NAME …]."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()

import numpy as np
from PyQt6.QtTest import QTest

from yattle.job import demo_path
from yattle.ui.app import make_app, make_window
from yattle.ui.benches.brake.view import BrakeBench
from yattle.ui.benches.coil.view import CoilBench
from yattle.ui.benches.install.view import InstallBench
from yattle.ui.benches.log.view import LogBench
from yattle.ui.benches.survey.view import SurveyBench
from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.commands import view
from yattle.ui.floor.view import FloorView
from yattle.ui.frame.print_box import PrintBox
from yattle.ui.frame.window import Window
from yattle.ui.widgets.rows import ReadRow


def wait(ms: int) -> None:
    QTest.qWait(ms)  # type: ignore[call-arg, arg-type]  # static, which its stubs do not say


def _bench(name: str, run: str, **select: object) -> Callable[[Window], None]:
    def show(window: Window) -> None:
        window.store.session.select(run=run, **select)  # type: ignore[arg-type]
        window.show_bench(name)
    return show


def _finish(window: Window, *lanes: str) -> None:
    """Until all that is worked out beside the window has come, or what is in these lanes: a picture of something half
    done is none."""
    if not window.store.finish(*lanes, seconds=120.0):
        raise SystemExit(f"{' and '.join(lanes) or 'something'} was not worked out within two minutes: no picture")
    wait(100)


def _as_built(window: Window) -> None:
    """The roof as built, at the stage of a ridge, cut open across it and looked at from near."""
    window.store.session.select(run="R2")
    view.show_built(window.shop)
    _finish(window, "built")
    fit = window.bench(InstallBench)
    solid, built = fit.solid, window.store.session.results.built
    if built is None:
        raise SystemExit("the roof was not put together: no picture")
    ridge = np.concatenate([part.ring for part in built.parts if part.item == "R2"]).mean(axis=0)
    solid.azimuth, solid.tilt = 18.0, 22.0
    toward = solid._eye_level()
    off = np.concatenate([part.ring for part in built.parts]) @ toward
    fit.open.setValue(round((off.max() - float(ridge @ toward)) / (off.max() - off.min()) / 0.9 * fit.open.maximum()))
    solid.zoom = 26.0
    solid.aside = solid._centre() - solid._fit(solid._rotation(), solid._scene.corners).at(ridge[None])[0]
    solid.update()
    wait(300)


def _stages(window: Window) -> None:
    """The stages in plan, once it is known whether the roof goes together."""
    _bench("fit", "V1")(window)
    window.store.session.want_built()
    _finish(window, "built")


def _coil(window: Window) -> None:
    """The coil bench after a short search."""
    _bench("coil", "E1", piece=4)(window)
    coil = window.bench(CoilBench)
    coil.model.plan.search.seconds = 8.0
    coil.model.search()
    while coil.model.plan.search.busy:
        wait(50)
    _finish(window)


def _face(face: str, view: str) -> Callable[[Window], None]:
    def show(window: Window) -> None:
        _bench("survey", "V1")(window)
        survey = window.bench(SurveyBench)
        survey.model.press(f"face:{face}" if face else "V1")
        survey.model.show_view(view)
        _finish(window)
    return show


def _girth_sum(window: Window) -> None:
    _bench("trim", "E1", piece=5, fold="f2")(window)
    girth = window.bench(TrimBench).slate.row("girth")
    assert isinstance(girth, ReadRow)
    girth.toggle()


def _own_section(window: Window) -> None:
    from yattle.details.free import Mitre, Shape

    session = window.store.session
    legs, turns = (25.0, 60.0, 240.0, 60.0, 25.0), (45.0, -90.0, -90.0, 45.0)
    name = session.add_free(Shape(name="pier cap", legs=legs, turns=turns, heading=45.0))
    session.edit_run("mitre", name, mitre_right=Mitre(way="plan", angle=90.0), name="pier cap")
    window.show_bench("trim")


def _opening(window: Window) -> None:
    window.store.session.select(opening="chimney", piece=4)
    window.show_bench("trim")


def _log(window: Window) -> None:
    """The log after some folds measured by hand, a piece folded on the stand-in and two notes."""
    log = window.bench(LogBench).model
    window.show_bench("log")
    log.choose("measured")
    for wanted, leaf, found in ((90, 93, "89.6"), (42, 43.5, "42.1"), (60, 62, "59.8"), (135, 139, "134.2"),
                                (28, 29, "28"), (77, 79.5, "76.7"), (102, 105.5, "101.9")):
        log.wanted, log.leaf = float(wanted), float(leaf)
        log.measured(found)
    _bench("brake", "R1")(window)
    _finish(window)
    window.do("piece.folder")
    _finish(window, "the folder")
    window.show_bench("log")
    for kind, text in (("weather", "north wind, 6 degrees, dry"), ("fitted", "wrap 2 mm long, nipped off")):
        log.choose(kind)
        log.note(text)


def _brake_step(window: Window) -> None:
    _bench("brake", "E2")(window)
    window.bench(BrakeBench).model.go(3)


def _practice(window: Window) -> None:
    _bench("brake", "E1")(window)
    brake = window.bench(BrakeBench)
    brake.practise.setChecked(True)
    for fold, action in (("hB", "fold"), ("hB", "flatten"), ("f2", "fold")):
        brake.model.propose(fold, action)
        _finish(window)


def _floor(window: Window) -> None:
    """At the brake, a stroke of the first piece."""
    window.do("view.floor")
    floor = window.shop.dialog
    assert isinstance(floor, FloorView)
    floor.showNormal()
    floor.resize(1280, 800)
    floor.model.go("brake")
    floor.model.next()
    wait(200)


def _print(window: Window) -> None:
    """Look before print: the fold card of a rake."""
    _bench("trim", "G1")(window)
    window.do("papers.print")
    box = window.shop.dialog
    assert isinstance(box, PrintBox)
    box.resize(1280, 800)
    for _ in range(400):
        wait(50)
        if box.document.pageCount():
            break
    wait(500)


def _start(window: Window) -> None:
    window.start.show_recent((str(demo_path("sail-loft")), str(demo_path("net-shed"))))
    for button, where in zip(window.start.recent, ("Brennock", "Brennock/sheds"), strict=True):
        button.setText(f"{button.text().splitlines()[0]}\n~/jobs/{where}")
    window.pages.setCurrentWidget(window.start)


def _guide(window: Window) -> None:
    _bench("trim", "G1")(window)
    view.show_page(window.shop, "trim")


VIEWS: dict[str, tuple[str, str, Callable[[Window], None]]] = {
    "start": ("sail-loft", "light", _start),
    "guide": ("sail-loft", "light", _guide),
    "survey-light": ("sail-loft", "light", _face("loft.2", "plan")),
    "survey-space": ("sail-loft", "light", _face("", "space")),
    "survey-panels": ("sail-loft", "dark", _face("loft.2", "panels")),
    "trim-light": ("sail-loft", "light", _bench("trim", "E1", fold="f1")),
    "trim-sum": ("sail-loft", "light", _girth_sum),
    "trim-own": ("sail-loft", "light", _own_section),
    "trim-opening": ("sail-loft", "light", _opening),
    "trim-dark-inches": ("net-shed", "dark", _bench("trim", "E1", fold="f2")),
    "brake-light": ("sail-loft", "light", _brake_step),
    "brake-practice": ("sail-loft", "light", _practice),
    "coil-light": ("sail-loft", "light", _coil),
    "fit-built": ("sail-loft", "light", _as_built),
    "fit-light": ("sail-loft", "light", _stages),
    "log-light": ("sail-loft", "light", _log),
    "floor-brake": ("sail-loft", "light", _floor),
    "print": ("sail-loft", "light", _print),
}


def shown_view(name: str, size: tuple[int, int], theme: str = "") -> Window:
    """A window of this size, px, that shows a view, in its own theme or another."""
    job, own, show = VIEWS[name]
    window = make_window(demo_path(job))
    view.set_theme(window.shop, theme or own)
    window.resize(*size)
    window.show()
    _finish(window, "results")
    show(window)
    wait(300)
    _finish(window)
    return window


def close(window: Window) -> None:
    """Close it with nothing to be saved."""
    window.store.session.start(window.store.session.job)
    _finish(window, "results")
    window.close()


def main(folder: Path, names: list[str]) -> None:
    app = make_app()
    folder.mkdir(parents=True, exist_ok=True)  # a picture without a folder is lost without a word
    for name in names or list(VIEWS):
        window = shown_view(name, (1280, 800))
        shown = window.shop.dialog
        (shown if shown is not None and shown.isVisible() else window).grab().save(str(folder / f"{name}.png"))
        if shown is not None:
            shown.hide()
        close(window)
        app.processEvents()


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2:])
