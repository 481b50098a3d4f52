"""What all straight trims are given: a detail says which legs and turns its section has and where these come from."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Id, Lap, Name, Past, Place, RunLength, Size, SizeOrNone
from yattle.details.common import NO_ROLES, EndPart, Finding, Roles, RunEnd, Surrounding
from yattle.pattern import Mark
from yattle.runs import RunPiece
from yattle.section import Girth, Hem, MetalSpec
from yattle.values import Value

Normal = tuple[Place, Place, Place]
Tapers = Annotated[tuple[tuple[Name, Place], ...], Field(max_length=100)]
"""Measures that are another at a run's right end: field and value, mm or degrees."""
Outlets = Annotated[tuple[tuple[Place, Size], ...], Field(max_length=50)]
"""Outlets of a gutter: mm from the run's left end, mm across."""
Hole = tuple[float, float, float]
"""A round hole: along the share, up from raw edge B, across; mm."""
SHARP = ("Cut edges are sharp: wear gloves.", "Two people for a long piece; never in wind.")


@dataclass(frozen=True)
class Leg:
    """One leg of a section: its name in the trade's words and the field it is typed into. Its length in mm."""

    name: str
    field: str
    length: float


@dataclass(frozen=True)
class TrimSection:
    """A detail's section. Lengths in mm, angles in degrees.

    ``turn_fields``: what each turn follows from (``pitch`` and ``fold`` come from the roof)
    ``heading``: the first leg's direction as installed, from level, x out and y up
    ``datum``: the corner that runs along the roof's edge: 0 at raw edge A, hem A left out
    ``crossing``: instead of it, where the lines of the first and the last leg meet
    ``aside``: how far out from the roof's edge the datum's corner lies, where that is not on it
    ``roles``: what its legs do, which says what ends it can have
    """

    name: str
    legs: tuple[Leg, ...]
    turns: tuple[float, ...]
    turn_fields: tuple[str, ...]
    heading: float
    hem_a: Hem | None = None
    hem_b: Hem | None = None
    datum: int = 1
    crossing: bool = False
    aside: float = 0.0
    roles: Roles = NO_ROLES
    around: tuple[Surrounding, ...] = ()
    notes: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    looks: tuple[Finding, ...] = ()


class CornerCut(Value):
    """What cuts a corner off an end besides its own plane: another ``plane``, its normal (along the run, out, up), on
    one ``side`` of the section; ``reach``: how far beyond the run's end it stands, along it, mm."""

    end: Literal["left", "right"]
    side: Literal["a", "b"]
    plane: Normal
    reach: Place


class Trim(Value):
    """What every straight trim is given, every measure resolved; mm and degrees. Left and right are as seen with the
    paint face toward the eye and edge A on top.

    ``left``, ``right``: what the ends are
    ``left_plane``, ``right_plane``: the plane that cuts an end: its normal (along the run, out, up); it passes where
        the section's corner on the roof's edge ends
    ``left_plane_b``, ``right_plane_b``: another plane for the side of edge B, where a section lies on two faces
    ``left_also``, ``right_also``: parts that they have besides
    ``reaches``: how far beyond the run's ends these planes stand, along it: left, left of B, right, right of B
    ``corner_cuts``: what cuts corners off these ends
    ``past``: how far a square lower end goes on beyond the run, with the panels that overhang there
    ``carry``, ``under``: how far the upper and the lower end go on beyond their planes
    ``wrap``, ``tab``, ``kick_out``: lengths of flaps at ends; ``flaps``: what folds them
    ``over``: how high the seams or ribs of the panels stand that it lies over; 0: nobody knows
    ``joint``: whether pieces nest (hem and drip of one cut back) or lap plainly
    ``weather``: the end that rain comes from
    ``low``: the lower end of a run that slopes by ``slope``, whose pieces lap over the one below instead
    ``avoid``: stretches from the left end where no joint may stand
    ``outlets``: round holes in the bottom of a gutter, as (mm from the left end, mm across)
    ``tapers``: measures that are another at the right end, as (field, value): the section changes evenly to it;
        ``legs.1`` names the second of a row
    """

    format: Literal["yattle-detail/1"] = "yattle-detail/1"
    id: Id = "T1"
    length: RunLength
    metal: MetalSpec
    measured: Literal["outside", "inside"] = "outside"
    lap: Lap = 80.0
    wrap: Size = 34.0
    tab: Size = 25.0
    kick_out: Size = 120.0
    past: Past = 0.0
    carry: SizeOrNone = 0.0
    under: SizeOrNone = 0.0
    slope: Annotated[float, Field(ge=0, lt=90)] = 0.0
    over: SizeOrNone = 0.0
    flaps: Literal["tongs", "brake"] = "tongs"
    joint: Literal["nested", "plain"] = "nested"
    nest_gap: SizeOrNone = 2.0
    stock_length: Size = 3000.0
    least_piece: Size = 500.0
    left: RunEnd = "plain"
    right: RunEnd = "plain"
    left_also: tuple[EndPart, ...] = ()
    right_also: tuple[EndPart, ...] = ()
    left_plane: Normal | None = None
    right_plane: Normal | None = None
    left_plane_b: Normal | None = None
    right_plane_b: Normal | None = None
    reaches: tuple[Place, Place, Place, Place] = (0.0, 0.0, 0.0, 0.0)
    corner_cuts: Annotated[tuple[CornerCut, ...], Field(max_length=50)] = ()
    weather: Literal["left", "right"] = "left"
    low: Literal["left", "right"] | None = None
    joints: Literal["even", "full"] = "even"
    avoid: Annotated[tuple[tuple[Place, Place], ...], Field(max_length=1000)] = ()
    tapers: Tapers = ()
    outlets: Outlets = ()

    @property
    def box_tab(self) -> float:
        """How far the first tab of a boxed end reaches, mm."""
        return self.tab

    @abstractmethod
    def sheet(self) -> TrimSection:
        """The section this detail folds; every detail has its own. A detail raises :class:`InputError` where its
        fields make none."""

    def own_cuts(self) -> tuple[RunPiece, ...]:
        """The pieces where they do not come from cutting up the run; most details have none of these."""
        return ()

    @property
    def drained(self) -> int | None:
        """The leg that outlets are in, counted from 0; most details have none."""
        return None

    @property
    def takes_outlets(self) -> bool:
        """Whether outlets can be cut or marked in it."""
        return self.drained is not None

    def holes(self, girth: Girth, cut: RunPiece) -> tuple[Hole, ...]:
        """Round holes in a piece: a gutter's outlets; most details have none."""
        if self.drained is None:
            return ()
        part = self.drained + (1 if girth.profile.hem_a else 0)
        edges = (0.0, *(bend.mark for bend in girth.bends), girth.girth)
        y = girth.girth - (edges[part] + edges[part + 1]) / 2
        return tuple((place - cut.start, y, wide) for place, wide in self.outlets
                     if cut.start <= place <= cut.start + cut.share)

    def marks(self, girth: Girth, cut: RunPiece) -> tuple[Mark, ...]:
        """Lines of its own to be marked on a piece; most details have none."""
        return ()


def closed_hem(length: float, toward: Literal["paint", "back"]) -> Hem | None:
    """A closed hem of ``length`` mm; none where it is 0."""
    return Hem(kind="closed", length=length, toward=toward) if length else None
