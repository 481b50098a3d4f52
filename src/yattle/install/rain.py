"""What the rain that comes to an edge asks for: the open width of valleys, gutters and outlets, a way out.

Gutters and outlets by the formulas of EN 12056-3 (level half-round gutters, round outlets); a valley as a wide open
channel by R. Manning's formula, its water no deeper than 10 mm. All of it is advice with its sum: the local code and
the makers' tables go before.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from yattle.derive.derived import Derived
from yattle.derive.roof_runs import RoofRun, roof_runs
from yattle.details import Finding
from yattle.measure import UNITS, Area, Flow, Rain, Unit, say_length
from yattle.roof import Edge, Roof, RoofPlan, build
from yattle.roof.at_edge import collects, goes_past
from yattle.roof.drain import RUNS_ALONG, Drainage, drainage

GUTTERS = (100.0, 125.0, 150.0, 180.0, 200.0, 250.0)
"""Half-round gutters by their diameter, mm."""
OUTLETS = (50.0, 60.0, 75.0, 80.0, 100.0, 120.0, 150.0)
"""Round outlets by their diameter, mm."""
_TO_ONE_OUTLET = 15_000.0  # mm of gutter that one outlet serves
_DEEP = 10.0  # mm: how deep water may run in a valley
_ROUGH = 0.011  # Manning's n of painted sheet
CODE = "the local code and the maker's tables go before"


@dataclass(frozen=True)
class Gutter:
    """A half-round gutter for an eave: ``diameter``, ``outlets`` of ``outlet`` each, mm; ``None`` where none of the
    usual ones is large enough."""

    diameter: float | None
    outlets: int
    outlet: float | None

    def says(self, unit: Unit = UNITS["mm"]) -> str:
        """What would do, in a job's unit; in mm without its sign, as gutters are called."""
        if self.diameter is None or self.outlet is None:
            return "more than a half-round gutter carries: a box gutter by an engineer"
        wide, hole = (say_length(mm, unit, 0, mark=bool(unit.parts)) for mm in (self.diameter, self.outlet))
        return f"half-round {wide}, {self.outlets} outlet{'s' * (self.outlets > 1)} of {hole}"


def gutter_flow(diameter: float) -> float:
    """Litres a second that a level half-round gutter carries, its diameter in mm (EN 12056-3, 5.1: 0.9 of
    2.78·10⁻⁵ · A^1.25).

    >>> round(gutter_flow(125.0), 2)
    1.36
    """
    return float(0.9 * 2.78e-5 * (math.pi * diameter**2 / 8) ** 1.25)


def outlet_flow(diameter: float, depth: float) -> float:
    """Litres a second through a round outlet under ``depth`` mm of water (EN 12056-3, 5.4: a weir while the water is
    shallower than half its diameter, else an orifice)."""
    if depth < diameter / 2:
        return float(diameter * depth * math.sqrt(depth) / 7500)
    return float(diameter * diameter * math.sqrt(depth) / 15_000)


def gutter_for(flow: float, length: float) -> Gutter:
    """The smallest gutter for ``flow`` litres a second along ``length`` mm, an outlet to every 15 m at most."""
    outlets = max(1, math.ceil(length / _TO_ONE_OUTLET))
    each = flow / outlets
    diameter = next((size for size in GUTTERS if gutter_flow(size) >= each), None)
    outlet = None if diameter is None else next(
        (size for size in OUTLETS if outlet_flow(size, 0.4 * diameter) >= each), None)
    return Gutter(diameter, outlets, outlet)


def valley_width(flow: float, slope: float) -> float:
    """The open width in mm that carries ``flow`` litres a second at a valley's own ``slope`` in degrees, its water
    10 mm deep (Manning: v = R^⅔ · √S / n)."""
    speed = math.pow(_DEEP / 1000, 2 / 3) * math.sqrt(max(math.sin(math.radians(slope)), 1e-6)) / _ROUGH  # m/s
    return flow / (speed * _DEEP) * 1000


@lru_cache(maxsize=16)
def _drained(plan: RoofPlan) -> Drainage:
    return drainage(build(plan))


def drains(derived: Derived) -> list[dict[str, Any]]:
    """What comes to each edge that takes water: plan area in m², litres a second, and what that asks for, mm."""
    water, rain, rows = _drained(derived.job.roof), derived.job.rain, []
    for found in roof_runs(derived.job):
        area = water.catchment.get(found.edge.id, 0.0)
        if not area:
            continue
        flow = area * rain / 3600
        row: dict[str, Any] = {"run": found.run.id, "kind": found.edge.kind, "area": area, "flow": flow, "rain": rain}
        if found.edge.kind == "eave":
            row["advice"] = f"{gutter_for(flow, found.edge.length).says()}; {CODE}"
        elif found.edge.kind == "valley" and found.edge.slope > 0.5:
            row["open"] = valley_width(flow, found.edge.slope)
        rows.append(row)
    return rows


def rain_findings(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """(run, finding): valleys too narrow for what comes to them, walls where water comes, faces without a way out."""
    water, rain = _drained(derived.job.roof), derived.job.rain
    runs = roof_runs(derived.job)
    by_edge = {found.edge.id: found for found in runs}
    for found in runs:
        area = water.catchment.get(found.edge.id, 0.0)
        if found.edge.kind == "valley" and found.edge.slope > 0.5:
            yield from _narrow(derived, found, area, rain)
        elif collects(derived.roof, found.edge):
            yield found.run.id, _against(derived.roof, found.edge, area, rain)
    for facet in derived.roof.facets:
        edges = derived.roof.edges_of(facet.id)
        if facet.plane.fall is None and edges and not any(edge.kind in ("eave", "rake") for edge in edges):
            look = Finding("look", f"no way out for the water of {facet.id}, {_CAME}",
                           "an outlet and an overflow through the parapet, a fall to both; sized by the local code",
                           "roof", _came(facet.shape.area / 1e6, rain))
            yield by_edge[edges[0].id].run.id, look


_CAME = "{0} · {1} = {2}"  # the face, the rain, the water


def _came(area: float, rain: float) -> tuple[float, ...]:
    return Area(area), Rain(rain), Flow(area * rain / 3600)


def _narrow(derived: Derived, found: RoofRun, area: float, rain: float) -> Iterator[tuple[str, Finding]]:
    made = derived.run(found.run.id)
    wanted, wide = valley_width(area * rain / 3600, found.edge.slope), made.standard.valley_open
    if made.pieces and wanted > wide:
        yield found.run.id, Finding(
            "look", f"{_CAME} come down it: open {{3}} wide, {{4}} wanted at {found.edge.slope:.0f}°",
            f"a wider opening; {CODE}", "open", (*_came(area, rain), wide, wanted))


def _against(roof: Roof, edge: Edge, area: float, rain: float) -> Finding:
    """Where the water goes that comes to a wall."""
    ends = [goes_past(roof, edge, *pair) for pair in ((edge.a, edge.b), (edge.b, edge.a))]
    if edge.kind in RUNS_ALONG and edge.slope > 0.5:
        return Finding("look", f"{_CAME} come against this wall and run along it at {edge.slope:.0f}°",
                       "keep its foot free, leaves and snow lie here first", "pitch", _came(area, rain))
    if not any(ends):
        return Finding("look", f"{_CAME} come against this wall: no way out for the water",
                       "another fall, or an outlet through the wall with an overflow", "pitch", _came(area, rain))
    return Finding("look", f"{_CAME} come against this wall and go round its "
                   f"{'ends' if all(ends) else 'one free end'}",
                   "a cricket behind it leads water and snow round; wide ones are framed by a licensed person", "pitch",
                   _came(area, rain))
