"""Papers written by a process beside the window: each from the job and its cutting plan, whole or not at all."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

from yattle.coil import NestAnswer, nest
from yattle.coil.together import cuts_csv, names_of, together
from yattle.csv_tables import in_style
from yattle.derive.derived import Derived
from yattle.derive.graph import derive
from yattle.files import put
from yattle.job.model import Job
from yattle.job.store import load
from yattle.session.session import Selection
from yattle.tasks.request import Hand


def write_paper(job: Job, plan: NestAnswer | None, what: str, path: Path, of: str | Selection | None = None) -> Path:
    """Write one of :data:`PAPERS` into ``path``, which is returned; ``of`` which run, opening or piece where it is of
    one. Raises :class:`~yattle.errors.FileProblem`."""
    PAPERS[what](derive(job).with_plan(plan), path, of)
    return path


def write_shop_pack(hand: Hand, job: Job, plan: NestAnswer | None, out: Path) -> list[str]:
    """Write the whole shop pack into a folder, telling each stage; the names of its files."""
    from yattle.papers.pack import write_pack

    return list(write_pack(derive(job).with_plan(plan), out, hand.tell)["files"])


def plan_together(job: Job, names: list[str], out: Path, seconds: float) -> str:
    """Plan this job and others as one, ``seconds`` long, and write the plan into a folder; what it saves, in words."""
    others = [derive(load(Path(name))) for name in names]
    said = names_of([job.name, *(other.job.name for other in others)])
    jobs = dict(zip(said, (derive(job).nest_job, *(other.nest_job for other in others)), strict=True))
    whole = together(jobs)
    answer = nest(whole.but(rules=whole.rules.but(seconds=seconds)))
    alone = sum(nest(one.but(rules=one.rules.but(seconds=seconds / len(jobs)))).objective for one in jobs.values())
    put(out / "together.json", json.dumps(answer.answer(), indent=1, sort_keys=True) + "\n")
    put(out / "together.csv", in_style(cuts_csv(answer), job.tables))
    return (f"{len(jobs)} jobs together: {answer.objective:.1f}, one by one {alone:.1f}; together.csv and "
            f"together.json are in {out}")


def _fold_cards(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.cards import write_fold_cards, write_run_card

    if of is None:
        write_fold_cards(derived, path)
    else:
        write_run_card(derived, str(of), path)


def _hand_cards(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.cards import write_opening_cards

    write_opening_cards(derived, str(of), path)


def _practice(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.practice import write_practice
    from yattle.papers.selected import practice_of, selected_piece

    assert isinstance(of, Selection)
    found = selected_piece(derived, of)
    assert found is not None  # the window asks for what is there
    write_practice(practice_of(derived, found), path)


def _templates(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.templates import write_templates

    assert isinstance(of, Selection)
    write_templates(derived, of, path)


def _cut_sheet(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.cut_sheet import write_cut_sheet

    write_cut_sheet(derived, path)


def _site_pack(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.site import write_site_pack

    write_site_pack(derived, path)


def _book(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.book import write_book

    write_book(derived, path)


def _labels(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.labels import write_labels

    write_labels(derived, path)


def _changed_cards(derived: Derived, path: Path, of: str | Selection | None) -> None:
    from yattle.papers.cards import write_changed_cards

    write_changed_cards(derived, path)


PAPERS: dict[str, Callable[[Derived, Path, str | Selection | None], None]] = {
    "fold cards": _fold_cards, "hand cards": _hand_cards, "changed cards": _changed_cards, "practice": _practice,
    "templates": _templates,
    "cut sheet": _cut_sheet, "site pack": _site_pack, "book": _book, "labels": _labels}
"""What is written of a job as PDF, by its name."""
