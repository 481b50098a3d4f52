"""An empty paper of a job: its size, and what stands at its foot."""

from __future__ import annotations

from datetime import date

from yattle.derive.derived import Derived
from yattle.papers.page import Book


def paper_size(derived: Derived) -> str:
    """The size of the job's papers: its own choice, else as is usual where its units are."""
    return derived.job.sheet or ("letter" if derived.job.system == "inch" else "a4")


def foot_of(derived: Derived, what: str) -> str:
    """What stands at the foot of each page: job, paper and day."""
    return f"{derived.job.name} · {what} · {date.today().isoformat()}"


def book_of(derived: Derived, what: str) -> Book:
    """An empty paper of a job."""
    return Book(f"{derived.job.name} · {what}", foot_of(derived, what), paper_size(derived))
