"""Names, folders and decisions asked of the person; tests answer in the person's place."""

from __future__ import annotations

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from yattle.ui.widgets.words import plain

JOBS = "Yattle jobs (*.yattle)"
CSV = "CSV (*.csv)"
SYSTEMS = "Panel systems (*.json *.dxf)"
PDF = "PDF (*.pdf)"
_B = QMessageBox.StandardButton


class Asking:
    """One question after another, each answered before the next; ``parent`` is what the questions stand before."""

    def __init__(self, parent: QWidget) -> None:
        self._parent = parent

    def open(self, kinds: str = JOBS) -> str:
        """A file to read, or an empty text."""
        return QFileDialog.getOpenFileName(self._parent, "Open", "", kinds)[0]

    def save(self, suggestion: str, kinds: str) -> str:
        """A file to write, or an empty text."""
        return QFileDialog.getSaveFileName(self._parent, "Save as", suggestion, kinds)[0]

    def folder(self) -> str:
        """A folder to write to, or an empty text."""
        return QFileDialog.getExistingDirectory(self._parent, "Folder for the shop pack")

    def jobs(self) -> list[str]:
        """Several jobs to read."""
        return QFileDialog.getOpenFileNames(self._parent, "Other jobs", "", JOBS)[0]

    def unsaved(self, name: str) -> QMessageBox.StandardButton:
        """What to do with what is not saved of the job ``name``: save, discard or cancel."""
        return QMessageBox.question(self._parent, "Not saved", plain(f"{name} has changes that are not saved."),
                                    _B.Save | _B.Discard | _B.Cancel, _B.Save)

    def change_made(self, said: str) -> bool:
        """Whether a change is made although pieces are cut that would be others then; ``said`` tells which."""
        box = QMessageBox(QMessageBox.Icon.Warning, "Pieces that are cut", plain(said), parent=self._parent)
        make = box.addButton("Make the change", QMessageBox.ButtonRole.DestructiveRole)
        leave = box.addButton("Leave it as it is", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(leave)
        box.setEscapeButton(leave)
        box.exec()
        return box.clickedButton() is make

    def recover(self, said: str) -> bool | None:
        """Whether edits that were not saved are taken (``False``: let go; ``None``: later)."""
        answer = QMessageBox.question(self._parent, "Edits that were not saved", plain(said),
                                      _B.Yes | _B.Discard | _B.Cancel, _B.Yes)
        return {_B.Yes: True, _B.Discard: False}.get(answer)
