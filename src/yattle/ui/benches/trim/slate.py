"""The trim bench's slate: detail, legs, folds, ends, schools and what they cost, joints, where the length goes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from yattle.details import ENTRIES, Finding
from yattle.details.schools import SCHOOLS
from yattle.job.sections import kept_sections
from yattle.measure import parse_angle
from yattle.ui.benches.trim.model import TrimModel, cost_says
from yattle.ui.frame.slate import Slate
from yattle.ui.shown import Shown
from yattle.ui.widgets.rows import Row

_FLAPS = {"wrap": ("wrap", "wrap-in", "box", "turn-down"),
          "tab": ("tab", "box", "cap", "dam", "kick-out", "wall-in", "lock-down", "lock-up"),
          "kick_out": ("kick-out", "wall-out", "wall-in")}  # which ends take which length

_ELSEWHERE = ("lap", "wrap", "tab", "kick_out", "nest_gap", "stock_length", "least_piece")  # not legs

_JOINTS = [("even", "like pieces"), ("full", "full stock and a rest")]

_WEATHER = [("left", "weather from the left"), ("right", "weather from the right")]

_HEMS = [("", "raw edge"), ("paint", "hem toward the paint"), ("back", "hem toward the back")]


def _pitch_row(s: Slate, m: TrimModel) -> None:
    s.number("pitch", m.pitch,
                      lambda text: m.edit_run("pitch", pitch=lambda: m.pitch_from(text)),
                      "the roof's pitch: 7:12, 30°, 58 %; an eave's first fold is 90° less the pitch")


def _fill_own(s: Slate, m: TrimModel) -> None:
    with s.when(lambda: m.own.shape is not None):
        s.group("Own section")
        s.words("called", lambda: Shown(m.own.own().name), lambda text: m.own.put_shape(name=lambda: text.strip()))
        s.words("legs", lambda: Shown("  ".join(m.say(v) for v in m.own.own().legs)),
                lambda text: m.own.put_shape(legs=lambda: m.own.numbers(text, True)),
                "from raw edge A, parted by two spaces or semicolons; Shift press on the drawing adds one")
        s.words("turns", lambda: Shown("  ".join(f"{v:g}°" for v in m.own.own().turns)),
                lambda text: m.own.put_shape(turns=lambda: m.own.numbers(text, False)),
                "one between each two legs: + toward the paint face, − toward the back")
        for side in "ab":
            s.choice(f"edge {side.upper()}", lambda: _HEMS, lambda side=side: m.own.hem_of(side),  # type: ignore[misc]
                     lambda key, side=side: m.own.put_hem(side, key))  # type: ignore[misc]
        s.number("first leg", lambda: Shown(f"{m.own.own().heading:g}°", "from level"),
                 lambda text: m.own.put_shape(heading=lambda: parse_angle(text, "first leg")),
                 "as it lies on the roof")
        s.choice("library", lambda: [("", "take one …"), *((name, name) for name in kept_sections())], lambda: "",
                 m.own.take_kept, "sections that were kept by the Piece menu")


def _fill_schools(s: Slate, m: TrimModel) -> None:
    with s.when(lambda: bool(m.questions())):
        s.group("Schools")
        for name, school in SCHOOLS.items():
            with s.when(lambda name=name: name in m.questions()):  # type: ignore[misc]
                s.choice(school.title, lambda school=school: [(k, c.title) for k, c in school.choices.items()],  # type: ignore[misc]
                         lambda name=name: m.school(name),  # type: ignore[misc]
                         lambda key, name=name: m.put_school(name, key))  # type: ignore[misc]
        s.choice("compare with", m.others, lambda: m.beside, m.put_beside,
                 "another way to do it, side by side with this one")
        with s.when(lambda: m.variant is not None):
            s.said("this one", lambda: cost_says(m.variant_of(True), m.store.unit))
            s.said("instead", lambda: cost_says(m.variant, m.store.unit))


def fill(s: Slate, m: TrimModel, go: Callable[[str, Finding], object]) -> Row:
    """Rows of the run in hand, shown while there is one; the row of the blank is returned."""
    s.of(m.selected_says)
    with s.when(lambda: m.run is not None):
        return _fill_run(s, m, go)


def _fill_run(s: Slate, m: TrimModel, go: Callable[[str, Finding], object]) -> Row:
    with s.when(lambda: len(m.choices()) > 1):
        s.choice("detail", m.choices, m.chosen, m.put_detail, "which detail this edge gets")
    with s.when(lambda: m.run is not None and m.run.run.kind == "free"):
        s.number("long", lambda: Shown(m.say(m.run.run.length) if m.run else ""),
                 lambda text: m.edit_run("length", length=lambda: m.length_from(text, "length")),
                 "how long the run is")
    _fill_own(s, m)
    _fill_schools(s, m)
    legs = [name for name, entry in ENTRIES.items() if not entry.angle and name not in _ELSEWHERE]
    with s.when(lambda: any(m.has(name) for name in legs)):
        s.group("Legs")
    for name in legs:
        _entry(s, m, name)
    s.group("Folds")
    with s.when(lambda: m.run is None or m.run.run.kind != "free"):
        _pitch_row(s, m)
    with s.when(lambda: m.run is not None and m.run.run.fold is not None):
        s.said("from the roof", m.from_the_roof)
    for name, entry in ENTRIES.items():
        if entry.angle:
            _entry(s, m, name)
    s.read("girth", m.girth, "flat width of the section", big=True)
    with s.when(lambda: m.run is not None and not m.run.run.layer):
        _fill_ends(s, m)
    with s.when(lambda: len(m.at_ends()) > 1):
        s.choice("corners", m.at_ends, lambda: "", m.open_corner, "the pieces where this edge meets others")
    s.group("Joints")
    s.choice("pieces", lambda: _JOINTS, lambda: m.store.session.job.joints,
             lambda key: m.edit_job("joints", joints=key))
    with s.when(lambda: m.run is None or m.run.run.slope <= 0.5):
        s.choice("laps", lambda: _WEATHER, lambda: m.store.session.job.weather,
                 lambda key: m.edit_job("weather", weather=key),
                 "the open edge of a lap never faces the weather")
    _entry(s, m, "lap")
    s.group("Where the length goes")
    blank = s.read("blank", m.blank, "length of the flat piece")
    s.said("left end", lambda: m.piece.ends[0].says(m.store.unit) if m.piece else "")
    s.said("right end", lambda: m.piece.ends[1].says(m.store.unit) if m.piece else "")
    with s.when(lambda: m.run is not None and bool(m.run.detail.notes)):
        s.said("note", lambda: "\n".join((*m.run.detail.notes, *m.run.detail.cautions)) if m.run else "")
    s.group("Girth advice")
    advice = s.said("advice", m.advice.says)
    m.advice.told = advice.refresh
    s.look_list(m.advice.advised, m.advice.take)
    s.look_list(m.findings, go)
    return blank


def _fill_ends(s: Slate, m: TrimModel) -> None:
    s.group("Ends")
    for side in ("left", "right"):
        s.choice(side, m.ends, partial(m.end, side), partial(m.put_end, side),
                 "how the run begins and finishes; a cut by the roof's planes goes before it")
    for side in ("left", "right"):
        s.words(f"{side} mitre", partial(m.mitre, side), partial(m.put_mitre, side),
                "cut at an angle, or how the run goes on: 90 plan, -90 plan, 35 elevation; empty: as the roof says")
    for side in ("left", "right"):
        s.words(f"{side} also", partial(m.besides.says, side), partial(m.besides.put, side),
                "parts that this end has besides: top tab, face tab, wrap, dam, hem 45, drip back; none: nothing; "
                "empty: as the schools have it")
    s.words("tapers to", lambda: Shown(m.right_end.says()), m.right_end.put,
            "legs that are another at the right end: front 120, back 145; empty: the section stays what it is")
    with s.when(lambda: m.run is not None and m.run.run.kind == "free" and bool(m.run.family) and (
            "gutter" in (m.run.family.name if m.run.family else ""))):
        s.words("outlets", m.outlets.says, m.outlets.put,
                "from the left end, and how wide: 400 by 100, 6600 by 100; empty: none")
    for entry, users in _FLAPS.items():
        with s.when(lambda users=users: bool({m.end("left"), m.end("right")} & set(users))):  # type: ignore[misc]
            _entry(s, m, entry)


def _entry(s: Slate, m: TrimModel, name: str) -> None:
    entry = ENTRIES[name]
    with s.when(lambda: m.has(name)):
        s.number(entry.title, lambda: m.shown(name), lambda text: m.put(name, text),
                          f"{entry.reason}; empty takes the house standard")
