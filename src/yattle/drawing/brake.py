"""The piece on the brake at one step: what is held, what swings, jaw, bed and leaf in section."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from yattle.brake import Brake
from yattle.drawing.shapes import Drawing, Line, Point, Ring, Shape
from yattle.section import Girth

Array = NDArray[np.float64]


def chain_at_step(girth: Girth, turns: dict[str, float], fold: str, face_up: str, out: str,
                  swing: float = 0.0) -> tuple[Array, Array]:
    """The held and the swinging part of the chain, from the fold line at the origin outward.

    ``turns``: the turn each fold already has; ``swing`` degrees the swinging part has been
    lifted. Held part runs into x < 0, swinging part starts along x > 0. Shapes (n, 2).
    """
    at = [bend.id for bend in girth.bends].index(fold) + 1
    sign = 1.0 if face_up == "paint" else -1.0
    to_a, to_b = _sides(girth, at)
    swinging, held = (to_a, to_b) if out == "A" else (to_b, to_a)
    return (_walk(held, turns, 180.0, -sign), _walk(swinging, turns, swing, sign))


def flattened(girth: Girth, turns: dict[str, float], fold: str, face_up: str, out: str,
              share: float) -> tuple[Array, Array]:
    """All but the hem, and the hem, while it is flattened: ``share`` 0 as prefolded, 1 closed.

    Its own edge out, the hem's fold is at the fold line and all else inside; the other edge out,
    its raw edge is at the fold line and all else outside.
    """
    ids = [bend.id for bend in girth.bends]
    to_a, to_b = _sides(girth, ids.index(fold) + 1)
    own = "A" if fold == "hA" else "B"
    rest, hem = (to_b, to_a) if own == "A" else (to_a, to_b)
    sign, length, gap = (1.0 if face_up == "paint" else -1.0), hem[0][0], math.radians(45 * (1 - share) + 4)
    if out == own:
        flap = np.array([[0.0, 0.0], [-length * math.cos(gap), length * math.sin(gap)]])
        return _walk(rest, turns, 180.0, -sign), flap
    flap = np.array([[-length, 0.0], [-length + length * math.cos(gap), length * math.sin(gap)]])
    return _walk(rest, turns, 0.0, sign) - np.array([length, 0.0]), flap


def _sides(girth: Girth, at: int) -> tuple[list[tuple[float, str]], list[tuple[float, str]]]:
    """The chain toward A and toward B from fold mark ``at``: each part's length and the fold beyond it."""
    marks = [0.0, *(bend.mark for bend in girth.bends), girth.girth]
    ids = [bend.id for bend in girth.bends]
    to_a = [(marks[n] - marks[n - 1], ids[n - 2] if n > 1 else "") for n in range(at, 0, -1)]
    to_b = [(marks[n + 1] - marks[n], ids[n] if n < len(ids) else "") for n in range(at, len(marks) - 1)]
    return to_a, to_b


def _walk(parts: list[tuple[float, str]], turns: dict[str, float], heading: float, sign: float) -> Array:
    """Points of a chain from the origin; ``sign`` is + where a turn toward the paint lifts it."""
    points, place = [np.zeros(2)], np.zeros(2)
    for length, fold in parts:
        angle = math.radians(heading)
        place = place + length * np.array([math.cos(angle), math.sin(angle)])
        points.append(place)
        heading += sign * turns.get(fold, 0.0)
    return np.array(points)


def step_drawing(girth: Girth, brake: Brake, turns: dict[str, float], fold: str, face_up: str, out: str,
                 swing: float, tools: bool = True, action: str = "fold") -> Drawing:
    """One step in section; the machine is drawn as it stands, the leaf swung up with the flange.

    A hem's ``flatten`` leaves the leaf down; ``swing`` of 180 is the hem closed.
    """
    if action == "flatten":
        held, swinging = flattened(girth, turns, fold, face_up, out, swing / 180)
        swing = 0.0
    else:
        held, swinging = chain_at_step(girth, turns, fold, face_up, out, swing)
    shapes: list[Shape] = []
    if tools:
        shapes += [Ring(brake.bed, "tool", "bed"), Ring(brake.clamp, "tool", "clamp"),
                   Ring(_turned(brake.leaf, swing), "leaf", "leaf")]
    shapes.append(Line(_points(held), "back", "held"))
    shapes.append(Line(_points(swinging), "paint", "swinging"))
    return Drawing(tuple(shapes), frame=_close_up(held, swinging) if tools else None)


def _close_up(held: Array, swinging: Array) -> tuple[float, float, float, float]:
    """The piece and the working ends of the tools; the machine's far side may leave the picture."""
    low = np.minimum(np.minimum(held.min(axis=0), swinging.min(axis=0)), (-150.0, -130.0))
    high = np.maximum(np.maximum(held.max(axis=0), swinging.max(axis=0)), (120.0, 120.0))
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def _turned(ring: tuple[Point, ...], degrees: float) -> tuple[Point, ...]:
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return tuple((x * cos - y * sin, x * sin + y * cos) for x, y in ring)


def _points(array: Array) -> tuple[Point, ...]:
    return tuple((float(x), float(y)) for x, y in array)
