"""How high the trim of a run lies over the roof's planes."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from yattle.derive.corners import Array
from yattle.derive.derived import Derived
from yattle.derive.family import family_of, on_deck
from yattle.derive.raised import built_up, raised
from yattle.derive.roof_runs import base_id
from yattle.derive.run import Common, DerivedRun, common_of, detail_of
from yattle.details import DetailPiece
from yattle.details.run_ends import section_corners
from yattle.details.standard import Standard
from yattle.details.trim import Trim
from yattle.job.model import Run


def trim_of(derived: Derived, run: DerivedRun) -> Trim:
    """The trim that a run stands for."""
    return _trim(run.run, run.standard, common_of(derived.job))


@lru_cache(maxsize=4096)  # every row of the roof put together asks for it
def _trim(run: Run, standard: Standard, common: Common) -> Trim:
    family = family_of(run)
    assert family is not None
    return detail_of(run, family, standard, common)


def mould_lines(trim: Trim, piece: DetailPiece) -> Array:
    """The mould lines of a piece's section as it is installed, from its datum, (n, 2) as (out, up), mm."""
    sheet = trim.sheet()
    return section_corners(piece.profile, sheet.heading, sheet.datum, sheet.crossing, sheet.aside)


def over_of(derived: Derived, run: DerivedRun) -> float:
    """How high over the panels' flats a trim lies, mm: on their seams, or on closures that are higher, as at a vented
    ridge; 0 where nobody knows how high the seams are."""
    if run.family is None or "over" not in run.family.entries or not run.run.over:
        return run.run.over
    return float(getattr(trim_of(derived, run), "over", run.run.over))


def lift_of(derived: Derived, run: DerivedRun) -> Array:
    """How far a trim's section lies off its line, (out, up), mm; what goes under the panels lies on the deck."""
    return derived.once(("lift", run.run.id), lambda: _lift_of(derived, run))


def _lift_of(derived: Derived, run: DerivedRun) -> Array:
    edge = derived.edge_runs[base_id(run.run.id)].edge
    if run.family is not None and on_deck(run.family):
        return np.zeros(2)
    flats = {face: built_up(derived.job, face).flat for face in edge.facets}
    return raised(derived.roof, edge, flats, over_of(derived, run))
