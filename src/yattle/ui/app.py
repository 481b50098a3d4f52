"""Starting the window."""

from __future__ import annotations

import gc
import sys
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from yattle.errors import YattleError
from yattle.job import Job, demo_path
from yattle.job.settings import load_settings
from yattle.job.store import load_any
from yattle.ui import theme as themes
from yattle.ui.commands import job as jobs
from yattle.ui.commands import view
from yattle.ui.frame.place import take_place
from yattle.ui.frame.window import Window


def make_app(arguments: list[str] | None = None) -> QApplication:
    """The Qt application with the shipped type and the theme of the settings."""
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(arguments or ["yattle"])
    app.setApplicationName("Yattle")
    app.setDesktopFileName("yattle")
    if not app.property("dressed"):  # once: it makes every widget anew
        app.setStyle("Fusion")
        app.setWindowIcon(QIcon(str(Path(__file__).with_name("yattle.svg"))))
        themes.load_fonts()
        app.setProperty("dressed", True)
    chosen = {"light": themes.LIGHT, "dark": themes.DARK}.get(load_settings().theme)
    themes.use(chosen or themes.desktop_theme(), app)
    return app


PATIENCE = 0.03  # seconds that an edit is waited for before the window goes on without it


def make_window(path: Path | None) -> Window:
    """The window on ``path``; without one, or where it cannot be read, which is said, on what there is to begin with. A
    newer Yattle's job is opened to read."""
    wrong, job, ours = "", None, True
    if path is not None:
        try:
            job, ours = load_any(path)
        except YattleError as trouble:
            wrong = str(trouble)
    shipped = path in (demo_path(), demo_path("net-shed"))
    window = Window(job or Job(name="new job"), path if job is not None and ours else None, patience=PATIENCE,
                    demo=shipped)
    if wrong:
        window.shop.complain(wrong)
    elif path is None:
        window.show_start()
    elif path is not None:
        jobs.say_how_opened(window.shop, path)
    spare_the_window()
    return window


def last_job() -> Path | None:
    """The job that was open last, where it still is."""
    recent = load_settings().recent
    return Path(recent[0]) if recent and Path(recent[0]).exists() else None


def spare_the_window() -> None:
    """What is there by now stays: nobody has to look through it for what could go. Looked through seldom, what comes
    after it does not stop the window for some tenths of a second each time."""
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)
    sys.setswitchinterval(0.001)  # a thread that works a large job out gives way to the window soon


def run_window(path: Path | None) -> int:
    """Open the window and stay until it is closed; the exit status."""
    app = make_app(sys.argv[:1])
    path = path or last_job()
    window = make_window(path)
    take_place(window, window.shop.settings)
    sys.excepthook = lambda kind, fault, trace: _report(window, fault, trace)
    window.show()
    QTimer.singleShot(0, lambda: jobs.offer_recovery(window.shop, path))
    if path == demo_path():
        QTimer.singleShot(0, lambda: view.first_look(window.shop))
    return app.exec()


def _report(window: Window, fault: BaseException, trace: object) -> None:
    """A fault of Yattle's own: said, told in full on standard error, and the work stays open."""
    sys.__excepthook__(type(fault), fault, trace)  # type: ignore[arg-type]
    window.shop.complain(f"Something went wrong inside Yattle ({type(fault).__name__}: {fault}). "
                        "Nothing of the job is lost; save it under a new name.")
