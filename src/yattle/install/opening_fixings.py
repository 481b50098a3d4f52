"""What the pieces of openings and corners take: counted from what is marked on them and from how they are joined."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass

from yattle.derive.derived import Derived
from yattle.derive.openings import DerivedOpening
from yattle.details.forms import FormPiece
from yattle.install.schedule import Need
from yattle.job.fixing_rules import FixingRules
from yattle.pattern.pattern import SCREW
from yattle.pattern.surface import Crease, Surface
from yattle.roof import build
from yattle.roof.panels import lay

_TAPED, _SEALED = ("tape", "tape and screws"), ("sealant",)
_RIVETED = ("tab", "rivet tab", "lap", "ridge seam")  # faces joined to another piece, or to their own other end
_KERF = "turned in"


def opening_needs(derived: Derived) -> dict[str, tuple[Need, ...]]:
    """What each opening and corner takes, by its id: screws, tape and sealant as they are marked, rivets along its tabs
    and seams, wedges along the kerf."""
    found = {one.id: _needs(one, derived.job.fit) for one in derived.openings}
    return {name: needs for name, needs in found.items() if needs}


@dataclass(frozen=True)
class AddedPanels:
    """What an opening adds to the panels of its face: ``pieces`` and ``length`` in all, mm; below 0 where it takes
    some away."""

    pieces: int
    length: float


def added_panels(derived: Derived, opening: str) -> AddedPanels | None:
    """How the panels of an opening's face differ from those laid alike without it; ``None`` of what is no opening of
    the roof."""
    placed = next((one for one in derived.roof.openings if one.opening.id == opening), None)
    if placed is None:
        return None
    plan = derived.roof.plan
    bare = build(plan.but(openings=tuple(one for one in plan.openings if one.id != opening)))
    pieces, length = 0, 0.0
    for face in placed.facets:
        laid = derived.panels[face]
        other = lay(bare, face, laid.rule.but(start=laid.start))
        pieces += len(laid.panels) - len(other.panels)
        length += sum(panel.length for panel in laid.panels) - sum(panel.length for panel in other.panels)
    return AddedPanels(pieces, length)


def _needs(opening: DerivedOpening, rules: FixingRules) -> tuple[Need, ...]:
    total: Counter[str] = Counter()
    for piece in opening.pieces:
        if not piece.paper:
            for what, many in _of_piece(piece, rules).items():
                total[what] += many * piece.pattern.qty  # type: ignore[assignment]
    return tuple(Need(what, many, 1, hidden=what in ("tape", "sealant")) for what, many in total.items() if many)


def _of_piece(piece: FormPiece, rules: FixingRules) -> dict[str, float]:
    marks = piece.pattern.marks
    tape, bead = (sum(math.dist(mark.a, mark.b) for mark in marks if mark.text in texts) for texts in (_TAPED, _SEALED))
    seams = [_length(piece.surface, crease) for crease in piece.surface.creases
             if piece.surface.faces[crease.child].name in _RIVETED]
    kerf = sum(_length(piece.surface, crease) for crease in piece.surface.creases
               if piece.surface.faces[crease.child].name == _KERF)
    wedges = max(2, math.ceil(kerf / rules.wedge_pitch - 1e-9) + 1) if kerf else 0
    return {"screws": float(sum(mark.text == SCREW for mark in marks)), "tape": tape,
            "sealant": (bead + kerf) / 1000 * rules.sealant_a_metre,
            "rivets": float(sum(max(1, math.ceil(seam / rules.rivet_pitch - 1e-9)) for seam in seams)),
            "wedges": float(wedges)}


def _length(surface: Surface, crease: Crease) -> float:
    """How long the edge is that a face is folded at, mm."""
    ring = surface.faces[crease.parent].corners
    return math.dist(ring[crease.at], ring[(crease.at + 1) % len(ring)])
