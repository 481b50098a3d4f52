"""What changed since the papers were last written: pieces told apart by what their patterns come to."""

from __future__ import annotations

import hashlib
from datetime import date
from functools import lru_cache

from yattle.derive.derived import Derived
from yattle.derive.roof_runs import roof_runs
from yattle.job.model import Job, Printed, Revision, RunName
from yattle.pattern import Pattern


@lru_cache(maxsize=8192)
def mark_of(pattern: Pattern) -> str:
    """A short word for what is cut and folded; alike for patterns that differ by less than a hundredth of a mm."""
    folds = [(round(v, 2) for v in (*f.a, *f.b, f.turn)) for f in pattern.folds]
    words = [f"{round(x, 2)} {round(y, 2)}" for x, y in pattern.outline] + [str(tuple(f)) for f in folds]
    return hashlib.sha256(f"{pattern.qty} {pattern.metal.name} {words}".encode()).hexdigest()[:12]


def with_printed(job: Job, derived: Derived, when: str | None = None) -> Job:
    """The job with every piece marked as it is on paper now, the names of its runs kept, and a new revision where that
    differs from the last print."""
    revision = next_revision(derived, when)
    known = {(name.key, name.place): name for name in job.run_names}
    known |= {(found.edge.key, found.place): RunName(key=found.edge.key, place=found.place, id=found.run.id)
              for found in roof_runs(derived.job)}
    kept = job.revisions if revision in job.revisions else (*job.revisions, revision)
    return job.but(printed=tuple(Printed(piece=p.id, mark=mark_of(p)) for p in derived.patterns), revisions=kept,
                   run_names=tuple(known.values()))


def next_revision(derived: Derived, when: str | None = None) -> Revision:
    """The revision that papers written now are: the last one where nothing has changed since, else the next letter with
    what differs."""
    done = derived.job.revisions
    found = changed(derived)
    if done and not found:
        return done[-1]
    by = {what: tuple(name for name, word in found.items() if word == what) for what in ("changed", "new", "gone")}
    return Revision(letter=_letter(len(done)), when=when or date.today().isoformat(), **by)


def _letter(n: int) -> str:
    """``A`` to ``Z``, then ``AA``, ``AB`` …"""
    return (_letter(n // 26 - 1) if n >= 26 else "") + chr(ord("A") + n % 26)


def since_print(derived: Derived) -> str:
    """What differs from the last print, in a sentence; empty where nothing does, or nothing was printed."""
    done = derived.job.revisions
    if not done or not changed(derived):
        return ""
    return f"since print {done[-1].letter}: {next_revision(derived).says}"


def changed(derived: Derived) -> dict[str, str]:
    """Pieces that are not as they were printed, by id: ``changed``, ``new`` or ``gone``; none if nothing was
    printed."""
    before = {p.piece: p.mark for p in derived.job.printed}
    if not before:
        return {}
    now = {pattern.id: mark_of(pattern) for pattern in derived.patterns}
    found = {name: "changed" if name in before else "new" for name, mark in now.items() if before.get(name) != mark}
    return found | {name: "gone" for name in before if name not in now}
