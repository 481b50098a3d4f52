"""The job as it goes onto the roof: who laps over whom, the order, what each item takes, what moves, what to see to."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

from yattle.derive.derived import Derived
from yattle.derive.layers import schools_of
from yattle.derive.meetings import meetings
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.derive.run import DerivedRun
from yattle.details import Finding
from yattle.install import Item, Lap, Need, Order, Packed, needs_of, order_of, packed
from yattle.install.metals import quarrel, run_off
from yattle.install.movement import Movement, fights, movement_of, slides_wanted
from yattle.install.water import Water, is_level, split_faces, top_panels, water_of
from yattle.job.log import scatter_of
from yattle.job.scatter import FarEnd, Scatter, far_end
from yattle.metal import library
from yattle.roof.build import middle
from yattle.roof.drain import foot_on
from yattle.roof.edges import WALLS

_LONG = 6000.0  # mm: from there on movement is looked at
_ALLOWED = 15.0  # mm: what the end of a run may be off before it shows

OVER: dict[tuple[str, str], str] = {
    ("valley", "eave"): "its foot is dressed over the eave's trim",
    ("hip", "eave"): "its foot laps over the eave's trim", ("rake", "eave"): "its end closes the eave's",
    ("ridge", "rake"): "its end covers the rakes' heads", ("half-ridge", "rake"): "its end covers the rake's head",
    ("ridge", "hip"): "it covers the hips' heads", ("ridge", "valley"): "it covers the valleys' heads",
    ("hip", "valley"): "it covers the valley's head", ("sidewall", "eave"): "its kick-out stands on the eave's trim",
    ("skew-wall", "eave"): "its foot stands on the eave's trim", ("hip", "headwall"): "water comes down the hip",
}
"""Which of two runs that meet lies over the other, by their kinds, and why."""

STAGE_CAUTIONS: dict[str, str] = {
    "underlay": "Underlay is slippery and no floor: secured against falling before anybody steps on it.",
    "eave": "At the roof's edge: guard or harness as local rules ask.",
    "panels": "Two to a long panel, none in wind; keep clear of electric lines.",
    "counterflashing": "Cutting masonry: wet or with extraction, mask and goggles.",
    "chimney": "Flue and fuel: clearances by local code; a licensed person where it is asked for.",
    "curb": "A hole in the deck is guarded until it is closed; its framing by a licensed person.",
}
"""What is said once, at the first stage where it applies."""

CHECKS: dict[str, str] = {
    "eave": "straight by the string, overhang the same at both ends",
    "valley": "lies free in its clips, nothing through it; water runs through by a bucket",
    "panels": "first seam square to the eave; film off; coverage by the tape every fifth panel",
    "closure": "tape on three sides, pressed, not stretched", "ridge": "straight, washers neither crushed nor loose",
    "headwall": "turned up behind it to its full height", "sidewall": "kick-out throws clear of the wall",
    "cladding": "10 mm clear of the flange, so that it dries",
    "rake": "hooked on its cleat over the whole length", "counterflashing": "sits in the kerf, wedged, pointed",
}


@dataclass(frozen=True)
class RunFit:
    """What one run takes and how it moves; ``slides`` of its joints must stay free."""

    run: DerivedRun
    needs: tuple[Need, ...]
    movement: Movement
    fights: float
    slides: int
    spans: tuple[int, float]  # pieces in a row, and how long they are together
    scatter: Scatter

    @cached_property
    def far_end(self) -> FarEnd:
        """How far the run's end may be off by the shop's scatter."""
        return far_end(*self.spans, self.scatter, _ALLOWED)


class RunFits(Mapping[str, RunFit]):
    """What each run with pieces takes, worked out when it is asked for."""

    def __init__(self, derived: Derived) -> None:
        self._runs = {run.run.id: run for run in derived.runs if run.pieces}
        self._derived, self._found = derived, dict[str, RunFit]()

    def __getitem__(self, run_id: str) -> RunFit:
        if run_id not in self._found:
            self._found[run_id] = _run_fit(self._derived, self._runs[run_id])
        return self._found[run_id]

    def __iter__(self) -> Iterator[str]:
        return iter(self._runs)

    def __len__(self) -> int:
        return len(self._runs)


@dataclass(frozen=True)
class Fitting:
    """The whole order of a job: its items and who lies over whom, rain followed over everything as it lies (``water``),
    the ``order`` that follows, everything summed up to order (``packs``) with what each run has of it (``shares``),
    m² of every face on the slope (``underlay``), and what there is to look at. ``runs`` and what it is all
    ``derived`` from are left out while it goes from one process to another."""

    items: tuple[Item, ...]
    laps: tuple[Lap, ...]
    water: Water
    order: Order
    packs: tuple[Packed, ...]
    shares: dict[str, tuple[tuple[str, float], ...]]
    underlay: dict[str, float]
    findings: tuple[tuple[str, Finding], ...]
    runs: Mapping[str, RunFit] = field(compare=False, repr=False)
    derived: Derived | None = field(default=None, compare=False, repr=False)

    def bare(self) -> Fitting:
        """Without what each run takes: small enough to be sent."""
        return replace(self, runs={}, derived=None)

    def on(self, derived: Derived) -> Fitting:
        """With what each run of ``derived`` takes."""
        return replace(self, runs=RunFits(derived), derived=derived)

    @cached_property
    def _by_id(self) -> dict[str, Item]:
        return {item.id: item for item in self.items}

    def item(self, item_id: str) -> Item:
        """The item of that id (it must exist)."""
        return self._by_id[item_id]

    def cautions(self, stage: int) -> tuple[str, ...]:
        """What has to be said at a stage, each caution at the first stage where it applies."""
        said: set[str] = set()
        for n, names in enumerate(self.order.stages):
            kinds = {self.item(name).kind for name in names}
            new = [text for kind, text in STAGE_CAUTIONS.items() if kind in kinds and kind not in said]
            if n == stage:
                return tuple(new)
            said |= kinds
        return ()

    def checks(self, stage: int) -> tuple[str, ...]:
        """What is looked at when a stage is done."""
        kinds = dict.fromkeys(self.item(name).kind for name in self.order.stages[stage])
        return tuple(f"{kind}: {CHECKS[kind]}" for kind in kinds if kind in CHECKS)


@lru_cache(maxsize=4)
def fitting(derived: Derived) -> Fitting:
    """The fitting of a job, every part of it."""
    items = tuple(_items(derived))
    said = (Lap(note.over, note.under, "said by hand", True) for note in derived.job.laps)
    laps = (*dict.fromkeys(_laps(derived)), *said)
    runs = RunFits(derived)
    water, order = water_of(derived, laps), order_of(items, laps)
    underlay = {facet.id: float(facet.shape.area / facet.plane.normal[2] / 1e6) for facet in derived.roof.facets}
    return Fitting(items, laps, water, order, _packs(derived, runs, underlay), _shares(runs), underlay,
                   tuple(_findings(derived, order, runs, water)), runs, derived)


NOTHING = Fitting((), (), Water((), ()), Order((), ()), (), {}, {}, (), {})
"""The fitting of no job at all."""


def _packs(derived: Derived, runs: RunFits, underlay: dict[str, float]) -> tuple[Packed, ...]:
    rules = derived.job.fit
    needs = [need for fit in runs.values() for need in fit.needs]
    area = sum(underlay.values()) * (1 + rules.underlay_laps)
    return packed([*needs, Need("underlay", area)] if area else needs, rules)


def _shares(runs: RunFits) -> dict[str, tuple[tuple[str, float], ...]]:
    """What each run has of everything that is ordered."""
    found: dict[str, list[tuple[str, float]]] = {}
    for run_id, fit in runs.items():
        for need in fit.needs:
            found.setdefault(need.what, []).append((run_id, need.many))
    return {what: tuple(rows) for what, rows in found.items()}


def _findings(derived: Derived, order: Order, runs: RunFits, water: Water) -> Iterator[tuple[str, Finding]]:
    """(item, finding): contradictions, pinned lengths, laps against the water, quarrelling metals."""
    for trouble in order.troubles:
        yield trouble.items[0], Finding("stop", "must go on both before and after another", trouble.says(), "laps")
    for run_id, fit in runs.items():
        if fit.slides:
            yield run_id, Finding("look", f"fights by {fit.fights:.1f} mm if all its joints are held",
                                  f"leave {fit.slides} of {len(fit.run.pieces) - 1} joints free to slide, no rivets",
                                  "movement")
    yield from water.findings()
    metal, rules = library().find(derived.job.metal), derived.job.fit
    for reason in (quarrel(metal.family, rules.screws), run_off(metal.family, rules.drains_from)):
        if reason:
            yield "", Finding("look", reason, "", "screws")


def _items(derived: Derived) -> Iterator[Item]:
    split = split_faces(derived.roof)
    for facet in derived.roof.facets:
        yield Item(f"underlay {facet.id}", f"underlay, face {facet.id}", "underlay", facet.id)
        below = ", the lower ones" if facet.id in split else ""
        yield Item(f"panels {facet.id}", f"panels, face {facet.id}{below}", "panels", facet.id)
        if facet.id in split:
            yield Item(f"panels {facet.id} above", f"panels, face {facet.id}, the upper ones", "panels", facet.id)
    for run in derived.runs:
        if run.pieces:
            kind = run.run.layer or run.run.kind
            said = kind if run.run.layer else run.run.name or run.detail.name
            yield Item(run.run.id, f"{base_id(run.run.id)} {said}", kind, base_id(run.run.id))
    for name in _clad(derived):
        yield Item(f"wall {name}", f"{name} wall closed over it", "cladding", name)
    for opening in derived.openings:
        if any(not piece.paper for piece in opening.pieces):
            yield Item(opening.id, opening.title, opening.kind, opening.id)


def _clad(derived: Derived) -> list[str]:
    """Wall flashings without a counterflashing: the wall's own cladding comes down over them."""
    covered = {base_id(run.run.id) for run in derived.runs if run.run.layer == "counterflashing" and run.pieces}
    return [run.run.id for run in derived.runs
            if run.pieces and not run.run.layer and run.run.kind in WALLS and run.run.id not in covered]


def _laps(derived: Derived) -> Iterator[Lap]:
    split = split_faces(derived.roof)

    def top(face: str) -> str:
        return top_panels(face, split)
    for facet in derived.roof.facets:
        yield Lap(f"panels {facet.id}", f"underlay {facet.id}", "panels lie on the underlay")
        if facet.id in split:
            yield Lap(top(facet.id), f"panels {facet.id}", "upper panels lap over lower ones")
    made = {run.run.id for run in derived.runs if run.pieces}
    by_run = {found.run.id: found for found in roof_runs(derived.job)}
    for name, found in by_run.items():
        layers = [run.run for run in derived.runs if run.run.layer and base_id(run.run.id) == name and run.pieces]
        yield from _laps_of_run(derived, found, [(layer.id, layer.layer) for layer in layers], top)
    yield from _where_they_meet([found for found in by_run.values() if found.run.id in made])
    for placed in derived.roof.openings:
        for face in placed.facets:
            yield Lap(placed.opening.id, f"panels {face}", "its lower flange lies over the panels below")
            yield Lap(top(face), placed.opening.id, "the panels above lap over its upper flange")
    for name in _clad(derived):
        yield Lap(f"wall {name}", name, "it must be in before the wall is closed")
    names = {found.edge.id: found.run.id for found in by_run.values()}
    for meeting in meetings(derived.roof):
        for edge in meeting.edges:
            yield Lap(meeting.id, names[edge.id], "it closes their corner")


def _laps_of_run(derived: Derived, found: RoofRun, layers: list[tuple[str, str]], top) -> Iterator[Lap]:  # type: ignore[no-untyped-def]
    """What one edge's trim lies on and what lies on it."""
    kind, name, faces = found.edge.kind, found.run.id, found.edge.facets
    beneath = [layer for layer, what in layers if what in ("cleat", "zed")]
    closures = [layer for layer, what in layers if what == "closure"]
    for layer, what in layers:
        if what == "counterflashing":
            yield Lap(layer, name, "it covers the upstand")
    for layer in beneath:
        yield Lap(name, layer, "it hooks on it")
    if kind == "pitch-break":
        upper, lower = sorted(faces, key=lambda face: -_height(derived, face))
        yield Lap(f"panels {upper}", name, "the upper panels lie over it")
        faces = (lower,)
    for face in faces if kind not in WALLS else faces[:1]:
        twins = [layer for layer, what in layers if what == "twin"]
        if kind in ("eave", "valley") or twins:
            foot = kind == "valley" and foot_on(derived.roof, found.edge) == face
            for item in (name, *twins):
                yield Lap(item, f"underlay {face}", "its flange lies on the underlay")
                yield Lap(top(face) if foot else f"panels {face}", item, "the panels end over it")
            if foot:
                yield Lap(name, f"panels {face}", "its foot lies over the panels below")
            continue
        for layer in beneath:
            yield Lap(layer, f"underlay {face}", "it is fixed through the underlay")
        for layer in closures:
            yield Lap(layer, top(face), "it stands between the seams")
            yield Lap(name, layer, "it is fixed to the closures")
        yield Lap(name, top(face), "it covers the panels")


def _height(derived: Derived, face: str) -> float:
    facet = derived.roof.facet(face)
    return float(facet.plane.z(middle(facet)))


def _where_they_meet(found: list[RoofRun]) -> Iterator[Lap]:
    """Which of two trims lies over the other where their edges meet."""
    for n, one in enumerate(found):
        for other in found[n + 1:]:
            if not _touch(one, other):
                continue
            for over, under in ((one, other), (other, one)):
                why = OVER.get((over.edge.kind, under.edge.kind))
                if why:
                    yield Lap(over.run.id, under.run.id, why)
                elif over.edge.kind in ("sidewall", "skew-wall") and under.edge.kind == "headwall":
                    yield _at_a_wall(over, under)


def _touch(one: RoofRun, other: RoofRun) -> bool:
    return min(math.dist(p, q) for p in (one.edge.a, one.edge.b) for q in (other.edge.a, other.edge.b)) < 2.0


def _at_a_wall(side: RoofRun, head: RoofRun) -> Lap:
    """Where a sidewall meets a headwall the one that lies higher laps over the other."""
    low = min(side.edge.a, side.edge.b, key=lambda p: p[2])
    foot = min(math.dist(low, p) for p in (head.edge.a, head.edge.b)) < 2.0
    upper, lower = (side, head) if foot else (head, side)
    return Lap(upper.run.id, lower.run.id, "water comes down from it")


def _run_fit(derived: Derived, run: DerivedRun) -> RunFit:
    job, rules = derived.job, derived.job.fit
    metal = library().find(job.metal)
    joints = tuple(piece.start for piece in run.pieces[1:]) if not run.run.gaps else ()
    kind, girth = run.run.layer or run.run.kind, run.detail.girth.girth if run.detail.girth else 0.0
    free: tuple[tuple[float, float], ...] = ()
    if kind in ("rake", "sidewall") and rules.free:  # below a ridge the cap covers that stretch
        free = ((-1.0, rules.free),) if run.run.turned else ((run.run.length - rules.free, run.run.length + 1.0),)
    riveted = schools_of(run.run, job.schools).joint == "plain"
    needs = needs_of(kind, run.run.length, girth, joints, rules, run.run.gaps, riveted, free,
                     is_level(run), _lap_on_panels(run))
    whole = run.run.length if not run.run.gaps else max(gap for gap, _ in run.run.gaps)
    pieces = max(len(run.pieces), 1) if not run.run.gaps else 1
    slides = slides_wanted(whole, metal.expansion, rules) if whole > _LONG and riveted else 0
    return RunFit(run, needs, movement_of(whole / pieces, metal.expansion, rules),
                  fights(whole, metal.expansion, rules), min(slides, max(pieces - 1, 0)),
                  (pieces, whole), scatter_of(job))


def _lap_on_panels(run: DerivedRun) -> float:
    """How wide the leg is that lies on the panels, hems left out; of two the wider one, mm."""
    profile, roles = run.detail.profile, run.detail.roles
    legs = roles.wings or roles.water
    return max((profile.legs[leg] for leg in legs), default=0.0) if profile is not None else 0.0
