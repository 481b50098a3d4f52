"""Random roofs of every shape that a roofer meets, for the check of roofs put together: no two alike, nothing made
wrong on purpose."""

from __future__ import annotations

import json
import math
import random
from collections.abc import Callable
from typing import Any

from yattle.derive import Derived, derive
from yattle.derive.near_edges import moved_off
from yattle.derive.too_close import as_advised
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.panels import library
from yattle.roof import RoofPlan
from yattle.roof.starts import STARTS

Block = dict[str, Any]
_PITCHES = (3, 6, 12, 18, 25, 30, 38, 45, 52, 60)
_MOST_ADVICE = 6
_HOUSES = (4, 8, 12, 18, 22, 28, 35, 42, 50, 58)


def of_a_start(seed: int) -> Job:
    """One of the five starts, its pitches other ones, with any system of the library."""
    rng = random.Random(seed)
    plan = json.loads(STARTS[rng.choice(sorted(STARTS))].model_dump_json())
    for block in plan["blocks"]:
        block["pitch"] = rng.choice(_PITCHES)
    return roof_job(plan["blocks"], rng)


def of_any_shape(seed: int) -> Job:
    """A house of any size: gable, hip, of unequal pitches, with a wing, a dormer, a lean-to; any system."""
    rng = random.Random(seed)
    made: list[Block] | None = None
    while made is None:
        made = rng.choice(_SHAPES)(rng)
    return roof_job(made, rng)


def with_openings(seed: int) -> Job:
    """A house with a chimney, a curb or a pipe of any size in any place of its faces, its bearing any; any system."""
    rng = random.Random(seed)
    house = (a_house(rng) if rng.random() < 0.8 else _hip(rng)[0]) | {"bearing": rng.choice([0.0, 90.0, 217.0])}
    return roof_job([house], rng, [_opening(rng, house)])


def of_an_ell(seed: int) -> Job:
    """A house with a wing at one of its gables, its wall in line with the gable's or well in from it, pitches and eaves
    alike or not; its bearing any; any system."""
    rng = random.Random(seed)
    house = wing = a_house(rng)
    while wing is house or top_of(wing) > top_of(house):
        house = a_house(rng)
        house["rake_overhang"] = rng.choice([house["rake_overhang"], house["eave_overhang"]])
        span, out = house["span"] * rng.uniform(0.45, 1.0), rng.uniform(2500.0, 6000.0)
        room = (house["length"] - span) / 2
        inward = rng.choice([0.0, 0.0, rng.uniform(900.0, max(room, 900.0))]) if room > 900.0 else 0.0
        wing = house | {"id": "wing", "bearing": 90.0, "span": span, "length": house["span"] / 2 + out,
                        "x": rng.choice([-1, 1]) * (room - inward),
                        "y": -house["span"] / 4 - out / 2, "eave_height": rng.choice([4500.0, 4500.0, 4200.0, 4000.0]),
                        "pitch": rng.choice([house["pitch"], house["pitch"], float(rng.choice(_HOUSES))])}
    bearing = rng.choice([0.0, 90.0, 217.0])
    return roof_job([turned(one, bearing) for one in (house, wing)], rng)


def of_a_hipped_ell(seed: int) -> Job:
    """A hipped house with a hipped wing at one of its corners, as wide as it or narrower, pitches and eaves alike; its
    bearing any; any system."""
    rng = random.Random(seed)
    house = hipped(a_house(rng))
    span = house["span"] * rng.choice([1.0, rng.uniform(0.45, 0.95), rng.uniform(0.45, 0.95)])
    house["length"] = max(house["length"], house["span"] + 1000.0)
    out = rng.uniform(3000.0, 6000.0)
    wing = house | {"id": "wing", "bearing": 90.0, "span": span, "length": house["span"] + out,
                    "x": rng.choice([-1, 1]) * (house["length"] - span) / 2, "y": -out / 2}
    bearing = rng.choice([0.0, 90.0, 217.0])
    return roof_job([turned(one, bearing) for one in rng.sample([house, wing], 2)], rng)


def of_several(seed: int) -> Job:
    """A house with a wing or a dormer in front, and behind it the same again, a lean-to, or something that stands in
    its face; its bearing any; any system."""
    rng = random.Random(seed)
    made: list[Block] | None = None
    while made is None or (made[1]["id"] == "wing" and top_of(made[1]) > top_of(made[0])):
        made = rng.choice((_wing, gable_dormer, _shed_dormer))(rng)
    house, openings, what = made[0], list[Block](), rng.choice(["again", "lean-to", "opening"])
    if what == "again":
        made.append(turned(made[1], 180.0) | {"id": "other"})
    elif what == "lean-to":
        made.append(block("shed", "lean-to", y=(house["span"] + 2200.0) / 2, bearing=180.0,
                           length=0.4 * house["length"], span=2200.0, eave_height=2300.0, pitch=10.0,
                           rake_overhang=200.0, eave_overhang=300.0, top_overhang=0.0))
    else:
        openings.append(_opening(rng, house))
        openings[0]["y"] = abs(openings[0]["y"])
    bearing = rng.choice([0.0, 90.0, 217.0])
    return roof_job([turned(one, bearing) for one in made], rng, [turned(one, bearing) for one in openings])


def top_of(block: Block) -> float:
    return float(block["eave_height"] + block["span"] / 2 * rise(block["pitch"]))


def turned(one: Block, by: float) -> Block:
    """A block or an opening turned about the house's middle, degrees."""
    cos, sin = math.cos(math.radians(by)), math.sin(math.radians(by))
    bearing = {"bearing": (one.get("bearing", 0.0) + by) % 360} if one["kind"] != "pipe" else {}
    return one | {"x": one["x"] * cos - one["y"] * sin, "y": one["x"] * sin + one["y"] * cos} | bearing


def advised(derived: Derived) -> Derived | None:
    """The same roof with the heights that it is said to want where it is too close to itself, and what stands too close
    to an edge moved as is said, one after the other as one does it; ``None`` where nothing is said."""
    done: Derived | None = None
    for _ in range(_MOST_ADVICE):
        now = done or derived
        plan = as_advised(now) or moved_off(now)
        if plan is None or plan == now.job.roof:
            break
        done = derive(now.job.but(roof=plan))
    return done


def roof_job(blocks: list[Block], rng: random.Random, openings: list[Block] | None = None) -> Job:
    """Nine metres are cut off the coil, so that pans are pieces."""
    plan = {"blocks": blocks, "openings": openings or []}
    job = Job(name="any", roof=RoofPlan.model_validate_json(json.dumps(plan)))
    job = with_system(job, rng.choice(sorted(system.name for system in library())))
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


def rise(pitch: float) -> float:
    return math.tan(math.radians(pitch))


def block(kind: str, name: str, **more: Any) -> Block:
    base = {"id": name, "kind": kind, "x": 0.0, "y": 0.0, "bearing": 0.0, "eave_height": 4500.0}
    return base | more


def a_house(rng: random.Random, pitch: float | None = None) -> Block:
    return block("gable", "house", length=rng.uniform(8000, 14000), span=rng.uniform(6500, 10000),
                  pitch=float(pitch or rng.choice(_HOUSES)), rake_overhang=rng.choice([0.0, 200.0, 350.0]),
                  eave_overhang=rng.choice([200.0, 350.0, 500.0]))


def hipped(house: Block) -> Block:
    """A gabled house with hips at its ends."""
    return {key: value for key, value in house.items() if key != "rake_overhang"} | {"kind": "hip"}


def _opening(rng: random.Random, house: Block) -> Block:
    """On the one or the other long side; a chimney at times over the ridge."""
    kind, half = rng.choice(["pipe", "curb", "chimney", "chimney"]), house["span"] / 2
    along, up = rng.uniform(-0.3, 0.3) * house["length"], rng.choice([-1, 1]) * rng.uniform(0.25, 0.75) * half
    if kind == "chimney" and rng.random() < 0.3:
        up = rng.uniform(-200.0, 200.0)
    turn = math.radians(house["bearing"])
    place = {"id": kind, "kind": kind, "x": along * math.cos(turn) - up * math.sin(turn),
             "y": along * math.sin(turn) + up * math.cos(turn)}
    if kind == "pipe":
        return place | {"diameter": rng.choice([60.0, 80.0, 110.0, 160.0])}
    sizes = {"across": rng.choice([300.0, 400.0, 470.0, 500.0, 610.0, 780.0, 900.0, 1200.0]),
             "along": rng.choice([400.0, 500.0, 610.0, 760.0, 900.0])}
    high = half - abs(up) + (sizes["along"] / 2 if kind == "curb" else abs(up))
    top = house["eave_height"] + high * rise(house["pitch"]) + (300.0 if kind == "curb" else 900.0)
    return place | sizes | {"bearing": house["bearing"], "top": top}


def _unequal(rng: random.Random) -> list[Block]:
    return [a_house(rng) | {"pitch_right": float(rng.choice(_HOUSES)), "fascia": rng.choice(["own", "level"])}]


def _hip(rng: random.Random) -> list[Block]:
    house = hipped(a_house(rng))
    ends = {"pitch_ends": float(rng.choice(_HOUSES)), "fascia": rng.choice(["own", "level"])}
    return [house | (ends if rng.random() < 0.5 else {})]


def _wing(rng: random.Random) -> list[Block]:
    house = a_house(rng)
    return [house, house | {
        "id": "wing", "x": rng.uniform(-0.2, 0.2) * house["length"], "y": -house["span"] / 4 - 1500.0, "bearing": 90.0,
        "length": house["span"] / 2 + 3000.0, "span": house["span"] * rng.uniform(0.45, 0.7),
        "pitch": float(rng.choice(_HOUSES)), "eave_height": rng.choice([4000.0, 4500.0])}]


def gable_dormer(rng: random.Random) -> list[Block] | None:
    house, wide = a_house(rng, rng.choice([28, 35, 42, 50])), rng.uniform(1600, 2600)
    half, steep, pitch = house["span"] / 2, rise(house["pitch"]), float(rng.choice([25, 30, 40]))
    front = -half + rng.uniform(600, 1200)
    eave = 4500.0 + (front + half) * steep + rng.uniform(900, 1300)
    ridge = eave + wide / 2 * rise(pitch)
    if ridge > 4500.0 + half * steep - 200.0:
        return None
    long = (ridge - 4500.0) / steep - half - front + 300.0
    return [house, block("gable", "dormer", x=rng.uniform(-0.25, 0.25) * house["length"], y=front + long / 2,
                          bearing=90.0, length=long, span=wide, eave_height=eave, pitch=pitch, rake_overhang=150.0,
                          eave_overhang=150.0)]


def _shed_dormer(rng: random.Random) -> list[Block] | None:
    house, pitch = a_house(rng, rng.choice([35, 40, 45])), float(rng.choice([8, 12, 15]))
    half, steep = house["span"] / 2, rise(house["pitch"])
    front = -half + rng.uniform(700, 1200)
    eave = 4500.0 + (front + half) * steep + rng.uniform(1000, 1300)
    deep = (eave - 4500.0 - (front + half) * steep) / (steep - rise(pitch))
    if front + deep > -300.0:
        return None
    return [house, block("shed", "dormer", y=front + (deep + 200.0) / 2, length=rng.uniform(1800, 3200),
                          span=deep + 200.0, eave_height=eave, pitch=pitch, rake_overhang=rng.choice([0.0, 150.0]),
                          eave_overhang=150.0)]


def _lean_to(rng: random.Random) -> list[Block]:
    """At the gable, or under the eave."""
    house, span = a_house(rng), rng.uniform(2000, 3000)
    low = block("shed", "lean-to", length=0.7 * house["span"], span=span, eave_height=2300.0,
                 pitch=float(rng.choice([6, 8, 12, 18])), rake_overhang=200.0, eave_overhang=300.0, top_overhang=0.0)
    if rng.random() < 0.5:
        return [house, low | {"x": house["length"] / 2 + span / 2, "bearing": 90.0}]
    return [house, low | {"y": -(house["span"] + span) / 2, "length": 0.5 * house["length"]}]


def _single(rng: random.Random) -> list[Block]:
    return [a_house(rng) | {"kind": "shed", "span": 5000.0, "pitch": float(rng.choice([5, 8, 15, 25, 40]))}]


_SHAPES: tuple[Callable[[random.Random], list[Block] | None], ...] = (
    _unequal, _hip, _wing, gable_dormer, _shed_dormer, _lean_to, _single)
