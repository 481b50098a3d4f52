"""What changed since the papers were last written: pieces told apart by what their patterns come to."""

from __future__ import annotations

import hashlib
from functools import lru_cache

from yattle.derive.derived import Derived
from yattle.job.model import Job, Printed
from yattle.pattern import Pattern


@lru_cache(maxsize=8192)
def mark_of(pattern: Pattern) -> str:
    """A short word for what is cut and folded; alike for patterns that differ by less than a hundredth of a mm."""
    folds = [(round(v, 2) for v in (*f.a, *f.b, f.turn)) for f in pattern.folds]
    words = [f"{round(x, 2)} {round(y, 2)}" for x, y in pattern.outline] + [str(tuple(f)) for f in folds]
    return hashlib.sha256(f"{pattern.qty} {pattern.metal.name} {words}".encode()).hexdigest()[:12]


def with_printed(job: Job, derived: Derived) -> Job:
    """The job with every piece marked as it is on paper now."""
    return job.but(printed=tuple(Printed(piece=p.id, mark=mark_of(p)) for p in derived.patterns))


def changed(derived: Derived) -> dict[str, str]:
    """Pieces that are not as they were printed, by id: ``changed``, ``new`` or ``gone``; none if nothing was
    printed."""
    before = {p.piece: p.mark for p in derived.job.printed}
    if not before:
        return {}
    now = {pattern.id: mark_of(pattern) for pattern in derived.patterns}
    found = {name: "changed" if name in before else "new" for name, mark in now.items() if before.get(name) != mark}
    return found | {name: "gone" for name in before if name not in now}
