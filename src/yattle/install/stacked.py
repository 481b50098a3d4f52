"""Panels that are screwed through, drilled in stacks before they go up: where the rows come on panels of one length."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import shapely

from yattle.derive.derived import Derived
from yattle.install.panel_fixings import END, between
from yattle.panels import PanelSystem, derive_profile
from yattle.roof.panels import Panel, PanelPlan

_SAME = 0.5  # mm
_AT_FOOT = ("overhang", "hem at the eave")


@dataclass(frozen=True)
class DrillStack:
    """Whole panels of a face that are drilled alike: their ``numbers`` and ``length``, ``rows`` as (mm from the lower
    end, screws at each rib), ``ribs`` mm across from the left side edge."""

    face: str
    length: float
    numbers: tuple[int, ...]
    rows: tuple[tuple[float, int], ...]
    ribs: tuple[float, ...]


def drill_stacks(derived: Derived, face: str) -> tuple[DrillStack, ...]:
    """The stacks of a face, the longest panels first; none of systems that are held along their seams."""
    system, laid = derived.job.panel_system(face), derived.panels[face]
    if system is None or not system.fixing.supports:
        return ()
    read = derive_profile(system)
    ribs = tuple(rib.at - system.under for rib in read.ribs)
    found: dict[tuple[float, tuple[tuple[float, int], ...]], list[int]] = {}
    for panel in laid.panels:
        if _is_whole(laid, panel):
            rows = tuple(_rows(derived, laid, panel, system))
            found.setdefault((round(panel.length, 1), rows), []).append(panel.n)
    return tuple(DrillStack(face, length, tuple(numbers), rows, ribs)
                 for (length, rows), numbers in sorted(found.items(), reverse=True))


def _is_whole(laid: PanelPlan, panel: Panel) -> bool:
    """Whether a panel is a rectangle as wide as the system covers: others are drilled on the roof."""
    shape = shapely.Polygon(panel.outline)
    return panel.width > laid.rule.coverage - _SAME and shape.area > shape.envelope.area - 1.0


def _rows(derived: Derived, laid: PanelPlan, panel: Panel, system: PanelSystem) -> Iterator[tuple[float, int]]:
    """Rows from the lower end: at the support next to the eave and to the head, on a deck the edge distance in from
    them, and those between."""
    ups = [up for _, up in panel.outline]
    low, high = min(ups), max(ups)
    beyond = sum(mm for what, mm in panel.terms if what in _AT_FOOT)
    edge, fixing, structure = derived.job.fit.edge, system.fixing, derived.job.structure_of(laid.facet)
    bears = structure.supports(high)
    foot = next((at for at in bears if low <= at <= low + END), low + edge)
    head = next((at for at in reversed(bears) if high - END <= at <= high), high - edge)
    yield round(beyond + foot - low, 1), fixing.end_row
    for at in between(low, high, system, structure):
        yield round(beyond + at - low, 1), fixing.middle_row
    yield round(beyond + head - low, 1), fixing.end_row
