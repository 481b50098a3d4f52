"""The job: what a person enters, how it is kept, and everything worked out from it."""

from yattle.job.derive import Derived, DerivedRun, derive
from yattle.job.model import Job, Run
from yattle.job.session import Selection, Session
from yattle.job.store import demo_path, load, save

__all__ = ["Derived", "DerivedRun", "Job", "Run", "Selection", "Session", "demo_path", "derive",
           "load", "save"]
