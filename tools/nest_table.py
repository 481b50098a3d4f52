"""Writes the table of cutting plans: made-up jobs with a seed each, a shelf plan as made by hand, the search at 2 s and
20 s, and how far that is at most from the least. ``python tools/nest_table.py docs/nesting.md``."""

from __future__ import annotations

import random
import sys
import time
from pathlib import Path

from yattle.bounds import Ring
from yattle.coil import NestJob, NestRules, Part, Stock, faults, first_answer, nest

METAL = "prepainted steel 0.60"


def rect(long: float, wide: float) -> Ring:
    return (0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)


def coils(*widths: float) -> tuple[Stock, ...]:
    return tuple(Stock(id=f"coil {n}", kind="coil", width=width, metal=METAL, cost_per_m=width * 0.0117)
                 for n, width in enumerate(widths, 1))


def trim_job(pieces: int, seed: int, *widths: float) -> NestJob:
    """Trim as it comes: some girths, many long pieces of like length, some short ones."""
    draw, parts, left = random.Random(seed), list[Part](), pieces
    girths = [round(draw.uniform(80, 450), 1) for _ in range(max(3, pieces // 12))]
    while left:
        many = min(draw.choice([1, 1, 2, 3, 5, 8]), left)
        long = draw.choice([3000.0, 2440.0, round(draw.uniform(300, 3000), 1), round(draw.uniform(300, 3000), 1)])
        parts.append(Part(id=f"P{len(parts) + 1}", outline=rect(long, draw.choice(girths)), qty=many, metal=METAL))
        left -= many
    return NestJob(stock=coils(*widths), parts=tuple(parts), rules=NestRules(max_crosscut=3200.0))


def zero_waste_job(pieces: int, seed: int) -> NestJob:
    """A length of coil cut up without waste, edge to edge; the least is known: that length."""
    draw = random.Random(seed)
    found = [(3000.0, 1220.0) for _ in range(max(1, pieces // 10))]
    while len(found) < pieces:
        found.sort(key=lambda size: size[0] * size[1])
        long, wide = found.pop()
        if wide / 1220 > draw.random() * 0.9 + 0.1 or long < 400:
            at = round(draw.uniform(0.25, 0.75) * wide)
            found += [(long, float(at)), (long, wide - at)]
        else:
            at = round(draw.uniform(0.25, 0.75) * long)
            found += [(float(at), wide), (long - at, wide)]
    parts = tuple(Part(id=f"Z{n}", outline=rect(*size), metal=METAL) for n, size in enumerate(found, 1))
    return NestJob(stock=coils(1220.0), parts=parts, rules=NestRules(max_crosscut=3000.0))


def by_hand(job: NestJob) -> float:
    """What a shelf plan on paper costs: the longest first, side by side until the first coil's width is full."""
    stock = job.stock[0]
    sizes = sorted(((part.outline[1][0], part.outline[2][1]) for part in job.parts for _ in range(part.qty)),
                   reverse=True)
    length, left = 0.0, 0.0
    for long, wide in sizes:
        if wide > left:
            length, left = length + long, stock.width or 0.0
        left -= wide
    return length / 1000 * (stock.cost_per_m or 0.0)


JOBS = {
    "trim, 12 pieces": trim_job(12, 1, 1220.0), "trim, 30 pieces": trim_job(30, 2, 1220.0),
    "trim, 30 pieces, three widths": trim_job(30, 2, 1220.0, 1000.0, 610.0),
    "trim, 80 pieces": trim_job(80, 3, 1220.0),
    "trim, 80 pieces, three widths": trim_job(80, 3, 1220.0, 1000.0, 610.0),
    "trim, 200 pieces": trim_job(200, 4, 1220.0),
    "trim, 300 pieces, three widths": trim_job(300, 5, 1220.0, 1000.0, 610.0),
    "zero waste, 30 pieces": zero_waste_job(30, 6), "zero waste, 50 pieces": zero_waste_job(50, 7),
    "zero waste, 100 pieces": zero_waste_job(100, 8)}


BEST = {"trim, 12 pieces": 162.31, "trim, 30 pieces": 344.04, "trim, 30 pieces, three widths": 276.19,
        "trim, 80 pieces": 556.14, "trim, 80 pieces, three widths": 544.27, "trim, 200 pieces": 1169.78,
        "trim, 300 pieces, three widths": 2110.31}
"""The best plans known: the first three are proven to be the least, the others come from runs of ten minutes with one
seed after another (the one of 200 pieces from an earlier run of five)."""

HEAD = """# Cutting plans

Costs of made-up jobs (metres of coil at a price by the width; `make nest-table` makes this page anew, which takes three
minutes). *By hand* is a shelf plan on paper: the longest first, side by side until the coil is full. *First* is the
plan that is there at once. *Best known* is the least there is of the zero-waste jobs and of the first three, else the
best of ten minutes. *Over* is how far the plan found is above it, *proven* how far it can be from the least at most by
the bound that is shown with it.

| job | by hand | first | in | best known | 2 s | over | 20 s | over | proven |
|---|---|---|---|---|---|---|---|---|---|
"""


def row(name: str, job: NestJob) -> str:
    hand, cells, proven = by_hand(job), [], ""
    began = time.perf_counter()
    first, took = first_answer(job), time.perf_counter() - began
    for seconds in (2.0, 20.0):
        answer = nest(job.but(rules=job.rules.but(seconds=seconds)))
        wrong = faults(job, answer.answer())
        if wrong:
            raise SystemExit(f"{name}: {wrong[0]}")
        best = BEST.get(name, answer.bound.value)
        cells.append(f"{answer.objective:.1f} | {max(answer.objective / best - 1, 0):.1%}")
        proven = f"{answer.over_bound:.1%}"
    start = f"{name} | {hand:.1f} | {first.objective:.1f} | {took * 1000:.0f} ms | {best:.1f}"
    return f"| {start} | {' | '.join(cells)} | {proven} |"


def main(path: Path) -> None:
    rows = [row(name, job) for name, job in JOBS.items()]
    path.write_text(HEAD + "\n".join(rows) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
