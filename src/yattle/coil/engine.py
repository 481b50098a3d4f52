"""The packing engine (:mod:`~yattle.coil.packer`) on a strip: one search or two side by side, ended at a moment or when
asked with what they have by then, their parts pushed closer together."""

from __future__ import annotations

import contextlib
import json
import random
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from yattle.bounds import Ring
from yattle.coil import packer
from yattle.coil.compaction import closer, load
from yattle.coil.job import Part
from yattle.coil.outlines import ROUGH, Laid, coarse, laid_in_turn
from yattle.coil.sizes import box_of, orientations, turned

_SAFE = 0.004  # mm more than the gap asked for, since the engine reckons in single precision
_SMALL = 12  # pieces: with so few the engine may end before its time is up
_LOOK = 0.05  # seconds between two looks at what it has
_TELL = 1.0  # seconds between two plans that are told of
_CLOSE, _EACH, _MOST = 0.15, 0.003, 0.25  # seconds for pushing closer, more for each part, of the time at most
_LATE = 0.4  # seconds that the engine goes on after its time, as a rule
_SOON = 10.0  # seconds: up to there two searches find more than one on both processors
_FIRST = 5  # seconds for these two where there is more time
_DUST = 1e-6
_FEW = 30  # parts
_TIGHT = 1.0  # mm that the widest part leaves of the strip's width


@dataclass(frozen=True)
class PackingStrip:
    """What is asked of the engine.

    ``parts``: on a strip ``high`` mm across, ``gap`` mm apart
    ``until``: a moment, in seconds of :func:`time.perf_counter`; ``asked``: whether to stop before
    ``told``: is shown better plans as they come
    """

    parts: Sequence[Part]
    high: float
    gap: float
    seed: int
    until: float
    asked: Callable[[], bool] = lambda: False
    told: Callable[[list[Laid]], None] | None = None


class DoesNotFit(Exception):
    """The engine cannot place a part that only just fits."""


def packed(strip: PackingStrip) -> list[Laid]:
    """The parts on the strip from x = 0, as near to its start as was found."""
    now = time.perf_counter()
    span = strip.until - now
    end = strip.until - min(_CLOSE + _EACH * len(strip.parts), _MOST * span)
    seconds = round(end - now - _LATE)
    first = seconds if span <= _SOON else min(seconds, _FIRST)  # then one on both processors
    searches = [_PackingSearch(strip, n, first, 1) for n in range(2)]
    try:
        found = _searched(strip, searches, end)
    finally:
        for search in searches:
            search.stop()
    until = max(strip.until, time.perf_counter() + _CLOSE)
    return min((closer(one, strip.high, strip.gap, until) for one in found), key=far, default=[])


def _searched(strip: PackingStrip, searches: list[_PackingSearch], end: float) -> list[list[Laid]]:
    """What the searches and a few tries by themselves have come to at the moment ``end``, or when somebody asks."""
    for search in searches:
        search.start()
    load()
    told, tries, shown = time.perf_counter(), _Tries(strip), list[list[Laid]]()
    if len(strip.parts) <= _SMALL:
        tries.one(strip.until)
    while time.perf_counter() < end and not strip.asked():
        if not any(search.is_alive() for search in searches):  # few parts: it ended early, another may find more
            left = round(end - time.perf_counter() - _LATE)
            if left < 1 or any(search.code for search in searches):
                break
            searches.append(_PackingSearch(strip, len(searches), left, 2))
            searches[-1].start()
        tries.one(end) if len(strip.parts) <= _SMALL else time.sleep(_LOOK)
        if strip.told is not None and time.perf_counter() > told + _TELL:
            shown += _shown(strip, _laid(strip, searches))
            told = time.perf_counter()
    found = _laid(strip, searches) + tries.best + sorted(shown, key=far)[:1]  # a longer one may close up to less
    late = time.perf_counter() + _LATE
    while not found and time.perf_counter() < late and any(s.is_alive() for s in searches) and not strip.asked():
        time.sleep(_LOOK)  # the engine is late with its first plan; there is one by rectangles
        found = _laid(strip, searches)
    if not found:
        _complain(searches)
    return found


def _shown(strip: PackingStrip, found: list[list[Laid]]) -> list[list[Laid]]:
    """The shortest of what there is, pushed closer and told."""
    short = min(found, key=far, default=[])
    if not short or strip.told is None:
        return []
    short = closer(short, strip.high, strip.gap, time.perf_counter() + _TELL)
    strip.told(short)
    return [short]


class _Tries:
    """Few parts laid one after another, each lowest and leftmost, in ever other orders: where they go together corner
    to corner that finds it at once."""

    def __init__(self, strip: PackingStrip) -> None:
        from shapely import box

        self.strip, self.draw = strip, random.Random(strip.seed)
        self.order = sorted(strip.parts, key=lambda part: -part.area)
        length = sum(orientations(part)[0].along + strip.gap for part in strip.parts)
        self.room = box(-_DUST, -_DUST, length + _DUST, strip.high + _DUST)
        self.best: list[list[Laid]] = []

    def one(self, until: float) -> None:
        """Try the next order."""
        laid = laid_in_turn(self.room, self.order, self.strip.gap, until)
        if len(laid) == len(self.order) and (not self.best or far(laid) < far(self.best[0])):
            self.best = [laid]
        self.order = self.draw.sample(self.order, len(self.order))


def far(laid: list[Laid]) -> float:
    """How far along the strip the last part reaches, mm."""
    return max((at[0] + box_of(turned(part.outline, turn))[2] for part, turn, at in laid), default=0.0)


class _PackingSearch(threading.Thread):
    """One search of the engine, in a process of its own. What it found so far can be had at any time."""

    def __init__(self, strip: PackingStrip, number: int, seconds: int, processors: int) -> None:
        super().__init__(daemon=True)
        self.best: list[tuple[str, float, float, float]] = []  # part, turn, where its own origin lies
        self.code: int | None = None
        away = strip.gap + _SAFE
        self._question = {
            "high": strip.high + (2 * away + _SAFE if _is_tight(strip) else 0.0), "apart": away,
            "seed": strip.seed + number, "processors": processors, "seconds": max(1, seconds),
            "items": list(_items(strip))}
        self._process = subprocess.Popen([sys.executable, "-P", packer.__file__], text=True, stdin=subprocess.PIPE,
                                         stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)

    def run(self) -> None:
        to, out = self._process.stdin, self._process.stdout
        if to is not None and out is not None:
            with contextlib.suppress(OSError, ValueError), to:  # it has been stopped already
                json.dump(self._question, to)
            with out:
                for line in out:
                    self.best = json.loads(line) if line.endswith("\n") else self.best
        self.code = self._process.wait()

    def stop(self) -> None:
        self._process.kill()
        self.join(_LOOK * 20)


def _is_tight(strip: PackingStrip) -> bool:
    """Whether the engine gets a wider strip, since it keeps as far from the edges as parts are apart. Where a few
    hundredths do not matter it is luck which of the two leads to more; these did on the sets of the benchmark."""
    widest = max(lie.across for part in strip.parts for lie in orientations(part))
    return strip.gap > 0 or len(strip.parts) > _FEW or widest > strip.high - 2 * _TIGHT


def _items(strip: PackingStrip) -> Iterator[tuple[str, Ring, int, list[float] | None]]:
    """Each part with its outline, how many of it, and the turns it may take."""
    of = {part.id: part for part in strip.parts}
    for name, many in Counter(part.id for part in strip.parts).items():
        turns = of[name].turns
        yield name, _shape(of[name], strip.high), many, None if turns == "any" else [float(turn) for turn in turns]


def _shape(part: Part, high: float) -> Ring:
    tight = max(lie.across for lie in orientations(part)) + 2 * ROUGH > high  # every hundredth counts
    return part.outline if tight else coarse(part.outline)


def _laid(strip: PackingStrip, searches: list[_PackingSearch]) -> list[list[Laid]]:
    """What each search has by now."""
    of, away = {part.id: part for part in strip.parts}, strip.gap + _SAFE if _is_tight(strip) else 0.0
    return [[(of[name], turn % 360, (x - away, y - away)) for name, turn, x, y in search.best]
            for search in searches if search.best]


def _complain(searches: list[_PackingSearch]) -> None:
    """Tell that a part only just fits, or that the engine is not there at all."""
    if any(search.code == packer.DOES_NOT_FIT for search in searches):
        raise DoesNotFit
    if any(search.code == 1 for search in searches):
        raise RuntimeError("the packing engine did not answer")
