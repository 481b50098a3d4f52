"""What there is to look at of the panels themselves: pitch, lengths, supports, gaps beside seams."""

from __future__ import annotations

import math
from collections.abc import Iterator

from yattle.derive.derived import Derived
from yattle.derive.gaps import sharp_ends
from yattle.derive.layers import closure_strip, narrow_gaps, schools_of
from yattle.derive.measures import face_out_of_square
from yattle.derive.pans import too_long
from yattle.derive.roof_runs import base_id, roof_runs
from yattle.details import Finding
from yattle.details.pipe import Pipe
from yattle.install.panel_movement import movements
from yattle.install.parting import panels_of
from yattle.install.seats import ribs_over
from yattle.measure import Fine
from yattle.panels import PanelSystem
from yattle.roof import Edge, Facet
from yattle.roof.panel_parts import end_laps
from yattle.roof.panels import face_frame

_SHARP = 150.0  # mm of a sharp corner that the ends of trims do not close
_ON_EDGE = 1.0  # mm: a rib that stands on the panel's edge itself
_WASHER = 10.0  # mm of flange past the middle of the rib it is screwed to
_BEARS = 25.0  # mm of a rake's flange that lie on the panel beyond its edge


def panel_findings(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """(item, finding) of every face: laid under its system's least pitch, in lengths that are lapped or cannot be,
    narrower than a panel; and gaps beside seams that no closure fills."""
    yield from _narrow(derived)
    yield from _sharp(derived)
    for facet in derived.roof.facets:
        system, name = derived.job.panel_system(facet.id), panels_of(facet.id, 0)
        if system is not None:
            pitch, least = facet.plane.pitch, system.rules.least_pitch
            if pitch < least - 1e-6:
                yield name, Finding(
                    "look", f"face {facet.id} is {pitch:.1f}°, {system.name} is laid from {least:.1f}° on",
                    "another system, or its maker's word for this pitch", "system")
            yield from ((name, finding) for finding in _lengths(derived, facet, system))
            yield from ((name, finding) for finding in _made(derived, facet, system))
        yield from ((name, finding) for finding in _sizes(derived, facet))
        yield from ((name, finding) for finding in _out_of_square(derived, facet))
        yield from _at_pipes(derived, facet)
    yield from _rakes_on_ribs(derived)


def _lengths(derived: Derived, facet: Facet, system: PanelSystem) -> Iterator[Finding]:
    """Panels that come in several lengths, or are longer than can be handled with no support to lap them on."""
    laid = derived.panels[facet.id]
    laps, longest = end_laps(face_frame(facet).height, laid.rule), max((p.length for p in laid.panels), default=0.0)
    if longest > system.rules.longest + 1e-6:
        yield Finding("look", f"panels of {facet.id} up to {{0}}, {system.name} is handled up to {{1}} in one piece",
                      "no support stands where they could be lapped: another spacing, or lifting gear", "system",
                      (longest, system.rules.longest))
    elif laps and any(panel.is_lapped for panel in laid.panels):
        yield Finding("look", f"panels of {facet.id} come in {len(laps) + 1} lengths, lapped by {{0}}: {system.name} "
                      "is handled up to {1} in one piece", "plates, two beads and a row of screws in each lap",
                      "system", (laid.rule.lap, system.rules.longest))


def _at_pipes(derived: Derived, facet: Facet) -> Iterator[tuple[str, Finding]]:
    """Pipes whose holes leave less room than their panel moves there, from where it is fixed."""
    forms = {one.id: one.form for one in derived.openings}
    for moved in movements(derived, facet.id):
        for at in moved.pipes:
            form, way = forms.get(at.pipe), max(at.movement.longer, at.movement.shorter)
            if isinstance(form, Pipe) and way > form.gap + 0.05:
                others = len(moved.pipes) - 1
                beside = f"; {others} more in the same panel" if others else ""
                yield at.pipe, Finding(
                    "look", f"its panel of {{0}} moves {{4}} there, {{1}} from where it is fixed, the hole "
                    f"leaves {{2}}{beside}", "a wider gap round the pipe, {3}, or the panel fixed nearer to it", "gap",
                    (moved.panel.length, at.far, form.gap, math.ceil(way * 2) / 2, Fine(way)))


def _made(derived: Derived, facet: Facet, system: PanelSystem) -> Iterator[Finding]:
    """Pans to be made here that are longer than what is cut off the coil: they stay on the panel list."""
    over = too_long(derived.job, derived.panels[facet.id]) if system.made == "shop" else None
    if over is not None:
        yield Finding("look", f"pans of {facet.id} up to {{0}}, the shop cuts {{1}} off the coil: they are on the "
                      "panel list, not in the cutting plan", "slit the coil first, a longer cut, or have them made",
                      "max_crosscut", over)


def _out_of_square(derived: Derived, facet: Facet) -> Iterator[Finding]:
    """A face out of square whose rakes' flanges do not cover what seams square to the eave leave at its head."""
    lean = face_out_of_square(derived.job, derived.roof, facet)
    rakes = [run.standard.rake_flange for run in map(derived.run, derived.edge_runs)
             if run.run.kind == "rake" and facet.id in derived.edge_runs[run.run.id].edge.facets]
    if lean is None or not rakes:
        return
    off, covers = abs(lean.offset), min(rakes) - _BEARS
    laid = derived.panels[facet.id]
    many = max(len(laid.seams) + 1, 1)
    if off > covers:
        yield Finding("look", f"face {facet.id} is {{0}} out of square: with its first seam square to the eave the "
                      "panels' edge comes that far from the rake at the head, its flange covers {1}",
                      "a wider flange, or each seam {2} off square at its head", "diagonal",
                      (off, covers, Fine(off / many)))
    last = laid.last_width
    narrow, wide = last - off, last + off
    if laid.seams and (narrow < laid.rule.sliver or wide > laid.rule.coverage + 0.5) and off > 1.0:
        yield Finding("look", f"the last panel of {facet.id} covers {{0}} at one end and {{1}} at the other",
                      "another start keeps it between a sliver and a whole panel", "start",
                      (last, wide if wide > laid.rule.coverage else narrow))


def _rakes_on_ribs(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Rakes whose flange reaches no rib of the panels it lies on: it would hang in the air and be screwed to a flat.
    One on a zed of its own lies on that."""
    for one in map(derived.edge_runs.get, [run.run.id for run in derived.runs if run.pieces]):
        if one is None or one.run.kind != "rake" or schools_of(one.run, derived.job.schools).rake_under == "zed":
            continue
        away = [found for face in one.edge.facets if (found := _first_rib(derived, one.edge, face)) is not None]
        flange = derived.run(one.run.id).standard.rake_flange
        if away and flange < min(away) + _WASHER:
            yield one.run.id, Finding(
                "look", f"the flange of {one.run.id} is {{0}} wide, the nearest rib stands {{1}} in from the "
                "panel's edge",
                "a flange of {2}, a zed under it on the flat, or panels from another start", "rake_flange",
                (flange, min(away), min(away) + _WASHER))


def _first_rib(derived: Derived, rake: Edge, face: str) -> float | None:
    """How far in from a rake that runs up the fall the nearest rib of a face is, mm; ``None`` where it has none."""
    system = derived.job.panel_system(face)
    frame = face_frame(derived.roof.facet(face))
    (a, _), (b, _) = frame.at(rake.a[:2]), frame.at(rake.b[:2])
    if system is None or abs(a - b) > 1.0:
        return None
    ribs = ribs_over(system, derived.panels[face].rule.coverage, derived.panels[face].seams, frame.width, _ON_EDGE)
    inside = [rib - a if a < frame.width / 2 else a - rib for rib in ribs]
    return min((max(away, 0.0) for away in inside if away > -_ON_EDGE), default=None)


def _sizes(derived: Derived, facet: Facet) -> Iterator[Finding]:
    """Faces narrower than one panel, supports farther apart than a face is high."""
    frame, rule = face_frame(facet), derived.panels[facet.id].rule
    if frame.width < rule.coverage - 0.5:
        yield Finding("look", f"face {facet.id} is {{0}} wide, narrower than one panel of {{1}}",
                      "one panel, ripped or made to its width", "coverage", (frame.width, rule.coverage))
    if rule.supports > frame.height:
        yield Finding("look", f"supports of {facet.id} every {{0}}, the face is only {{1}} high",
                      "nothing holds the panels between eave and head: closer supports, or a deck", "spacing",
                      (rule.supports, frame.height))


def _sharp(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Sharp corners at the ends of an edge that the last closure, cut along the seams, does not reach into."""
    closed = {base_id(run.run.id) for run in derived.runs if run.run.layer == "closure" and run.pieces}
    for one in roof_runs(derived.job):
        made = derived.run(one.run.id)
        if not made.pieces or made.family is None or one.run.id not in closed:
            continue
        under = closure_strip(derived.job, one, made.family.name)
        ends = [mm for face in one.edge.facets for mm in sharp_ends(
            derived.roof, one.edge, face, derived.job.panel_rule(face), under) if mm > _SHARP]
        if ends:
            yield one.run.id, Finding(
                "look", "its last closures leave sharp corners of up to {0}: the seams run nearly along it there",
                "cut a strip to each on the roof, in tape and sealant", "closures", (max(ends),))


def _narrow(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Gaps beside seams that no closure fills, run by run."""
    for one in roof_runs(derived.job):
        made = derived.run(one.run.id)
        narrow = narrow_gaps(derived.job, one, made.family.name) if made.pieces and made.family is not None else ()
        if narrow:
            widest = max(gap for _, gap in narrow)
            faces = ", ".join(dict.fromkeys(face for face, _ in narrow))
            yield one.run.id, Finding(
                "look", f"{len(narrow)} gap{'s' if len(narrow) > 1 else ''} of up to {{0}} beside a seam, too narrow "
                "for a closure", f"fill them with sealant or foam, or lay {faces} from another start", "start",
                (widest,))
