"""Sections of one's own and house standards: in and out, kept, compared."""

from __future__ import annotations

from pathlib import Path

from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.commands.papers import write
from yattle.ui.commands.shop import Shop
from yattle.ui.frame.dialogs import DifferencesBox

_STANDARDS = "House standards (*.standard.json)"


def add_free(shop: Shop, detail: str = "free") -> None:
    """A section of one's own, or another trim that lies on no edge of the roof."""
    if shop.attempt(lambda: shop.session.add_free(detail=detail)):
        shop.frame.show_bench("trim")


def read_section(shop: Shop) -> None:
    """A section from the first open polyline of a drawing, onto the run in hand where that has its own, else new."""
    name = shop.asking.open("DXF (*.dxf)")
    if name:
        section_from(shop, Path(name))


def section_from(shop: Shop, path: Path) -> None:
    """The section that a drawing holds."""
    from yattle.job.sections import section_from_dxf

    def read() -> None:
        shape, session = section_from_dxf(path), shop.session
        if shop.frame.bench(TrimBench).model.own.shape is not None:
            run = str(session.selection.run)
            session.edit_run(f"{run} section", run, section=shape)
        else:
            session.add_free(shape)
    if shop.attempt(read):
        shop.frame.show_bench("trim")


def keep_section(shop: Shop) -> None:
    """The selected run's own section into the user's library."""
    trim = shop.frame.bench(TrimBench)
    shape = trim.model.own.shape
    if shape is None:
        shop.complain("keep: found no section of your own, expected a run whose detail is own section")
        return
    from yattle.job.sections import keep_section as keep

    if shop.attempt(lambda: keep(shape)):
        shop.say(f"{shape.name} is in the library")
        trim.refresh()


def save_standard(shop: Shop) -> None:
    """The house standard of the job into a file."""
    from yattle.job.standards import standard_of, standard_text

    write(shop, f"{shop.session.job.name}.standard.json", _STANDARDS,
          lambda derived: standard_text(standard_of(derived.job)))


def take_standard(shop: Shop) -> None:
    """Let the job go by a standard from a file; what runs have of their own stays."""
    name = shop.asking.open(_STANDARDS)
    if name:
        standard_from(shop, Path(name))


def standard_from(shop: Shop, path: Path) -> None:
    """The house standard that a file holds."""
    from yattle.job.standards import load_standard, with_standard

    def take() -> None:
        standard = load_standard(path)
        shop.session.edit(f"standard {standard.name}", lambda job: with_standard(job, standard))
    if shop.attempt(take):
        shop.say(f"the job goes by {path.name}")


def compare_standard(shop: Shop) -> None:
    """Show where the job's standard and one from a file differ."""
    name = shop.asking.open(_STANDARDS)
    if not name:
        return
    from yattle.job.standards import differences, load_standard

    def compare() -> None:
        other, mine = load_standard(Path(name)), shop.session.job
        shop.open_dialog(DifferencesBox(shop.parent, mine.name, other.name, differences(mine, other, shop.store.unit)))
    shop.attempt(compare)
