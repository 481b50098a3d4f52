"""Metric measures in a text of an inch job."""

from __future__ import annotations

import re

METRIC = re.compile(r"\d[\d  ]*(?:[.,]\d+)?[  ]?(?:mm|cm|m²|m2|m|km|kg|ml|l|°C|MPa|N)\b(?!\w)")
"""A number with a metric unit; seams and profiles that are called by millimetres are names."""


def find_units(text):
    """The metric measures that a text says."""
    return METRIC.findall(text)
