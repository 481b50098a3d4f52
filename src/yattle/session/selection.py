"""What is selected: run, piece and fold, and what stands in front of the run. One selection for the whole window."""

from __future__ import annotations

from dataclasses import dataclass, replace

from yattle.derive.derived import Derived


@dataclass(frozen=True)
class Selection:
    """Run → piece → fold; each may be missing. In front of the run there may be an ``opening``, whose pieces are meant
    then, or a ``part`` of the roof (``face:ID``, ``block:ID`` of one that lies buried): never both."""

    run: str | None = None
    piece: int = 0
    fold: str | None = None
    opening: str | None = None
    part: str = ""

    def but(self, run: str | None = None, piece: int | None = None, fold: str | None = None,
            opening: str | None = None, part: str | None = None) -> Selection:
        """Another one: an opening or a part comes in front of the run, a run takes its place; ``piece`` and ``fold``
        are those of what is selected then; ``fold`` "" clears it."""
        now = self
        if opening is not None and opening != now.opening:
            now = Selection(now.run, opening=opening)
        if part is not None and (part != now.part or now.opening):
            now = Selection(now.run, part=part)
        if run is not None and (run != now.run or now.opening or now.part):
            now = Selection(run)
        if piece is not None:
            now = replace(now, piece=piece)
        return now if fold is None else replace(now, fold=fold or None)

    def is_in(self, derived: Derived) -> bool:
        """Whether all of it is in the job."""
        return ((not self.opening or _has_opening(derived, self.opening))
                and (not self.part or _has_part(derived, self.part))
                and (self.run is None or _has_run(derived, self.run)))

    def kept_in(self, derived: Derived) -> Selection:
        """As much of it as is in the job; where the run is gone, the first one."""
        now = self
        if now.run is None or not _has_run(derived, now.run):
            now = Selection(first_run(derived), opening=now.opening, part=now.part)
        if now.opening and not _has_opening(derived, now.opening):
            now = replace(now, opening=None, piece=0)
        if now.part and not _has_part(derived, now.part):
            now = replace(now, part="")
        pieces = derived.opening(now.opening).pieces if now.opening else derived.run(now.run).pieces if now.run else ()
        return replace(now, piece=max(0, min(now.piece, len(pieces) - 1)))


def first_run(derived: Derived) -> str | None:
    """The first run with a detail, else the first one; ``None`` where there is none."""
    return next((found.run.id for found in derived.runs if found.made),
                derived.runs[0].run.id if derived.runs else None)


def _has_run(derived: Derived, run: str) -> bool:
    return any(found.run.id == run for found in derived.runs)


def _has_opening(derived: Derived, opening: str) -> bool:
    return any(found.id == opening for found in derived.openings)


def _has_part(derived: Derived, part: str) -> bool:
    kind, _, name = part.partition(":")
    return any(one.id == name for one in (derived.roof.facets if kind == "face" else derived.job.roof.blocks))
