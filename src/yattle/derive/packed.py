"""Caps packed up: where level ridges of unequal pitches meet, the one that would lie lower is brought to the height of
the others, by closures that are as much higher, so that one piece can close the place between them."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from yattle.roof import Edge, Roof

_AS_HIGH = 0.3  # mm: caps that differ by less are dressed over
_ROUNDS = 4  # ridges that meet others at both ends


def packed(roof: Roof, edges: Mapping[str, Edge], highs: Mapping[str, float],
           up: Callable[[Edge, float], float]) -> dict[str, float]:
    """How much higher over their panels' seams the caps of ridges lie than these stand, by the runs' names, mm.
    ``edges``: of the runs; ``highs``: how high the seams beneath each stand, mm, 0 where nobody knows; ``up``: how high
    a trim so many mm over the flats of an edge lies over its line, mm."""
    met = list(_meeting(roof, {name: edge for name, edge in edges.items() if edge.kind == "ridge" and highs[name]}))
    more = dict.fromkeys((name for names in met for name in names), 0.0)
    for _ in range(_ROUNDS):
        for names in met:
            at = {name: up(edges[name], highs[name] + more[name]) for name in names}
            top = max(at.values())
            for name in names:
                if top - at[name] > _AS_HIGH:
                    slope = up(edges[name], highs[name] + 1.0) - up(edges[name], highs[name])
                    more[name] += (top - at[name]) / slope
    return {name: mm for name, mm in more.items() if mm > _AS_HIGH}


def _meeting(roof: Roof, ridges: Mapping[str, Edge]) -> list[list[str]]:
    """The ridges that meet at one place, three or more."""
    found = []
    for corner in roof.corners:
        here = [name for name, edge in ridges.items() if edge.id in corner.edges]
        if len(here) > 2:
            found.append(here)
    return found
