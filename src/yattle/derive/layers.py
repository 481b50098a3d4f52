"""What comes with a run's own trim: the strips beneath and above it, each a run of its own.

A rake has its cleat or zed, a wall flashing its counterflashing, whatever covers seams the closures between them,
a hip's receiver its twin. Which of them there are is said by the schools chosen.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np

from yattle.derive.corners import run_frame
from yattle.derive.roof_runs import RoofRun
from yattle.details import standard_for
from yattle.details.schools import USUAL, Schools
from yattle.job.model import Job, Run
from yattle.roof import Edge, Roof, RoofPlan, build
from yattle.roof.at_edge import sides
from yattle.roof.drain import axes
from yattle.roof.edges import WALLS
from yattle.roof.panels import PanelRule, seams_of
from yattle.roof.plane import compass

_CAPPED = ("ridge-cap", "half-ridge", "hip-cap", "headwall", "skew-wall", "pitch-break")
_COUNTERS = {"kerf": "counterflashing", "surface": "counter-surface"}
_COUNTER = {"wall-out": "wrap", "wall-in": "wrap-in"}
_LEAST_GAP = 25.0  # mm: narrower gaps are left to the caulk
_NO_GAP = 1.0  # mm
_PAST_SEAM = 12.0  # mm: so far a flange goes on past the seam it lies on


@lru_cache(maxsize=1024)
def _in_force(own: Schools, job_schools: Schools) -> Schools:
    return own.over(job_schools).over(USUAL)


def schools_of(run: Run, job_schools: Schools) -> Schools:
    """The schools in force for a run: its own, the job's, the usual ones."""
    return _in_force(run.schools, job_schools)


def layers_of(job: Job, found: RoofRun, detail: str) -> tuple[Run, ...]:
    """The layers of one of the roof's runs whose detail is ``detail``."""
    rules = tuple(job.panel_rule(name) for name in found.edge.facets)
    flange = standard_for(job.system, job.own, found.run.own).wall_flange
    carried = detail == "sidewall" and carried_by(found.run, flange) == "zed"
    return _layers(job.roof, found.run, found.edge, detail, schools_of(found.run, job.schools), rules, carried)


@lru_cache(maxsize=4096)
def _layers(plan: RoofPlan, run: Run, edge: Edge, detail: str, schools: Schools,
            rules: tuple[PanelRule, ...], carried: bool) -> tuple[Run, ...]:
    made = []
    plain = run.but(taped=None, left="plain", right="plain", layer="layer")
    square = plain.but(left_plane=None, right_plane=None, left_plane_b=None, right_plane_b=None,
                       reaches=(0.0, 0.0, 0.0, 0.0))
    if detail == "rake" and schools.rake_under != "none":
        under = {"cleat": "cleat", "zed": "closure"}[schools.rake_under or "cleat"]
        made.append(square.but(id=f"{run.id}.k", layer=schools.rake_under or "", detail=under))
    if detail == "eave-apron":
        made.append(square.but(id=f"{run.id}.k", layer="cleat", detail="cleat"))
    if run.kind == "eave" and schools.eave_vent == "vented":
        made.append(square.but(id=f"{run.id}.v", layer="vent-strip", detail="eave-vent"))
    if run.kind == "eave" and rules[0].hooked and rules[0].hem > 0:
        made.append(square.but(id=f"{run.id}.h", layer="eave-cleat", detail="eave-cleat",
                               hooked=max(rules[0].overhang, 0.0)))
    if carried:
        made.append(square.but(id=f"{run.id}.k", layer="zed", detail="closure"))
    if run.kind in WALLS and schools.counter in _COUNTERS:
        made.append(square.but(id=f"{run.id}.c", layer="counterflashing", detail=_COUNTERS[schools.counter],
                               left=_COUNTER.get(run.left, "plain"), right=_COUNTER.get(run.right, "plain")))
    if detail == "hip-receiver":
        made.append(_twin(plain))
    if detail in _CAPPED and schools.closures != "folded":
        made += _closures(build(plan), square, edge, schools, rules)
    return tuple(made)


def carried_by(run: Run, flange: float) -> Literal["", "zed", "seam"]:
    """What the outer edge of a sidewall's ``flange`` (mm) lies on: the first seam where it reaches that, else a zed on
    the pan; nothing where no seam runs along the wall."""
    if run.kind != "sidewall" or run.first_seam is None:
        return ""
    return "seam" if run.first_seam <= flange - _PAST_SEAM else "zed"


def _twin(run: Run) -> Run:
    """The receiver on the other face: seen from its own side left is right and out is in."""
    def seen(plane: tuple[float, float, float] | None) -> tuple[float, float, float] | None:
        return None if plane is None else (-plane[0], -plane[1], plane[2])
    return run.but(id=f"{run.id}.r", layer="twin", detail="hip-receiver", lean=(run.fold or 0.0) - (run.lean or 0.0),
                   left_plane=seen(run.right_plane_b), right_plane=seen(run.left_plane_b), left_plane_b=None,
                   right_plane_b=None, reaches=(run.reaches[3], run.reaches[3], run.reaches[1], run.reaches[1]),
                   turned=not run.turned)


def _closures(roof: Roof, run: Run, edge: Edge, schools: Schools, rules: tuple[PanelRule, ...]) -> Iterator[Run]:
    """Closures on each face that ends at the edge, those of one clear width counted together."""
    end = "tab" if schools.closures == "tabs" else "plain"
    for n, name, rule, clear in _closed(roof, edge, rules):
        gaps = Counter(gap for gap in clear if gap > _LEAST_GAP)
        if gaps:
            plane = _along_seams(roof, edge, name)
            ends = end if plane is None else "plain"
            yield run.but(id=f"{run.id}.z{n}", layer="closure", name=f"closures, {_side(roof, name)} side",
                          detail="closure", over=rule.height, on_face=name, gaps=tuple(gaps.most_common()),
                          slope=0.0, left=ends, right=ends, left_plane=plane, right_plane=plane)


def _closed(roof: Roof, edge: Edge,
            rules: tuple[PanelRule, ...]) -> Iterator[tuple[int, str, PanelRule, tuple[float, ...]]]:
    """The faces that zeds close under an edge's trim, numbered from 1, with their clear gaps to 0.1 mm; strips cut to
    the profile are ordered, not folded, and on flat locks the trim's own tape closes."""
    faces = list(zip(edge.facets, rules, strict=True))
    if edge.kind == "pitch-break":
        faces = [face for face in faces if face[0] == sides(roof, edge)[1]]  # between the lower face's seams
    for n, (name, rule) in enumerate(faces, 1):
        if rule.fill == "zed":
            clear = _clear_gaps(seams_of(roof, name, rule).on(edge), edge.length, rule)
            yield n, name, rule, tuple(round(gap, 1) for gap in clear)


def narrow_gaps(job: Job, found: RoofRun, detail: str) -> tuple[tuple[str, float], ...]:
    """Gaps under a run's trim that are too narrow for a zed, as (face, mm): they are left to the caulk."""
    if detail not in _CAPPED or schools_of(found.run, job.schools).closures == "folded":
        return ()
    rules = tuple(job.panel_rule(name) for name in found.edge.facets)
    return tuple((name, gap) for _, name, _, clear in _closed(build(job.roof), found.edge, rules)
                 for gap in clear if _NO_GAP < gap <= _LEAST_GAP)


def _clear_gaps(seams: tuple[float, ...], length: float, rule: PanelRule) -> Iterator[float]:
    """The clear spaces along an edge, mm: between two seams less a seam's width, beside an end less half of one; a seam
    that the edge crosses slantwise takes as much more as the space between two does."""
    slant = (seams[1] - seams[0]) / rule.coverage if len(seams) > 1 else 1.0
    wide = rule.seam * max(slant, 1.0)
    for a, b in pairwise((0.0, *seams, length)):
        taken = (wide / 2 if a > 0 else 0.0) + (wide / 2 if b < length else 0.0)
        yield b - a - taken


def _side(roof: Roof, face: str) -> str:
    """To which side a face falls, in words."""
    fall = roof.facet(face).plane.fall
    return "flat" if fall is None else compass(fall)


def _along_seams(roof: Roof, edge: Edge, face: str) -> tuple[float, float, float] | None:
    """The upright plane along the seams of a face, as (along the edge, out, up); ``None`` where it is square to it."""
    across, _ = axes(roof.facet(face).plane)
    normal = run_frame(roof, edge)[2] @ np.array([across[0], across[1], 0.0])
    if abs(normal[0]) > 0.9999:
        return None
    return float(normal[0]), float(normal[1]), float(normal[2])
