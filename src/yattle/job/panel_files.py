"""Panel systems of one's own: an own ``yattle-panels/1``, a module's profile drawn as a DXF polyline or typed point by
point."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from yattle.errors import InputError
from yattle.files import read_text
from yattle.job.sections import open_polyline
from yattle.measure import parse_length
from yattle.panels import PanelSystem
from yattle.pattern.pattern import Point
from yattle.values import check, read

_LEVEL = 2.0  # mm: points no higher lie on the flat
_LEAST = 50.0  # mm of coverage
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
    return _module(points, path.name, path.stem, f"drawn, {path.name}")


def points_of(text: str, unit: str = "mm") -> list[Point]:
    """Points typed as ``across, up; across, up …``, each length as one types it; mm. Raises :class:`InputError`.

    >>> points_of("0, 38; 0, 0; 475, 0; 475, 38")[:2]
    [(0.0, 38.0), (0.0, 0.0)]
    """
    found = list[Point]()
    for n, part in enumerate((one for one in text.split(";") if one.strip()), 1):
        across, comma, up = part.partition(",")
        if not comma:
            raise InputError(f"point {n}", repr(part.strip()), "across and up with a comma between, such as 0, 38")
        found.append((_typed(across, unit, n), _typed(up, unit, n)))
    if len(found) < 2:
        raise InputError("points", f"{len(found)}", "two or more with semicolons between, such as 0, 38; 0, 0; 475, 0")
    return found


def system_of_points(name: str, points: list[Point]) -> PanelSystem:
    """One module typed or drawn point by point, mm, as a system of that name."""
    if not name.strip():
        raise InputError("name", "nothing", "what the system is called")
    return _module(points, "points", name.strip(), "typed by hand")


def _typed(text: str, unit: str, n: int) -> float:
    """A length that may lie left of zero or below it, mm."""
    bare = text.strip()
    size = parse_length(bare.lstrip("-−"), unit, f"point {n}")
    return -size if bare[:1] in "-−" else size


def _module(drawn: list[Point], where: str, name: str, source: str) -> PanelSystem:
    """A module's points as a system: its lowest left point at zero, seams where its flat begins and ends."""
    points = drawn[::-1] if drawn[0][0] > drawn[-1][0] else drawn
    x0, y0 = min(x for x, _ in points), min(y for _, y in points)
    profile = tuple((x - x0, y - y0) for x, y in points)
    if profile[-1][0] - profile[0][0] < _LEAST:
        raise InputError(where, f"{profile[-1][0] - profile[0][0]:g} mm wide", f"a module of at least {_LEAST:g} mm")
    base = [x for x, y in profile if y < _LEVEL]
    inner_high = max((y for x, y in profile if min(base) + 1 < x < max(base) - 1), default=0.0)
    kind: Literal["ribbed", "standing seam"] = "ribbed" if inner_high > _HIGH else "standing seam"
    return check(lambda: PanelSystem(name=name[:60], kind=kind, profile=profile, under=min(base), over=max(base),
                                     sources=(("profile", source),)))
