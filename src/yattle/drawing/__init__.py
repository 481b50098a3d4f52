"""One description of each drawing; screen, SVG, PDF and DXF show the same."""

from yattle.drawing.brake import step_drawing
from yattle.drawing.nest import crosscuts, stock_drawing, stretches
from yattle.drawing.pattern import pattern_drawing
from yattle.drawing.roof import FreeEave, PlanEdge, cut_drawing, panel_drawing, roof_drawing
from yattle.drawing.section import fold_letter, section_drawing
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Ring, Tag

__all__ = ["Dim", "Drawing", "FreeEave", "Label", "Line", "PlanEdge", "Ring", "Tag", "crosscuts", "cut_drawing",
           "fold_letter", "panel_drawing", "pattern_drawing", "roof_drawing", "section_drawing",
           "step_drawing", "stock_drawing",
           "stretches"]
