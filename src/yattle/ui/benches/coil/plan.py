"""The cutting plan that the coil bench shows."""

from __future__ import annotations

from collections.abc import Callable

from yattle.coil import NestAnswer
from yattle.coil.names import pieces_of
from yattle.measure import say_length
from yattle.ui.benches.coil.search import PlanSearch
from yattle.ui.benches.host import Host


class PlanShown:
    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        self.store, self.changed = store, changed
        self.search = PlanSearch(store)

    def off_coils(self) -> list[tuple[str, float]]:
        coils = {s.id for s in self.store.session.job.stock if s.kind == "coil"}
        return [(u.stock, u.length) for u in (self.answer.used if self.answer else ()) if u.stock in coils]

    def used_says(self) -> str:
        """How much is cut off the coils, in words."""
        return self.metres(sum(length for _, length in self.off_coils()))

    def metres(self, mm: float) -> str:
        return say_length(mm, self.store.unit) if self.store.unit.parts else f"{mm / 1000:.2f} m"

    @property
    def answer(self) -> NestAnswer | None:
        """The plan shown: the job's own, or while that is worked out the one of a moment ago; none that is cut from
        stock which the job does not have."""
        found = self.store.session.latest.plan
        known = pieces_of(self.store.session.job.stock)
        fits = found is None or all(used.stock in known for used in found.used)
        return found if fits else None
