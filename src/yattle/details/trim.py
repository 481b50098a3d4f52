"""What all straight trims share: a detail declares its section, the machinery makes its pieces.

A run becomes pieces with laps, each end is prepared, every piece is laid flat, and its proof, hand and
ledger come with it. A detail says which legs and turns its section has and where these come from; nothing
here knows one detail from another.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yattle.details.common import DetailPiece, DetailResult, EndNote, Finding, Surrounding
from yattle.measure import Sum, Term
from yattle.pattern import End, StripPlan, strip_pattern
from yattle.runs import Cut, RunTooHard, SplitRules, split_run
from yattle.section import Girth, GirthRefused, Hem, MetalSpec, Profile, folded_points, girth_of
from yattle.section.girth import Bend
from yattle.values import Value, check

Positive = Annotated[float, Field(gt=0)]
NotNegative = Annotated[float, Field(ge=0)]
RunEnd = Literal["wrap", "plain"]
Normal = tuple[float, float, float]
_OIL_CAN = 200.0
_TONGS_DEPTH = 50.0
SHARP = ("Cut edges are sharp: wear gloves.", "Two people for a long piece; never in wind.")


@dataclass(frozen=True)
class Leg:
    """One leg of a section: its name in the trade's words and the field it is typed into."""

    name: str
    field: str
    length: float


@dataclass(frozen=True)
class Sheet:
    """A detail's section. ``turn_fields`` name what each turn follows from (``pitch`` and ``fold`` come from the roof);
    ``heading`` the first leg's direction as installed, degrees from level, x out and y up; ``datum`` the corner (0 at
    raw edge A, hem A left out) that runs along the roof's edge, ``crossing`` where instead the lines of the first and
    the last leg meet there; ``wrap_leg`` the leg whose end can be wrapped."""

    name: str
    legs: tuple[Leg, ...]
    turns: tuple[float, ...]
    turn_fields: tuple[str, ...]
    heading: float
    hem_a: Hem | None = None
    hem_b: Hem | None = None
    datum: int = 1
    crossing: bool = False
    wrap_leg: int | None = None
    around: tuple[Surrounding, ...] = ()
    notes: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    looks: tuple[Finding, ...] = ()


class Trim(Value):
    """What every straight trim is given, every measure resolved; mm and degrees.

    ``left`` and ``right`` as seen with the paint face toward the eye and edge A on top. ``left_plane`` and
    ``right_plane``: an end is cut by this plane, given by its normal (along the run, out, up) and passing where the
    section's corner on the roof's edge ends; ``left_plane_b`` and ``right_plane_b`` another plane for the side of edge
    B, where a section lies on two faces. ``weather`` the end that rain comes from, ``low`` the lower end of a
    sloping run, whose pieces lap over the one below instead.
    """

    format: Literal["yattle-detail/1"] = "yattle-detail/1"
    id: str = "T1"
    length: Positive
    metal: MetalSpec
    measured: Literal["outside", "inside"] = "outside"
    lap: Positive = 80.0
    wrap: Positive = 34.0
    nest_gap: NotNegative = 2.0
    stock_length: Positive = 3000.0
    least_piece: Positive = 500.0
    left: RunEnd = "plain"
    right: RunEnd = "plain"
    left_plane: Normal | None = None
    right_plane: Normal | None = None
    left_plane_b: Normal | None = None
    right_plane_b: Normal | None = None
    weather: Literal["left", "right"] = "left"
    low: Literal["left", "right"] | None = None
    joints: Literal["even", "full"] = "even"

    def sheet(self) -> Sheet:
        """The section this detail folds; every detail has its own."""
        raise NotImplementedError


def closed_hem(length: float, toward: Literal["paint", "back"]) -> Hem | None:
    """A closed hem of ``length`` mm; none where it is 0."""
    return Hem(kind="closed", length=length, toward=toward) if length else None


@lru_cache(maxsize=2048)
def develop(detail: Trim) -> DetailResult:
    """Section, pieces, proof and what to look at, or why it cannot be made."""
    sheet = detail.sheet()
    profile = check(lambda: Profile(
        name=sheet.name, metal=detail.metal, measured=detail.measured, legs=tuple(leg.length for leg in sheet.legs),
        turns=sheet.turns, hem_a=sheet.hem_a, hem_b=sheet.hem_b))
    girth = girth_of(profile)
    if isinstance(girth, GirthRefused):
        findings = tuple(Finding("stop", _in_leg_names(sheet, text), field=_leg_field(sheet, text))
                         for text in girth.reasons)
        return _result(sheet, profile, None, (), findings)
    tab = _tab_fold(detail, sheet)
    if isinstance(tab, Finding):
        return _result(sheet, profile, girth, (), (tab,))
    ends = _run_ends(detail, sheet, profile)
    if isinstance(ends, Finding):
        return _result(sheet, profile, girth, (), (ends,))
    cuts = _cuts(detail, tab, ends)
    if isinstance(cuts, RunTooHard):
        return _result(sheet, profile, girth, (), (Finding("stop", cuts.says, field=cuts.field),))
    pieces = tuple(_piece(detail, sheet, girth, tab, cuts, ends, n) for n in range(len(cuts)))
    return _result(sheet, profile, girth, pieces, (*_advice(detail, sheet), *sheet.looks))


# -- ends -----------------------------------------------------------------------------------------


def _tab_fold(detail: Trim, sheet: Sheet) -> Bend | Finding | None:
    """A square fold in this metal for the corner tabs, by the same allowance as the long folds."""
    if "wrap" not in (detail.left, detail.right) or sheet.wrap_leg is None:
        return None
    leg = sheet.legs[sheet.wrap_leg]
    corner = girth_of(Profile(metal=detail.metal, measured=detail.measured, legs=(leg.length, detail.wrap),
                              turns=(-90.0,)))
    if isinstance(corner, GirthRefused):
        return Finding("stop", corner.reasons[0].replace("leg 2", "corner wrap"), field="wrap")
    if leg.length - 12 <= 0:
        return Finding("stop", f"{leg.name}: found {{0}}, expected more than {{1}} to cut a corner tab from",
                       field=leg.field, lengths=(leg.length, 12.0))
    return corner.bends[0]


def section_corners(profile: Profile, heading: float, datum: int, crossing: bool = False) -> NDArray[np.float64]:
    """The mould lines' places (out, up) as installed, from the line that runs along the roof's edge, shape (n, 2)."""
    first = 1 if profile.hem_a else 0
    corners = folded_points(profile, heading - (profile.hem_a.turn if profile.hem_a else 0.0))
    if not crossing:
        return np.asarray(corners - corners[datum + first])
    last = len(corners) - (3 if profile.hem_b else 2)  # where the last leg begins
    a, u = corners[first], corners[first + 1] - corners[first]
    b, v = corners[last], corners[last + 1] - corners[last]
    across = float(u[0] * v[1] - u[1] * v[0])
    if abs(across) < 1e-9 * float(np.linalg.norm(u) * np.linalg.norm(v)):
        return np.asarray(corners - corners[datum + first])
    share = float((b - a)[0] * v[1] - (b - a)[1] * v[0]) / across
    return np.asarray(corners - (a + share * u))


def plane_offsets(profile: Profile, heading: float, datum: int, normal: Normal, normal_b: Normal | None = None,
                  crossing: bool = False) -> tuple[float, ...] | None:
    """How far along the run each mould line meets a plane, counted from where the roof's edge does, mm.

    ``normal`` is (along the run, out, up); beyond the datum ``normal_b`` counts where it is given. ``None`` where a
    plane lies along the run.
    """
    corners = section_corners(profile, heading, datum, crossing)
    if any(abs(n[0]) < 1e-6 * math.hypot(*n) for n in (normal, normal_b or normal)):
        return None
    middle = datum + (1 if profile.hem_a else 0)
    return tuple(-float(corner @ np.array(n[1:])) / n[0] for k, corner in enumerate(corners)
                 for n in [normal_b if normal_b is not None and k > middle else normal])


def _run_ends(detail: Trim, sheet: Sheet, profile: Profile) -> tuple[End, End] | Finding:
    ends = []
    for side, plane, beyond, run_end in (
            ("left", detail.left_plane, detail.left_plane_b, detail.left),
            ("right", detail.right_plane, detail.right_plane_b, detail.right)):
        if plane is None:
            wraps = run_end == "wrap" and sheet.wrap_leg is not None
            ends.append(End("wrap", wrap=detail.wrap, wrap_leg=sheet.wrap_leg or 0) if wraps else End())
            continue
        along = plane_offsets(profile, sheet.heading, sheet.datum, plane, beyond, sheet.crossing)
        if along is None or max(abs(o) for o in along) > detail.length:
            return Finding("stop", f"{side} end: the plane of the cut runs along the piece, there is no end to cut",
                           field="length")
        ends.append(End("cut", offsets=tuple(-o for o in along) if side == "left" else along))
    return ends[0], ends[1]


def _cuts(detail: Trim, tab: Bend | None, ends: tuple[End, End]) -> tuple[Cut, ...] | RunTooHard:
    weather = detail.weather if detail.low is None else "right" if detail.low == "left" else "left"
    rules = SplitRules(detail.stock_length, detail.least_piece, detail.lap, weather, detail.joints)
    added = [end.added(tab.deduction if tab else 0.0) for end in ends]
    return split_run(detail.length, rules, max(0.0, added[0]), max(0.0, added[1]))


# -- pieces ---------------------------------------------------------------------------------------


def _piece(detail: Trim, sheet: Sheet, girth: Girth, tab: Bend | None, cuts: tuple[Cut, ...], ends: tuple[End, End],
           n: int) -> DetailPiece:
    cut, last = cuts[n], len(cuts) - 1
    left = ends[0] if n == 0 else End("under" if cut.under_left else "over", lap=detail.lap)
    right = ends[1] if n == last else End("under" if cut.under_right else "over", lap=detail.lap)
    plan = StripPlan(f"{detail.id}-{n + 1}", f"{sheet.name} {n + 1} of {len(cuts)}", girth, cut.share, left, right, tab)
    pattern = strip_pattern(plan, detail.nest_gap)
    return DetailPiece(pattern, _ledger(cut, left, right, tab), _hand(left, right),
                       (_note(left, n), _note(right, n + 2)), cut.start, cut.share, girth.profile,
                       detail.wrap if tab else 0.0)


def _hand(left: End, right: End) -> str:
    made = [end.kind in ("wrap", "cut") for end in (left, right)]
    return "both corners" if all(made) else "left hand" if made[0] else "right hand" if made[1] else "middle"


def _note(end: End, neighbour: int) -> EndNote:
    amount = end.wrap if end.kind == "wrap" else max(end.offsets, default=0.0) if end.kind == "cut" else end.lap
    return EndNote(end.kind, amount, neighbour)


def _ledger(cut: Cut, left: End, right: End, tab: Bend | None) -> Sum:
    terms = [Term("run share", cut.share)]
    for side, end in (("left", left), ("right", right)):
        if end.kind == "under":
            terms.append(Term(f"lap {side}", end.lap))
        if end.kind == "wrap":
            terms.append(Term(f"wrap {side}", end.wrap))
            terms.append(Term("fold of the wrap", -(tab.deduction if tab else 0.0)))
        if end.kind == "cut" and max(end.offsets) > 1e-9:
            terms.append(Term(f"slant {side}", max(end.offsets)))
    return Sum("blank", tuple(terms))


# -- what is said ---------------------------------------------------------------------------------


def _names(sheet: Sheet) -> dict[str, tuple[str, str]]:
    named = {f"leg {n}": (leg.name, leg.field) for n, leg in enumerate(sheet.legs, 1)}
    return named | {"hA": ("hem", "hem"), "hB": ("hem", "hem")}


def _in_leg_names(sheet: Sheet, reason: str) -> str:
    name, _, rest = reason.partition(":")
    return f"{_names(sheet).get(name, (name, ''))[0]}:{rest}"


def _leg_field(sheet: Sheet, reason: str) -> str:
    return _names(sheet).get(reason.partition(":")[0], ("", "pitch"))[1]


def _advice(detail: Trim, sheet: Sheet) -> list[Finding]:
    found = []
    for leg in sheet.legs:
        if leg.length > _OIL_CAN:
            found.append(Finding("look", f"{leg.name} {{0}} is likely to oil-can",
                                 "flat faces over about {1} want a rib, a hem or thicker metal", leg.field,
                                 (leg.length, _OIL_CAN)))
    if "wrap" in (detail.left, detail.right) and sheet.wrap_leg is not None and detail.wrap > _TONGS_DEPTH:
        found.append(Finding("look", "wrap {0} is deeper than ordinary tongs",
                             "hand tongs reach about {1}", "wrap", (detail.wrap, _TONGS_DEPTH)))
    if detail.length < detail.least_piece:
        found.append(Finding("look", "the whole run is shorter than the least piece of {0}",
                             "it is made as one piece all the same", "length", (detail.least_piece,)))
    return found


def _result(sheet: Sheet, profile: Profile, girth: Girth | None, pieces: tuple[DetailPiece, ...],
            findings: tuple[Finding, ...]) -> DetailResult:
    names = [leg.name for leg in sheet.legs]
    if sheet.hem_a:
        names.insert(0, "hem")
    if sheet.hem_b:
        names.append("hem")
    return DetailResult(profile, girth, tuple(names), tuple(leg.field for leg in sheet.legs),
                        _turn_fields(sheet), sheet.heading, sheet.around, pieces, findings, sheet.notes,
                        sheet.cautions, sheet.name)


def _turn_fields(sheet: Sheet) -> dict[str, str]:
    """Fold id → the field it follows from."""
    fields: dict[str, Any] = {f"f{n}": field for n, field in enumerate(sheet.turn_fields, 1)}
    return fields | ({"hA": "hem"} if sheet.hem_a else {}) | ({"hB": "hem"} if sheet.hem_b else {})
