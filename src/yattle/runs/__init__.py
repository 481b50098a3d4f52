"""Runs into pieces: how many, how long, which end laps which, and where every millimetre goes."""

from yattle.runs.split import RunPiece, RunTooHard, SplitRules, split_run

__all__ = ["RunPiece", "RunTooHard", "SplitRules", "split_run"]
