"""What a choice costs: the same run worked out with each school or detail, counted and set side by side."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, get_args

from yattle.derive.family import family_of
from yattle.derive.graph import derive
from yattle.derive.layers import schools_of
from yattle.derive.roof_runs import base_id, run_of, with_run
from yattle.derive.run import DerivedRun
from yattle.details import families_for
from yattle.details.ends import by_sealant
from yattle.details.forms import Form, develop_form
from yattle.details.schools import SCHOOLS, schools_for
from yattle.errors import InputError
from yattle.job.model import Job

DETAIL = "detail"  # the question which detail a run gets, beside those of the schools


@dataclass(frozen=True)
class Cost:
    """Pieces, square metres of metal, folds made, and joints that stand by sealant alone, of one run and its layers."""

    pieces: int
    area: float
    folds: int
    sealed: int


@dataclass(frozen=True)
class Variant:
    """One answer to a question: its ``key`` and title, what is said of it, and what it costs; ``chosen`` the one in
    force; ``cost`` is ``None`` where it cannot be made."""

    key: str
    title: str
    says: str
    chosen: bool
    cost: Cost | None
    run: DerivedRun | None


def questions(job: Job, run_id: str) -> tuple[str, ...]:
    """What can be chosen for a run: its detail where there are several, and the schools that concern it."""
    run = run_of(job, run_id)
    family = family_of(run)
    several = (DETAIL,) if len(families_for(run.kind, run.fold)) > 1 else ()
    return (*several, *schools_for(family.name if family else ""))


def title_of(question: str) -> str:
    return "detail" if question == DETAIL else SCHOOLS[question].title


def variants(job: Job, run_id: str, question: str) -> tuple[Variant, ...]:
    """Every answer to ``question`` for a run, with its cost."""
    run = run_of(job, run_id)
    options: list[tuple[str, str, str, bool, dict[str, object]]]
    if question == DETAIL:
        family = family_of(run)
        options = [(f.name, f.title, f.says, family is f, {"detail": f.name}) for f in families_for(run.kind, run.fold)]
    else:
        now = getattr(schools_of(run, job.schools), question)
        options = [(key, choice.title, choice.says, key == now, {"schools": run.schools.but(**{question: key})})
                   for key, choice in SCHOOLS[question].choices.items()]
    return tuple(_variant(job, run.id, *option) for option in options)


def _variant(job: Job, run_id: str, key: str, title: str, says: str, chosen: bool, 
             changes: dict[str, object]) -> Variant:
    derived = derive(with_run(job, run_id, **changes))
    mine = [run for run in derived.runs if base_id(run.run.id) == run_id]
    made = all(run.pieces for run in mine)
    return Variant(key, title, says, chosen, cost_of(mine) if made else None, mine[0] if mine else None)


def opening_costs(form: Form, field: str) -> tuple[tuple[str, Cost | None], ...]:
    """What every answer to a choice of an opening's form costs; ``None`` where it cannot be made. Joints by sealant
    alone are not counted there."""
    return tuple((answer, _form_cost(form, field, answer)) for answer in answers_of(type(form), field))


def _form_cost(form: Form, field: str, answer: str) -> Cost | None:
    try:
        made = [p for p in develop_form(form.but(**{field: answer})).pieces if not p.paper]
    except InputError:
        return None
    return Cost(sum(p.pattern.qty for p in made), sum(p.pattern.area * p.pattern.qty for p in made) / 1e6,
                sum(sum(f.kind != "roll" for f in p.pattern.folds) * p.pattern.qty for p in made), 0)


def answers_of(form: type[Form], field: str) -> tuple[str, ...]:
    """The answers that a form's field can be given, if it is a choice."""
    kind: Any = form.model_fields[field].annotation
    found = [arg for part in (kind, *get_args(kind)) for arg in (part, *get_args(part)) if isinstance(arg, str)]
    return tuple(dict.fromkeys(found))


def cost_of(runs: list[DerivedRun]) -> Cost:
    """What runs cost together."""
    pieces = [piece for run in runs for piece in run.pieces]
    sealed = sum((note.kind == "over" and not note.nested) + by_sealant(end)
                 for run in runs for piece in run.pieces
                 for note, end in zip(piece.ends, (run.run.left, run.run.right), strict=True))
    closures = [p for run in runs if run.run.gaps and "tab" not in (run.run.left, run.run.right)
                for p in run.pieces]
    return Cost(sum(p.pattern.qty for p in pieces), sum(p.pattern.area * p.pattern.qty for p in pieces) / 1e6,
                sum(len(p.pattern.folds) * p.pattern.qty for p in pieces),
                sealed + sum(2 * p.pattern.qty for p in closures))
