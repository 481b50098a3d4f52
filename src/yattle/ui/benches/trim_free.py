"""A section of one's own on the trim bench: typed, drawn by its corners, taken from the library."""

from __future__ import annotations

import math
from itertools import pairwise

from yattle.details.free import Shape
from yattle.drawing.shapes import Point
from yattle.job.sections import kept_sections
from yattle.measure import parse_angle
from yattle.section import Hem, Profile, folded_points
from yattle.ui.benches.trim_slate import TrimSlate
from yattle.ui.drawing.handles import Handle
from yattle.ui.frame.slate import Shown

_STEP, _TURN = 1.0, 1.0  # mm and degrees that a dragged corner snaps to
_HEMS = [("", "raw edge"), ("paint", "hem toward the paint"), ("back", "hem toward the back")]


class TrimFree(TrimSlate):
    """What is typed and dragged of a run's own section."""

    @property
    def shape(self) -> Shape | None:
        """The selected run's own section; ``None`` where its detail is another."""
        run = self.run
        if run is None or run.run.layer or run.family is None or run.family.name != "free":
            return None
        return run.run.section or Shape()

    def _fill_own(self) -> None:
        s = self.slate
        with s.when(lambda: self.shape is not None):
            s.group("Own section")
            s.words("called", lambda: Shown(self._own().name), lambda text: self._put_shape(name=lambda: text.strip()))
            with s.when(lambda: self.run is not None and self.run.run.kind == "free"):
                s.number("long", lambda: Shown(self.say(self.run.run.length) if self.run else ""),
                         lambda text: self.edit_run("length", length=lambda: self.length_from(text, "length")),
                         "how long the run is")
            s.words("legs", lambda: Shown("  ".join(self.say(v) for v in self._own().legs)),
                    lambda text: self._put_shape(legs=lambda: self._numbers(text, True)),
                    "from raw edge A, parted by two spaces or semicolons; Shift press on the drawing adds one")
            s.words("turns", lambda: Shown("  ".join(f"{v:g}°" for v in self._own().turns)),
                    lambda text: self._put_shape(turns=lambda: self._numbers(text, False)),
                    "one between each two legs: + toward the paint face, − toward the back")
            for side in "ab":
                s.choice(f"edge {side.upper()}", lambda: _HEMS, lambda side=side: self._hem_of(side),  # type: ignore[misc]
                         lambda key, side=side: self._put_hem(side, key))  # type: ignore[misc]
            s.number("first leg", lambda: Shown(f"{self._own().heading:g}°", "from level"),
                     lambda text: self._put_shape(heading=lambda: parse_angle(text, "first leg")),
                     "as it lies on the roof")
            s.choice("library", lambda: [("", "take one …"), *((name, name) for name in kept_sections())], lambda: "",
                     self._take_kept, "sections kept with Ctrl+Shift+K")

    def _own(self) -> Shape:
        return self.shape or Shape()

    def _numbers(self, text: str, lengths: bool) -> tuple[float, ...]:
        parts = [part for part in text.replace("  ", ";").split(";") if part.strip()]
        if len(parts) == 1 and " " in text.strip() and "/" not in text:
            parts = text.split()
        return tuple(self.length_from(part, "legs") if lengths else parse_angle(part, "turns") for part in parts)

    def _put_shape(self, **changes) -> str | None:  # type: ignore[no-untyped-def]
        shape, session = self.shape, self.store.session
        if shape is None:
            return None

        def put() -> None:
            new = {name: value() for name, value in changes.items()}
            if "legs" in new and "turns" not in new:  # a leg more or less takes or loses its turn
                count = len(new["legs"]) - 1
                new["turns"] = (*shape.turns, *(-90.0,) * count)[:max(count, 0)]
            session.edit_run(f"{session.selection.run} section", str(session.selection.run), section=shape.but(**new))
        return self.store.attempt(put)

    def _hem_of(self, side: str) -> str:
        hem = getattr(self._own(), f"hem_{side}")
        return hem.toward if hem is not None else ""

    def _put_hem(self, side: str, key: str) -> str | None:
        standard = self.run.standard.hem if self.run is not None else 12.0
        hem = Hem(kind="closed", length=standard, toward=key) if key else None  # type: ignore[arg-type]
        return self._put_shape(**{f"hem_{side}": lambda: hem})

    def _take_kept(self, name: str) -> str | None:
        kept = kept_sections().get(name)
        if kept is None:
            return None
        return self._put_shape(**{field: lambda field=field: getattr(kept, field) for field in (
            "name", "legs", "turns", "hem_a", "hem_b", "heading")})

    # -- drawn ------------------------------------------------------------------------------------

    def _corner_handles(self) -> list[Handle]:
        """The corners of the section as drawn, hems left out, each to be dragged."""
        profile = self.run.detail.profile if self.run is not None else None
        if self.shape is None or profile is None:
            return []
        return [Handle("corner", str(n), at) for n, at in enumerate(self._corners(profile))]

    def _corners(self, profile: Profile) -> list[Point]:
        shape = self._own()
        start = shape.heading - (profile.hem_a.turn if profile.hem_a else 0.0)
        points = folded_points(profile, start)[1 if profile.hem_a else 0:]
        return [(float(x), float(y)) for x, y in points[:len(shape.legs) + 1]]

    def _drag_corner(self, part: str, role: str, x: float, y: float, done: bool) -> None:
        """A corner let go somewhere else: the legs and turns beside it follow, in whole mm and degrees."""
        profile = self.run.detail.profile if self.run is not None else None
        if not done or profile is None:
            return
        corners = self._corners(profile)
        corners[int(role)] = (x, y)
        self._take_corners(corners)

    def _add_corner(self, x: float, y: float) -> None:
        """Another leg from raw edge B to the place pressed."""
        profile = self.run.detail.profile if self.run is not None else None
        if self.shape is not None and profile is not None:
            self._take_corners([*self._corners(profile), (x, y)])

    def _take_corners(self, corners: list[Point]) -> None:
        ways = [math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) for a, b in pairwise(corners)]
        legs = tuple(max(_STEP, round(math.dist(a, b) / _STEP) * _STEP) for a, b in pairwise(corners))
        turns = tuple(_snapped((b - a + 180) % 360 - 180) for a, b in pairwise(ways))
        wrong = self._put_shape(legs=lambda: legs, turns=lambda: turns, heading=lambda: _snapped(ways[0]))
        if wrong:
            self.store.trouble.emit(wrong)


def _snapped(turn: float) -> float:
    return round(turn / _TURN) * _TURN
