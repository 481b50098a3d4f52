"""Runs into pieces: how many, how long, which end laps which, and where every millimetre goes."""

from yattle.runs.split import Cut, RunTooHard, SplitRules, split_run

__all__ = ["Cut", "RunTooHard", "SplitRules", "split_run"]
