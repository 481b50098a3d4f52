"""On the roof: item by item from the eave up; what goes on is ticked as fitted."""

from __future__ import annotations

from yattle.derive.roof_runs import roof_runs
from yattle.drawing import Drawing, FreeEave, PlanEdge, roof_drawing
from yattle.drawing.shapes import Line
from yattle.install.installation import installation
from yattle.install.laps import Item
from yattle.job.model import Job
from yattle.job.states import further, state_of
from yattle.pattern import Pattern
from yattle.ui.benches.host import Host
from yattle.ui.floor.screen import Screen

_OF_FACE = ("underlay", "panels")


class AtRoof:
    """Item after item, in the order of fitting."""

    def __init__(self, store: Host) -> None:
        self.store = store
        self.at = 0

    def _items(self) -> list[tuple[int, str]]:
        order = installation(self.store.session.derived).order
        return [(n, name) for n, names in enumerate(order.stages) for name in names]

    def screen(self) -> Screen:
        """What goes on now."""
        rows, fit = self._items(), installation(self.store.session.derived)
        at = self.at
        if at >= len(rows):
            return Screen("on the roof", "all on" if rows else "nothing to fit", drawing=self._picture())
        stage, name = rows[at]
        cautions = " ".join(fit.cautions(stage)) if at == 0 or rows[at - 1][0] != stage else ""
        then = fit.item(rows[at + 1][1]).name if at + 1 < len(rows) else ""
        return Screen(f"stage {stage + 1} of {len(fit.order.stages)}", fit.item(name).name,
                      cautions or self._fitted_says(name), then, (at, len(rows)), self._picture(),
                      self._key(fit.item(name)))

    def _picture(self) -> Drawing | None:
        """The roof with its letters; what is on is drawn broad."""
        derived = self.store.session.derived
        edges = tuple(PlanEdge(found.run.id, found.edge) for found in roof_runs(derived.job))
        eaves = tuple(FreeEave(run.id, run.at, run.bearing, run.length) for run in derived.job.runs)
        if not edges and not eaves:
            return None
        places = {**{e.run: (e.edge.a[:2], e.edge.b[:2]) for e in edges}, **{e.run: (e.at, e.end) for e in eaves}}
        on = [Line(place, "lit-edge", run) for run, place in places.items() if self._is_on(run)]
        drawn = roof_drawing(derived.roof, edges, eaves, self.store.unit)
        return Drawing((*drawn.shapes, *on), ("broad: fitted",) if on else ())

    def _is_on(self, item: str) -> bool:
        states = [state_of(self.store.session.job, pattern) for pattern in self._pieces_of(item)]
        return bool(states) and all(state.fitted == state.wanted for state in states)

    def _key(self, item: Item) -> str:
        """What an item is on the drawing."""
        openings = {one.id for one in self.store.session.derived.openings}
        if item.kind in _OF_FACE:
            return f"face:{item.place}"
        return f"opening:{item.id}" if item.id in openings else item.place

    def _pieces_of(self, item: str) -> list[Pattern]:
        derived = self.store.session.derived
        runs = [piece.pattern for run in derived.runs if run.run.id == item for piece in run.pieces]
        return runs or [made.pattern for one in derived.openings if one.id == item
                        for made in one.pieces if not made.paper]

    def _fitted_says(self, item: str) -> str:
        states = [state_of(self.store.session.job, pattern) for pattern in self._pieces_of(item)]
        if not states:
            return ""
        wanted, fitted = sum(s.wanted for s in states), sum(s.fitted for s in states)
        if fitted:
            return f"{fitted} of {wanted} pieces fitted"
        return f"{sum(s.folded for s in states)} of {wanted} pieces folded"

    def next(self) -> None:
        """This is on: what of it is folded is fitted now."""
        rows = self._items()
        if self.at >= len(rows):
            return
        name = rows[self.at][1]
        states = [(pattern, state_of(self.store.session.job, pattern)) for pattern in self._pieces_of(name)]
        ready = [(pattern, state.folded - state.fitted) for pattern, state in states if state.folded > state.fitted]

        def deed(job: Job) -> Job:
            for pattern, many in ready:
                job = further(job, pattern, "fitted", many)
            return job
        if not ready or self.store.attempt_aloud(lambda: self.store.session.edit(f"{name} fitted", deed)):
            self.at += 1

    def back(self) -> None:
        """One item back; what was ticked stays ticked."""
        self.at = max(self.at - 1, 0)

    def press(self, key: str) -> None:
        """An edge, a face or an opening was pressed: the work stands at the first thing that goes on there, from here
        on round; the one it stands at is on."""
        rows, fit = self._items(), installation(self.store.session.derived)
        there = [n for n, (_, name) in enumerate(rows) if self._key(fit.item(name)) == key]
        if self.at in there:
            self.next()
        elif there:
            self.at = next((n for n in there if n > self.at), there[0])
