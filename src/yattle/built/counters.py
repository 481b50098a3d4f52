"""Cover: how far counterflashings lie over the upstands they cover, and where along the wall they end. Hook: whether
they reach into the kerf that holds them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from yattle.built.cover import Cover
from yattle.built.ends import Reach
from yattle.built.hook import Hook
from yattle.built.standing import Standing, spot
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.lift import trim_of
from yattle.derive.roof_runs import base_id
from yattle.derive.run import DerivedRun
from yattle.pattern.surface import Array

_FLAT = 0.9  # cosine: a part that hangs along its wall


def _counters(derived: Derived, only: frozenset[str] | None) -> Iterator[DerivedRun]:
    return (run for run in derived.runs if run.run.layer == "counterflashing" and run.pieces
            and base_id(run.run.id) in derived.edge_runs
            and (only is None or not only.isdisjoint(
                piece.id for one in (run, derived.run(base_id(run.run.id))) for piece in one.pieces)))


def counter_covers(derived: Derived, standing: Mapping[str, Standing], only: frozenset[str] | None) -> Iterator[Cover]:
    """How far the face of each counterflashing comes down over the upstand behind it, in mm square to the run: by as
    much as the house has it. ``only``: of runs with one of these patterns."""
    for run in _counters(derived, only):
        base = derived.run(base_id(run.run.id))
        under = [standing[piece.id] for piece in base.pieces if piece.id in standing]
        frame = run_frame(derived.roof, derived.edge_runs[base.run.id].edge)[2]
        for name in (piece.id for piece in run.pieces if piece.id in standing and under):
            one = standing[name]
            face = _face(one, frame[1])
            behind = min(under, key=lambda each: abs(float((each.middle - one.middle) @ frame[0])))
            top = max(float((part @ frame[2]).max()) for part in behind.parts)
            yield Cover(name, behind.name, top - float((face @ frame[2]).min()), run.standard.counter_face, 1.0,
                        spot(face.mean(axis=0)), 0.0)


def _face(one: Standing, out: Array) -> Array:
    """The part of a counterflashing that hangs along its wall; all of it where none does."""
    hangs = [(size, part) for part, size, square in zip(one.parts, one.sizes, one.normals, strict=True)
             if abs(float(square @ out)) > _FLAT]
    return max(hangs, key=lambda each: each[0])[1] if hangs else np.concatenate(one.parts)


def kerfs(derived: Derived, standing: Mapping[str, Standing], only: frozenset[str] | None) -> Iterator[
        tuple[Hook, Reach]]:
    """How far each counterflashing that is wedged in a kerf reaches into its wall, and how far over the top of its
    upstand it goes in, mm: the kerf is cut along that top, for all pieces of a run alike; ``only``: of runs with one of
    these patterns."""
    for run in _counters(derived, only):
        base = derived.run(base_id(run.run.id))
        under = [np.concatenate(standing[piece.id].parts) for piece in base.pieces if piece.id in standing]
        if not getattr(trim_of(derived, run), "kerf", 0.0) or not under:
            continue
        left, _, (along, out, up) = run_frame(derived.roof, derived.edge_runs[base.run.id].edge)
        top, name = max(float((corners @ up).max()) for corners in under), f"the kerf over {base.run.id}"
        for one in (standing[piece.id] for piece in run.pieces if piece.id in standing):
            long = float(np.ptp(np.concatenate(one.parts) @ along))
            corners = np.concatenate([part for part in one.parts if float(np.ptp(part @ along)) > long / 10])  # no ends
            face = _face(one, out)
            deepest, highest = corners[int(np.argmin(corners @ out))], face[int(np.argmax(face @ up))]
            yield (Hook(one.name, name, max(0.0, float((left - deepest) @ out)), float(np.ptp(corners @ along)),
                        spot(deepest), how="kerf"),
                   Reach(one.name, name, float(highest @ up) - top, 0.0, spot(highest)))
