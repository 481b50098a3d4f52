"""Tables written and read as CSV, safe for the spreadsheets that people open them with."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from yattle.errors import InputError

Cell = str | float | int | None
_RUN = ("=", "+", "-", "@", "\t", "\r")  # a spreadsheet takes a text that begins so for a formula


def as_csv(rows: Iterable[Iterable[Cell]]) -> str:
    """The rows as CSV; ``None`` is an empty cell. A text that a spreadsheet would run gets an apostrophe before it,
    which :func:`rows_of` takes off again.

    >>> as_csv([("piece", "mm"), ("=1+1", -3.5)])
    "piece,mm\\n'=1+1,-3.5\\n"
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerows([[_safe(cell) for cell in row] for row in rows])
    return out.getvalue()


def _safe(cell: Cell) -> Cell:
    return f"'{cell}" if isinstance(cell, str) and cell.lstrip("'").startswith(_RUN) else cell


def rows_of(text: str, where: str) -> list[list[str]]:
    """Every row's cells; raises :class:`InputError` with the line where the text is no table."""
    reader = csv.reader(io.StringIO(text.lstrip("\ufeff"), newline=""))
    try:
        return [[_plain(cell) for cell in row] for row in reader]
    except csv.Error as trouble:
        raise InputError(f"{where}, line {reader.line_num}", str(trouble), "cells parted by commas") from None


def _plain(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and cell.lstrip("'").startswith(_RUN) else cell
