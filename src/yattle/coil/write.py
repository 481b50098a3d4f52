"""A plan written out: every placement, and the cuts in the order they are made."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping

from yattle.bounds import Ring
from yattle.coil.answer import LowerBound, NestAnswer, Offcut, Placement, Rect, Unplaced, Used
from yattle.coil.block import Spacing
from yattle.coil.cutter import Cutter
from yattle.coil.first import Laid, trims_of
from yattle.coil.job import NestJob, Part, Stock
from yattle.coil.lots import Lots, lot_of, lots_of
from yattle.coil.money import objective_of
from yattle.coil.names import names_by_id, pieces_of
from yattle.coil.price import stock_cost, used_area
from yattle.coil.shapes import Nested
from yattle.coil.sizes import largest_inside, may_use, orientations, usable_rect
from yattle.coil.tree import Leaf, Split, Tree

_EPS = 1e-7


class Writer:
    """``laid``: what each stock piece is cut into; ``gap`` beyond every cut of its trees, if not that of the rules."""

    def __init__(self, job: NestJob, laid: list[Laid], gap: float | None = None) -> None:
        self.job, self.rules = job, job.rules
        self.copies: dict[str, int] = defaultdict(int)
        self.names = names_by_id(job.stock)
        self.cutter = Cutter(frozenset(pieces_of(job.stock)))
        self.gap = Spacing.of(job.rules).gap if gap is None else gap
        self.placements: list[Placement] = []
        self.used: list[Used] = []
        self.named: dict[str, int] = defaultdict(int)
        for one in laid:
            self._write(one)

    def take(self, nested: Nested) -> Writer:
        """Parts placed by their true shapes instead of cuts."""
        self.placements += nested.placements
        self.used += nested.used
        for place in nested.placements:
            self.copies[place.part] += 1
        return self

    def _write(self, laid: Laid) -> None:
        stock, end = laid.stock, laid.end
        name = self._name(stock)
        rest = self.cutter.lay(name, stock.box)
        keep = stock.kind == "coil"
        if stock.kind == "offcut":
            rest = self.cutter.trimmed(rest, usable_rect(stock))
        elif end:
            rest = self.cutter.across(rest, end, keep)[1]
        for x, length, tree in laid.blocks:
            rest = self.cutter.across(rest, x, keep)[1]
            piece, rest = self.cutter.across(rest, x + length, keep)
            self._cut_up(name, self.cutter.along(piece, laid.low)[1], x, laid.low, tree)
        used = laid.blocks[-1][0] + laid.blocks[-1][1]
        self.used.append(Used(name, used if stock.kind == "coil" else stock.box[2] - stock.box[0],
                              used_area(stock, used), stock_cost(stock, used, self.rules)))

    def _name(self, stock: Stock) -> str:
        self.named[stock.id] += 1
        return self.names[stock.id][self.named[stock.id] - 1]

    def _cut_up(self, stock: str, piece: str, x: float, y: float, tree: Tree) -> None:
        """Make a tree's cuts, what lies lower and nearer to the start first."""
        stack: list[tuple[str, float, float, Tree]] = [(piece, x, y, tree)]
        while stack:
            piece, x, y, node = stack.pop()
            if isinstance(node, Leaf):
                self._place(stock, piece, x, y, node)
            elif node is not None:
                stack += reversed(self._parted(piece, x, y, node))

    def _parted(self, piece: str, x: float, y: float, node: Split) -> list[tuple[str, float, float, Tree]]:
        """All the cuts one way through a rectangle, one after another; the pieces, that nearest to the start first."""
        made: list[tuple[str, float, float, Tree]] = []
        cut, across = (self.cutter.across if node.across else self.cutter.along), node.across
        rest: Tree = node
        while isinstance(rest, Split) and rest.across == across:
            at, step = x if across else y, rest.at + self.gap
            low, piece = cut(piece, at + rest.at)
            made.append((low, x, y, rest.low))
            if rest.high is None:
                return made
            piece = cut(piece, at + step)[1]
            x, y = (x + step, y) if across else (x, y + step)
            rest = rest.high
        return [*made, (piece, x, y, rest)]

    def _place(self, stock: str, piece: str, x: float, y: float, leaf: Leaf) -> None:
        part, lie = leaf.item, leaf.lie
        piece = self.cutter.across(piece, x + lie.along)[0]
        piece = self.cutter.along(piece, y + lie.across)[0]
        self.copies[part.id] += 1
        self.placements.append(Placement(part.id, self.copies[part.id], stock, lie.turn, False, x, y, lie.along,
                                         lie.across, piece if self.rules.cutting != "snips" else None))

    def answer(self, bound: LowerBound) -> NestAnswer:
        parts = {part.id: part for part in self.job.parts}
        placed = [parts[placement.part] for placement in self.placements]
        shear = self.rules.cutting != "snips"
        cuts, offcuts = tuple(self.cutter.cuts) if shear else (), tuple(self._offcuts())
        return NestAnswer(
            tuple(self.placements), tuple(self.used), cuts, offcuts, self.unplaced(self.copies), self.rules.objective,
            objective_of(self.rules, self.used, cuts, offcuts), bound, sum(part.area for part in placed) / 1e6)

    def _offcuts(self) -> list[Offcut]:
        taken = {p.piece for p in self.placements} | {s.id for s in self.job.stock if s.kind == "coil"}
        least = sorted(self.rules.min_offcut)
        parents = {give: cut.piece for cut in reversed(self.cutter.cuts) for give in cut.gives if give != cut.piece}
        found = []
        irregular = {stock.id: stock.outline for stock in self.job.stock if stock.outline is not None}
        for name, rect in self.cutter.table.items():
            if name in taken or not _keeps(rect, least):
                continue
            root = _root(name, parents)
            found += [Offcut(root, ring) for ring in metal_in(rect, irregular.get(root))
                      if _keeps(rect if root not in irregular else largest_inside(ring), least)]
        return found if self.rules.cutting != "snips" else []

    def unplaced(self, copies: Mapping[str, int]) -> tuple[Unplaced, ...]:
        """What is missing where so many ``copies`` of each part are placed, with the reasons."""
        lots = lots_of(self.job)
        left = ((part, part.qty - copies.get(part.id, 0)) for part in self.job.parts)
        return tuple(Unplaced(part.id, count, _reason(self.job, part, lots)) for part, count in left if count)


def _keeps(rect: Rect, least: list[float]) -> bool:
    """Whether a rectangle is at least as large as what is kept."""
    short, long = sorted((rect[2] - rect[0], rect[3] - rect[1]))
    return short >= least[0] - _EPS and long >= least[1] - _EPS


def metal_in(rect: Rect, outline: Ring | None) -> list[Ring]:
    """What there is of the metal in a rectangle: all of it, or, of an irregular piece, what its outline leaves."""
    x0, y0, x1, y1 = rect
    if outline is None:
        return [((x0, y0), (x1, y0), (x1, y1), (x0, y1))]
    import shapely

    metal = shapely.Polygon(outline).intersection(shapely.box(*rect))
    parts = [part for part in shapely.get_parts(metal) if part.geom_type == "Polygon" and part.area > 1.0]
    rings = [shapely.orient_polygons(part).exterior.coords[:-1] for part in parts]
    return [tuple((float(x), float(y)) for x, y in ring) for ring in rings]


def _root(name: str, parents: dict[str, str]) -> str:
    """The stock piece that a piece was cut from."""
    while name in parents:
        name = parents[name]
    return name


def _reason(job: NestJob, part: Part, lots: Lots) -> str:
    same = [stock for stock in job.stock if may_use(part, stock)]
    if not same:
        return "metal"
    boxes = [usable_rect(stock) for stock in same]
    edges = [trims_of(stock, job.rules)[0] for stock in same]
    if all(way.across > b[3] - b[1] - 2 * e + _EPS
           for way in orientations(part) for b, e in zip(boxes, edges, strict=True)):
        return "too wide"
    longest = min((m for m in (job.rules.max_crosscut,) if m is not None and job.rules.first == "crosscut"),
                  default=math.inf)
    if all(way.along > min(b[2] - b[0], longest if s.kind == "coil" else math.inf) + _EPS
           for way in orientations(part) for b, s in zip(boxes, same, strict=True)):
        return "too long"
    if part.match is not None and all(
            lot_of(stock, job.rules) != lots.get(part.match) for stock in same):
        return "lot"
    return "no stock left"
