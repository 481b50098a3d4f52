"""Machines and instruments on a plain text line, and the stand-ins that ship with the program."""

from yattle.devices.folder import DeviceProblem, Folder, Measured, fold_piece
from yattle.devices.stand_in import StandInFolder

__all__ = ["DeviceProblem", "Folder", "Measured", "StandInFolder", "fold_piece"]
