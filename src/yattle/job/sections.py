"""The user's library of sections, and sections read from a drawing: a polyline becomes legs and turns.

Kept as ``yattle-section/1`` files beside the settings, one each, so that they can be shared by copying.
"""

from __future__ import annotations

import json
import logging
import math
from itertools import pairwise
from pathlib import Path

from yattle.bounds import MOST
from yattle.details.free import MOST_SECTION_LEGS, Shape
from yattle.errors import FileProblem, InputError
from yattle.files import read_text, why, write_whole
from yattle.job.settings import settings_path
from yattle.values import check, read

_STRAIGHT = 0.05  # degrees: parts that turn less are one leg
_SHORT = 0.01  # mm
_BACK = 175.0  # degrees: a turn beyond is no fold between legs

Point = tuple[float, float]


def library_folder() -> Path:
    """Where the user's sections lie."""
    return settings_path().parent / "sections"


def kept_sections() -> dict[str, Shape]:
    """Every readable section of the user's library by its name; what cannot be read is passed over."""
    found = {}
    for path in sorted(library_folder().glob("*.json")):
        try:
            shape = read_section(path)
        except (FileProblem, InputError):
            continue
        found[shape.name] = shape
    return found


def keep_section(shape: Shape) -> Path:
    """Keep a section under its name, over one of that name; where it lies is returned. Raises :class:`FileProblem`
    where it cannot be written."""
    folder = library_folder()
    name = "".join(c if c.isalnum() else "-" for c in shape.name).strip("-").lower() or "section"
    path = folder / f"{name}.json"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        write_whole(path, json.dumps(shape.model_dump(mode="json", exclude_none=True), indent=1) + "\n")
    except OSError as trouble:
        raise FileProblem(f"{path.name}: cannot be kept ({why(trouble)})") from None
    return path


def read_section(path: Path) -> Shape:
    """A section from a ``yattle-section/1`` file; raises :class:`FileProblem` or :class:`InputError`."""
    return read(Shape, read_text(path))


def section_from_dxf(path: Path) -> Shape:
    """The first open polyline of a DXF drawing as a section, its first point raw edge A, its first leg as it lies.

    Lengths are the drawing's millimetres (or its own unit, where the header says inches or metres). An arc of the
    polyline is a fold: the legs beside it are taken on to where their lines meet. The paint face is on the left of
    the walk. Raises :class:`FileProblem` where there is no such polyline.
    """
    return shape_of(open_polyline(path, "drawn along the section"), path.stem)


def open_polyline(path: Path, wanted: str) -> list[tuple[float, float, float]]:
    """The first open polyline of a DXF drawing: its points (x, y, bulge of the part after it), mm.

    ``wanted`` says what is to be drawn. Raises :class:`FileProblem` where there is none, or the file cannot be read.
    """
    try:
        corners = _first_open_polyline(path)
    except OSError as trouble:
        raise FileProblem(f"{path.name}: cannot be read ({why(trouble)})") from None
    except Exception as trouble:  # the reader raises whatever it stumbles over in a damaged file
        raise FileProblem(f"{path.name}: not a DXF drawing that can be read "
                          f"({' '.join(str(trouble).split())[:120] or type(trouble).__name__})") from None
    if corners is None:
        raise FileProblem(f"{path.name}: found no open polyline, expected one {wanted}")
    return corners


def _first_open_polyline(path: Path) -> list[tuple[float, float, float]] | None:
    """Its points (x, y, bulge of the part after it), mm."""
    import ezdxf

    logging.getLogger("ezdxf").disabled = True  # what it thinks of a file is said by us, in one sentence
    document = ezdxf.readfile(path)
    unit = {1: 25.4, 2: 304.8, 5: 10.0, 6: 1000.0}.get(document.header.get("$INSUNITS", 4), 1.0)
    for line in document.modelspace().query("LWPOLYLINE POLYLINE"):
        corners = [(float(x) * unit, float(y) * unit, float(bulge)) for x, y, bulge in (
            line.get_points("xyb") if line.dxftype() == "LWPOLYLINE"
            else [(*v.dxf.location.vec2, v.dxf.get("bulge", 0.0)) for v in line.vertices])]
        if not getattr(line, "closed", getattr(line, "is_closed", False)) and len(corners) > 1:
            return corners
    return None


def shape_of(corners: list[tuple[float, float, float]], name: str) -> Shape:
    """Points (x, y, bulge of the part after it) as a section; arcs become folds between the legs beside them. Places
    in mm. Raises :class:`InputError` where they make no section."""
    if not all(math.isfinite(value) and abs(value) <= MOST for corner in corners for value in corner):
        raise InputError("polyline", "a point out of reach", f"points within {MOST:g} mm")
    points = _without_arcs(corners)
    points = [p for n, p in enumerate(points) if n == 0 or math.dist(p, points[n - 1]) > _SHORT]
    if len(points) < 2:
        raise InputError("polyline", f"{len(points)} point", "at least two points apart")
    ways = [math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) for a, b in pairwise(points)]
    legs, turns, heading = [math.dist(points[0], points[1])], list[float](), ways[0]
    for n in range(1, len(ways)):
        turn = (ways[n] - ways[n - 1] + 180) % 360 - 180
        long = math.dist(points[n], points[n + 1])
        if abs(turn) > _BACK:
            raise InputError("polyline", f"a line folded back on itself at its point {n + 1}",
                             "the section's legs alone: hems are given apart")
        if abs(turn) < _STRAIGHT:
            legs[-1] += long
        else:
            legs.append(long)
            turns.append(turn)
    if len(legs) > MOST_SECTION_LEGS:
        raise InputError("polyline", f"{len(legs)} legs", f"at most {MOST_SECTION_LEGS}")
    return check(lambda: Shape(name=name[:200] or "own section", legs=tuple(round(v, 4) for v in legs),
                               turns=tuple(round(v, 4) for v in turns), heading=round(heading, 4)), "polyline")


def _without_arcs(corners: list[tuple[float, float, float]]) -> list[Point]:
    """The corner points with both ends of each arc replaced by the place where its tangents meet."""
    points: list[Point] = []
    skip = False
    for n, (x, y, bulge) in enumerate(corners):
        if bulge and n + 1 < len(corners):
            turn = 4 * math.atan(bulge)
            if n == 0 or n + 2 == len(corners):
                raise InputError("polyline", "an arc at its end", "a straight leg before and after every fold")
            if skip:
                raise InputError("polyline", f"two arcs running into each other at its point {n + 1}",
                                 "a straight leg between two folds")
            if abs(turn) >= math.pi - 1e-6:
                raise InputError("polyline", "an arc of half a circle or more", "smaller arcs: hems are given apart")
            x2, y2, _ = corners[n + 1]
            half, chord = turn / 2, math.hypot(x2 - x, y2 - y)
            way = math.atan2(y2 - y, x2 - x) - half
            long = chord / 2 / math.cos(half)
            points.append((x + long * math.cos(way), y + long * math.sin(way)))
            skip = True
        elif skip:
            skip = False
        else:
            points.append((x, y))
    return points
