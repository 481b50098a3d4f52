"""Tables written and read as CSV, safe for the spreadsheets that people open them with."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable
from typing import Literal

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


Style = Literal["comma", "semicolon"]
"""How tables are written: cells parted by commas with decimal points, or by semicolons with decimal commas."""
_DECIMAL = re.compile(r"[+-]?\d+\.\d+(e[+-]?\d+)?", re.IGNORECASE)
_WITH_COMMA = re.compile(r"[+-]?\d+,\d+(e[+-]?\d+)?", re.IGNORECASE)


def in_style(text: str, style: Style) -> str:
    """A table that :func:`as_csv` wrote, as spreadsheets of the shop's country read it. A text that only looks like a
    number with a decimal comma gets an apostrophe before it, which :func:`rows_of` takes off again.

    >>> in_style("piece,mm\\nE1-1,3.5\\n", "semicolon")
    'piece;mm\\nE1-1;3,5\\n'
    """
    if style == "comma":
        return text
    out = io.StringIO()
    writer = csv.writer(out, delimiter=";", lineterminator="\n")
    for row in csv.reader(io.StringIO(text, newline="")):
        writer.writerow([cell.replace(".", ",") if _DECIMAL.fullmatch(cell)
                         else f"'{cell}" if _WITH_COMMA.fullmatch(cell.lstrip("'")) else cell for cell in row])
    return out.getvalue()


def _safe(cell: Cell) -> Cell:
    return f"'{cell}" if isinstance(cell, str) and cell.lstrip("'").startswith(_RUN) else cell


def rows_of(text: str, where: str) -> list[list[str]]:
    """Every row's cells, numbers with a decimal point; raises :class:`InputError` with the line where the text is no
    table. Of either style: a head line with more semicolons than commas says which.

    >>> rows_of("piece;mm\\nE1-1;3,5\\n", "table")
    [['piece', 'mm'], ['E1-1', '3.5']]
    """
    text = text.lstrip("\ufeff")
    head = text.lstrip("\r\n").partition("\n")[0]
    by_semicolons = head.count(";") > head.count(",")
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=";" if by_semicolons else ",")
    read = _with_point if by_semicolons else _plain
    try:
        return [[read(cell) for cell in row] for row in reader]
    except csv.Error as trouble:
        raise InputError(f"{where}, line {reader.line_num}", str(trouble), "cells parted by commas or semicolons"
                         ) from None


def _with_point(cell: str) -> str:
    if _WITH_COMMA.fullmatch(cell.strip()):
        return cell.replace(",", ".")
    return cell[1:] if cell.startswith("'") and _WITH_COMMA.fullmatch(cell.lstrip("'")) else _plain(cell)


def _plain(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and cell.lstrip("'").startswith(_RUN) else cell
