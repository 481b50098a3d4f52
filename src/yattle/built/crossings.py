"""Clash: which things that go through each other should not."""

from __future__ import annotations

from collections.abc import Iterator

from yattle.built.bodies import bodies
from yattle.built.clash import Clash, clashes
from yattle.built.dressed import within_creases
from yattle.built.forms import PutTogether, opening_of
from yattle.built.laid import LaidPanel
from yattle.built.placed import PlacedPiece
from yattle.built.standing import Standing
from yattle.built.structure import BuildingPart, boards, walls
from yattle.derive.derived import Derived
from yattle.derive.raised import ON_PANELS
from yattle.derive.roof_runs import base_id
from yattle.details import standard_for
from yattle.roof.drain import spills_on


def crossings(derived: Derived, placed: list[PlacedPiece], there: tuple[list[Standing], list[LaidPanel]],
              touching: frozenset[str] | None, formed: dict[str, PutTogether]) -> Iterator[Clash]:
    """What goes through what: pieces, bought panels with their seams, walls and boards, and what stands in openings.
    Pieces of one opening go no further through each other, and into what stands there, than its form has them; a
    valley's foot, and a back pan's end, is dressed by hand over the panels below. What lies on panels of whose seams
    nobody has said how high they stand can lie higher by these."""
    hard, panels = there
    stood = [(one.opening, part) for one in bodies(derived) if not one.round for part in one.parts()]
    solids = [*hard, *(within_creases(derived, panel) for panel in panels),
              *map(_solid, (*walls(derived), *boards(derived), *(part for _, part in stood)))]
    faces, items = {panel.id: panel.face for panel in panels}, {one.pattern: one.item for one in placed}
    of = opening_of(derived) | {part.id: name for name, part in stood}
    feet = {(run, f"panels {face}") for run, found in derived.edge_runs.items()
            if (face := spills_on(derived.roof, found.edge)) is not None}
    lifted, seam = _on_unsaid(derived), standard_for(derived.job.system, derived.job.own).seam_height
    for clash in clashes(solids, touching):
        names = clash.a.partition("/")[0], clash.b.partition("/")[0]
        if clash.a in faces and faces[clash.a] == faces.get(clash.b):
            continue  # neighbours share their seam's line
        if clash.depth < seam and not lifted.isdisjoint(names):
            continue
        own = of.get(names[0])
        if own is not None and own == of.get(names[1]):
            if own in formed and not formed[own].allows(clash):
                yield clash
            continue
        one, other = (f"panels {faces[name]}" if name in faces else items.get(pattern, name)
                      for name, pattern in zip((clash.a, clash.b), names, strict=True))
        if not _is_kerf(one, other) and not {(one, other), (other, one)} & feet:
            yield clash


def _on_unsaid(derived: Derived) -> set[str]:
    """The patterns of trims, and of what goes with them, on panels whose seams nobody has said the height of."""
    edges = ((run, derived.edge_runs.get(base_id(run.run.id))) for run in derived.runs)
    return {piece.id for run, found in edges if found is not None and found.edge.kind in ON_PANELS
            and derived.unsaid.issuperset(found.edge.facets) for piece in run.pieces}


def _solid(part: BuildingPart) -> Standing:
    return Standing(part.id, part.id, (part.ring,))


def _is_kerf(one: str, other: str) -> bool:
    """Whether a counterflashing goes into its wall, which is cut there."""
    return any(item.endswith(".c") for item in (one, other)) and any(item.startswith("wall ") for item in (one, other))
