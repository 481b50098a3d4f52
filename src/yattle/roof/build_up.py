"""The heights of what a face is made of, from below, added up once: everybody asks here."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.roof.structure import Structure


@dataclass(frozen=True)
class BuildLayer:
    """A layer, ``thick`` mm; ``top``: how high its upper side lies over the underside of the lowest one, mm."""

    name: str
    thick: float
    top: float


@dataclass(frozen=True)
class BuildUp:
    """The layers of a face from below, mm. ``flat``: where the panels' flats lie, ``seams``: the tops of their seams or
    ribs, both over the deck or the supports they are fixed to."""

    layers: tuple[BuildLayer, ...]
    flat: float
    seams: float


def build_up(structure: Structure, thick: float, high: float, core: float = 0.0) -> BuildUp:
    """What a face is made of: ``thick`` a panel's sheet, ``high`` its seams or ribs over the flat, ``core`` of a
    sandwich. In mm."""
    parts: list[tuple[str, float]] = []
    if structure.kind == "deck":
        parts.append(("deck", structure.thickness))
    if structure.old_roof:
        parts.append(("old roof", structure.old_roof))
    if structure.kind == "supports":
        parts.append(("supports", structure.thickness))
    bears = sum(size for _, size in parts[:1 if structure.kind == "deck" else None])
    parts += [("underlay", structure.underlay), ("core", core), ("panel", thick), ("seams", high)]
    at, layers = 0.0, list[BuildLayer]()
    for name, size in parts:
        if size > 0:
            at += size
            layers.append(BuildLayer(name, size, at))
    flat = at - high - bears
    return BuildUp(tuple(layers), flat, flat + high)
