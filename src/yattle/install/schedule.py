"""What each run takes: screws, clips, rivets, tape, sealant, how many and where; summed up and in packs to order."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from yattle.job.fixing_rules import FixingRules
from yattle.measure import Area, Unit, Volume, say_length

_UPSTAND = ("wall anchors", 1, True)
"""The head of what stands up a wall, behind what covers it."""
_ROWS: dict[str, tuple[tuple[str, int, bool], ...]] = {
    "eave": (("screws", 1, True),),
    "valley": (("clips", 2, True),),
    "rake": (("screws", 2, False), ("tape", 1, True)),
    "rake on a zed": (("zed rivets", 1, False),),
    "rake by itself": (("screws", 2, False), ("face screws", 1, False), ("tape", 1, True)),
    "ridge": (("screws", 2, False), ("tape", 2, True)),
    "hip": (("screws", 2, False), ("tape", 2, True)),
    "half-ridge": (("screws", 1, False), ("tape", 1, True)),
    "headwall": (("screws", 1, False), ("tape", 1, True), _UPSTAND),
    "sidewall": (("screws", 1, False), ("tape", 1, True), _UPSTAND),
    "sidewall on a zed": (_UPSTAND,),
    "sidewall on a seam": (("clips", 1, True), ("tape", 1, True), _UPSTAND),
    "wall zed": (("wall anchors", 1, False), ("tape", 1, True)),
    "skew-wall": (("screws", 1, False), ("tape", 1, True), _UPSTAND),
    "back-pan": (("clips", 1, True), _UPSTAND),
    "pitch-break": (("screws", 1, True), ("tape", 1, True)),
    "cleat": (("screws", 1, True),),
    "eave-cleat": (("screws", 1, True),),
    "vent-strip": (("screws", 1, True),),
    "zed": (("screws", 1, True), ("tape", 1, True)),
    "twin": (("screws", 1, True),),
    "closure": (("screws", 1, True), ("tape", 1, True)),
    "counterflashing": (("wedges", 1, True),),
    "counter-surface": (("wall anchors", 1, False), ("tape", 1, True), ("caulk", 1, False)),
    "coping": (("wall anchors", 1, False), ("hook strip", 1, True)),
    "box-gutter": (("straps", 1, False),), "round-gutter": (("straps", 1, False),),
    "fascia": (("screws", 1, True),), "outside-corner": (("screws", 2, True),),
    "inside-corner": (("screws", 2, True),),
}
"""What a run is fixed with, by its kind: what, in how many rows, and whether it is hidden afterwards."""
_STAGGERED = ("rake", "rake by itself")
"""Kinds whose two rows of screws stand in each other's gaps."""
_UNDER = {"zed": "rake on a zed", "none": "rake by itself"}

BITES: dict[str, str] = {
    "eave": "deck", "valley": "deck", "rake": "panels", "ridge": "closures and panels", "hip": "closures and panels",
    "half-ridge": "closures and panels", "headwall": "closures and panels", "sidewall": "closures and panels",
    "skew-wall": "closures and panels", "back-pan": "deck", "pitch-break": "deck",
    "cleat": "deck", "eave-cleat": "deck", "vent-strip": "fascia", "zed": "panels", "twin": "deck",
    "closure": "panels", "counterflashing": "kerf", "counter-surface": "wall", "coping": "wall",
    "box-gutter": "fascia", "round-gutter": "fascia", "fascia": "fascia", "outside-corner": "wall",
    "inside-corner": "wall"}
"""What the screws, clips or wedges of a run go into, by its kind."""
UNIT_OF = {"tape": "mm", "hook strip": "mm", "lap tape": "mm", "sealant": "ml", "underlay": "m²"}
"""The unit of what is not counted in pieces."""


def many_says(what: str, many: float, unit: Unit) -> str:
    """So much of something, mm, ml, m² or pieces, in the words of a job's unit."""
    of = UNIT_OF.get(what)
    if of == "mm":
        return say_length(many, unit, 0, mark=True)
    said = {"ml": Volume, "m²": Area}.get(of or "")
    return f"{many:.0f}" if said is None else said(many).say(unit)


def fixed_as(kind: str, under: str | None, detail: str = "") -> str:
    """How a run of ``kind`` is fixed: a rake by what is ``under`` it, a cleat, a zed or neither; a sidewall by what its
    edge hooks on, a zed or a seam; a counterflashing and what lies on no edge of the roof by its ``detail``."""
    if kind in ("free", "counterflashing") and detail in _ROWS:
        return detail
    if kind == "sidewall" and under in ("zed", "seam"):
        return f"sidewall on a {under}"
    return _UNDER.get(under or "", kind) if kind == "rake" else kind


def bites(kind: str, what: str) -> str:
    """What ``what`` of a run of ``kind`` goes into; rivets and sealant join its own pieces."""
    own = {"wall anchors": "wall", "rivets": "the next piece",
           "sealant": "the next piece", "zed rivets": "zed", "face screws": "barge board"}
    return own.get(what) or BITES.get(kind, "")


@dataclass(frozen=True)
class Need:
    """What a run takes of one thing.

    ``what``: the thing; ``many``: pieces, mm of tape or ml of sealant
    ``rows``: in how many rows; ``places``: of each in one row, mm from the run's left end; ``second``: of those in the
        second row, where that stands in the gaps of the first
    ``hidden``: covered by what comes after; ``only``: the joint stands by this alone
    """

    what: str
    many: float
    rows: int = 1
    places: tuple[float, ...] = ()
    hidden: bool = True
    only: bool = False
    second: tuple[float, ...] = ()


_ON_PANELS = ("ridge", "hip", "half-ridge", "headwall", "sidewall", "skew-wall")
"""Kinds of which a leg lies over the panels: where that is wide it takes a second row on each side."""


def rows_of(kind: str, rows: int, lap: float, rules: FixingRules) -> int:
    """How many rows a run takes whose lap on the panels is ``lap`` mm wide (0: it has none, or is not told)."""
    return 2 * rows if kind in _ON_PANELS and lap > rules.wide else rows


def positions(length: float, pitch: float, edge: float,
              free: tuple[tuple[float, float], ...] = ()) -> tuple[float, ...]:
    """Places along a run, mm from its left end: the first and last ``edge`` from the ends, the others evenly between
    at ``pitch`` at most; those in zones kept ``free`` are moved to the zone's nearer end."""
    if length <= 2 * edge:
        return (length / 2,)
    gaps = max(1, math.ceil((length - 2 * edge) / pitch - 1e-9))
    even = [edge + (length - 2 * edge) * n / gaps for n in range(gaps + 1)]
    return tuple(sorted({round(_out_of(x, free, length), 3) for x in even}))


def staggered(length: float, pitch: float, edge: float,
              free: tuple[tuple[float, float], ...] = ()) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Places of two rows, the second in the gaps of the first, as many in each: the first of one row ``edge`` from the
    run's left end, the last of the other that far from its right end, ``pitch`` at most apart in a row. In mm."""
    span = length - 2 * edge
    if span <= pitch / 2:
        return (length / 2,), (length / 2,)
    many = math.ceil(span / pitch + 0.5 - 1e-9)
    step = span / (many - 0.5)
    rows = ([edge + step * (n + more) for n in range(many)] for more in (0.0, 0.5))
    one, other = (tuple(sorted({round(_out_of(x, free, length), 3) for x in row})) for row in rows)
    return one, other


def _out_of(x: float, free: tuple[tuple[float, float], ...], length: float) -> float:
    for low, high in free:
        if low < x < high:
            ends = [end for end in (low, high) if 0 <= end <= length]
            return min(ends, key=lambda end: abs(end - x), default=x)
    return x


def needs_of(kind: str, length: float, girth: float, joints: tuple[float, ...], rules: FixingRules,
             gaps: tuple[tuple[float, int], ...] = (), riveted: bool = True,
             free: tuple[tuple[float, float], ...] = (), level: bool = True, lap: float = 0.0,
             tabs: float = 0.0, ribs: tuple[float, ...] = ()) -> tuple[Need, ...]:
    """Everything one run takes. ``joints``: where its pieces lap, mm; ``gaps``: between seams, for closures, which are
    fixed each by itself; ``riveted``: plain laps with two beads and rivets, which stand by the sealant alone where
    the run is ``level``, else hems nested in one bead; ``free``: zones without screws; ``lap``: how
    wide its leg on the panels is; ``tabs``: how much more tape each closure takes along its side tabs;
    ``ribs``: where on ribs its screws have to be."""
    made: list[Need] = []
    spans = [(gap, many) for gap, many in gaps] or [(length, 1)]
    for what, rows, hidden in _ROWS.get(kind, ()):
        rows = rows_of(kind, rows, lap, rules)
        pitch = {"screws": rules.screw_pitch, "clips": rules.clip_pitch, "wedges": rules.wedge_pitch,
                 "zed rivets": rules.screw_pitch, "face screws": rules.screw_pitch,
                 "wall anchors": rules.anchor_pitch, "straps": rules.strap_pitch}.get(what)
        if what == "caulk":
            made.append(Need("sealant", length / 1000 * rules.sealant_a_metre, 1, hidden=hidden, only=True))
            continue
        if pitch is None:
            made.append(Need(what, rows * sum((span + tabs) * many for span, many in spans), rows, hidden=hidden))
            continue
        if kind in _STAGGERED and rows == 2:
            one, other = staggered(length, pitch, min(rules.edge, length / 4), free)
            made.append(Need(what, len(one) + len(other), rows, one, hidden, second=other))
            continue
        if what == "screws" and ribs:
            made.append(Need(what, len(ribs) * rows, rows, ribs, hidden))
            continue
        wide = max((high - low for low, high in free if low > 0 and high < length), default=0.0)
        near = max(pitch - wide, pitch / 2)  # so that neighbours moved out of a zone are no farther apart
        each = [positions(span, near if free and not gaps else pitch, min(rules.edge, span / 4),
                          free if not gaps else ()) for span, _ in spans]
        count = sum(len(places) * many for places, (_, many) in zip(each, spans, strict=True))
        made.append(Need(what, count * rows, rows, each[0] if not gaps else (), hidden))
    if joints:
        beads = 2 if riveted else 1
        if riveted:
            rivets = max(2, math.ceil(girth / rules.rivet_pitch))
            made.append(Need("rivets", rivets * len(joints), 1, joints, False))
        made.append(Need("sealant", beads * girth / 1000 * rules.sealant_a_metre * len(joints), beads, joints, True,
                         only=riveted and level))
    return tuple(made)


@dataclass(frozen=True)
class Packed:
    """So much of something in all, and what to order: packs, rolls or tubes with the spare. In the unit of the need:
    each, mm or m²."""

    what: str
    many: float
    packs: int
    a_pack: float


def packed(needs: Iterable[Need], rules: FixingRules) -> tuple[Packed, ...]:
    """All needs summed up by what they are."""
    total: Counter[str] = Counter()
    for need in needs:
        total[need.what] += need.many  # type: ignore[assignment]
    sizes = {"screws": rules.screws_a_pack, "rivets": rules.rivets_a_pack, "clips": rules.clips_a_pack,
             "wedges": rules.clips_a_pack, "panel clips": rules.clips_a_pack,
             "clip screws": rules.screws_a_pack, "strip screws": rules.screws_a_pack,
             "zed rivets": rules.rivets_a_pack, "face screws": rules.screws_a_pack,
             "backer plates": rules.clips_a_pack,
             "wall anchors": rules.clips_a_pack, "straps": rules.clips_a_pack, "hook strip": rules.strip_length,
             "panel screws": rules.screws_a_pack, "lap screws": rules.screws_a_pack, "lap tape": rules.tape_roll,
             "tape": rules.tape_roll,
             "sealant": rules.sealant_tube, "underlay": rules.underlay_roll}
    return tuple(Packed(what, float(many), math.ceil(many * (1 + rules.spare) / sizes[what] - 1e-9), sizes[what])
                 for what, many in sorted(total.items()))
