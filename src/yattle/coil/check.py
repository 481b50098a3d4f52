"""A nest held against its job by code that shares nothing with the solver.

Every cut is made again on rectangles of its own; every placement is turned and put where
it says. :func:`faults` lists what is wrong; an empty list is a valid answer.
"""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from typing import Any

from yattle.coil.job import NestJob, Part, Stock
from yattle.coil.names import pieces_of

_TOLERANCE = 0.01
_CUT = 0.004  # mm: what is thinner is no strip


def faults(job: NestJob, answer: dict[str, Any]) -> list[str]:
    """What is wrong with ``answer`` (a ``yattle-nest/1`` document), each in a line."""
    found: list[str] = []
    stock = _pieces(job)
    boxes = _boxes(job, answer, found)
    found += _counts(job, answer)
    found += _inside(job, stock, boxes)
    found += _apart(job, boxes)
    found += _lots(job, stock, answer)
    found += _price(job, stock, answer)
    if job.rules.cutting != "snips":
        found += _cuts(job, stock, answer, boxes)
    return found + _kept(job, stock, answer, boxes)


def _kept(job: NestJob, stock: dict[str, Stock], answer: dict[str, Any],
          boxes: list[tuple[dict[str, Any], Part, list[Any]]]) -> list[str]:
    """Every offcut must lie on metal that is there, off every part and every other offcut."""
    from shapely import Polygon, box

    wrong, seen = [], list[tuple[str, Any]]()
    for n, offcut in enumerate(answer["offcuts"], 1):
        piece, shape = stock[offcut["stock"]], Polygon(offcut["outline"])
        x0, y0, x1, y1 = piece.box
        metal = Polygon(piece.outline) if piece.outline is not None else box(x0, y0, min(x1, 1e9), y1)
        if not shape.is_valid or not metal.buffer(_TOLERANCE, join_style="mitre").covers(shape):
            wrong.append(f"offcut {n}: not all of it is on {offcut['stock']}")
        wrong += [f"offcut {n}: lies over {part.id}" for place, part, ring in boxes
                  if place["stock"] == offcut["stock"] and _deep(shape, Polygon(ring))]
        wrong += [f"offcut {n}: lies over another" for name, other in seen
                  if name == offcut["stock"] and _deep(shape, other)]
        if any(a < b - _TOLERANCE for a, b in zip(sorted((shape.bounds[2] - shape.bounds[0],
                                                          shape.bounds[3] - shape.bounds[1])),
                                                  sorted(job.rules.min_offcut), strict=True)):
            wrong.append(f"offcut {n}: smaller than what is kept")
        seen.append((offcut["stock"], shape))
    return wrong


def _deep(one: Any, other: Any) -> bool:
    """Whether two shapes lie over each other by more than the tolerance."""
    return not one.buffer(-_TOLERANCE, join_style="mitre").intersection(other).is_empty


def _price(job: NestJob, stock: dict[str, Stock], answer: dict[str, Any]) -> list[str]:
    """The objective reckoned again from what is used, cut and kept."""
    rules, metal, rates = job.rules, 0.0, {}
    for row in answer["used"]:
        piece = stock[row["stock"]]
        area = _area(piece.outline) if piece.outline is not None else (
            row["length"] if piece.kind == "coil" else piece.length or 0.0) * (piece.width or 0.0)
        cost = area / 1e6
        if rules.objective == "length":
            long = row["length"] if piece.kind == "coil" else piece.length or 0.0
            cost = 0.0 if piece.kind == "offcut" else long / 1000
        elif rules.objective != "area":
            by_metre = row["length"] / 1000 * piece.cost_per_m if piece.cost_per_m is not None else cost
            cost = by_metre if piece.kind == "coil" else piece.cost or 0.0
        metal, rates[row["stock"]] = metal + cost, cost / area if area else 0.0
    if rules.objective == "money":
        metal += len(answer["cuts"]) * rules.cut_cost - rules.offcuts_worth * sum(
            _area(offcut["outline"]) * rates[offcut["stock"]] for offcut in answer["offcuts"])
    said = answer["objective"]["value"]
    return [] if abs(said - metal) <= 1e-6 * max(1.0, metal) else [f"objective: says {said}, comes to {metal}"]


def _area(ring: Any) -> float:
    return 0.5 * abs(sum(float(a[0] * b[1] - b[0] * a[1]) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)))


def _pieces(job: NestJob) -> dict[str, Stock]:
    return dict(pieces_of(job.stock))


def _boxes(job: NestJob, answer: dict[str, Any], found: list[str]) -> list[tuple[dict[str, Any], Part, list[Any]]]:
    parts = {part.id: part for part in job.parts}
    boxes = []
    for place in answer["placements"]:
        part = parts[place["part"]]
        if part.turns != "any" and place["turn"] not in part.turns:
            found.append(f"{part.id}: turned {place['turn']}°, which is not allowed")
        if place["mirrored"] and not part.mirror:
            found.append(f"{part.id}: turned over, which is not allowed")
        angle = math.radians(place["turn"])
        points = [(x, -y if place["mirrored"] else y) for x, y in part.outline]
        ring = [(x * math.cos(angle) - y * math.sin(angle), x * math.sin(angle) + y * math.cos(angle))
                for x, y in points]
        dx, dy = place["x"] - min(x for x, _ in ring), place["y"] - min(y for _, y in ring)
        boxes.append((place, part, [(x + dx, y + dy) for x, y in ring]))
    return boxes


def _counts(job: NestJob, answer: dict[str, Any]) -> list[str]:
    placed = Counter(place["part"] for place in answer["placements"])
    left = {row["part"]: row["copies"] for row in answer["unplaced"]}
    copies = Counter((place["part"], place["copy"]) for place in answer["placements"])
    wrong = [f"{part.id}: {placed[part.id]} placed and {left.get(part.id, 0)} not, of {part.qty}"
             for part in job.parts if placed[part.id] + left.get(part.id, 0) != part.qty]
    return wrong + [f"{key}: the same copy twice" for key, count in copies.items() if count > 1]


def _inside(job: NestJob, stock: dict[str, Stock], boxes: list[tuple[dict[str, Any], Part, list[Any]]]) -> list[str]:
    wrong = []
    for place, part, ring in boxes:
        piece = stock[place["stock"]]
        if piece.metal != part.metal:
            wrong.append(f"{part.id}: of {part.metal}, cut from {piece.metal}")
        if piece.outline is not None:
            from shapely import Polygon

            if not Polygon(piece.outline).buffer(_TOLERANCE).covers(Polygon(ring)):
                wrong.append(f"{part.id}: leaves the offcut {place['stock']}")
            continue
        edge, end = job.rules.edge_trim, job.rules.end_trim
        length = piece.length if piece.length is not None else math.inf
        x0, x1, y0, y1 = (f(p[k] for p in ring) for k in (0, 1) for f in (min, max))
        far = end if piece.kind == "sheet" else 0.0
        if (x0 < end - _TOLERANCE or x1 > length - far + _TOLERANCE or y0 < edge - _TOLERANCE
                or y1 > (piece.width or 0) - edge + _TOLERANCE):
            wrong.append(f"{part.id}: leaves {place['stock']} or its trims")
    return wrong


def _apart(job: NestJob, boxes: list[tuple[dict[str, Any], Part, list[Any]]]) -> list[str]:
    by_stock = defaultdict(list)
    for place, part, ring in boxes:
        rect = (min(x for x, _ in ring), min(y for _, y in ring), max(x for x, _ in ring), max(y for _, y in ring))
        by_stock[place["stock"]].append((rect, part.id, place, part, ring))
    wrong = []
    for rows in by_stock.values():
        rows.sort(key=lambda row: row[:2])
        for n, (a, name, *one) in enumerate(rows):
            for b, other, *two in rows[n + 1:]:
                if b[0] > a[2] + job.rules.gap:
                    break
                across = max(b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3])
                if across < job.rules.gap - _TOLERANCE and job.rules.cutting != "shear":
                    across = _between(_shape(*one), _shape(*two))  # type: ignore[arg-type]
                if across < job.rules.gap - _TOLERANCE:
                    wrong.append(f"{name} and {other}: {across:.3f} mm apart")
    return wrong


def _shape(place: dict[str, Any], part: Part, ring: list[Any]) -> Any:
    """A part as it lies, with its holes."""
    from shapely import Polygon

    angle = math.radians(place["turn"])
    moved = []
    for outline in (part.outline, *part.holes):
        points = [(x, -y if place["mirrored"] else y) for x, y in outline]
        moved.append([(x * math.cos(angle) - y * math.sin(angle), x * math.sin(angle) + y * math.cos(angle))
                      for x, y in points])
    dx, dy = ring[0][0] - moved[0][0][0], ring[0][1] - moved[0][0][1]
    outer, *holes = ([(x + dx, y + dy) for x, y in outline] for outline in moved)
    return Polygon(outer, holes)


def _between(one: Any, other: Any) -> float:
    """How far two shapes are apart; where they cover each other, how deep, as a negative number."""
    gap = float(one.distance(other))
    if gap > 0:
        return gap
    common = one.intersection(other)
    if common.area < 1e-9:
        return 0.0
    x0, y0, x1, y1 = common.bounds
    return -float(min(x1 - x0, y1 - y0))


def _lots(job: NestJob, stock: dict[str, Stock], answer: dict[str, Any]) -> list[str]:
    match = {part.id: part.match for part in job.parts}
    lots: dict[str | None, set[str | None]] = defaultdict(set)
    for begun in job.begun:
        lots[begun.match].add(begun.stock if job.rules.match_by == "coil" else begun.lot)
    for place in answer["placements"]:
        if match[place["part"]] is not None:
            one = stock[place["stock"]]
            lots[match[place["part"]]].add(one.id if job.rules.match_by == "coil" else one.lot)
    return [f"{name}: cut from {len(found)} {job.rules.match_by}s" for name, found in lots.items() if len(found) > 1]


def _cuts(job: NestJob, stock: dict[str, Stock], answer: dict[str, Any],
          boxes: list[tuple[dict[str, Any], Part, list[Any]]]) -> list[str]:
    used = {row["stock"]: row for row in answer["used"]}
    table = {name: list(stock[name].box) for name in used}
    roots = {name: name for name in used}
    wrong: list[str] = []
    for cut in answer["cuts"]:
        wrong += _one_cut(job, stock, table, roots, cut)
    for place, part, ring in boxes:
        want = [min(x for x, _ in ring), min(y for _, y in ring), max(x for x, _ in ring), max(y for _, y in ring)]
        if job.rules.cutting == "mixed" and "piece" not in place:
            wrong += _by_hand(place, want, table, roots)
            continue
        rect = table.get(place["piece"])
        if rect is None or max(abs(a - b) for a, b in zip(rect, want, strict=True)) > _TOLERANCE:
            wrong.append(f"{part.id} copy {place['copy']}: its piece {place['piece']} is not its rectangle")
    for name, row in used.items():
        sheared = job.rules.cutting == "shear" and stock[name].kind == "coil" and name in table
        if sheared and abs(table[name][0] - row["length"]) > _TOLERANCE:
            wrong.append(f"{name}: cut off at {table[name][0]}, used {row['length']}")
    return wrong


def _by_hand(place: dict[str, Any], want: list[float], table: dict[str, list[float]],
             roots: dict[str, str]) -> list[str]:
    """A part cut by hand must lie on one piece that the shear has left whole."""
    if any(roots[name] == place["stock"] and rect[0] <= want[0] + _TOLERANCE and rect[1] <= want[1] + _TOLERANCE
           and want[2] <= rect[2] + _TOLERANCE and want[3] <= rect[3] + _TOLERANCE for name, rect in table.items()):
        return []
    return [f"{place['part']} copy {place['copy']}: lies across a cut"]


def _one_cut(job: NestJob, stock: dict[str, Stock], table: dict[str, list[float]], roots: dict[str, str],
             cut: dict[str, Any]) -> list[str]:
    rect = table.pop(cut["piece"], None)
    if rect is None:
        return [f"cut {cut['n']}: there is no piece {cut['piece']}"]
    root, wrong = roots[cut["piece"]], []
    axis = 0 if cut["axis"] == "across" else 1
    at, low, high = cut["at"], rect[axis], rect[axis + 2]
    if not low + _CUT < at < high - _CUT:
        wrong.append(f"cut {cut['n']}: at {at} outside {low} … {high}")
    if min(at - low, high - at) < job.rules.min_sliver - _TOLERANCE:
        wrong.append(f"cut {cut['n']}: takes off {min(at - low, high - at):.3f} mm")
    reach = rect[3 - axis] - rect[1 - axis]
    if job.rules.max_cut is not None and reach > job.rules.max_cut + _TOLERANCE:
        wrong.append(f"cut {cut['n']}: {reach:.1f} mm long")
    coil = stock[root].kind == "coil" and cut["piece"] == root
    if coil and job.rules.first == "crosscut":
        if axis == 1:
            wrong.append(f"cut {cut['n']}: along the coil itself")
        if job.rules.max_crosscut is not None and at - low > job.rules.max_crosscut + _TOLERANCE:
            wrong.append(f"cut {cut['n']}: a piece {at - low:.1f} mm long off the coil")
    for k, name in enumerate(cut["gives"]):
        part = list(rect)
        part[axis + 2 if k == 0 else axis] = at
        table[name], roots[name] = part, root
    return wrong
