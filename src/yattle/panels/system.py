"""``yattle-panels/1``: a panel system as its maker, or the shop, describes it."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from yattle.bounds import Name, Thickness
from yattle.errors import InputError
from yattle.values import Value

Kind = Literal["standing seam", "snap seam", "ribbed", "sandwich", "shingle"]
Across = Annotated[float, Field(ge=-3000, le=3000)]
Up = Annotated[float, Field(ge=-500, le=500)]
Size = Annotated[float, Field(ge=0, le=3000)]
_CLOSE = 20.0  # mm: nobody sets fixings closer
Spacing = Annotated[float, Field(ge=_CLOSE, le=5000)]


def _some_way(value: float) -> float:
    if 0 < value < _CLOSE:
        raise InputError("", f"{value:g}", f"0, or at least {_CLOSE:g}")
    return value or 0.0


SpacingOrNone = Annotated[float, Field(ge=0, le=5000), AfterValidator(_some_way)]
"""From one fixing to the next; 0: there are none."""
Slope = Annotated[float, Field(ge=0, le=90)]
Count = Annotated[int, Field(ge=0, le=20)]
Source = Annotated[str, Field(max_length=400)]


class PanelRules(Value):
    """What a system asks for; the maker's paper outranks every figure. Lengths mm, pitches degrees.

    ``least_pitch``: below which it is not laid; ``tape_below``: under which side laps get tape and lap screws
    ``lap``: of an upper panel over a lower one, by pitch: (from this pitch on, mm), the steepest that holds counts
    ``longest``: what can be handled in one piece
    ``eave``, ``ridge``, ``wall``: how a panel ends there; ``eave_hem``, ``turn_up``: how much is turned, ``slot``: what
        stays open at a vented ridge
    """

    least_pitch: Slope = 5.0
    tape_below: Slope = 14.0
    lap: Annotated[tuple[tuple[Slope, Size], ...], Field(max_length=20)] = ((0.0, 300.0), (10.0, 200.0), (20.0, 150.0))
    longest: Annotated[float, Field(ge=500, le=100_000)] = 12_000.0
    eave: Literal["screwed", "hooked"] = "screwed"
    eave_hem: Size = 0.0
    ridge: Literal["square", "tray"] = "square"
    wall: Literal["square", "tray"] = "square"
    turn_up: Size = 40.0
    slot: Size = 0.0

    def lap_at(self, pitch: float) -> float:
        """The end lap at a pitch, mm (pitch in degrees)."""
        rows = sorted(self.lap)
        return next((lap for least, lap in reversed(rows) if pitch >= least), rows[0][1] if rows else 0.0)


class PanelFixing(Value):
    """How it is held. Spacings in mm; counts are screws at each rib (or across a pan that has none).

    ``clips``: along a seam, ``strip``: screws of a nail strip; 0: none of them
    ``supports``: from one row of screws to the next; ``end_row``, ``middle_row``: screws a rib in the rows at eave,
        ridge and end laps, and in those between
    ``lap_screws``: along a side lap under the system's ``tape_below``; ``plates``: backing plates at end laps
    """

    clips: SpacingOrNone = 0.0
    clip_screws: Count = 2
    strip: SpacingOrNone = 0.0
    supports: SpacingOrNone = 0.0
    end_row: Count = 0
    middle_row: Count = 0
    lap_screws: SpacingOrNone = 0.0
    plates: bool = False


class PanelSystem(Value):
    """A panel system. Lengths in mm.

    ``profile``: one module from its left side edge to its right one, seen from the eave: (across, up)
    ``under``, ``over``: where the seam (or the rib that is lapped) stands at its left and at its right side
    ``seam``: how wide a seam is where it takes room of the flat; of ribs that follows from the profile
    ``lock``: folded on the roof once or twice, snapped, or none
    ``exposure``: of shingles, how much of each course stays free
    ``made``: in the ``shop`` from coil, or ``bought``; ``sources``: where its figures come from, field by field
    """

    format: Literal["yattle-panels/1"] = "yattle-panels/1"
    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Kind
    profile: Annotated[tuple[tuple[Across, Up], ...], Field(min_length=2, max_length=200)]
    under: Across
    over: Across
    seam: Size = 0.0
    lock: Literal["none", "single", "double", "snap"] = "none"
    coverage: Annotated[float, Field(gt=50, le=2000)] | None = None
    thickness: Thickness = 0.6
    core: Size = 0.0
    exposure: Size = 0.0
    made: Literal["shop", "bought"] = "bought"
    rules: PanelRules = PanelRules()
    fixing: PanelFixing = PanelFixing()
    sources: Annotated[tuple[tuple[Name, Source], ...], Field(max_length=60)] = ()

    @model_validator(mode="after")
    def _hangs_together(self) -> Self:
        _check_profile(self.profile)
        wide = self.over - self.under
        if not 50 < wide <= 2000:
            raise InputError("over", f"{wide:g} mm from the seam at the left", "a coverage of 50 to 2000 mm")
        if self.coverage is not None and abs(self.coverage - wide) > 0.5:
            raise InputError("coverage", f"{self.coverage:g} mm",
                             f"{wide:g} mm, as far as the profile's seams stand apart")
        if self.seam >= wide:
            raise InputError("seam", f"{self.seam:g} mm", f"less than the coverage, {wide:g} mm")
        if self.exposure and self.kind != "shingle":
            raise InputError("exposure", f"{self.exposure:g} mm of a {self.kind}", "0: only shingles lie in courses")
        if self.kind == "ribbed" and max(y for _, y in self.profile) - min(y for _, y in self.profile) < 3:
            raise InputError("profile", "no rib in it", "ribs of at least 3 mm for a ribbed system")
        return self

    @property
    def pitch_of_seams(self) -> float:
        """From one seam to the next, mm: what a panel covers."""
        return self.over - self.under


def _check_profile(profile: tuple[tuple[float, float], ...]) -> None:
    """Raise :class:`InputError` for a profile that crosses itself or stands still."""
    from shapely import LineString

    for n, (a, b) in enumerate(pairwise(profile)):
        if abs(a[0] - b[0]) < 1e-6 and abs(a[1] - b[1]) < 1e-6:
            raise InputError(f"profile.{n + 1}", "the same point twice", "points that differ")
    if len(profile) > 2 and not LineString(profile).is_simple:
        raise InputError("profile", "a line that crosses itself", "one module from edge to edge without crossing")
