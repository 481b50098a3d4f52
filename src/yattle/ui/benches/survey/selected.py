"""What is selected on the survey: the run, the block, face or opening in hand, and how its measures are typed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from yattle.derive.roof_runs import roof_runs
from yattle.drawing import Drawing
from yattle.drawing.measures import block_measure, opening_measure
from yattle.measure import parse_angle
from yattle.roof import Facet
from yattle.roof.openings import Placed
from yattle.roof.starts import with_part
from yattle.roof.taped_place import TapedPlace, moved, taped_place
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel

BLOCK_FIELDS = (("x", "centre east", "mm"), ("y", "centre north", "mm"), ("bearing", "bearing", "°"),
                ("length", "length", "mm"), ("span", "span", "mm"), ("eave_height", "eave height", "mm"),
                ("pitch", "pitch left", "pitch"), ("pitch_right", "pitch right", "pitch?"),
                ("pitch_ends", "pitch ends", "pitch?"), ("eave_overhang", "over eaves", "mm"),
                ("rake_overhang", "over gables", "mm"), ("top_overhang", "over the top", "mm?"))

OPENING_FIELDS = (("x", "plan, east", "mm"), ("y", "plan, north", "mm"), ("bearing", "turned", "°"),
                  ("across", "across", "mm"), ("along", "along", "mm"), ("diameter", "diameter", "mm"),
                  ("top", "top", "mm?"))
"""Measures of a block and of an opening: field, title, unit (? where it may be empty)."""


class SurveySelection(BenchModel):
    """``desk`` works out what takes long; ``view`` is the picture in front: plan, space, cut or panels."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.desk = store.desk("survey", changed)
        self.view = "plan"

    @property
    def part(self) -> str:
        """What is selected in front of a run: ``face:ID``, ``opening:ID``, ``block:ID`` of one that lies buried, or
        nothing."""
        selection = self.store.session.selection
        return f"opening:{selection.opening}" if selection.opening else selection.part

    @property
    def facet(self) -> Facet | None:
        """The selected face."""
        kind, _, name = self.part.partition(":")
        roof = self.store.session.derived.roof
        return next((f for f in roof.facets if f.id == name), None) if kind == "face" else None

    @property
    def item(self) -> Any:
        """The selected face's block (or sketched face), or the selected opening."""
        kind, _, name = self.part.partition(":")
        plan = self.store.session.job.roof
        if kind == "block":
            return next((b for b in plan.blocks if b.id == name), None)
        if kind == "opening":
            return next((o for o in plan.openings if o.id == name), None)
        facet = self.facet
        return next((b for b in (*plan.blocks, *plan.faces) if facet is not None and b.id == facet.block), None)

    @property
    def block_id(self) -> str:
        """The selected block's id, or nothing."""
        item = self.item
        return item.id if item is not None and item in self.store.session.job.roof.blocks else ""

    def part_of_block(self, name: str) -> str:
        """What is selected with a block: its first face, or itself where it lies buried."""
        facet = next((f for f in self.store.session.derived.roof.facets if f.block == name), None)
        return f"face:{facet.id}" if facet else f"block:{name}"

    @property
    def edge_id(self) -> str:
        """The roof's own id of the selected run's edge, or nothing."""
        found = self.roof_run
        return found.edge.id if found is not None else ""

    def part_field(self, field: str, unit: str) -> str:
        value = getattr(self.item, field, None)
        if value is None:
            return ""
        if unit.startswith("mm"):
            return self.say(value)
        return self.say_pitch(value) if unit.startswith("pitch") else f"{value:g}°"

    def put_part(self, field: str, unit: str, text: str, title: str) -> str | None:
        """Take a typed measure of the selected block or opening."""
        item = self.item

        def put() -> None:
            value: float | None = None
            if text.strip() or not unit.endswith("?"):
                value = (self.length_from(text, title) if unit.startswith("mm") else
                         self.pitch_from(text) if unit.startswith("pitch") else parse_angle(text, title))
            self.edit_part(item.id, f"{item.id} {title}", **{field: value})
        return self.store.attempt(put)

    def taped_place(self) -> TapedPlace | None:
        """Where the selected opening stands on its face, as it is taped."""
        placed = self._placed()
        return taped_place(self.store.session.derived.roof, placed) if placed is not None else None

    def _placed(self) -> Placed | None:
        name = self.part.removeprefix("opening:") if self.part.startswith("opening:") else ""
        return next((one for one in self.store.session.derived.roof.openings if one.opening.id == name), None)

    def edge_called(self, edge: str) -> str:
        """The run along an edge of the roof, by its letter; what the edge is where it has none."""
        found = next((run for run in roof_runs(self.store.session.job) if run.edge.id == edge), None)
        return found.run.id if found is not None else ""

    def put_place(self, field: str, text: str) -> str | None:
        """Move the selected opening: ``up`` from the edge below it, or ``aside`` from that at its left."""
        placed, item = self._placed(), self.item

        def put() -> None:
            assert placed is not None
            value = self.length_from(text, "from eave" if field == "up" else "from left")
            x, y = moved(self.store.session.derived.roof, placed, **{field: value})
            self.edit_part(item.id, f"{item.id} moved", x=x, y=y)
        return self.store.attempt(put) if placed is not None else None

    def measured(self, title: str) -> Drawing | None:
        """A drawing with the measure of the row of this title on it: of the block or the opening in hand."""
        roof, item = self.store.session.derived.roof, self.item
        if self.part.startswith("opening:"):
            placed, taped = self._placed(), self.taped_place()
            if placed is None:
                return None
            if taped is not None and title in ("from eave", "from left"):
                field, value = ("up", taped.up) if title == "from eave" else ("aside", taped.aside)
                return opening_measure(roof, placed, field, self.say(value))
            field, said = self._titled(OPENING_FIELDS, title)
            return opening_measure(roof, placed, field, said)
        if not self.block_id:
            return None
        field, said = self._titled(BLOCK_FIELDS, title)
        return block_measure(roof, item, field, said)

    def _titled(self, fields: tuple[tuple[str, str, str], ...], title: str) -> tuple[str, str]:
        """The field of a row, and what it is said to be now."""
        field, unit = next(((field, unit) for field, named, unit in fields if named == title), ("", ""))
        if not field or not hasattr(self.item, field):
            return "", ""
        usual = "pitch" if field.startswith("pitch") else "eave_overhang"  # what an empty one is as
        return field, self.part_field(field, unit) or self.part_field(usual, unit)

    def edit_part(self, part: str, title: str, **changes: object) -> None:
        """Change fields of one block or opening of the job's roof."""
        self.store.session.edit(title, lambda job: job.but(roof=with_part(job.roof, part, **changes)))
