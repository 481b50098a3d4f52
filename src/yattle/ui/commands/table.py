"""Every action, declared once: menu, shortcut, search, help and tests all read this table."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial as _
from typing import Literal

from yattle.details import families_for
from yattle.ui.commands import coil, edit, job, papers, piece, reading, roof, sections, view
from yattle.ui.commands.shop import Command, Shop
from yattle.ui.frame.dialogs import KeysBox

Condition = Literal["always", "run", "pieces", "undo", "redo"]


@dataclass(frozen=True)
class Action:
    """``do`` is the command; ``when`` the condition under which it can be used; ``settles``: what is being typed is
    taken before; ``also``: further keys that people know for it."""

    id: str
    title: str
    menu: str
    do: Command
    shortcut: str = ""
    when: Condition = "always"
    rule_before: bool = False
    settles: bool = True
    also: tuple[str, ...] = ()


MENUS = ("Job", "Edit", "Roof", "Piece", "Coil", "Papers", "View", "Help")


def _show_keys(shop: Shop) -> None:
    """All actions with their keys."""
    KeysBox(shop.parent, {menu: [(a.shortcut, a.title) for a in ACTIONS if a.menu == menu and a.shortcut]
                          for menu in MENUS}).exec()


ACTIONS: tuple[Action, ...] = (
    Action("job.new", "New job", "Job", job.new, "Ctrl+N"),
    Action("job.open", "Open …", "Job", job.open_job, "Ctrl+O"),
    Action("job.start", "Start page: new, of late, demos", "Job", job.start_page),
    Action("job.demo", "Open the demo: sail loft", "Job",
           _(job.open_demo, which="sail-loft"), rule_before=True),
    Action("job.demo-inch", "Open the demo: net shed, in inches", "Job",
           _(job.open_demo, which="net-shed")),
    Action("job.save", "Save", "Job", job.save, "Ctrl+S", rule_before=True),
    Action("job.save-as", "Save as …", "Job", job.save_as, "Ctrl+Shift+S"),
    Action("job.quit", "Quit", "Job", job.leave, "Ctrl+Q", rule_before=True),
    Action("edit.undo", "Undo", "Edit", edit.undo, "Ctrl+Z", "undo"),
    Action("edit.redo", "Redo", "Edit", edit.redo, "Ctrl+Shift+Z", "redo", also=("Ctrl+Y",)),
    Action("edit.find", "Find a piece, run or action", "Edit", edit.find, "Ctrl+K", rule_before=True, settles=False,
           also=("Ctrl+F",)),
    Action("roof.gable", "Add a gable block", "Roof", _(roof.add_block, kind="gable")),
    Action("roof.hip", "Add a hip block", "Roof", _(roof.add_block, kind="hip")),
    Action("roof.shed", "Add a lean-to", "Roof", _(roof.add_block, kind="shed")),
    Action("roof.dormer", "Add a dormer", "Roof", _(roof.add_block, kind="dormer")),
    Action("roof.flat", "Add a flat roof", "Roof", _(roof.add_block, kind="flat")),
    Action("roof.face", "Add a face from a sketch", "Roof", roof.add_face),
    Action("roof.chimney", "Add a chimney", "Roof",
           _(roof.add_opening, kind="chimney"), rule_before=True),
    Action("roof.systems", "Panel systems …", "Roof", roof.panel_systems, "Shift+F8"),
    Action("roof.pipe", "Add a pipe", "Roof", _(roof.add_opening, kind="pipe")),
    Action("roof.curb", "Add a curb", "Roof", _(roof.add_opening, kind="curb")),
    Action("roof.skylight", "Add a skylight", "Roof", _(roof.add_opening, kind="skylight")),
    Action("roof.own-piece", "Add a piece of its own", "Roof", roof.add_own_piece),
    Action("roof.take-off", "Remove the selected block or opening", "Roof", roof.remove_part),
    Action("roof.add", "Add an eave by itself", "Roof", roof.add_run, "Ctrl+Shift+N", rule_before=True),
    Action("roof.remove", "Remove this eave", "Roof", roof.remove_run, "Ctrl+Del", "run"),
    Action("roof.reading", "Take a reading into the field in hand", "Roof",
           reading.take, "F9", rule_before=True, settles=False),
    Action("roof.measures", "Read taped measures, CSV …", "Roof", roof.read_measures),
    Action("roof.panel-list", "Panel list, CSV …", "Roof", roof.write_panel_list, rule_before=True),
    Action("roof.dxf", "Roof plan, DXF …", "Roof", roof.write_plan_dxf),
    Action("roof.glb", "Roof in space, glTF …", "Roof", roof.write_glb),
    Action("roof.next", "Next run", "Roof", _(edit.step_run, step=1), "Ctrl+Down", "run", True),
    Action("roof.before", "Run before", "Roof", _(edit.step_run, step=-1), "Ctrl+Up", "run"),
    Action("piece.next", "Next piece", "Piece", _(edit.step_piece, step=1), "Ctrl+Right", "pieces"),
    Action("piece.before", "Piece before", "Piece", _(edit.step_piece, step=-1), "Ctrl+Left", "pieces"),
    Action("piece.next-fold", "Next fold", "Piece", _(edit.step_fold, step=1), "Ctrl+Shift+Down", "pieces", True),
    Action("piece.fold-before", "Fold before", "Piece", _(edit.step_fold, step=-1), "Ctrl+Shift+Up", "pieces"),
    Action("piece.tape", "Read the tape from the other edge", "Piece", edit.turn_tape, "Ctrl+R", "pieces"),
    Action("piece.standard", "Take this run's values for the whole job", "Piece",
           piece.make_standard, "Ctrl+J", "run", True),
    Action("piece.like", "Copy this run's detail to all like edges", "Piece",
           piece.copy_to_like, "Ctrl+Shift+J", "run"),
    Action("piece.advice", "Look for girths that save coil", "Piece", piece.ask_advice, "Ctrl+Shift+G", "pieces"),
    Action("piece.free", "New section of your own", "Piece", sections.add_free, "Ctrl+Shift+F", rule_before=True),
    *(Action(f"piece.{family.name}", f"New {family.title}", "Piece", _(sections.add_free, detail=family.name))
      for family in families_for("free") if family.name != "free"),
    Action("piece.end-caps", "End caps for this run", "Piece", roof.add_end_caps, when="pieces"),
    Action("piece.read-section", "Read a section, DXF …", "Piece", sections.read_section),
    Action("piece.keep-section", "Keep this section in the library", "Piece", sections.keep_section),
    Action("piece.save-standard", "Save the house standard …", "Piece",
           sections.save_standard, rule_before=True),
    Action("piece.take-standard", "Take a house standard …", "Piece", sections.take_standard),
    Action("piece.compare-standard", "Compare with a house standard …", "Piece",
           sections.compare_standard),
    Action("piece.step", "Next stroke on the brake", "Piece",
           _(piece.step_brake, step=1), "Ctrl+Shift+Right", "pieces", True),
    Action("piece.step-back", "Stroke before", "Piece", _(piece.step_brake, step=-1), "Ctrl+Shift+Left", "pieces"),
    Action("piece.folder", "Fold a piece on the folder", "Piece", piece.fold_on_folder, "Ctrl+G", "pieces"),
    Action("piece.stop", "Stop the folder or the coil line", "Piece", piece.stop_devices, "F12", settles=False),
    Action("piece.machine-open", "Open a machine …", "Piece", piece.open_machine, rule_before=True),
    Action("piece.machine-save", "Save this machine …", "Piece", piece.save_machine),
    Action("coil.search", "Search for a better plan, or stop", "Coil", coil.search, "Ctrl+Return", "pieces"),
    Action("coil.keep-block", "Keep this piece's block, or let it go", "Coil", coil.keep_block, "Ctrl+B", "pieces"),
    Action("coil.keep-plan", "Keep this plan to compare", "Coil", coil.keep_plan, "Ctrl+Shift+B", "pieces"),
    Action("coil.spoiled", "This piece is spoiled: plan the rest again", "Coil",
           coil.spoiled, when="pieces"),
    Action("coil.line", "Follow the cuts on the coil line", "Coil", coil.follow_line, "Ctrl+Shift+L", "pieces"),
    Action("coil.take", "The plan is cut: take it off the stock", "Coil",
           coil.take_plan, when="pieces", rule_before=True),
    Action("coil.read-stock", "Read a stock list, CSV …", "Coil", coil.read_stock),
    Action("coil.write-stock", "Stock list, CSV …", "Coil", coil.write_stock),
    Action("coil.together", "Plan together with other jobs …", "Coil",
           coil.plan_together, when="pieces", rule_before=True),
    Action("papers.pack", "Write the whole shop pack …", "Papers", papers.pack, "Ctrl+E", "pieces"),
    Action("papers.book", "All papers in one book, PDF …", "Papers",
           _(papers.write_paper, suggestion="all-papers.pdf", what="book"), when="pieces"),
    Action("papers.versions", "What changed since another version …", "Papers",
           papers.compare_version, when="pieces"),
    Action("papers.print", "Look before print …", "Papers", papers.look_and_print, "Ctrl+P", "pieces", True),
    Action("papers.card", "Fold card of this run, PDF …", "Papers", papers.fold_card, when="pieces"),
    Action("papers.cuts", "Cut sheet, PDF …", "Papers",
           _(papers.write_paper, suggestion="cut-sheet.pdf", what="cut sheet"), "Ctrl+Shift+P", "pieces"),
    Action("papers.site", "Site pack, PDF …", "Papers",
           _(papers.write_paper, suggestion="site-pack.pdf", what="site pack"), when="pieces", rule_before=True),
    Action("papers.order", "Order list, CSV …", "Papers", papers.order_list, when="pieces"),
    Action("papers.log", "Log, CSV …", "Papers", papers.log),
    Action("papers.dxf", "Pattern of this piece, DXF …", "Papers",
           _(papers.pattern, kind="dxf"), "Ctrl+D", "pieces", True),
    Action("papers.svg", "Pattern of this piece, SVG 1:1 …", "Papers",
           _(papers.pattern, kind="svg"), when="pieces"),
    Action("papers.practice", "Paper practice of this piece, 1:1 PDF …", "Papers",
           papers.practice, when="pieces"),
    Action("papers.templates", "Templates of this piece's ends, 1:1 PDF …", "Papers", papers.templates,
           when="pieces"),
    Action("papers.csv", "Cut list, CSV …", "Papers", papers.cut_list, "Ctrl+L", "pieces"),
    Action("papers.labels", "Labels, PDF …", "Papers",
           _(papers.write_paper, suggestion="labels.pdf", what="labels"), when="pieces"),
    Action("view.survey", "Survey", "View", _(view.show_bench, name="survey"), "Ctrl+1"),
    Action("view.trim", "Trim", "View", _(view.show_bench, name="trim"), "Ctrl+2"),
    Action("view.brake", "Brake", "View", _(view.show_bench, name="brake"), "Ctrl+3"),
    Action("view.coil", "Coil", "View", _(view.show_bench, name="coil"), "Ctrl+4"),
    Action("view.fit", "Fit", "View", _(view.show_bench, name="fit"), "Ctrl+5"),
    Action("view.log", "Log", "View", _(view.show_bench, name="log"), "Ctrl+6"),
    Action("view.flat", "Flat pattern: whole, marked out, left end, right end", "View", view.next_flat, "F3", "pieces"),
    Action("view.floor", "On the floor: shear, brake, roof, on the whole screen", "View", view.floor, "F4", "pieces",
           True),
    Action("view.play", "Play step by step, or stop", "View", view.play, "F2"),
    Action("view.rail", "Fold the rail, or open it", "View", _(view.fold, part="rail"), "Ctrl+F9", settles=False),
    Action("view.slate", "Fold the slate, or open it", "View", _(view.fold, part="slate"), "Ctrl+F10", settles=False),
    Action("view.full", "Full screen, or back", "View", view.full_screen, "F11", settles=False),
    Action("view.plan", "Roof in plan", "View", _(roof.show_view, view="plan"), "F5", rule_before=True),
    Action("view.space", "Roof in space", "View", _(roof.show_view, view="space"), "F6"),
    Action("view.cut", "Roof cut along a line", "View", _(roof.show_view, view="cut"), "F7"),
    Action("view.panels", "Panels on a face", "View", _(roof.show_view, view="panels"), "F8"),
    Action("view.built", "See it on the roof: as built, what is in hand lit", "View", view.show_built, "Shift+F5",
           "pieces"),
    Action("view.units", "Next unit: mm, inches at 1/8, 1/16, 1/32", "View",
           edit.next_unit, "Ctrl+U", rule_before=True),
    Action("view.theme", "Next theme: desktop, light, dark", "View", view.next_theme, "Ctrl+T"),
    Action("help.field", "What is this field?", "Help", view.explain, "F1", settles=False),
    Action("help.page", "The guide, from this bench's chapter", "Help", view.show_help, "Shift+F1", settles=False),
    Action("help.tour", "A look round", "Help", view.take_tour, settles=False),
    Action("help.keys", "All keys", "Help", _show_keys, "Ctrl+F1", settles=False),
    Action("help.about", "About Yattle", "Help", view.show_about, settles=False),
)
