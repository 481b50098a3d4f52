"""The job: what a person enters, and how it is kept."""

from yattle.job.model import Job, Run
from yattle.job.store import demo_path, load, save

__all__ = ["Job", "Run", "demo_path", "load", "save"]
