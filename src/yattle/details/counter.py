"""Counterflashings round an opening: turned into a kerf all round, or stepped up the courses of the masonry."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from yattle.details.feet import UP, Array, Stretch, cross
from yattle.errors import InputError
from yattle.pattern.body import Body


@dataclass(frozen=True)
class CounterSizes:
    """``kerf`` turned into the wall, ``face`` hanging plumb over the upstand, ``kick`` off it, ``tab`` round corners,
    ``course`` of the masonry; mm."""

    kerf: float
    face: float
    kick: float
    tab: float
    lap: float
    course: float


def straight(
    name: str,
    a: Array,
    b: Array,
    out: Array,
    tabs: tuple[Array | None, Array | None],
    sizes: CounterSizes,
) -> Body:
    """A counterflashing whose kerf runs from a to b; ``tabs`` go round the ends, each along the neighbour's kerf. All
    in mm."""
    body = Body(name)
    drop = UP * sizes.face
    face = body.add("face", [a, b, b - drop, a - drop], out)
    kerf = body.add("turned in", [a, b, b - out * sizes.kerf, a - out * sizes.kerf], UP)
    body.fold(face, kerf, a, b)
    if sizes.kick:
        along = (b - a) / np.linalg.norm(b - a)
        down = cross(out, along)
        down = down if down[2] < 0 else -down
        lean = math.radians(30)
        way = (down * math.cos(lean) + out * math.sin(lean)) * sizes.kick
        body.flap(
            face,
            a - drop,
            b - drop,
            way,
            cross(along, way) * (1 if cross(along, way) @ out > 0 else -1),
            "kick",
            "brake",
            (0.0, 0.0),
        )
    for end, on in ((a, tabs[0]), (b, tabs[1])):
        if on is not None:
            level = np.array([on[0], on[1], 0.0]) / math.hypot(on[0], on[1])
            slope = on[2] / math.hypot(on[0], on[1])
            reach = sizes.tab * (level + UP * slope)
            facing = (b - a) if end is b else (a - b)
            tab = body.add("tab", [end, end + reach, end + reach - drop + UP * 3, end - drop], facing)
            body.fold(face, tab, end, end - drop, "tongs")
    return body


def stepped(here: Stretch, above: float, sizes: CounterSizes, hand: str) -> Iterator[Body]:
    """Steps up a sloping side: each turned into a level joint, its lower edge along the roof ``above`` mm over it.
    Raises :class:`InputError` on a side that is nearly level."""
    low, high = sorted((here.a, here.b), key=lambda p: float(p[2]))
    way = high - low
    run, level = float(math.hypot(way[0], way[1])), np.array([way[0], way[1], 0.0])
    level, slope = level / np.linalg.norm(level), float(way[2]) / float(math.hypot(way[0], way[1]))
    if slope < 0.05:
        raise InputError("counter", "steps on a side that is nearly level", "a straight counterflashing there")
    tread = sizes.course / slope
    steps = math.ceil(run / tread - 1e-6)
    for first, count in ((0, steps - 1), (steps - 1, 1)):
        if count:
            begin, end = first * tread, min(run, (first + 1) * tread)
            yield _step(
                low,
                level,
                slope,
                (begin, end),
                above,
                sizes,
                here.out,
                f"step{'' if count > 1 or steps == 1 else ', last'}, {hand}",
                count,
            )


def _step(
    low: Array,
    level: Array,
    slope: float,
    span: tuple[float, float],
    above: float,
    sizes: CounterSizes,
    out: Array,
    name: str,
    count: int,
) -> Body:
    """One step: from ``span[0]`` less the lap to ``span[1]`` mm (level) up the foot."""
    begin, end = span[0] - sizes.lap, span[1]
    top = end * slope + above + sizes.face

    def at(run: float, height: float) -> Array:
        return np.asarray(low + level * run + UP * height)

    body = Body(name, count)
    a, b = at(begin, top), at(end, top)
    face = body.add("face", [a, b, at(end, end * slope + above), at(begin, begin * slope + above)], out)
    kerf = body.add("turned in", [a, b, b - out * sizes.kerf, a - out * sizes.kerf], UP)
    body.fold(face, kerf, a, b)
    return body
