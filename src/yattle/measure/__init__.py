"""Lengths, pitches and sums as people say them and as they are printed."""

from yattle.measure.lengths import MM_PER_INCH, parse_length
from yattle.measure.pitches import parse_angle, parse_pitch, say_pitch
from yattle.measure.say import UNITS, Unit, say_length, say_thickness, tape_mark
from yattle.measure.sums import Sum, Term

__all__ = ["MM_PER_INCH", "UNITS", "Sum", "Term", "Unit", "parse_angle", "parse_length", "parse_pitch",
           "say_length", "say_pitch", "say_thickness", "tape_mark"]
