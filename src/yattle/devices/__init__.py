"""Machines and instruments on a plain text line, and the stand-ins that ship with the program."""

from yattle.devices.folder import DeviceProblem, Folder, Measured, fold_piece
from yattle.devices.instrument import Reading, StandInInstrument, take_reading
from yattle.devices.line import check_address, open_line, served
from yattle.devices.stand_in import StandInFolder

__all__ = ["DeviceProblem", "Folder", "Measured", "Reading", "StandInFolder", "StandInInstrument",
           "check_address", "fold_piece", "open_line", "served", "take_reading"]
