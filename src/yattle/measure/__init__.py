"""Lengths, pitches and sums as people say them and as they are printed."""

from yattle.measure.lengths import MM_PER_INCH, parse_length, split_numbers
from yattle.measure.pitches import parse_angle, parse_pitch, say_pitch
from yattle.measure.quantities import Area, Closest, Fine, Flow, Rain, SheetArea, VentArea, Volume, Whole, say_quantity
from yattle.measure.say import UNITS, Unit, in_unit, inch_twin, say_length, say_thickness, tape_mark
from yattle.measure.sums import Sum, Term

__all__ = ["MM_PER_INCH", "UNITS", "Area", "Closest", "Fine", "Flow", "Rain", "SheetArea", "Sum", "Term", "Unit",
           "VentArea", "Volume", "Whole", "in_unit", "inch_twin", "parse_angle", "parse_length", "parse_pitch",
           "say_length", "say_pitch", "say_quantity", "say_thickness", "split_numbers", "tape_mark"]
