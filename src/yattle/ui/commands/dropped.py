"""Files that are dropped on the window: a job opens, a drawing becomes a section, a table measures or stock."""

from __future__ import annotations

from pathlib import Path

from yattle.csv_tables import rows_of
from yattle.errors import YattleError
from yattle.files import read_text
from yattle.ui.commands import coil, job, roof, sections
from yattle.ui.commands.shop import Shop

TAKEN = (".yattle", ".dxf", ".csv", ".json")
"""What can be dropped, by the end of its name."""


def take(shop: Shop, path: Path) -> None:
    """Take a file for what it is; what it cannot be is said."""
    if not shop.session.settle():
        return
    kind = path.suffix.lower()
    if kind == ".yattle":
        job.open_path(shop, path)
    elif kind == ".dxf":
        sections.section_from(shop, path)
    elif kind == ".csv":
        (coil.stock_from if _lists_stock(path) else roof.measures_from)(shop, path)
    elif kind == ".json":
        sections.standard_from(shop, path)
    else:
        shop.complain(f"{path.name}: found a file that is not known here, expected a job (.yattle), a section (.dxf), "
                      "measures or stock (.csv) or a house standard (.json)")


def _lists_stock(path: Path) -> bool:
    """Whether a table's head is that of a stock list."""
    try:
        rows = rows_of(read_text(path), path.name)
    except (OSError, YattleError):
        return False  # what reads it as measures says what is wrong
    return bool(rows) and {"id", "kind", "metal"} <= {cell.strip().lower() for cell in rows[0]}
