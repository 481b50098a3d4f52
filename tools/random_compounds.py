"""Random roofs of several blocks as they are built: hipped houses with wings, in the shape of a T, a U or a cross,
annexes and lean-tos in the corners between, dormers at both sides; nothing made wrong on purpose."""

from __future__ import annotations

import random
from collections.abc import Callable

from random_roofs import Block, a_house, block, gable_dormer, hipped, rise, roof_job, top_of, turned

from yattle.job import Job

_PITCHES = (4, 8, 12, 18, 22, 28, 35, 42, 50, 58)


def of_compounds(seed: int) -> Job:
    """One of these, its bearing any; any system."""
    rng = random.Random(seed)
    made: list[Block] | None = None
    while made is None:
        made = rng.choice(_COMPOUNDS)(rng)
    bearing = rng.choice([0.0, 90.0, 217.0])
    return roof_job([turned(one, bearing) for one in made], rng)


def _hipped_tee(rng: random.Random) -> list[Block]:
    """A hipped house with a hipped wing in front, as wide as it or narrower, through to its back wall."""
    main, out = hipped(a_house(rng)), rng.uniform(2500.0, 6000.0)
    span = main["span"] * rng.choice([1.0, rng.uniform(0.4, 0.95)])
    main["length"] = max(main["length"], span + 3000.0)
    return [main, main | {"id": "wing", "bearing": 90.0, "span": span, "length": main["span"] + out, "y": -out / 2,
                          "x": rng.uniform(-0.3, 0.3) * (main["length"] - span)}]


def _crossing(rng: random.Random) -> list[Block]:
    main = a_house(rng) if rng.random() < 0.5 else hipped(a_house(rng))
    main["length"] = max(main["length"], main["span"] + 1000.0)
    return [main, main | {"id": "wing", "bearing": 90.0, "span": main["span"] * rng.choice([1.0, 0.7, 0.5]),
                          "length": main["span"] + 2 * rng.uniform(2500.0, 4000.0)}]


def _horseshoe(rng: random.Random) -> list[Block] | None:
    """A house with a wing at each end, in line with its gables or well in from them."""
    main, span, out = a_house(rng), rng.uniform(3500.0, 4500.0), rng.uniform(2500.0, 5000.0)
    main["length"] = max(main["length"], 2 * (span + main["eave_overhang"]) + 4600.0)
    wing = main | {"bearing": 90.0, "span": span, "length": main["span"] / 2 + out, "y": -main["span"] / 4 - out / 2}
    x = (main["length"] - span) / 2 - rng.choice([0.0, rng.uniform(900.0, 1300.0)])
    if top_of(wing) > top_of(main):
        return None
    return [main, wing | {"id": "west", "x": -x}, wing | {"id": "east", "x": x}]


def _in_a_corner(rng: random.Random) -> list[Block] | None:
    """A lean-to between a house and its wing."""
    main = a_house(rng)
    wing = main | {"id": "wing", "bearing": 90.0, "span": main["span"] * rng.uniform(0.45, 0.6),
                   "pitch": float(rng.choice(_PITCHES)), "length": main["span"] / 2 + 3000.0,
                   "y": -main["span"] / 4 - 1500.0}
    span, long = rng.uniform(1800.0, 2500.0), min((main["length"] - wing["span"]) / 2, 3500.0)
    if long < 1500.0 or top_of(wing) > top_of(main):
        return None
    low = block("shed", "lean-to", x=rng.choice([-1, 1]) * (wing["span"] + long) / 2, y=-(main["span"] + span) / 2,
                length=long, span=span, eave_height=2300.0, pitch=float(rng.choice([4, 6, 8, 12])),
                rake_overhang=rng.choice([0.0, 200.0]), eave_overhang=300.0, top_overhang=0.0)
    return [main, wing, low]


def _annex(rng: random.Random) -> list[Block] | None:
    """A lower house in line with a higher one, against its gable."""
    main = a_house(rng)
    low = main | {"id": "annex", "x": main["length"] / 2 + 2000.0, "length": 4000.0,
                  "span": main["span"] * rng.choice([1.0, 0.8, 0.6]),
                  "eave_height": rng.choice([4500.0, 3800.0, 2800.0]),
                  "pitch": rng.choice([main["pitch"], float(rng.choice(_PITCHES))])}
    return [main, low] if top_of(low) < top_of(main) - 500.0 else None


def _lean_tos(rng: random.Random) -> list[Block]:
    """Two lean-tos: in front and behind, or in front and at the gable."""
    main, span = a_house(rng), rng.uniform(1800.0, 2500.0)
    low = block("shed", "front", y=-(main["span"] + span) / 2, span=span, length=rng.uniform(0.5, 1.0) * main["length"],
                eave_height=2300.0, pitch=float(rng.choice([4, 6, 8, 12])), rake_overhang=rng.choice([0.0, 200.0]),
                eave_overhang=300.0, top_overhang=0.0)
    if rng.random() < 0.5:
        return [main, low, turned(low, 180.0) | {"id": "back"}]
    return [main, low, low | {"id": "side", "x": (main["length"] + span) / 2, "y": 0.0, "bearing": 90.0,
                              "length": 0.8 * main["span"]}]


def _dormers(rng: random.Random) -> list[Block] | None:
    """A dormer at each side, or a dormer and a wing, or two side by side."""
    made = gable_dormer(rng)
    if made is None:
        return None
    main, dormer = made
    what = rng.choice(["both", "wing", "beside"])
    if what == "both":
        return [main, dormer, turned(dormer, 180.0) | {"id": "back"}]
    if what == "wing":
        return [main, dormer, main | {"id": "wing", "bearing": 90.0, "length": main["span"] / 2 + 3000.0,
                                      "span": main["span"] * rng.uniform(0.45, 0.7), "y": main["span"] / 4 + 1500.0}]
    apart = dormer["span"] / 2 + rng.uniform(500.0, 1800.0)
    main["length"] = max(main["length"], 4 * apart + 1500.0)
    return [main, dormer | {"x": -apart}, dormer | {"id": "second", "x": apart}]


def _lower_wing(rng: random.Random) -> list[Block] | None:
    """A wing whose ridge comes in under the eave."""
    main = a_house(rng)
    wing = main | {"id": "wing", "bearing": 90.0, "length": 3000.0, "pitch": float(rng.choice(_PITCHES)),
                   "span": min(main["span"] * rng.uniform(0.45, 0.7), 4200.0),
                   "eave_height": rng.uniform(2300.0, 2700.0), "y": -main["span"] / 2 - 1500.0,
                   "x": rng.uniform(-0.2, 0.2) * main["length"]}
    under = main["eave_height"] - main["eave_overhang"] * rise(main["pitch"]) - 350.0
    return [main, wing] if top_of(wing) < under else None


_COMPOUNDS: tuple[Callable[[random.Random], list[Block] | None], ...] = (
    _hipped_tee, _crossing, _horseshoe, _in_a_corner, _annex, _lean_tos, _dormers, _lower_wing)
