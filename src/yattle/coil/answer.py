"""``yattle-nest/1``: where every piece comes from, the cuts, and how near to the least it is."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from typing import Any

Rect = tuple[float, float, float, float]  # least x, least y, greatest x, greatest y


@dataclass(frozen=True)
class Placement:
    """``x``, ``y``: lower-left corner of the turned outline's bounding rectangle on its stock piece. All in mm and
    degrees."""

    part: str
    copy: int
    stock: str
    turn: float
    mirrored: bool
    x: float
    y: float
    width: float  # along x
    height: float  # along y
    piece: str | None = None


@dataclass(frozen=True)
class Cut:
    """One cut, edge to edge of ``piece``, at x = ``at`` (across) or y = ``at`` (along). ``at`` in mm."""

    n: int
    piece: str
    axis: str
    at: float
    gives: tuple[str, str]


@dataclass(frozen=True)
class Used:
    """What is taken of one stock piece: ``length`` of it in mm, its ``area`` in m², its ``cost`` in units of the
    objective."""

    stock: str
    length: float
    area: float
    cost: float


@dataclass(frozen=True)
class Unplaced:
    """Copies of a part that no stock takes, and why, in words."""

    part: str
    copies: int
    reason: str


@dataclass(frozen=True)
class Offcut:
    """What is left of a stock piece and worth keeping: its outline on that piece, anticlockwise, mm."""

    stock: str
    outline: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class LowerBound:
    """The lower bound: what no answer that places the same parts can be under, in the objective's own
    unit; how that is known."""

    value: float
    by_metal: dict[str, float]
    proof: str  # area | dual | lp | search
    says: str


NO_BOUND = LowerBound(0.0, {}, "area", "nothing is known yet")


@dataclass(frozen=True)
class NestAnswer:
    """``objective`` is what the answer costs (or its area in m²); no answer can be under ``bound``. ``stopped``: what
    ended the search, if it did not end by itself."""

    placements: tuple[Placement, ...]
    used: tuple[Used, ...]
    cuts: tuple[Cut, ...]
    offcuts: tuple[Offcut, ...]
    unplaced: tuple[Unplaced, ...]
    objective_of: str
    objective: float
    bound: LowerBound
    placed_area: float
    seconds: float = 0.0
    stopped: str = ""

    @property
    def ok(self) -> bool:
        return not self.unplaced

    @property
    def used_area(self) -> float:
        """What is taken of all stock, m²."""
        return sum(used.area for used in self.used)

    @property
    def metal_cost(self) -> float:
        """What the metal alone costs (or its area where that is the objective). In money, or m²."""
        return sum(used.cost for used in self.used)

    @property
    def share_used(self) -> float:
        """Placed area over used area, 0 … 1."""
        return self.placed_area / self.used_area if self.used_area else 0.0

    @property
    def proved_best(self) -> bool:
        return bool(self.objective - self.bound.value <= 1e-4 * max(self.objective, 1e-12))

    @property
    def over_bound(self) -> float:
        """How far it can be from the least, as a share of the bound; 0 is the least itself."""
        return (self.objective - self.bound.value) / self.bound.value if self.bound.value > 1e-12 else 0.0

    def after(self, seconds: float, stopped: str = "") -> NestAnswer:
        """The same answer, found after so many ``seconds``; ``stopped`` says who ended the search."""
        return replace(self, seconds=seconds, stopped=stopped)

    def with_bound(self, bound: LowerBound) -> NestAnswer:
        """The same answer, held against this lower bound."""
        return replace(self, bound=bound)

    def answer(self) -> dict[str, Any]:
        """The document that ``yattle nest`` prints."""
        document: dict[str, Any] = {
            "format": "yattle-nest/1", "ok": self.ok,
            "placements": [self._placement(p) for p in self.placements],
            "used": [asdict(used) for used in self.used], "yield": self.share_used,
            "objective": {"of": self.objective_of, "value": self.objective},
            "bound": {"of": self.objective_of, **asdict(self.bound)},
            "proved_best": self.proved_best,
            "cuts": [asdict(cut) for cut in self.cuts],
            "offcuts": [{"stock": o.stock, "outline": o.outline} for o in self.offcuts],
            "unplaced": [asdict(unplaced) for unplaced in self.unplaced],
            "seconds": self.seconds,
        }
        if self.stopped:
            document["stopped"] = self.stopped
        if self.unplaced:
            document["reasons"] = [f"{u.copies} × {u.part}: {u.reason}" for u in self.unplaced]
        return document

    @staticmethod
    def _placement(p: Placement) -> dict[str, Any]:
        row: dict[str, Any] = {"part": p.part, "copy": p.copy, "stock": p.stock, "turn": p.turn,
                               "mirrored": p.mirrored, "x": p.x, "y": p.y}
        return row | ({"piece": p.piece} if p.piece is not None else {})
