"""The cut list as CSV: one row a piece, lengths in mm and as the job's unit says them."""

from __future__ import annotations

import csv
import io

from yattle.job.derive import Derived
from yattle.measure import UNITS, say_length

COLUMNS = ("piece", "run", "detail", "hand", "qty", "blank_length_mm", "girth_mm", "blank_length", "girth", "metal",
           "left_end", "right_end", "stock", "x_mm", "y_mm")


def cut_list(derived: Derived) -> str:
    """CSV with a head line; where a piece is not placed its stock is empty."""
    unit = UNITS[derived.job.unit]
    places = {place.part: place for place in derived.nest.placements}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for run in derived.runs:
        for piece in run.pieces:
            pattern, place = piece.pattern, places.get(piece.id)
            writer.writerow([
                piece.id, run.run.id, "eave drip", piece.hand, pattern.qty, round(pattern.length, 3),
                round(pattern.girth, 3), say_length(pattern.length, unit), say_length(pattern.girth, unit),
                derived.job.metal_name, *(end.says(unit) for end in piece.ends),
                *((place.stock, round(place.x, 3), round(place.y, 3)) if place else ("", "", ""))])
    return out.getvalue()
