"""The site pack: the order of fitting with boxes to tick, what each run takes, cautions and checks; the order list."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from yattle.csv_tables import as_csv
from yattle.derive.derived import Derived
from yattle.install import Need
from yattle.install.installation import Installation, InstalledRun, installation
from yattle.install.schedule import UNIT_OF
from yattle.measure import UNITS, Unit, say_length
from yattle.papers.cards import paper_size
from yattle.papers.sheet import Paper

_DEFER = "Local codes, makers' instructions and licensed practice outrank every line here."
ORDER_COLUMNS = ("what", "in_all", "unit", "packs", "a_pack")


def write_site_pack(derived: Derived, path: Path) -> None:
    """Stage after stage, each on its way down the page; then what to order and what is still to be looked at."""
    fit, unit = installation(derived), UNITS[derived.job.unit]
    paper = Paper(path, f"{derived.job.name} · site pack", paper_size(derived))
    page = _Page(paper, "Site pack", derived.job.place or derived.job.name)
    for n, names in enumerate(fit.order.stages):
        page.head(f"Stage {n + 1}")
        for caution in fit.cautions(n):
            page.line(f"!  {caution}", bold=True)
        for name in names:
            page.box(fit.item(name).name)
            if name in fit.runs:
                page.line(_takes(fit.runs[name], unit), indent=9, grey=0.3)
        for check in fit.checks(n):
            page.box(f"check, {check}", indent=4)
    page.head("To order")
    for pack in fit.packs:
        many, each = _many(pack.what, pack.many, unit), _many(pack.what, pack.a_pack, unit)
        page.box(f"{pack.what}: {many}, {pack.packs} × {each}")
    _to_look_at(fit, page)
    page.line(_DEFER, grey=0.3)
    paper.save()


def _to_look_at(fit: Installation, page: _Page) -> None:
    sealed = Counter(joint.run for joint in fit.water.sealed)
    if fit.findings or sealed:
        page.head("Look at")
    for run, many in sealed.items():
        page.box(f"{run}: by sealant alone {many} joint{'' if many == 1 else 's'}: clean and dry, two unbroken beads")
    for item, finding in fit.findings:
        page.box(f"{item} {finding.says()}: {finding.reason()}")


def _takes(fit: InstalledRun, unit: Unit) -> str:
    """What a run takes in one line."""
    long = say_length(fit.run.run.length, unit, 0, mark=True)
    needs = ", ".join(_need(need, unit) for need in fit.needs)
    slides = f"; {fit.slides} joints free to slide" if fit.slides else ""
    many = len(fit.run.pieces)
    return f"{long}, {many} piece{'' if many == 1 else 's'}: {needs}; moves {fit.movement.whole:.1f} mm a piece{slides}"


def _need(need: Need, unit: Unit) -> str:
    rows = f" in {need.rows} rows" if need.rows > 1 else ""
    return f"{_many(need.what, need.many, unit)} {need.what}{rows}" + (", the joint stands by it" if need.only else "")


def _many(what: str, many: float, unit: Unit) -> str:
    if what == "tape":
        return say_length(many, unit, 0, mark=True)
    return f"{many:.0f}" + {"sealant": " ml", "underlay": " m²"}.get(what, "")


def order_list(derived: Derived) -> str:
    """CSV of everything to order with the spare."""
    return as_csv([ORDER_COLUMNS, *((pack.what, round(pack.many, 1), UNIT_OF.get(pack.what, "pieces"), pack.packs,
                                     pack.a_pack) for pack in installation(derived).packs)])


class _Page:
    """Lines one under the other, on as many pages as it takes."""

    def __init__(self, paper: Paper, left: str, right: str) -> None:
        self.paper, self.heads = paper, (left, right)
        self.y = 0.0
        self._begin()

    def _begin(self) -> None:
        self.paper.head(*self.heads)
        self.y = self.paper.height - 28

    def _down(self, by: float) -> None:
        self.y -= by
        if self.y < 18:
            self.paper.next_page()
            self._begin()

    def head(self, said: str) -> None:
        self._down(10 if self.y > 40 else 100)
        self.paper.text(15, self.y, said, 12, bold=True)
        self._down(6)

    def line(self, said: str, bold: bool = False, indent: float = 4, grey: float = 0.0) -> None:
        for part in _folded(said, 118):
            self.paper.text(15 + indent, self.y, part, 8.5, bold=bold, grey=grey)
            self._down(4.4)

    def box(self, said: str, indent: float = 0) -> None:
        self.paper.box(15 + indent, self.y - 0.4, 2.8)
        first, *rest = _folded(said, 110)
        self.paper.text(20 + indent, self.y, first, 9.5)
        self._down(5)
        for part in rest:
            self.paper.text(20 + indent, self.y, part, 9.5)
            self._down(5)


def _folded(text: str, most: int) -> list[str]:
    import textwrap

    return textwrap.wrap(text, most) or [""]
