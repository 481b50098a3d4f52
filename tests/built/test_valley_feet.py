"""Valleys at the inside corner of two eaves: each side of them is dressed down past the eave of its own face."""

from __future__ import annotations

import math

import numpy as np
import pytest

from plans import gable, plan
from yattle.built.checked import check_built
from yattle.built.dressed import stiff
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.job import Job
from yattle.job.panel_systems import with_system


def in_a_corner(pitch, system, turned=0.0):
    turn = math.radians(turned)
    roof = plan(gable("main", bearing=turned, length=12000.0, span=8000.0, eave=4500.0, pitch=pitch, eave_overhang=350.0),
                gable("wing", x=5000.0 * math.sin(turn), y=-5000.0 * math.cos(turn), bearing=turned + 90.0, length=10000.0,
                      span=6000.0, eave=4500.0, pitch=pitch, eave_overhang=350.0))
    return derive(with_system(Job(name="corner", roof=roof), system))


@pytest.mark.parametrize("turned", [0.0, 217.0])
@pytest.mark.parametrize("pitch", [12.0, 35.0, 58.0])
def test_each_side_goes_on_along_the_eave_of_the_other(pitch, turned):
    """On each face the pan's side is cut by that face's eave alone: beside it, it is as wide as higher up."""
    derived = in_a_corner(pitch, "sandwich 1000, core 80", turned)
    standing = stand_all(derived.patterns, list(places_of(derived)[0]))
    dressed = {piece.name: piece for piece in stiff(derived, standing)}
    valleys = [found.edge for found in derived.edge_runs.values() if found.edge.kind == "valley"]
    assert len(valleys) == 2
    for valley in valleys:
        foot, head = (np.array(end) for end in sorted((valley.a, valley.b), key=lambda end: end[2]))
        way = (head - foot) / np.linalg.norm(head - foot)
        piece = min((dressed[one.id] for one in derived.run(valley.id).pieces),
                    key=lambda one: min(float(corner[2]) for part in one.parts for corner in part))
        for face in valley.facets:
            square = np.array(derived.roof.facet(face).plane.normal)
            aside = np.cross(square / np.linalg.norm(square), way)
            level = [part for part in piece.parts if abs(float((part.mean(axis=0) - foot) @ square)) < 5.0]
            flange = max(level, key=lambda part: float(np.abs((part - foot) @ aside).max()))
            off, along = np.abs((flange - foot) @ aside), (flange - foot) @ way
            assert off[along < along.min() + 60.0].max() > off.max() - 1.0


@pytest.mark.parametrize("turned", [0.0, 90.0])
@pytest.mark.parametrize("system", ["sandwich 1000, core 80", "rib 35, pitch 207", "double seam 430 x 25"])
def test_steep_valleys_shed_at_their_feet(system, turned):
    derived = in_a_corner(58.0, system, turned)
    assert [one["says"] for one in said_of(check_built(derived, places_of(derived)[0])) if one["row"] == "water"] == []
