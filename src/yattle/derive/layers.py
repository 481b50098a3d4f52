"""What comes with a run's own trim: the strips beneath and above it, each a run of its own.

A rake has its cleat or zed, a wall flashing its counterflashing, whatever covers seams the closures between them,
a hip's receiver its twin. Which of them there are is said by the schools chosen.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from typing import Literal

import numpy as np

from yattle.derive.corners import Array, run_frame
from yattle.derive.counter_ends import LEAST_STRIP, before_a_counter, between_rakes
from yattle.derive.family import family_of, on_deck
from yattle.derive.gaps import LEAST_GAP, NO_GAP, along_seams, clear_gaps
from yattle.derive.hems import FIRMLY_HEMMED, hemmed_along
from yattle.derive.pans import core_of
from yattle.derive.raised import built_up, cut_raised, raised
from yattle.derive.roof_runs import RoofRun
from yattle.derive.vent_strips import behind_the_board
from yattle.derive.zeds import (
    COVERING,
    StripPlace,
    VentPlace,
    least_cover,
    least_over_a_zed,
    over_plumb,
    strip_behind,
    wing_end,
)
from yattle.details import standard_for
from yattle.details.all import FAMILIES
from yattle.details.schools import USUAL, Schools
from yattle.details.walls import zed_high
from yattle.job.model import Job, Run
from yattle.roof import Edge, Roof, RoofPlan, build
from yattle.roof.at_edge import sides
from yattle.roof.edges import WALLS
from yattle.roof.panels import PanelRule
from yattle.roof.plane import compass

_CAPPED = ("ridge-cap", "half-ridge", "hip-cap", "headwall", "skew-wall", "pitch-break")
_COUNTERS = {"kerf": "counterflashing", "surface": "counter-surface"}
_COUNTER = {"wall-out": "wrap", "wall-in": "wrap-in"}
_FOOT_PAST = 60.0  # mm that a zed's foot may go on past its top, under a roof that comes down over its end
_PLUMB = 0.01  # of an upright plane's normal
_PEAK_ROOM = 12.0  # mm below a rake's kick: its cleat's lip
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
    standard = standard_for(job.system, job.own, found.run.own)
    carried = detail == "sidewall" and carried_by(found.run, standard.wall_flange) == "zed"
    hooks = found.edge.kind == "eave" and rules[0].hooked and rules[0].hem > 0 and hemmed_along(
        build(job.roof), found.edge, rules[0], standard, core_of(job.panel_system(found.edge.facets[0]))
    ) > min(FIRMLY_HEMMED, found.edge.length - 1.0)
    return _layers(job.roof, found.run, found.edge, detail, schools_of(found.run, job.schools), rules, carried,
                   closure_strip(job, found, detail), hooks)


def closure_strip(job: Job, found: RoofRun, detail: str) -> StripPlace:
    """What decides where the strips that go with a run's trim end: zeds stand back from the edge of the leg that covers
    them."""
    standard = standard_for(job.system, job.own, found.run.own)
    wide = max((getattr(standard, entry) for field, entry in FAMILIES[detail].entries.items() if field in COVERING),
               default=0.0) + found.run.beyond[1] if detail in FAMILIES else 0.0
    systems = (job.panel_system(face) for face in found.edge.facets)
    shop = tuple(system is not None and system.made == "shop" for system in systems)
    vent = standard.vent if _is_vented(found.run, schools_of(found.run, job.schools)) else 0.0
    wide = max(wide, least_cover(standard, found.run.draws, found.run.over + vent))
    under = schools_of(found.run, job.schools)
    if detail == "rake" and under.rake_under == "zed":
        wide = max(wide, least_over_a_zed(standard))
    lift, roof = _lift_of(job, found, standard.vent), build(job.roof)
    ends = (wing_end(roof, found.edge, face, wide, lift) + (
        over_plumb(roof, found.edge, face, built_up(job, face).flat) if any(lift) else 0.0)
        for face in found.edge.facets)
    beside = max(standard.rake_flange if _is_vented(found.run, under) or found.run.packed else 0.0,
                 standard.closure_foot + standard.closure_top if under.rake_under == "zed" else 0.0)
    return StripPlace(tuple(strip_behind(end, standard, detail == "sidewall") for end in ends),
                      standard.valley_open / 2, standard.rake_face + standard.rake_kick,
                      zed_high(standard.zed_base, standard.zed_step, standard.zed_cover) if detail == "wall-zed"
                      else standard.upstand,
                      standard.eave_set_back, shop, lift, beside, standard.wall_flange, standard.closure_foot,
                      standard.counter_kick, standard.apron_face,
                      VentPlace(standard.board, standard.fascia_face, standard.vent_face))


def _is_vented(run: Run, under: Schools) -> bool:
    return run.kind == "ridge" and under.ridge == "vented"


def _lift_of(job: Job, found: RoofRun, vent: float) -> tuple[float, float]:
    """How far a run's trim lies off its line; a vented ridge lies ``vent`` mm higher."""
    flats = {face: built_up(job, face).flat for face in found.edge.facets}
    family = family_of(found.run)
    if not found.run.over or (family is not None and on_deck(family)):
        return 0.0, 0.0
    over = found.run.over + (vent if _is_vented(found.run, schools_of(found.run, job.schools)) else 0.0)
    out, up = raised(build(job.roof), found.edge, flats, over).tolist()
    return float(out), float(up)


@lru_cache(maxsize=4096)
def _layers(plan: RoofPlan, run: Run, edge: Edge, detail: str, schools: Schools,
            rules: tuple[PanelRule, ...], carried: bool, under: StripPlace, hooks: bool) -> tuple[Run, ...]:
    made = []
    plain = run.but(taped=None, left="plain", right="plain", layer="layer", corner_cuts=())
    square = plain.but(left_plane=None, right_plane=None, left_plane_b=None, right_plane_b=None,
                       reaches=(0.0, 0.0, 0.0, 0.0))
    if detail == "rake" and schools.rake_under != "none":
        beneath = {"cleat": "cleat", "zed": "closure"}[schools.rake_under or "cleat"]
        seen = square.but(turned=not run.turned)  # from behind: a cleat's lip turns out, a zed's paint looks in
        strip = _within_its_ends(seen, run, under.rake) if beneath == "cleat" else seen
        if strip is not None:
            made.append(strip.but(id=f"{run.id}.k", layer=schools.rake_under or "", detail=beneath))
    if detail == "eave-apron":
        strip = _within_its_ends(square.but(turned=not run.turned), run, under.apron)
        if strip is not None:
            made.append(strip.but(id=f"{run.id}.k", layer="cleat", detail="apron-cleat"))
    if run.kind == "eave" and schools.eave_vent == "vented":
        strip = _cut_with(run, plain, square, under.lift, -under.vent.board, -under.vent.fascia).but(
            layer="vent-strip", detail="eave-vent")
        made += (one.but(id=f"{run.id}.v{n or ''}") for n, one in enumerate(
            behind_the_board(build(plan), edge, strip, under.vent)))
    if hooks:
        turn = math.radians(run.pitch)
        beyond = max(rules[0].overhang - under.set_back, 0.0)  # where its fold, by which its ends are told, lies
        made.append(_cut_with(run, plain, square, under.lift, beyond * math.cos(turn), -beyond * math.sin(turn)).but(
            id=f"{run.id}.h", layer="eave-cleat", detail="eave-cleat", hooked=max(rules[0].overhang, 0.0)))
    if carried:
        zed = _cut_with(run, plain, square, under.lift, under.zeds[0].height, under.lift[1])
        upward = run_frame(build(plan), edge)[2][:, 2]
        made.append(_square_under(zed, under.zeds[0].high - under.zeds[0].height, upward).but(
            id=f"{run.id}.k", layer="zed", detail="closure"))
    if run.kind in WALLS and schools.counter in _COUNTERS:
        counter = _cut_with(run, plain, square, under.lift, 0.0, under.lift[1] + under.upstand).but(
            id=f"{run.id}.c", layer="counterflashing", detail=_COUNTERS[schools.counter],
            left=_COUNTER.get(run.left, "plain"), right=_COUNTER.get(run.right, "plain"))
        if counter.length + counter.reaches[0] + counter.reaches[2] > LEAST_STRIP:
            made += between_rakes(build(plan), edge, before_a_counter(build(plan), edge, counter, under), under)
    if detail == "hip-receiver":
        made.append(_twin(plain))
    if detail in _CAPPED and schools.closures != "folded":
        made += _closures(build(plan), square, edge, schools, rules, under)
    return tuple(made)


def carried_by(run: Run, flange: float) -> Literal["", "zed", "seam"]:
    """What the outer edge of a sidewall's ``flange`` (mm) lies on: the first seam where it reaches that, else a zed on
    the pan; nothing where no seam runs along the wall."""
    if run.kind != "sidewall" or run.first_seam is None:
        return ""
    return "seam" if run.first_seam <= flange - _PAST_SEAM else "zed"


def _within_its_ends(square: Run, run: Run, deep: float) -> Run | None:
    """A square strip ``deep`` mm below a rake's edge, as much shorter at each end as keeps it on its own side of what
    cuts the rake there: the other rake at a peak, a wall, a face that its foot comes out over. Told as reaches, mm;
    ``None`` where nothing is left that holds the rake."""
    short = [0.0, 0.0]
    for n, (plane, reach) in enumerate(((run.left_plane_b or run.left_plane, run.reaches[1]),
                                        (run.right_plane_b or run.right_plane, run.reaches[3]))):
        if plane is not None:
            aside = plane[2] / plane[0] * (deep + _PEAK_ROOM)  # the plane leans: that deep it is so far along
            short[n] = max((aside if n == 0 else -aside) - reach, 0.0)
    if not any(short):
        return square
    if run.length - sum(short) < LEAST_STRIP:
        return None
    return square.but(length=run.length - sum(short), reaches=(-short[0], -short[0], -short[1], -short[1]))


def _cut_with(run: Run, plain: Run, square: Run, lift: tuple[float, float], out: float, up: float) -> Run:
    """A strip beside the line of a wall or an eave, so many mm ``out`` and ``up`` from it, whose trim lies ``lift`` off
    it, cut at the planes that cut its trim; square where none does."""
    if run.kind not in ("sidewall", "headwall", "eave") or (run.left_plane is None and run.right_plane is None):
        return square
    left, _, right, _ = run.reaches
    one = plain.but(left_plane_b=None, right_plane_b=None, reaches=(left, left, right, right),
                    corner_cuts=run.corner_cuts)
    return cut_raised(one, np.array([out, up]) - np.array(lift))


def _square_under(zed: Run, top: float, upward: Array) -> Run:
    """A zed whose top goes ``top`` mm out: where a roof comes down so shallow over its end that its foot would go on
    far past its trim, it ends square there, where its top does; not at a peak, which is cut plumb. ``upward``: plumb,
    as the run sees it."""
    at_top = cut_raised(zed, np.array([top, 0.0])).reaches
    planes, reaches = [zed.left_plane, zed.right_plane], list(zed.reaches)
    for n, plane in enumerate(planes):
        if plane is not None and abs(plane[2] / plane[0]) * zed.over > _FOOT_PAST and (
                abs(float(upward @ np.array(plane))) > _PLUMB):
            planes[n] = (1.0, 0.0, 0.0)
            reaches[2 * n:2 * n + 2] = [min(zed.reaches[2 * n], at_top[2 * n])] * 2
    return zed.but(left_plane=planes[0], right_plane=planes[1], reaches=tuple(reaches))


def _twin(run: Run) -> Run:
    """The receiver on the other face: seen from its own side left is right and out is in."""
    def seen(plane: tuple[float, float, float] | None) -> tuple[float, float, float] | None:
        return None if plane is None else (-plane[0], -plane[1], plane[2])
    return run.but(id=f"{run.id}.r", layer="twin", detail="hip-receiver", lean=(run.fold or 0.0) - (run.lean or 0.0),
                   left_plane=seen(run.right_plane_b), right_plane=seen(run.left_plane_b), left_plane_b=None,
                   right_plane_b=None, reaches=(run.reaches[3], run.reaches[3], run.reaches[1], run.reaches[1]),
                   turned=not run.turned)


def _closures(roof: Roof, run: Run, edge: Edge, schools: Schools, rules: tuple[PanelRule, ...],
              under: StripPlace) -> Iterator[Run]:
    """Closures on each face that ends at the edge, those of one clear width counted together."""
    end = "tab" if schools.closures == "tabs" else "plain"
    for n, name, rule, clear in _closed(roof, edge, rules, under):
        gaps = Counter(gap for gap in clear if gap > LEAST_GAP)
        if gaps:
            plane = along_seams(roof, edge, name)
            ends = end if plane is None else "plain"
            foot = under.zeds[edge.facets.index(name)].foot
            narrow = run.own.but(closure_foot=foot) if foot < under.foot else run.own
            yield run.but(own=narrow, id=f"{run.id}.z{n}", layer="closure", name=f"closures, {_side(roof, name)} side",
                          detail="closure", over=rule.height, on_face=name, gaps=tuple(gaps.most_common()),
                          slope=0.0, left=ends, right=ends, left_plane=plane, right_plane=plane)


def _closed(roof: Roof, edge: Edge, rules: tuple[PanelRule, ...],
            under: StripPlace) -> Iterator[tuple[int, str, PanelRule, tuple[float, ...]]]:
    """The faces that zeds close under an edge's trim, numbered from 1, with their clear gaps to 0.1 mm; strips cut to
    the profile are ordered, not folded, and on flat locks the trim's own tape closes."""
    faces = list(zip(edge.facets, rules, strict=True))
    if edge.kind == "pitch-break":
        faces = [face for face in faces if face[0] == sides(roof, edge)[1]]  # between the lower face's seams
    for n, (name, rule) in enumerate(faces, 1):
        if rule.fill == "zed":
            yield n, name, rule, tuple(round(gap, 1) for _, gap in clear_gaps(roof, edge, name, rule, under))


def narrow_gaps(job: Job, found: RoofRun, detail: str) -> tuple[tuple[str, float], ...]:
    """Gaps under a run's trim that are too narrow for a zed, as (face, mm): they are left to the caulk."""
    if detail not in _CAPPED or schools_of(found.run, job.schools).closures == "folded":
        return ()
    rules = tuple(job.panel_rule(name) for name in found.edge.facets)
    return tuple((name, gap) for _, name, _, clear in _closed(
        build(job.roof), found.edge, rules, closure_strip(job, found, detail))
                 for gap in clear if NO_GAP < gap <= LEAST_GAP)


def _side(roof: Roof, face: str) -> str:
    """To which side a face falls, in words."""
    fall = roof.facet(face).plane.fall
    return "flat" if fall is None else compass(fall)
