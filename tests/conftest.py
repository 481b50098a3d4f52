"""Shared set-up: no real settings, no real display, and the samples of ``samples.py``."""

from __future__ import annotations

import os
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import settings

from yattle.coil.warm import ready

# The same examples every time, so that a change is judged by what it changes; look further with
# HYPOTHESIS_PROFILE=default.
settings.register_profile("steady", derandomize=True, deadline=None, max_examples=40)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))


@pytest.fixture(autouse=True)
def own_settings(tmp_path, monkeypatch):
    """Every test has settings of its own."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


PROVEN = {"test_exact", "test_tiny", "test_shapes", "test_compaction"}  # these are about proofs, or the clock itself


@pytest.fixture(autouse=True)
def soon_proven(request, monkeypatch):
    """Plans are checked by the hundred: each gets little time for its bound, where none is given."""
    if "coil" in request.path.parts:
        assert ready(time.perf_counter() + 300)  # compiled before any clock of a test runs
        if request.module.__name__ not in PROVEN:
            monkeypatch.setattr("yattle.coil.solve._PROOF", 0.1)
