"""A plan as a person at the shear does it: block by block off the stock, in each the stop to set and what falls.

Measures are the settings of the stop, from the edge in hand, not from the coil's beginning; equal cuts are one step;
every piece that falls has the name on its label, what is left goes to the rack or is waste.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from types import MappingProxyType

from yattle.coil.answer import Cut, NestAnswer, Rect
from yattle.coil.job import Stock, ring_area
from yattle.coil.names import pieces_of
from yattle.measure import UNITS, Unit, say_length

_SAME = 0.05  # mm: settings of the stop that are one
_NOTHING = 0.05  # mm: narrower is no rest


@dataclass(frozen=True)
class Fall:
    """What falls off: a piece of the job by its ``part``, what is left (``rest``), or a strip that is cut on with
    ``steps``. ``along`` and ``across`` the rolling direction, mm; ``kept``: the rest goes to the rack."""

    along: float
    across: float
    part: str = ""
    rest: bool = False
    kept: bool = False
    steps: tuple[ShearStep, ...] = ()


@dataclass(frozen=True)
class ShearStep:
    """``times`` equal cuts: the stop set to ``stop`` mm from the edge in hand, ``axis`` across or along the coil, and
    what falls each time; ``cuts`` are their numbers in the plan. Without a cut it is what is left at last."""

    axis: str
    stop: float
    falls: tuple[Fall, ...]
    cuts: tuple[int, ...] = ()

    @property
    def times(self) -> int:
        """How many of them there are."""
        return len(self.falls)


@dataclass(frozen=True)
class ShearBlock:
    """What is cut off a stock piece in one go: number ``n`` of ``of`` on it, pulled to the stop at ``length``; it
    begins ``at`` mm from the stock's end; ``whole``: the stock piece itself. ``cuts``: all its numbers in the plan."""

    stock: str
    n: int
    of: int
    at: float
    length: float
    width: float
    whole: bool
    fall: Fall
    cuts: tuple[int, ...]

    @property
    def off_the_stock(self) -> tuple[int, ...]:
        """The number of the cut that takes it off the stock piece, before anything is cut of it; none of a whole
        piece."""
        return tuple(sorted(set(self.cuts) - set(_numbers(self.fall))))


def blocks_of_plan(stock: tuple[Stock, ...], answer: NestAnswer) -> tuple[ShearBlock, ...]:
    """The blocks of a sheared plan in the order they are cut; none of a plan by snips."""
    reader, found = _CutTree(stock, answer), list[ShearBlock]()
    for used in answer.used:
        piece = pieces_of(stock)[used.stock]
        coil = piece.kind == "coil"
        found += reader.coil(used.stock, piece, used.length) if coil else reader.whole(used.stock, piece)
    return tuple(found)


class _CutTree:
    """Reads a plan's cuts as a tree of what falls."""

    def __init__(self, stock: tuple[Stock, ...], answer: NestAnswer) -> None:
        self.by_piece: dict[str, list[Cut]] = {}
        for cut in answer.cuts:
            self.by_piece.setdefault(cut.piece, []).append(cut)
        self.part = {place.piece: place.part for place in answer.placements if place.piece}
        self.kept = [(offcut.stock, _box(offcut.outline), abs(ring_area(offcut.outline))) for offcut in answer.offcuts]

    def coil(self, name: str, piece: Stock, used: float) -> Iterator[ShearBlock]:
        """Blocks off a coil, one for each crosscut of the coil itself; of one that is slit first the whole length."""
        width = float(piece.width or 0.0)
        own = [cut for cut in self.by_piece.get(name, ()) if cut.axis == "across" and name in cut.gives]
        if len(own) != len(self.by_piece.get(name, ())) or not own:
            fall = self.fall(name, name, (0.0, 0.0, used, width))
            yield ShearBlock(name, 1, 1, 0.0, used, width, True, fall, tuple(sorted(_numbers(fall))))
            return
        start = 0.0
        for n, cut in enumerate(own, 1):
            fall = self.fall(name, cut.gives[0], (start, 0.0, cut.at, width))
            yield ShearBlock(name, n, len(own), start, cut.at - start, width, False, fall,
                        tuple(sorted({cut.n, *_numbers(fall)})))
            start = cut.at

    def whole(self, name: str, piece: Stock) -> Iterator[ShearBlock]:
        """A sheet or an offcut as one block."""
        x0, y0, x1, y1 = piece.box
        fall = self.fall(name, name, piece.box)
        yield ShearBlock(name, 1, 1, 0.0, x1 - x0, y1 - y0, True, fall, tuple(sorted(_numbers(fall))))

    def fall(self, stock: str, name: str, rect: Rect) -> Fall:
        """What a rectangle of the plan becomes."""
        along, across = rect[2] - rect[0], rect[3] - rect[1]
        if name in self.part:
            return Fall(along, across, self.part[name])
        cut = next(iter(self.by_piece.get(name, ())), None)
        if cut is None:
            return Fall(along, across, rest=True, kept=self._is_kept(stock, rect))
        return Fall(along, across, steps=self._steps(stock, name, rect, cut.axis))

    def _steps(self, stock: str, name: str, rect: Rect, axis: str) -> tuple[ShearStep, ...]:
        """The cuts of a rectangle one way, off the edge in hand, equal ones together, then what is left."""
        found: list[ShearStep] = []
        pieces = list(self._chain(stock, name, rect, axis))
        for n, (fall, number) in enumerate(pieces):
            size = fall.along if axis == "across" else fall.across
            last = found[-1] if found else None
            if number is None or n == len(pieces) - 1:
                if size > _NOTHING:
                    found.append(ShearStep(axis, size, (fall,)))
            elif last is not None and last.cuts and abs(last.stop - size) < _SAME and _alike(last.falls[0], fall):
                found[-1] = ShearStep(axis, last.stop, (*last.falls, fall), (*last.cuts, number))
            else:
                found.append(ShearStep(axis, size, (fall,), (number,)))
        return tuple(found)

    def _chain(self, stock: str, name: str, rect: Rect, axis: str) -> Iterator[tuple[Fall, int | None]]:
        """What falls one after another as a rectangle is cut along ``axis``, with the number of the cut that frees
        each, from the low side; the last is what is left."""
        cut = next((one for one in self.by_piece.get(name, ()) if one.axis == axis), None)
        if cut is None or name in self.part:
            yield self.fall(stock, name, rect), None
            return
        x0, y0, x1, y1 = rect
        low = (x0, y0, cut.at, y1) if axis == "across" else (x0, y0, x1, cut.at)
        high = (cut.at, y0, x1, y1) if axis == "across" else (x0, cut.at, x1, y1)
        below = list(self._chain(stock, cut.gives[0], low, axis))
        yield from below[:-1]
        yield below[-1][0], cut.n
        yield from self._chain(stock, cut.gives[1], high, axis)

    def _is_kept(self, stock: str, rect: Rect) -> bool:
        """Whether a rest is among the offcuts that are kept (of an irregular one: lies in the rectangle)."""
        return any(of == stock and box[0] > rect[0] - 0.5 and box[1] > rect[1] - 0.5 and box[2] < rect[2] + 0.5
                   and box[3] < rect[3] + 0.5 for of, box, _ in self.kept)


def _box(ring: tuple[tuple[float, float], ...]) -> Rect:
    xs, ys = [x for x, _ in ring], [y for _, y in ring]
    return min(xs), min(ys), max(xs), max(ys)


def _alike(a: Fall, b: Fall) -> bool:
    """Whether the same is done with both; names of pieces apart."""
    if (bool(a.part), a.rest, a.kept, len(a.steps)) != (bool(b.part), b.rest, b.kept, len(b.steps)):
        return False
    if max(abs(a.along - b.along), abs(a.across - b.across)) > _SAME:
        return False
    return all(x.axis == y.axis and abs(x.stop - y.stop) < _SAME and x.times == y.times
               and all(_alike(p, q) for p, q in zip(x.falls, y.falls, strict=True))
               for x, y in zip(a.steps, b.steps, strict=True))


def _numbers(fall: Fall) -> Iterator[int]:
    for step in fall.steps:
        yield from step.cuts
        for each in step.falls:
            yield from _numbers(each)


# -- in words ----------------------------------------------------------------------------------------------


def block_says(block: ShearBlock, unit: Unit = UNITS["mm"]) -> str:
    """The head of a block: ``Block 7 of 23 · pull to the stop at 2 723 · cut off``."""
    if block.whole:
        size = f"{say_length(block.length, unit)} × {say_length(block.width, unit)}"
        return f"{block.stock} · {size}"
    return f"Block {block.n} of {block.of} · pull to the stop at {say_length(block.length, unit)} · cut off"


@dataclass(frozen=True)
class StepLine:
    """A line of the cut sheet: how deep it is in what is cut on, what it says, which cuts of the plan it stands for."""

    deep: int
    says: str
    cuts: tuple[int, ...]


def step_lines(block: ShearBlock, unit: Unit = UNITS["mm"]) -> tuple[StepLine, ...]:
    """The lines of a block, equal cuts in one."""
    if not block.fall.steps:
        return (StepLine(0, f"all of it: {_ends_as((block.fall,), unit)}", ()),)
    found: list[StepLine] = []
    for line in _lines(block.fall.steps, 0, unit):
        if line.deep < 0 and found:
            found[-1] = StepLine(found[-1].deep, f"{found[-1].says}; {line.says}", found[-1].cuts)
        else:
            found.append(line)
    return tuple(found)


def _lines(steps: tuple[ShearStep, ...], deep: int, unit: Unit) -> Iterator[StepLine]:
    left = list(steps)
    while left:
        step = left.pop(0)
        if not step.cuts:
            yield from _last(step, deep, unit)
            continue
        alike = [step]
        while left and _is_short(step) and left[0].cuts and _is_short(left[0]) and (
                left[0].axis == step.axis and abs(left[0].stop - step.stop) < _SAME):
            alike.append(left.pop(0))
        times = sum(one.times for one in alike)
        word = "slit" if step.axis == "along" else "cut"
        head = f"{word} {say_length(step.stop, unit)}" + (f" ×{times}" if times > 1 else "")
        if _is_short(step):
            said = "; ".join(_short_says(one, unit).removeprefix(", " if n else "") for n, one in enumerate(alike))
            yield StepLine(deep, f"{head}{said if said.startswith(',') else ': ' + said}",
                           tuple(n for one in alike for n in _cuts_of(one)))
        else:
            of = f"{head}, of {'each' if step.times > 1 else 'it'}"
            yield from _with(StepLine(deep, of, step.cuts), list(_lines(_merged(step), deep + 1, unit)))


def _with(head: StepLine, inner: list[StepLine]) -> Iterator[StepLine]:
    """A line and those of what it leaves; where there is only one of these, both in one."""
    done, *more = inner
    if all(line.deep < 0 for line in more) and done.deep == head.deep + 1 and ", of " not in done.says:
        yield StepLine(head.deep, f"{head.says} {done.says}", (*head.cuts, *done.cuts))
        yield from more
    else:
        yield StepLine(head.deep, f"{head.says}:", head.cuts)
        yield from inner


def _last(step: ShearStep, deep: int, unit: Unit) -> Iterator[StepLine]:
    """What is left at last: a piece, a part that is cut on, or a rest, which is said with the line that leaves it."""
    first = step.falls[0]
    if first.part:
        yield StepLine(deep, f"the rest {say_length(step.stop, unit)}: {_ends_as(step.falls, unit)}", ())
    elif first.rest:
        of = "strip" if deep else "block"
        yield StepLine(-1, f"rest of the {of} {say_length(step.stop, unit)}: {_ends_as(step.falls, unit)}", ())
    else:
        head = StepLine(deep, f"the rest {say_length(step.stop, unit)}, of it", ())
        yield from _with(head, list(_lines(first.steps, deep + 1, unit)))


def _is_short(step: ShearStep) -> bool:
    """Whether what falls is said in a few words: pieces, rests, or strips of which one piece is cut."""
    inner = step.falls[0].steps
    return not inner or (len(inner) <= 2 and inner[0].times == 1 and all(
        not fall.steps for one in inner for fall in one.falls))


def _short_says(step: ShearStep, unit: Unit) -> str:
    """What falls in a step that is short."""
    inner = step.falls[0].steps
    if not inner:
        return _ends_as(step.falls, unit)
    parts = tuple(fall for each in step.falls for fall in each.steps[0].falls)
    word = "slit" if inner[0].axis == "along" else "cut"
    said = f", {'each ' if step.times > 1 else ''}{word} to {say_length(inner[0].stop, unit)}: {_ends_as(parts, unit)}"
    rest = tuple(fall for each in step.falls for one in each.steps[1:] for fall in one.falls)
    return said + (f", rest {say_length(inner[1].stop, unit)}: {_ends_as(rest, unit)}" if rest else "")


def _cuts_of(step: ShearStep) -> tuple[int, ...]:
    return (*step.cuts, *(n for each in step.falls for one in each.steps for n in one.cuts))


def _merged(step: ShearStep) -> tuple[ShearStep, ...]:
    """The steps that are done with each of the strips that fall, as one."""
    return tuple(ShearStep(one.axis, one.stop, tuple(f for each in step.falls for f in each.steps[n].falls),
                           tuple(c for each in step.falls for c in each.steps[n].cuts))
                 for n, one in enumerate(step.falls[0].steps))


def _ends_as(falls: tuple[Fall, ...], unit: Unit) -> str:
    """What becomes of what falls: the pieces' names, the rack, or waste."""
    parts = Counter(fall.part for fall in falls if fall.part)
    if parts:
        return " ".join(part if many == 1 else f"{part} ×{many}" for part, many in parts.items())
    return "rack" if falls[0].kept else "waste"


@lru_cache(maxsize=8)
def _words(stock: tuple[Stock, ...], cuts: tuple[Cut, ...], answer: _ByCuts, unit: Unit) -> Mapping[int, str]:
    found: dict[int, str] = {}
    for block in blocks_of_plan(stock, answer.answer):
        for line in step_lines(block, unit):
            found |= dict.fromkeys(line.cuts, f"block {block.n} of {block.of} · {line.says}")
        for n in block.cuts:
            found.setdefault(n, block_says(block, unit))
    return MappingProxyType(found)


@dataclass(frozen=True)
class _ByCuts:
    """An answer that is found again by its cuts."""

    answer: NestAnswer = field(compare=False)


def cut_words(stock: tuple[Stock, ...], answer: NestAnswer, unit: Unit = UNITS["mm"]) -> Mapping[int, str]:
    """For every cut of a plan, by its number, the line of the cut sheet that tells of it."""
    return _words(stock, answer.cuts, _ByCuts(answer), unit)
