"""Which trim a run gets."""

from __future__ import annotations

from yattle.details.all import FAMILIES, Family, families_for
from yattle.details.walls import BackPan
from yattle.job.model import Run


def family_of(run: Run) -> Family | None:
    """The detail chosen for a run, where it suits its edge, else the usual one for such an edge."""
    if run.layer:
        return FAMILIES[run.detail or ""]
    suits = families_for(run.kind, run.fold)
    return next((f for f in suits if f.name == run.detail), suits[0] if suits else None)


def on_deck(family: Family) -> bool:
    """Whether a trim of the family goes under the panels at a wall, where others lie on them."""
    return family.model is BackPan
