"""A detail declares its section, the machinery here makes its pieces.

A run becomes pieces with laps, each end is prepared, every piece is laid flat, and its proof, hand and
ledger come with it. Nothing here knows one detail from another.
"""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache
from typing import Any

from yattle.details.common import DetailPiece, DetailResult, EndNote, Finding, Surrounding
from yattle.details.ends import PARTS, TITLES, by_sealant, ends_of, parts_of, tabs_of
from yattle.details.run_ends import run_ends, section_corners
from yattle.details.tapered import Taper, check_same_parts, far_of, laid_flat, twisted
from yattle.details.trim import Trim, TrimSection
from yattle.details.vents import perforated
from yattle.measure import Sum, Term
from yattle.pattern import End, Mark, Pattern, StripPlan, strip_pattern
from yattle.pattern.layout import end_reach, room_between
from yattle.pattern.marks import widest_line
from yattle.runs import RunPiece, RunTooHard, SplitRules, split_run
from yattle.section import Girth, GirthRefused, Profile, girth_of
from yattle.values import check

_OIL_CAN = 200.0
_HEMS = ("hA", "hB")  # as girths call them, from edge A
_LEAST_HEM = 0.5  # mm of a hem that its fold leaves flat
_ROOM = 1.0  # mm between a piece's two ends, wherever they are nearest
_TONGS_DEPTH = 50.0
_NO_LONGER = 1e-6  # mm
_DRAWN = 0.6  # mm: half as thick as the section at the right end is drawn


@lru_cache(maxsize=8192)
def develop(detail: Trim) -> DetailResult:
    """Section, pieces, proof and what to look at, or why it cannot be made."""
    sheet = detail.sheet()
    profile = _profile_of(detail, sheet)
    girth = girth_of(profile)
    if isinstance(girth, GirthRefused):
        findings = tuple(Finding("stop", _in_leg_names(sheet, text), field=_leg_field(sheet, text),
                                 strip=text.partition(":")[0]) for text in girth.reasons)
        return _result(sheet, profile, None, (), findings)
    wrong = _long_hem(sheet, girth) or _short_hem(sheet, girth) or _no_outlets(detail, sheet)
    if wrong is not None:
        return _result(sheet, profile, girth, (), (wrong,))
    taper = _taper_of(detail, sheet, profile) if detail.tapers else None
    if isinstance(taper, Finding):
        return _result(sheet, profile, girth, (), (taper,))
    twists = twisted(taper, sheet) if taper is not None else []
    if any(finding.level == "stop" for finding in twists):
        return _result(sheet, profile, girth, (), tuple(twists))
    ends = run_ends(detail, sheet, profile, taper)
    if isinstance(ends, Finding):
        return _result(sheet, profile, girth, (), (ends,))
    if taper is None and any(end.shaped for end in ends):  # the same section all along
        corners = section_corners(profile, sheet.heading, sheet.datum, sheet.crossing, sheet.aside)
        taper = Taper(corners, corners, detail.length)
    laid = _laid_out(detail, sheet, girth, ends, taper)
    if isinstance(laid, Finding):
        return _result(sheet, profile, girth, (), (laid,))
    made = _result(sheet, profile, girth, laid, (*_advice(detail, sheet), *sheet.looks, *twists))
    return made if taper is None or not detail.tapers else _as_tapered(made, detail, taper)


def _profile_of(detail: Trim, sheet: TrimSection) -> Profile:
    """A section as it is written down, in the detail's metal."""
    return check(lambda: Profile(
        name=sheet.name, metal=detail.metal, measured=detail.measured, legs=tuple(leg.length for leg in sheet.legs),
        turns=sheet.turns, hem_a=sheet.hem_a, hem_b=sheet.hem_b))


def _no_outlets(detail: Trim, sheet: TrimSection) -> Finding | None:
    """Why outlets cannot be cut: the section has no flat bottom, or one lies off the run."""
    stops = [look for look in sheet.looks if look.level == "stop"]
    off = [place for place, wide in detail.outlets if not wide / 2 < place < detail.length - wide / 2]
    if detail.outlets and not detail.takes_outlets:
        return Finding("stop", f"outlets: found {len(detail.outlets)} in a {sheet.name}, expected a gutter",
                       "mark them on the ready piece", "outlets")
    if off:
        return Finding("stop", "outlets: found one at {0}, expected a place on the run of {1}", "", "outlets",
                       (off[0], detail.length))
    return stops[0] if stops else None


def _taper_of(detail: Trim, sheet: TrimSection, profile: Profile) -> Taper | Finding:
    """The mould lines of a run that tapers, or why its right end's section cannot be folded."""
    far = far_of(detail)
    other = far.sheet()
    check_same_parts(sheet, other)
    last = _profile_of(detail, other)
    girth = girth_of(last)
    if isinstance(girth, GirthRefused):
        return Finding("stop", f"right end: {_in_leg_names(other, girth.reasons[0])}",
                       field=_leg_field(other, girth.reasons[0]))
    wrong = _long_hem(other, girth) or _short_hem(other, girth)
    if wrong is not None:
        return replace(wrong, text=f"right end: {wrong.text}")
    near, beyond = (section_corners(one, each.heading, each.datum, each.crossing, each.aside)
                    for one, each in ((profile, sheet), (last, other)))
    return Taper(near, beyond, detail.length)


def _as_tapered(made: DetailResult, detail: Trim, taper: Taper) -> DetailResult:
    """With what is said and drawn of a run that tapers."""
    from shapely import LineString  # only where a run tapers

    line = LineString(taper.right - taper.left[0]).buffer(_DRAWN, cap_style="flat", join_style="mitre")
    ring = tuple((float(x), float(y)) for x, y in line.exterior.coords[:-1])  # raw edge A of the left end is at 0, 0
    note = "Tapered: the fence is set at both ends of every fold; the first piece is tried at its right end too."
    return replace(made, name=f"{made.name}, tapered", notes=(*made.notes, note),
                   around=(*made.around, Surrounding("right end", ring)))


def _long_hem(sheet: TrimSection, girth: Girth) -> Finding | None:
    """Why a hem cannot lie on its leg: it would reach over the leg's other fold, or past its other edge."""
    pairs = ((sheet.hem_a, 0, 1, 0), (sheet.hem_b, -1, -2, -1))
    for hem, own, beside, leg in pairs:
        if hem is not None and girth.flats[own] > girth.flats[beside] + 1e-9:
            most = hem.length - (girth.flats[own] - girth.flats[beside])
            return Finding("stop", f"hem: {{0}} reaches over the end of its leg, {sheet.legs[leg].name} {{1}}; at most "
                           "{2} lies on it", "a shorter hem or a longer leg", "hem",
                           (hem.length, sheet.legs[leg].length, max(0.0, math.floor(most * 10) / 10)),
                           strip=_HEMS[own])
    return None


def _short_hem(sheet: TrimSection, girth: Girth) -> Finding | None:
    """Why a hem cannot be folded: its fold takes more than there is of it."""
    for hem, own, bend in ((sheet.hem_a, 0, 0), (sheet.hem_b, -1, -1)):
        takes = girth.bends[bend].deduction if hem is not None else 0.0
        if hem is not None and girth.flats[own] < takes / 2 + _LEAST_HEM:
            least = hem.length + takes / 2 + _LEAST_HEM - girth.flats[own]
            return Finding("stop", "hem: found {0}, expected more than {1}: its fold takes that",
                           "a longer hem, or none", "hem", (hem.length, math.ceil(least * 10) / 10), strip=_HEMS[own])
    return None


def _cuts(detail: Trim, reach: tuple[float, float], ends: list[float],
          more: float) -> tuple[RunPiece, ...] | RunTooHard:
    """The run cut up; ``reach``: how far its own ends go beyond it, ``ends``: the shortest share at either of them,
    ``more``: what is left of the stock's length, mm."""
    own = detail.own_cuts()
    if own:
        return own
    weather = detail.weather if detail.low is None else "right" if detail.low == "left" else "left"
    near = tuple((place - wide - detail.lap, place + wide + detail.lap) for place, wide in detail.outlets)
    slant = ((0.0, ends[0]), (detail.length - ends[1], detail.length))
    least = max(detail.least_piece, detail.lap)  # a share under its lap would not fill it
    rules = SplitRules(detail.stock_length - more, least, detail.lap, weather, detail.joints,
                       (*detail.avoid, *near, *(one for one, long in zip(slant, ends, strict=True) if long)))
    made = split_run(detail.length, rules, *reach)
    if isinstance(made, RunTooHard) and any(ends):  # what is left beside a long slant may be short
        made = split_run(detail.length, replace(rules, least_piece=detail.lap), *reach)
    return made


# -- pieces ---------------------------------------------------------------------------------------


def _laid_out(detail: Trim, sheet: TrimSection, girth: Girth, ends: tuple[End, End],
              taper: Taper | None = None, more: float = 0.0) -> tuple[DetailPiece, ...] | Finding:
    """The pieces of the run, or why there are none. Where a slanting end leaves too little of its share, that is made
    longer, if the run is; where a taper makes a piece longer than its stock, each leaves ``more`` mm of it."""
    reach = _reach(girth, ends[0], detail.nest_gap), _reach(girth, ends[1], detail.nest_gap)
    wanted = [0.0, 0.0]
    while True:
        cuts = _cuts(detail, reach, wanted, more)
        if isinstance(cuts, RunTooHard):
            return Finding("stop", cuts.says, field=cuts.field)
        plans = [_plan_of(detail, sheet, girth, cuts, ends, n) for n in range(len(cuts))]
        short = [(n, plan.share + _ROOM - room) for n, plan in enumerate(plans)
                 if (room := room_between(plan, detail.nest_gap)) < _ROOM]
        if not short:
            made = tuple(_piece(detail, girth, cuts, ends, n, plan, taper) for n, plan in enumerate(plans))
            over = max(piece.pattern.length for piece in made) - detail.stock_length
            if taper is None or over <= _NO_LONGER:
                return made
            if more > 0.2 * detail.stock_length:
                return Finding("stop", "a piece of {0} is longer than the stock of {1}, however short its share",
                               "a gentler taper, or longer stock", "length",
                               (detail.stock_length + over, detail.stock_length))
            return _laid_out(detail, sheet, girth, ends, taper, more + over + _ROOM)
        n, share = max(short, key=lambda one: one[1])
        side = 0 if n == 0 else 1
        if len(cuts) == 1 or detail.own_cuts() or share > detail.stock_length or share <= wanted[side]:
            return _ends_meet(detail, math.ceil(share))
        wanted[side] = share


def _reach(girth: Girth, end: End, clearance: float) -> float:
    """How far an end's outline goes beyond its share, with the flaps of a cut one, mm."""
    flaps = [tab.length for tab in end.tabs] if end.shaped else []
    return end_reach(girth, replace(end, back=()), clearance) + max(flaps, default=0.0)


def _ends_meet(detail: Trim, wanted: float) -> Finding:
    if wanted <= detail.length:
        return Finding("stop", "a slanting end takes {0} of a piece, the stock is {1} long",
                       "longer stock, square ends, or a piece shaped by hand", "stock_length",
                       (wanted, detail.stock_length))
    return Finding("stop", "the two ends meet: found {0}, at least {1} is wanted between them",
                   "a longer run, square ends, or a piece shaped by hand", "length", (detail.length, wanted),
                   short=True)


def _plan_of(detail: Trim, sheet: TrimSection, girth: Girth, cuts: tuple[RunPiece, ...], ends: tuple[End, End],
             n: int) -> StripPlan:
    cut, last = cuts[n], len(cuts) - 1
    nested, each = detail.joint == "nested", bool(detail.own_cuts())
    left = ends[0] if each or n == 0 else End("under" if cut.under_left else "over", lap=detail.lap, nested=nested)
    right = ends[1] if each or n == last else End("under" if cut.under_right else "over", lap=detail.lap, nested=nested)
    return StripPlan(f"{detail.id}-{n + 1}", f"{sheet.name} {n + 1} of {len(cuts)}", girth, cut.share, left, right,
                     detail.marks(girth, cut), cut.count)


def _piece(detail: Trim, girth: Girth, cuts: tuple[RunPiece, ...], ends: tuple[End, End], n: int,
           plan: StripPlan, taper: Taper | None = None) -> DetailPiece:
    cut, left, right = cuts[n], plan.left, plan.right
    names = detail.left if left is ends[0] else "", detail.right if right is ends[1] else ""
    up = {"left": ", upslope →", "right": ", ← upslope"}.get(detail.low or "", "")
    hand = _hand(left, right)
    said = f"{plan.id} {hand}{up}"
    shaped = taper is not None and (detail.tapers or left.shaped or right.shaped)
    flat = laid_flat(detail, taper, plan, cut, said) if taper is not None and shaped else None
    pattern = _named(strip_pattern(plan, detail.nest_gap), girth, said) if flat is None else flat.pattern
    pattern = perforated(pattern, detail.holes(girth, cut) if flat is None else flat.holes)
    return DetailPiece(pattern, _ledger(cut, left, right, pattern.length, bool(detail.tapers)), hand,
                       (_note(left, names[0], n, detail.left_also), _note(right, names[1], n + 2, detail.right_also)),
                       cut.start, cut.share, girth.profile,
                       (*left.tabs, *right.tabs), (
                           tuple((-a, -b) for a, b in left.parts) if left.kind == "cut" else None,
                           tuple((cut.share + a, cut.share + b) for a, b in right.parts) if right.kind == "cut"
                           else None), None if flat is None else flat.unfolded,
                       taper.girths(girth.profile, cut) if taper is not None and detail.tapers else None)


def _named(piece: Pattern, girth: Girth, text: str) -> Pattern:
    """The pattern with its number, hand and upslope end written on the widest part, near the left end of it."""
    edges = (0.0, *(bend.mark for bend in girth.bends), girth.girth)
    widest = max(range(len(edges) - 1), key=lambda k: edges[k + 1] - edges[k])
    y = girth.girth - (edges[widest] + edges[widest + 1]) / 2
    reach = widest_line(piece.outline, y)
    if reach is None:
        return piece
    x, wide = reach[0], reach[1] - reach[0]
    start, long = x + min(200.0, 0.1 * wide), min(40.0, 0.1 * wide)  # beyond the letters of folds at the end
    return piece.but(marks=(*piece.marks, Mark(a=(start, y), b=(start + long, y), text=text)))


def _hand(left: End, right: End) -> str:
    made = [end.kind in ("tabs", "cut") or end.hem_cut for end in (left, right)]
    return "both corners" if all(made) else "left hand" if made[0] else "right hand" if made[1] else "middle"


def _note(end: End, name: str, neighbour: int, parts: tuple[str, ...]) -> EndNote:
    amount = _furthest(end) if end.kind == "cut" else end.tabs[-1].length if end.tabs else end.lap
    also = ", ".join(PARTS[part] for part in parts) if name else ""  # of the run's own ends alone
    named = TITLES.get(name, "") if end.tabs or end.hem_cut else ""
    return EndNote(end.kind, amount, neighbour, "" if also and name == "plain" else named, end.nested,
                   end.tabs[0].by if end.tabs else "tongs", also)


def _furthest(end: End) -> float:
    """How far a cut end reaches beyond the share's end where it reaches furthest, mm."""
    return max((place for part in end.parts for place in part), default=0.0)


def _ledger(cut: RunPiece, left: End, right: End, blank: float, tapers: bool = False) -> Sum:
    terms = [Term("run share", cut.share)]
    for side, end in (("left", left), ("right", right)):
        if end.kind == "under":
            terms.append(Term(f"lap {side}", end.lap))
        if end.tabs:
            longest = max(end.tabs, key=lambda tab: tab.length - tab.deduction)
            terms.append(Term(f"tab {side}", longest.length))
            terms.append(Term("fold of the tab", -longest.deduction))
        if end.past:
            terms.append(Term("panel overhang", end.past))
        if end.kind == "cut" and _furthest(end) > 1e-9:
            terms.append(Term(f"slant {side}", _furthest(end) - end.carry - end.past))
            if end.carry:
                terms.append(Term(f"{end.carried} {side}", end.carry))
    rest = blank - sum(term.amount for term in terms)
    if abs(rest) > 1e-9 and (tapers or "cut" in (left.kind, right.kind)):  # it comes to its plane only when folded
        terms.append(Term("the taper, along its longest fold" if tapers else "the slant, at its fold", rest))
    return Sum("blank", tuple(terms))


# -- what is said ---------------------------------------------------------------------------------


def _names(sheet: TrimSection) -> dict[str, tuple[str, str]]:
    named = {f"leg {n}": (leg.name, leg.field) for n, leg in enumerate(sheet.legs, 1)}
    return named | {"hA": ("hem", "hem"), "hB": ("hem", "hem")}


def _in_leg_names(sheet: TrimSection, reason: str) -> str:
    name, _, rest = reason.partition(":")
    return f"{_names(sheet).get(name, (name, ''))[0]}:{rest}"


def _leg_field(sheet: TrimSection, reason: str) -> str:
    return _names(sheet).get(reason.partition(":")[0], ("", "pitch"))[1]


def _advice(detail: Trim, sheet: TrimSection) -> list[Finding]:
    found = []
    for leg in sheet.legs:
        if leg.length > _OIL_CAN:
            found.append(Finding("look", f"{leg.name} {{0}} is likely to oil-can",
                                 "flat faces over about {1} want a rib, a hem or thicker metal", leg.field,
                                 (leg.length, _OIL_CAN)))
    for name in dict.fromkeys((detail.left, detail.right)):
        depths = [length for _, length, turn in tabs_of(detail, sheet, name) if abs(turn) < 180]
        if max(depths, default=0.0) > _TONGS_DEPTH and detail.flaps == "tongs":
            source = next((f for f in ("wrap", "kick_out") if getattr(detail, f) == max(depths)), "tab")
            found.append(Finding("look", f"{TITLES[name]} {{0}} is deeper than ordinary tongs",
                                 "hand tongs reach about {1}: fold it on the brake or between two boards, before the "
                                 "long folds",
                                 source, (max(depths), _TONGS_DEPTH)))
        if by_sealant(name):
            found.append(Finding("look", f"{TITLES[name]}: its corner stands by rivets and sealant alone",
                                 "a soldered or folded corner lasts longer",
                                 "left" if name == detail.left else "right"))
    if detail.length < detail.least_piece and not detail.own_cuts():
        found.append(Finding("look", "the whole run is shorter than the least piece of {0}",
                             "it is made as one piece all the same", "length", (detail.least_piece,)))
    return found


def _result(sheet: TrimSection, profile: Profile, girth: Girth | None, pieces: tuple[DetailPiece, ...],
            findings: tuple[Finding, ...]) -> DetailResult:
    names = [leg.name for leg in sheet.legs]
    if sheet.hem_a:
        names.insert(0, "hem")
    if sheet.hem_b:
        names.append("hem")
    return DetailResult(profile, girth, tuple(names), tuple(leg.field for leg in sheet.legs),
                        _turn_fields(sheet), sheet.heading, sheet.around, pieces, findings, sheet.notes,
                        sheet.cautions, sheet.name, ends_of(sheet), parts_of(sheet), sheet.roles)


def _turn_fields(sheet: TrimSection) -> dict[str, str]:
    """Fold id → the field it follows from."""
    fields: dict[str, Any] = {f"f{n}": field for n, field in enumerate(sheet.turn_fields, 1)}
    return fields | ({"hA": "hem"} if sheet.hem_a else {}) | ({"hB": "hem"} if sheet.hem_b else {})
