"""How panels are laid on a face, and a panel as it is laid.

Face coordinates: ``s`` level along the eave, to the right as seen from below the eave looking up, ``t`` up
the slope (true lengths, mm), both from the lowest left corner of the face's bounding rectangle.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field
from shapely import Polygon
from shapely.affinity import affine_transform

from yattle.roof.drain import axes
from yattle.roof.facets import Facet
from yattle.roof.plane import Point
from yattle.values import Value

NOTHING = 0.5  # mm: narrower is no panel
LAPPED = "lap under the panel above"


ByOpening = Annotated[tuple[tuple[Annotated[str, Field(max_length=400)], Annotated[float, Field(ge=0, le=3000)]], ...],
                      Field(max_length=1000)]
"""A measure, mm, of openings by their ids."""


class PanelRule(Value):
    """How panels are laid, mm.

    ``coverage``: installed; ``side``: where laying begins
    ``start``: from there to the first seam; ``None``: the best is worked out
    ``overhang``: past the eave; ``hem``: turned back there
    ``hooked``: whether that hem hooks on a strip of its own
    ``sliver``: the narrowest panel at an end
    ``lap``: of an upper panel over a lower one, where a valley's foot or a back pan lies between them
    ``at_ridge``, ``at_wall``: turned up there, or, below 0, held back
    ``at_break``: how far the panels above a pitch break go on past it, or, below 0, are held back; ``under_break``: how
        far, below 0, those under it are held back
    ``longest``: no panel is cut longer, 0: there is no limit; those that would be get end laps at supports, which stand
        ``supports`` apart, the first ``offset`` up from the eave's edge (0: a deck, which bears everywhere)
    ``system``: the panel system it is, by name; ``seam``: how much of the flat a seam takes; ``height``: how high its
        seams or ribs stand over the flat, 0 where nobody knows
    ``split_at``: pipes round which two pans are split: the id of the opening, how far below its middle the upper pan
        begins, how far it laps over the lower one
    ``leans``: how much further up the slope what stands plumb comes through the flats than through the face's plane
    ``ribs``: how much further from their lines panels end beside valleys than beside one with a single rib, for the
        ribs and the channel of their pans
    ``behind``: how far behind an opening, by its id, the panels above it begin, up the slope
    ``plates``: how far the plate or flange of an opening lies to either side of it, by its id: where the start is
        worked out, seams keep clear of it if they can
    ``fill``: what closes the space under a cap: a ``zed`` between two seams, ``strips`` cut to the
        profile, or the trim's own ``tape`` where locks lie flat
    """

    coverage: Annotated[float, Field(gt=50, le=2000)] = 500.0
    side: Literal["left", "right"] = "left"
    start: Annotated[float, Field(ge=0, le=2000)] | None = None
    overhang: Annotated[float, Field(ge=-100, le=500)] = 40.0
    hem: Annotated[float, Field(ge=0, le=200)] = 0.0
    hooked: bool = False
    sliver: Annotated[float, Field(ge=0, le=2000)] = 120.0
    lap: Annotated[float, Field(ge=0, le=1000)] = 200.0
    at_ridge: Annotated[float, Field(ge=-300, le=300)] = 0.0
    at_wall: Annotated[float, Field(ge=-300, le=300)] = 0.0
    at_break: Annotated[float, Field(ge=-2000, le=2000)] = 0.0
    under_break: Annotated[float, Field(ge=-2000, le=0)] = 0.0
    longest: Annotated[float, Field(ge=0, le=100_000)] = 0.0
    supports: Annotated[float, Field(ge=0, le=5000)] = 0.0
    offset: Annotated[float, Field(ge=0, le=5000)] = 0.0
    system: Annotated[str, Field(max_length=60)] = ""
    seam: Annotated[float, Field(ge=0, le=200)] = 0.0
    height: Annotated[float, Field(ge=0, le=500)] = 0.0
    fill: Literal["zed", "strips", "tape"] = "zed"
    split_at: Annotated[tuple[tuple[Annotated[str, Field(max_length=400)], Annotated[float, Field(ge=0, le=3000)],
                                    Annotated[float, Field(ge=0, le=6000)]], ...], Field(max_length=1000)] = ()
    leans: Annotated[float, Field(ge=0, le=10_000)] = 0.0
    ribs: Annotated[float, Field(ge=0, le=10_000)] = 0.0
    behind: ByOpening = ()
    plates: ByOpening = ()


@dataclass(frozen=True)
class SlantCut:
    """A panel's end that is not square: over which edge, ``angle`` degrees off square. 0 along the face's level, from
    0 to 90."""

    edge: str
    angle: float


@dataclass(frozen=True)
class Panel:
    """``left`` and ``right`` its seams on ``s``; ``outline`` what it covers in face coordinates; ``length`` as it is
    ordered, the sum of its ``terms``: the face, then overhang, hem, turn-up, lap. All in mm, ``s`` across and ``t`` up
    the face."""

    n: int
    left: float
    right: float
    outline: tuple[Point, ...]
    length: float
    cuts: tuple[SlantCut, ...]
    terms: tuple[tuple[str, float], ...] = ()

    @property
    def width(self) -> float:
        """What it covers from seam to seam, mm."""
        return self.right - self.left

    @property
    def is_lapped(self) -> bool:
        """Whether another panel laps over its head."""
        return any(what == LAPPED for what, _ in self.terms)


class FacetFrame:
    """Plan to face coordinates of one facet; ``width`` and ``height`` in mm."""

    def __init__(self, facet: Facet) -> None:
        across, fall = axes(facet.plane)
        k = facet.plane.stretch
        turn = [across[0], across[1], -fall[0] * k, -fall[1] * k, 0.0, 0.0]
        rough = affine_transform(facet.shape, turn)
        self.matrix = [*turn[:4], -rough.bounds[0], -rough.bounds[1]]
        self.shape: Polygon = affine_transform(facet.shape, self.matrix)
        self.width, self.height = self.shape.bounds[2], self.shape.bounds[3]

    def at(self, point: Point) -> Point:
        """A place of the plan in face coordinates, mm."""
        a, b, c, d, e, f = self.matrix
        return a * point[0] + b * point[1] + e, c * point[0] + d * point[1] + f

    def plan(self, point: Point) -> Point:
        """A place in face coordinates in plan, mm."""
        a, b, c, d, e, f = self.matrix
        s, t, size = point[0] - e, point[1] - f, a * d - b * c
        return (d * s - b * t) / size, (a * t - c * s) / size


def through_flats(frame: FacetFrame, rule: PanelRule, place: Point) -> Point:
    """Where what stands plumb over a place of the plan comes through the flats, in face coordinates, mm."""
    s, t = frame.at(place)
    return s, t + rule.leans


def face_frame(facet: Facet) -> FacetFrame:
    """The face's own coordinates."""
    return FacetFrame(facet)
