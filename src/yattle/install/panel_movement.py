"""How panels get long and short: where each is fixed, what moves at its free end and at the pipes through it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import shapely

from yattle.derive.derived import Derived
from yattle.install.movement import Movement, movement_of
from yattle.roof.panel_rule import PanelRule
from yattle.roof.panels import Panel, PanelPlan, face_frame

FixedAt = Literal["eave", "head"]


@dataclass(frozen=True)
class AtPipe:
    """What a panel does at a pipe through it, ``far`` mm from where it is fixed."""

    pipe: str
    far: float
    movement: Movement


@dataclass(frozen=True)
class PanelMovement:
    """One panel: fixed at its ``eave`` end or at its ``head``, its ``movement`` at the other one, and at its pipes."""

    panel: Panel
    fixed: FixedAt
    movement: Movement
    pipes: tuple[AtPipe, ...]


def fixed_at(rule: PanelRule) -> FixedAt:
    """Where panels laid by a rule are held: a hooked foot slides on its strip, a screwed one does not."""
    return "head" if rule.hooked and rule.hem > 0 else "eave"


def movements(derived: Derived, face: str) -> tuple[PanelMovement, ...]:
    """Every panel of a face; clips, slides and hooks are what lets it go its way. Lengths and movements in mm."""
    laid = derived.panels[face]
    places = _pipes(derived, face)
    return tuple(_of(derived, laid, panel, places) for panel in laid.panels)


def _of(derived: Derived, laid: PanelPlan, panel: Panel, places: dict[str, tuple[float, float]]) -> PanelMovement:
    metal, rules, fixed = derived.job.metal_used, derived.job.fit, fixed_at(laid.rule)
    shape = shapely.Polygon(panel.outline)
    low, high = shape.bounds[1], shape.bounds[3]
    through = [(name, s, t) for name, (s, t) in places.items() if shape.covers(shapely.Point(s, t))]
    found = []
    for name, _, t in through:
        far = t - low if fixed == "eave" else high - t
        found.append(AtPipe(name, far, movement_of(far, metal.expansion, rules)))
    return PanelMovement(panel, fixed, movement_of(panel.length, metal.expansion, rules), tuple(found))


def _pipes(derived: Derived, face: str) -> dict[str, tuple[float, float]]:
    """The middles of the pipes in a face, in its own coordinates."""
    frame = face_frame(derived.roof.facet(face))
    return {placed.opening.id: frame.at((placed.opening.x, placed.opening.y)) for placed in derived.roof.openings
            if placed.opening.kind == "pipe" and placed.facets[0] == face}
