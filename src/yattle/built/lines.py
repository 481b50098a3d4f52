"""Cover: whether the leg of a trim that lies on a face ends on the chalk line that fitting snaps for it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from yattle.built.ends import Reach
from yattle.built.frames import built_up
from yattle.built.standing import Standing, spot
from yattle.derive.corners import beside_edge
from yattle.derive.derived import Derived
from yattle.derive.run import DerivedRun
from yattle.install.chalk import ChalkLine, chalk_lines
from yattle.pattern.surface import Array

_WIDE = 0.3  # of a piece's largest part: narrower ones are kicks, hems and stiffenings, no legs that lie on a face
_SHORT = 60.0  # mm: a shorter piece is a slip between two cuts, its leg need not come to the line


def off_lines(derived: Derived, stiff: dict[str, Standing], touching: frozenset[str] | None) -> Iterator[Reach]:
    """How far each piece of a trim goes past its chalk lines, mm, by its wide parts; 0 is wanted. Strips are held
    against their trim instead (see ``hidden``)."""
    runs = {run.run.id: run for run in derived.runs}
    only = None if touching is None else frozenset(
        name for name, run in runs.items() if any(piece.id in touching for piece in run.pieces))
    for line in chalk_lines(derived, only):
        if not runs[line.run].run.layer:
            yield from _of_line(derived, line, runs[line.run], stiff, touching)


def _of_line(derived: Derived, line: ChalkLine, run: DerivedRun, stiff: dict[str, Standing],
             touching: frozenset[str] | None) -> Iterator[Reach]:
    edge = derived.edge_runs[line.run].edge
    (_, into, _), _ = beside_edge(derived.roof, edge, line.face)
    at = np.array(line.a) + _over(derived, line)
    for piece in run.pieces:
        one = stiff.get(piece.id)
        if one is None or piece.share < _SHORT or (touching is not None and piece.id not in touching):
            continue
        wide = max(one.sizes) * _WIDE
        corners = np.concatenate([part for part, size in zip(one.parts, one.sizes, strict=True) if size >= wide])
        off = (corners - at) @ into
        far = int(np.argmax(off))
        yield Reach(piece.id, f"its chalk line on {line.face}", float(off[far]), 0.0, spot(corners[far]), True)


def _over(derived: Derived, line: ChalkLine) -> Array:
    """From a place in the face's plane to what the line is snapped on plumb over it, mm."""
    flat = 0.0 if line.on == "deck" else built_up(derived, line.face).flat
    return np.array([0.0, 0.0, flat / derived.roof.facet(line.face).plane.normal[2]])
