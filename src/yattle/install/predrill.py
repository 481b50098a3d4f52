"""Holes marked on the flat pattern, to be drilled on the bench with a template, in stacks."""

from __future__ import annotations

from yattle.derive.derived import Derived
from yattle.details import DetailPiece
from yattle.install.installation import InstalledRun, installation
from yattle.install.schedule import Need
from yattle.pattern import Mark, Pattern
from yattle.pattern.marks import screws_inside
from yattle.pattern.pattern import SCREW
from yattle.roof.edges import WALLS

_APART = 75.0  # mm from one row to the second one of a wide lap
_STAGGER = 30.0  # mm from one row to the one that stands in its gaps, where the flange is wide enough


def drilled(derived: Derived, run_id: str, n: int) -> Pattern:
    """The pattern of a run's piece ``n`` with a point for every screw of the run that comes to lie on it, the
    standard's distance in from the edge it holds: edge A's, against a wall edge B's, of a cap both; of a wide lap a
    second row further in. A screw keeps that distance from cut ends too: it moves along its row, or goes."""
    fit = installation(derived).runs[run_id]
    piece = fit.run.pieces[n]
    wanted = _wanted(derived, fit, piece)
    screws = screws_inside(wanted, piece.pattern.outline, derived.job.fit.edge)
    return piece.pattern.but(marks=(*piece.pattern.marks, *(Mark(a=at, b=at, text=SCREW) for at in screws)))


def _wanted(derived: Derived, fit: InstalledRun, piece: DetailPiece) -> list[tuple[float, float]]:
    """Where on the piece the run's screws come: a pattern's x is counted from where its share of the run begins."""
    need = next((need for need in fit.needs if need.what == "screws" and need.places), None)
    if need is None:
        return []

    def here(places: tuple[float, ...]) -> list[float]:
        return [x - piece.start for x in places if piece.start <= x <= piece.start + piece.share]
    heights = _rows(derived, fit, piece, need)
    if need.second:
        return [(x, y) for places, y in zip((need.places, need.second), heights, strict=True) for x in here(places)]
    return [(x, y) for x in here(need.places) for y in heights]


def _rows(derived: Derived, fit: InstalledRun, piece: DetailPiece, need: Need) -> list[float]:
    """The heights of the rows on the pattern, where edge A lies at the top; hems count as the edge."""
    away, folds = derived.job.fit.edge, {fold.id: fold.a[1] for fold in piece.pattern.folds}
    _, low, _, high = piece.pattern.box
    a, b = folds.get("hA", high) - away, folds.get("hB", low) + away
    kind = fit.run.run.layer or fit.run.run.kind
    sides = [(a, -1), (b, 1)] if kind in ("ridge", "hip") else [(b, 1)] if fit.run.run.kind in WALLS else [(a, -1)]
    profile = fit.run.detail.profile
    flange = profile.legs[0] if profile is not None else 0.0
    apart = max(min(_STAGGER, flange - 2 * away), 0.0) if need.second else _APART
    return [at + inward * apart * n for n in range(need.rows // len(sides)) for at, inward in sides]

