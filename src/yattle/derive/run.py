"""One run worked out: run → standard → detail → pieces, with what there is to look at."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

from yattle.derive.family import family_of
from yattle.derive.layers import carried_by, schools_of
from yattle.derive.zeds import COVERING, least_cover, least_over_a_zed
from yattle.details import (
    DetailPiece,
    DetailResult,
    Family,
    Finding,
    Own,
    Standard,
    Trim,
    develop,
    standard_for,
)
from yattle.details.ends import ends_of, parts_of
from yattle.details.free import Shape
from yattle.details.schools import Schools
from yattle.details.standard import ENTRIES
from yattle.errors import InputError
from yattle.job.model import Job, Run
from yattle.metal import OwnMetal, metal_spec
from yattle.section import MetalSpec
from yattle.values import check

_WIDER = 5.0  # mm that are worth a word
_BELOW_FOLD = 4.0  # mm under an apron's fold that its cleat ends
_CLOSED = ("top-tab", "face-tab", "hem-45")  # what a rake's foot has besides where it is cut plumb
NO_DETAIL = DetailResult(None, None, (), (), {}, 0.0, (), (), (), (), ())


@dataclass(frozen=True)
class DerivedRun:
    """One run worked out: its standard, its detail and what there is to look at; ``made`` false where there is no
    detail for its kind of edge yet."""

    run: Run
    standard: Standard
    detail: DetailResult
    findings: tuple[Finding, ...]

    @cached_property
    def family(self) -> Family | None:
        """The detail it gets."""
        return family_of(self.run)

    @property
    def made(self) -> bool:
        return self.family is not None

    @property
    def pieces(self) -> tuple[DetailPiece, ...]:
        return self.detail.pieces

    @property
    def left_out(self) -> bool:
        """Whether its edge is too short for any piece of its own."""
        return not self.pieces and any(finding.short for finding in self.findings)


@dataclass(frozen=True)
class Common:
    """What of the job every run depends on. Lengths in mm."""

    system: Any
    own: Any
    schools: Schools
    metal: MetalSpec
    measured: str
    weather: str
    joints: str
    tolerance: float
    throat: float


def common_of(job: Job) -> Common:
    metal = spec_of(job.metal, job.thickness, job.allowance, job.k, next(
        (own for own in job.metals if own.name == job.metal), None))
    return Common(job.system, job.own, job.schools, metal, job.measured, job.weather, job.joints, job.tape_tolerance,
                   job.brake.throat)


@lru_cache(maxsize=64)
def spec_of(metal: str, thickness: float, allowance: str = "metal", k: float | None = None,
            own: OwnMetal | None = None) -> MetalSpec:
    """The metal as a profile carries it, with the job's own allowance rule or learnt k-factor if it has one; ``own``:
    the shop's own metal of that name. ``thickness`` in mm; a k-factor is the neutral layer's place, 0 to 1."""
    spec = metal_spec(own.metal if own else metal, thickness)
    if k is not None and spec["allowance"].get("rule") == "k-factor":
        spec["allowance"] = {"rule": "k-factor", "k": k}
    if allowance != "metal":
        spec["allowance"] = {"rule": allowance}
    return check(lambda: MetalSpec.model_validate(spec), "metal", spec)


@lru_cache(maxsize=8192)
def derive_run(run: Run, common: Common) -> DerivedRun:
    standard = standard_for(common.system, common.own, run.own)
    family = family_of(run)
    if family is None:
        return DerivedRun(run, standard, NO_DETAIL, _tape_findings(run, common.tolerance))
    try:
        detail = develop(detail_of(run, family, standard, common))
    except InputError as wrong:  # the roof asks for what this detail cannot be
        stop = Finding("stop", f"{family.title}: {wrong}", field="pitch")
        return DerivedRun(run, standard, NO_DETAIL, (stop, *_tape_findings(run, common.tolerance)))
    return DerivedRun(run, standard, detail, (
        *detail.findings, *_low_findings(run, family, standard), *_cover_findings(run, family, standard, detail),
        *_flap_findings(detail, schools_of(run, common.schools), common.throat),
        *_tape_findings(run, common.tolerance)))


def _cover_findings(run: Run, family: Family, standard: Standard, detail: DetailResult) -> Iterator[Finding]:
    """Legs that are wider than the house has them, so that the closures under them have room."""
    if not run.draws or run.layer or detail.profile is None:
        return
    made = dict(zip(detail.leg_fields, detail.profile.legs, strict=False))
    for field, entry in family.entries.items():
        wide = float(getattr(standard, entry))
        if field in COVERING and made.get(field, 0.0) > wide + _WIDER:
            yield Finding("look", f"{field} {{0}}, the house has {{1}}: so steep, closures {{2}} high ask for that",
                          f"a wider {ENTRIES[entry].title}, or lower seams", field, (made[field], wide, run.over))


def _flap_findings(detail: DetailResult, schools: Schools, throat: float) -> tuple[Finding, ...]:
    """End flaps by brake put the piece into the machine end on: no longer than its throat is deep."""
    longest = max((p.pattern.length for p in detail.pieces if p.tabs), default=0.0)
    if schools.flaps != "brake" or longest <= throat:
        return ()
    return (Finding("look", "end flaps by brake: {0} long, the brake takes {1} end on",
                    "fold these by tongs or between two boards, or on a brake that is open behind", "length",
                    (longest, throat)),)


def detail_of(run: Run, family: Family, standard: Standard, common: Common) -> Trim:
    """The detail file that this run stands for; ``yattle develop`` gives the same pieces from it."""
    values: dict[str, Any] = {field: getattr(standard, entry) for field, entry in family.entries.items()}
    roof = {"pitch": run.pitch, "fold": run.fold, "upper": run.pitch,
            "lower": run.pitch - (run.fold or 0.0) if run.lower_pitch is None else run.lower_pitch,
            "lean": run.lean}
    values |= {name: roof[name] for name in family.roof if roof[name] is not None}
    values |= {"left_plane": run.left_plane, "right_plane": run.right_plane, "left_plane_b": run.left_plane_b,
               "right_plane_b": run.right_plane_b, "avoid": run.avoid,
               "slope": run.slope, "tapers": () if run.layer else run.tapers, "outlets": run.outlets}
    if run.low is not None:
        values["low"] = run.low
    if family.name == "free":
        values |= _own_section(run)
    if family.name == "pitch-break":  # its legs begin at its fold, their measure where their faces begin
        values |= {name: values[name] + more for name, more in zip(("above", "below"), run.beyond, strict=True)}
    values |= {"past": run.past} | _mitres(run)
    values["lap"] = lap_of(run, family, standard)
    values |= _of_its_neighbour(run, family, standard)
    schools = schools_of(run, common.schools)
    if family.name == "coping":
        values["toward"] = schools.coping_top
    values |= {"joint": schools.joint, "flaps": schools.flaps}
    if run.over:
        values |= _as_high(run, family, common.own)
    if run.gaps:
        values |= {"gaps": run.gaps, "length": max(gap for gap, _ in run.gaps)}
        if run.kind == "ridge" and schools.ridge == "vented":
            values |= {"height": values["height"] + standard.vent, "vented": True}
    elif run.kind == "ridge" and schools.ridge == "vented" and not run.layer and "over" in family.entries:
        values["over"] += standard.vent
    if family.name == "rake" and schools.rake_under == "zed":
        values["flange"] = max(values["flange"], least_over_a_zed(standard))
    if run.draws and not run.layer:
        least = least_cover(standard, run.draws, values.get("over", run.over))
        values |= {name: max(values[name], least) for name in COVERING if name in values}
    made = check(lambda: family.model(
        **{"length": run.length} | values, id=run.id, metal=common.metal, measured=common.measured,  # type: ignore[arg-type]
        weather=common.weather, joints=common.joints, left="plain", right="plain"))  # type: ignore[arg-type]
    return made.but(**_its_ends(run, family, made, schools))


def _its_ends(run: Run, family: Family, made: Trim, schools: Schools) -> dict[str, Any]:
    """The ends of a trim and what they have besides."""
    can = ends_of(made.sheet())  # what meets a run may ask for an end that another detail of it cannot have
    foot = schools.rake_end if run.kind == "rake" and schools.rake_end is not None else "tab"
    ends: dict[str, Any] = {}
    also: tuple[str, ...] | None
    for side, end, also in (("left", run.left, run.left_also), ("right", run.right, run.right_also)):
        named = foot if end == "tab" else end
        ends[side] = named if named in can else "plain"
        if also is None:  # as the school has it
            also = _CLOSED if end == "tab" and ends[side] == "plumb" else ()
            if family.name == "flying-gable" and run.low == side:  # its return ends before the eave's board
                also = (*also, "drip-back")
        ends[f"{side}_also"] = () if run.layer else tuple(part for part in also if part in parts_of(made.sheet()))
    return ends


def _of_its_neighbour(run: Run, family: Family, standard: Standard) -> dict[str, Any]:
    """What follows from what a section hooks on, or what hooks on it."""
    if family.name == "eave-cleat":
        return {"overhang": run.hooked}
    if family.name == "apron-cleat":  # between the apron's foot and its fold over the eave
        return {"strip": max(standard.apron_face - _BELOW_FOLD, 1.0)}
    if family.name == "cleat" and run.kind == "rake":
        return {"turn": standard.kick_turn}  # its lip lies along the kick
    return {"carried": carried_by(run, standard.wall_flange)} if family.name == "sidewall" else {}


def _as_high(run: Run, family: Family, own: Own) -> dict[str, float]:
    """What follows from how high the seams or ribs beneath a run stand: a closure is as high, unless somebody said
    otherwise, a rake's box closes that height."""
    if family.name == "closure":
        said = run.own.closure_height is not None or own.closure_height is not None
        return {"seam": run.over} | ({} if said else {"height": run.over + run.packed})
    return {"over": run.over} if "over" in family.entries else {}


def lap_of(run: Run, family: Family, standard: Standard) -> float:
    """How far the pieces of a run lap, mm: where water runs along them, as far as brings the lap's end high enough
    over its foot at that slope, up to the longest that helps."""
    lap = float(getattr(standard, family.entries["lap"]))
    if not is_wet(run, family) or standard.lap_rise <= 0:
        return lap
    wanted = standard.lap_rise / max(math.sin(math.radians(run.slope)), 1e-3)
    return max(lap, min(wanted, standard.lap_most))


def is_wet(run: Run, family: Family) -> bool:
    """Whether water runs along a run, over the laps of its pieces."""
    return family.entries["lap"] == "lap_wet" and run.slope > 0.5


def _own_section(run: Run) -> dict[str, Any]:
    """The fields of a run's own section."""
    shape = run.section or Shape()
    return {name: getattr(shape, name) for name in ("name", "legs", "turns", "hem_a", "hem_b", "heading")}


def _mitres(run: Run) -> dict[str, Any]:
    """The planes of the mitres that were typed, before those of the roof."""
    given = (("left", run.mitre_left), ("right", run.mitre_right))
    typed = {name: value for side, mitre in given if mitre is not None and not run.layer for name, value in (
        (f"{side}_plane", mitre.normal(side)), (f"{side}_plane_b", None))}  # type: ignore[arg-type]
    kept = [0.0 if f"{side}_plane" in typed else 1.0 for side in ("left", "left", "right", "right")]
    corners = tuple(cut for cut in run.corner_cuts if f"{cut.end}_plane" not in typed)
    reaches = tuple(reach * keep for reach, keep in zip(run.reaches, kept, strict=True))
    return typed | {"corner_cuts": corners, "reaches": reaches}


def _low_findings(run: Run, family: Family, standard: Standard) -> tuple[Finding, ...]:
    """Water that hardly runs: along a trim whose laps cannot be long enough, or not at all."""
    if run.kind == "valley" and run.slope <= 0.5:
        return (Finding("look", "the valley is level: water stands in it", "give it a fall, or a box gutter with an "
                        "outlet and joints soldered or welded", "slope"),)
    if not is_wet(run, family) or math.sin(math.radians(run.slope)) * standard.lap_most >= standard.lap_rise:
        return ()
    return (Finding("look", f"water runs at {run.slope:.1f}° only: laps of {{0}} do not keep it out by themselves",
                    "one length, or every lap soldered or sealed as the makers say", "slope", (standard.lap_most,)),)


def _tape_findings(run: Run, tolerance: float) -> tuple[Finding, ...]:
    if run.taped is None or run.taped_by == "stand-in" or abs(run.taped - run.length) <= tolerance:
        return ()
    return (Finding("look", "taped {0}, the run says {1}", "{2} apart; tape it again before anything is cut", "taped",
                    (run.taped, run.length, abs(run.taped - run.length))),)
