"""What ``yattle fit`` and ``yattle order`` print: how the job goes onto the roof, and what to order."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import asdict
from typing import Any

from yattle.derive.derived import Derived
from yattle.derive.face_pans import not_cut
from yattle.derive.layers import carried_by
from yattle.derive.pans import made_here
from yattle.derive.roof_runs import base_id, place_along, roof_runs
from yattle.install.chalk import chalk_lines
from yattle.install.installation import Installation, InstalledRun, installation
from yattle.install.opening_fixings import added_panels
from yattle.install.panel_answer import courses_on, shingle_pattern
from yattle.install.panel_fixings import strips
from yattle.install.parting import panels_of
from yattle.install.rain import drains
from yattle.install.schedule import UNIT_OF, Need, Packed, bites, fixed_as
from yattle.install.venting import air_of
from yattle.roof import Edge

Answer = dict[str, Any]
SEALING = ("tape", "lap tape", "sealant")
SHEETS = ("underlay",)
NOT_COUNTED = (
    "profile fillers: between standing seams the closures are folded from the coil", "gutters, scaffold, timber",
)
"""What no list of the job holds."""
_ALONG = {
    "panel screws": ("deck or supports, through the ribs", "every row"),
    "lap screws": ("the panel beneath", "every lap"), "lap tape": ("", "every lap"),
    "tape": ("", "the eave and end laps"), "backer plates": ("", "every end lap")}
"""What the needs of panels go into, and along what they are; others into the deck, along every seam."""
UNKNOWN_PANELS = "what panels of an unknown system take besides the clips of standing seams: choose their system"


def _air(derived: Derived) -> list[Answer]:
    """Vented edges: cm² of free area, of each metre, and what the roof asks there."""
    return [{"run": row.run, "free_cm2": row.have, "cm2_a_metre": row.a_metre, "asked_cm2": row.asked}
            for row in air_of(derived)]


def fit_answer(derived: Derived) -> Answer:
    """The order of fitting: stages of items with why they lie where they lie, needs, movement, water, chalk lines."""
    found = installation(derived)
    edges = {one.run.id: one.edge for one in roof_runs(derived.job)}
    return {
        "format": "yattle-fit/1", "ok": bool(found.items),
        "reasons": [] if found.items else ["the job has no roof and no runs yet"],
        "stages": [_stage(found, n, edges) for n in range(len(found.order.stages))],
        "totals": [_pack(pack, derived) for pack in found.packs],
        "left_out": _left_out(derived),
        "chalk_lines": [asdict(line) for line in chalk_lines(derived)],
        "water": {"joints": [asdict(joint) for joint in found.water.joints],
                  "passages": [asdict(passage) for passage in found.water.passages],
                  "drains": drains(derived)},
        "air": _air(derived),
        "contradictions": [trouble.says() for trouble in found.order.troubles],
        "findings": [{"item": item, "level": finding.level, "says": finding.says(), "advice": finding.reason()}
                     for item, finding in found.findings],
    }


def _stage(found: Installation, n: int, edges: dict[str, Edge]) -> Answer:
    return {"n": n + 1, "items": [_item(found, name, edges) for name in found.order.stages[n]],
            "cautions": list(found.cautions(n)), "checks": list(found.checks(n))}


def _item(found: Installation, name: str, edges: dict[str, Edge]) -> Answer:
    item = found.item(name)
    row: Answer = {**asdict(item), "over": [{"item": lap.under, "why": lap.why, "by_hand": lap.by_hand}
                                            for lap in found.laps if lap.over == name]}
    run = found.runs.get(name)
    if item.kind == "panels":
        whole = found.panels.get(item.place, ()) if name == panels_of(item.place, 0) else ()
        return row | {"needs": [_face_need(need) for need in whole]}
    if name in found.openings:
        return row | {"needs": [{"what": need.what, "many": need.many, "unit": UNIT_OF.get(need.what, "pieces"),
                                 "rows": need.rows, "places": [], "second": [], "at": [], "hidden": need.hidden,
                                 "bites": bites("", need.what), "only": False} for need in found.openings[name]],
                      **_added(found, name)}
    return row if run is None else row | _run(run, edges.get(base_id(name)))


def _added(found: Installation, name: str) -> Answer:
    """What an opening adds to the panels it stands in."""
    more = added_panels(found.derived, name) if found.derived is not None else None
    return {} if more is None else {"adds_panels": {"pieces": more.pieces, "length": more.length}}


def _face_need(need: Need) -> Answer:
    bite, along = _ALONG.get(need.what, ("deck", "every seam"))
    return {"what": need.what, "many": need.many, "unit": UNIT_OF.get(need.what, "pieces"), "hidden": need.hidden,
            "bites": bite, "along": along}


def _run(run: InstalledRun, edge: Edge | None) -> Answer:
    kind = fixed_as(run.run.run.layer or run.run.run.kind, None, run.run.family.name if run.run.family else "")
    far = run.far_end
    return {
        "length": run.run.run.length, "pieces": len(run.run.pieces),
        "carried_by": carried_by(run.run.run, run.run.standard.wall_flange) or None,
        "first_seam": run.run.run.first_seam,
        "needs": [_need(need, kind, run, edge) for need in run.needs],
        "movement": {**asdict(run.movement), "fights": run.fights, "joints_free_to_slide": run.slides},
        "far_end": {"spread": far.spread, "share_off": far.off, "worst": far.worst}}


def _need(need: Need, kind: str, run: InstalledRun, edge: Edge | None) -> Answer:
    return {"what": need.what, "many": need.many, "unit": UNIT_OF.get(need.what, "pieces"), "rows": need.rows,
            "places": list(need.places), "second": list(need.second),
            "at": [place_along(edge, run.run.run, along) for along in need.places],
            "hidden": need.hidden, "bites": bites(kind, need.what), "only": need.only}


def _pack(pack: Packed, derived: Derived) -> Answer:
    return {"what": pack.what, "many": pack.many, "unit": UNIT_OF.get(pack.what, "pieces"), "packs": pack.packs,
            "a_pack": pack.a_pack, "spare": derived.job.fit.spare}


def _left_out(derived: Derived) -> list[str]:
    """What is counted nowhere: trims that are not made, and what is no part of any job."""
    bare = [f"{run.run.id}, {run.run.kind}: no piece is made" for run in derived.runs if not run.pieces]
    known = all(derived.job.panel_rule(facet.id).system for facet in derived.roof.facets)
    return [*bare, *([] if known else [UNKNOWN_PANELS]), *NOT_COUNTED]


def order_answer(derived: Derived) -> Answer:
    """What to order: metal by coil width, panels, fixings, sealing, sheets; each with packs and spare."""
    packs = installation(derived).packs
    reasons = [f"{one.copies} × {one.part}: {one.reason}" for one in derived.nest.unplaced]
    return {
        "format": "yattle-order/1", "ok": not reasons, "reasons": reasons,
        "metal": _metal(derived), "panels": _panels(derived),
        "fixings": [_pack(pack, derived) for pack in packs if pack.what not in (*SEALING, *SHEETS)],
        "sealing": [_pack(pack, derived) for pack in packs if pack.what in SEALING],
        "sheets": [_pack(pack, derived) for pack in packs if pack.what in SHEETS],
        "fillers": _fillers(derived), "left_out": _left_out(derived)}


def _fillers(derived: Derived) -> list[Answer]:
    """Strips cut to the profile, with the spare, each as long as a panel covers."""
    spare = derived.job.fit.spare
    return [{"what": f"profile strips, {system}", "many": float(many), "unit": "pieces",
             "packs": math.ceil(many * (1 + spare) - 1e-9), "a_pack": 1.0, "spare": spare}
            for system, many in sorted(strips(derived).items())]


def _metal(derived: Derived) -> list[Answer]:
    """What the cutting plan takes, by width of coil; sheets and offcuts by what they are."""
    stock = {piece.id: piece for piece in derived.job.stock}
    length: Counter[tuple[str, str, float | None]] = Counter()
    area: Counter[tuple[str, str, float | None]] = Counter()
    for used in derived.nest.used:
        piece = stock[used.stock]
        key = piece.metal, piece.kind, piece.width
        length[key] += used.length  # type: ignore[assignment]
        area[key] += used.area  # type: ignore[assignment]
    return [{"metal": metal, "kind": kind, "width": width, "length": float(length[metal, kind, width]),
             "area": float(area[metal, kind, width])} for metal, kind, width in length]


def _panels(derived: Derived) -> list[Answer]:
    found: list[Answer] = []
    for face, laid in derived.panels.items():
        if shingle_pattern(derived, face) is not None:
            continue  # cut from the coil as pieces like others
        left = not_cut(derived, face) if made_here(derived.job, laid) else None
        courses, system = courses_on(derived, face), derived.job.panel_system(face)
        rows = laid.orders(left) if not courses or system is None else [
            (system.exposure, sum(course.whole + course.cut for course in courses))]
        found += [{"face": face, "length": length, "qty": many} for length, many in rows]
    return found
