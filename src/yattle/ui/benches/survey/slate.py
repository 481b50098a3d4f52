"""The survey's slate: the run, the block, face or opening selected, the water, the measures, the job."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from yattle.details import Finding
from yattle.measure import UNITS, parse_angle, say_thickness
from yattle.ui.benches.survey.model import SurveyModel
from yattle.ui.benches.survey.selected import BLOCK_FIELDS, OPENING_FIELDS
from yattle.ui.frame.slate import Slate
from yattle.ui.shown import Shown

_HINTS = {"length": "wall to wall along the ridge", "span": "wall to wall across the ridge",
          "eave_height": "where roof plane and wall line meet", "bearing": "the ridge, anticlockwise from east",
          "eave_overhang": "in plan", "rake_overhang": "in plan", "pitch_right": "empty: as on the left",
          "top_overhang": "in plan, of the high side; empty: as over eaves",
          "pitch_ends": "empty: as on the left", "top": "how high it stands, for the details"}


def _fill_run_measures(s: Slate, m: SurveyModel) -> None:
    """What was taped of the selected edge; the length's row is the run's own."""
    with s.when(lambda: m.measures.fold_place() is not None):
        s.number("taped fold", lambda: m.measures.measure(m.measures.fold_place()),
                          lambda text: m.measures.put_measure(m.measures.fold_place(), text),
                          "180° less what the angle finder reads square over the edge; empty if not measured",
                          read=lambda text, simulated: m.measures.put_measure(m.measures.fold_place(), text, simulated))


def _fill_block_measures(s: Slate, m: SurveyModel) -> None:
    s.choice("taped of it", m.measures.taped_fields, lambda: m.measures.taped_field_here, m.measures.put_taped_field,
             "the measure of this block that was taken")
    s.number("tape said", lambda: m.measures.measure(m.measures.block_place()),
             lambda text: m.measures.put_measure(m.measures.block_place(), text),
             "what tape or angle finder said; empty if not taken",
             read=lambda text, simulated: m.measures.put_measure(m.measures.block_place(), text, simulated))


def _fill_face_measures(s: Slate, m: SurveyModel) -> None:
    s.number("taped pitch", lambda: m.measures.measure(m.measures.face_place("pitch")),
             lambda text: m.measures.put_measure(m.measures.face_place("pitch"), text),
             "what the angle finder said; empty if not measured",
             read=lambda text, simulated: m.measures.put_measure(m.measures.face_place("pitch"), text, simulated))
    for title, field in (("diagonal 1", "0-2"), ("diagonal 2", "1-3")):
        s.number(title, partial(m.measures.diagonal, field), partial(m.measures.put_diagonal, field),
                 f"taped between its corners {field}; empty if not taped",
                 read=partial(m.measures.put_diagonal, field))
    with s.when(lambda: m.facet is not None and bool(m.measures.square_says())):
        s.said("square", m.measures.square_says)


def _fill_instrument(s: Slate, m: SurveyModel) -> None:
    with s.when(lambda: bool(m.measures.fit_says())):
        s.said("all measures", m.measures.fit_says)
    s.words("instrument at", lambda: Shown(m.measures.instrument_at), m.measures.put_instrument,
                     "tape or angle finder: stand-in, tcp:HOST:PORT or serial:PORT; F9 reads into a field")


def fill(s: Slate, m: SurveyModel, go: Callable[[str, Finding], object]) -> None:
    """Rows of what is in hand, then of the job."""
    store = m.store
    s.of(lambda: m.part.replace(":", " ") if m.part else m.selected_says())
    with s.when(lambda: not m.part and m.run is not None):
        _fill_run(s, m)
    with s.when(lambda: m.facet is not None):
        _fill_face(s, m)
    with s.when(lambda: bool(m.block_id)):
        s.group("Block")
        s.choice("block", lambda: [(b.id, f"{b.id}, {b.kind}") for b in store.session.job.roof.blocks],
                 lambda: m.block_id, m.put_block)
        with s.when(lambda: m.part.startswith("block:")):
            s.said("hidden", lambda: "it lies wholly inside other blocks: move it, or make it higher")
    for field, title, unit in BLOCK_FIELDS:
        with s.when(lambda field=field: bool(m.block_id) and hasattr(m.item, field)):  # type: ignore[misc]
            _field_row(s, m, field, title, unit)
    with s.when(lambda: bool(m.block_id) and hasattr(m.item, "fascia")):
        s.choice("eaves", lambda: [("own", "overhang the same"), ("level", "fascia level")],
                 lambda: str(getattr(m.item, "fascia", "own")), m.put_fascia,
                 "where pitches differ: one overhang all round, or one height of the eaves all round")
    with s.when(lambda: bool(m.block_id)):
        _fill_block_measures(s, m)
    with s.when(lambda: hasattr(m.item, "outline")):
        _fill_sketch(s, m)
    with s.when(lambda: m.part.startswith("opening:")):
        s.group("Opening")
        s.said("opening", m.opening_says)
    with s.when(lambda: m.taped_place() is not None):
        s.number("from eave", lambda: _place(m, "up"), lambda text: m.put_place("up", text),
                 "up the slope from the edge below to its lower side, of a pipe to its middle")
        s.number("from left", lambda: _place(m, "aside"), lambda text: m.put_place("aside", text),
                 "level, seen from the eave, from the edge at its left to its left side, of a pipe to its middle")
    for field, title, unit in OPENING_FIELDS:
        with s.when(lambda field=field: m.part.startswith("opening:") and hasattr(m.item, field)):  # type: ignore[misc]
            _field_row(s, m, field, title, unit)
    _fill_job(s, m)
    s.look_list(m.measures.troubles, go)


def _place(m: SurveyModel, field: str) -> Shown:
    found = m.taped_place()
    if found is None:
        return Shown("")
    value, edge = (found.up, found.below) if field == "up" else (found.aside, found.left)
    return Shown(m.say(value), m.edge_called(edge))


def _fill_run(s: Slate, m: SurveyModel) -> None:
    s.group("Run")
    s.words("name", lambda: Shown(m.field("name")), lambda text: m.put_here("name", text))
    s.number("pitch", lambda: Shown(m.field("pitch")), lambda text: m.put_here("pitch", text),
             "7:12, 30°, 58 %")
    s.number("length", lambda: Shown(m.field("length"), m.edge_says()),
             lambda text: m.put_here("length", text), "true length of the edge")
    s.number("taped", lambda: Shown(m.field("taped"), m.off()),
             lambda text: m.put_here("taped", text), "what the tape said; empty if not taped",
             read=lambda text, simulated: m.put_here("taped", text, simulated))
    _fill_run_measures(s, m)
    with s.when(lambda: bool(m.panels.seams_say())):
        s.said("seams", m.panels.seams_say)
    with s.when(lambda: bool(m.water())):
        s.said("water", m.water)


def _fill_face(s: Slate, m: SurveyModel) -> None:
    s.group("Face")
    s.said("face", m.face_says)
    _fill_face_measures(s, m)
    s.group("Panels on this face")
    s.choice("system", m.panels.systems, lambda: m.panels.panel_rule.system,
             lambda key: m.panels.put_system(key, m.facet.id if m.facet is not None else ""),
             "of this face; the maker's paper comes first")
    s.said("its figures", m.panels.system_says)
    s.choice("made", m.panels.makers, m.panels.made, m.panels.put_made,
             "in the shop: its pans are nested on the coil as pieces like others")
    s.said("panels", m.panels.panels_say)
    s.number("coverage", lambda: Shown(m.say(m.panels.panel_rule.coverage)),
             lambda text: m.panels.put_panels("coverage", text), "width of one panel once installed")
    s.number("start", m.panels.start, lambda text: m.panels.put_panels("start", text),
             "from the side to the first seam; empty: the best is worked out")
    s.choice("laid from", lambda: [("left", "the left"), ("right", "the right")], lambda: m.panels.panel_rule.side,
             lambda key: m.panels.put_panels("side", key))
    s.number("overhang", lambda: Shown(m.say(m.panels.panel_rule.overhang)),
             lambda text: m.panels.put_panels("overhang", text), "past the eave")
    s.said("to order", m.panels.orders)
    s.group("What they lie on")
    s.choice("lies on", lambda: [("deck", "a deck"), ("supports", "battens or purlins")],
             lambda: m.panels.structure.kind, m.panels.put_structure_kind)
    with s.when(lambda: m.panels.structure.kind == "supports"):
        _structure_row(s, m, "spacing", "supports every", "from the middle of one to the next, up the slope")
        _structure_row(s, m, "offset", "the first at", "its middle, up the slope from the eave's edge")
    _structure_row(s, m, "thickness", "how thick", "of the deck, or how high the supports stand")
    _structure_row(s, m, "old_roof", "old roof", "how thick one is that is left beneath; 0: none")
    s.said("adds up to", m.panels.heights_say)


def _structure_row(s: Slate, m: SurveyModel, field: str, title: str, hint: str) -> None:
    s.number(title, lambda: Shown(m.say(getattr(m.panels.structure, field))),
             lambda text: m.panels.put_structure(field, text), hint)


def _fill_sketch(s: Slate, m: SurveyModel) -> None:
    s.group("Sketched face")
    _field_row(s, m, "pitch", "face pitch", "pitch")
    _field_row(s, m, "eave_height", "face eave", "mm")
    s.choice("eave edge", lambda: [(str(n), f"from corner {n + 1}") for n in range(len(m.item.outline))],
             lambda: str(getattr(m.item, "eave", 0)), m.put_eave_edge, "the edge that is level")
    s.words("corners", lambda: Shown("; ".join(f"{x:g}, {y:g}" for x, y in m.item.outline)), m.put_corners,
            "east, north of each corner in mm, corners parted by semicolons")


_OWN_METAL = (("density", "density", "kg/m³"), ("expansion", "expansion", "millionths a kelvin"),
              ("k", "k-factor", "0 to 1"), ("springback", "springs by", "leaf over fold"),
              ("source", "source", "where these figures come from: the maker's sheet, a standard, a test"))
"""Figures of an own metal: field, title, unit or what it is."""


def _own_metal_row(s: Slate, m: SurveyModel, field: str, title: str, hint: str) -> None:
    def get() -> Shown:
        value = getattr(m.own_metal, field, "")
        return Shown(value if isinstance(value, str) else f"{value:g}")
    row = s.words if field == "source" else s.number
    row(title, get, lambda text: m.put_own_metal(field, text, title), hint)


def _fill_job(s: Slate, m: SurveyModel) -> None:
    store, session = m.store, m.store.session
    s.group("Job")
    s.words("name of job", lambda: Shown(session.job.name), lambda text: m.put_job("name", text.strip()))
    s.choice("metal", m.metals, lambda: session.job.metal, m.put_metal)
    s.choice("thickness", m.gauges, lambda: f"{session.job.thickness:g}",
             lambda key: m.put_job("thickness", float(key)))
    s.number("other gauge", lambda: Shown(say_thickness(session.job.thickness, store.unit)), m.put_thickness,
             "a thickness that is not in the list")
    s.words("own metal", lambda: Shown(""), m.add_metal, "its name: a metal of yours, with the figures of this one")
    with s.when(lambda: m.own_metal is not None):
        for field, title, hint in _OWN_METAL:
            _own_metal_row(s, m, field, title, hint)
    s.choice("allowance", lambda: [("metal", "k-factor of the metal"), ("din6935", "DIN 6935"),
                                   ("sum", "plain sum of the legs")],
             lambda: session.job.allowance, lambda key: m.put_job("allowance", key))
    s.choice("measured", lambda: [("outside", "outside of the folds"), ("inside", "inside of the folds")],
             lambda: session.job.measured, lambda key: m.put_job("measured", key))
    s.choice("units", lambda: [(u.name, u.title) for u in UNITS.values()], lambda: session.job.unit,
             m.put_unit, "how lengths are said; what they are stays")
    s.choice("counts in", lambda: [("metric", "millimetres, degrees"), ("inch", "feet and inches, rise in 12")],
             lambda: session.job.system, m.put_system,
             "whose house standard and fixings stand where the job has none of its own; an empty job goes by its units")
    s.choice("tables", lambda: [("comma", "CSV with commas, 3.5"), ("semicolon", "CSV with semicolons, 3,5")],
             lambda: session.job.tables, lambda key: m.put_job("tables", key),
             "how lists are written for a spreadsheet; either is read")
    s.choice("panel system", m.panels.systems, lambda: session.job.panels.system,
             lambda key: m.panels.put_system(key, ""), "of all faces that have no rule of their own")
    s.number("tolerance", lambda: Shown(m.say(session.job.tape_tolerance)),
             lambda text: store.attempt(lambda: m.set_job(
                 "tape_tolerance", m.length_from(text, "tolerance"))),
             "how far the tape may differ from the run before it is shown")
    s.number("rain", lambda: Shown(f"{session.job.rain:g}", "mm an hour"),
             lambda text: store.attempt(lambda: m.set_job("rain", parse_angle(text, "rain"))),
             "your entry, from the local code or the weather service; what follows from it is advice")
    _fill_instrument(s, m)


def _field_row(s: Slate, m: SurveyModel, field: str, title: str, unit: str) -> None:
    s.number(title, lambda: Shown(m.part_field(field, unit)),
                      lambda text: m.put_part(field, unit, text, title), _HINTS.get(field, ""))
