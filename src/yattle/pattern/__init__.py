"""Flat patterns: written down, laid out from a section, and folded up again to prove them."""

from yattle.pattern.ends import End, Tab
from yattle.pattern.folded import FoldedFacet, fold_up
from yattle.pattern.layout import StripPlan, strip_pattern
from yattle.pattern.marking import MarkPoint, check_measure, marking_points
from yattle.pattern.pattern import Mark, Pattern, PatternFold
from yattle.pattern.proof import Proof, prove_against_section

__all__ = ["End", "FoldedFacet", "Mark", "MarkPoint", "Pattern", "PatternFold", "Proof", "StripPlan", "Tab",
           "check_measure", "fold_up", "marking_points", "prove_against_section", "strip_pattern"]
