"""Every edge of the job's roof as a run: what it is called, how it ends, what was chosen for it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from yattle.derive.corners import lean_of, outward
from yattle.derive.end_cuts import LaidOver, end_cuts
from yattle.derive.family import family_of, on_deck
from yattle.derive.packed import packed
from yattle.derive.parted import parted, tape_of
from yattle.derive.raised import beyond_faces, built_up, cut_raised, raised
from yattle.derive.zeds import CLOSED, over_plumb, wing_end
from yattle.details.all import SQUARE
from yattle.details.common import RunEnd
from yattle.errors import InputError
from yattle.job.model import EdgeNote, Job, Run, RunName
from yattle.roof import LETTERS, Edge, Roof, RoofPlan, build
from yattle.roof.at_edge import comes_to, goes_past, sides
from yattle.roof.build import beside
from yattle.roof.edges import WALLS
from yattle.roof.measured import Taped, taken
from yattle.roof.panels import PanelRule, seams_of
from yattle.roof.plane import Point3, compass
from yattle.runs.split import LONGEST_RUN
from yattle.values import check

_NO_SEAM = 1.0  # mm: a seam that near to a wall is in it
_ALIKE = 0.01  # of a fall's direction: walls that differ by less are as square to it
_NOTED = ("name", "left", "right", "left_also", "right_also", "detail", "schools", "section", "mitre_left",
          "mitre_right", "tapers", "own")


@dataclass(frozen=True)
class RoofRun:
    """A run and the edge it stands for; ``place`` among the edges of one key."""

    run: Run
    edge: Edge
    place: int


@lru_cache(maxsize=16)
def roof_runs(job: Job) -> tuple[RoofRun, ...]:
    """All edges of the roof as runs, numbered by kind, past the ids that runs of their own have."""
    taped = tuple(t for t in job.taped if t.kind == "edge")
    faces = [facet.id for facet in build(job.roof).facets]
    rules = tuple(job.panel_rule(face) for face in faces)
    flats = tuple(built_up(job, face).flat if job.panel_system(face) is not None else 0.0 for face in faces)
    return _roof_runs(job.roof, job.edges, taped, tuple(run.id for run in job.runs), rules, job.run_names, flats)


@lru_cache(maxsize=64)
def _roof_runs(plan, notes, taped, used, rules, names, flats) -> tuple[RoofRun, ...]:  # type: ignore[no-untyped-def]
    said = {(t.of, int(t.field or 0)): t for t in taped}
    whole = {edge.id: edge.length for edge in build(plan).edges}
    known = {(n.key, n.place): n for n in notes}
    noted = tuple(_noted(found, known.get((found.edge.key, found.place)),
                    tape_of(found.edge, said.get((found.edge.key, found.place)), whole[found.edge.id]))
                  for found in _bare_runs(plan, used, tuple(
                 LaidOver(rule.overhang, flat + rule.height) for rule, flat in zip(rules, flats, strict=True)), names))
    roof = build(plan)
    by_face = {facet.id: rule for facet, rule in zip(roof.facets, rules, strict=True)}
    heights = {facet.id: flat for facet, flat in zip(roof.facets, flats, strict=True)}
    more = packed(roof, {found.run.id: found.edge for found in noted},
                  {found.run.id: max(by_face[face].height for face in found.edge.facets) for found in noted},
                  lambda edge, over: float(raised(roof, edge, heights, over)[1]))
    return tuple(_on_panels(roof, found, by_face, heights, more.get(found.run.id, 0.0)) for found in noted)


def _on_panels(roof: Roof, found: RoofRun, rules: Mapping[str, PanelRule], flats: Mapping[str, float],
               more: float) -> RoofRun:
    """A run with what the panels beneath it say: how high they stand, where along a wall their first seam runs; its
    ends cut where it lies on them; a cap packed up by so many mm ``more``."""
    says: dict[str, object] = {}
    high = max(rules[face].height for face in found.edge.facets)
    if high:
        says["over"] = high = high + more
    if more:
        says["packed"] = more
    if high and found.edge.kind in CLOSED and any(rules[face].fill == "zed" for face in found.edge.facets):
        says["draws"] = _draws(roof, found.edge, flats, high)
    if high and found.edge.kind == "pitch-break":
        says["beyond"] = beyond_faces(roof, found.edge, flats, high)
    face = found.edge.facets[0]
    if found.edge.kind == "sidewall" and rules[face].fill == "zed":
        says["first_seam"] = _first_seam(roof, found.edge, face, rules[face])
    run = found.run.but(**says) if says else found.run
    family = family_of(run)
    if high and (run.left_plane or run.right_plane) and not (family is not None and on_deck(family)):
        run = cut_raised(run, raised(roof, found.edge, flats, high))
    return found if run is found.run else replace(found, run=run)


def _draws(roof: Roof, edge: Edge, flats: Mapping[str, float], over: float) -> float:
    """By how much the edges of a trim's legs come nearer to its line on its faces, for each mm that they are raised."""
    out, up = raised(roof, edge, flats, over).tolist()
    ends = (wing_end(roof, edge, face, 0.0, (out, up)) + over_plumb(roof, edge, face, flats[face])
            for face in edge.facets)
    return max(-min(ends) / over, 0.0)


def _first_seam(roof: Roof, edge: Edge, face: str, rule: PanelRule) -> float:
    """How far from an edge along the fall the nearest seam runs on its face, mm; where there is none, the face's
    width."""
    seams = seams_of(roof, face, rule)
    at, inside = seams.frame.at(edge.a[:2])[0], seams.frame.at(beside(roof, edge))[0]
    way = 1.0 if inside > at else -1.0
    return min((way * (place - at) for place in seams.places if way * (place - at) > _NO_SEAM),
               default=seams.frame.width)


def _noted(found: RoofRun, note: EdgeNote | None, taped: Taped | None) -> RoofRun:
    """A run with what the job says of its edge; most edges have nothing said of them."""
    if note is None and taped is None:
        return found
    changes: dict[str, object] = {} if taped is None else {"taped": taped.value, "taped_by": taped.by}
    if note is not None:
        given = {name: getattr(note, name) for name in _NOTED}
        changes |= {name: value for name, value in given.items() if value is not None}
    return RoofRun(found.run.but(**changes), found.edge, found.place)


@lru_cache(maxsize=16)
def _bare_runs(plan: RoofPlan, used: tuple[str, ...], panels: tuple[LaidOver, ...],
               names: tuple[RunName, ...]) -> tuple[RoofRun, ...]:
    """Every edge as a run of which nothing was said: what the roof alone gives, and how the panels of each of its
    faces lie. Edges that are on paper keep the ``names`` they have there, and no other gets one."""
    roof = build(plan)
    laid = {facet.id: over for facet, over in zip(roof.facets, panels, strict=True)}
    kept = {(name.key, name.place): name.id for name in names if name.id not in used}
    ids = _ids({*used, *(name.id for name in names)})
    places: dict[str, int] = {}
    found = []
    for edge in (part for whole in roof.edges for part in parted(roof, whole)):
        place = places.get(edge.key, 0)
        places[edge.key] = place + 1
        if edge.length > LONGEST_RUN:
            raise InputError("roof", f"an edge of {edge.length:g} mm", f"edges of at most {LONGEST_RUN:g} mm")
        name = kept.get((edge.key, place)) or ids(edge)
        found.append(RoofRun(_in_bounds(roof, edge, name, laid), edge, place))
    return tuple(found)


def _ids(used: set[str]):  # type: ignore[no-untyped-def]
    count: dict[str, int] = {}

    def next_id(edge: Edge) -> str:
        letter = LETTERS[edge.kind]
        while True:
            count[letter] = count.get(letter, 0) + 1
            if f"{letter}{count[letter]}" not in used:
                return f"{letter}{count[letter]}"
    return next_id


def _in_bounds(roof: Roof, edge: Edge, run_id: str, panels: dict[str, LaidOver]) -> Run:
    """The edge as a run; raises :class:`InputError` where faces each within their bounds meet in an edge that is out of
    those of a run."""
    return check(lambda: _as_run(roof, edge, run_id, panels), f"roof.{run_id}")


def _as_run(roof: Roof, edge: Edge, run_id: str, panels: dict[str, LaidOver]) -> Run:
    first, *others = _pitched(roof, edge)
    cuts = end_cuts(roof, edge, panels)
    across, up = edge.b[0] - edge.a[0], edge.b[1] - edge.a[1]
    x, y = beside(roof, edge)
    turned = len(edge.facets) == 1 and across * (y - edge.a[1]) < up * (x - edge.a[0])  # the roof on the right
    left, right = (edge.a, edge.b) if turned == (edge.kind in WALLS) else (edge.b, edge.a)  # seen with edge A on top
    return Run(
        id=run_id, name=_name(roof, edge), kind=edge.kind, pitch=roof.facet(first).plane.pitch, slope=edge.slope,
        lower_pitch=roof.facet(others[0]).plane.pitch if edge.kind == "pitch-break" else None,
        fold=edge.fold, length=edge.length, left=_end(roof, edge, left, right), right=_end(roof, edge, right, left),
        at=(edge.a[0], edge.a[1]), bearing=math.degrees(math.atan2(up, across)), turned=turned,
        left_plane=cuts.left[0], left_plane_b=cuts.left[1], right_plane=cuts.right[0], right_plane_b=cuts.right[1],
        reaches=cuts.reaches, corner_cuts=cuts.corners, past=cuts.past, lean=lean_of(roof, edge))


def _pitched(roof: Roof, edge: Edge) -> tuple[str, ...]:
    """An edge's faces, the one whose pitch the run carries first: of a ridge that on the left, of a break the upper."""
    return sides(roof, edge) if edge.kind in ("ridge", "pitch-break") else edge.facets


def _end(roof: Roof, edge: Edge, at: Point3, other_end: Point3) -> RunEnd:
    """How a run ends by what meets it there; plain where nothing asks for more."""
    meets = [other for other in roof.ending_at(at) if other.id != edge.id]
    kinds = {e.kind for e in meets if set(e.facets) & set(edge.facets)}
    if edge.kind in ("eave", "half-ridge") and "rake" in kinds:
        return "wrap"
    if edge.kind == "ridge" and "rake" in kinds:
        return "cap"
    if edge.kind == "rake" and "eave" in kinds:
        return "tab"
    if edge.kind not in WALLS:
        return "plain"
    walls = [other for other in meets if other.kind in WALLS and other.facets == edge.facets]
    if any(_goes_round(roof, edge, other) for other in walls):
        return "wall-out" if goes_past(roof, edge, at, other_end) else "wall-in"
    if edge.kind == "headwall" and "rake" in kinds and (edge.fold or 0.0) <= SQUARE:
        return "turn-down"
    return "kick-out" if edge.kind != "headwall" and "eave" in kinds and at[2] < other_end[2] else "plain"


def _goes_round(roof: Roof, edge: Edge, other: Edge) -> bool:
    """Whether of two walls that meet in a corner the flashing of ``edge`` goes round it: the one more square to the
    fall, of two alike the lower one."""
    straight = [abs(comes_to(roof, one, one.facets[0])) for one in (edge, other)]
    if abs(straight[0] - straight[1]) > _ALIKE:
        return straight[0] > straight[1]
    return (edge.a[2] + edge.b[2], edge.id) < (other.a[2] + other.b[2], other.id)


def _name(roof: Roof, edge: Edge) -> str:
    blocks = list(dict.fromkeys(roof.facet(name).block for name in edge.facets))
    if edge.wall:
        return f"{blocks[0]} to {edge.wall}"
    if len(blocks) > 1:
        return " and ".join(blocks)
    fall = roof.facet(edge.facets[0]).plane.fall
    if edge.kind in ("eave", "rake", "half-ridge") and fall is not None:
        way = fall if edge.kind != "half-ridge" else (-fall[0], -fall[1])
        side = f"{blocks[0]} {compass(way)}"
        east, north, _ = outward(roof, edge)
        return f"{side}, {compass((east, north))} end" if edge.kind == "rake" else side
    return blocks[0]


def all_runs(job: Job) -> Iterator[Run]:
    """Runs of their own, then those of the roof."""
    yield from job.runs
    for found in roof_runs(job):
        yield found.run


def base_id(run_id: str) -> str:
    """The run that a layer belongs to (``R1`` of ``R1.z1``); a run's own id is itself."""
    return run_id.partition(".")[0]


def run_of(job: Job, run_id: str) -> Run:
    """The run of that id, of a layer the one it goes with; raises :class:`InputError` where there is none."""
    runs = list(all_runs(job))
    for run in runs:
        if run.id == base_id(run_id):
            return run
    raise InputError("run", repr(run_id), "one of " + ", ".join(run.id for run in runs))


def with_run(job: Job, run_id: str, **changes: object) -> Job:
    """The job with one run changed. Of the roof's runs the pitch changes the block, the taped length is kept with the
    measures, and the length is the roof's own."""
    run_id = base_id(run_id)
    mine = next((run for run in job.runs if run.id == run_id), None)
    if mine is not None:
        return job.but(runs=tuple(run.but(**changes) if run.id == run_id else run for run in job.runs))
    found = next((r for r in roof_runs(job) if r.run.id == run_id), None)
    if found is None:
        run_of(job, run_id)
    assert found is not None
    run_of(job, run_id).but(**{k: v for k, v in changes.items() if v is not None})  # says what is wrong with a value
    return _with_roof_run(job, found, dict(changes))


def _with_roof_run(job: Job, found: RoofRun, changes: dict[str, object]) -> Job:
    edge, place = found.edge, found.place
    if "length" in changes:
        raise InputError("length", f"{changes['length']:g} mm typed into an edge of the roof",
                         "the blocks' measures to be changed, or the taped length to be entered")
    if "pitch" in changes:
        job = _with_pitch(job, edge, float(changes.pop("pitch")))  # type: ignore[arg-type]
    if "taped" in changes:
        value, by = changes.pop("taped"), changes.pop("taped_by", "tape")
        taped = None if value is None else taken("edge", edge.key, str(place), float(value), str(by))  # type: ignore[arg-type]
        job = job.with_taped(taped, "edge", edge.key, str(place))
    return job.with_note(job.note(edge.key, place).but(**changes)) if changes else job


def with_fold_taped(job: Job, run_id: str, value: float | None) -> Job:
    """The job with the fold of a roof's edge as an angle finder found it, degrees; ``None`` takes it out. Raises
    :class:`InputError` where the run lies on no such edge."""
    found = next((r for r in roof_runs(job) if r.run.id == run_id and r.edge.fold is not None), None)
    if found is None:
        raise InputError("fold", repr(run_id), "an edge of the roof between two planes")
    place = str(found.place)
    taped = None if value is None else taken("fold", found.edge.key, place, value)
    return job.with_taped(taped, "fold", found.edge.key, place)


def _with_pitch(job: Job, edge: Edge, pitch: float) -> Job:
    """The pitch that the edge's run carries, where it was entered: in its face's block."""
    roof = build(job.roof)
    facet = roof.facet(_pitched(roof, edge)[0])
    body = next((b for b in roof.bodies if b.id == facet.block), None)
    place = next((n for n, plane in enumerate(body.planes) if plane.same(facet.plane, facet.shape.centroid.coords[0])),
                 0) if body is not None else 0
    blocks, faces = list(job.roof.blocks), list(job.roof.faces)
    for n, block in enumerate(blocks):
        if block.id == facet.block:
            if block.kind == "flat":
                raise InputError("pitch", f"{pitch:g}°", "no pitch: the block is flat")
            field = ("pitch", "pitch_right", "pitch_ends", "pitch_ends")[place]
            given = getattr(block, field, None) is not None
            blocks[n] = block.but(**{field if given else "pitch": pitch})
    for n, face in enumerate(faces):
        if face.id == facet.block:
            faces[n] = face.but(pitch=pitch)
    return job.but(roof=job.roof.but(blocks=tuple(blocks), faces=tuple(faces)))


def place_along(edge: Edge | None, run: Run, along: float) -> Point3 | None:
    """The point of the roof ``along`` mm from a run's left end, as seen with its paint toward the eye; ``None`` for a
    run that lies on no edge."""
    if edge is None or not run.length:
        return None
    left, right = (edge.a, edge.b) if run.turned == (run.kind in WALLS) else (edge.b, edge.a)
    share = min(along / run.length, 1.0)
    x, y, z = (float(a + share * (b - a)) for a, b in zip(left, right, strict=True))
    return x, y, z
