"""Every action, declared once: menu, shortcut, search, help and tests all read this table."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Condition = Literal["always", "run", "pieces", "undo", "redo"]


@dataclass(frozen=True)
class Action:
    """``do`` names the window's method; ``when`` the condition under which it can be used; ``settles``: what is being
    typed is taken before."""

    id: str
    title: str
    menu: str
    do: str
    shortcut: str = ""
    when: Condition = "always"
    rule_before: bool = False
    settles: bool = True


MENUS = ("Job", "Edit", "Roof", "Piece", "Coil", "Papers", "View", "Help")

ACTIONS: tuple[Action, ...] = (
    Action("job.new", "New job", "Job", "new_job", "Ctrl+N"),
    Action("job.open", "Open …", "Job", "open_job", "Ctrl+O"),
    Action("job.demo", "Open the demo: sail loft", "Job", "open_demo", "Ctrl+Shift+O", rule_before=True),
    Action("job.demo-inch", "Open the demo: net shed, in inches", "Job", "open_demo_inch", "Ctrl+Shift+I"),
    Action("job.save", "Save", "Job", "save_job", "Ctrl+S", rule_before=True),
    Action("job.save-as", "Save as …", "Job", "save_job_as", "Ctrl+Shift+S"),
    Action("job.quit", "Quit", "Job", "close", "Ctrl+Q", rule_before=True),
    Action("edit.undo", "Undo", "Edit", "undo", "Ctrl+Z", "undo"),
    Action("edit.redo", "Redo", "Edit", "redo", "Ctrl+Shift+Z", "redo"),
    Action("edit.find", "Find a piece, run or action", "Edit", "find", "Ctrl+K", rule_before=True, settles=False),
    Action("roof.gable", "Add a gable block", "Roof", "add_gable", "Ctrl+Alt+G"),
    Action("roof.hip", "Add a hip block", "Roof", "add_hip", "Ctrl+Alt+H"),
    Action("roof.shed", "Add a lean-to", "Roof", "add_shed", "Ctrl+Alt+L"),
    Action("roof.dormer", "Add a dormer", "Roof", "add_dormer", "Ctrl+Alt+D"),
    Action("roof.flat", "Add a flat roof", "Roof", "add_flat", "Ctrl+Alt+F"),
    Action("roof.face", "Add a face from a sketch", "Roof", "add_face", "Ctrl+Alt+K"),
    Action("roof.chimney", "Add a chimney", "Roof", "add_chimney", "Ctrl+Alt+C", rule_before=True),
    Action("roof.pipe", "Add a pipe", "Roof", "add_pipe", "Ctrl+Alt+P"),
    Action("roof.curb", "Add a curb", "Roof", "add_curb", "Ctrl+Alt+B"),
    Action("roof.skylight", "Add a skylight", "Roof", "add_skylight", "Ctrl+Alt+S"),
    Action("roof.own-piece", "Add a piece of its own", "Roof", "add_own_piece", "Ctrl+Alt+O"),
    Action("roof.take-off", "Remove the selected block or opening", "Roof", "remove_part", "Ctrl+Alt+Del"),
    Action("roof.add", "Add an eave by itself", "Roof", "add_run", "Ctrl+Shift+N", rule_before=True),
    Action("roof.remove", "Remove this eave", "Roof", "remove_run", "Ctrl+Del", "run"),
    Action("roof.reading", "Take a reading into the field in hand", "Roof", "take_reading", "F9", rule_before=True,
           settles=False),
    Action("roof.measures", "Read taped measures, CSV …", "Roof", "read_measures", "Ctrl+Alt+M"),
    Action("roof.panel-list", "Panel list, CSV …", "Roof", "write_panel_list", "Ctrl+Alt+N", rule_before=True),
    Action("roof.dxf", "Roof plan, DXF …", "Roof", "write_roof_dxf", "Ctrl+Alt+X"),
    Action("roof.glb", "Roof in space, glTF …", "Roof", "write_roof_glb", "Ctrl+Alt+T"),
    Action("roof.next", "Next run", "Roof", "next_run", "Ctrl+Down", "run", True),
    Action("roof.before", "Run before", "Roof", "run_before", "Ctrl+Up", "run"),
    Action("piece.next", "Next piece", "Piece", "next_piece", "Ctrl+Right", "pieces"),
    Action("piece.before", "Piece before", "Piece", "piece_before", "Ctrl+Left", "pieces"),
    Action("piece.next-fold", "Next fold", "Piece", "next_fold", "Ctrl+.", "pieces", True),
    Action("piece.fold-before", "Fold before", "Piece", "fold_before", "Ctrl+,", "pieces"),
    Action("piece.tape", "Read the tape from the other edge", "Piece", "turn_tape", "Ctrl+R", "pieces"),
    Action("piece.standard", "Take this run's values for the whole job", "Piece", "make_standard", "Ctrl+J", "run",
           True),
    Action("piece.like", "Copy this run's detail to all like edges", "Piece", "copy_to_like", "Ctrl+Shift+J", "run"),
    Action("piece.advice", "Look for girths that save coil", "Piece", "ask_advice", "Ctrl+Shift+G", "pieces"),
    Action("piece.free", "New section of your own", "Piece", "add_free", "Ctrl+Shift+F", rule_before=True),
    Action("piece.read-section", "Read a section, DXF …", "Piece", "read_section", "Ctrl+Shift+X"),
    Action("piece.keep-section", "Keep this section in the library", "Piece", "keep_section", "Ctrl+Shift+K"),
    Action("piece.save-standard", "Save the house standard …", "Piece", "save_standard", "Ctrl+Alt+W",
           rule_before=True),
    Action("piece.take-standard", "Take a house standard …", "Piece", "take_standard", "Ctrl+Alt+E"),
    Action("piece.compare-standard", "Compare with a house standard …", "Piece", "compare_standard", "Ctrl+Alt+Q"),
    Action("piece.step", "Next stroke on the brake", "Piece", "next_step", "Ctrl+Shift+Right", "pieces", True),
    Action("piece.step-back", "Stroke before", "Piece", "step_back", "Ctrl+Shift+Left", "pieces"),
    Action("piece.folder", "Fold a piece on the folder", "Piece", "fold_on_folder", "Ctrl+G", "pieces"),
    Action("piece.stop", "Stop the folder or the coil line", "Piece", "stop_devices", "F12", settles=False),
    Action("piece.machine-open", "Open a machine …", "Piece", "open_machine", "Ctrl+M", rule_before=True),
    Action("piece.machine-save", "Save this machine …", "Piece", "save_machine", "Ctrl+Shift+M"),
    Action("coil.search", "Search for a better plan, or stop", "Coil", "search_on", "F10", "pieces"),
    Action("coil.keep-block", "Keep this piece's block, or let it go", "Coil", "keep_block", "Ctrl+B", "pieces"),
    Action("coil.keep-plan", "Keep this plan to compare", "Coil", "keep_plan", "Ctrl+Shift+B", "pieces"),
    Action("coil.spoiled", "This piece is spoiled: plan the rest again", "Coil", "spoiled", "Ctrl+Alt+R", "pieces"),
    Action("coil.line", "Follow the cuts on the coil line", "Coil", "follow_line", "F11", "pieces"),
    Action("coil.take", "The plan is cut: take it off the stock", "Coil", "take_plan", "Ctrl+Alt+I", "pieces", True),
    Action("coil.read-stock", "Read a stock list, CSV …", "Coil", "read_stock", "Ctrl+Alt+U"),
    Action("coil.write-stock", "Stock list, CSV …", "Coil", "write_stock", "Ctrl+Alt+V"),
    Action("coil.together", "Plan together with other jobs …", "Coil", "plan_together", "Ctrl+Alt+Y", "pieces", True),
    Action("papers.pack", "Write the whole shop pack …", "Papers", "write_pack", "Ctrl+E", "pieces"),
    Action("papers.book", "All papers in one book, PDF …", "Papers", "write_book", "Ctrl+Shift+Y", "pieces"),
    Action("papers.versions", "What changed since another version …", "Papers", "compare_version", "Ctrl+Alt+8",
           "pieces"),
    Action("papers.card", "Fold card of this run, PDF …", "Papers", "write_card", "Ctrl+P", "pieces", True),
    Action("papers.cuts", "Cut sheet, PDF …", "Papers", "write_cuts", "Ctrl+Shift+P", "pieces"),
    Action("papers.site", "Site pack, PDF …", "Papers", "write_site", "Ctrl+Alt+Z", "pieces", True),
    Action("papers.order", "Order list, CSV …", "Papers", "write_order", "Ctrl+Shift+E", "pieces"),
    Action("papers.log", "Log, CSV …", "Papers", "write_log", "Ctrl+Alt+A"),
    Action("papers.dxf", "Pattern of this piece, DXF …", "Papers", "write_dxf", "Ctrl+D", "pieces", True),
    Action("papers.svg", "Pattern of this piece, SVG 1:1 …", "Papers", "write_svg", "Ctrl+Shift+D", "pieces"),
    Action("papers.practice", "Paper practice of this piece, 1:1 PDF …", "Papers", "write_practice", "Ctrl+Alt+J",
           "pieces"),
    Action("papers.csv", "Cut list, CSV …", "Papers", "write_csv", "Ctrl+L", "pieces"),
    Action("papers.labels", "Labels, PDF …", "Papers", "write_labels", "Ctrl+Shift+L", "pieces"),
    Action("view.survey", "Survey", "View", "show_survey", "Ctrl+1"),
    Action("view.trim", "Trim", "View", "show_trim", "Ctrl+2"),
    Action("view.brake", "Brake", "View", "show_brake", "Ctrl+3"),
    Action("view.coil", "Coil", "View", "show_coil", "Ctrl+4"),
    Action("view.fit", "Fit", "View", "show_fit", "Ctrl+5"),
    Action("view.log", "Log", "View", "show_log", "Ctrl+6"),
    Action("view.play", "Play step by step, or stop", "View", "play", "Ctrl+Space"),
    Action("view.plan", "Roof in plan", "View", "show_plan", "F5", rule_before=True),
    Action("view.space", "Roof in space", "View", "show_space", "F6"),
    Action("view.cut", "Roof cut along a line", "View", "show_cut", "F7"),
    Action("view.panels", "Panels on a face", "View", "show_panels", "F8"),
    Action("view.units", "Next unit: mm, inches at 1/8, 1/16, 1/32", "View", "next_unit", "Ctrl+U", rule_before=True),
    Action("view.theme", "Next theme: desktop, light, dark", "View", "next_theme", "Ctrl+T"),
    Action("help.page", "Help for this bench", "Help", "show_help", "Shift+F1", settles=False),
    Action("help.tour", "A look round", "Help", "take_tour", "Ctrl+Shift+F1", settles=False),
    Action("help.keys", "All keys", "Help", "show_keys", "F1", settles=False),
    Action("help.about", "About Yattle", "Help", "show_about", "Ctrl+F1", settles=False),
)
