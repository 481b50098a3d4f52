"""Eave drip: lies on the deck, turns down over the fascia, kicks the water off.

From edge A (upslope) to edge B: the deck flange, the face, the kick, its hem. The paint
face is up on the roof and out on the face, so the fold over the eave is toward the back by
90° − pitch, the kick toward the paint face, the hem toward the back.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field

from yattle.details.common import DetailPiece, DetailResult, EndNote, Finding, Surrounding
from yattle.errors import InputError
from yattle.measure import Sum, Term
from yattle.pattern import End, StripPlan, strip_pattern
from yattle.runs import Cut, RunTooHard, SplitRules, split_run
from yattle.section import Girth, GirthRefused, MetalSpec, Profile, girth_of
from yattle.section.girth import Bend
from yattle.values import Value, check

_OIL_CAN = 200.0
_TONGS_DEPTH = 50.0
Positive = Annotated[float, Field(gt=0)]
RunEnd = Literal["wrap", "plain"]


class EaveDrip(Value):
    """An eave drip along one run, every measure resolved; mm and degrees.

    ``pitch`` of the roof (0 to under 90), ``length`` of the run, ``left`` and ``right`` ends as
    seen facing the eave, ``hem`` 0 for a raw edge, ``weather`` the end the wind and rain come from.
    """

    format: Literal["yattle-detail/1"] = "yattle-detail/1"
    detail: Literal["eave-drip"] = "eave-drip"
    id: str = "E1"
    pitch: Annotated[float, Field(ge=0, lt=90)]
    length: Positive
    metal: MetalSpec
    measured: Literal["outside", "inside"] = "outside"
    flange: Positive = 85.0
    face: Positive = 95.0
    kick: Positive = 18.0
    kick_turn: Annotated[float, Field(gt=0, lt=180)] = 42.0
    hem: Annotated[float, Field(ge=0)] = 12.0
    lap: Positive = 80.0
    wrap: Positive = 34.0
    nest_gap: Annotated[float, Field(ge=0)] = 2.0
    stock_length: Positive = 3000.0
    least_piece: Positive = 500.0
    left: RunEnd = "wrap"
    right: RunEnd = "wrap"
    weather: Literal["left", "right"] = "left"
    joints: Literal["even", "full"] = "even"


@lru_cache(maxsize=512)
def develop_eave_drip(detail: EaveDrip) -> DetailResult:
    """Sections, pieces, proof and what to look at, or why it cannot be made."""
    profile = eave_profile(detail)
    girth = girth_of(profile)
    if isinstance(girth, GirthRefused):
        findings = tuple(Finding("stop", _in_leg_names(text), field=_leg_field(text)) for text in girth.reasons)
        return _result(detail, profile, None, (), findings)
    tab = _tab_fold(detail)
    if isinstance(tab, Finding):
        return _result(detail, profile, girth, (), (tab,))
    cuts = _cuts(detail, tab)
    if isinstance(cuts, RunTooHard):
        return _result(detail, profile, girth, (), (Finding("stop", cuts.says, field=cuts.field),))
    pieces = tuple(_piece(detail, girth, tab, cuts, n) for n in range(len(cuts)))
    return _result(detail, profile, girth, pieces, tuple(_advice(detail)))


def eave_profile(detail: EaveDrip) -> Profile:
    """The section: its first fold is 90° less the pitch, so that flange and face suit deck and fascia."""
    hem = {"kind": "closed", "length": detail.hem, "toward": "back"} if detail.hem else None
    return check(lambda: Profile(
        name="eave drip", metal=detail.metal, measured=detail.measured,
        legs=(detail.flange, detail.face, detail.kick),
        turns=(detail.pitch - 90.0, detail.kick_turn), hem_b=hem))  # type: ignore[arg-type]


def _tab_fold(detail: EaveDrip) -> Bend | Finding | None:
    """A square fold in this metal for the corner tabs, by the same allowance as the long folds."""
    if "wrap" not in (detail.left, detail.right):
        return None
    corner = girth_of(Profile(metal=detail.metal, measured=detail.measured,
                              legs=(detail.face, detail.wrap), turns=(-90.0,)))
    if isinstance(corner, GirthRefused):
        return Finding("stop", corner.reasons[0].replace("leg 2", "corner wrap"), field="wrap")
    room = detail.face - 12
    if room <= 0:
        return Finding("stop", "face: found {0}, expected more than {1} to cut a corner tab from",
                       field="face", lengths=(detail.face, 12.0))
    return corner.bends[0]


def _cuts(detail: EaveDrip, tab: Bend | None) -> tuple[Cut, ...] | RunTooHard:
    rules = SplitRules(detail.stock_length, detail.least_piece, detail.lap, detail.weather, detail.joints)
    added = detail.wrap - (tab.deduction if tab else 0.0)
    return split_run(detail.length, rules, added if detail.left == "wrap" else 0.0,
                     added if detail.right == "wrap" else 0.0)


def _piece(detail: EaveDrip, girth: Girth, tab: Bend | None, cuts: tuple[Cut, ...], n: int) -> DetailPiece:
    cut, last = cuts[n], len(cuts) - 1
    left = _end(detail, detail.left, n == 0, cut.under_left)
    right = _end(detail, detail.right, n == last, cut.under_right)
    plan = StripPlan(f"{detail.id}-{n + 1}", f"eave drip {n + 1} of {len(cuts)}", girth, cut.share, left, right, tab)
    pattern = strip_pattern(plan, detail.nest_gap)
    hand = {("wrap", "wrap"): "both corners"}.get((left.kind, right.kind)) or (
        "left hand" if left.kind == "wrap" else "right hand" if right.kind == "wrap" else "middle")
    return DetailPiece(pattern, _ledger(detail, cut, left, right, tab), hand,
                       (_note(left, n), _note(right, n + 2)), cut.start, cut.share, girth.profile, detail.wrap)


def _end(detail: EaveDrip, run_end: RunEnd, at_end: bool, under: bool) -> End:
    if at_end:
        return End("wrap", wrap=detail.wrap) if run_end == "wrap" else End()
    return End("under" if under else "over", lap=detail.lap)


def _note(end: End, neighbour: int) -> EndNote:
    return EndNote(end.kind, end.wrap if end.kind == "wrap" else end.lap, neighbour)


def _ledger(detail: EaveDrip, cut: Cut, left: End, right: End, tab: Bend | None) -> Sum:
    terms = [Term("run share", cut.share)]
    for side, end in (("left", left), ("right", right)):
        if end.kind == "under":
            terms.append(Term(f"lap {side}", end.lap))
        if end.kind == "wrap":
            terms.append(Term(f"wrap {side}", end.wrap))
            terms.append(Term("fold of the wrap", -(tab.deduction if tab else 0.0)))
    return Sum("blank", tuple(terms))


_LEGS = {"leg 1": ("deck flange", "flange"), "leg 2": ("face", "face"), "leg 3": ("kick", "kick"),
         "hB": ("hem", "hem")}


def _in_leg_names(reason: str) -> str:
    name, _, rest = reason.partition(":")
    return f"{_LEGS.get(name, (name, ''))[0]}:{rest}"


def _leg_field(reason: str) -> str:
    return _LEGS.get(reason.partition(":")[0], ("", "pitch"))[1]


def _advice(detail: EaveDrip) -> list[Finding]:
    found = []
    if detail.face > _OIL_CAN:
        found.append(Finding("look", "face {0} is likely to oil-can",
                             "flat faces over about {1} want a rib, a hem or thicker metal", "face",
                             (detail.face, _OIL_CAN)))
    if "wrap" in (detail.left, detail.right) and detail.wrap > _TONGS_DEPTH:
        found.append(Finding("look", "wrap {0} is deeper than ordinary tongs",
                             "hand tongs reach about {1}", "wrap", (detail.wrap, _TONGS_DEPTH)))
    if detail.length < detail.least_piece:
        found.append(Finding("look", "the whole run is shorter than the least piece of {0}",
                             "it is made as one piece all the same", "length", (detail.least_piece,)))
    if detail.hem and detail.hem + detail.nest_gap > detail.kick:
        found.append(Finding("look", "hem {0} is longer than the kick leaves room for in a lap",
                             "the kick is cut away over the whole lap", "hem", (detail.hem,)))
    return found


def _result(detail: EaveDrip, profile: Profile, girth: Girth | None, pieces: tuple[DetailPiece, ...],
            findings: tuple[Finding, ...]) -> DetailResult:
    names, fields = ["deck flange", "face", "kick"], ["flange", "face", "kick"]
    if detail.hem:
        names.append("hem")
        fields.append("hem")
    return DetailResult(
        profile, girth, tuple(names), tuple(fields), ("pitch", "kick_turn", "hem")[: len(fields) - 1],
        -detail.pitch, _around(detail), pieces, findings,
        ("Hook and lap from the lee end toward the weather.",
         "Open the receiving hem a little before nesting."),
        ("Cut edges are sharp: wear gloves.", "Two people for a long piece; never in wind."))


def _around(detail: EaveDrip) -> tuple[Surrounding, ...]:
    """Deck and fascia behind the section; the origin is raw edge A, x out of the building, y up."""
    slope = math.radians(detail.pitch)
    down = (math.cos(slope), -math.sin(slope))
    eave = (detail.flange * down[0], detail.flange * down[1])
    thick, beyond, off = 22.0, 40.0, 2.0
    top = (-beyond * down[0], -beyond * down[1] - off)
    foot = (eave[0] - off, eave[1] - off)
    depth = thick / max(math.cos(slope), 0.2)
    deck = (top, foot, (foot[0], foot[1] - depth), (top[0], top[1] - depth))
    fascia = ((foot[0], foot[1] - depth), (foot[0], foot[1] - detail.face * 1.08),
              (foot[0] - 24, foot[1] - detail.face * 1.08),
              (foot[0] - 24, foot[1] - depth + 24 * math.tan(min(slope, 1.2))))
    return (Surrounding("deck", deck), Surrounding("fascia", fascia))


def check_pitch(pitch: float, field: str = "pitch") -> float:
    """``pitch`` in degrees if an eave drip can be made for it, else :class:`InputError`."""
    if 0 <= pitch <= 80:
        return pitch
    raise InputError(field, f"{pitch:g}°", "a roof pitch from 0° to 80°")
