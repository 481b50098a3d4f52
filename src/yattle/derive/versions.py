"""Two versions of a job compared: what has changed since cutting began."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.csv_tables import Cell, as_csv
from yattle.derive.derived import Derived
from yattle.derive.printed import mark_of

COLUMNS = ("piece", "what", "length_before_mm", "length_now_mm", "girth_before_mm", "girth_now_mm")


@dataclass(frozen=True)
class Change:
    """A piece that is ``new``, ``gone`` or ``changed``, with its length and girth before and now, mm."""

    piece: str
    what: str
    before: tuple[float, float] | None
    now: tuple[float, float] | None


def changes(before: Derived, now: Derived) -> tuple[Change, ...]:
    """Every piece that is not the same in both, by id."""
    old, new = ({pattern.id: pattern for pattern in derived.patterns} for derived in (before, now))
    found = []
    for name in sorted({*old, *new}):
        a, b = old.get(name), new.get(name)
        if a is not None and b is not None and mark_of(a) == mark_of(b):
            continue
        sizes = [None if p is None else (p.length, p.girth) for p in (a, b)]
        found.append(Change(name, "new" if a is None else "gone" if b is None else "changed", *sizes))
    return tuple(found)


def changes_csv(found: tuple[Change, ...]) -> str:
    """One row a piece."""
    rows: list[tuple[Cell, ...]] = [COLUMNS]
    for change in found:
        (long, wide), (longer, wider) = ((None, None) if pair is None else (round(pair[0], 2), round(pair[1], 2))
                                         for pair in (change.before, change.now))
        rows.append((change.piece, change.what, long, longer, wide, wider))
    return as_csv(rows)
