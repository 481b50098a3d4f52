"""The short names that the pieces of openings carry, each once in a job."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from itertools import count
from string import ascii_lowercase

from yattle.derive.meetings import meetings
from yattle.derive.roof_runs import roof_runs
from yattle.job.model import Job, OpeningNote
from yattle.roof import build

_PIECE = "piece"


def is_own(note: OpeningNote) -> bool:
    """Whether a note is of a piece of its own, not of an opening or corner of the roof."""
    return note.of.startswith(f"{_PIECE} ") and note.of[len(_PIECE) + 1:].isdigit()


def next_own(job: Job) -> str:
    """The id of one more piece of its own."""
    taken = {note.of for note in job.openings}
    return next(f"{_PIECE} {n}" for n in range(1, len(taken) + 2) if f"{_PIECE} {n}" not in taken)


def short_name(job: Job, opening: str) -> str:
    """An opening's id as its pieces carry it: ``vent pipe`` becomes VP, ``flue`` FLUE, a second one of a name VPb. No
    run, no corner and no other opening of the job has it."""
    return _short_names(job)[opening]


@lru_cache(maxsize=16)
def _short_names(job: Job) -> dict[str, str]:
    taken = {run.id for run in job.runs} | {found.run.id for found in roof_runs(job)}
    taken |= {"".join(edge.id for edge in one.edges[:2]) for one in meetings(build(job.roof))}
    found = dict[str, str]()
    for name in (*(one.id for one in job.roof.openings), *(note.of for note in job.openings if is_own(note))):
        found[name] = next(one for one in _tries(_short(name)) if one not in taken)
        taken.add(found[name])
    return found


def _short(name: str) -> str:
    words = name.replace("-", " ").split()
    return ("".join(word if word.isdigit() else word[0] for word in words) if len(words) > 1
            else name if len(name) <= 6 else name[:4]).upper()


def _tries(short: str) -> Iterator[str]:
    yield short
    yield from (f"{short}{letter}" for letter in ascii_lowercase[1:])
    yield from (f"{short}.{n}" for n in count(27))
