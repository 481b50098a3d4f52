"""The next job in the same shop: its brake and metal with what was learnt of them, its coils and standards; no roof."""

from __future__ import annotations

from yattle.job.model import Job

SHOP = ("system", "unit", "tables", "sheet", "metal", "thickness", "metals", "colour", "measured", "allowance", "k",
        "weather", "joints", "tape_tolerance", "own", "schools", "rain", "panels", "systems", "brake", "stock", "rules",
        "shop", "fit", "ledger", "learnt")
"""What belongs to the shop and not to one roof."""


def next_job(job: Job, name: str = "new job") -> Job:
    """A job that begins with the shop of another; of its log the lessons go along, that say what is in use and why, and
    the measured folds and legs, of which more can be learnt."""
    lessons = tuple(entry for entry in job.log if (entry.what == "lesson" and entry.text) or entry.what == "measured")
    return Job(name=name, log=lessons, **{field: getattr(job, field) for field in SHOP})
