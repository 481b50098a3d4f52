"""Everything of a job that goes onto the roof in one go."""

from __future__ import annotations

from collections.abc import Iterator

from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.roof_runs import base_id
from yattle.install.laps import Item
from yattle.install.parting import panels_of, parting_of
from yattle.roof.edges import WALLS


def items_of(derived: Derived) -> Iterator[Item]:
    """Everything that goes on: underlay, panels, every run's trim and layers, walls that are closed, openings."""
    parting = parting_of(derived.roof.plan)
    for facet in derived.roof.facets:
        yield Item(f"underlay {facet.id}", f"underlay, face {facet.id}", "underlay", facet.id)
        top = parting.top(facet.id)
        for level in range(top + 1):
            which = "" if not top else ", the lower ones" if not level else ", the upper ones" if level == top else (
                f", those above {level}")
            yield Item(panels_of(facet.id, level), f"panels, face {facet.id}{which}", "panels", facet.id)
    for run in derived.runs:
        if run.pieces:
            kind = run.run.layer or run.run.kind
            said = kind if run.run.layer else run.run.name or run.detail.name
            if kind == "closure":
                said = f"{run.run.name}, {sum(many for _, many in run.run.gaps)} pieces"
            yield Item(run.run.id, f"{base_id(run.run.id)} {said}", kind, base_id(run.run.id))
    for name in clad(derived):
        yield Item(f"wall {name}", f"{name} wall closed over it", "cladding", name)
    for opening in derived.openings:
        if not is_pans(opening) and any(not piece.paper for piece in opening.pieces):
            yield Item(opening.id, opening.title, opening.kind, opening.id)


def clad(derived: Derived) -> list[str]:
    """Wall flashings without a counterflashing: the wall's own cladding comes down over them."""
    covered = {base_id(run.run.id) for run in derived.runs if run.run.layer == "counterflashing" and run.pieces}
    return [run.run.id for run in derived.runs
            if run.pieces and not run.run.layer and run.run.kind in WALLS and run.run.id not in covered]
