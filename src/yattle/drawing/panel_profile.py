"""A module of a panel system, seen from the eave: its profile, what it covers, how high it is, the clear width."""

from __future__ import annotations

from yattle.drawing.shapes import Dim, Drawing, Label, Line, Ring, Shape
from yattle.measure import UNITS, Unit, say_length
from yattle.panels import PanelSystem, derive_profile
from yattle.roof.build_up import build_up
from yattle.roof.structure import Structure


def panel_profile_drawing(system: PanelSystem, unit: Unit = UNITS["mm"], structure: Structure | None = None) -> Drawing:
    """The module with its neighbours' beginnings faint, and its figures where they are; with a ``structure`` what it
    lies on, layer by layer. Places in mm."""
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
    shapes.append(Dim((system.under, low), (system.over, low), say_length(read.coverage, unit),
                      (0.0, -1.8 if structure is None else -3.4)))
    shapes.append(Dim((system.over, low), (system.over, high), say_length(read.height, unit), (1.0, 0.0)))
    left = system.under + system.seam / 2 if not read.ribs else read.ribs[0].at - read.rib_pitch + read.ribs[0].foot / 2
    shapes.append(Dim((left, high), (left + read.clear, high), f"clear {say_length(read.clear, unit)}", (0.0, 1.0)))
    for rib in read.ribs:
        shapes.append(Label((rib.at, low + rib.height), say_length(rib.top, unit), (0.0, 1.0)))
    if structure is not None:
        shapes += _beneath(system, structure, low - system.core, unit)
    return Drawing(tuple(shapes), (system.name,))


def _beneath(system: PanelSystem, structure: Structure, low: float, unit: Unit) -> list[Shape]:
    """The layers under a module as plates, each with its name and thickness at its left; thin ones drawn thick enough
    to be seen."""
    read = derive_profile(system)
    x0, x1 = system.under - 0.16 * read.coverage, system.over + 0.16 * read.coverage
    least, shapes, top = 0.012 * read.coverage, list[Shape](), low - 0.004 * read.coverage
    name = low + 0.05 * read.coverage  # the names stand one beneath the other, whatever the layers measure
    built = build_up(structure, system.thickness, read.height, system.core)
    for layer in reversed([one for one in built.layers if one.name in ("deck", "old roof", "supports", "underlay")]):
        foot = top - max(layer.thick, least)
        ring = ((x0, foot), (x1, foot), (x1, top), (x0, top))
        shapes += [Ring(ring, "waste" if layer.name == "old roof" else "around"), Line((*ring, ring[0]), "dim")]
        every = f", every {say_length(structure.spacing, unit)}" if layer.name == "supports" else ""
        said = f"{layer.name} {say_length(layer.thick, unit)}{every}"
        aside, line = (x0 - 0.04 * read.coverage, name), (x0, (top + foot) / 2)
        shapes += [Label(aside, said, (-1.0, 0.0)), Line((line, aside), "dim")]
        top, name = foot, name - 0.065 * read.coverage
    return shapes
