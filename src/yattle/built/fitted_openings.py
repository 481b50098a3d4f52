"""The pieces of chimneys and curbs, cut across their longest side, and what is there already where each goes on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial

import numpy as np

from yattle.built.bodies import OpeningBody, bodies
from yattle.built.fitted import AlreadyThere, Fitted, first_of, lines_across, opened
from yattle.built.goes_in import CutLines
from yattle.built.sheets import Sheets
from yattle.built.slots import CoveredFace
from yattle.built.standing import Standing
from yattle.derive.derived import Derived
from yattle.pattern.rings import cross
from yattle.pattern.surface import Array

_LEVEL = 1e-6  # of a direction: no way aside is left of it
_LEAST = 60.0  # mm: shorter pieces are tabs and gussets, set by hand


def openings_fitted_in(derived: Derived, standing: dict[str, Standing], sheets: Sheets, faces: Iterable[CoveredFace],
                       touching: frozenset[str] | None = None) -> Iterator[Fitted]:
    """Every piece that stands at a chimney or a curb: past the pieces, panels and decks that are there before it, and
    past what stands there, which is cut open where a leg goes into it."""
    there = AlreadyThere(sheets, tuple(faces))
    stood = {body.opening: body for body in bodies(derived) if not body.round}
    for opening in (one for one in derived.openings if one.id in stood):
        body = stood[opening.id]
        for made in opening.pieces:
            piece = first_of(standing, [made.pattern.id])
            if piece is None or (touching is not None and made.pattern.id not in touching):
                continue
            frame = _frame(piece, body)
            if frame is not None and float(np.ptp(np.concatenate(piece.parts) @ piece.way)) > _LEAST:
                yield there.goes_in(piece, frame, partial(_sides, body, frame), made.pattern.metal.thickness)


def _frame(piece: Standing, body: OpeningBody) -> Array | None:
    """Along a piece, away from what stands there, and up; ``None`` of one that stands upright."""
    way = piece.way
    out = np.array([way[1], -way[0], 0.0])
    if float(np.linalg.norm(out)) < _LEVEL:
        return None
    out = out / np.linalg.norm(out)
    middle = np.concatenate(body.sides).mean(axis=0)
    if float((piece.middle - middle) @ out) < 0.0:
        out = -out
    up = cross(way, out)
    return np.array([way, out, up if up[2] > 0.0 else -up])


def _sides(body: OpeningBody, frame: Array, at: Array, section: CutLines) -> Iterator[CutLines]:
    """What stands there, cut across a piece, each side open where a leg of the section goes into it."""
    lines = lines_across([(body.opening, side) for side in body.sides], frame, at)
    middle = (np.concatenate(body.sides).mean(axis=0) - at) @ frame[1:].T
    for a, b, out in zip(lines.a, lines.b, lines.outs, strict=True):
        away = out / np.linalg.norm(out) * (1.0 if float((a - middle) @ out) > 0.0 else -1.0)
        yield from opened((a, b, away), section, body.opening)
