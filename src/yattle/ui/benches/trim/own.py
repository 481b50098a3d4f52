"""A section of one's own on the trim bench: typed, drawn by its corners, taken from the library."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise
from typing import Any

from yattle.details.free import Shape
from yattle.drawing.shapes import Point
from yattle.job.sections import kept_sections
from yattle.measure import parse_angle, split_numbers
from yattle.section import Hem, Profile, folded_points
from yattle.ui.benches.model import BenchModel
from yattle.ui.drawing.handles import Handle

_STEP, _TURN = 1.0, 1.0  # mm and degrees that a dragged corner snaps to
_ON_LEG, _ONTO = 6.0, 6.0  # mm to a leg that is pressed, and to a corner that another one is let go on


class OwnSection:
    """What is typed and dragged of a run's own section."""

    def __init__(self, trim: BenchModel) -> None:
        self.trim = trim
        self.ghost: list[Point] = []

    @property
    def shape(self) -> Shape | None:
        """The selected run's own section; ``None`` where its detail is another."""
        run = self.trim.run
        if run is None or run.run.layer or run.family is None or run.family.name != "free":
            return None
        return run.run.section or Shape()

    def own(self) -> Shape:
        return self.shape or Shape()

    def numbers(self, text: str, lengths: bool) -> tuple[float, ...]:
        return tuple(self.trim.length_from(part, "legs") if lengths else parse_angle(part, "turns")
                     for part in split_numbers(text))

    def put_shape(self, **changes: Callable[[], Any]) -> str | None:
        shape, session = self.shape, self.trim.store.session
        if shape is None:
            return None

        def put() -> None:
            new = {name: value() for name, value in changes.items()}
            if "legs" in new and "turns" not in new:  # a leg more or less takes or loses its turn
                count = len(new["legs"]) - 1
                new["turns"] = (*shape.turns, *(-90.0,) * count)[:max(count, 0)]
            session.edit_run(f"{session.selection.run} section", str(session.selection.run), section=shape.but(**new))
        return self.trim.store.attempt(put)

    def hem_of(self, side: str) -> str:
        hem = getattr(self.own(), f"hem_{side}")
        return hem.toward if hem is not None else ""

    def put_hem(self, side: str, key: str) -> str | None:
        standard = self.trim.run.standard.hem if self.trim.run is not None else 12.0
        hem = Hem(kind="closed", length=standard, toward=key) if key else None  # type: ignore[arg-type]
        return self.put_shape(**{f"hem_{side}": lambda: hem})

    def take_kept(self, name: str) -> str | None:
        kept = kept_sections().get(name)
        if kept is None:
            return None
        return self.put_shape(**{field: lambda field=field: getattr(kept, field) for field in (
            "name", "legs", "turns", "hem_a", "hem_b", "heading")})

    def corner_handles(self) -> list[Handle]:
        """The corners of the section as drawn, hems left out, each to be dragged."""
        profile = self.trim.run.detail.profile if self.trim.run is not None else None
        if self.shape is None or profile is None:
            return []
        return [Handle("corner", str(n), at) for n, at in enumerate(self._corners(profile))]

    def _corners(self, profile: Profile) -> list[Point]:
        shape = self.own()
        start = shape.heading - (profile.hem_a.turn if profile.hem_a else 0.0)
        points = folded_points(profile, start)[1 if profile.hem_a else 0:]
        return [(float(x), float(y)) for x, y in points[:len(shape.legs) + 1]]

    def drag_corner(self, part: str, role: str, x: float, y: float, done: bool) -> None:
        """A corner is moved: the legs and turns beside it follow, in whole mm and degrees once it is let go; until then
        ``ghost`` is the section as it would be. One that is let go on its neighbour is taken away."""
        profile = self.trim.run.detail.profile if self.trim.run is not None else None
        self.ghost = []
        if profile is None:
            return
        corners, here = self._corners(profile), int(role)
        corners[here] = (x, y)
        if not done:
            self.ghost = corners
            return
        beside = [corners[n] for n in (here - 1, here + 1) if 0 <= n < len(corners)]
        if len(corners) > 2 and min(math.dist(corners[here], one) for one in beside) < _ONTO:
            del corners[here]
        self._take_corners(corners)

    def add_corner(self, x: float, y: float) -> None:
        """A corner more at the place pressed: on a leg it parts it, elsewhere a leg goes there from the nearer raw
        edge."""
        profile = self.trim.run.detail.profile if self.trim.run is not None else None
        if self.shape is None or profile is None:
            return
        corners = self._corners(profile)
        away = [_off(corners[n], corners[n + 1], (x, y)) for n in range(len(corners) - 1)]
        nearest = min(range(len(away)), key=away.__getitem__)
        if away[nearest] < _ON_LEG:
            corners.insert(nearest + 1, (x, y))
        elif math.dist(corners[0], (x, y)) < math.dist(corners[-1], (x, y)):
            corners.insert(0, (x, y))
        else:
            corners.append((x, y))
        self._take_corners(corners)

    def _take_corners(self, corners: list[Point]) -> None:
        ways = [math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) for a, b in pairwise(corners)]
        legs = tuple(max(_STEP, round(math.dist(a, b) / _STEP) * _STEP) for a, b in pairwise(corners))
        turns = tuple(_snapped((b - a + 180) % 360 - 180) for a, b in pairwise(ways))
        wrong = self.put_shape(legs=lambda: legs, turns=lambda: turns, heading=lambda: _snapped(ways[0]))
        if wrong:
            self.trim.store.complain(wrong)


def _off(a: Point, b: Point, place: Point) -> float:
    """How far a place is off a leg, mm."""
    (ax, ay), (bx, by), (x, y) = a, b, place
    size = max(math.dist(a, b), 1e-9)
    along = min(max(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / size, 0.0), size)
    return math.hypot(x - ax - (bx - ax) * along / size, y - ay - (by - ay) * along / size)


def _snapped(turn: float) -> float:
    return round(turn / _TURN) * _TURN
