"""The roof: blocks, openings and eaves on and off, its views, measures in, drawings out."""

from __future__ import annotations

from pathlib import Path

from yattle.derive.openings import with_end_caps, with_own
from yattle.files import read_text
from yattle.job.panel_files import read_system
from yattle.job.panel_systems import with_own_system
from yattle.panels import PanelSystem, library
from yattle.ui.benches.survey.model import SurveyModel
from yattle.ui.benches.survey.view import SurveyBench
from yattle.ui.commands.asking import CSV, SYSTEMS
from yattle.ui.commands.papers import write
from yattle.ui.commands.shop import Shop
from yattle.ui.frame.systems_box import SystemsBox


def _survey(shop: Shop) -> SurveyModel:
    """The survey bench, brought to the front."""
    shop.frame.show_bench("survey")
    return shop.frame.bench(SurveyBench).model


def add_block(shop: Shop, kind: str) -> None:
    """A block where the roof has room for it."""
    _survey(shop).add_block(kind)


def add_face(shop: Shop) -> None:
    """A face from a sketch."""
    _survey(shop).add_face()


def add_opening(shop: Shop, kind: str) -> None:
    """An opening on the face in hand."""
    _survey(shop).add_opening(kind)


def panel_systems(shop: Shop) -> None:
    """Panel systems drawn with their figures, chosen for the face in hand or for all; own ones read from files."""
    model, session = _survey(shop), shop.session
    face = model.facet.id if model.facet is not None else ""

    def choose(name: str, only: bool) -> str | None:
        return model.panels.put_system(name, face if only else "")

    def read() -> PanelSystem | None:
        name, found = shop.asking.open(SYSTEMS), list[PanelSystem]()
        if name:
            def deed() -> None:
                found.append(read_system(Path(name)))
                session.edit(f"panel system {found[0].name}", lambda job: with_own_system(job, found[0]))
            shop.attempt(deed)
        return found[0] if found else None

    def keep(system: PanelSystem) -> None:
        shop.attempt(lambda: session.edit(f"panel system {system.name}", lambda job: with_own_system(job, system)))
    own = {system.name for system in session.job.systems}
    systems = [*session.job.systems, *(system for system in library() if system.name not in own)]
    now = session.job.panel_rule(face).system
    shop.open_dialog(SystemsBox(shop.parent, systems, now, shop.store.unit, face, session.job.structure_of(face),
                                choose, read, keep))


def add_own_piece(shop: Shop) -> None:
    """A pan, box, bend, cone … with its own measures, on the trim bench."""
    session = shop.session
    job, name = with_own(session.job)
    session.edit(f"{name} added", lambda _: job)

    def show() -> None:
        if session.select(opening=name):
            shop.frame.show_bench("trim")
    session.when_shown(show)


def add_end_caps(shop: Shop) -> None:
    """End caps, left and right, for the section of the run in hand, on the trim bench."""
    session = shop.session
    run = session.selection.run
    if run is None:
        return
    job, name = with_end_caps(session.job, run)
    session.edit(f"end caps for {run}", lambda _: job)

    def show() -> None:
        if session.select(opening=name):
            shop.frame.show_bench("trim")
    session.when_shown(show)


def remove_part(shop: Shop) -> None:
    """The selected block, face or opening taken off."""
    _survey(shop).remove_part()


def add_run(shop: Shop) -> None:
    """An eave by itself."""
    if shop.attempt(shop.session.add_run):
        shop.frame.show_bench("survey")


def remove_run(shop: Shop) -> None:
    """The selected run, where it is one by itself."""
    run = shop.session.selection.run
    if run is not None:
        shop.attempt(lambda: shop.session.remove_run(run))


def show_view(shop: Shop, view: str) -> None:
    """The roof in plan, in space, cut along a line, or its panels."""
    _survey(shop).show_view(view)


def read_measures(shop: Shop) -> None:
    """Taped measures from a CSV file: what was taped, and its value."""
    name = shop.asking.open(CSV)
    if name:
        measures_from(shop, Path(name))


def measures_from(shop: Shop, path: Path) -> None:
    """The measures that a table holds."""
    from yattle.derive.measures import read_measures as with_measures

    def read() -> None:
        text = read_text(path)
        shop.session.edit("read measures", lambda job: with_measures(job, text, path.name))
    if shop.attempt(read):
        shop.say(f"measures of {path.name} are in")


def write_plan_dxf(shop: Shop) -> None:
    """The roof's plan as DXF."""
    from yattle.papers.roof import roof_to_dxf

    write(shop, "roof-plan.dxf", "DXF (*.dxf)", roof_to_dxf)


def write_panel_list(shop: Shop) -> None:
    """Every panel of every face as CSV."""
    from yattle.papers.tables import panel_list

    write(shop, "panel-list.csv", CSV, panel_list)


def write_glb(shop: Shop) -> None:
    """The roof in space as glTF."""
    from yattle.papers.roof import roof_to_glb

    write(shop, "roof.glb", "glTF (*.glb)",
          lambda derived: roof_to_glb(derived.roof, derived.job.metal_used.colour))
