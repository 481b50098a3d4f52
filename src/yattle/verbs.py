"""What each headless verb works out: the text of one file (or several) in, one document out.

Heavy modules are imported by the verb that needs them, so that ``yattle --help`` answers at once.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

Answer = dict[str, Any]
PLAN_WORK = 150  # counted steps of searching for a better cutting plan when a whole job is written
TOGETHER_WORK = 20  # rounds of searching for one plan of several jobs: counted, so that it is the same each time


def girth(text: str, out: Path | None) -> Answer:
    """girth and fold marks of a cross-section"""
    from yattle.section import Profile, girth_of
    from yattle.values import read

    return girth_of(read(Profile, text)).answer()


def folds(text: str, out: Path | None) -> Answer:
    """the bend sequence with the least handling"""
    from yattle.brake import FoldJob, best_order
    from yattle.values import read

    return best_order(read(FoldJob, text)).answer()


def roof(text: str, out: Path | None) -> Answer:
    """facets and edges of a roof from its blocks"""
    from yattle.roof import RoofPlan, build
    from yattle.values import read

    return build(read(RoofPlan, text)).answer()


def nest(text: str, out: Path | None, begun: float | None = None) -> Answer:
    """pieces on coil, sheets and offcuts"""
    from yattle.coil import NestJob
    from yattle.coil import nest as solve
    from yattle.values import read

    return solve(read(NestJob, text), begun=begun).answer()


def develop(text: str, out: Path | None) -> Answer:
    """the pieces of one detail, each folded up again"""
    from yattle.details import FAMILIES
    from yattle.details import develop as develop_trim
    from yattle.details.all_forms import FORMS
    from yattle.details.forms import develop_form
    from yattle.values import field_of, read

    name = field_of(text, "detail", (*FAMILIES, *FORMS))
    if name in FORMS:
        return develop_form(read(FORMS[name], text)).answer()
    return develop_trim(read(FAMILIES[name].model, text)).answer()


def plan(text: str, out: Path | None) -> Answer:
    """a whole job into a folder of patterns, orders, cuts and papers (needs --out)"""
    from yattle.derive import derive
    from yattle.errors import InputError
    from yattle.job.store import parse
    from yattle.papers.pack import write_pack

    if out is None:
        raise InputError("--out", "nothing", "a folder to write the shop pack to")
    derived = derive(parse(text))
    rules = json.loads(text).get("rules") or {}
    given = rules.get("seconds") is not None or rules.get("work") is not None
    return write_pack(derived, out, lambda stage: print(stage, file=sys.stderr),
                      lambda found: found.searched(None if given else PLAN_WORK))


def fit(text: str, out: Path | None) -> Answer:
    """how a job goes onto the roof: stages, needs, totals, chalk lines, movement, water"""
    from yattle.derive import derive
    from yattle.install.answers import fit_answer
    from yattle.job.store import parse

    return fit_answer(derive(parse(text)))


def order(text: str, out: Path | None) -> Answer:
    """what to order for a job: metal, panels, fixings, sealing"""
    from yattle.derive import derive
    from yattle.install.answers import order_answer
    from yattle.job.store import parse

    return order_answer(derive(parse(text)))


def panels(text: str, out: Path | None) -> Answer:
    """each panel of each face of a job: outline, length with its sum, cuts, blank"""
    from yattle.derive import derive
    from yattle.install.panel_answer import panels_answer
    from yattle.job.store import parse

    return panels_answer(derive(parse(text)))


def built(text: str, out: Path | None) -> Answer:
    """every piece of a job at its place in the roof, with panels and decks; into --out as a model too, by the patterns
    that a pack there holds"""
    from yattle.built import put_together
    from yattle.derive import derive
    from yattle.files import put_into
    from yattle.job.store import parse
    from yattle.papers.built import built_to_glb
    from yattle.papers.written import read_again

    derived = derive(parse(text))
    found = read_again(derived, out) if out is not None else None
    whole = put_together(derived) if found is None else put_together(derived, found.patterns, found.said)
    answer = whole.answer
    if out is not None:
        put_into(out, "built.glb", built_to_glb(whole, answer))
    return answer


def advice(text: str, out: Path | None) -> Answer:
    """leg lengths of a job that save coil"""
    from yattle.derive.advice import advice_answer
    from yattle.job.store import parse

    return advice_answer(parse(text))


def adjust(text: str, out: Path | None) -> Answer:
    """the roof that fits its taped measures best, and the likely wrong measure"""
    from yattle.roof.measured import TapedRoof, adjusted
    from yattle.values import read

    return adjusted(read(TapedRoof, text)).answer()


def try_(text: str, out: Path | None) -> Answer:
    """somebody's own fold order, stroke by stroke"""
    from yattle.brake import FoldOrder, plain_order, try_order
    from yattle.brake.trial import OwnOrder
    from yattle.section import GirthRefused, girth_of
    from yattle.values import read

    own = read(OwnOrder, text)
    girth = girth_of(own.profile)
    if isinstance(girth, GirthRefused):
        return {"format": "yattle-trial/1", "ok": False, "reasons": list(girth.reasons), "steps": []}
    best = plain_order(own.job)
    return try_order(own.job, own.strokes()).answer(best.cost if isinstance(best, FoldOrder) else None)


def learn(text: str, out: Path | None) -> Answer:
    """springback and k-factor from measured folds and legs"""
    from yattle.job.learn import Log, learnt
    from yattle.values import read

    return learnt(read(Log, text))


def together(texts: list[str]) -> Answer:
    """one coil plan for several jobs"""
    from yattle.coil import nest as solve
    from yattle.coil.together import names_of
    from yattle.coil.together import together as one_job
    from yattle.derive import derive
    from yattle.job.store import parse

    jobs = [parse(text) for text in texts]
    names = names_of([job.name for job in jobs])
    whole = one_job({name: derive(job).nest_job for name, job in zip(names, jobs, strict=True)})
    rules = whole.rules if whole.rules.work else whole.rules.but(seconds=None, work=TOGETHER_WORK)
    return solve(whole.but(rules=rules)).answer()


VERBS: dict[str, Callable[[str, Path | None], Answer]] = {
    "girth": girth, "folds": folds, "roof": roof, "nest": nest, "develop": develop, "plan": plan, "fit": fit,
    "order": order, "panels": panels, "built": built, "advice": advice, "adjust": adjust, "try": try_, "learn": learn}
"""Verbs of one file: its text and the folder to write to → the answer that is printed."""
MANY: dict[str, Callable[[list[str]], Answer]] = {"together": together}
"""Verbs of several files."""


def schema(name: str) -> Answer:
    """The JSON Schema of a format, such as ``profile`` or ``detail/eave-drip``. Raises :class:`InputError` where there
    is no such format."""
    from yattle.errors import InputError
    from yattle.schemas import schemas

    known = schemas()
    if name not in known:
        raise InputError("schema", repr(name), "one of " + ", ".join(sorted(known)))
    return known[name]
