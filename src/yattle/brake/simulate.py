"""The moving section against clamp, bed, leaf and itself.

The section is a chain of straight parts without thickness, as long as the blank is between
fold marks. In one stroke the held part lies still, the swinging part turns up about the
origin together with the leaf. A strike is a part that cuts at least ``DEEP`` mm into a tool
or through another part; contact is none. So the tools are looked at ``DEEP`` mm smaller, and
a stroke is free when the chain crosses none of their outlines: it starts outside them all.

Words: *side* is the chain on one side of the fold, as points from the fold line outward along
+x; the held side is its mirror image into the machine. *Lift* is up.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yattle.brake.depth import Strike, deepest
from yattle.brake.machine import Brake
from yattle.brake.state import Bench, Edge, Limit, Operation

Array = NDArray[np.float64]
DEEP = 0.5
STEP = 5.0  # degrees between looks in the search; an order found is looked at again every degree
FINE = 1.0


@dataclass(frozen=True)
class Lines:
    """Edges (m, 2, 2) with the lines they lie on: a point p is beside an edge by p · normal − offset, in mm."""

    edges: Array
    normals: Array  # (2, m), of length 1
    offsets: Array  # (m,)

    def sides(self, chains: Array) -> Array:
        """On which side of each edge's line every point of the chains (a, n, 2) lies: (a, n, m)."""
        found: Array = chains @ self.normals - self.offsets
        return found


def lines_of(edges: Array) -> Lines:
    """Edges with their lines worked out once. ``edges``: (edges, 2, 2), where each begins and ends, mm."""
    along = edges[:, 1] - edges[:, 0]
    normals = np.stack((-along[:, 1], along[:, 0])) / np.hypot(along[:, 0], along[:, 1])
    return Lines(edges, normals, np.asarray((edges[:, 0] * normals.T).sum(axis=1)))


@dataclass(frozen=True)
class Tools:
    """Outlines made ``DEEP`` smaller: clamp and bed, the leaf, and all three; and the cones that hold them, seen
    from the fold line, in degrees from +x."""

    fixed: Lines
    leaf: Lines
    all: Lines
    fixed_cone: tuple[float, float]
    leaf_cone: tuple[float, float]


@lru_cache(maxsize=64)
def tools_of(brake: Brake) -> Tools:
    clamp, bed, leaf = (_smaller_edges(getattr(brake, name)) for name in ("clamp", "bed", "leaf"))
    fixed = np.concatenate((clamp, bed))
    return Tools(lines_of(fixed), lines_of(leaf), lines_of(np.concatenate((fixed, leaf))), _cone(fixed[:, 0], 180.0),
                 _cone(leaf[:, 0], -90.0))


def _smaller_edges(ring: tuple[tuple[float, float], ...]) -> Array:
    from shapely import Polygon, get_coordinates, get_parts

    shrunk = Polygon(ring).buffer(-DEEP, join_style="mitre", mitre_limit=20)
    edges = []
    for part in get_parts(shrunk):
        if not part.is_empty:
            corners = get_coordinates(part.exterior)
            edges.append(np.stack((corners[:-1], corners[1:]), axis=1))
    return np.concatenate(edges) if edges else np.zeros((0, 2, 2))


class Simulator:
    """Answers whether a stroke is free, for one section on one brake; remembers what it has looked at."""

    def __init__(self, bench: Bench, step: float = STEP) -> None:
        self.bench, self.step, self.tools = bench, step, tools_of(bench.brake)
        self.spans = np.diff((0.0, *bench.marks, bench.girth.girth))
        self._sides: dict[tuple[int, int, str, int], Array] = {}
        self._cones: dict[tuple[int, int, str, int], tuple[float, float]] = {}
        self._swings: dict[tuple[str, str], Array] = {}
        self._free: dict[tuple[str, int, str, int], bool] = {}

    # -- the chain --------------------------------------------------------------------------------

    def side(self, done: int, index: int, toward: Edge, lift: int) -> Array:
        """The chain beside fold ``index`` toward an edge, from the origin along +x; ``lift`` is + with paint up.
        Places in mm."""
        key = (done & self.bench.beside[(index, toward)], index, toward, lift)
        if key not in self._sides:
            self._sides[key] = self._walk(self.bench.turns(done), index, toward, lift)
            self._cones[key] = _cone(self._sides[key][1:], 0.0)
        return self._sides[key]

    def _cone_of(self, done: int, action: Operation, toward: Edge, held: bool) -> tuple[float, float]:
        """The cone from the fold line that holds a side at the start of the swing, degrees from +x."""
        lift = 1 if action.face == "paint" else -1
        self.side(done, action.index, toward, lift)
        low, high = self._cones[(done & self.bench.beside[(action.index, toward)], action.index, toward, lift)]
        return (180.0 - high, 180.0 - low) if held else (low, high)

    def _walk(self, turns: tuple[float, ...], index: int, toward: Edge, lift: int) -> Array:
        order = range(index, -1, -1) if toward == "A" else range(index + 1, len(self.spans))
        points, x, y, heading, run = [(0.0, 0.0)], 0.0, 0.0, 0.0, 0.0
        for part in order:
            run += float(self.spans[part])
            beyond = part - 1 if toward == "A" else part
            turn = turns[beyond] if 0 <= beyond < len(turns) else 0.0
            last = part in (0, len(self.spans) - 1)
            if turn or last:  # parts not yet folded against each other are one straight part
                angle = math.radians(heading)
                x, y, run = x + run * math.cos(angle), y + run * math.sin(angle), 0.0
                points.append((x, y))
                heading += lift * turn
        return np.array(points)

    # -- one stroke -------------------------------------------------------------------------------

    def free(self, done: int, bit: int, out: Edge) -> bool:
        """Whether nothing strikes in this stroke."""
        action = self.bench.actions[bit]
        if action.kind == "flatten":
            return self._remember("flatten", bit, out, done, lambda: self._flatten_free(done, action, out))
        other: Edge = "B" if out == "A" else "A"
        swinging, held = self.bench.beside[(action.index, out)], self.bench.beside[(action.index, other)]
        return (self._remember("swing", bit, out, done & swinging, lambda: self._swing_free(done, action, out))
                and self._remember("held", bit, out, done & held, lambda: self._held_free(done, action, out))
                and self._remember("self", bit, out, done & ~(1 << bit), lambda: self._self_free(done, action, out)))

    def _remember(self, what: str, bit: int, out: Edge, mask: int, ask: Callable[[], bool]) -> bool:
        key = (what, bit, out, mask)
        if key not in self._free:
            self._free[key] = ask()
        return self._free[key]

    def _parts(self, done: int, action: Operation, out: Edge) -> tuple[Array, Array]:
        """Swinging side along +x and held side along −x at the start of the swing."""
        lift = 1 if action.face == "paint" else -1
        other: Edge = "B" if out == "A" else "A"
        swinging = self.side(done, action.index, out, lift)
        held = _mirrored(self.side(done, action.index, other, lift))
        return swinging, held

    def _angles(self, action: Operation) -> Array:
        key = (action.fold, action.kind)
        if key not in self._swings:
            self._swings[key] = self._angles_of(action)
        return self._swings[key]

    def _angles_of(self, action: Operation) -> Array:
        turn = abs(action.turn)
        start = 0.0
        for earlier in self.bench.actions:
            if action.kind == "flatten" and earlier.fold == action.fold and earlier.kind == "fold":
                start = abs(earlier.turn)
        return np.radians(np.linspace(start, turn, max(2, math.ceil((turn - start) / self.step) + 1)))

    def _swing_free(self, done: int, action: Operation, out: Edge) -> bool:
        swing = self._cone_of(done, action, out, held=False)
        swinging, _ = self._parts(done, action, out)
        if not _apart(swing, self.tools.leaf_cone, 0.0) and _crosses(swinging[None], self.tools.leaf).any():
            return False
        if _apart(swing, self.tools.fixed_cone, abs(action.turn)):
            return True
        return not _crosses(_turned(swinging, self._angles(action)), self.tools.fixed).any()

    def _held_free(self, done: int, action: Operation, out: Edge) -> bool:
        _, held = self._parts(done, action, out)
        if _crosses(held[None], self.tools.fixed).any():
            return False
        cone = self._cone_of(done, action, "B" if out == "A" else "A", held=True)
        if _apart(self.tools.leaf_cone, cone, abs(action.turn)):
            return True
        return not _crosses(_turned(held, -self._angles(action)), self.tools.leaf).any()

    def _self_free(self, done: int, action: Operation, out: Edge) -> bool:
        other: Edge = "B" if out == "A" else "A"
        if _apart(self._cone_of(done, action, out, held=False), self._cone_of(done, action, other, held=True),
                  abs(action.turn)):
            return True
        swinging, held = self._parts(done, action, out)
        return not _cuts_through(_turned(swinging, self._angles(action)), held).any()

    def _flatten_chain(self, done: int, action: Operation, out: Edge) -> Array:
        """All but the hem, as it lies on the machine while the hem is flattened."""
        own: Edge = "A" if action.fold == "hA" else "B"
        lift = 1 if action.face == "paint" else -1
        rest = self.side(done, action.index, "B" if own == "A" else "A", lift)
        if out == own:
            return _mirrored(rest)
        hem = float(self.spans[0] if own == "A" else self.spans[-1])
        moved: Array = rest - np.array([hem, 0.0])
        return moved

    def _flatten_free(self, done: int, action: Operation, out: Edge) -> bool:
        chain = self._flatten_chain(done, action, out)[None]
        if _crosses(chain, self.tools.all).any():
            return False
        lift = 1 if action.face == "paint" else -1
        own: Edge = "A" if action.fold == "hA" else "B"
        flap = self.side(done, action.index, own, lift)
        rest = self.side(done, action.index, "B" if own == "A" else "A", lift)
        return len(rest) < 3 or not _cuts_through(_turned(flap, self._angles(action)), _mirrored(rest)).any()

    # -- saying what strikes ----------------------------------------------------------------------

    def strike(self, done: int, bit: int, out: Edge) -> Strike | None:
        """The deepest cut of a stroke, or ``None`` when it is free. Slower than :meth:`free`; for reasons.

        A section that runs into itself strikes the tool ``self``.
        """
        if self.free(done, bit, out):
            return None
        action = self.bench.actions[bit]
        if action.kind == "flatten":
            rest: Edge = "B" if action.fold == "hA" else "A"
            chain = self._flatten_chain(done, action, out)
            return deepest(self.bench, action, chain[None], np.zeros((1, 2)), np.zeros(1), rest)
        swinging, held = self._parts(done, action, out)
        angles = self._angles(action)
        places = _turned(swinging, angles)
        tool = deepest(self.bench, action, places, held, angles, out)
        if tool is not None:
            return tool
        met = np.flatnonzero(_cuts_through(places, held))
        return Strike(action.index, "self", float(np.degrees(angles[met[0]])) if len(met) else 0.0, DEEP)

    def clearance(self, done: int, bit: int, out: Edge) -> Limit | None:
        """As a reason the search can give: what strikes what, at what angle, how deep."""
        if self.free(done, bit, out):
            return None
        fold, strike = self.bench.actions[bit].fold, self.strike(done, bit, out)
        if strike is None or strike.tool == "self":
            angle = f" at {strike.angle:.0f}°" if strike else ""
            return Limit(fold, "self", f"{fold}: the section runs into itself{angle}")
        name = self.bench.girth.profile.strip_names[strike.part]
        return Limit(fold, strike.tool, f"{fold}: {name} strikes the {strike.tool} at {strike.angle:.0f}°, "
                     f"{strike.depth:.0f} mm deep")


def _cone(points: Array, middle: float) -> tuple[float, float]:
    """Least and greatest direction from the origin, degrees within 180 of ``middle``; everything if too wide."""
    spread = (np.degrees(np.arctan2(points[:, 1], points[:, 0])) - middle + 180) % 360 - 180
    low, high = float(spread.min()), float(spread.max())
    if high - low >= 179 or np.hypot(points[:, 0], points[:, 1]).min() < DEEP:
        return (middle - 360, middle + 360)
    return (middle + low, middle + high)


def _apart(turning: tuple[float, float], still: tuple[float, float], turn: float) -> bool:
    """Whether a cone turned up by 0 … ``turn`` degrees never meets a cone that stays (1 degree to spare)."""
    low, high = turning[0] - 1, turning[1] + turn + 1
    return high < still[0] and low > still[1] - 360


def _mirrored(side: Array) -> Array:
    """A side as it runs into the machine."""
    held: Array = side * np.array([-1.0, 1.0])
    return held


def _turned(points: Array, angles: Array) -> Array:
    """Points (n, 2) turned anticlockwise by each angle in radians: (angles, n, 2)."""
    cos, sin = np.cos(angles)[:, None], np.sin(angles)[:, None]
    x, y = points[:, 0], points[:, 1]
    return np.stack((x * cos - y * sin, x * sin + y * cos), axis=-1)


def _crosses(chains: Array, lines: Lines) -> NDArray[np.bool_]:
    """Which of the chains (a, n, 2) cross any of the edges."""
    sides = lines.sides(chains)
    return _crossing(chains, lines, sides[:, :-1] * sides[:, 1:] < 0, 0.0)


def _crossing(chains: Array, lines: Lines, apart: NDArray[np.bool_], least: float) -> NDArray[np.bool_]:
    """Of the parts whose ends lie apart beside a line, chains with one that passes between that edge's own ends, by
    more than ``least``. There are few, so only these are looked at this way round."""
    found = np.zeros(len(chains), dtype=bool)
    chain, part, edge = apart.nonzero()
    if not len(chain):
        return found
    a, along = chains[chain, part], chains[chain, part + 1] - chains[chain, part]
    to_ends = lines.edges[edge] - a[:, None]
    ends = along[:, :1] * to_ends[:, :, 1] - along[:, 1:] * to_ends[:, :, 0]
    near = least * np.hypot(along[:, 0], along[:, 1]) if least else 0.0
    found[chain[(ends[:, 0] * ends[:, 1] < 0) & (abs(ends).min(axis=1) >= near)]] = True
    return found


def _cuts_through(chains: Array, still: Array) -> NDArray[np.bool_]:
    """Which of the chains (a, n, 2) pass through the chain ``still`` (k, 2) by ``DEEP`` or more on all sides."""
    lines = lines_of(np.stack((still[:-1], still[1:]), axis=1))
    sides = lines.sides(chains)
    a_sides, b_sides = sides[:, :-1], sides[:, 1:]
    apart = (a_sides * b_sides < 0) & (np.minimum(abs(a_sides), abs(b_sides)) >= DEEP)
    return _crossing(chains, lines, apart, DEEP)
