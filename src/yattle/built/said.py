"""What the check says: what fails, by how much, where, and what would do."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator
from typing import Any

from yattle.built.checked import Checked
from yattle.built.cover import SHORT, Cover
from yattle.built.ends import Reach
from yattle.built.hook import HOLDS, Hook
from yattle.built.trim_laps import CORNER

Said = dict[str, Any]


def names_in(says: str) -> frozenset[str]:
    """The patterns of the pieces that a finding speaks of."""
    return frozenset(words_in(says))


def words_in(says: str) -> list[str]:
    """The words of a finding, pieces by their patterns."""
    return [word.partition("/")[0] for word in re.split(r"[\s,:;]+", says)]


def alike(says: Iterable[str]) -> dict[str, list[int]]:
    """Sentences that say the same of pieces of one pattern, as numbers of the sentences by the first of each.

    >>> alike(["R1.z1-1/1 looks 4 mm out", "G1-1 stands 3 mm off", "R1.z1-1/2 looks 4 mm out"])
    {'R1.z1-1/1 looks 4 mm out': [0, 2], 'G1-1 stands 3 mm off': [1]}
    """
    found: dict[str, tuple[str, list[int]]] = {}
    for n, one in enumerate(says):
        found.setdefault(re.sub(r"/\d+\b", "", one), (one, []))[1].append(n)
    return dict(found.values())


def said_of(checked: Checked) -> Iterator[Said]:
    """Every finding with its row and its place, mm."""
    yield from _of_seats(checked)
    yield from _of_reach(checked)
    for clash in checked.clashes:
        yield {"row": "clash", "at": list(clash.at), "says": f"{clash.a} goes {clash.depth:.1f} mm through {clash.b}: "
               "shorten or turn one of them there, or cut it round the other"}
    yield from _of_openings(checked)
    yield from _of_order(checked)


def _of_seats(checked: Checked) -> Iterator[Said]:
    for one in checked.contacts:
        if not one.ok:
            far = f"stands {one.gap:.1f} mm off" if math.isfinite(one.gap) else "turns away from"
            yield {"row": "bears", "at": list(one.at), "says": f"{one.piece} {far} {one.on}: no "
                   "part of it lies there; measure the edge's pitch and the panels' height again, or make it anew"}
    for lock in checked.hooks:
        if not lock.ok:
            yield {"row": "hook", "at": list(lock.at), "says": _lock_says(lock)}


def _lock_says(lock: Hook) -> str:
    if lock.how == "kerf":
        return (f"{lock.a} reaches {lock.have:.1f} mm into {lock.b}, {HOLDS:g} mm wanted: its leg there is too short "
                "or turned the other way")
    if lock.how == "cleat" and not lock.closed:
        return f"{lock.a} hooks on {lock.b} by its raw edge, not by its hem: turn the strip round"
    open_ = "" if lock.closed else ", and do not go round each other"
    return (f"the locks of {lock.a} and {lock.b} reach {lock.have:.1f} mm into each other, {HOLDS:g} mm wanted"
            f"{open_}: a lock or a pan's width or hand is wrong")


def _of_reach(checked: Checked) -> Iterator[Said]:
    for lap in checked.covers:
        if says := _lap_says(lap):
            yield {"row": "cover", "at": list(lap.at), "says": says}
    for one in checked.hidden:
        if one.turned:
            yield {"row": "cover", "at": list(one.at), "says": (
                f"{one.piece}'s foot lies before it, its screws where rain comes; turn the fold the other way"
                if one.turned == "foot" else
                f"{one.piece}'s top turns in under {one.over} and carries no edge; turn the fold the other way")}
        elif not one.ok:
            yield {"row": "cover", "at": list(one.at), "says": (
                f"{one.piece} stands too far in under {one.over}: its edge lies on nothing there" if one.deep else
                f"{one.piece} looks {one.bare:.0f} mm out from under {one.over}: that is too narrow, or the strip "
                "stands too far out")}
    for joint in checked.joints:
        if not joint.ok:
            yield {"row": "cover", "at": list(joint.at), "says": (
                f"{joint.a} lies {joint.have:.0f} mm wide on {joint.b}, {joint.want:.0f} mm wanted: a leg or a fold of "
                "one of them is wrong, measure both")}
    for end in checked.ends:
        if not end.ok:
            yield {"row": "cover", "at": list(end.at), "says": _end_says(end)}


def _of_openings(checked: Checked) -> Iterator[Said]:
    for slot in checked.slots:
        if slot.under:
            yield {"row": "slot", "at": list(slot.at), "says": (
                f"{slot.under} stands open {slot.wide:.0f} mm high over {slot.face}: a wasp or driven rain gets in; "
                "its zed there is missing, too low or too short")}
            continue
        beside = " and ".join(slot.between) or "nothing"
        yield {"row": "slot", "at": list(slot.at),
               "says": f"face {slot.face} lies open {slot.wide:.0f} mm wide between {beside}: a wasp or driven rain "
                       "gets in; what goes there is missing or too narrow"}
    for wet in checked.water:
        yield {"row": "water", "at": list(wet.at), "says": f"{wet.over} lies over {wet.under} and below it: water runs "
               "under the lap; fit the lower one first"}
    yield from _of_drops(checked)
    for drip in checked.drips:
        yield {"row": "water", "at": list(drip.at), "says": f"{drip.piece} drips {drip.inward:.0f} mm behind its face: "
               f"water runs back to the {drip.behind}; its kick is turned the wrong "
               "way"}
    for hem in checked.hems:
        yield {"row": "water", "at": list(hem.at),
               "says": f"a hem of {hem.piece} lies {_HEMS[hem.lies]}: fold it the other way"}
    for gone in checked.absent:
        yield {"row": "open", "at": list(gone.at), "says": f"{gone.piece} is not among the patterns: its place is open"}


def _of_order(checked: Checked) -> Iterator[Said]:
    for told in checked.told:
        yield {"row": "laps", "at": list(told.at), "says": f"{told.over} is to lie over {told.under} and lies "
               f"{told.below:.0f} mm under it: the order of fitting and the shapes say different things"}
    for one in checked.fitted:
        if not one.ok:
            would = (f"fit it before {one.stands}" if one.first else
                     f"loosen that by {one.left:.0f} mm, or slide it in from its end")
            yield {"row": "goes in", "at": list(one.at),
                   "says": f"{one.piece} does not go in past {one.stands}, which is on before it: {would}"}


_HEMS = {"wet": "on its wet side, open to the rain", "dry": "under it, where it stops no water",
         "paint": "on its paint, so that its fold shows the back",
         "pocket": "in a pocket in front of what it is folded on, not behind it"}
_DROPS = {"deck": "water comes off {piece} onto the open {under}: what goes there is missing, too short or too narrow",
          "under": "water on {piece} runs in under {under}: fit {under} first, or lap it the other way",
          "cover": "water on {piece} runs on under {under}, and off its edge there: its zed or closure is missing",
          "wind": "wind drives water on {piece} up under {under} and over its upper end: lap it further, or turn it up",
          "sealant": "water on {piece} comes against {under}: only its tape or bead keeps it out"}
"""What becomes of a drop, in words."""


def _of_drops(checked: Checked) -> Iterator[Said]:
    for lost in checked.drops:
        yield {"row": "sealant" if lost.how == "sealant" else "water", "at": list(lost.at),
               "says": _DROPS[lost.how].format(piece=lost.piece, under=lost.under)}


def _end_says(end: Reach) -> str:
    """By how much an end is off."""
    off = end.have - end.want
    if end.leg:
        return (f"A leg of {end.piece} ends {abs(off):.0f} mm {'past' if off > 0 else 'short of'} {end.on}: make it "
                f"that much {'narrower' if off > 0 else 'wider'}, or look at its folds")
    return (f"{end.piece} ends {abs(off):.0f} mm {'past' if off > 0 else 'short of'} {end.on}: "
            f"make it that much {'shorter' if off > 0 else 'longer'}, or cut its end anew")


def _lap_says(lap: Cover) -> str:
    """What is wrong with a lap; empty where nothing is."""
    pair = f"{lap.over} lies {lap.have:.0f} mm over {lap.under}, {lap.want:.0f} mm wanted"
    if lap.have < lap.want - SHORT and lap.under.startswith(CORNER):
        return (f"{lap.over} does not go round {lap.under}: one sees in behind it there; fold a wrap of "
                f"{lap.want:.0f} mm or more")
    if lap.have < lap.want - SHORT:
        return f"{pair}: {lap.want - lap.have:.0f} mm short; make one of them longer by that"
    if lap.closed < lap.least:
        return (f"{lap.over} does not close over {lap.under}: {lap.closed:.0%} of its sheet lies on it; a leg or a "
                "fold of one of them is wrong, measure both sections")
    return f"{pair}: one of them is {lap.have - lap.want:.0f} mm too long" if lap.long else ""
