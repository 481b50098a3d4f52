"""How much of an eave panels with hems end on, for the strip that these hook on."""

from __future__ import annotations

import math

from yattle.derive.pans import held_from
from yattle.details.standard import Standard
from yattle.roof import Edge, Roof
from yattle.roof.panel_rule import NOTHING, PanelRule

FIRMLY_HEMMED = 300.0
"""How long a hem at a valley's foot is at the least that hooks on a strip, which ends before the valley's pan, mm."""
_IN_LINE = 0.02  # sine: a valley and an eave in one line


def hemmed_along(roof: Roof, eave: Edge, rule: PanelRule, standard: Standard, core: float) -> float:
    """How long an eave is where panels end on it, mm: less what they are held back from the valleys at its ends, which
    they are the further the further they go on past it."""
    face, left = eave.facets[0], eave.length
    for valley in (edge for edge in roof.edges_of(face) if edge.kind == "valley"):
        foot, head = sorted((valley.a, valley.b), key=lambda end: end[2])
        end, other = sorted((eave.a, eave.b), key=lambda at: math.dist(at, foot))
        if math.dist(end, foot) < NOTHING:
            cosine = sum((h - f) * (o - e) for h, f, o, e in zip(head, foot, other, end, strict=True)) / (
                valley.length * eave.length)
            sine = math.sqrt(max(1.0 - cosine**2, 0.0))
            if sine < _IN_LINE:  # a level valley goes on as the eave: they are held back beside it, not along it
                continue
            held = held_from(roof, face, "valley", standard, core, ribs=rule.ribs)
            left -= (held - max(rule.overhang, 0.0) * cosine) / sine
    return left
