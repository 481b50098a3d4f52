"""Panel systems read from files: an own ``yattle-panels/1``, or a module's profile drawn as a DXF polyline."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from yattle.errors import InputError
from yattle.files import read_text
from yattle.job.sections import open_polyline
from yattle.panels import PanelSystem
from yattle.values import read

_HIGH = 3.0  # mm: a profile that rises by more has ribs


def read_system(path: Path) -> PanelSystem:
    """A panel system from its own format, or a profile from a DXF drawing: its lowest left point at zero, seams where
    it begins and ends. Raises :class:`FileProblem` and :class:`InputError` that say what is wrong."""
    if path.suffix.lower() == ".dxf":
        return system_of_profile(path)
    return read(PanelSystem, read_text(path).encode(), path.name)


def system_of_profile(path: Path) -> PanelSystem:
    """The first open polyline of a DXF drawing as one module, from its left side edge to its right one."""
    points = [(x, y) for x, y, _ in open_polyline(path, "along one module of the panel, from edge to edge")]
    if points[0][0] > points[-1][0]:
        points.reverse()
    x0, y0 = min(x for x, _ in points), min(y for _, y in points)
    profile = tuple((x - x0, y - y0) for x, y in points)
    if profile[-1][0] - profile[0][0] < 50:
        raise InputError(path.name, f"{profile[-1][0] - profile[0][0]:g} mm wide", "a module of at least 50 mm")
    base = [x for x, y in profile if y < 1.0]
    inner_high = max((y for x, y in profile if min(base) + 1 < x < max(base) - 1), default=0.0)
    kind: Literal["ribbed", "standing seam"] = "ribbed" if inner_high > _HIGH else "standing seam"
    return PanelSystem(name=path.stem[:60], kind=kind, profile=profile, under=min(base), over=max(base),
                       sources=(("profile", f"drawn, {path.name}"),))
