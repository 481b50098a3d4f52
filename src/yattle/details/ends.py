"""The ends library: how a run can begin and finish, by what the legs of its section do.

A section says what its legs are for (:class:`Roles`); which ends it can have follows from that, and each end is made of
the same few things: flaps turned to either side, hems cut off at 45°, a cut by a plane.
"""

from __future__ import annotations

import math
from dataclasses import replace

from yattle.details.common import Finding
from yattle.details.trim import Trim, TrimSection
from yattle.errors import InputError
from yattle.pattern import End, Tab
from yattle.section import GirthRefused, Hem, Profile, girth_of

TITLES: dict[str, str] = {
    "plain": "square", "wrap": "outer corner wrap", "wrap-in": "inner corner wrap",
    "tab": "one tab folded down flush", "box": "boxed, tabs riveted inside", "cap": "closed by end tabs",
    "dam": "end dam turned up", "turn-down": "turned down over the rake", "kick-out": "kick-out with a dam",
    "wall-out": "round the wall's outer corner",
    "wall-in": "into the wall's inner corner", "hem-45": "hems cut at 45°", "plumb": "cut plumb",
    "lock-down": "lock, turned under", "lock-up": "lock, turned over",
}
"""Every end with what it is called."""
LEAST = 12.0  # mm: a narrower leg leaves nothing between its relief cuts
_KICKS = 1.0  # degrees: what is turned by less is part of the face
KICK_TURN = 60.0  # degrees a kick-out is turned away from the wall
_SEALED = {"kick-out", "wall-in"}  # the corner stands by rivets and sealant


def ends_of(sheet: TrimSection, sloping: bool = True) -> tuple[str, ...]:
    """The ends that a section can have, in the order of :data:`TITLES`."""
    roles, has_hem = sheet.roles, bool(sheet.hem_a or sheet.hem_b)
    walled = roles.wall is not None and bool(roles.water) and roles.wall not in roles.water  # a leg takes one flap
    can = {"plain": True, "wrap": roles.face is not None, "wrap-in": roles.face is not None,
           "tab": roles.face is not None, "box": roles.face is not None and roles.face > 0, 
           "cap": bool(roles.wings or roles.cap),
           "dam": bool(roles.water), "turn-down": bool(roles.water), "kick-out": walled,
           "wall-out": roles.wall is not None, "wall-in": walled,
           "hem-45": has_hem, "plumb": sloping, "lock-down": True, "lock-up": True}
    return tuple(name for name, possible in can.items() if possible)


def by_sealant(name: str) -> bool:
    """Whether the corner that this end makes stands by rivets and sealant alone."""
    return name in _SEALED


def tabs_of(detail: Trim, sheet: TrimSection, name: str) -> list[tuple[int, float, float]]:
    """The flaps of an end as (leg, length mm, turn degrees, + toward the paint face), the first folded first."""
    roles = sheet.roles
    face = roles.face if roles.face is not None else 0
    flat = [n for n, leg in enumerate(sheet.legs) if leg.length > 2 * LEAST]
    dams = [(leg, detail.tab, 90.0) for leg in roles.water]
    return {
        "wrap": [(face, detail.wrap, -90.0)], "wrap-in": [(face, detail.wrap, 90.0)],
        "tab": [(face, detail.tab, -90.0)],
        "box": [(face - 1, detail.box_tab, -90.0), (face, detail.wrap, -90.0)],
        "cap": [(leg, depth, -90.0) for leg, depth in roles.cap or ((leg, detail.tab) for leg in roles.wings)],
        "dam": dams,
        "turn-down": [(leg, detail.wrap, -90.0) for leg in roles.water],
        "kick-out": [*dams, (roles.wall or 0, detail.kick_out, KICK_TURN)],
        "wall-out": [(roles.wall or 0, detail.kick_out, -90.0)],
        "wall-in": [*dams, (roles.wall or 0, detail.kick_out, 90.0)],
        "lock-down": [(leg, detail.tab, -180.0) for leg in flat], "lock-up": [(leg, detail.tab, 180.0) for leg in flat],
    }.get(name, [])


PARTS: dict[str, str] = {
    "top-tab": "tab on the top leg", "face-tab": "tab on the face", "wrap": "face wrapped round",
    "dam": "dam turned up", "hem-45": "hems at 45°", "drip-back": "kick and its hem cut back"}
"""What an end can have besides, with what it is called."""


def parts_of(sheet: TrimSection) -> tuple[str, ...]:
    """The parts that an end of a section can have besides."""
    face, roles = sheet.roles.face, sheet.roles
    can = {"top-tab": face is not None and face > 0, "face-tab": face is not None, "wrap": face is not None,
           "dam": bool(roles.water), "hem-45": bool(sheet.hem_a or sheet.hem_b),
           "drip-back": face is not None and face < len(sheet.legs) - 1}
    return tuple(name for name, possible in can.items() if possible)


def with_parts(detail: Trim, sheet: TrimSection, end: End, names: tuple[str, ...]) -> End | Finding:
    """An end with more parts; what stops one of them. Raises :class:`InputError` for parts that the section cannot
    have, or two on one leg."""
    for name in names:
        if name not in parts_of(sheet):
            raise InputError("also", repr(name), f"parts that a {sheet.name} can have: {', '.join(parts_of(sheet))}")
    if "drip-back" in names and abs(sheet.turns[sheet.roles.face or 0]) < _KICKS:
        raise InputError("also", f"'drip-back' where the kick is turned by {sheet.turns[sheet.roles.face or 0]:.2f}°",
                         f"a kick turned by {_KICKS:g}° or more, or no such cut")
    tabs, shift = list(end.tabs), 1 if sheet.hem_a else 0
    for name in names:
        for leg, length, turn in _flaps_of(detail, sheet, name):
            if any(tab.leg == leg + shift for tab in tabs):
                raise InputError("also", repr(name), f"one flap on the {sheet.legs[leg].name}, it has one already")
            tab = _tab(detail, sheet, leg, length, turn)
            if isinstance(tab, Finding):
                return tab
            tabs.append(tab)
    kind = "tabs" if tabs and end.kind == "plain" else end.kind
    return replace(end, kind=kind, tabs=tuple(tabs), hem_cut=end.hem_cut or "hem-45" in names,
                   back=_cut_back(sheet) if "drip-back" in names else end.back)


def _flaps_of(detail: Trim, sheet: TrimSection, name: str) -> list[tuple[int, float, float]]:
    """The flaps of a part as (leg, mm, degrees): those of the top leg as long as the plumb cut is high."""
    face = sheet.roles.face or 0
    steep = max(math.cos(math.radians(detail.slope)), 0.3)
    return {"top-tab": [(face - 1, detail.box_tab / steep, -90.0)], "face-tab": [(face, detail.tab, -90.0)],
            "wrap": [(face, detail.wrap, -90.0)],
            "dam": [(leg, detail.tab, 90.0) for leg in sheet.roles.water]}.get(name, [])


def _cut_back(sheet: TrimSection) -> tuple[float, ...]:
    """How much sooner each flat part ends where the kick is cut back: what comes after the face, by its own width."""
    face, last = sheet.roles.face or 0, len(sheet.legs) - 1
    legs = tuple(leg.length if n > face else 0.0 for n, leg in enumerate(sheet.legs))
    return (*((0.0,) if sheet.hem_a else ()), *legs, *((legs[last],) if sheet.hem_b else ()))


def made_end(detail: Trim, sheet: TrimSection, name: str) -> End | Finding:
    """The end of that name for this section in this metal, or what stops it."""
    if name == "hem-45":
        return End(hem_cut=True)
    flaps = tabs_of(detail, sheet, name)
    if not flaps:
        return End()
    tabs = []
    for leg, length, turn in flaps:
        tab = _tab(detail, sheet, leg, length, turn)
        if isinstance(tab, Finding):
            return tab
        tabs.append(tab)
    return End("tabs", tabs=tuple(tabs))


def _tab(detail: Trim, sheet: TrimSection, leg: int, length: float, turn: float) -> Tab | Finding:
    named, width = sheet.legs[leg].name, sheet.legs[leg].length
    field = sheet.legs[leg].field
    if width <= LEAST:
        return Finding("stop", f"{named}: found {{0}}, expected more than {{1}} to cut a tab from", field=field,
                       lengths=(width, LEAST))
    lock = abs(turn) == 180
    hem = Hem(kind="closed", length=length, toward="paint" if turn > 0 else "back") if lock else None
    corner = girth_of(Profile(metal=detail.metal, measured=detail.measured, legs=(width,) if lock else (width, length),
                              turns=() if lock else (turn,), hem_b=hem))
    if isinstance(corner, GirthRefused):
        said = corner.reasons[0].replace("leg 2", f"tab of the {named}").replace("hB", f"lock of the {named}")
        source = next((name for name in ("wrap", "kick_out") if getattr(detail, name) == length), "tab")
        return Finding("stop", said, field=source)
    return Tab(leg + (1 if sheet.hem_a else 0), length, turn, corner.bends[-1].deduction, detail.flaps)


def plumb_normal(slope: float, low_left: bool) -> tuple[float, float, float]:
    """The plumb plane square to a run sloping by ``slope`` degrees, as (along from left to right, out, up)."""
    rise = math.radians(slope) * (1 if low_left else -1)
    return (math.cos(rise), 0.0, -math.sin(rise))
