"""Rows of a table that somebody hands over as CSV."""

from __future__ import annotations

import csv
import io

from yattle.errors import InputError


def rows_of(text: str, where: str) -> list[list[str]]:
    """Every row's cells; raises :class:`InputError` with the line where the text is no table."""
    reader = csv.reader(io.StringIO(text.lstrip("\ufeff"), newline=""))
    try:
        return list(reader)
    except csv.Error as trouble:
        raise InputError(f"{where}, line {reader.line_num}", str(trouble), "cells parted by commas") from None
