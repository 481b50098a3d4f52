"""A section in its place: the ribbon with its paint band, what lies around, legs and folds."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from yattle.drawing.shapes import Dim, Drawing, Label, Line, Point, Ring, Shape, Tag
from yattle.measure import UNITS, Unit, say_length
from yattle.section import Bend, Profile, folded_points, headings
from yattle.section.fold import rounded_path

Array = NDArray[np.float64]
_BAND_SHARE = 0.022  # thickness of the ribbon on the drawing, of the section's size


def fold_letter(bend_id: str, turn: float, profile: Profile | None, unit: Unit = UNITS["mm"]) -> str:
    """``P 42`` toward the paint face, ``B 58`` toward the back, ``PH``/``BH`` with a hem's length. The turn in
    degrees."""
    letter = "P" if turn > 0 else "B"
    hem = {"hA": profile.hem_a, "hB": profile.hem_b}.get(bend_id) if profile is not None else None
    if profile is None and abs(turn) == 180:
        return f"{letter}H"
    if hem is not None:
        return f"{letter}H {say_length(hem.length, unit, 0 if hem.length == int(hem.length) else 1)}"
    return f"{letter} {round(abs(turn), 1):g}"


def section_drawing(profile: Profile, heading: float = 0.0, unit: Unit = UNITS["mm"],
                    around: tuple[tuple[str, tuple[Point, ...]], ...] = (), labels: bool = True) -> Drawing:
    """The section with raw edge A at the origin, its first leg heading ``heading`` degrees.

    ``around``: outlines of deck, wall or fascia with their names, in the same frame.
    """
    start = heading - (profile.hem_a.turn if profile.hem_a else 0.0)
    corners = folded_points(profile, start)
    size = float(np.ptp(corners, axis=0).max())
    band = max(_BAND_SHARE * size, 1.0)
    shapes: list[Shape] = [Ring(outline, "around", name) for name, outline in around]
    shapes += _ribbon(rounded_path(profile, band * 0.9, start), band)
    if labels:
        shapes += [Label(_left_of(outline), name, (-1.0, 0.0)) for name, outline in around if name]
        shapes += _leg_labels(profile, corners, start, unit)
        shapes += _fold_tags(profile, corners, start, unit)
    return Drawing(tuple(shapes), ("paint face out",))


def faults_on(profile: Profile, heading: float, strips: Iterable[str]) -> tuple[Shape, ...]:
    """The parts of a section that cannot be made, by the names of their strips (``leg 2``, ``hB``): a heavy line along
    each, and a cross at its middle. In the section's frame, mm."""
    start = heading - (profile.hem_a.turn if profile.hem_a else 0.0)
    corners = folded_points(profile, start)
    marks: list[Shape] = []
    for n in (profile.strip_names.index(name) for name in strips if name in profile.strip_names):
        marks.append(Line(_points(corners[n:n + 2]), "fault"))
        x, y = ((corners[n] + corners[n + 1]) / 2).tolist()
        marks.append(Label((x, y), "✕", (0.0, 0.0), strong=True))
    return tuple(marks)


def _ribbon(path: Array, band: float) -> list[Shape]:
    """Paint band on the left of the walk from A, bare back line on its right."""
    side = np.gradient(path, axis=0)
    side /= np.hypot(side[:, 0], side[:, 1])[:, None]
    left = np.column_stack((-side[:, 1], side[:, 0]))
    paint, back = path + left * band / 2, path - left * band / 2
    ring = (*_points(paint), *reversed(_points(path)))
    return [Ring(ring, "paint"), Line(_points(back), "back")]


def _points(array: Array) -> tuple[Point, ...]:
    return tuple((float(x), float(y)) for x, y in array)


def _left_of(outline: tuple[Point, ...]) -> Point:
    return (min(x for x, _ in outline), sum(y for _, y in outline) / len(outline))


def _leg_labels(profile: Profile, corners: Array, start: float, unit: Unit) -> list[Shape]:
    angles, labels = headings(profile, start), list[Shape]()
    for n, (name, length) in enumerate(zip(profile.strip_names, profile.strip_lengths, strict=True)):
        if name.startswith("leg"):
            middle = (corners[n] + corners[n + 1]) / 2
            left = math.radians(float(angles[n]) + 90)
            labels.append(Label((float(middle[0]), float(middle[1])), say_length(length, unit),
                                (math.cos(left), math.sin(left)), f"leg:{name[4:]}", strong=True))
    return labels


def _fold_tags(profile: Profile, corners: Array, start: float, unit: Unit) -> list[Shape]:
    angles, tags = headings(profile, start), list[Shape]()
    for n, (fold_id, turn) in enumerate(zip(profile.fold_ids, profile.strip_turns, strict=True)):
        # Outside of the fold: against the middle of the two headings' inner side.
        outside = math.radians(float(angles[n]) + turn / 2 - math.copysign(90, turn or 1))
        at = corners[n + 1]
        tags.append(Tag((float(at[0]), float(at[1])), fold_letter(fold_id, turn, profile, unit),
                        (math.cos(outside), math.sin(outside)), fold_id))
    return tags


def tape_drawing(bends: tuple[Bend, ...], girth: float, profile: Profile, unit: Unit = UNITS["mm"],
                 from_b: bool = False) -> Drawing:
    """The girth laid out as a tape: raw edges, and every fold mark with its letter and distance. Places in mm."""
    shapes: list[Shape] = [Ring(((0, 0), (girth, 0), (girth, 20), (0, 20)), "cut")]
    for bend in bends:
        at = girth - bend.mark if from_b else bend.mark
        role = "fold-paint" if bend.turn > 0 else "fold-back"
        shapes.append(Line(((at, 0), (at, 20)), role, bend.id))
        shapes.append(Tag((at, 20), fold_letter(bend.id, bend.turn, profile, unit), (0, 1), bend.id))
        shapes.append(Label((at, 0), say_length(at, unit), (0, -1), bend.id, strong=True))
    shapes.append(Dim((0, 0), (girth, 0), say_length(girth, unit), (0, -3)))
    return Drawing(tuple(shapes), ("from B" if from_b else "from A",))
