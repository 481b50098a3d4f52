"""What was taped against what the roof says: residuals, the most likely wrong measure, the adjusted roof.

All measures count: those entered for the blocks and those taped beside worked-out ones. The roof is
adjusted by least squares, each measure weighted by how well it can be taken; a residual over its own
standard deviation (W. Baarda's data snooping) shows which measure fits least with all others.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, Name
from yattle.errors import InputError
from yattle.roof.build import Roof, build, outline3
from yattle.roof.edges import Edge
from yattle.roof.model import RoofPlan
from yattle.values import Value

_LENGTHS = ("length", "span", "eave_height", "x", "y", "eave_overhang", "rake_overhang")
ANGLES = ("pitch", "pitch_right", "pitch_ends", "bearing")
_ROUNDS = 4


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
    """``plan`` the adjusted roof; ``misfits`` the least fitting first."""

    plan: RoofPlan
    misfits: tuple[Misfit, ...]

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
                "suspects": [one.named for one in self.suspects]}


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


def _changed(plan: RoofPlan, entered: list[_Entered], values: np.ndarray) -> RoofPlan:
    blocks = [dict[str, float]() for _ in plan.blocks]
    for item, value in zip(entered, values, strict=True):
        blocks[item.block][item.field] = float(value)
    return plan.but(blocks=tuple(b.but(**changes) for b, changes in zip(plan.blocks, blocks, strict=True)))


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
    """The roof that fits all measures best, and how each measure fits it."""
    roof = build(plan)
    known = [t for t in taped if worked_out(roof, t) is not None]
    if not known:
        return Adjustment(plan, ())
    entered = _entered(plan)
    slopes = _slopes(plan, entered, known)
    matters = np.abs(slopes).max(axis=0) > 1e-6
    entered, slopes = [item for item, keep in zip(entered, matters, strict=True) if keep], slopes[:, matters]
    if not entered:
        return Adjustment(plan, ())
    start = np.array([item.value for item in entered])
    values, weights = start.copy(), np.array([1 / item.sigma for item in entered] + [1 / t.sigma for t in known])
    design = np.vstack((np.eye(len(entered)), slopes)) * weights[:, None]  # kept: the change is small
    for _ in range(_ROUNDS):
        said = _says(plan, entered, values, known)
        missing = np.concatenate((start - values, [t.value - s for t, s in zip(known, said, strict=True)])) * weights
        change, *_ = np.linalg.lstsq(design, missing, rcond=None)
        values = values + change
        if np.abs(change * weights[: len(entered)]).max() < 1e-4:
            break
    return Adjustment(_rounded(plan, entered, values), _misfits(plan, entered, start, values, known, design, weights))


def _says(plan: RoofPlan, entered: list[_Entered], values: np.ndarray, known: list[Taped]) -> list[float]:
    roof = build(_changed(plan, entered, values))
    found = [worked_out(roof, taped) for taped in known]
    return [taped.value if value is None else value for taped, value in zip(known, found, strict=True)]


def _slopes(plan: RoofPlan, entered: list[_Entered], known: list[Taped]) -> np.ndarray:
    """How much each taped measure changes with each entered one, shape (taped, entered)."""
    base = np.array(_says(plan, [], np.array([]), known))
    columns = [(np.array(_says(plan, [item], np.array([item.value + item.step]), known)) - base) / item.step
               for item in entered]
    return np.array(columns).T.reshape(len(known), len(entered))


def _misfits(plan: RoofPlan, entered: list[_Entered], start: np.ndarray, values: np.ndarray, known: list[Taped],
             design: np.ndarray, weights: np.ndarray) -> tuple[Misfit, ...]:
    said = np.concatenate((values, _says(plan, entered, values, known)))
    measured = np.concatenate((start, [t.value for t in known]))
    spread = 1 - np.einsum("ij,jk,ik->i", design, np.linalg.inv(design.T @ design), design)
    off = np.abs((measured - said) * weights) / np.sqrt(np.maximum(spread, 1e-6))
    named = [(item.named, False, item.is_angle) for item in entered] + [
        (name_of(build(plan), t), True, t.is_angle) for t in known]
    rows = [Misfit(name, float(m), float(s), float(o), is_taped, angle) for (name, is_taped, angle), m, s, o in zip(
        named, measured, said, off, strict=True)]
    return tuple(sorted(rows, key=lambda row: -row.off))


def name_of(roof: Roof, taped: Taped) -> str:
    """A taped measure in words."""
    if taped.kind in ("edge", "fold"):
        edge, what = _edge_of(roof, taped), "taped fold of " if taped.kind == "fold" else "taped "
        return f"{what}{edge.kind} {edge.id}" if edge is not None else f"{what}{taped.of}"
    if taped.kind == "block":
        return f"taped {taped.field.replace('_', ' ')} of {taped.of}"
    return f"taped {taped.kind} of {taped.of}"


def _rounded(plan: RoofPlan, entered: list[_Entered], values: np.ndarray) -> RoofPlan:
    """The adjusted plan in tenths of a millimetre and hundredths of a degree; raises nothing: sizes stay above 0."""
    kept = [round(float(v), 2 if item.is_angle else 1) for v, item in zip(values, entered, strict=True)]
    try:
        return _changed(plan, entered, np.array(kept))
    except InputError:
        return plan
