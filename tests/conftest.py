"""Shared set-up: no real settings, no real display, and the samples of ``samples.py``."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import settings

# The same examples every time, so that a change is judged by what it changes; look further with
# HYPOTHESIS_PROFILE=default.
settings.register_profile("steady", derandomize=True, deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))


@pytest.fixture(autouse=True)
def own_settings(tmp_path, monkeypatch):
    """Every test has settings of its own."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
