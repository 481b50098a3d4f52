"""What was taped against what the roof says: residuals, the most likely wrong measure, the adjusted roof.

All measures count: those entered for the blocks and those taped beside worked-out ones. The roof is
adjusted by least squares, each measure weighted by how well it can be taken, its corners held together; a residual
over its own standard deviation (W. Baarda's data snooping) shows which measure fits least with all others.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yattle.bounds import Id, Name
from yattle.errors import InputError
from yattle.roof.build import Roof, build, outline3
from yattle.roof.edges import Edge
from yattle.roof.held import HeldRoof, HeldValues
from yattle.roof.model import RoofPlan
from yattle.values import Value, check

_LENGTHS = ("length", "span", "eave_height", "x", "y", "eave_overhang", "rake_overhang")
ANGLES = ("pitch", "pitch_right", "pitch_ends", "bearing")
_ROUNDS = 6
_BOUNDS = {"pitch": (0.05, 89.0), "pitch_right": (0.05, 89.0), "pitch_ends": (0.05, 89.0),
           "length": (1.0, 1e6), "span": (1.0, 1e6)}
_UNCHECKED = 1e-4  # of a measure's own spread: under it nothing else checks it
Array = NDArray[np.float64]


class Taped(Value):
    """One measure taken on the roof. ``kind`` ``edge``: the true length of the edge with key ``of``; ``fold``: the
    angle it folds by, 180° less what an angle finder laid square over it reads; ``field`` its place among edges of
    that key. ``diagonal``: on facet ``of`` between its corners ``field`` (``0-2``); ``pitch``: of facet ``of``;
    ``block``: ``field`` of block ``of``. Lengths mm, angles degrees. ``by`` a ``stand-in`` it was not measured at all:
    it is shown, and nothing follows from it."""

    kind: Literal["edge", "fold", "diagonal", "pitch", "block"]
    of: Id
    field: Name = ""
    value: Annotated[float, Field(ge=0.01, le=200_000)]
    by: Literal["tape", "stand-in"] = "tape"

    @property
    def is_angle(self) -> bool:
        return self.kind in ("fold", "pitch") or (self.kind == "block" and self.field in ANGLES)

    @property
    def sigma(self) -> float:
        """How well it can be taken: 3 mm and 0.3 mm a metre with a tape, 0.3° with an angle finder."""
        return 0.3 if self.is_angle else 3.0 + 0.0003 * self.value


def taken(kind: str, of: str, field: str, value: float, by: str = "tape", where: str = "taped") -> Taped:
    """A measure as somebody entered it, mm or degrees, ``where`` in words. Raises :class:`InputError` for one that
    cannot have been taken."""
    return check(lambda: Taped(kind=kind, of=of, field=field, value=value, by=by), where)  # type: ignore[arg-type]


class TapedRoof(RoofPlan):
    """A roof with what was taped on it."""

    taped: Annotated[tuple[Taped, ...], Field(max_length=500)] = ()

    @property
    def plan(self) -> RoofPlan:
        """The roof alone."""
        return RoofPlan(blocks=self.blocks, openings=self.openings, faces=self.faces)


@dataclass(frozen=True)
class Misfit:
    """One measure: what it was, what the adjusted roof says, and ``off`` its residual over its own spread.

    ``named`` in words (``span of main``); ``taped`` whether it was taped beside a worked-out one. In mm or degrees, as
    the measure is.
    """

    named: str
    measured: float
    adjusted: float
    off: float
    taped: bool
    is_angle: bool


@dataclass(frozen=True)
class Adjustment:
    """``plan`` the adjusted roof; ``misfits`` the least fitting first; ``others`` the keys of edges that only the roof
    before or only the adjusted one has, where its blocks meet otherwise."""

    plan: RoofPlan
    misfits: tuple[Misfit, ...]
    others: tuple[str, ...] = ()

    @property
    def suspects(self) -> tuple[Misfit, ...]:
        """The most likely wrong measure; several, taped ones first, when the measures can hardly tell between them."""
        worst = self.misfits[0].off if self.misfits else 0.0
        found = [m for m in self.misfits if worst > 0 and m.off > 0.9 * worst]
        return tuple(sorted(found, key=lambda m: not m.taped))

    def answer(self) -> dict[str, Any]:
        """As ``yattle adjust`` gives it; residuals are what was measured less what the adjusted roof says."""
        return {"format": "yattle-adjusted/1", "ok": True, "roof": self.plan.model_dump(mode="json"),
                "residuals": [{"measure": one.named, "measured": one.measured, "adjusted": one.adjusted,
                               "residual": one.measured - one.adjusted, "off": one.off, "taped": one.taped,
                               "unit": "deg" if one.is_angle else "mm"} for one in self.misfits],
                "suspects": [one.named for one in self.suspects], "other_edges": list(self.others)}


def says_of(values: HeldValues, plan: RoofPlan, taped: Taped) -> float:
    """What a held roof says of a measure that it has, with the values of ``plan``; in mm or degrees, as it is."""
    roof = values.held.roof
    if taped.kind == "block":
        return float(getattr(next(b for b in plan.blocks if b.id == taped.of), taped.field))
    if taped.kind == "pitch":
        return values.pitch(taped.of)
    if taped.kind == "diagonal":
        corners = outline3(roof.facet(taped.of))
        a, _, b = taped.field.partition("-")
        return values.between(corners[int(a)], corners[int(b)], values.held.face(taped.of))
    edge = _edge_of(roof, taped)
    assert edge is not None
    if taped.kind == "fold":
        return values.fold(edge) or 0.0
    return values.between(edge.a, edge.b, values.held.pair(edge))


def worked_out(roof: Roof, taped: Taped) -> float | None:
    """What the roof says of a measure; ``None`` where there is no such thing on it (any more). In mm or degrees, as
    the measure is."""
    if taped.kind in ("edge", "fold"):
        edge = _edge_of(roof, taped)
        return None if edge is None else edge.length if taped.kind == "edge" else edge.fold
    if taped.kind == "block":
        block = next((b for b in roof.plan.blocks if b.id == taped.of), None)
        value = getattr(block, taped.field, None)
        return float(value) if isinstance(value, float | int) else None
    facet = next((f for f in roof.facets if f.id == taped.of), None)
    if facet is None:
        return None
    if taped.kind == "pitch":
        return facet.plane.pitch
    corners = outline3(facet)
    a, _, b = taped.field.partition("-")
    if a.isdigit() and b.isdigit() and max(int(a), int(b)) < len(corners):
        return math.dist(corners[int(a)], corners[int(b)])
    return None


def _edge_of(roof: Roof, taped: Taped) -> Edge | None:
    found = [edge for edge in roof.edges if edge.key == taped.of]
    place = int(taped.field or 0)
    return found[place] if place < len(found) else None


@dataclass(frozen=True)
class _Entered:
    block: int
    field: str
    named: str
    value: float

    @property
    def is_angle(self) -> bool:
        return self.field in ANGLES

    @property
    def sigma(self) -> float:
        return 0.3 if self.is_angle else 5.0 + 0.0003 * abs(self.value)

    @property
    def step(self) -> float:
        return 0.02 if self.is_angle else 0.5


def _entered(plan: RoofPlan) -> list[_Entered]:
    return [_Entered(n, field, f"{field.replace('_', ' ')} of {block.id}", float(getattr(block, field)))
            for n, block in enumerate(plan.blocks) for field in (*_LENGTHS, *ANGLES)
            if getattr(block, field, None) is not None]


def _changed(plan: RoofPlan, entered: list[_Entered], values: Array) -> RoofPlan:
    blocks = [dict[str, float]() for _ in plan.blocks]
    for item, value in zip(entered, values, strict=True):
        blocks[item.block][item.field] = float(value)
    return plan.but(blocks=tuple(b.but(**changes) for b, changes in zip(plan.blocks, blocks, strict=True)))


def _tried(plan: RoofPlan, entered: list[_Entered], values: Array) -> RoofPlan:
    """The plan with these values, whether they can be entered or not: an overhang of nothing may come out below 0."""
    blocks = list(plan.blocks)
    for item, value in zip(entered, values, strict=True):
        blocks[item.block] = blocks[item.block].model_copy(update={item.field: float(value)})
    return plan.model_copy(update={"blocks": tuple(blocks)})


def adjusted(roof: TapedRoof) -> Adjustment:
    """The roof that fits its taped measures best. Raises :class:`~yattle.errors.InputError` for a measure of something
    that is not on it, and where a measure is so wild that no roof fits it."""
    built = build(roof.plan)
    for n, taped in enumerate(roof.taped):
        if worked_out(built, taped) is None:
            raise InputError(f"taped.{n}.of", f"{taped.kind} {taped.of!r} {taped.field}".rstrip(),
                             "an edge's key, a face or a block of this roof with that field")
    measured = tuple(taped for taped in roof.taped if taped.by != "stand-in")
    return adjust(roof.plan, measured)


def adjust(plan: RoofPlan, taped: tuple[Taped, ...]) -> Adjustment:
    """The roof that fits all measures best, and how each measure fits it. Which surfaces meet in which corner is held
    as it is on ``plan``."""
    roof = build(plan)
    known = [t for t in taped if worked_out(roof, t) is not None]
    if not known:
        return Adjustment(plan, ())
    model = _Fitting(roof, known)
    if not model.entered:
        return Adjustment(plan, ())
    values = model.start.copy()
    for _ in range(_ROUNDS):
        design = model.design(values)
        change = model.possible(values, np.asarray(np.linalg.lstsq(design, model.missing(values), rcond=None)[0]))
        values = values + change
        if np.abs(change * model.weights[: len(values)]).max() < 1e-4:
            break
    adjusted_plan = _rounded(plan, model.entered, values)
    return Adjustment(adjusted_plan, model.misfits(values), _others(roof, adjusted_plan))


class _Fitting:
    """Entered and taped measures as one adjustment: its design and what is missing, both in standard deviations."""

    def __init__(self, roof: Roof, known: list[Taped]) -> None:
        self.roof, self.known, self.held = roof, known, HeldRoof(roof)
        self.measured = np.array([taped.value for taped in known])
        self.entered = _entered(roof.plan)
        slopes = self._slopes(np.array([item.value for item in self.entered]))
        self.entered = [item for item, slope in zip(self.entered, slopes.T, strict=True) if np.abs(slope).max() > 1e-6]
        self.start = np.array([item.value for item in self.entered])
        self.weights = 1 / np.array([item.sigma for item in self.entered] + [taped.sigma for taped in known])

    def says(self, values: Array) -> Array:
        """What the roof with these entered values says of each taped measure."""
        plan = _tried(self.roof.plan, self.entered, values)
        at = self.held.at(plan)
        return np.array([says_of(at, plan, taped) for taped in self.known])

    def possible(self, values: Array, change: Array) -> Array:
        """As much of a change as leaves sizes and pitches that can be worked with: all of it, a half, …, or none."""
        for part in (1.0, 0.5, 0.25, 0.1, 0.01):
            tried = zip(self.entered, values + part * change, strict=True)
            if all(_BOUNDS[item.field][0] <= value <= _BOUNDS[item.field][1] for item, value in tried
                   if item.field in _BOUNDS):
                return part * change
        return np.zeros_like(change)

    def _slopes(self, values: Array) -> Array:
        """How much each taped measure changes with each entered one, shape (taped, entered)."""
        columns = []
        for n, item in enumerate(self.entered):
            step = np.zeros(len(values))
            step[n] = item.step
            columns.append((self.says(values + step) - self.says(values - step)) / (2 * item.step))
        return np.array(columns).T.reshape(len(self.known), len(self.entered))

    def design(self, values: Array) -> Array:
        """Shape (entered and taped, entered)."""
        return np.asarray(np.vstack((np.eye(len(self.entered)), self._slopes(values))) * self.weights[:, None])

    def missing(self, values: Array) -> Array:
        """What was measured less what the values say, each over its standard deviation."""
        return np.concatenate((self.start - values, self.measured - self.says(values))) * self.weights

    def misfits(self, values: Array) -> tuple[Misfit, ...]:
        """Every measure, the least fitting first."""
        design = self.design(values)
        spread = 1 - np.einsum("ij,jk,ik->i", design, np.linalg.pinv(design.T @ design), design)
        off = np.abs(self.missing(values)) / np.sqrt(np.maximum(spread, 1e-6))
        off = np.where(spread < _UNCHECKED, 0.0, off)  # nothing else says anything of it
        said = np.concatenate((values, self.says(values)))
        measured = np.concatenate((self.start, self.measured))
        named = [(item.named, False, item.is_angle) for item in self.entered] + [
            (name_of(self.roof, taped), True, taped.is_angle) for taped in self.known]
        rows = [Misfit(name, float(m), float(s), float(o), is_taped, angle) for (name, is_taped, angle), m, s, o in zip(
            named, measured, said, off, strict=True)]
        return tuple(sorted(rows, key=lambda row: -row.off))


def _others(before: Roof, plan: RoofPlan) -> tuple[str, ...]:
    """Edges that the adjusted roof has no more, or that it did not have, by their keys: the blocks meet otherwise."""
    try:
        after = build(plan)
    except InputError:  # an opening would stand off the roof
        return ()
    old, new = (Counter(edge.key for edge in roof.edges) for roof in (before, after))
    return tuple(sorted(((old - new) + (new - old)).elements()))


def name_of(roof: Roof, taped: Taped) -> str:
    """A taped measure in words."""
    if taped.kind in ("edge", "fold"):
        edge, what = _edge_of(roof, taped), "taped fold of " if taped.kind == "fold" else "taped "
        return f"{what}{edge.kind} {edge.id}" if edge is not None else f"{what}{taped.of}"
    if taped.kind == "block":
        return f"taped {taped.field.replace('_', ' ')} of {taped.of}"
    return f"taped {taped.kind} of {taped.of}"


def _rounded(plan: RoofPlan, entered: list[_Entered], values: Array) -> RoofPlan:
    """The adjusted plan in tenths of a millimetre and hundredths of a degree; raises nothing: sizes stay above 0."""
    kept = [max(round(float(v), 2 if item.is_angle else 1), 0.0 if "overhang" in item.field else -math.inf)
            for v, item in zip(values, entered, strict=True)]
    try:
        return _changed(plan, entered, np.array(kept))
    except InputError:
        return plan
