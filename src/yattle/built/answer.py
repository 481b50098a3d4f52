"""``yattle-built/1``: every item of the roof in space, so that others can look and check."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from yattle.built.frames import built_up, face_axes
from yattle.built.placed import PlacedPiece, WithoutPlace, places_of
from yattle.derive.derived import Derived
from yattle.roof import Facet
from yattle.roof.panel_edges import FOOT, HEAD, sides_of
from yattle.roof.panels import Panel

Answer = dict[str, Any]
UNCHECKED = "not held against their neighbours yet: bears, clash, cover, hook, open, water, sealant, goes in"
"""What is said as long as the rows of the check are not worked out."""


def built_answer(derived: Derived) -> Answer:
    """Places of all pieces, panels and decks. Places in mm, in the roof's coordinates. It is not ``ok`` as long as
    nothing has been held against its neighbours, and says so."""
    pieces, missing = places_of(derived)
    findings = [{"row": "place", "says": f"{one.pattern} has no place: {one.why}"} for one in missing]
    findings.append({"row": "check", "says": UNCHECKED})
    return {"format": "yattle-built/1", "ok": False, "reasons": [_counted(missing), UNCHECKED],
            "pieces": [_piece(derived, piece) for piece in pieces],
            "panels": [_panel(derived, facet, panel, sides[panel.n]) for facet in derived.roof.facets
                       for sides in [sides_of(derived.roof, derived.panels[facet.id])]
                       for panel in derived.panels[facet.id].panels],
            "structure": [_deck(facet) for facet in derived.roof.facets],
            **{row: [] for row in ("contacts", "clashes", "covers", "hooks", "open", "water")}, "findings": findings}


def _counted(missing: list[WithoutPlace]) -> str:
    return f"{len(missing)} pieces have no place yet" if missing else "every piece has its place"


def _piece(derived: Derived, piece: PlacedPiece) -> Answer:
    many = next((pattern.qty for pattern in derived.patterns if pattern.id == piece.pattern), 1)
    name = piece.pattern if many == 1 else f"{piece.pattern}/{piece.copy}"
    return {"pattern": name, "base": list(piece.base), "place": piece.place.tolist(), "on": list(piece.on),
            "stage": piece.stage}


def _panel(derived: Derived, facet: Facet, panel: Panel, sides: tuple[str, ...]) -> Answer:
    """A panel's outline on its flats and its mesh: the flat, and its seams standing at both sides."""
    frame, high = face_axes(derived, facet), built_up(derived, facet.id)
    ring = [frame.at + frame.turn[:, :2] @ np.array(place) for place in panel.outline]
    flat = shapely.constrained_delaunay_triangles(shapely.Polygon(panel.outline))
    vertices, triangles = [point.tolist() for point in ring], list[list[int]]()
    known = {(round(x, 6), round(y, 6)): n for n, (x, y) in enumerate(panel.outline)}
    for triangle in shapely.get_parts(flat):
        triangles.append([known[round(x, 6), round(y, 6)] for x, y in triangle.exterior.coords[:3]])
    rise = frame.turn[:, 2] * (high.seams - high.flat)
    for n, side in enumerate(sides):
        if side.startswith("seam") and high.seams > high.flat:
            a, b, first = ring[n], ring[(n + 1) % len(ring)], len(vertices)
            vertices += [point.tolist() for point in (a, b, b + rise, a + rise)]
            triangles += [[first, first + 1, first + 2], [first, first + 2, first + 3]]
    part = "upper" if FOOT in sides else "lower" if HEAD in sides else "whole"
    return {"id": f"{facet.id}/{panel.n}", "face": facet.id, "part": part,
            "outline": [point.tolist() for point in ring], "vertices": vertices, "triangles": triangles}


def _deck(facet: Facet) -> Answer:
    """The plane that a face is built up from: its deck, or the top of its supports."""
    corners = [list(facet.plane.at((float(x), float(y)))) for x, y in facet.shape.exterior.coords[:-1]]
    known = {(round(x, 6), round(y, 6)): n for n, (x, y, _) in enumerate(corners)}
    parts = shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(facet.shape.exterior)))
    triangles = [[known[round(x, 6), round(y, 6)] for x, y in part.exterior.coords[:3]] for part in parts]
    return {"id": f"deck {facet.id}", "vertices": corners, "triangles": triangles}

