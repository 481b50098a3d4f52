"""How the two ends of a run are cut: where its mould lines meet the planes there, or which flaps close it."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from yattle.details.common import Finding
from yattle.details.ends import ends_of, made_end, plumb_normal, with_parts
from yattle.details.tapered import Taper, far_of
from yattle.details.trim import Normal, Trim, TrimSection
from yattle.errors import InputError
from yattle.pattern import End
from yattle.pattern.ends import CornerOff
from yattle.section import Profile, folded_points

_ALONG = 0.05  # of a plane's unit normal along the piece: a plane with less lies along it


def section_corners(profile: Profile, heading: float, datum: int, crossing: bool = False,
                    aside: float = 0.0) -> NDArray[np.float64]:
    """The mould lines' places (out, up) as installed, from the line that runs along the roof's edge, shape (n, 2);
    ``aside``: how far out from that line the datum's corner lies, mm."""
    first = 1 if profile.hem_a else 0
    corners = folded_points(profile, heading - (profile.hem_a.turn if profile.hem_a else 0.0))
    if not crossing:
        return np.asarray(corners - corners[datum + first] + np.array([aside, 0.0]))
    last = len(corners) - (3 if profile.hem_b else 2)  # where the last leg begins
    a, u = corners[first], corners[first + 1] - corners[first]
    b, v = corners[last], corners[last + 1] - corners[last]
    across = float(u[0] * v[1] - u[1] * v[0])
    if abs(across) < 1e-9 * float(np.linalg.norm(u) * np.linalg.norm(v)):
        return np.asarray(corners - corners[datum + first])
    share = float((b - a)[0] * v[1] - (b - a)[1] * v[0]) / across
    return np.asarray(corners - (a + share * u))


def plane_offsets(profile: Profile, heading: float, datum: int, normal: Normal,
                  crossing: bool = False, aside: float = 0.0) -> tuple[float, ...]:
    """How far along the run each mould line meets a plane, counted from where the roof's edge does, mm. ``normal`` is
    (along the run, out, up); the plane must not lie along the run."""
    corners = section_corners(profile, heading, datum, crossing, aside)
    return tuple((-(corners @ np.array(normal[1:])) / normal[0]).tolist())


def part_ends(detail: Trim, sheet: TrimSection, profile: Profile, side: Literal["left", "right"],
              taper: Taper | None = None) -> tuple[tuple[float, float], ...] | None:
    """How far along the run each flat part ends, on its mould line toward edge A and on that toward edge B, hems
    included, mm from where the run ends; ``None`` where a plane lies along the run."""
    ways = _planes_of(detail, side)
    if any(abs(normal[0]) < _ALONG * math.hypot(*normal) for normal, _ in ways):
        return None
    sign = -1.0 if side == "left" else 1.0
    at = 0.0 if side == "left" else detail.length
    a, b = ([place + sign * reach for place in (
        plane_offsets(profile, sheet.heading, sheet.datum, normal, sheet.crossing, sheet.aside) if taper is None
        else taper.meets(normal, at + sign * reach))] for normal, reach in ways)
    middle = sheet.datum + (1 if profile.hem_a else 0)
    return tuple((own[k], own[k + 1]) for k in range(len(a) - 1) for own in [a if k < middle else b])


def _planes_of(detail: Trim, side: Literal["left", "right"]) -> list[tuple[Normal, float]]:
    """The planes that cut an end, on the side of edge A and on that of edge B, and how far beyond it they stand."""
    plane, beyond, at = (detail.left_plane, detail.left_plane_b, 0) if side == "left" else (
        detail.right_plane, detail.right_plane_b, 2)
    if plane is None:  # cut plumb by name: where the panels end
        past = detail.past if detail.low == side else 0.0
        return [(plumb_normal(detail.slope, detail.low == "left"), past)] * 2
    return [(plane, detail.reaches[at]), (beyond or plane, detail.reaches[at + 1])]


def run_ends(detail: Trim, sheet: TrimSection, profile: Profile, taper: Taper | None = None
             ) -> tuple[End, End] | Finding:
    """Left and right end of a run, or what stops one of them. Raises :class:`InputError` for an end that the section
    cannot have."""
    ends = []
    given: tuple[tuple[Literal["left", "right"], Normal | None, str], ...] = (
        ("left", detail.left_plane, detail.left), ("right", detail.right_plane, detail.right))
    for side, plane, name in given:
        if name not in ends_of(sheet):
            can = ", ".join(ends_of(sheet))
            raise InputError(side, repr(name), f"an end that a {sheet.name} can have: {can}")
        cut = plane is not None or name == "plumb"
        here = far_of(detail) if taper is not None and side == "right" else detail
        end = (_on_plane(detail, sheet, profile, side, taper) if cut
               else made_end(here, sheet if here is detail else here.sheet(), name))
        also = detail.left_also if side == "left" else detail.right_also
        if also and not isinstance(end, Finding):
            end = with_parts(here, sheet, end, also)
        if isinstance(end, Finding):
            return end
        ends.append(replace(end, past=_past(detail, end, side)) if detail.low == side else end)
    return ends[0], ends[1]


def _past(detail: Trim, end: End, side: str) -> float:
    """How far beyond its edge an end goes with the panels, mm: a cut one as its nearer plane says."""
    if end.kind != "cut" or (detail.left_plane if side == "left" else detail.right_plane) is None:
        return detail.past
    return max(0.0, min(detail.reaches[:2] if side == "left" else detail.reaches[2:]))


def _on_plane(detail: Trim, sheet: TrimSection, profile: Profile, side: Literal["left", "right"],
              taper: Taper | None) -> End | Finding:
    """An end cut by a plane (the upper one carried on beyond it)."""
    parts = part_ends(detail, sheet, profile, side, taper)
    if parts is None:
        return Finding("stop", f"{side} end: the plane of the cut runs along the piece, there is no end to cut",
                       "a plane that crosses the run by 3° or more", "length")
    low = detail.low is not None and detail.low == side
    carry = 0.0 if detail.low is None else detail.under if low else detail.carry
    sign = -1.0 if side == "left" else 1.0
    middle = sheet.datum + (1 if profile.hem_a else 0)
    normals = [normal for normal, _ in _planes_of(detail, side)]
    out, corners = _cornered(detail, sheet, profile, side, tuple((sign * one + carry, sign * other + carry)
                                                               for one, other in parts))
    return End("cut", parts=out, corners=corners, carry=carry, carried="turn under" if low else "dress over",
               planes=tuple(normals[0 if k < middle else 1] for k in range(len(parts))))


_Parts = tuple[tuple[float, float], ...]


def _cornered(detail: Trim, sheet: TrimSection, profile: Profile, side: Literal["left", "right"],
              parts: _Parts) -> tuple[_Parts, tuple[CornerOff | None, ...]]:
    """The parts of an end, mm beyond it, without the corners that other planes cut off, and what these take of each."""
    middle, sign = sheet.datum + (1 if profile.hem_a else 0), -1.0 if side == "left" else 1.0
    kept, off = list(parts), list[CornerOff | None]([None] * len(parts))  # of several what takes most of a part
    for corner in detail.corner_cuts:
        if corner.end != side or abs(corner.plane[0]) < _ALONG * math.hypot(*corner.plane):
            continue
        reach = [sign * place + corner.reach for place in plane_offsets(
            profile, sheet.heading, sheet.datum, corner.plane, sheet.crossing, sheet.aside)]
        for k in range(len(parts)):
            if (k < middle) == (corner.side == "a"):
                left, taken = _less(parts[k], (reach[k], reach[k + 1]))
                if taken is not None and sum(left) < sum(kept[k]):
                    kept[k], off[k] = left, taken
    return tuple(kept), tuple(off) if any(off) else ()


def _less(own: tuple[float, float], corner: tuple[float, float]) -> tuple[tuple[float, float], CornerOff | None]:
    """The nearer of two end lines of a part, mm beyond its end at its two mould lines, and what the second takes."""
    off = corner[0] - own[0], corner[1] - own[1]
    nearer = min(own[0], corner[0]), min(own[1], corner[1])
    if off[0] * off[1] >= 0.0:
        return nearer, CornerOff("all") if min(off) < 0.0 else None
    share = off[0] / (off[0] - off[1])
    return nearer, CornerOff("a" if off[0] < 0.0 else "b", share, own[0] + share * (own[1] - own[0]))
