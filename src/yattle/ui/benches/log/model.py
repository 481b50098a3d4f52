"""What the log bench knows: what is being written down, and what the measured folds teach."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from yattle.errors import InputError
from yattle.job.learn import Offer, now_says, offer, offer_k, with_offer_taken
from yattle.job.log import with_entries
from yattle.job.model import LogEntry
from yattle.measure import parse_angle
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel
from yattle.ui.shown import Shown

KINDS = ("measured", "fitted", "changed", "spoiled", "weather", "time", "photo", "lesson")

HINTS = {"fitted": "how it went", "changed": "what, why", "spoiled": "and why", "weather": "wind, wet",
         "time": "minutes", "photo": "file name", "lesson": "next time", "measured": "with what"}

def says(entry: LogEntry) -> str:
    """An entry as one line."""
    parts = [entry.when, entry.what, entry.of]
    if entry.found is not None:
        of = " mm" if entry.folds else "°"
        wanted = f", wanted {entry.wanted:g}{of}" if entry.wanted else ""
        leaf = f", leaf {entry.set:g}°" if entry.set else ""
        parts.append(f"{entry.fold} found {entry.found:g}{of}{wanted}{leaf}")
    if entry.by == "stand-in":
        parts.append("by a stand-in, not measured")
    return "  ·  ".join(part for part in (*parts, entry.text) if part)

def _today() -> str:
    return date.today().isoformat()


class LogModel(BenchModel):
    """What the log bench knows: what is being written down, and what the measured folds teach."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.kind, self.leg_folds = "fitted", 1
        self.wanted: float | None = None
        self.leaf: float | None = None
        self.leg: float | None = None

    @property
    def of(self) -> str:
        """The piece or run that an entry is about."""
        selection = self.store.session.selection
        run = self.run
        if selection.opening:
            return selection.opening
        return run.pieces[selection.piece].id if run and selection.piece < len(run.pieces) else selection.run or ""

    def choose(self, key: str) -> None:
        self.kind = key
        self.changed()

    def angle(self, name: str) -> Shown:
        value = getattr(self, name)
        return Shown("" if value is None else f"{value:g}")

    def keep(self, name: str, text: str) -> str | None:
        def deed() -> None:
            setattr(self, name, parse_angle(text, name) if text.strip() else None)
            self.changed()
        return self.store.attempt(deed)

    def measured(self, text: str) -> str | None:
        job = self.store.session.job

        def deed() -> None:
            self._write(LogEntry(when=_today(), what="measured", of=self.of, wanted=self.wanted, set=self.leaf,
                                 found=parse_angle(text, "found"), metal=job.metal_name, brake=job.brake.name))
        return self.store.attempt(deed)

    def leg_shown(self, name: str) -> Shown:
        value = getattr(self, name)
        return Shown("" if value is None else self.say(value))

    def keep_leg(self, text: str) -> str | None:
        def deed() -> None:
            self.leg = self.length_from(text, "leg wanted") if text.strip() else None
            self.changed()
        return self.store.attempt(deed)

    def choose_folds(self, key: str) -> None:
        self.leg_folds = int(key)
        self.changed()

    def measured_leg(self, text: str) -> str | None:
        job = self.store.session.job

        def deed() -> None:
            if self.leg is None:
                raise InputError("leg wanted", "nothing", "the leg as drawn, before what was found")
            self._write(LogEntry(when=_today(), what="measured", of=self.of, fold="leg", wanted=self.leg,
                                 found=self.length_from(text, "leg found"), folds=self.leg_folds,
                                 metal=job.metal_name, brake=job.brake.name))
        return self.store.attempt(deed)

    def learnt_k(self) -> Shown:
        found = offer_k(self.store.session.job)
        if found is None:
            return Shown("–", "from four legs on")
        return Shown(f"{found.found:.3f}", f"± {found.spread:.3f} a leg, {found.many} legs; {found.now:.3f} in use")

    def note(self, text: str) -> str | None:
        if not text.strip():
            return None
        return self.store.attempt(lambda: self._write(
            LogEntry(when=_today(), what=self.kind, of=self.of, text=text.strip())))  # type: ignore[arg-type]

    def _write(self, entry: LogEntry) -> None:
        self.store.session.edit(f"log: {entry.what}", lambda job: with_entries(job, (entry,)))

    def learnt(self) -> Shown:
        found = offer(self.store.session.job)
        if found is None:
            return Shown("–", "from four folds on")
        offset = f" {found.offset:+.2f}°" if found.kind != "ratio" else ""
        return Shown(f"{found.found:.4f}{offset}",
                     f"± {found.spread:.4f} a fold, {found.many} folds; {now_says(found)} in use")

    def stock(self) -> str:
        rows = self.store.session.job.ledger[-4:]
        return "\n".join(f"{row.when} {row.what} {row.stock} {row.amount:g}" for row in rows) or "nothing yet"

    def take_offer(self) -> None:
        """Let the brake have the springback that was found; undo gives the old one back."""
        self.take(offer(self.store.session.job))

    def take(self, found: Offer | None) -> None:
        if found is not None:
            self.store.attempt_aloud(lambda: self.store.session.edit(
                f"{found.what} learnt", lambda job: with_offer_taken(job, found, _today())))
