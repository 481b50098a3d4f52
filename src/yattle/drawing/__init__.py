"""One description of each drawing; screen, SVG, PDF and DXF show the same."""

from yattle.drawing.brake import step_drawing
from yattle.drawing.nest import crosscuts, stock_drawing
from yattle.drawing.pattern import pattern_drawing
from yattle.drawing.plan import PlanEdge, plan_drawing
from yattle.drawing.section import fold_letter, section_drawing
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Ring, Tag

__all__ = ["Dim", "Drawing", "Label", "Line", "PlanEdge", "Ring", "Tag", "crosscuts", "fold_letter", "pattern_drawing",
           "plan_drawing", "section_drawing",
           "step_drawing", "stock_drawing"]
