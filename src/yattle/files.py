"""Files written whole or not at all, read whatever begins them, named so that people can read it.

A file is written beside its place and renamed over it. What is there keeps its mode, its group and who else may use
it. A half-written file that a killed program left is taken away by the next write into that folder: while somebody
writes it, it is locked.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from yattle.errors import FileProblem

_LEFT, _PART = ".yattle-", ".part"
_ACCESS = "system.posix_acl_access"


def why(trouble: OSError) -> str:
    """What the system says went wrong, in small letters."""
    return (trouble.strerror or str(trouble)).lower()


def shown(path: Path) -> str:
    """A file's name for the screen; bytes that are no UTF-8 are shown as question marks."""
    return os.fsencode(path.name).decode("utf-8", "replace").replace("\ufffd", "?")


def text_of(raw: bytes) -> str:
    """Text of a file, with or without a byte order mark; raises :class:`UnicodeDecodeError` where it is no UTF-8."""
    return raw.decode("utf-8-sig")


def read_text(path: Path) -> str:
    """A small text file for a person's use; :class:`FileProblem` where it cannot be read as text. :class:`FileProblem`
    is raised for text that is not UTF-8, too."""
    try:
        return text_of(path.read_bytes())
    except UnicodeDecodeError:
        raise FileProblem(f"{shown(path)}: cannot be read as text, expected UTF-8") from None
    except OSError as trouble:
        raise FileProblem(f"{shown(path)}: cannot be read ({why(trouble)})") from None


@contextmanager
def beside(path: Path, durable: bool = False) -> Iterator[Path]:
    """A place beside ``path`` to write to; at the end it is renamed over ``path``, at an error nothing has changed.

    ``durable``: it lies on the disk, not only in the system's memory, before the file that was there goes. Raises
    :class:`OSError`.
    """
    path = path.resolve()
    clean(path.parent)
    temporary = path.with_name(f"{_LEFT}{os.urandom(6).hex()}{_PART}")
    handle = os.open(temporary, os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)  # less what the umask takes
    try:
        with contextlib.suppress(OSError):  # a file system without locks
            fcntl.flock(handle, fcntl.LOCK_EX)
        yield temporary
        _like(path, handle)
        if durable:
            os.fsync(handle)
        os.replace(temporary, path)
        if durable:
            _settle(path.parent)
    finally:
        with contextlib.suppress(OSError):
            os.unlink(temporary)
        os.close(handle)


def safe_name(text: str) -> str:
    """A file's name for something that people named: letters, digits, ``. _ -`` and blanks inside, never a way out of
    the folder. A name that had to be changed ends in letters of its own, so that two things never share a file.

    >>> safe_name("E1-2"), safe_name("../../x")[:2]
    ('E1-2', 'x~')
    """
    plain = "".join(c if c.isalnum() or c in "._- " else "-" for c in text)
    plain = plain.strip("-. ")[:60].strip() or "piece"
    return plain if plain == text else f"{plain}~{hashlib.sha256(text.encode('utf-8', 'replace')).hexdigest()[:6]}"


def safe_file(name: str) -> str:
    """The same for a whole name with its ending.

    >>> safe_file("fold-card-E1.pdf")
    'fold-card-E1.pdf'
    """
    stem, dot, ending = name.rpartition(".")
    return f"{safe_name(stem)}.{ending}" if dot else safe_name(name)


def write_whole(path: Path, content: str | bytes, durable: bool = False) -> None:
    """``content`` into ``path``, whole or not at all; raises :class:`OSError`."""
    with beside(path, durable) as temporary, temporary.open("wb") as out:
        out.write(content.encode() if isinstance(content, str) else content)


def put(path: Path, content: str | bytes) -> None:
    """As :func:`write_whole`; what goes wrong is a :class:`FileProblem` for the person who asked for it."""
    careful(path, lambda place: place.write_bytes(content.encode() if isinstance(content, str) else content))


def put_into(folder: Path, name: str, content: str | bytes) -> None:
    """A file into a folder that is made where it is not there; raises :class:`FileProblem`."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        write_whole(folder / name, content)
    except OSError as trouble:
        raise FileProblem(f"{folder}: cannot be written to ({why(trouble)})") from None


def careful(path: Path, write: Callable[[Path], object]) -> None:
    """Let ``write`` write to a place that then becomes ``path``; raises :class:`FileProblem`, and then what was there
    is there still."""
    try:
        with beside(path) as temporary:
            write(temporary)
    except OSError as trouble:
        raise FileProblem(f"{shown(path)}: cannot be written to {path.parent} ({why(trouble)}); choose another place, "
                          "what was there is unchanged") from None


def clean(folder: Path) -> None:
    """Take away what killed programs left half written in ``folder``."""
    with contextlib.suppress(OSError):
        for left in folder.glob(f"{_LEFT}*{_PART}"):
            with contextlib.suppress(OSError):
                handle = os.open(left, os.O_RDWR)
                try:
                    fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    os.unlink(left)
                finally:
                    os.close(handle)


def _like(path: Path, handle: int) -> None:
    """Give a new file the mode, the group and the sharing of the one it takes the place of."""
    try:
        old = os.stat(path)
    except OSError:
        return
    new = os.fstat(handle)
    with contextlib.suppress(OSError):  # somebody else's group: as near as it is allowed
        if (old.st_uid, old.st_gid) != (new.st_uid, new.st_gid):
            os.chown(handle, old.st_uid if os.geteuid() == 0 else -1, old.st_gid)
    os.chmod(handle, old.st_mode & 0o7777)
    with contextlib.suppress(OSError):  # none there, or none to be had
        os.setxattr(handle, _ACCESS, os.getxattr(path, _ACCESS))


def _settle(folder: Path) -> None:
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
