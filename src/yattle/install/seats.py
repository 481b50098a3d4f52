"""Where a cap or a wall flashing may be screwed down: clear of the seams beneath it, or in the ribs themselves."""

from __future__ import annotations

from collections.abc import Sequence

from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import RoofRun, base_id
from yattle.derive.run import DerivedRun
from yattle.install.covered import CAPS, Zone
from yattle.panels import PanelSystem, derive_profile
from yattle.roof.panels import seams_of

_REACH = 15.0  # mm from a seam's side to a washer's middle
_LEVEL = 0.5  # degrees: ribs are told along edges that run level


def beside_seams(derived: Derived, run: DerivedRun) -> tuple[Zone, ...]:
    """The stretches of a trim over seamed panels where a screw would meet a lock, from the run's left end, mm; both
    faces' of a ridge or hip."""
    own = _capped(derived, run)
    if own is None:
        return ()
    zones = list[Zone]()
    for face in own.edge.facets:
        rule = derived.job.panel_rule(face)
        if rule.fill != "strips":
            half = rule.seam / 2 + _REACH
            zones += [(at - half, at + half) for at in _along(derived, own, face)]
    return _merged(zones)


def _merged(zones: list[Zone]) -> tuple[Zone, ...]:
    """Zones that overlap as one."""
    found = list[Zone]()
    for low, high in sorted(zones):
        if found and low <= found[-1][1]:
            found[-1] = found[-1][0], max(high, found[-1][1])
        else:
            found.append((low, high))
    return tuple(found)


def at_ribs(derived: Derived, run: DerivedRun, pitch: float) -> tuple[float, ...]:
    """Where the ribs beneath a level trim are that take its screws, no farther than ``pitch`` apart where the ribs
    allow, from the run's left end, mm; empty where it lies on no ribs."""
    own = _capped(derived, run)
    if own is None or own.run.slope > _LEVEL:
        return ()
    for face in own.edge.facets:
        system, rule = derived.job.panel_system(face), derived.job.panel_rule(face)
        if system is None or rule.fill != "strips":
            continue
        read = derive_profile(system)
        if not read.ribs:
            continue
        every = max(1, int(pitch / read.rib_pitch + 1e-9))
        return ribs_over(system, rule.coverage, _along(derived, own, face), own.edge.length)[::every]
    return ()


def ribs_over(system: PanelSystem, coverage: float, laps: Sequence[float], width: float,
              past: float = 0.0) -> tuple[float, ...]:
    """Where ribs stand over a stretch of ``width`` on which the panels' side laps are at ``laps``, and ``past`` both
    its ends, mm."""
    first = laps[0] % coverage if laps else 0.0
    ribs = sorted(first + n * coverage + (rib.at - system.over)
                  for n in range(-1, int(width / coverage) + 3) for rib in derive_profile(system).ribs)
    return tuple(round(at, 3) for at in ribs if -past < at < width + past)


def _capped(derived: Derived, run: DerivedRun) -> RoofRun | None:
    """The edge of a trim of its own that is screwed down over the panels' heads: a pitch break is held in the deck,
    under the upper ones."""
    if run.run.layer or run.run.kind not in CAPS or run.run.kind == "pitch-break" or run.run.collects:
        return None
    return derived.edge_runs.get(base_id(run.run.id))


def _along(derived: Derived, own: RoofRun, face: str) -> list[float]:
    """Where a face's seams come to the edge, from the run's left end, mm."""
    left = run_frame(derived.roof, own.edge)[0]
    places = seams_of(derived.roof, face, derived.job.panel_rule(face)).on(own.edge)
    turned = max(abs(float(a) - b) for a, b in zip(left, own.edge.a, strict=True)) > 1.0
    return sorted(own.edge.length - at if turned else at for at in places)
