"""The piece on the brake at one step: what is held, what swings, jaw, bed and leaf in section."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from yattle.brake import Brake
from yattle.brake.order import Step
from yattle.drawing.section import fold_letter
from yattle.drawing.shapes import Drawing, Label, Line, Point, Ring, Shape, Tag
from yattle.measure import Unit, say_length
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

    A hem's ``flatten`` leaves the leaf down; ``swing`` of 180 is the hem closed. Angles in degrees, places in mm.
    """
    if action == "flatten":
        held, swinging = flattened(girth, turns, fold, face_up, out, swing / 180)
        swing = 0.0
    else:
        held, swinging = chain_at_step(girth, turns, fold, face_up, out, swing)
    shapes: list[Shape] = []
    metal = girth.profile.metal
    if tools:
        jaw = tuple((x, y + metal.thickness) for x, y in brake.clamp)  # the jaw stands on the sheet
        shapes += [Ring(brake.bed, "tool", "bed"), Ring(jaw, "tool", "clamp"),
                   Ring(_turned(brake.leaf, swing), "leaf", "leaf")]
    inside, outside = sheet_line(held, swinging, metal.thickness, metal.inside_radius)
    shapes.append(Line(_points(inside), "back", "held", metal.thickness))
    shapes.append(Line(_points(outside), "paint", "swinging", metal.thickness))
    return Drawing(tuple(shapes), frame=_close_up(held, swinging) if tools else None)


def flat_drawing(girth: Girth, brake: Brake, fold: str, letters: dict[str, str]) -> Drawing:
    """The flat sheet pushed in up to one of its folds, paint up, edge A out: each fold's ``letters`` stand over its
    mark, the raw edges are named. Places in mm."""
    base = step_drawing(girth, brake, {}, fold, "paint", "A", 0.0)
    here = next(bend.mark for bend in girth.bends if bend.id == fold)
    over = girth.profile.metal.thickness
    named: list[Shape] = [Tag((here - bend.mark, over), letters[bend.id], (0.0, 1.0), bend.id) for bend in girth.bends]
    named += [Label((here - at, over), f"edge {name}", (side, 0.0)) for at, name, side in (
        (0.0, "A", 1.0), (girth.girth, "B", -1.0))]
    return Drawing((*base.shapes, *named), frame=base.frame)


def step_says(step: Step, girth: Girth, unit: Unit, tapers: bool = False) -> tuple[str, str]:
    """One stroke in two lines: letter and mark from the out edge (of a piece that ``tapers`` the line that is marked);
    the leaf's angle and the face up."""
    letter = fold_letter(step.fold, step.turn, girth.profile, unit)
    if step.action == "flatten":
        return f"{letter} flatten", f"{step.face_up} face up, {step.out} out"
    at = "on its line," if tapers else f"at {say_length(step.mark_from_out_edge, unit)} from"
    return (f"{letter} {at} {step.out}{' out' if tapers else ''}",
            f"leaf {step.set_angle:.1f}°, {step.face_up} face up")


def sheet_line(held: Array, swinging: Array, thickness: float, radius: float) -> tuple[Array, Array]:
    """The middle of the sheet's thickness along the held and the swinging part, folds rounded; shapes (n, 2).

    The chain is the line where the sheet lies on bed and leaf, so its middle runs half a thickness
    above, and the fold's corner is where the two middles meet. ``radius`` mm is inside the folds.
    """
    rise, ahead = np.array([0.0, thickness / 2]), _direction(swinging[1] - swinging[0])
    doubled = ahead @ _direction(held[1] - held[0]) > math.cos(math.radians(50))  # no corner to speak of
    across = np.array([-ahead[1], ahead[0]]) * thickness / 2
    corner = held[0] + rise
    if not doubled:
        corner = corner - np.array([ahead[1] / (1 + ahead[0]) * thickness / 2, 0.0])
    chain = np.vstack((held[:0:-1] + rise, corner, swinging[1:] + (rise if doubled else across)))
    pieces = rounded(_hems_apart(chain, thickness), radius + thickness / 2)
    at = len(held) - 1  # the corner's place in the chain
    half = max(1, len(pieces[at]) // 2)
    before = np.vstack([*pieces[:at], pieces[at][:half]])
    return before, np.vstack([before[-1:], pieces[at][half:], *pieces[at + 1:]])


def _direction(step: Array) -> Array:
    return np.asarray(step / max(float(np.hypot(*step)), 1e-9))


def _hems_apart(chain: Array, thickness: float) -> Array:
    """A flap doubled right over lies on its neighbour, not in it."""
    chain = chain.copy()
    for end, turn, beyond in ((0, 1, 2), (-1, -2, -3)):
        flap, way = _direction(chain[end] - chain[turn]), _direction(chain[beyond] - chain[turn])
        if len(chain) > 2 and float(flap @ way) > math.cos(math.radians(5)):
            side = math.copysign(1.0, way[0] * flap[1] - way[1] * flap[0] or 1.0)
            chain[end] += side * thickness * np.array([-way[1], way[0]])
    return chain


def rounded(chain: Array, radius: float) -> list[Array]:
    """Each corner of ``chain`` as points of an arc of ``radius`` mm, less where there is no room; ends as they are."""
    corners = [chain[:1]]
    for before, here, after in zip(chain, chain[1:], chain[2:], strict=False):
        to, on = here - before, after - here
        turn = math.atan2(to[0] * on[1] - to[1] * on[0], float(to @ on))
        if abs(turn) < 0.01 or abs(turn) > 3.0:
            corners.append(here[None])
            continue
        tangent = min(radius * math.tan(abs(turn) / 2), 0.45 * math.hypot(*to), 0.45 * math.hypot(*on))
        share = np.linspace(0.0, 1.0, 7)[:, None]
        start, end = here - _direction(to) * tangent, here + _direction(on) * tangent
        bend = math.cos(abs(turn) / 2)  # weight of the corner that makes the curve a true arc
        weight = (1 - share) ** 2 + 2 * bend * share * (1 - share) + share ** 2
        corners.append(((1 - share) ** 2 * start + 2 * bend * share * (1 - share) * here + share ** 2 * end) / weight)
    return [*corners, chain[-1:]]


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
