"""What is done next at the shear, at the brake and on the roof, without a window; what is done is ticked piece by
piece."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Literal

from yattle.errors import InputError
from yattle.job.states import spoiled
from yattle.pattern import Pattern
from yattle.ui.benches.host import Host
from yattle.ui.floor.brake import AtBrake
from yattle.ui.floor.roof import AtRoof
from yattle.ui.floor.screen import AtPlace, Screen
from yattle.ui.floor.shear import AtShear

Place = Literal["shear", "brake", "roof"]
PLACES: dict[Place, str] = {"shear": "at the shear", "brake": "at the brake", "roof": "on the roof"}


class FloorModel:
    """Where the work stands in each place. ``changed`` is called when another screen is to be shown."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        self.store, self.changed = store, changed
        self.place: Place = "shear"
        self.shear, self.brake, self.roof = AtShear(store), AtBrake(store), AtRoof(store)

    @property
    def here(self) -> AtPlace:
        """The place it is worked at."""
        places: dict[Place, AtPlace] = {"shear": self.shear, "brake": self.brake, "roof": self.roof}
        return places[self.place]

    def go(self, place: Place) -> None:
        """To another place; where it stands here stays."""
        self.place = place
        self.changed()

    def screen(self) -> Screen:
        """What is to be done now."""
        return self.here.screen()

    def next(self) -> None:
        """This is done."""
        self.here.next()
        self.changed()

    def back(self) -> None:
        """One step back; what was ticked stays ticked."""
        self.here.back()
        self.changed()

    def press(self, key: str) -> None:
        """Something was pressed on the drawing: the work stands there; what it stands at already is done."""
        self.here.press(key)
        self.changed()

    def book(self) -> str | None:
        """What is cut is booked, one deed; what is wrong with it, or ``None``."""
        wrong = self.shear.book()
        self.changed()
        return wrong

    def spoil(self, piece: str, why: str) -> str | None:
        """A cut copy of a piece is spoiled: planned again, with why in the log. What is wrong with that, or
        ``None``."""
        def deed() -> None:
            pattern = self._pattern(piece)
            self.store.session.edit(f"{piece} spoiled", lambda job: spoiled(
                job, pattern, date.today().isoformat(), why.strip()))
        wrong = self.store.attempt(deed)
        self.changed()
        return wrong

    def _pattern(self, piece: str) -> Pattern:
        found = next((p for p in self.store.session.derived.patterns if p.id == piece), None)
        if found is None:
            raise InputError("piece", repr(piece[:40]), "the number of a piece of this job, as on its label")
        return found

    def open_code(self, text: str) -> str | None:
        """A label's code or a piece's number: the brake stands at that piece. What is wrong with it, or ``None``."""
        piece = text.strip().removeprefix("yattle:piece/")

        def deed() -> None:
            wanted = self._pattern(piece).id
            if not self.brake.take(wanted):
                raise InputError("piece", wanted, "one that is still to be folded here")
            self.place = "brake"
        wrong = self.store.attempt(deed)
        self.changed()
        return wrong

    def now(self) -> str:
        """The piece in hand at the brake, by its number; empty elsewhere."""
        return self.brake.now() if self.place == "brake" else ""
