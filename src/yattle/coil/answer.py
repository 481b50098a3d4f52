"""``yattle-nest/1``: where every piece comes from, the cuts, and how near to the least it is."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from typing import Any

Rect = tuple[float, float, float, float]  # least x, least y, greatest x, greatest y


@dataclass(frozen=True)
class Placement:
    """``x``, ``y``: lower-left corner of the turned outline's bounding rectangle on its stock piece."""

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
    """One cut, edge to edge of ``piece``, at x = ``at`` (across) or y = ``at`` (along)."""

    n: int
    piece: str
    axis: str
    at: float
    gives: tuple[str, str]


@dataclass(frozen=True)
class Used:
    stock: str
    length: float
    area: float
    cost: float


@dataclass(frozen=True)
class Unplaced:
    part: str
    copies: int
    reason: str


@dataclass(frozen=True)
class Offcut:
    stock: str
    outline: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class NestAnswer:
    """``objective`` is what the answer costs (or its area in m²); no answer can be under ``bound``."""

    placements: tuple[Placement, ...]
    used: tuple[Used, ...]
    cuts: tuple[Cut, ...]
    offcuts: tuple[Offcut, ...]
    unplaced: tuple[Unplaced, ...]
    objective_of: str
    objective: float
    bound: float
    bound_by_metal: dict[str, float]
    placed_area: float
    seconds: float = 0.0

    @property
    def ok(self) -> bool:
        return not self.unplaced

    @property
    def used_area(self) -> float:
        return sum(used.area for used in self.used)

    @property
    def share_used(self) -> float:
        """Placed area over used area, 0 … 1."""
        return self.placed_area / self.used_area if self.used_area else 0.0

    @property
    def proved_best(self) -> bool:
        return self.objective - self.bound <= 1e-4 * max(self.objective, 1e-12)

    def after(self, seconds: float) -> NestAnswer:
        return replace(self, seconds=seconds)

    def answer(self) -> dict[str, Any]:
        """The document that ``yattle nest`` prints."""
        document: dict[str, Any] = {
            "format": "yattle-nest/1", "ok": self.ok,
            "placements": [self._placement(p) for p in self.placements],
            "used": [asdict(used) for used in self.used], "yield": self.share_used,
            "objective": {"of": self.objective_of, "value": self.objective},
            "bound": {"of": self.objective_of, "value": self.bound, "by_metal": self.bound_by_metal,
                      "proof": "area", "says": "the pieces' bare area on the cheapest usable stock"},
            "proved_best": self.proved_best,
            "cuts": [asdict(cut) for cut in self.cuts],
            "offcuts": [{"stock": o.stock, "outline": o.outline} for o in self.offcuts],
            "unplaced": [asdict(unplaced) for unplaced in self.unplaced],
            "seconds": self.seconds,
        }
        if self.unplaced:
            document["reasons"] = [f"{u.copies} × {u.part}: {u.reason}" for u in self.unplaced]
        return document

    @staticmethod
    def _placement(p: Placement) -> dict[str, Any]:
        row: dict[str, Any] = {"part": p.part, "copy": p.copy, "stock": p.stock, "turn": p.turn,
                               "mirrored": p.mirrored, "x": p.x, "y": p.y}
        return row | ({"piece": p.piece} if p.piece is not None else {})
