"""What follows from a job: roof → runs → layers → pieces, openings, corners; what a choice would change."""

from yattle.derive.derived import Derived
from yattle.derive.graph import derive
from yattle.derive.run import DerivedRun

__all__ = ["Derived", "DerivedRun", "derive"]
