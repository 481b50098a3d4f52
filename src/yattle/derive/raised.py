"""How high over the roof's planes a trim lies: on panels, on seams and closures, or on the deck itself."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

import numpy as np

from yattle.derive.corners import Array, beside_edge, run_frame
from yattle.job.model import Job, Run
from yattle.roof import Edge, Roof
from yattle.roof.at_edge import sides
from yattle.roof.build_up import BuildUp, build_up

ON_PANELS = ("ridge", "hip", "half-ridge", "headwall", "sidewall", "skew-wall", "rake")
"""Kinds of edges whose trims lie on the panels; others lie on the deck."""
_PARALLEL = 1e-3  # sine of the angle between two faces: with less they meet nowhere near
_LEAST_FOLD = 5.0  # degrees: a pitch break that folds less is drawn at its edge: it has to be dressed over the step


@lru_cache(maxsize=512)
def built_up(job: Job, face: str) -> BuildUp:
    """What a face is made of, added up; heights in mm."""
    system, rule = job.panel_system(face), job.panel_rule(face)
    return build_up(job.structure_of(face), system.thickness if system else job.thickness, rule.height,
                    system.core if system else 0.0)


def raised(roof: Roof, edge: Edge, flats: Mapping[str, float], over: float) -> Array:
    """How far a trim's section is raised from the roof's planes to what it lies on, as (out, up), mm: ``flats`` of its
    faces over their planes, and ``over`` these. Across a crease it keeps to both planes; against a wall or a board it
    slides up along that. A pitch break lies on the upper face's deck and on the lower one's panels."""
    broken = edge.kind == "pitch-break" and edge.fold is not None and edge.fold > _LEAST_FOLD
    if edge.kind not in ON_PANELS and not broken:
        return np.zeros(2)
    upper = sides(roof, edge)[0] if broken else ""
    return met(roof, edge, {face: 0.0 if face == upper else flats[face] + over for face in edge.facets})


def met(roof: Roof, edge: Edge, heights: Mapping[str, float]) -> Array:
    """Where planes so many mm over the faces at an edge meet, as (out, up) from it, mm; over one face, or faces that
    are parallel there, straight up."""
    _, _, (_, out, up) = run_frame(roof, edge)
    normals = [np.array(roof.facet(face).plane.normal) for face in heights]
    rows = np.array([[float(normal @ out), float(normal @ up)] for normal in normals])
    high = np.array(list(heights.values()))
    if len(rows) == 2 and abs(np.linalg.det(rows)) > _PARALLEL:
        return np.asarray(np.linalg.solve(rows, high))
    return np.array([0.0, float(max(high) / rows[0][1])])


def past_edge(roof: Roof, edge: Edge, face: str, by: Array) -> float:
    """How far the fold of a trim raised ``by`` (out, up) mm lies beyond its edge, along a face and away from it, mm;
    below 0 over that face."""
    _, _, (_, out, up) = run_frame(roof, edge)
    (_, into, _), _ = beside_edge(roof, edge, face)
    return -float((out * by[0] + up * by[1]) @ into)


def beyond_faces(roof: Roof, edge: Edge, flats: Mapping[str, float], over: float) -> tuple[float, float]:
    """How far the fold of a pitch break's trim lies beyond its upper and its lower face, mm; 0 where it is over one."""
    by = raised(roof, edge, flats, over)
    upper, lower = (max(past_edge(roof, edge, face, by), 0.0) for face in sides(roof, edge))
    return upper, lower


def cut_raised(run: Run, by: Array) -> Run:
    """A run whose section lies ``by`` (out, up) mm off its line, its ends at the same planes: what lies higher meets a
    slanting plane later or sooner."""
    reaches = list(run.reaches)
    planes = (run.left_plane, run.left_plane_b or run.left_plane, run.right_plane, run.right_plane_b or run.right_plane)
    for n, plane in enumerate(planes):
        if plane is not None:
            aside = float(plane[1] * by[0] + plane[2] * by[1]) / plane[0]
            reaches[n] += aside if n < 2 else -aside
    corners = tuple(cut.but(reach=cut.reach + (1.0 if cut.end == "left" else -1.0) * float(
        cut.plane[1] * by[0] + cut.plane[2] * by[1]) / cut.plane[0]) for cut in run.corner_cuts)
    same = tuple(reaches) == run.reaches and corners == run.corner_cuts
    return run if same else run.but(reaches=tuple(reaches), corner_cuts=corners)
