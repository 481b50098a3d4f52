"""Holes marked on the flat pattern, to be drilled on the bench with a template, in stacks."""

from __future__ import annotations

from yattle.derive.derived import Derived
from yattle.details import DetailPiece
from yattle.install.installation import InstalledRun, installation
from yattle.pattern import Mark, Pattern
from yattle.pattern.marks import screws_inside
from yattle.pattern.pattern import SCREW
from yattle.roof.edges import WALLS

_APART = 75.0  # mm from one row to the second one of a wide lap


def drilled(derived: Derived, run_id: str, n: int) -> Pattern:
    """The pattern of a run's piece ``n`` with a point for every screw of the run that comes to lie on it, the
    standard's distance in from the edge it holds: edge A's, against a wall edge B's, of a cap both; of a wide lap a
    second row further in. A screw keeps that distance from cut ends too: it moves along its row, or goes."""
    fit = installation(derived).runs[run_id]
    piece = fit.run.pieces[n]
    wanted = [(x, y) for x in _places(fit, piece) for y in _rows(derived, fit, piece)]
    screws = screws_inside(wanted, piece.pattern.outline, derived.job.fit.edge)
    return piece.pattern.but(marks=(*piece.pattern.marks, *(Mark(a=at, b=at, text=SCREW) for at in screws)))


def _places(fit: InstalledRun, piece: DetailPiece) -> list[float]:
    """Where on the piece the run's screws come: a pattern's x is counted from where its share of the run begins."""
    need = next((need for need in fit.needs if need.what == "screws" and need.places), None)
    if need is None:
        return []
    return [x - piece.start for x in need.places if piece.start <= x <= piece.start + piece.share]


def _rows(derived: Derived, fit: InstalledRun, piece: DetailPiece) -> list[float]:
    """The heights of the rows on the pattern, where edge A lies at the top; hems count as the edge."""
    away, folds = derived.job.fit.edge, {fold.id: fold.a[1] for fold in piece.pattern.folds}
    _, low, _, high = piece.pattern.box
    a, b = folds.get("hA", high) - away, folds.get("hB", low) + away
    need = next(need for need in fit.needs if need.what == "screws")
    kind = fit.run.run.layer or fit.run.run.kind
    sides = [(a, -1), (b, 1)] if kind in ("ridge", "hip") else [(b, 1)] if fit.run.run.kind in WALLS else [(a, -1)]
    return [at + inward * _APART * n for n in range(need.rows // len(sides)) for at, inward in sides]

