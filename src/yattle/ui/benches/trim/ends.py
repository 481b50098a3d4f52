"""A run's ends as they are typed: the parts they have besides, and what the section is at the right one."""

from __future__ import annotations

from yattle.derive.run import DerivedRun
from yattle.details import ENTRIES
from yattle.errors import InputError
from yattle.measure import parse_angle
from yattle.ui.benches.model import BenchModel
from yattle.ui.shown import Shown


def names_of(run: DerivedRun) -> dict[str, tuple[str, bool]]:
    """What can be another at the right end: its name → the detail's field, and whether that is an angle."""
    family, legs = run.family, run.detail.leg_fields
    shift = 1 if run.detail.profile is not None and run.detail.profile.hem_a else 0
    named = {run.detail.leg_names[n + shift]: (field, False) for n, field in enumerate(legs)}
    entries = family.entries if family is not None else {}
    for field in dict.fromkeys(run.detail.turn_fields.values()):
        if field in entries and ENTRIES[entries[field]].angle:
            named[ENTRIES[entries[field]].title] = (field, True)
        elif field.startswith("turns."):
            named[f"turn {int(field.partition('.')[2]) + 1}"] = (field, True)
    return named


class RightEnd:
    """The row that says and takes them."""

    def __init__(self, trim: BenchModel) -> None:
        self.trim = trim

    def says(self) -> str:
        """Names and measures at the right end; nothing where the section stays what it is."""
        run = self.trim.run
        if run is None or not run.run.tapers:
            return ""
        titles = {field: (name, angle) for name, (field, angle) in names_of(run).items()}
        rows = ((*titles.get(field, (field, False)), value) for field, value in run.run.tapers)
        return ", ".join(f"{name} {f'{value:g}°' if angle else self.trim.say(value)}" for name, angle, value in rows)

    def put(self, text: str) -> str | None:
        """Take what was typed; what is wrong with it."""
        run = self.trim.run
        if run is None:
            return None
        return self.trim.edit_run("right end", tapers=lambda: tuple(
            self._read(part.strip(), run) for part in text.replace(";", ",").split(",") if part.strip()))

    def _read(self, part: str, run: DerivedRun) -> tuple[str, float]:
        named = names_of(run)
        name = max((name for name in named if part.lower().startswith(f"{name.lower()} ")), key=len, default=None)
        if name is None:
            raise InputError("right end", repr(part), f"a name and a measure: {', '.join(named)}")
        field, angle = named[name]
        said = part[len(name):].strip()
        return field, parse_angle(said, name) if angle else self.trim.length_from(said, name)


class Besides:
    """The rows that say and take the parts which an end has besides."""

    def __init__(self, trim: BenchModel) -> None:
        self.trim = trim

    def says(self, side: str) -> Shown:
        """The parts that were chosen for one end; nothing where the schools have their way."""
        chosen = getattr(self.trim.run.run, f"{side}_also") if self.trim.run is not None else None
        return Shown("" if chosen is None else ", ".join(part.replace("-", " ") for part in chosen) or "none")

    def put(self, side: str, text: str) -> str | None:
        """Other parts; what is wrong with them."""
        def read() -> tuple[str, ...] | None:
            typed = (word.strip() for word in text.replace(";", ",").lower().split(","))
            words = [word.replace(" ", "-") for word in typed if word]
            can = self.trim.run.detail.parts if self.trim.run is not None else ()
            wrong = next((word for word in words if word not in (*can, "none")), None)
            if wrong is not None:
                raise InputError(f"{side} also", repr(wrong.replace("-", " ")),
                                 f"some of {', '.join(part.replace('-', ' ') for part in can)}")
            return tuple(word for word in words if word != "none") if words else None
        return self.trim.edit_run(f"{side} end", **{f"{side}_also": read})


class OutletRow:
    """The row that says and takes a gutter's outlets."""

    def __init__(self, trim: BenchModel) -> None:
        self.trim = trim

    def says(self) -> Shown:
        """Each outlet by its place from the left end and its width."""
        outlets = self.trim.run.run.outlets if self.trim.run is not None else ()
        return Shown(", ".join(f"{self.trim.say(place)} by {self.trim.say(wide)}" for place, wide in outlets))

    def put(self, text: str) -> str | None:
        """Take what was typed; what is wrong with it."""
        return self.trim.edit_run("outlets", outlets=lambda: tuple(
            self._read(part) for part in text.replace(";", ",").split(",") if part.strip()))

    def _read(self, part: str) -> tuple[float, float]:
        place, by, wide = part.partition(" by ")
        if not by:
            raise InputError("outlets", repr(part.strip()), "a place and a width, such as 400 by 100")
        return self.trim.length_from(place.strip(), "outlet's place"), self.trim.length_from(wide.strip(), "outlet")
