"""Parts of a sheet that hang together at their folds made one outline."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from yattle import overlay
from yattle.errors import InputError
from yattle.pattern.relief import polygons
from yattle.pattern.sheet import apart
from yattle.pattern.surface import Array, Crease, Surface

_SEAM = 2e-6  # mm: faces nearer to each other than twice this hang together
_NEAR = 1.6  # mm: how far a part's corner may be from the end of its fold, where the other part goes further


@dataclass(frozen=True)
class CreaseLine:
    """A crease in the flat sheet: from ``ends[0]`` to ``ends[1]`` as its parent's edge runs, on the child's edge
    ``back`` as it was drawn; ``half`` its deduction. Lengths in mm."""

    crease: Crease
    back: int
    ends: Array
    half: float


def joined(surface: Surface, rings: list[Array], lines: list[CreaseLine]) -> tuple[list[Array], Any]:
    """The outline of all parts and its holes, and the parts as polygons; raises :class:`InputError` where they cover
    each other.

    Parts that form a tree are walked round fold by fold; that is the outline where it encloses just as much as they do
    together. Else, round a pocket or where corners touch, they are put together as areas. Rings in mm.
    """
    import shapely

    shapes = polygons(rings)
    walked = None if surface.closing else _walked(rings, lines)
    if walked is not None:
        whole = shapely.Polygon(walked)
        if whole.is_valid and abs(whole.area - shapely.area(shapes).sum()) < 1e-4:
            return [walked], shapes
    return _as_areas(surface, rings, shapely.buffer(shapes, 0)), shapes


def _walked(rings: list[Array], lines: list[CreaseLine]) -> Array | None:
    """The way round all parts, into each child at its fold; ``None`` where a fold has no corners at its ends."""
    doors: dict[tuple[int, int], tuple[int, int, int]] = {}
    corners = [[complex(x, y) for x, y in ring.tolist()] for ring in rings]
    for line in lines:
        parent, child = corners[line.crease.parent], corners[line.crease.child]
        a, b = (complex(x, y) for x, y in line.ends.tolist())
        (start, off), (end, off_too) = _nearest(parent, a, line.crease.at), _nearest(parent, b, line.crease.at + 1)
        (first, far), (last, far_too) = _nearest(child, a, line.back + 1), _nearest(child, b, line.back)
        if max(off, off_too, far, far_too) > _NEAR or end != (start + 1) % len(parent):
            return None
        doors[line.crease.parent, start] = line.crease.child, first, (last - first) % len(child) + 1
    out: list[complex] = []
    stack = [[0, 0, len(corners[0])]]
    while stack:
        part, at, left = stack.pop()
        out.append(corners[part][at])
        if left > 1:
            stack.append([part, (at + 1) % len(corners[part]), left - 1])
        if (part, at) in doors and (left > 1 or len(stack) == 0):
            stack.append(list(doors[part, at]))
    return apart(np.array(out).view(float).reshape(-1, 2), 1e-7)


def _nearest(ring: list[complex], point: complex, likely: int) -> tuple[int, float]:
    """Which corner of a ring is nearest to a point, and how far it is."""
    likely %= len(ring)
    if abs(ring[likely] - point) < 1e-9:
        return likely, 0.0
    off, which = min((abs(corner - point), k) for k, corner in enumerate(ring))
    return which, off


def _as_areas(surface: Surface, rings: list[Array], shapes: Any) -> list[Array]:
    """The outline and the holes of parts that hang together anyhow."""
    import shapely

    whole = overlay.union_all(shapely.buffer(shapes, _SEAM, join_style="mitre"))
    pieces = shapely.get_parts(whole.buffer(-_SEAM, join_style="mitre"))
    pieces = [piece for piece in pieces if piece.area > 1e-4]  # specks where corners touch
    whole = pieces[0] if len(pieces) == 1 else whole
    lost = sum(shape.area for shape in shapes) - whole.area
    if len(pieces) != 1 or lost > 0.5:
        raise InputError(surface.name, f"a layout that covers itself by {lost:.1f} mm²{_which_two(surface, shapes)}",
                         "faces that lie side by side: part the piece by a seam")
    holes = [hole for hole in whole.interiors if shapely.Polygon(hole).area > 1e-3]
    exact = np.concatenate(rings)
    return [_exactly(shapely.get_coordinates(ring)[:-1], exact) for ring in (whole.exterior, *holes)]


def _exactly(ring: Array, exact: Array) -> Array:
    """A ring of the joined parts with its corners exactly where the parts' own are."""
    off = np.abs(ring[:, None] - exact[None]).max(axis=2)
    nearest = off.argmin(axis=1)
    near = off[np.arange(len(ring)), nearest] < 20 * _SEAM
    return apart(np.where(near[:, None], exact[nearest], ring))


def _which_two(surface: Surface, shapes: Any) -> str:
    """The two faces that cover each other most."""
    names = [face.name for face in surface.faces]
    most = max(((one.intersection(other).area, names[n], names[m]) for n, one in enumerate(shapes)
                for m, other in enumerate(shapes[:n])), default=(0.0, "", ""))
    return f", most of it {most[1]} on {most[2]}" if most[0] > 0.1 else ""
