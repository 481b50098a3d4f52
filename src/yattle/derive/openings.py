"""The openings and corners of the roof worked out: which form each gets, with the measures that the survey already
knows."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from yattle.bounds import Lap, Size, SizeOrNone
from yattle.derive.laying import rule_on
from yattle.derive.meetings import Meeting, box_at, chosen_form, measures
from yattle.derive.names import is_own, next_own, short_name
from yattle.derive.pans import core_of, held_from, lock_of
from yattle.derive.split import split_pans
from yattle.details import standard_for
from yattle.details.all_forms import FORMS, FREE, OPENINGS, beginning
from yattle.details.chimney import Chimney
from yattle.details.common import Finding
from yattle.details.curb import Curb
from yattle.details.feet import Meets
from yattle.details.forms import Form, FormPiece, FormResult, develop_form
from yattle.details.pipe import Pipe
from yattle.errors import InputError
from yattle.job.model import Job, OpeningNote
from yattle.measure import Whole, inch_twin
from yattle.panels import PanelSystem, derive_profile
from yattle.roof import Edge, Facet, Roof
from yattle.roof.drain import axes
from yattle.roof.model import BoxOpening
from yattle.roof.openings import Placed
from yattle.roof.panels import PanelRule, face_frame, seams_of
from yattle.roof.plane import Plane
from yattle.roof.taped_place import in_one_place
from yattle.section import MetalSpec
from yattle.values import Value, check

_VALLEY = 100.0  # mm beside a valley's line that its water takes
OWN = "a piece of its own"
END_CAP = "end-cap"
_LOCK = 20.0  # mm that a seam's lock and its closing take
_BESIDE_IT = 0.001  # mm: nearer to a side a seam runs along it
_STRAIGHT = 1.0  # degrees: an opening turned by less stands straight


@dataclass(frozen=True)
class DerivedOpening:
    """One opening or corner: its form, worked out (or there is no ``result``, and the findings say why). ``kind`` what
    it is on the roof, ``detail`` the form it gets ("none" at a corner that gets nothing), ``made`` the forms there are
    for it."""

    id: str
    title: str
    kind: str
    detail: str
    form: Form | None
    result: FormResult | None
    findings: tuple[Finding, ...]
    made: tuple[str, ...] = ()

    @property
    def pieces(self) -> tuple[FormPiece, ...]:
        return self.result.pieces if self.result is not None else ()


def derive_opening(job: Job, roof: Roof, placed: Placed, metal: MetalSpec) -> DerivedOpening:
    """The pieces of one opening."""
    own = placed.opening
    found = developed(lambda: _with_pans(job, roof, placed, form_on(job, roof, placed, metal)),
                     (own.id, own.id, own.kind, OPENINGS[own.kind]), ())
    beside = _by_a_valley(roof, placed, found.form) if isinstance(found.form, Pipe | Curb) else ()
    together = _in_one_place(roof, placed)
    rule = job.panel_rule(placed.facets[0])
    seams = ((*_by_a_seam(found.form, rule.seam), *_over_ribs(found.form, job.panel_system(placed.facets[0])))
             if isinstance(found.form, Pipe) else
             _flange_by_a_seam(job, roof, placed, found.form) if isinstance(found.form, Chimney) else ())
    return replace(found, findings=(*together, *found.findings, *beside, *seams))


def _in_one_place(roof: Roof, placed: Placed) -> tuple[Finding, ...]:
    """Openings that stand in each other."""
    others = tuple(other.opening for other in roof.openings)
    return tuple(Finding("stop", f"it stands in {other}", "move one of them: nothing is flashed as they stand", "x")
                 for other in in_one_place(placed.opening, others))


def form_on(job: Job, roof: Roof, placed: Placed, metal: MetalSpec) -> Form:
    """The form of an opening as the job, its panels and the house standard have it. Raises :class:`InputError`."""
    return form_of(roof, placed, job.panel_rule(placed.facets[0]), metal, job.measured,
                   job.opening_note(placed.opening.id), _of_the_house(job, placed), job.system == "inch")


def _of_the_house(job: Job, placed: Placed) -> dict[str, Any]:
    """What an opening's form takes from the house standard and from the seams beside it. In mm or degrees."""
    face, standard = placed.facets[0], standard_for(job.system, job.own)
    rule, system = job.panel_rule(face), job.panel_system(face)
    height = rule.height or standard.seam_height
    found: dict[str, Any] = {"id": short_name(job, placed.opening.id), "seam_height": height,
                             "lock": min(lock_of(system, standard), 0.8 * height)}
    if rule.seam:  # its lock lies to the right of the seam's line
        wide = lock_of(system, standard)
        found |= {"seam_width": max(rule.seam, wide), "seam_aside": wide / 2}
    if rule.fill == "strips" and system is not None:
        read = derive_profile(system)
        found |= {"panel": "ribbed", "rib_pitch": read.rib_pitch}
        found |= {"seam_width": max(rib.foot for rib in read.ribs)} if read.ribs else {}
    return found | {name: getattr(standard, name) for name in ("past_hole", "set_width", "set_angle")}


def _with_pans(job: Job, roof: Roof, placed: Placed, form: Form) -> Form:
    """A pipe between two pans with these as they lie on the roof; any other form as it is."""
    if not isinstance(form, Pipe) or form.school != "split" or form.clear < 0:
        return form
    pair = split_pans(job, roof, placed, form)
    return form if pair is None else form.but(pans=tuple(shape for _, shape in pair))


def _by_a_seam(form: Pipe, seam: float) -> tuple[Finding, ...]:
    """Whether the whole plate of a pipe fits between the seams, of which each takes half its width ``seam``, mm."""
    room = form.clear - seam / 2
    short = form.skirt - room
    if not form.coverage or short <= 0 or form.school == "flexible":
        return ()
    return (Finding("look", "the plate reaches {0} beside the hole, the nearer seam leaves {1}",
                    "move the pipe or the panels' start by {2}, or a plate that is narrower on that side", "skirt",
                    (form.skirt, max(room, 0.0), short)),)


def _over_ribs(form: Pipe, system: PanelSystem | None) -> tuple[Finding, ...]:
    """Whether the whole plate of a pipe finds room between two ribs."""
    read = derive_profile(system) if system is not None else None
    if read is None or not read.ribs or form.school == "flexible":
        return ()
    flat = read.rib_pitch - max(rib.foot for rib in read.ribs)
    wide = 2 * (form.bore + form.skirt)
    if wide <= flat:
        return ()
    return (Finding("look", "its plate of {0} lies over ribs, the flat between them is {1}",
                    "a flexible collar dressed over the ribs, or profile strips in two beads under the plate and the "
                    "ribs cut round its collar", "school", (Whole(wide), Whole(flat))),)


def _flange_by_a_seam(job: Job, roof: Roof, placed: Placed, form: Chimney) -> tuple[Finding, ...]:
    """Whether the side flanges of a chimney lie on the flat of the pans beside it, where seams stand there; of one over
    a ridge on both faces."""
    over_one = form.meets is not None and form.meets.kind != "ridge"
    faces = [roof.facet(face) for face in placed.facets if (rule := job.panel_rule(face)).height and rule.fill == "zed"]
    if form.school != "cut" or over_one or form.turned or not faces:
        return ()
    near = min(_nearest_seam(roof, placed, face, job.panel_rule(face.id)) for face in faces)
    if near >= form.flange + _LOCK:
        return ()
    return (Finding("look", "a seam {0} beside the chimney", "the side flange of {1} wants the flat of the pan: shift "
                    "the panels, or a flange that ends before the seam", "flange", (Whole(near), Whole(form.flange))),)


def _nearest_seam(roof: Roof, placed: Placed, face: Facet, rule: PanelRule) -> float:
    """How far the nearest seam of a face stands from a side of an opening, outside it, mm."""
    across = [face_frame(face).at(corner[:2])[0] for corner in placed.corners]
    off = [max(min(across) - seam, seam - max(across)) for seam in (0.0, *seams_of(roof, face.id, rule).places)]
    return min((mm for mm in off if mm >= 0.0), default=math.inf)


def _by_a_valley(roof: Roof, placed: Placed, form: Pipe | Curb) -> tuple[Finding, ...]:
    """Whether a pipe's plate or a curb's flange comes into a valley's water, and what can be done."""
    near = _nearest_valley(roof, placed)
    if near is None:
        return ()
    away, edge = near
    if isinstance(form, Pipe):
        away += form.diameter / 2
        short, name = form.bore + form.skirt + _VALLEY - away, "plate"
        how = ("a special pan with the plate folded in, its upper edge under the valley sheet: one piece more, "
               "soldered; a narrower plate only if the open width stays free")
    else:
        short, name = max(form.lower, form.side, form.upper) + _VALLEY - away, "flange"
        how = "narrower flanges, if the open width stays free"
    if short <= 0:
        return ()
    return (Finding("look", f"{{0}} from the valley {edge.id}, into whose water its {name} reaches",
                    f"move the {form.detail} {{1}} away from it: no metal; or {how}",
                    "skirt" if isinstance(form, Pipe) else "side", (Whole(away), Whole(short))),)


def _nearest_valley(roof: Roof, placed: Placed) -> tuple[float, Edge] | None:
    """How far in plan the nearest valley of the opening's faces is from its sides, mm, and which."""
    from shapely import LineString, Point, Polygon

    own = placed.opening
    ground = Polygon([corner[:2] for corner in placed.corners]) if isinstance(own, BoxOpening) else \
        Point(own.x, own.y).buffer(own.diameter / 2, quad_segs=32)
    near = [(ground.distance(LineString((edge.a[:2], edge.b[:2]))), edge) for edge in roof.edges
            if edge.kind == "valley" and set(edge.facets) & set(placed.facets)]
    return min(near, key=lambda pair: pair[0], default=None)


def derive_meeting(job: Job, roof: Roof, meeting: Meeting, metal: MetalSpec) -> DerivedOpening:
    """The pieces of one corner."""
    detail, note = chosen_form(job, meeting), job.opening_note(meeting.id)
    named = meeting.id, meeting.title, " · ".join(meeting.kinds), detail
    if detail == "none":
        return DerivedOpening(*named, None, None, (), meeting.made)
    own = {field: value for field, value in note.values.items() if field in FORMS[detail].model_fields}

    def form() -> Form:
        values: dict[str, Any] = {"id": "".join(edge.id for edge in meeting.edges[:2]), "metal": metal,
                                  "measured": job.measured}
        if detail == "tray":
            values["width"] = job.panel_rule(meeting.edges[0].facets[0]).coverage
        closes = box_at(job, roof, meeting) if detail == "box" else {}
        wing = standard_for(job.system, job.own).ridge_wing
        found = measures(roof, meeting, detail, wing, lambda face: held_at_valley(job, roof, face))
        return FORMS[detail](**values | closes | found | own)
    return developed(form, named, meeting.made)


def held_at_valley(job: Job, roof: Roof, face: str) -> float:
    """How far the panels of a face are held back from the lines of its valleys, mm."""
    return held_from(roof, face, "valley", standard_for(job.system, job.own), core_of(job.panel_system(face)),
                     ribs=rule_on(job, roof.facet(face)).ribs)


Sections = Callable[[str], tuple[tuple[float, float], ...]]
"""The corners of a run's section by the run's id, mm; none where there is no such run."""


def derive_own(job: Job, note: OpeningNote, metal: MetalSpec,
               section: Sections = lambda _: ()) -> DerivedOpening:
    """A piece of its own: any form, with the measures typed for it; an end cap of the run that it ``closes``."""
    detail = str(note.values.get("made", FREE[0]))
    detail = detail if detail in FREE else FREE[0]
    fields = FORMS[detail].model_fields
    own = {field: int(value) if fields[field].annotation is int and _is_whole(value) else value
           for field, value in note.values.items() if field in fields}

    def form() -> Form:
        named: dict[str, Any] = {"id": short_name(job, note.of), "metal": metal, "measured": job.measured}
        corners = section(closes) if closes and "section" in fields else ()
        if closes and not corners:
            raise InputError("closes", f"{closes}, which has no section", "a run that can be made, or another form")
        return FORMS[detail](**named | beginning(detail) | ({"section": corners} if corners else {}) | own)
    closes = str(note.values.get("closes", ""))
    title = f"{note.of}, closes {closes}" if closes else note.of
    return developed(form, (note.of, title, OWN, detail), (*FREE, "none"))


def with_own(job: Job) -> tuple[Job, str]:
    """The job with one more piece of its own, and its id."""
    name = next_own(job)
    return job.but(openings=(*job.openings, OpeningNote(of=name, own=(("made", FREE[0]),)))), name


def with_end_caps(job: Job, run: str) -> tuple[Job, str]:
    """The job with a left and a right end cap for a run's section, and the id of the first."""
    job, left = with_own(job)
    job, right = with_own(job)
    for name, hand in ((left, "left"), (right, "right")):
        own = (("closes", run), ("hand", hand), ("made", END_CAP))
        job = job.but(openings=(*(note for note in job.openings if note.of != name), OpeningNote(of=name, own=own)))
    return job, left


def developed(make: Callable[[], Form], named: tuple[str, str, str, str], made: tuple[str, ...]) -> DerivedOpening:
    """A form's pieces under an id, a title, a kind and a detail's name, or why there are none; ``made``: the forms
    there are for it."""
    form = None
    try:
        form = check(make)
        result = _developed(form)
    except InputError as wrong:
        return DerivedOpening(*named, form, None, (Finding("stop", str(wrong), field=wrong.field),), made)
    return DerivedOpening(*named, form, result, form.looks(), made)


@lru_cache(maxsize=2048)
def _developed(form: Form) -> FormResult:
    return develop_form(form)


def form_of(roof: Roof, placed: Placed, rule: PanelRule, metal: MetalSpec, measured: str, note: OpeningNote,
            more: dict[str, Any] | None = None, inch: bool = False) -> Form:
    """The form that an opening gets; ``yattle develop`` gives the same pieces from it; ``more``: what it takes
    from elsewhere where it has a field for it; ``inch``: sizes that nobody says are round in inches. Lengths in mm,
    pitches in degrees. Raises :class:`InputError` where a form that needs one plane stands on two."""
    opening = placed.opening
    model = FORMS[OPENINGS[opening.kind]]
    plane = roof.facet(placed.facets[0]).plane
    values: dict[str, Any] = {"metal": metal, "measured": measured, "pitch": plane.pitch}
    if isinstance(opening, BoxOpening):
        values |= _box(opening, plane)
    else:
        values["diameter"] = opening.diameter
    if "meets" in model.model_fields:
        values["meets"] = _meets(roof, placed)
    elif len(placed.facets) > 1:
        raise InputError("x", f"{opening.id} across {_between(roof, placed).kind}", "a place on one face of the roof")
    if "turned" not in model.model_fields:
        _no_turn(opening.id, values)
    if "coverage" in model.model_fields:
        values |= {"coverage": rule.coverage, "from_seam": _from_seam(roof, placed, rule)}
    if opening.kind in ("curb", "skylight"):
        values["along"] /= math.cos(math.radians(plane.pitch))
    values |= {name: value for name, value in (more or {}).items() if name in model.model_fields}
    usual = _in_inches(model) if inch else {}
    form = model(**usual | values | note.values)
    return _beside_valley(roof, placed, form) if isinstance(form, Chimney) and len(placed.facets) == 1 else form


class _OpeningSizes(Value):
    """How a form's sizes in mm are told from its angles and counts: by what they may be."""

    size: Size = 1.0
    or_none: SizeOrNone = 1.0
    lap: Lap = 1.0


def _is_whole(value: float | str) -> bool:
    return isinstance(value, float) and value.is_integer()


def _in_inches(model: type[Form]) -> dict[str, float]:
    """What a form takes by itself, each size at its twin in inches, in mm."""
    sizes = [one.metadata for one in _OpeningSizes.model_fields.values()]
    return {name: inch_twin(field.default) for name, field in model.model_fields.items()
            if isinstance(field.default, float) and field.default > 0 and field.metadata in sizes}


def _beside_valley(roof: Roof, placed: Placed, form: Chimney) -> Chimney:
    """The chimney as it is, or with the valley beside it if one of its flanges would lie in that one."""
    near = _nearest_valley(roof, placed)
    if near is None or near[0] > max(form.apron, form.flange, form.pan):
        return form
    beside = form.but(meets=_across(roof, placed, near[1]))
    return form if beside.clear_of_valley else beside


def _box(opening: BoxOpening, plane: Plane) -> dict[str, Any]:
    """Its sizes across the slope and along it, and how far it is turned in plan: less than 45° either way."""
    across, _ = axes(plane)
    turned = (opening.bearing - math.degrees(math.atan2(across[1], across[0])) + 90) % 180 - 90
    size = opening.across, opening.along
    if abs(turned) > 45:
        turned, size = turned - math.copysign(90, turned), size[::-1]
    return {"across": size[0], "along": size[1], "turned": 0.0 if abs(turned) < _STRAIGHT else turned}


def _no_turn(name: str, values: dict[str, Any]) -> None:
    turned = values.pop("turned", 0.0)
    if turned:
        raise InputError("bearing", f"{name} turned {turned:.0f}° to the slope", "a curb that stands straight on it")


def _between(roof: Roof, placed: Placed) -> Edge:
    """The edge between the faces that an opening stands on."""
    return next(edge for edge in roof.edges if set(edge.facets) >= set(placed.facets[:2])) if any(
        set(edge.facets) >= set(placed.facets[:2]) for edge in roof.edges) else roof.edges[0]


def _meets(roof: Roof, placed: Placed) -> Meets | None:
    """What a chimney's own face meets beneath it."""
    if len(placed.facets) == 1:
        return None
    edge = _between(roof, placed)
    if len(placed.facets) > 2 or edge.kind not in ("ridge", "valley"):
        raise InputError("x", f"{placed.opening.id} across a {edge.kind}", "a place on one face, over a ridge or by a "
                         "valley: nobody can flash it there in sheet that lasts")
    return _across(roof, placed, edge)


def _across(roof: Roof, placed: Placed, edge: Edge) -> Meets:
    """The roof on the other side of a ridge or valley, as an opening on this side wants it told."""
    beyond = next(name for name in edge.facets if name != placed.facets[0])
    own, other = roof.facet(placed.facets[0]).plane, roof.facet(beyond).plane
    here = math.atan2(*reversed(axes(own)[1]))
    there = math.atan2(*reversed(axes(other)[1]))
    x, y = placed.opening.x, placed.opening.y
    (ax, ay, _), (bx, by, _) = edge.a, edge.b
    away = abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / math.hypot(bx - ax, by - ay)
    return Meets(kind="ridge" if edge.kind == "ridge" else "valley", pitch=other.pitch,
                 turn=math.degrees(there - here), away=away)


def _from_seam(roof: Roof, placed: Placed, rule: PanelRule) -> float:
    """From the next seam on the left to the opening's left side, or to a pipe's middle, mm."""
    facet = roof.facet(placed.facets[0])
    frame = face_frame(facet)
    opening = placed.opening
    places = [frame.at(corner[:2])[0] for corner in placed.corners] if isinstance(opening, BoxOpening) else [
        frame.at((opening.x, opening.y))[0]]
    left = min(places)
    before = [seam for seam in (0.0, *seams_of(roof, facet.id, rule).places) if seam <= left + 1e-9]
    off = float(left - max(before, default=left))
    return off if off > _BESIDE_IT else 0.0


def with_choice(job: Job, opening: str, field: str, value: float | str | None) -> Job:
    """The job with one field of an opening's form set; ``None`` takes the form's own value. In the field's own unit,
    mm or degrees."""
    note = job.opening_note(opening)
    if field == "made" and value == "none" and is_own(note):
        return job.but(openings=tuple(n for n in job.openings if n.of != opening))
    own = {name: v for name, v in note.own if name != field}
    if value is not None:
        own[field] = value
    rest = tuple(n for n in job.openings if n.of != opening)
    return job.but(openings=(*rest, OpeningNote(of=opening, own=tuple(sorted(own.items())))) if own else rest)
