"""Job files: read whole or refused with a reason, written so that a half-written one cannot be.

A file is written beside its place, flushed to the disk and renamed over the old one, which
is kept as ``NAME.before``.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
from importlib.resources import files
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from yattle.coil.job import NestRules
from yattle.errors import FileProblem, InputError
from yattle.files import beside, shown, text_of, why, write_whole
from yattle.job.model import FORMAT, Job
from yattle.values import read

_LARGEST = 50_000_000


def demo_path(which: str = "sail-loft") -> Path:
    """Where a demo job that ships with Yattle lies: ``sail-loft`` (metric) or ``net-shed`` (inches)."""
    return Path(str(files("yattle.job").joinpath("demo", f"{which}.yattle")))


def as_text(job: Job) -> str:
    """The job as its file holds it: keys sorted, entries that say nothing left out."""
    document = job.model_dump(mode="json", exclude_none=True)
    if job.rules.seconds is None:
        document["rules"]["seconds"] = None  # none at all is something else than the usual ones
    elif job.rules.seconds == NestRules().seconds:
        del document["rules"]["seconds"]  # so that only seconds that somebody chose bound the papers' search
    return json.dumps(document, indent=1, sort_keys=True, ensure_ascii=False, allow_nan=False) + "\n"


def load(path: Path) -> Job:
    """Read a job file; :class:`FileProblem` when it cannot be read, :class:`InputError` naming
    the field when it is no job."""
    return parse(_text(path), shown(path))


def _text(path: Path) -> str:
    name = shown(path)
    try:
        if path.stat().st_size > _LARGEST:
            raise FileProblem(f"{name}: far too large for a job file; nothing was opened")
        return text_of(path.read_bytes())
    except UnicodeDecodeError:
        raise FileProblem(f"{name}: not a Yattle job (it is not text); nothing was changed") from None
    except (OSError, ValueError) as trouble:  # a name with a zero byte is a ValueError
        said = why(trouble) if isinstance(trouble, OSError) else str(trouble)
        raise FileProblem(f"{name}: cannot be read ({said})") from None


def parse(text: str, name: str = "the job") -> Job:
    """The job that ``text`` holds; a foreign or newer format is refused by name."""
    _check_format(text, name)
    try:
        return read(Job, text)
    except InputError as wrong:
        raise InputError(f"{name}: {wrong.field}", wrong.found, wrong.expected) from None


def _check_format(text: str, name: str) -> None:
    try:
        document = json.loads(text)
    except (ValueError, RecursionError):
        raise FileProblem(f"{name}: not a Yattle job (it is not JSON); nothing was changed") from None
    found = document.get("format") if isinstance(document, dict) else None
    if found == FORMAT:
        return
    if isinstance(found, str) and found.startswith("yattle-job/"):
        raise NewerFormat(f"{name}: written by a newer Yattle ({found}, this one reads {FORMAT}); nothing was changed")
    said = f"its format is {found!r}" if found else "it has no format"
    raise FileProblem(f"{name}: not a Yattle job ({said}, expected {FORMAT!r}); nothing was changed")


class NewerFormat(FileProblem):
    """A job that a newer Yattle wrote; :func:`load_to_read` shows what this one understands of it."""


def load_to_read(path: Path) -> Job:
    """As much of a newer job as this Yattle understands; fields it does not know are left out. Raises what
    :func:`load` raises where even that cannot be read."""
    document = json.loads(_text(path))
    document["format"] = FORMAT
    while True:
        try:
            return Job.model_validate_json(json.dumps(document))
        except ValidationError as wrong:
            strange = [error["loc"] for error in wrong.errors() if error["type"] == "extra_forbidden"]
            if not strange or len(strange) < wrong.error_count():
                raise NewerFormat(f"{shown(path)}: written by a newer Yattle, and too different to be read here; "
                                  "nothing was changed") from None
            for place in strange:
                _leave_out(document, place)


def load_any(path: Path) -> tuple[Job, bool]:
    """A job, and whether its file can be saved to: a newer Yattle's is only read. Raises as :func:`load`."""
    try:
        return load(path), True
    except NewerFormat:
        return load_to_read(path), False


def _leave_out(document: Any, place: tuple[int | str, ...]) -> None:
    for step in place[:-1]:
        document = document[step]
    del document[place[-1]]


def save(job: Job, path: Path) -> None:
    """Write the job to ``path`` whole or not at all; the file before is kept beside it.

    Raises :class:`FileProblem`; then nothing on the disk has changed.
    """
    path, name = path.resolve(), shown(path)
    try:
        with beside(path, durable=True) as temporary:
            temporary.write_text(as_text(job), encoding="utf-8")
            _keep_before(path)
    except OSError as trouble:
        raise FileProblem(f"{name}: cannot be written to {path.parent} ({why(trouble)}); save it somewhere else, "
                          "nothing is lost") from None


def mark_of(path: Path | None) -> str:
    """What tells one content of a file from another; empty where there is no file to be read."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest() if path is not None else ""
    except OSError:
        return ""


def _keep_before(path: Path) -> None:
    if path.exists():
        before = path.with_name(path.name + ".before")
        with contextlib.suppress(FileNotFoundError):
            before.unlink()
        try:
            os.link(path, before)
        except OSError:  # a file system without links
            write_whole(before, path.read_bytes())
