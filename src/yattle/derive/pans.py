"""The panels of a face as pans to be folded: every blank with its locks, its foot, its head, its holes and cuts."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from functools import lru_cache

import shapely
from shapely.affinity import translate

from yattle import overlay
from yattle.derive.moved_sides import STEP, anticlockwise, moved_sides, nothing_left
from yattle.derive.pan_clip import NONE, KeptClear, clear_line, clear_of, kept_clear_on, without_short
from yattle.details.pan_floor import CLEAR, Place
from yattle.details.pan_shape import PanHead, PanSet, PanShape, SeamSide
from yattle.details.pipe import Pipe
from yattle.details.standard import Standard
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.panels import PanelSystem
from yattle.roof import Roof, RoofPlan, build
from yattle.roof.panel_edges import BACK, BREAK, CUT, FOOT, HEAD, LEFT, RIGHT, sides_of
from yattle.roof.panel_rule import LAPPED, NOTHING, Panel, PanelRule, through_flats
from yattle.roof.panels import PanelPlan, face_frame, lay

PAN_ENTRIES = ("seam_height", "seam_lock", "valley_open", "valley_rib", "cut_allowance", "set_width", "set_angle")
"""The entries of the house standard that pans are made from."""
_SEAMED = ("standing seam", "snap seam")
_BACK = 15.0  # mm more than the hem that legs are kept back at the eave
_SHORTEST = 10.0  # mm of a seam's leg that is worth folding
_NO_SIDE = 0.3  # mm: a side that is shorter is none
_NARROW = 20.0  # mm of an edge that is worth turning up
_WALLS = ("headwall", "skew-wall")
_TOPS = ("ridge", "half-ridge")
_ALIKE = 0.05  # mm: shapes that differ by less are one
_FAR = 1e6  # mm: no panel reaches as far
_NO_NOTCH = 5  # edges of a floor that has no notch
_PARTS = 48  # sides of a hole
_LEAST_HEMMED = 2.0  # hems: an eave as long gets one


def lock_of(system: PanelSystem | None, standard: Standard) -> float:
    """How wide a lock is: what a system's profile goes on past its right seam, mm."""
    past = system.profile[-1][0] - system.over if system is not None else 0.0
    return past if past > 1.0 else standard.seam_lock


def core_of(system: PanelSystem | None) -> float:
    """How thick a sandwich's core is, mm; 0 of a single sheet."""
    return system.core if system is not None else 0.0


def made_here(job: Job, laid: PanelPlan) -> bool:
    """Whether a face's panels are pans folded in the shop, and none is longer than what is cut off its coil."""
    system = job.panel_system(laid.facet)
    return system is not None and system.made == "shop" and system.kind in _SEAMED and not too_long(job, laid)


def too_long(job: Job, laid: PanelPlan) -> tuple[float, float] | None:
    """The longest panel of a face and what the shop cuts off its coil at the most, mm, where that is less."""
    most = job.rules.max_crosscut or job.brake.max_length
    longest = max((panel.length for panel in laid.panels), default=0.0)
    return (longest, most) if job.rules.first == "crosscut" and longest > most else None


def pans_on(roof: Roof, laid: PanelPlan, system: PanelSystem | None, standard: Standard,
            pipes: dict[str, Pipe], round_it: shapely.Geometry = NONE,
            refused: dict[int, InputError] | None = None) -> dict[int, PanShape]:
    """Each panel of a face as a pan, by its number, in its own frame: x across from its left side, y up the slope from
    its foot on the face; ``pipes``: those that stand on the face, by their openings; ``round_it``: what they are cut
    round, in the face's coordinates. In mm. Panels of which nothing is left are put in ``refused``; raises
    :class:`InputError` where that is not given."""
    shapes, none = _pans_on(roof.plan, laid.facet, laid.rule, system, standard.only(PAN_ENTRIES), tuple(pipes.items()),
                            round_it)
    if none and refused is None:
        raise none[0][1]
    if refused is not None:
        refused.update(none)
    return dict(shapes)


@lru_cache(maxsize=256)
def _pans_on(plan: RoofPlan, face: str, rule: PanelRule, system: PanelSystem | None, standard: Standard,
             pipes: tuple[tuple[str, Pipe], ...], round_it: shapely.Geometry
             ) -> tuple[tuple[tuple[int, PanShape], ...], tuple[tuple[int, InputError], ...]]:
    """The pans of a face by their numbers, and why those are refused of which nothing is left."""
    roof = build(plan)
    laid = lay(roof, face, rule)
    sides, found, refused = sides_of(roof, laid), list[tuple[int, PanShape]](), list[tuple[int, InputError]]()
    kept = kept_clear_on(roof, laid, core_of(system), round_it)
    for panel in laid.panels:
        try:
            shape = _PanMaker(roof, laid, system, standard, dict(pipes), kept, panel, sides[panel.n]).shape()
            found.append((panel.n, shape))
        except InputError as wrong:
            refused.append((panel.n, wrong))
    return tuple(found), tuple(refused)


def floors_on(roof: Roof, laid: PanelPlan, system: PanelSystem | None, standard: Standard,
              round_it: shapely.Geometry = NONE) -> dict[int, list[tuple[Place, Place, str]]]:
    """Where each panel of a face lies, as it is cut: its edges anticlockwise as (from, to, what it ends at) in the
    face's own coordinates, mm, by its number; panels of which nothing is left are left out. ``round_it``: what they are
    cut round there."""
    sides, found = sides_of(roof, laid), dict[int, list[tuple[Place, Place, str]]]()
    kept = kept_clear_on(roof, laid, core_of(system), round_it)
    for panel in laid.panels:
        maker = _PanMaker(roof, laid, system, standard, {}, kept, panel, sides[panel.n])
        try:
            edges = maker.edges()
        except InputError:
            continue
        x, y = maker.origin
        found[panel.n] = [((a[0] + x, a[1] + y), (b[0] + x, b[1] + y), side) for a, b, side in edges]
    return found


def held_from(roof: Roof, face: str, side: str, standard: Standard, core: float, seams: float = 0.0,
              ribs: float = 0.0) -> float:
    """How far the panels of a face are held back from the line of a valley, or of the back pan before a wall: up to the
    panels' line on its pan, and what is turned down there; a thick panel's upper side, ``core`` over its lower one,
    leans to the other roof's, or to the wall; ``seams``: how far seams and ribs lean toward that wall; ``ribs``: how
    much wider its pan's ribs are than a single one. In mm."""
    folds = (edge.fold or 0.0 for edge in roof.edges_of(face) if edge.kind == "valley")
    toward = roof.facet(face).plane.pitch if side == BACK else max(folds, default=0.0) / 2
    leans = core * math.tan(math.radians(toward)) if core else 0.0
    at_wall = seams + CLEAR if side == BACK else 0.0
    return max(standard.valley_open / 2 + standard.valley_rib + ribs - standard.cut_allowance, at_wall) + leans


class _PanMaker:
    """One panel on its way to a pan."""

    def __init__(self, roof: Roof, laid: PanelPlan, system: PanelSystem | None, standard: Standard,
                 pipes: dict[str, Pipe], kept: KeptClear, panel: Panel, sides: tuple[str, ...]) -> None:
        self.valleys = () if "valley" in sides else kept.valleys
        self.kept = kept
        self.roof, self.laid, self.system, self.standard = roof, laid, system, standard
        self.panel, self.rule = panel, laid.rule
        outline = panel.outline
        long = [n for n, a in enumerate(outline) if math.dist(a, outline[(n + 1) % len(outline)]) > _NO_SIDE]
        self.ring, self.sides = anticlockwise([outline[n] for n in long], [sides[n] for n in long])
        self.origin = panel.left, min(y for _, y in panel.outline)
        self.pipes = pipes
        self.height = self.rule.height or standard.seam_height
        self.lock = min(lock_of(system, standard), 0.8 * self.height)
        self.lap = next((mm for what, mm in panel.terms if what == LAPPED), 0.0)

    def shape(self) -> PanShape:
        """The pan. Raises :class:`InputError` where nothing is left of its floor."""
        edges, hem = self.edges(), self.rule.hem
        floor = [a for a, *_ in edges]
        return PanShape(
            name="pan", floor=tuple(floor), holes=tuple(self._holes(floor)), straight=True,
            seams=tuple(self._seams(edges)), heads=tuple(self._heads(edges)),
            hems=tuple((a, b, hem) for a, b, side in edges
                       if side == "eave" and hem and math.dist(a, b) > _LEAST_HEMMED * hem),
            sets=tuple(self._sets(edges)))

    def edges(self) -> list[tuple[Place, Place, str]]:
        """The edges of its floor, in its own frame, mm. Raises :class:`InputError` where nothing is left of it."""
        ring = [(x - self.origin[0], y - self.origin[1]) for x, y in self.ring]
        floor, kept = moved_sides(ring, [self._out(side) for side in self.sides])
        named = [(floor[n], floor[(n + 1) % len(floor)], self.sides[side] if side != STEP else CUT)
                 for n, side in enumerate(kept)]
        if self.lap:
            named = clear_of(named, self._lapped_off(shapely.Polygon(floor)), CUT)
        beside = -self._out("valley")
        named = clear_of(named, (line.buffer(beside, cap_style="flat")
                                 for line in self._near(self.valleys, named, beside)), "valley")
        if not named:
            raise nothing_left()
        ring = shapely.Polygon([a for a, *_ in named])
        held = self._near(self.kept.breaks, named)
        named = clear_of(named, (box for box in held if len(shapely.get_parts(ring - box)) == 1), CUT)
        below = shapely.box(-_FAR, -_FAR, _FAR, max(at for _, at in ring.exterior.coords) - self.lap)  # not under a lap
        named = clear_of(named, (overlay.intersection(box, below) for box in self._near(self.kept.low, named)), CUT)
        named = without_short(clear_of(named, self._near((self.kept.round_it,), named), CUT), _NO_SIDE)
        if not named:
            raise nothing_left()
        return named

    def _near(self, shapes: Iterable[shapely.Geometry], floor: list[tuple[Place, Place, str]],
              wide: float = 0.0) -> Iterator[shapely.Geometry]:
        """Those of some shapes of the face whose boxes come within ``wide`` mm of that of a floor, in its own frame."""
        (x, y), xs, ys = self.origin, [a[0] for a, *_ in floor], [a[1] for a, *_ in floor]
        for shape in shapes if floor else ():  # of nothing nothing is taken
            left, low, right, high = shape.bounds
            if (left - wide < max(xs) + x and right + wide > min(xs) + x
                    and low - wide < max(ys) + y and high + wide > min(ys) + y):
                yield translate(shape, -x, -y)

    def _lapped_off(self, floor: shapely.Polygon) -> Iterator[shapely.Geometry]:
        """What the floor's lap under the panel above would take of a wall beside that one, or of an opening; mm."""
        x, y = self.origin
        heads = [b[1] - y for side, a, b in zip(self.sides, self.ring, (*self.ring[1:], self.ring[0]), strict=True)
                 if side == HEAD]
        if heads:
            face = translate(self.kept.free, -x, -y)
            yield overlay.difference(overlay.intersection(floor, shapely.box(-_FAR, min(heads), _FAR, _FAR)), face)

    def _out(self, side: str) -> float:
        """How far a side of the floor goes on beyond the face, mm."""
        rule = self.rule
        if side in ("eave", BREAK):
            return rule.overhang if side == "eave" else rule.at_break
        if side == HEAD:
            return self.lap
        if side == "hip":
            return self.standard.cut_allowance
        if side in ("valley", BACK):
            toward = self.height * math.tan(math.radians(self.roof.facet(self.laid.facet).plane.pitch)) + rule.leans
            ribs = rule.ribs if side == "valley" else 0.0
            return -held_from(self.roof, self.laid.facet, side, self.standard, core_of(self.system), toward, ribs)
        held = {**dict.fromkeys(_TOPS, rule.at_ridge), **dict.fromkeys(_WALLS, rule.at_wall),
                "pitch-break": rule.under_break}.get(side, 0.0)
        return min(held, 0.0)

    def _seams(self, edges: list[tuple[Place, Place, str]]) -> Iterator[SeamSide]:
        eave = self.rule.hem + _BACK if self.rule.hem else CLEAR
        at_eave = [p[1] for a, b, side in edges if side == "eave" for p in (a, b)]
        lapped = [p[1] for a, b, side in edges if side == HEAD for p in (a, b)]
        x, y = self.origin
        held = [translate(box, -x, -y) for box in self.kept.seams]
        upright = [(one, side) for a, b, side in edges if side in (LEFT, RIGHT) and abs(a[0] - b[0]) < _NO_SIDE
                   for one in clear_line(a, b, held)]
        for ends, side in upright:
            low, high = sorted(ends, key=lambda p: p[1])
            foot = eave if any(abs(low[1] - y) < NOTHING for y in at_eave) else CLEAR
            over = self.lap if any(abs(high[1] - y) < NOTHING for y in lapped) else 0.0
            if high[1] - low[1] > foot + over + CLEAR + _SHORTEST:
                yield SeamSide(low=low, high=high, side=-1 if side == LEFT else 1, height=self.height,
                               lock=self.lock, locks=1 if side == LEFT else 2, back=(foot, CLEAR), free=(0.0, over))

    def _heads(self, edges: list[tuple[Place, Place, str]]) -> Iterator[PanHead]:
        """Turn-ups at ridge and wall, trays where the system folds its corners and both are at seams."""
        floor = shapely.Polygon([a for a, *_ in edges])
        for a, b, side in edges:
            rise = self.rule.at_ridge if side in _TOPS else self.rule.at_wall if side in _WALLS else 0.0
            a, b = _beside_itself(floor, a, b, rise) if rise > 0 and len(edges) > _NO_NOTCH else (a, b)
            if rise > 0 and math.dist(a, b) > _NARROW:
                left, right = b, a  # the floor runs anticlockwise: so they lie as seen from it, at a low wall too
                trays = self.system is not None and (self.system.rules.ridge if side in _TOPS else
                                                     self.system.rules.wall) == "tray"
                level = abs(a[1] - b[1]) < NOTHING
                yield PanHead(left=left, right=right, rise=rise, tray=trays and level and right[0] - left[0] > 3 * rise)

    def _sets(self, edges: list[tuple[Place, Place, str]]) -> Iterator[PanSet]:
        width, angle = self.standard.set_width, self.standard.set_angle
        for a, b, side in edges:
            if side == FOOT and width and angle and math.dist(a, b) > 4 * width:
                yield PanSet(a=a, b=b, width=width, angle=angle)

    def _holes(self, floor: list[Place]) -> Iterator[tuple[Place, ...]]:
        """Holes of the pipes that stand in it, whole in both pans of a split one."""
        frame, ground = face_frame(self.roof.facet(self.laid.facet)), shapely.Polygon(floor)
        for placed in self.roof.openings:
            form = self.pipes.get(placed.opening.id)
            if form is not None:
                middle = through_flats(frame, self.rule, (placed.opening.x, placed.opening.y))
                x, y = (c - o for c, o in zip(middle, self.origin, strict=True))
                upper = form.school == "split" and any(side == FOOT for side in self.sides)
                hole = tuple((x + p, y + q) for p, q in form.split.hole(upper, _PARTS))
                if ground.buffer(-1.0).contains(shapely.Polygon(hole)):
                    yield hole


def _beside_itself(floor: shapely.Polygon, a: Place, b: Place, rise: float) -> tuple[Place, Place]:
    """The part of a floor's edge whose turn-up, ``rise`` mm high, lies beside the floor in the flat sheet: in a notch
    it would lie on it. In mm."""
    long = math.dist(a, b)
    if long < NOTHING:
        return a, b
    along = (b[0] - a[0]) / long, (b[1] - a[1]) / long
    flap = shapely.Polygon([(end[0] + along[1] * out, end[1] - along[0] * out)  # outward: the floor runs anticlockwise
                            for end, out in ((a, 0.5), (b, 0.5), (b, rise + CLEAR), (a, rise + CLEAR))])
    low, high = 0.0, long
    for part in (one for one in shapely.get_parts(overlay.intersection(flap, floor)) if one.area > 1.0):
        on = [(x - a[0]) * along[0] + (y - a[1]) * along[1] for x, y in shapely.get_coordinates(part).tolist()]
        if min(on) < long - max(on):
            low = max(low, max(on) + CLEAR)
        else:
            high = min(high, min(on) - CLEAR)
    if high <= low:
        return a, a
    return (a[0] + along[0] * low, a[1] + along[1] * low), (a[0] + along[0] * high, a[1] + along[1] * high)


def shifted(shape: PanShape, by: Place) -> PanShape:
    """The same pan with another place at 0: moved by so many mm across and up."""
    def at(place: Place) -> Place:
        return place[0] + by[0], place[1] + by[1]

    return shape.but(
        floor=tuple(map(at, shape.floor)), holes=tuple(tuple(map(at, hole)) for hole in shape.holes),
        seams=tuple(seam.but(low=at(seam.low), high=at(seam.high)) for seam in shape.seams),
        hems=tuple((at(a), at(b), long) for a, b, long in shape.hems),
        heads=tuple(head.but(left=at(head.left), right=at(head.right)) for head in shape.heads),
        sets=tuple(edge.but(a=at(edge.a), b=at(edge.b)) for edge in shape.sets),
        lines=tuple((at(a), at(b), text) for a, b, text in shape.lines))


def grouped(shapes: dict[int, PanShape]) -> dict[tuple[int, ...], PanShape]:
    """Equal pans as one, by the numbers of the panels they are and named after them: "pan 3 to 9"."""
    found: dict[str, list[int]] = {}
    keyed = dict[str, PanShape]()
    for n, shape in shapes.items():
        key = rounded(shape)
        found.setdefault(key, []).append(n)
        keyed.setdefault(key, shape)
    return {tuple(numbers): keyed[key].but(qty=len(numbers), name=f"pan {_runs(numbers)}")
            for key, numbers in found.items()}


def rounded(shape: PanShape) -> str:
    """What two equal pans have in common."""
    def plain(value: object) -> object:
        if isinstance(value, float):
            return round(value / _ALIKE)
        if isinstance(value, dict):
            return {name: plain(one) for name, one in value.items()}
        return [plain(one) for one in value] if isinstance(value, list | tuple) else value
    return str(plain(shape.model_dump()))


def _runs(numbers: list[int]) -> str:
    """Numbers in a row as their ends: 3 to 9, 12."""
    parts, start = [], numbers[0]
    for n, after in zip(numbers, [*numbers[1:], None], strict=True):
        if after != n + 1:
            parts.append(f"{start}" if start == n else f"{start} to {n}" if n > start + 1 else f"{start}, {n}")
            start = after if after is not None else start
    return ", ".join(parts)
