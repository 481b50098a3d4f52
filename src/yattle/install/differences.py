"""What two ways of a job differ in, run by run and count by count: told before anything is printed again."""

from __future__ import annotations

from collections import Counter

from yattle.derive import derive
from yattle.derive.derived import Derived
from yattle.derive.printed import mark_of
from yattle.derive.run import DerivedRun
from yattle.install.installation import installation
from yattle.install.schedule import UNIT_OF
from yattle.job.model import Job
from yattle.job.old_panels import with_coverage_as_systems
from yattle.measure import UNITS, Unit, say_length


def differences(before: Derived, after: Derived) -> tuple[str, ...]:
    """A line for each run whose pieces are others, for each face whose panels are, for each count that is; nothing
    where they make the same."""
    unit = UNITS[after.job.unit]
    return (*_runs(before, after, unit), *_panels(before, after, unit), *_counts(before, after, unit))


def _runs(before: Derived, after: Derived, unit: Unit) -> list[str]:
    rows = []
    mine, theirs = ({run.run.id: run for run in one.runs if run.pieces} for one in (before, after))
    for run_id in dict.fromkeys((*mine, *theirs)):
        old, new = mine.get(run_id), theirs.get(run_id)
        if old is None or new is None:
            what = new or old
            assert what is not None
            rows.append(f"{run_id} {what.detail.name}: {'new' if old is None else 'gone'}, {_says(what, unit)}")
        elif [mark_of(p.pattern) for p in old.pieces] != [mark_of(p.pattern) for p in new.pieces]:
            one, other = (_girth(run, unit) for run in (new, old))
            girths = ("", "") if one == other else (f", girth {one}", f", girth {other}")
            rows.append(f"{run_id} {new.detail.name}: {_says(new, unit)}{girths[0]}; before {_says(old, unit)}"
                        f"{girths[1]}")
    return rows


def _girth(run: DerivedRun, unit: Unit) -> str:
    return say_length(run.detail.girth.girth, unit) if run.detail.girth is not None else "unknown"


def _says(run: DerivedRun, unit: Unit) -> str:
    """How many pieces of which lengths, the most frequent first."""
    sizes = Counter[str]()
    for piece in run.pieces:
        sizes[say_length(piece.pattern.length, unit)] += piece.pattern.qty
    common = [f"{many} × {size}" for size, many in sizes.most_common(2)]
    more = sum(sizes.values()) - sum(many for _, many in sizes.most_common(2))
    return f"{', '.join(common)}{f' and {more} more' if more else ''}"


def _panels(before: Derived, after: Derived, unit: Unit) -> list[str]:
    rows = []
    for face in dict.fromkeys((*before.panels, *after.panels)):
        old, new = (one.panels[face].panels if face in one.panels else () for one in (before, after))
        if [(p.n, round(p.length, 1), round(p.width, 1)) for p in old] != [
                (p.n, round(p.length, 1), round(p.width, 1)) for p in new]:
            said = [f"{len(part)} panels, {say_length(sum(p.length for p in part), unit, 0, mark=True)} in all"
                    for part in (new, old)]
            rows.append(f"face {face}: {said[0]}; before {said[1]}")
    return rows


def _counts(before: Derived, after: Derived, unit: Unit) -> list[str]:
    old, new = ({pack.what: pack.many for pack in installation(one).packs} for one in (before, after))

    def said(what: str, many: float) -> str:
        kind = UNIT_OF.get(what)
        return say_length(many, unit, 0, mark=True) if kind == "mm" else f"{many:.0f}{f' {kind}' if kind else ''}"
    return [f"{what}: {said(what, new.get(what, 0.0))}; before {said(what, old.get(what, 0.0))}"
            for what in dict.fromkeys((*old, *new)) if abs(new.get(what, 0.0) - old.get(what, 0.0)) > 0.5]


def told_by_systems(job: Job) -> tuple[str, ...]:
    """What becomes of a job that knows only coverages when systems of those take their place."""
    return differences(derive(job), derive(with_coverage_as_systems(job)))
