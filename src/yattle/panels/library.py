"""The library of invented panel systems that ships with Yattle, in millimetres and in inches."""

from __future__ import annotations

import difflib
from functools import cache
from importlib.resources import files
from typing import Literal

from yattle.errors import InputError
from yattle.panels.system import PanelSystem
from yattle.values import Value, read


class PanelLibrary(Value):
    """Panel systems by their names."""

    format: Literal["yattle-panel-library/1"]
    systems: tuple[PanelSystem, ...]


@cache
def library() -> tuple[PanelSystem, ...]:
    """The systems that ship with Yattle."""
    return read(PanelLibrary, files("yattle.panels").joinpath("library.json").read_bytes(), "panels").systems


def find(name: str, own: tuple[PanelSystem, ...] = ()) -> PanelSystem:
    """The system of that name, one's ``own`` first; raises :class:`InputError` with the nearest name otherwise."""
    known = {system.name: system for system in (*library(), *own)}
    if name in known:
        return known[name]
    near = difflib.get_close_matches(name, known, n=1) or list(known)[:1]
    raise InputError("system", repr(name), f"a panel system such as {near[0]!r}")
