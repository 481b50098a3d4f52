"""Where the zeds stand that close under a trim: behind the edge of the leg that covers them, as that lies built up."""

from __future__ import annotations

import math
from typing import NamedTuple

from yattle.derive.corners import beside_edge, run_frame
from yattle.details.standard import Standard
from yattle.roof import Edge, Roof

_CLEAR = 2.0  # mm from the plumb line over an edge: the other face's zed, or a wall, is there
_FOOT = 20.0  # mm of a zed's foot, for tape and screws: legs that would leave less are made wider
_IN_HEM = 3.0  # mm: a zed that a hem hooks on ends so far behind the hem's fold

CLOSED = ("ridge", "hip", "half-ridge", "headwall", "skew-wall")
"""Kinds of edges under whose trims zeds stand."""
COVERING = ("wing", "apron", "flange", "below")
"""The legs under which zeds stand, by their fields."""


class ZedStrip(NamedTuple):
    """From where to where a zed reaches on a face, mm: measured on the slope, on what it stands on, from the plumb line
    over the edge: its foot from ``low`` on, its ``height``, its top as far as ``high``; how wide its ``foot`` is."""

    low: float
    height: float
    high: float
    foot: float


def wing_end(roof: Roof, edge: Edge, face: str, wide: float, lift: tuple[float, float]) -> float:
    """How far from an edge of a face a leg of ``wide`` mm along it ends, where its section lies ``lift`` (out, up) mm
    off its line: in the face's own plane, square to the edge, mm. What lies higher over a slope ends sooner."""
    _, _, (_, out, up) = run_frame(roof, edge)
    (_, into, _), _ = beside_edge(roof, edge, face)
    return wide + float((out * lift[0] + up * lift[1]) @ into)


def over_plumb(roof: Roof, edge: Edge, face: str, flat: float) -> float:
    """How far the plumb line over an edge lies behind it, in mm along the slope, ``flat`` mm over the face's plane."""
    (_, into, square), _ = beside_edge(roof, edge, face)
    return -flat * float(into[2]) / float(square[2])


def behind(standard: Standard, carries: bool) -> float:
    """How far a zed's top stands behind the edge over it, mm."""
    return _IN_HEM if carries else standard.closure_back


def least_cover(standard: Standard, draws: float, over: float) -> float:
    """How wide a leg has to be at the least to cover zeds that have room for their feet behind its edge, mm, raised
    ``over`` mm; ``draws``: how much nearer its edge comes for each of these. 0 where it keeps its place."""
    room = standard.closure_back + standard.closure_top + _FOOT + _CLEAR
    return float(math.ceil(draws * over + room)) if draws else 0.0


def least_over_a_zed(standard: Standard) -> float:
    """How wide a rake's flange is at the least that covers a zed beside the barge board, mm."""
    return standard.closure_foot + standard.closure_top


def strip_behind(end: float, standard: Standard, carries: bool = False) -> ZedStrip:
    """The strip that a zed takes behind the edge of the leg over it, mm, which ends there; ``carries``: that edge lies
    on the zed's top or hooks on it, beside a wall or a board that the foot keeps clear of."""
    height = end - behind(standard, carries) - standard.closure_top
    if carries:
        height = max(height, standard.closure_foot)
    top = height + standard.closure_top
    room = math.floor(height - _CLEAR)  # steep, and high seams: their cap ends near its edge
    foot = standard.closure_foot if carries or room < _FOOT - 1.0 else min(standard.closure_foot, room)
    return ZedStrip(height - foot, height, top, foot)


class VentPlace(NamedTuple):
    """Where an eave's vent strip lies, mm: behind a ``board`` of that thickness that reaches ``fascia`` below the eave,
    with a ``face`` of that width."""

    board: float
    fascia: float
    face: float


class StripPlace(NamedTuple):
    """Where the strips that go with a trim end, mm: ``zeds`` on each of its faces; panels end ``valley`` from a
    valley's fold; a rake's cleat reaches ``rake`` below its edge; an upstand is ``upstand`` high, an eave's cleat stays
    ``set_back`` from the panels' fold; ``shop``: of which faces the pans are made here, their locks all to the right as
    seen from below; ``lift``: how far the trim lies off its line, out and up; ``beside_rake``: so far from a rake zeds
    end that would go through what lies there: its own zed, or, where they stand higher than the seams, its flange;
    ``beside_wall``: so far from a wall along the fall, whose flange has a zed of its own;
    ``foot``: how wide the house has a zed's; ``kick``: how wide a counterflashing's is; an eave's apron comes down
    ``apron`` over the fascia; ``vent``: where its vent strip lies."""

    zeds: tuple[ZedStrip, ...]
    valley: float
    rake: float
    upstand: float
    set_back: float
    shop: tuple[bool, ...]
    lift: tuple[float, float]
    beside_rake: float
    beside_wall: float
    foot: float
    kick: float
    apron: float
    vent: VentPlace
