"""What closes the head of a wall that stands free: copings that fall to one side or to both."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Opened, Size, SizeOrNone
from yattle.details.common import Finding, Roles, Surrounding
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem

_LEAST_FALL = 2.0  # degrees: below it water stands on the wall


class Coping(Trim):
    """Over a wall ``wall`` mm thick with ``room`` mm on either side of it, down both its faces, a kick at each foot.
    ``fall`` degrees of its top, level along the wall: toward the inner face (edge A), so that no water runs down the
    wall that is seen, or from a ridge in its middle toward ``both``. Lengths in mm, angles in degrees."""

    detail: Literal["coping"] = "coping"
    wall: Size = 240.0
    room: SizeOrNone = 5.0
    fall: Annotated[float, Field(ge=0, le=45)] = 5.0
    toward: Literal["inside", "both"] = "inside"
    inner: Size = 70.0
    outer: Size = 70.0
    kick: Size = 18.0
    kick_turn: Opened = 42.0
    hem: SizeOrNone = 12.0

    @property
    def top(self) -> float:
        """The width of the top along its fall, of one half where it falls to both sides, mm."""
        level = self.wall + 2 * self.room
        return (level / 2 if self.toward == "both" else level) / math.cos(math.radians(self.fall))

    def sheet(self) -> TrimSection:
        hem, kick = closed_hem(self.hem, "back"), Leg("kick", "kick", self.kick)
        tops = (Leg("top", "wall", self.top),) * (2 if self.toward == "both" else 1)
        over = (-2 * self.fall,) if self.toward == "both" else ()
        last = self.fall - 90.0 if over else -90.0 - self.fall
        faces = Leg("inner face", "inner", self.inner), Leg("outer face", "outer", self.outer)
        return TrimSection(
            "coping", (kick, faces[0], *tops, faces[1], kick),
            (self.kick_turn, self.fall - 90.0, *over, last, self.kick_turn),
            ("kick_turn", "fall", *("fall",) * len(over), "fall", "kick_turn"), 90.0 - self.kick_turn, hem, hem,
            datum=2, roles=Roles(face=2 + len(tops), water=tuple(range(2, 2 + len(tops))), cap=(
                (1, self.tab), (2 + len(tops), self.tab),
                *((n, min(self.inner, self.outer)) for n in range(2, 2 + len(tops))))),
            around=self._wall_under(), looks=self._looks(),
            notes=("Hooked on a strip along the outer face, fixed through the inner one: no screw in its top.",
                   "A membrane under it: every joint of a coping opens one day."), cautions=SHARP)

    def _wall_under(self) -> tuple[Surrounding, ...]:
        """The wall beneath it, in the section's frame: raw edge A at the origin."""
        turn = math.radians(90.0 - self.kick_turn)
        hem = self.hem
        x = (self.kick - hem) * math.cos(turn) + self.room
        y = (self.kick - hem) * math.sin(turn) + self.inner - 2.0
        rise = math.tan(math.radians(self.fall))
        near, far = y + self.room * rise, y + (self.room + self.wall) * rise
        foot = y - 1.5 * max(self.inner, self.outer)
        head: tuple[tuple[float, float], ...] = ((x, near), (x + self.wall, far))
        if self.toward == "both":
            middle = y + (self.room + self.wall / 2) * rise
            head = ((x, near), (x + self.wall / 2, middle), (x + self.wall, near))
        return (Surrounding("wall", (*head, (x + self.wall, foot), (x, foot))),)

    def _looks(self) -> tuple[Finding, ...]:
        if self.fall >= _LEAST_FALL:
            return ()
        return (Finding("look", f"a top that falls by {self.fall:g}° only: water stands on it",
                        f"at least {_LEAST_FALL:g}°, and every joint welted or sealed beneath", "fall"),)
