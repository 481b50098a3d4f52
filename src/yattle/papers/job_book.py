"""An empty paper of a job: its size, and what stands at its foot."""

from __future__ import annotations

from datetime import date

from yattle.derive.derived import Derived
from yattle.derive.printed import next_revision
from yattle.papers.page import Book


def paper_size(derived: Derived) -> str:
    """The size of the job's papers: its own choice, else as is usual where its units are."""
    return derived.job.sheet or ("letter" if derived.job.system == "inch" else "a4")


def foot_of(derived: Derived, what: str) -> str:
    """What stands at the foot of each page: job, paper, revision and day."""
    return f"{derived.job.name} · {what} · revision {next_revision(derived).letter} · {date.today().isoformat()}"


def differs_says(derived: Derived) -> str:
    """What differs from the print before, for the top of a paper; empty of a first print."""
    revision = next_revision(derived)
    return f"Revision {revision.letter}, {revision.when}: {revision.says}" if revision.says else ""


def book_of(derived: Derived, what: str) -> Book:
    """An empty paper of a job."""
    return Book(f"{derived.job.name} · {what}", foot_of(derived, what), paper_size(derived))
