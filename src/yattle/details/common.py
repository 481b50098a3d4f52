"""What every detail gives, whatever its family."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Any, Literal

from yattle.measure import UNITS, Closest, Sum, Unit, in_unit, say_length, say_quantity
from yattle.pattern import Pattern, Proof, Tab, prove_against_section
from yattle.pattern.ends import EndKind
from yattle.pattern.lapped import prove_lap
from yattle.pattern.proof import Places, prove_against_faces
from yattle.pattern.unfold import Unfolded
from yattle.section import Girth, Profile

Point = tuple[float, float]
RunEnd = Literal["plain", "wrap", "wrap-in", "tab", "box", "cap", "dam", "turn-down", "kick-out", "wall-out",
                 "wall-in", "hem-45", "plumb", "lock-down", "lock-up"]
"""How a run can begin and finish."""
EndPart = Literal["top-tab", "face-tab", "wrap", "dam", "hem-45", "drip-back"]
"""What an end can have besides, each part by itself."""


@dataclass(frozen=True)
class Finding:
    """Something to look at. ``stop``: cannot be made; ``look``: should be seen; ``field`` is where.

    Lengths in the texts stand as ``{0}``, ``{1}`` … and are given in mm beside them, other quantities as what they are
    (see ``yattle.measure.quantities``), so that they can be said in the user's unit. ``short``: the run is too short
    for any piece; ``strip``: the part of the section that it is about, as girths call it.
    """

    level: Literal["stop", "look"]
    text: str
    why: str = ""
    field: str = ""
    lengths: tuple[float, ...] = ()
    short: bool = False
    strip: str = ""

    def says(self, unit: Unit = UNITS["mm"]) -> str:
        return self._said(self.text, unit)

    def reason(self, unit: Unit = UNITS["mm"]) -> str:
        return self._said(self.why, unit)

    def document(self) -> dict[str, str]:
        """As a verb prints it: what, what would do, which field; lengths in mm."""
        return {"level": self.level, "says": self.says(), "advice": self.reason(), "field": self.field}

    def _said(self, text: str, unit: Unit) -> str:
        told = text.format(*(say_quantity(one, unit) for one in self.lengths)) if self.lengths else text
        return in_unit(told, unit)  # what the verbs say in mm of shapes and machines


@dataclass(frozen=True)
class EndNote:
    """How one end of a piece is: its kind, its lap or flap in mm, the piece it meets (0: none), what it is called, what
    folds its flaps, which parts it has ``also``."""

    kind: EndKind
    amount: float = 0.0
    neighbour: int = 0
    name: str = ""
    nested: bool = True
    by: str = "tongs"
    also: str = ""

    def kind_says(self, unit: Unit = UNITS["mm"]) -> str:
        """As :meth:`says`, of several pieces: the neighbour of none of them is named."""
        return EndNote(self.kind, self.amount, 0, self.name, self.nested, self.by, self.also).says(unit)

    def says(self, unit: Unit = UNITS["mm"]) -> str:
        """How it is, in words."""
        said = self._said(unit)
        return f"{said}, {self.also}" if self.also else said

    def _said(self, unit: Unit) -> str:
        amount = say_length(self.amount, unit, mark=True)
        if self.kind == "tabs":
            return f"{self.name} {amount}, by {self.by}" if self.name else f"square, by {self.by}"
        nests = "nests under" if self.nested else "lies under"
        beside = f"piece {self.neighbour}" if self.neighbour else "the next"
        return {"under": f"{nests} {beside}, lap {amount}",
                "over": f"over {beside}, " + ("hem opened" if self.nested else "two beads and rivets"),
                "plain": self.name or "square",
                "cut": "cut on its plane" + (f", {amount} beyond" if self.amount > 0.05 else "")}[self.kind]


@dataclass(frozen=True)
class Surrounding:
    """What lies around a section, drawn faintly: an outline in the section's installed frame. In mm."""

    name: str
    outline: tuple[Point, ...]


@dataclass(frozen=True)
class Roles:
    """What legs do, counted from 0: ``face`` hangs and can go round a corner, ``wings`` lie on the roof and can be
    closed at the end, ``water`` carry water that must not leave sideways, ``wall`` stands up a wall; ``cap``: the
    flaps that close an end, as (leg, mm), where they are not the wings' tabs; the first is folded first."""

    face: int | None = None
    wings: tuple[int, ...] = ()
    water: tuple[int, ...] = ()
    wall: int | None = None
    cap: tuple[tuple[int, float], ...] = ()


NO_ROLES = Roles()


def misfit(what: str, proof: Proof) -> Finding:
    """That a piece, folded up again, is off what it was made for."""
    return Finding("stop", f"{what}: {{0}} off at {proof.worst}",
                   "do not cut it; other sizes may do", lengths=(Closest(proof.max_gap),))


@dataclass(frozen=True)
class DetailPiece:
    """One piece of a run. Lengths in mm.

    ``ledger``: how long each part of it is
    ``start``: from the run's left end; ``share``: its length of the run
    ``profile``, ``tabs``, ``cuts``: what the pattern is held against; cuts say where each flat part ends on its mould
        lines at a cut end, left and right
    ``flat``: of a tapered piece the faces that it was laid flat from; ``girths``: its girth tape at both ends of its
        share
    """

    pattern: Pattern
    ledger: Sum
    hand: str
    ends: tuple[EndNote, EndNote]
    start: float
    share: float
    profile: Profile
    tabs: tuple[Tab, ...]
    cuts: tuple[Places, Places] = (None, None)
    flat: Unfolded | None = None
    girths: tuple[Girth, Girth] | None = None

    @property
    def proof(self) -> Proof:
        """The pattern folded up again and held against its section, of a tapered one against its faces; worked out
        once per shape."""
        if self.flat is not None:
            return prove_against_faces(self.pattern, self.flat.seats, self.flat.faces)
        return prove_against_section(self.pattern, self.profile, self.tabs, self.cuts)

    @property
    def id(self) -> str:
        return self.pattern.id


@dataclass(frozen=True)
class DetailResult:
    """A detail worked out, or not: then ``girth`` and ``pieces`` are missing and findings say why.

    ``leg_names``: of all flat parts, hems included; ``leg_fields``: of the legs alone
    ``turn_fields``: fold id → what it follows from
    ``heading``: the first leg's direction as installed, degrees from level
    ``ends``: those its runs can have; ``parts``: what these can have besides
    """

    profile: Profile | None
    girth: Girth | None
    leg_names: tuple[str, ...]
    leg_fields: tuple[str, ...]
    turn_fields: dict[str, str]
    heading: float
    around: tuple[Surrounding, ...]
    pieces: tuple[DetailPiece, ...]
    findings: tuple[Finding, ...]
    notes: tuple[str, ...]
    cautions: tuple[str, ...]
    name: str = ""
    ends: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    roles: Roles = NO_ROLES

    @property
    def ok(self) -> bool:
        return bool(self.pieces)

    @cached_property
    def laps(self) -> tuple[tuple[DetailPiece, DetailPiece, Proof], ...]:
        """Neighbours folded up and laid over each other, left and right one, and how far they are off."""
        return tuple((a, b, prove_lap(a.pattern, b.pattern, a.profile, b.start - a.start, a.ends[1].amount or
                                      b.ends[0].amount))
                     for a, b in pairwise(self.pieces)
                     if a.flat is None and b.flat is None and "under" in (a.ends[1].kind, b.ends[0].kind))

    @property
    def max_gap(self) -> float:
        """The greatest gap of all its proofs, mm; 0 without pieces."""
        return max((proof.max_gap for proof in self._proofs), default=0.0)

    @property
    def _proofs(self) -> tuple[Proof, ...]:
        return (*(piece.proof for piece in self.pieces), *(proof for _, _, proof in self.laps))

    @property
    def misfits(self) -> Iterator[Finding]:
        """Pieces that do not fold up to their section, and neighbours that do not close, one after another: each takes
        its time."""
        for piece in self.pieces:
            if not piece.proof.holds:
                yield misfit(f"piece {piece.id} does not fold up to its section", piece.proof)
        for left, right, proof in self.laps:
            if not proof.holds:
                yield misfit(f"pieces {left.id} and {right.id} do not close in their lap", proof)

    def answer(self) -> dict[str, Any]:
        """The document that ``yattle develop`` prints."""
        misfits = tuple(self.misfits)
        findings = [finding.document() for finding in (*self.findings, *misfits)]
        stops = [finding.says() for finding in (*self.findings, *misfits) if finding.level == "stop"]
        if stops or self.profile is None:
            return {"ok": False, "reasons": stops, "findings": findings}
        return {"ok": True, "pieces": [piece.pattern.model_dump(mode="json") for piece in self.pieces],
                "sections": [self.profile.model_dump(mode="json")],
                "fit": {"max_gap": self.max_gap, "checked": sum(p.checked for p in self._proofs)},
                "findings": findings, "notes": list(self.notes), "cautions": list(self.cautions)}
