"""The shop pack: everything of a job written into one folder."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial
from itertools import chain
from pathlib import Path
from typing import Any

from yattle.brake import FoldOrder, best_order
from yattle.built import FITS, put_together
from yattle.cores import beside
from yattle.csv_tables import in_style
from yattle.derive.derived import Derived, worst_first
from yattle.drawing import pattern_drawing
from yattle.drawing.shapes import Drawing, Point
from yattle.errors import FileProblem
from yattle.files import safe_name, why, write_whole
from yattle.install.installation import installation
from yattle.job.log import log_csv
from yattle.measure import UNITS, in_unit
from yattle.papers.built import built_to_glb
from yattle.papers.cards import write_fold_cards
from yattle.papers.cut_sheet import write_cut_sheet
from yattle.papers.dxf import drawing_to_dxf
from yattle.papers.gltf import piece_to_glb
from yattle.papers.labels import write_labels
from yattle.papers.machine import fold_program, fold_program_csv, nests_as_dxf
from yattle.papers.order import order_list
from yattle.papers.roof import roof_plan, roof_to_dxf, roof_to_glb
from yattle.papers.site import write_site_pack
from yattle.papers.svg import drawing_to_svg
from yattle.papers.tables import cut_list, panel_list
from yattle.papers.unfit import mark_unfit
from yattle.papers.written import FOLDER, ToWrite, patterns_of
from yattle.pattern import Pattern

_ROW = 12  # patterns that are written one after the other by whoever is free


@dataclass
class _ShopPack:
    """A pack on its way into the folder ``out``, and the names of what is written so far."""

    out: Path
    derived: Derived
    written: list[str] = field(default_factory=list)

    def put(self, name: str, content: str | bytes) -> None:
        """Write one file, tables in the job's style."""
        if isinstance(content, str) and name.endswith(".csv"):
            content = in_style(content, self.derived.job.tables)
        write_whole(self.out / name, content)
        self.written.append(name)

    def paper(self, name: str, write: Callable[[Derived, Path], object]) -> None:
        """Write one paper."""
        write(self.derived, self.out / "papers" / name)
        self.written.append(f"papers/{name}")


def write_pack(derived: Derived, out: Path, say: Callable[[str], None] = lambda _: None,
               better: Callable[[Derived], Derived] = lambda derived: derived) -> dict[str, Any]:
    """Write patterns, nest, fold orders, lists and papers into ``out``; the summary is returned. ``better`` looks for a
    better cutting plan, while what does not hang on it is written beside it. Each file is written whole or not at all.

    Raises :class:`FileProblem` when the folder cannot be written to.
    """
    try:
        for folder in (FOLDER, "folds", "models", "papers"):
            (out / folder).mkdir(parents=True, exist_ok=True)
        say("patterns")
        with beside(_pieces(derived, out)) as pieces:
            return _write(_ShopPack(out, better(derived)), say, pieces)
    except OSError as trouble:
        raise FileProblem(f"{out}: cannot be written to ({why(trouble)}); "
                          "choose another folder") from None


def _write(pack: _ShopPack, say: Callable[[str], None], pieces: Callable[[], list[list[str]]]) -> dict[str, Any]:
    derived = pack.derived
    say("fold orders")
    orders = _orders(derived, pack.put)
    say("nest")
    pack.put("nest.json", _json(derived.nest.answer()))
    for metal, text in nests_as_dxf(derived).items():
        pack.put(f"nest-{safe_name(metal)}.dxf", text)
    pack.put("cut-list.csv", cut_list(derived))
    fits, unfit = _roof(derived, pack.put) if derived.roof.facets else (False, [])
    say("papers")
    if derived.nest.used:
        pack.paper("cut-sheet.pdf", write_cut_sheet)
        pack.paper("labels.pdf", write_labels)
    if installation(derived).items:
        pack.paper("site-pack.pdf", write_site_pack)
        pack.put("order-list.csv", order_list(derived))
    if derived.job.log:
        pack.put("log.csv", log_csv(derived.job.log))
    written = [*pack.written, *chain.from_iterable(pieces())]
    for name in (name for name in written if unfit and name.endswith(".pdf")):
        found = [(in_unit(says, UNITS[derived.job.unit]), at) for says, at in unfit]
        mark_unfit(pack.out / name, found, roof_plan(derived))
    summary = _summary(derived, orders, written, [says for says, _ in unfit])
    if derived.roof.facets:
        summary["proven"] = fits and not derived.misfits  # it folds up, and it fits
    return summary


def _roof(derived: Derived, put: Callable[[str, str | bytes], None]) -> tuple[bool, list[tuple[str, Point]]]:
    """The roof and the roof as built: whether it fits, and what does not with where that is on the plan, mm."""
    put("roof.json", _json(derived.roof.answer()))
    put("roof-plan.dxf", roof_to_dxf(derived))
    put("models/roof.glb", roof_to_glb(derived.roof, derived.job.metal_used.colour))
    put("panel-list.csv", panel_list(derived))
    built = put_together(derived)
    answer = built.answer
    put("built.json", _json(answer))
    put("models/built.glb", built_to_glb(built, answer))
    unfit = [(one["says"], (one["at"][0], one["at"][1])) for one in answer["findings"] if one["row"] in FITS]
    return answer["ok"], unfit


def _pieces(derived: Derived, out: Path) -> list[Callable[[], list[str]]]:
    """What hangs on no cutting plan, about half of a pack, as pieces of work: the fold cards and the files of all
    patterns; each tells what it has written."""
    papers = list(patterns_of(derived))
    rows = [papers[start:start + _ROW] for start in range(0, len(papers), _ROW)]
    cards = [partial(_fold_cards, derived, out)] if derived.patterns else []
    return [*cards, *(partial(_patterns, _ShopPack(out, derived), row) for row in rows)]


def _fold_cards(derived: Derived, out: Path) -> list[str]:
    pack = _ShopPack(out, derived)
    pack.paper("fold-cards.pdf", write_fold_cards)
    return pack.written


def _patterns(pack: _ShopPack, row: Sequence[ToWrite]) -> list[str]:
    colour, unit = pack.derived.job.metal_used.colour, UNITS[pack.derived.job.unit]
    for one in row:
        _put_pattern(pack.put, one.pattern, pattern_drawing(one.pattern, one.profile, unit), one.title, colour)
    return pack.written


def _put_pattern(put: Callable[[str, str | bytes], None], pattern: Pattern, drawing: Drawing, title: str,
                 colour: str) -> None:
    name = safe_name(pattern.id)
    put(f"{FOLDER}/{name}.json", _json(pattern.model_dump(mode="json")))
    said = f"{pattern.id}, {pattern.qty} off, {pattern.metal.name}"
    put(f"{FOLDER}/{name}.dxf", drawing_to_dxf(drawing, title=said))
    put(f"{FOLDER}/{name}.svg", drawing_to_svg(drawing, title))
    put(f"models/{name}.glb", piece_to_glb(pattern, colour))


def _orders(derived: Derived, put: Callable[[str, str | bytes], None]) -> dict[str, Any]:
    orders = {}
    for run in derived.runs:
        job = derived.fold_job(run.run.id)
        if job is not None:
            order = best_order(job)
            put(f"folds/{safe_name(run.run.id)}.json", _json(order.answer()))
            orders[run.run.id] = order.cost if isinstance(order, FoldOrder) else None
            if isinstance(order, FoldOrder) and run.detail.girth is not None:
                program = fold_program(run.run.id, order, run.detail.girth)
                put(f"folds/{safe_name(run.run.id)}-program.json", program)
                put(f"folds/{safe_name(run.run.id)}-program.csv", fold_program_csv(order))
    return orders


def _json(document: Any) -> str:
    return json.dumps(document, indent=1, sort_keys=True) + "\n"


def _summary(derived: Derived, orders: dict[str, Any], written: list[str], unfit: list[str]) -> dict[str, Any]:
    """What is printed; ``unfit``: where the roof as built does not go together, which stops like what cannot be
    made."""
    answer = derived.nest
    misfits, found = derived.misfits, worst_first((*derived.findings, *derived.misfits))
    proofs = [run.detail.max_gap for run in derived.runs]
    proofs += [opening.result.max_gap for opening in derived.openings if opening.result is not None]
    stops = [f"{run_id}: {finding.says()}" for run_id, finding in found if finding.level == "stop"]
    stops += [f"{run_id}: no fold order on {derived.job.brake.name}" for run_id, cost in orders.items()
              if cost is None]
    stops += [f"{u.copies} × {u.part}: {u.reason}" for u in answer.unplaced]
    stops += unfit
    summary: dict[str, Any] = {
        "format": "yattle-plan/1", "ok": not (stops or misfits) and bool(derived.patterns), "job": derived.job.name,
        "pieces": derived.piece_count, "patterns": len(derived.patterns), "max_gap": max(proofs, default=0.0),
        "yield": answer.share_used, "used": [vars(used) for used in answer.used], "fold_cost": orders,
        "findings": [f"{run_id}: {finding.says()}" for run_id, finding in found], "files": sorted(written)}
    if answer.stopped:
        summary["stopped"] = answer.stopped
    if not summary["ok"]:
        summary["reasons"] = stops or ["the job has no runs: add one in the survey"]
    return summary
