"""Panels at their places: each as it is cut, its flat and its seams."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Literal

import numpy as np
import shapely

from yattle import overlay
from yattle.built.frames import built_up, face_axes
from yattle.cores import shared
from yattle.derive.cut_round import cut_round
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.frames import Frame
from yattle.derive.pan_clip import clear_line, kept_clear_on
from yattle.derive.pans import core_of, floors_on
from yattle.derive.shingles import shingles_of
from yattle.details import standard_for
from yattle.details.face_pans import FacePans, FaceShingles
from yattle.details.pipe import Pipe
from yattle.panels.profile import derive_profile
from yattle.pattern.surface import Array
from yattle.pattern.triangles import triangles_of
from yattle.roof import Facet
from yattle.roof.panel_edges import FOOT, HEAD, LEFT, RIGHT
from yattle.roof.panel_rule import Panel, through_flats
from yattle.roof.panels import PanelPlan, face_frame


@dataclass(frozen=True)
class LaidPanel:
    """A panel in the roof's coordinates, mm: ``ring`` its flat (n, 3), ``triangles`` of it, ``seams`` standing at its
    sides and ribs between them, each (4, 3); ``n``: its number; ``part``: of one that is lapped or split."""

    id: str
    n: int
    face: str
    part: Literal["upper", "lower", "whole"]
    ring: Array
    triangles: list[list[int]]
    seams: tuple[Array, ...]


def laid_panels(derived: Derived, faces: frozenset[str] | None = None) -> Iterator[LaidPanel]:
    """The panels of all faces, or of some, whoever makes them; in mm. What they are follows from the roof, how the face
    is laid and built up, and what stands in it; as long as these stay they are kept with the roof."""
    known = derived.roof.remembered
    asked = {_print(derived, facet): facet for facet in derived.roof.facets if faces is None or facet.id in faces}
    new = {key: facet for key, facet in asked.items() if key not in known}
    many = sum(len(derived.panels[facet.id].panels) for facet in new.values())
    found = shared([partial(_laid_on, derived, facet) for facet in new.values()], None if many > _MANY else False)
    known.update(zip(new, found, strict=True))
    for key in asked:
        yield from known[key]


def _print(derived: Derived, facet: Facet) -> tuple[object, ...]:
    """The same for faces whose panels are the same."""
    job, laid, high = derived.job, derived.panels[facet.id], built_up(derived, facet.id)
    return ("panels", facet.id, laid.rule, laid.panels, job.panel_system(facet.id), standard_for(job.system, job.own),
            high.flat, high.seams, cut_round(job, facet.id).wkb)


def _laid_on(derived: Derived, facet: Facet) -> tuple[LaidPanel, ...]:
    """The panels of one face, cut round what stands there."""
    return tuple(_panels_on(derived, facet, face_axes(derived, facet), cut_round(derived.job, facet.id)))


def _panels_on(derived: Derived, facet: Facet, frame: Frame, kept: shapely.Geometry) -> Iterator[LaidPanel]:
    job, laid, high = derived.job, derived.panels[facet.id], built_up(derived, facet.id)
    rise = frame.turn[:, 2] * (high.seams - high.flat)
    stands = high.seams > high.flat and shingles_of(job.panel_system(facet.id)) is None  # their locks lie flat
    system = job.panel_system(facet.id)
    floors = floors_on(derived.roof, laid, system, standard_for(job.system, job.own), kept)
    ribs, low = _inner_ribs(derived, facet), kept_clear_on(derived.roof, laid, core_of(system), kept).seams
    low = (*low, *_pipe_holes(derived, facet, high.seams - high.flat))
    for panel in laid.panels:
        edges = floors.get(panel.n)
        if not edges:  # held back from its edges as far as it reaches
            continue
        standing = [(a, b) for a, b, side in edges if side in (LEFT, RIGHT)]
        flat = [a for a, *_ in edges]
        standing += _ribs_on(flat, [_first_seam(panel, laid) + rib for rib in ribs])
        lines = [line for one in standing if stands for line in clear_line(*one, low)]
        ring = np.array([frame.at + frame.turn[:, :2] @ np.array(place) for place in flat])
        upright = [tuple(frame.at + frame.turn[:, :2] @ np.array(place) for place in line) for line in lines]
        sides = {side for *_, side in edges}
        part: Literal["upper", "lower", "whole"] = "upper" if FOOT in sides else "lower" if HEAD in sides else "whole"
        yield LaidPanel(f"{facet.id}/{panel.n}", panel.n, facet.id, part, ring,
                        [list(triangle) for triangle in triangles_of(flat)],
                        tuple(np.array([a, b, b + rise, a + rise]) for a, b in upright))


Place = tuple[float, float]
_MANY = 60  # panels: fewer are laid before a copy of the process has begun
_ON = 0.6  # mm: so near a side is a seam
_BESIDE = 20.0  # mm from a seam: nearer ribs are its own


def _pipe_holes(derived: Derived, facet: Facet, high: float) -> Iterator[shapely.Geometry]:
    """Where seams and ribs ``high`` mm over the flats are cut round the collars of pipes, in the face's coordinates."""
    frame, rule, stretch = face_frame(facet), derived.panels[facet.id].rule, facet.plane.stretch
    for opening in derived.openings:
        placed = next((one for one in derived.roof.openings if one.opening.id == opening.id), None)
        if placed is not None and placed.facets[0] == facet.id and isinstance(opening.form, Pipe):
            far = opening.form.bore * stretch + high * math.tan(math.radians(facet.plane.pitch))
            yield shapely.Point(through_flats(frame, rule, (placed.opening.x, placed.opening.y))).buffer(far)


def _inner_ribs(derived: Derived, facet: Facet) -> list[float]:
    """How far ribs that stand within a face's panels lie from the seam or rib at their left side, mm."""
    system = derived.job.panel_system(facet.id)
    if system is None:
        return []
    figures = derive_profile(system)
    ats = (rib.at - system.under for rib in figures.ribs)
    return [at for at in ats if _BESIDE < at < figures.coverage - _BESIDE]


def _first_seam(panel: Panel, laid: PanelPlan) -> float:
    """Where a panel's left side lies, mm across the face; of one that is cut there where it would."""
    whole = any(abs(seam - panel.left) < _ON for seam in laid.seams)
    return panel.left if whole else panel.right - laid.rule.coverage


def _ribs_on(flat: list[Place], ats: list[float]) -> list[tuple[Place, Place]]:
    """Lines up a panel's flat at places across the face, mm."""
    found = list[tuple[Place, Place]]()
    shape, low, high = shapely.Polygon(flat).buffer(0), min(t for _, t in flat), max(t for _, t in flat)
    for at in ats:
        for part in shapely.get_parts(overlay.intersection(shape, shapely.LineString([(at, low), (at, high)]))):
            if part.length > 1.0:
                (_, a), (_, b) = part.coords[0], part.coords[-1]
                found.append(((at, a), (at, b)))
    return found


def faces_of_pans(derived: Derived) -> set[str]:
    """The faces whose panels are pieces with places of their own."""
    return {one.id.removeprefix(f"{PANS} ") for one in derived.openings
            if isinstance(one.form, FacePans) and one.result is not None}


def shingles_of_faces(derived: Derived) -> frozenset[str]:
    """The patterns of shingles made in the shop: they are cut on the roof to what they meet there."""
    return frozenset(piece.pattern.id for one in derived.openings if isinstance(one.form, FaceShingles)
                     for piece in one.pieces)
