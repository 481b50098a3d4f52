"""What every detail gives, whatever its family."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from yattle.measure import Sum
from yattle.pattern import Pattern, Proof
from yattle.section import Girth, Profile

Point = tuple[float, float]


@dataclass(frozen=True)
class Finding:
    """Something to look at. ``stop``: cannot be made; ``look``: should be seen; ``field`` is where."""

    level: Literal["stop", "look"]
    says: str
    reason: str = ""
    field: str = ""


@dataclass(frozen=True)
class Surrounding:
    """What lies around a section, drawn faintly: an outline in the section's installed frame."""

    name: str
    outline: tuple[Point, ...]


@dataclass(frozen=True)
class DetailPiece:
    """One piece of a run: its pattern, how long each part of it is, its hand and its proof."""

    pattern: Pattern
    ledger: Sum
    hand: str
    ends: tuple[str, str]
    start: float
    share: float
    proof: Proof

    @property
    def id(self) -> str:
        return self.pattern.id


@dataclass(frozen=True)
class DetailResult:
    """A detail worked out, or not: then ``girth`` and ``pieces`` are missing and findings say why.

    ``heading`` is the direction of the first leg as installed, in degrees from level.
    """

    profile: Profile | None
    girth: Girth | None
    leg_names: tuple[str, ...]
    leg_fields: tuple[str, ...]
    turn_fields: tuple[str, ...]
    heading: float
    around: tuple[Surrounding, ...]
    pieces: tuple[DetailPiece, ...]
    findings: tuple[Finding, ...]
    notes: tuple[str, ...]
    cautions: tuple[str, ...]

    @property
    def ok(self) -> bool:
        return bool(self.pieces)

    @property
    def max_gap(self) -> float:
        return max((piece.proof.max_gap for piece in self.pieces), default=0.0)

    def answer(self) -> dict[str, Any]:
        """The document that ``yattle develop`` prints."""
        if not self.ok:
            return {"ok": False, "reasons": [finding.says for finding in self.findings]}
        assert self.profile is not None
        return {"ok": True, "pieces": [piece.pattern.model_dump(mode="json") for piece in self.pieces],
                "sections": [self.profile.model_dump(mode="json")],
                "fit": {"max_gap": self.max_gap, "checked": sum(p.proof.checked for p in self.pieces)},
                "notes": list(self.notes), "cautions": list(self.cautions)}
