"""Blocks for the roof tests, in the least words."""

from __future__ import annotations

import json
import random

from hypothesis import strategies as st

from yattle.roof import Roof, RoofPlan, build


def gable(name, x=0.0, y=0.0, bearing=0.0, length=14000.0, span=8000.0, eave=4200.0, pitch=35.0, **more):
    return {"id": name, "kind": "gable", "x": x, "y": y, "bearing": bearing, "length": length, "span": span,
            "eave_height": eave, "pitch": pitch, **{"eave_overhang": 400.0, "rake_overhang": 300.0, **more}}


def hip(name, x=0.0, y=0.0, bearing=0.0, length=12000.0, span=8000.0, eave=3000.0, pitch=30.0, **more):
    return {"id": name, "kind": "hip", "x": x, "y": y, "bearing": bearing, "length": length, "span": span,
            "eave_height": eave, "pitch": pitch, **{"eave_overhang": 500.0, **more}}


def shed(name, x=0.0, y=0.0, bearing=0.0, length=5000.0, span=2400.0, eave=2600.0, pitch=12.0, **more):
    return {"id": name, "kind": "shed", "x": x, "y": y, "bearing": bearing, "length": length, "span": span,
            "eave_height": eave, "pitch": pitch, **{"eave_overhang": 300.0, "rake_overhang": 200.0, **more}}


def flat(name, x=0.0, y=0.0, bearing=0.0, length=5000.0, span=4000.0, eave=2800.0, **more):
    return {"id": name, "kind": "flat", "x": x, "y": y, "bearing": bearing, "length": length, "span": span,
            "eave_height": eave, **{"eave_overhang": 200.0, **more}}


def plan(*blocks, **more) -> RoofPlan:
    return RoofPlan.model_validate_json(json.dumps({"blocks": list(blocks), **more}))


def roof(*blocks, **more) -> Roof:
    return build(plan(*blocks, **more))


@st.composite
def blocks(draw, most=4):
    """Random blocks close enough to meet, with sizes that houses have."""
    made = []
    for n in range(draw(st.integers(1, most))):
        number = st.integers
        kind = draw(st.sampled_from([gable, gable, hip, shed, flat]))
        pitch = {} if kind is flat else {"pitch": float(draw(number(5, 60)))}
        overhang = draw(st.sampled_from([0.0, 200.0, 400.0]))
        made.append(kind(
            f"b{n}", x=float(draw(number(-60, 60))) * 100, y=float(draw(number(-60, 60))) * 100,
            bearing=float(draw(st.sampled_from([0, 90, 180, 270, 0, 90, 30, 117]))),
            length=float(draw(number(20, 140))) * 100, span=float(draw(number(20, 90))) * 100,
            eave=float(draw(st.sampled_from([2600, 3000, 3000, 4200, 5500]))), eave_overhang=overhang,
            **pitch, **({"rake_overhang": overhang} if kind in (gable, shed) else {})))
    return made


def wild(seed):
    """A random roof for properties: all kinds of blocks, odd bearings, unequal pitches, overhangs from 0 to 700."""
    draw, made = random.Random(seed), []
    for n in range(draw.randint(1, 4)):
        kind, overhang = draw.choice([gable, gable, hip, shed, flat]), draw.choice([0.0, 200.0, 400.0, 700.0])
        more = {} if kind is flat else {"pitch": float(draw.randint(5, 60))}
        if kind is gable and draw.random() < 0.4:
            more["pitch_right"] = float(draw.randint(5, 60))
        if kind is hip and draw.random() < 0.4:
            more["pitch_ends"] = float(draw.randint(5, 60))
        if kind in (gable, hip) and draw.random() < 0.3:
            more["fascia"] = "level"
        if kind in (gable, shed):
            more["rake_overhang"] = draw.choice([0.0, overhang])
        made.append(kind(
            f"b{n}", x=draw.randint(-60, 60) * 100.0, y=draw.randint(-60, 60) * 100.0,
            bearing=float(draw.choice([0, 90, 180, 270, 0, 90, 30, 117])), length=draw.randint(20, 140) * 100.0,
            span=draw.randint(20, 90) * 100.0, eave=draw.choice([2600.0, 3000.0, 3000.0, 4200.0, 5500.0]),
            eave_overhang=overhang, **more))
    return made
