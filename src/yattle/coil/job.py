"""``yattle-nest-job/1``: what is to be cut, from what, under which rules.

Every stock piece has its own origin: x along the coil (rolling direction), y across. All
in mm.
"""

from __future__ import annotations

import math
from collections import Counter
from functools import lru_cache
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.bounds import Count, Id, Name, NotNegative, Positive, Ring, Width
from yattle.errors import InputError
from yattle.values import Value

Angle = Annotated[float, Field(ge=-3600, le=3600)]
MOST_PIECES = 20_000  # copies of all parts together


class Stock(Value):
    """A coil (``length`` null: enough for anything), a number of sheets, or one offcut by its outline. Lengths in mm,
    prices per m²."""

    id: Id
    kind: Literal["coil", "sheet", "offcut"]
    metal: Name
    width: Width | None = None
    length: Positive | None = None
    qty: Count = 1
    outline: Ring | None = None
    direction: Literal["along", "unknown"] = "along"
    lot: str | None = None
    cost_per_m: NotNegative | None = None
    cost: NotNegative | None = None

    @model_validator(mode="after")
    def _measures_of_its_kind(self) -> Self:
        if self.kind == "offcut":
            if self.outline is None:
                raise InputError("outline", "nothing", "an offcut's outline")
            check_ring(self.outline, "outline")
        elif self.width is None:
            raise InputError("width", "nothing", f"the width of the {self.kind}")
        if self.kind == "sheet" and self.length is None:
            raise InputError("length", "nothing", "the length of the sheet")
        if self.kind != "sheet" and self.qty != 1:
            raise InputError("qty", str(self.qty), f"1 for a {self.kind}")
        return self

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y; an endless coil's greatest x is infinite. In mm."""
        if self.outline is not None:
            xs, ys = zip(*self.outline, strict=True)
            return min(xs), min(ys), max(xs), max(ys)
        return 0.0, 0.0, self.length if self.length is not None else math.inf, self.width or 0.0


class Part(Value):
    """``qty`` pieces of one outline; ``turns`` anticlockwise degrees allowed, or ``any``. Of what is cut off a coil
    that with the lowest ``priority`` comes first."""

    id: Id
    outline: Ring
    holes: Annotated[tuple[Ring, ...], Field(max_length=1000)] = ()
    qty: Count = 1
    metal: Name
    turns: Annotated[tuple[Angle, ...], Field(min_length=1, max_length=72)] | Literal["any"] = (0.0, 180.0)
    mirror: bool = False
    match: str | None = None
    priority: Annotated[int, Field(ge=-1_000_000, le=1_000_000)] = 0

    @model_validator(mode="after")
    def _simple(self) -> Self:
        check_ring(self.outline, "outline")
        for n, hole in enumerate(self.holes):
            check_ring(hole, f"holes.{n}")
        if self.holes:
            _check_holes(self.outline, self.holes)
        return self

    @property
    def area(self) -> float:
        """Square mm, holes out."""
        return abs(ring_area(self.outline)) - sum(abs(ring_area(hole)) for hole in self.holes)


class NestRules(Value):
    """How the shop cuts: ``shear`` edge to edge, ``snips`` true shapes, ``mixed`` long strips by shear and the
    irregular rest by snips out of what they leave. ``objective``: the metal's ``cost``, ``area`` or ``length`` (metres
    of coil and sheet), or ``money``: the metal, ``cut_cost`` for every cut with its handling, less ``offcuts_worth``
    (0 … 1) of what kept offcuts have cost.
    Parts that match come from one lot, or (``match_by``) off one coil. See the contract of ``yattle nest``."""

    cutting: Literal["shear", "snips", "mixed"] = "shear"
    first: Literal["crosscut", "slit"] = "crosscut"
    objective: Literal["cost", "area", "length", "money"] = "cost"
    cut_cost: NotNegative = 0.0
    offcuts_worth: Annotated[float, Field(ge=0, le=1)] = 0.0
    match_by: Literal["lot", "coil"] = "lot"
    gap: NotNegative = 0.0
    edge_trim: NotNegative = 0.0
    end_trim: NotNegative = 0.0
    max_crosscut: Positive | None = None
    max_piece_kg: Positive | None = None
    max_cut: Positive | None = None
    min_sliver: NotNegative = 0.0
    min_offcut: tuple[NotNegative, NotNegative] = (600.0, 100.0)
    seconds: Annotated[float, Field(ge=0.01, le=86_400)] | None = 20.0
    work: Count | None = None
    seed: Annotated[int, Field(ge=0, lt=2**31)] = 1


class Begun(Value):
    """A ``match`` of which pieces are cut already: what is left of it comes from the same ``lot``, or, where it is to
    come off one coil, from the same ``stock``."""

    match: str
    lot: str | None = None
    stock: str | None = None


class NestJob(Value):
    """Parts to cut, stock to cut them from, the shop's rules; ``begun`` where pieces that match are cut already."""

    format: Literal["yattle-nest-job/1"] = "yattle-nest-job/1"
    stock: Annotated[tuple[Stock, ...], Field(max_length=1000)]
    parts: Annotated[tuple[Part, ...], Field(max_length=5000)]
    rules: NestRules = NestRules()
    begun: Annotated[tuple[Begun, ...], Field(max_length=5000)] = ()

    @model_validator(mode="after")
    def _ids_once(self) -> Self:
        for name, things in (("stock", self.stock), ("parts", self.parts)):
            twice = [key for key, count in Counter(thing.id for thing in things).items() if count > 1]
            if twice:
                raise InputError(name, f"the id {twice[0]!r} twice", "every id once")
        many = sum(part.qty for part in self.parts)
        if many > MOST_PIECES:
            raise InputError("parts", f"{many} pieces", f"at most {MOST_PIECES} in one job")
        return self


def ring_area(ring: Ring) -> float:
    """Signed area in mm², positive anticlockwise."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)) / 2


@lru_cache(maxsize=4096)  # a part is looked at when it is made, and once more when it is put in a job
def check_ring(ring: Ring, field: str) -> None:
    """Raise :class:`InputError` unless ``ring`` is a simple outline with an area. Corners in mm."""
    if len(ring) < 3:
        raise InputError(field, f"{len(ring)} points", "at least 3 points")
    if len(ring) == 4 and _is_upright_rectangle(ring):
        return
    from shapely import Polygon

    shape = Polygon(ring)
    if not shape.is_valid:
        raise InputError(field, "an outline that crosses or touches itself", "a simple outline")
    if shape.area <= 1e-9:
        raise InputError(field, "an outline without area", "an outline with an area")


def _check_holes(outline: Ring, holes: tuple[Ring, ...]) -> None:
    from shapely import Polygon

    if not Polygon(outline, holes).is_valid:
        raise InputError("holes", "one outside the outline, or two that meet", "holes inside the outline, apart")


def _is_upright_rectangle(ring: Ring) -> bool:
    xs, ys = {x for x, _ in ring}, {y for _, y in ring}
    return len(xs) == 2 and len(ys) == 2 and len(set(ring)) == 4 and all(
        (a[0] == b[0]) != (a[1] == b[1]) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True))
