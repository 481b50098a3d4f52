"""All that lies on a roof, part by part, with when it goes on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from yattle.built.cover import WantedLap
from yattle.built.laid import LaidPanel, faces_of_pans, laid_panels
from yattle.built.placed import PlacedPiece, name_of
from yattle.built.sheets import Sheet
from yattle.built.standing import Standing
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS, is_pans
from yattle.install.fitting import fitting
from yattle.install.parting import panels_of, parting_of

_NEXT = 0.01  # of a stage: between pieces of one run, or of one opening


def sheets_of(derived: Derived, placed: Iterable[PlacedPiece], there: tuple[Iterable[Standing], Iterable[LaidPanel]],
              laps: Iterable[WantedLap]) -> Iterator[Sheet]:
    """Pieces and bought panels; later ones lie over earlier ones: by the stages of fitting, within a run by its laps,
    within an opening in the order of its pieces."""
    goes = _PanelStages(derived)
    known = list(placed)
    orders, items = piece_orders(derived, known, laps), {one.pattern: one.item for one in known}
    standing, panels = there
    for one in standing:
        face = goes.face_of.get(one.pattern)
        mine, item = (orders.get(one.name, 0.0), items.get(one.pattern, "")) if face is None else goes.of(
            face, min(float(part[:, 2].min()) for part in one.parts))
        yield from (Sheet(one.name, part, mine, item) for part in one.parts)
    for panel in panels:
        mine, item = goes.of(panel.face, float(panel.ring[:, 2].min()))
        yield from (Sheet(panel.id, ring, mine, item) for ring in (panel.ring, *panel.seams))


def bought(derived: Derived, faces: frozenset[str]) -> Iterator[LaidPanel]:
    """The panels of some faces that are not pieces of the job."""
    return laid_panels(derived, faces - faces_of_pans(derived))


def piece_orders(derived: Derived, placed: Iterable[PlacedPiece], laps: Iterable[WantedLap]) -> dict[str, float]:
    """When each piece goes on, by its name: the stage, and within it what its laps say."""
    many = {pattern.id: pattern.qty for pattern in derived.patterns}
    openings = {one.id for one in derived.openings}
    found, within = dict[str, float](), dict[str, int]()
    for one in placed:
        within[one.item] = within.get(one.item, 0) + 1
        found[name_of(one.pattern, one.copy, many.get(one.pattern, 1))] = one.stage + (
            within[one.item] * _NEXT if one.item in openings else 0.0)
    known = [lap for lap in laps if lap.over in found and lap.under in found]
    for _ in known:  # a row of pieces is raised from its lowest one up; laps that go round in a ring end here
        late = [lap for lap in known if found[lap.over] < found[lap.under] + _NEXT / 2]
        if not late:
            break
        for lap in late:
            found[lap.over] = found[lap.under] + _NEXT
    return found


class _PanelStages:
    """When the panels of each face go on."""

    def __init__(self, derived: Derived) -> None:
        order = fitting(derived).order
        self._stages = {name: n + 1 for n, names in enumerate(order.stages) for name in names}
        self._parting = parting_of(derived.roof.plan)
        self.face_of = {piece.pattern.id: one.id.removeprefix(f"{PANS} ") for one in derived.openings if is_pans(one)
                        for piece in one.pieces}

    def of(self, face: str, low: float) -> tuple[float, str]:
        """When, and with which item, the panel goes on whose foot lies so high, mm: with those below or above what
        parts its face."""
        item = panels_of(face, self._parting.level_at(face, low))
        return float(self._stages.get(item, self._stages.get(panels_of(face, 0), 1))), item
