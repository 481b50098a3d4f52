"""``yattle-roof/1``: a roof from blocks, faces of its own and openings. Lengths mm, angles degrees."""

from __future__ import annotations

from collections import Counter
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.bounds import Bearing, Place
from yattle.errors import InputError
from yattle.values import Value

Name = Annotated[str, Field(min_length=1, max_length=24)]
Size = Annotated[float, Field(ge=10, le=500_000)]
Height = Annotated[float, Field(ge=-200_000, le=200_000)]
Overhang = Annotated[float, Field(ge=0, le=5_000)]
STEEPEST = 89.0
Pitch = Annotated[float, Field(ge=0.1, le=STEEPEST)]


class _BlockModel(Value):
    """What every block has: its centre in plan, ``bearing`` of its ridge anticlockwise from the x axis,
    ``length`` along the ridge and ``span`` across it, wall to wall, ``eave_height`` where roof plane and
    wall line meet."""

    id: Name
    x: Place
    y: Place
    bearing: Bearing = 0.0
    length: Size
    span: Size
    eave_height: Height
    eave_overhang: Overhang = 0.0


class Gable(_BlockModel):
    """Two planes and a ridge; ``pitch`` on the left as seen along the bearing, on both sides where
    ``pitch_right`` is not given. Overhangs are measured in plan. ``fascia``: ``own``, every side has the same overhang;
    ``level``, that of the left side, and of the others what brings their eaves down as far."""

    kind: Literal["gable"]
    pitch: Pitch
    pitch_right: Pitch | None = None
    rake_overhang: Overhang = 0.0
    fascia: Literal["own", "level"] = "own"


class Hip(_BlockModel):
    """As a gable, its ends sloped with ``pitch_ends`` (``pitch`` where not given)."""

    kind: Literal["hip"]
    pitch: Pitch
    pitch_right: Pitch | None = None
    pitch_ends: Pitch | None = None
    fascia: Literal["own", "level"] = "own"


class Shed(_BlockModel):
    """One plane that falls to the right; ``eave_height`` is the low wall's. ``top_overhang``: of its high side, as that
    of its low one where it is not given."""

    kind: Literal["shed"]
    pitch: Pitch
    rake_overhang: Overhang = 0.0
    top_overhang: Overhang | None = None


class Flat(_BlockModel):
    """A level roof at ``eave_height``."""

    kind: Literal["flat"]


Block = Annotated[Gable | Hip | Shed | Flat, Field(discriminator="kind")]


class BoxOpening(Value):
    """A chimney, curb or skylight: ``across`` along its bearing (across the slope on a block of the same bearing),
    ``along`` square to it; ``top`` is how high it stands, for the details. Lengths in mm, the bearing in degrees."""

    id: Name
    kind: Literal["chimney", "curb", "skylight"]
    x: Place
    y: Place
    bearing: Bearing = 0.0
    across: Size
    along: Size
    top: Height | None = None


class PipeOpening(Value):
    """A round pipe that stands plumb; its corners are those of the square around it."""

    id: Name
    kind: Literal["pipe"]
    x: Place
    y: Place
    diameter: Size
    top: Height | None = None


Opening = Annotated[BoxOpening | PipeOpening, Field(discriminator="kind")]


class SketchedFace(Value):
    """A roof face from a sketch: ``outline`` in plan, ``eave`` the place (from 0) of the outline's edge that is its
    eave, level at ``eave_height``; the face rises from it with ``pitch`` (0 is a flat face). Lengths in mm, the
    pitch in degrees."""

    id: Name
    outline: Annotated[tuple[tuple[Place, Place], ...], Field(min_length=3, max_length=200)]
    pitch: Annotated[float, Field(ge=0, le=STEEPEST)]
    eave: Annotated[int, Field(ge=0, le=200)] = 0
    eave_height: Height = 0.0

    @model_validator(mode="after")
    def _a_face(self) -> Self:
        from shapely import Polygon

        if self.eave >= len(self.outline):
            raise InputError("eave", str(self.eave), f"a place from 0 to {len(self.outline) - 1} of the outline")
        outline = Polygon(self.outline)
        if not outline.is_valid or outline.area < 1:
            raise InputError("outline", "one that crosses itself or has no area", "a simple outline in plan")
        a, b = self.outline[self.eave], self.outline[(self.eave + 1) % len(self.outline)]
        if (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 < 1:
            raise InputError("eave", "an edge without length", "an edge of the outline that is at least 1 mm long")
        return self


class RoofPlan(Value):
    """A whole roof. ``faces`` stand beside the blocks, for what blocks cannot say; they bury nothing."""

    format: Literal["yattle-roof/1"] = "yattle-roof/1"
    blocks: Annotated[tuple[Block, ...], Field(max_length=200)] = ()
    openings: Annotated[tuple[Opening, ...], Field(max_length=500)] = ()
    faces: Annotated[tuple[SketchedFace, ...], Field(max_length=500)] = ()

    @model_validator(mode="after")
    def _ids_once(self) -> Self:
        for field, ids in (("blocks", [b.id for b in (*self.blocks, *self.faces)]),
                           ("openings", [o.id for o in self.openings])):
            twice = [name for name, count in Counter(ids).items() if count > 1]
            if twice:
                raise InputError(field, f"the id {twice[0]!r} twice", "every id once")
        return self
