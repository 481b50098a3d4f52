"""What is copied to be used elsewhere: a number, a table, a picture; and a column of measures that is pasted."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QTableView, QWidget


def copy_text(text: str) -> None:
    """Put a text on the clipboard."""
    board = QGuiApplication.clipboard()
    if board is not None:
        board.setText(text)


def copy_picture(widget: QWidget) -> None:
    """Put what a widget shows on the clipboard."""
    board = QGuiApplication.clipboard()
    if board is not None:
        board.setPixmap(widget.grab())


def copy_table(table: QTableView) -> None:
    """Put the selected cells of a table on the clipboard, all of it with its heads where only one row is chosen: rows
    by lines, cells by tabs, as every table program takes them."""
    model, chosen = table.model(), table.selectionModel()
    if model is None:
        return
    cells = {(one.row(), one.column()) for one in chosen.selectedIndexes()} if chosen is not None else set()
    rows, columns = sorted({row for row, _ in cells}), sorted({column for _, column in cells})
    head: list[str] = []
    if len(rows) < 2:
        rows, columns = list(range(model.rowCount())), list(range(model.columnCount()))
        head = [str(model.headerData(column, Qt.Orientation.Horizontal) or "") for column in columns]
    lines = ["\t".join(head)] if head else []
    lines += ["\t".join(str(model.index(row, column).data() or "") for column in columns) for row in rows]
    copy_text("\n".join(lines))


def pasted_column() -> list[str]:
    """The first column of what is on the clipboard, line by line, without empty lines at its end."""
    board = QGuiApplication.clipboard()
    text = board.text() if board is not None else ""
    return [line.split("\t")[0].strip() for line in text.rstrip().splitlines()]
