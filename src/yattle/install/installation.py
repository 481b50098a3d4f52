"""The job as it goes onto the roof: who laps over whom, the order, what each item takes, what moves, what to see to."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

from yattle.derive.derived import Derived
from yattle.derive.layers import carried_by, schools_of
from yattle.derive.run import DerivedRun
from yattle.details import Finding
from yattle.details.schools import Schools
from yattle.install.covered import covered
from yattle.install.fitting import FittingOrder, fitting
from yattle.install.laps import Order
from yattle.install.metals import drains_onto, quarrel, run_off
from yattle.install.movement import Movement, fights, movement_of, slides_wanted
from yattle.install.opening_fixings import opening_needs
from yattle.install.panel_cautions import cautions_of
from yattle.install.panel_findings import panel_findings
from yattle.install.panel_fixings import panel_needs
from yattle.install.panel_movement import movements
from yattle.install.parting import panels_of
from yattle.install.rain import rain_findings
from yattle.install.schedule import Need, Packed, fixed_as, needs_of, packed
from yattle.install.seats import at_ribs, beside_seams
from yattle.install.venting import venting_findings
from yattle.install.water import Water, is_level, water_of
from yattle.job.learn import scatter_of
from yattle.job.scatter import FarEnd, Scatter, far_end
from yattle.measure import Fine

_LONG = 6000.0  # mm: from there on movement is looked at
_ALLOWED = 15.0  # mm: what the end of a run may be off before it shows

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
    "rake": "hooked on its cleat over the whole length",
    "sidewall on a zed": "hooked on its zed over the whole length, kick-out throws clear of the wall",
    "sidewall on a seam": "its edge turned down over the first seam, clipped to it; kick-out throws clear of the wall",
    "rake on a zed": "riveted to its zed over the whole length, no rivet through a seam",
    "rake by itself": "straight by the string, screws in line, washers neither crushed nor loose",
    "zed": "on the last panel, its tape unbroken and squeezed out a little", "cleat": "straight by the string",
    "eave-cleat": "straight by the string, set back alike from the panels' fold",
    "counterflashing": "sits in the kerf, wedged, pointed",
    "counter-surface": "flat on the wall, its bead whole over the full length",
    "coping": "hooked on its strip over the whole length, its top falls to the roof",
    "box-gutter": "runs empty by a bucket at its high end", "round-gutter": "runs empty by a bucket at its high end",
}


@dataclass(frozen=True)
class InstalledRun:
    """What one run takes and how it moves; ``slides`` of its joints must stay free. Lengths in mm."""

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


class InstalledRuns(Mapping[str, InstalledRun]):
    """What each run with pieces takes, worked out when it is asked for."""

    def __init__(self, derived: Derived) -> None:
        self._runs = {run.run.id: run for run in derived.runs if run.pieces}
        self._derived, self._found = derived, dict[str, InstalledRun]()

    def __getitem__(self, run_id: str) -> InstalledRun:
        if run_id not in self._found:
            self._found[run_id] = _installed_run(self._derived, self._runs[run_id])
        return self._found[run_id]

    def __iter__(self) -> Iterator[str]:
        return iter(self._runs)

    def __len__(self) -> int:
        return len(self._runs)


@dataclass(frozen=True)
class Installation(FittingOrder):
    """How a whole job goes onto the roof: in which order, and

    ``water``: rain followed over everything as it lies
    ``packs``: everything summed up to order; ``shares``: what each run has of it
    ``underlay``: m² of every face on the slope; ``panels``: what the panels of every face themselves take;
        ``openings``: what stands at openings and corners takes, by their ids
    ``findings``: what there is to look at
    ``runs``, ``derived``: what it is worked out from; left out while it goes from one process to another
    """

    water: Water
    packs: tuple[Packed, ...]
    shares: dict[str, tuple[tuple[str, float], ...]]
    underlay: dict[str, float]
    panels: dict[str, tuple[Need, ...]]
    openings: dict[str, tuple[Need, ...]]
    findings: tuple[tuple[str, Finding], ...]
    runs: Mapping[str, InstalledRun] = field(compare=False, repr=False)
    derived: Derived | None = field(default=None, compare=False, repr=False)

    def bare(self) -> Installation:
        """Without what each run takes: small enough to be sent."""
        return replace(self, runs={}, derived=None)

    def on(self, derived: Derived) -> Installation:
        """With what each run of ``derived`` takes."""
        return replace(self, runs=InstalledRuns(derived), derived=derived)

    def cautions(self, stage: int) -> tuple[str, ...]:
        """What has to be said at a stage, each caution at the first stage where it applies."""
        said: set[str] = set()
        for n, names in enumerate(self.order.stages):
            kinds = {self.item(name).kind for name in names}
            new = [text for kind, text in STAGE_CAUTIONS.items() if kind in kinds and kind not in said]
            faces = dict.fromkeys(self.item(name).place for name in names if self.item(name).kind == "panels")
            of_faces = [text for face in faces for text in self._of_face(face)]
            if n == stage:
                return (*new, *dict.fromkeys(text for text in of_faces if text not in said))
            said |= kinds | set(of_faces)
        return ()

    def _of_face(self, face: str) -> tuple[str, ...]:
        """What has to be said where a face's panels go on: of an old roof, of a low pitch, of what is walked on."""
        if self.derived is None:
            return ()
        job, pitch = self.derived.job, self.derived.roof.facet(face).plane.pitch
        system, structure = job.panel_system(face), job.structure_of(face)
        return cautions_of(system, structure, pitch)

    def checks(self, stage: int) -> tuple[str, ...]:
        """What is looked at when a stage is done."""
        kinds = dict.fromkeys((self.item(name).kind, self._fixed_as(name)) for name in self.order.stages[stage])
        return tuple(f"{kind}: {CHECKS[fixed]}" for kind, fixed in kinds if fixed in CHECKS)

    def _fixed_as(self, name: str) -> str:
        kind = self.item(name).kind
        run = self.runs.get(name)
        if run is None or self.derived is None:
            return kind
        return _fixed(run.run, kind, schools_of(run.run.run, self.derived.job.schools))


@lru_cache(maxsize=4)
def installation(derived: Derived) -> Installation:
    """The installation of a job, every part of it."""
    goes, runs = fitting(derived), InstalledRuns(derived)
    water = water_of(derived, goes.laps)
    underlay = {facet.id: float(facet.shape.area / facet.plane.normal[2] / 1e6) for facet in derived.roof.facets}
    panels, openings = panel_needs(derived), opening_needs(derived)
    others = (*panels.values(), *openings.values())
    return Installation(goes.items, goes.laps, goes.order, water, _packs(derived, runs, others, underlay),
                        _shares(runs, panels, openings), underlay, panels, openings,
                        tuple(_findings(derived, goes.order, runs, water)), runs, derived)


NOTHING = Installation((), (), Order((), ()), Water((), ()), (), {}, {}, {}, {}, (), {})
"""The installation of no job at all."""


def _packs(derived: Derived, runs: InstalledRuns, others: tuple[tuple[Need, ...], ...],
           underlay: dict[str, float]) -> tuple[Packed, ...]:
    rules = derived.job.fit
    needs = [need for fit in runs.values() for need in fit.needs] + [need for each in others for need in each]
    area = sum(underlay.values()) * (1 + rules.underlay_laps)
    return packed([*needs, Need("underlay", area)] if area else needs, rules)


def _shares(runs: InstalledRuns, panels: dict[str, tuple[Need, ...]],
            openings: dict[str, tuple[Need, ...]]) -> dict[str, tuple[tuple[str, float], ...]]:
    """What each run, the panels of each face and each opening have of everything that is ordered."""
    found: dict[str, list[tuple[str, float]]] = {}
    of = {run_id: fit.needs for run_id, fit in runs.items()} | {f"panels {face}": each for face, each in panels.items()}
    of |= openings
    for name, needs in of.items():
        for need in needs:
            found.setdefault(need.what, []).append((name, need.many))
    return {what: tuple(rows) for what, rows in found.items()}


def _findings(derived: Derived, order: Order, runs: InstalledRuns, water: Water) -> Iterator[tuple[str, Finding]]:
    """(item, finding): contradictions, pinned lengths, laps against the water, quarrelling metals."""
    for trouble in order.troubles:
        yield trouble.items[0], Finding("stop", "must go on both before and after another", trouble.says(), "laps")
    for run_id, fit in runs.items():
        if fit.slides:
            yield run_id, Finding("look", "fights by {0} if all its joints are held",
                                  f"leave {fit.slides} of {len(fit.run.pieces) - 1} joints free to slide, no rivets",
                                  "movement", (Fine(fit.fights),))
    yield from water.findings()
    yield from rain_findings(derived)
    metal, rules = derived.job.metal_used, derived.job.fit
    for where, reason in (
            ("screws", quarrel(metal.family, rules.screws)), ("drains_from", run_off(metal.family, rules.drains_from)),
            ("rivets", quarrel(metal.family, rules.rivets, "rivets") if rules.rivets else None),
            ("clips", quarrel(metal.family, rules.clips, "clips") if rules.clips else None),
            ("drains_onto", drains_onto(metal.family, rules.drains_onto))):
        if reason:
            yield "", Finding("look", reason, "", where)
    yield from _long_panels(derived)
    yield from panel_findings(derived)
    yield from venting_findings(derived)


def _long_panels(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Panels whose free end moves more than clips, hooks and holes give: how much room each of them needs."""
    rules = derived.job.fit
    for facet in derived.roof.facets:
        moved = movements(derived, facet.id)
        most = max(moved, key=lambda one: one.movement.whole, default=None)
        if most is None or most.movement.whole <= rules.slide:
            continue
        move, (fixed, other) = most.movement, (("eave", "head") if most.fixed == "eave" else ("head", "eave"))
        pipes = [at for one in moved for at in one.pipes]
        holes = "".join(f"; the hole of {at.pipe} {{{n}}} wider along the panel" for n, at in enumerate(pipes, 4))
        widths = (Fine(at.movement.longer + at.movement.shorter) for at in pipes)
        yield panels_of(facet.id, 0), Finding(
            "look", f"panels of {facet.id}, the longest {{0}}, move {{1}} held at one end",
            f"fixed at the {fixed} only; clips that slide, {{2}} of room and {{3}} of hook at the {other}{holes}",
            "movement", (most.panel.length, Fine(move.whole), Fine(move.longer), Fine(move.shorter), *widths))


def _installed_run(derived: Derived, run: DerivedRun) -> InstalledRun:
    job, rules = derived.job, derived.job.fit
    metal = job.metal_used
    joints = tuple(piece.start for piece in run.pieces[1:]) if not run.run.gaps else ()
    kind = run.run.layer or ("back-pan" if run.run.collects else run.run.kind)
    girth = run.detail.girth.girth if run.detail.girth else 0.0
    free = covered(derived, run, rules.beside) if kind in ("rake", "sidewall") else beside_seams(derived, run)
    schools = schools_of(run.run, job.schools)
    riveted = schools.joint == "plain"
    needs = needs_of(_fixed(run, kind, schools), run.run.length, girth, joints, rules, run.run.gaps, riveted,
                     free, is_level(run), _lap_on_panels(run), _tabs(run), at_ribs(derived, run, rules.screw_pitch))
    whole = run.run.length if not run.run.gaps else max(gap for gap, _ in run.run.gaps)
    pieces = max(len(run.pieces), 1) if not run.run.gaps else 1
    slides = slides_wanted(whole, metal.expansion, rules) if whole > _LONG and riveted else 0
    return InstalledRun(run, needs, movement_of(whole / pieces, metal.expansion, rules),
                  fights(whole, metal.expansion, rules), min(slides, max(pieces - 1, 0)),
                  (pieces, whole), scatter_of(job))


def _fixed(run: DerivedRun, kind: str, schools: Schools) -> str:
    """How a run is fixed: by its kind, what a rake or a sidewall is held by at its outer edge, its detail."""
    if run.family is not None and run.family.name == "wall-zed":
        return "wall zed"
    under = carried_by(run.run, run.standard.wall_flange) if run.run.kind == "sidewall" else schools.rake_under
    return fixed_as(kind, under, run.family.name if run.family is not None else "")


def _tabs(run: DerivedRun) -> float:
    """How high the side tabs of a closure stand, both together, mm: each is taped along the seam; 0 without tabs."""
    profile, face = run.detail.profile, run.detail.roles.face
    if profile is None or face is None or run.run.layer != "closure":
        return 0.0
    return profile.legs[face] * sum(end == "tab" for end in (run.run.left, run.run.right))


def _lap_on_panels(run: DerivedRun) -> float:
    """How wide the leg is that lies on the panels, hems left out; of two the wider one, mm."""
    profile, roles = run.detail.profile, run.detail.roles
    legs = roles.wings or roles.water
    return max((profile.legs[leg] for leg in legs), default=0.0) if profile is not None else 0.0
