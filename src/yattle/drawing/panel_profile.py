"""A module of a panel system, seen from the eave: its profile, what it covers, how high it is, the clear width."""

from __future__ import annotations

from yattle.drawing.shapes import Dim, Drawing, Label, Line, Ring, Shape
from yattle.measure import UNITS, Unit, say_length
from yattle.panels import PanelSystem, derive_profile


def panel_profile_drawing(system: PanelSystem, unit: Unit = UNITS["mm"]) -> Drawing:
    """The module with its neighbours' beginnings faint, and its figures where they are. Places in mm."""
    read = derive_profile(system)
    low, high = min(y for _, y in system.profile), max(y for _, y in system.profile)
    shapes: list[Shape] = []
    for shift in (-read.coverage, read.coverage):
        near = [(x + shift, y) for x, y in system.profile if abs(x + shift - (system.under + system.over) / 2)
                < 0.72 * read.coverage]
        if len(near) > 1:
            shapes.append(Line(tuple(near), "dim"))
    if system.core:
        x0, x1 = system.under, system.over
        shapes.append(Ring(((x0, low - system.core), (x1, low - system.core), (x1, low), (x0, low)), "around"))
    shapes.append(Line(tuple(system.profile), "cut", width=system.thickness))
    shapes.append(Dim((system.under, low), (system.over, low), say_length(read.coverage, unit), (0.0, -1.8)))
    shapes.append(Dim((system.over, low), (system.over, high), say_length(read.height, unit), (1.0, 0.0)))
    left = system.under + system.seam / 2 if not read.ribs else read.ribs[0].at - read.rib_pitch + read.ribs[0].foot / 2
    shapes.append(Dim((left, high), (left + read.clear, high), f"clear {say_length(read.clear, unit)}", (0.0, 1.0)))
    for rib in read.ribs:
        shapes.append(Label((rib.at, low + rib.height), say_length(rib.top, unit), (0.0, 1.0)))
    return Drawing(tuple(shapes), (system.name,))
