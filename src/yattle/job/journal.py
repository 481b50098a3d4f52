"""Edits kept between saves: a killed program loses at most the edit in hand.

Every edit writes the whole job beside its place and renames it, so that what is there is always whole. A journal knows
the file it belongs to and the process that keeps it; one whose process is gone is offered when Yattle starts again.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from yattle.errors import YattleError
from yattle.job.model import Job
from yattle.job.session import Session
from yattle.job.store import as_text, parse

FORMAT = "yattle-journal/1"


def journal_folder() -> Path:
    """Where journals lie on this machine."""
    from platformdirs import user_state_path

    return user_state_path("yattle") / "journal"


@dataclass(frozen=True)
class Left:
    """What a journal holds: the job with edits that were not saved, its file (``None``: never saved), the last edit."""

    job: Job
    path: Path | None
    title: str
    kept: Path

    def differs(self, other: Job) -> tuple[str, ...]:
        """Which parts of the job differ from ``other``."""
        ours, theirs = (json.loads(as_text(job)) for job in (self.job, other))
        return tuple(sorted(key for key in {*ours, *theirs} if ours.get(key) != theirs.get(key)))

    def drop(self) -> None:
        """Let it go."""
        with contextlib.suppress(OSError):
            self.kept.unlink()


class Journal:
    """Keeps what is not saved of one session; a folder that cannot be written to is no reason to stop anybody, but
    ``told`` says so, once until it can be written to again."""

    def __init__(self, session: Session, folder: Path | None = None,
                 told: Callable[[str], None] = lambda _: None) -> None:
        self.session, self.folder, self.told = session, folder or journal_folder(), told
        self._said = False
        self._fresh = f"unsaved-{uuid.uuid4()}"
        self._written: Path | None = None
        session.listen(self._hear)

    @property
    def place(self) -> Path:
        """The journal of the session's file, or of this window where there is none yet."""
        return _place(self.folder, self.session.path, self._fresh)

    def _hear(self, what: str) -> None:
        if what == "selection":
            return
        if not self.session.changed or self._written != self.place:
            self.close()
        if not self.session.changed:
            return
        try:
            self._write()
        except OSError as trouble:
            if not self._said:
                why = (trouble.strerror or str(trouble)).lower()
                self.told(f"edits between saves are not kept ({why}): save now and then, if need be somewhere else")
            self._said = True
        else:
            self._said = False

    def close(self) -> None:
        """The person has let go of what is not saved: so does the journal."""
        if self._written is not None:
            with contextlib.suppress(OSError):
                self._written.unlink()
            self._written = None

    def _write(self) -> None:
        place = self.place
        place.parent.mkdir(parents=True, exist_ok=True)
        path = self.session.path
        document = {"format": FORMAT, "path": str(path.resolve()) if path else None, "pid": os.getpid(),
                    "title": self.session.undo_title or "", "job": as_text(self.session.job)}
        beside = place.with_suffix(f".{os.getpid()}")
        try:
            beside.write_text(json.dumps(document), encoding="utf-8")
            os.replace(beside, place)
        except OSError:
            with contextlib.suppress(OSError):  # half of it is of no use to anybody
                beside.unlink()
            raise
        self._written = place


def _place(folder: Path, path: Path | None, fresh: str) -> Path:
    named = str(path.resolve()) if path else fresh
    return folder / f"{hashlib.sha256(named.encode()).hexdigest()[:20]}.json"


def left_behind(folder: Path | None = None) -> tuple[Left, ...]:
    """What programs that are gone have left; journals that cannot be read are passed over and kept."""
    found = []
    for kept in sorted((folder or journal_folder()).glob("*.json")):
        held = _read(kept)
        if held is not None and not _alive(held[1]):
            found.append(held[0])
    return tuple(found)


def kept_elsewhere(path: Path, folder: Path | None = None) -> bool:
    """Whether another running Yattle has edits of that file in hand."""
    held = _read(_place(folder or journal_folder(), path, ""))
    return held is not None and held[1] != os.getpid() and _alive(held[1])


def _read(kept: Path) -> tuple[Left, int] | None:
    try:
        document = json.loads(kept.read_text(encoding="utf-8"))
        if document.get("format") != FORMAT:
            return None
        path = Path(document["path"]) if document["path"] else None
        return Left(parse(document["job"]), path, str(document["title"]), kept), int(document["pid"])
    except (OSError, ValueError, KeyError, TypeError, AttributeError, YattleError):
        return None


def _alive(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True
