"""Edits kept between saves: a killed program loses at most the edit in hand.

Each window keeps a journal of its own. Every edit writes the whole job beside its place and renames it, so that what is
there is always whole. While a window lives it holds a lock, which the system takes back when the program ends in
whatever way; a journal without its lock was left behind and is offered. It goes only when what it holds is safe
elsewhere, or when the person lets it go.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from yattle.errors import YattleError
from yattle.files import why, write_whole
from yattle.job.model import Job
from yattle.job.store import as_text, parse
from yattle.session.session import Session

FORMAT = "yattle-journal/2"
_READ = (FORMAT, "yattle-journal/1")
_DAMAGED = ".damaged"


def journal_folder() -> Path:
    """Where journals lie on this machine."""
    from platformdirs import user_state_path

    return user_state_path("yattle") / "journal"


class Lock:
    """A lock that lasts as long as the program that holds it; its file says which job file the window is on."""

    def __init__(self, journal: Path) -> None:
        """Hold the lock of a journal; raises :class:`OSError`, of that :class:`BlockingIOError` where another program
        has it."""
        self.place = journal.with_suffix(".lock")
        self._handle = os.open(self.place, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        try:
            fcntl.flock(self._handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(self._handle)
            raise

    def tell(self, path: Path | None) -> None:
        """Let others see which file is open here."""
        with contextlib.suppress(OSError):
            os.ftruncate(self._handle, 0)
            os.pwrite(self._handle, os.fsencode(path) if path is not None else b"", 0)

    def release(self, gone: bool = False) -> None:
        """Let go of it; ``gone``: its file too, since its journal is not there any more."""
        if self._handle >= 0:
            if gone:
                with contextlib.suppress(OSError):
                    self.place.unlink()
            os.close(self._handle)
            self._handle = -1


@dataclass(frozen=True)
class Left:
    """What a journal holds: the job with edits that were not saved, its file (``None``: never saved), the last edit.
    It is kept from other windows until it is dropped or put off."""

    job: Job
    path: Path | None
    title: str
    kept: Path
    lock: Lock = field(compare=False, repr=False)

    def differs(self, other: Job) -> tuple[str, ...]:
        """Which parts of the job differ from ``other``."""
        ours, theirs = (json.loads(as_text(job)) for job in (self.job, other))
        return tuple(sorted(key for key in {*ours, *theirs} if ours.get(key) != theirs.get(key)))

    def drop(self) -> None:
        """Let it go for good: the person said so, or what it holds is safe elsewhere."""
        with contextlib.suppress(OSError):
            self.kept.unlink()
        self.lock.release(gone=True)

    def put_off(self) -> None:
        """Leave it for another time."""
        self.lock.release()


@dataclass(frozen=True)
class LeftBehind:
    """What programs that are gone have left: what can be offered, and journals that were set aside as damaged."""

    offers: tuple[Left, ...]
    damaged: tuple[Path, ...]


class Journal:
    """Keeps what is not saved of one session; a folder that cannot be written to is no reason to stop anybody, but
    ``told`` says so, once until it can be written to again."""

    def __init__(self, session: Session, folder: Path | None = None,
                 told: Callable[[str], None] = lambda _: None) -> None:
        self.session, self.folder, self.told = session, folder or journal_folder(), told
        self.place = self.folder / f"{uuid.uuid4().hex}.json"
        self._said = False
        self._lock: Lock | None = None
        self._path: Path | None = None
        self._resolved: Path | None = None
        self._kept: Job | None = None
        self._tell_path()
        with contextlib.suppress(OSError):  # said at the first edit
            self._hold()
        session.listen(self._hear)

    def _hold(self) -> None:
        if self._lock is None:
            self.folder.mkdir(parents=True, exist_ok=True)
            self._lock = Lock(self.place)
            self._tell_path()

    def _tell_path(self) -> None:
        self._path = self.session.path
        self._resolved = self._path.resolve() if self._path else None  # once, not at each edit
        if self._lock is not None:
            self._lock.tell(self._resolved)

    def holds(self, job: Job) -> bool:
        """Whether ``job`` lies safe in this journal."""
        return self._kept is not None and self._kept == job

    def _hear(self, what: str) -> None:
        if what in ("selection", "results"):
            return
        if self.session.path != self._path:
            self._tell_path()
        if not self.session.changed:
            self._drop()
        elif self.session.newest is not self._kept:
            self._keep()

    def _keep(self) -> None:
        try:
            self._hold()
            self._write()
        except OSError as trouble:
            if not self._said:
                self.told(f"edits between saves are not kept ({why(trouble)}): save now and then, if need be somewhere "
                          "else")
            self._said = True
        else:
            self._said = False

    def _write(self) -> None:
        session = self.session
        document = {"format": FORMAT, "path": str(self._resolved) if self._resolved else None,
                    "title": session.undo_title or "", "job": as_text(session.newest)}
        write_whole(self.place, json.dumps(document))
        self._kept = session.newest

    def _drop(self) -> None:
        if self._kept is not None:
            with contextlib.suppress(OSError):
                self.place.unlink()
            self._kept = None

    def close(self) -> None:
        """The window goes, and the person has saved or let go of what is not saved: so does the journal."""
        self._drop()
        if self._lock is not None:
            self._lock.release(gone=True)
            self._lock = None


def left_behind(folder: Path | None = None) -> LeftBehind:
    """What programs that are gone have left. Damaged journals are set aside under another name, never thrown away."""
    offers, damaged = list[Left](), list[Path]()
    folder = folder or journal_folder()
    for kept in sorted(folder.glob("*.json")):
        try:
            lock = Lock(kept)
        except OSError:  # its window lives, or nobody may look
            continue
        left = _read(kept, lock)
        if left is not None:
            offers.append(left)
        else:
            damaged += _set_aside(kept)
            lock.release(gone=True)
    _clear_locks(folder)
    return LeftBehind(tuple(offers), tuple(damaged))


def _read(kept: Path, lock: Lock) -> Left | None:
    try:
        document = json.loads(kept.read_text(encoding="utf-8"))
        if document["format"] not in _READ:
            return None
        path = Path(document["path"]) if document["path"] else None
        return Left(parse(document["job"]), path, str(document["title"]), kept, lock)
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError, YattleError):
        return None


def _set_aside(kept: Path) -> list[Path]:
    aside = kept.with_suffix(_DAMAGED)
    try:
        os.replace(kept, aside)
    except OSError:
        return []
    return [aside]


def _clear_locks(folder: Path) -> None:
    """Take away the locks of windows that ended without a journal."""
    for place in folder.glob("*.lock"):
        if not place.with_suffix(".json").exists():
            with contextlib.suppress(OSError):
                Lock(place.with_suffix(".json")).release(gone=True)


def open_elsewhere(path: Path, own: Journal | None = None, folder: Path | None = None) -> bool:
    """Whether another window of Yattle, of this program or another, is on that file."""
    wanted = os.fsencode(path.resolve())
    for place in (folder or journal_folder()).glob("*.lock"):
        if own is not None and place == own.place.with_suffix(".lock"):
            continue
        with contextlib.suppress(OSError):
            if place.read_bytes() == wanted and _is_held(place):
                return True
    return False


def _is_held(place: Path) -> bool:
    try:
        Lock(place.with_suffix(".json")).release()
    except BlockingIOError:
        return True
    return False
