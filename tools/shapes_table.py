"""Writes the table of true shapes: made-up sets with a seed each, this program and the packing engine by itself for the
same seconds. ``python tools/shapes_table.py docs/true-shapes.md``."""

from __future__ import annotations

import math
import random
import sys
from pathlib import Path

from yattle.bounds import Ring
from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest
from yattle.coil.job import ring_area

METAL = "prepainted steel 0.60"
SETS = {"20 shapes": (1, 20, 0), "40 shapes": (2, 40, 0), "60 shapes": (3, 60, 0), "100 shapes": (4, 100, 0),
        "12 frames and 40 small shapes": (5, 40, 12)}


BEST = {"20 shapes": 0.773, "40 shapes": 1.651, "60 shapes": 2.463, "100 shapes": 4.227,
        "12 frames and 40 small shapes": 6.436}
"""The shortest that any run of any kind came to, m."""


def square(low: float, high: float) -> Ring:
    return (low, low), (high, low), (high, high), (low, high)


def shapes_job(seed: int, count: int, frames: int) -> NestJob:
    """Convex shapes as they come, some of them frames with a hole."""
    draw, parts = random.Random(seed), list[Part]()
    while len(parts) < count:
        turns = sorted(draw.uniform(0, 2 * math.pi) for _ in range(draw.choice([3, 4, 5, 6, 7])))
        wide, tall = draw.uniform(60, 300), draw.uniform(60, 200)
        ring = tuple((round(wide * math.cos(t), 2), round(tall * math.sin(t), 2)) for t in turns)
        if abs(ring_area(ring)) > 2000:
            parts.append(Part(id=f"S{len(parts)}", outline=ring, metal=METAL))
    for n in range(frames):
        side = draw.uniform(400, 700)
        parts.append(Part(id=f"F{n}", metal=METAL, outline=square(0.0, side), holes=(square(50.0, side - 50.0),)))
    coil = Stock(id="coil 1", kind="coil", width=1000.0, metal=METAL, cost_per_m=10.0)
    return NestJob(stock=(coil,), parts=tuple(parts), rules=NestRules(cutting="snips"))


def engine(job: NestJob, seconds: int) -> float:
    """The length that the engine alone comes to, m."""
    import spyrrow

    items = [spyrrow.Item(part.id, list(part.outline), 1, [0.0, 180.0]) for part in job.parts]
    config = spyrrow.StripPackingConfig(early_termination=True, min_items_separation=0.004, seed=job.rules.seed,
                                        num_workers=2, total_computation_time=seconds)
    return float(spyrrow.StripPackingInstance("strip", 1000.0, items).solve(config).width) / 1000


def main(path: Path) -> None:
    rows = []
    for name, (seed, count, frames) in SETS.items():
        job, cells = shapes_job(seed, count, frames), []
        for seconds in (4, 20):
            answer = nest(job.but(rules=job.rules.but(seconds=float(seconds))))
            wrong = faults(job, answer.answer())
            if wrong:
                raise SystemExit(f"{name}: {wrong[0]}")
            alone = engine(job, seconds)
            ours = answer.used[0].length / 1000
            cells.append(f"{alone:.3f} | {ours:.3f} | {ours / alone - 1:+.1%}")
        rows.append(f"| {name} | {' | '.join(cells)} | {BEST[name]:.3f} | {max(ours / BEST[name] - 1, 0):.1%} |")
    path.write_text("""# True shapes

Metres of a coil 1,000 wide for made-up sets of shapes cut by snips (`make shapes-table`, four minutes): the packing
engine by itself, and the whole program with it, for the same seconds; and how far that is at 20 s over the shortest
that any run came to. The engine finds its way by chance: another seed, or a busy machine, and one set comes out one to
four per cent shorter or longer.

| set | engine, 4 s | here | | engine, 20 s | here | | best known | over |
|---|---|---|---|---|---|---|---|---|
""" + "\n".join(rows) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
