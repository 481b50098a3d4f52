"""Shared set-up: no real settings, no real display, and the samples of ``samples.py``."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest


@pytest.fixture(autouse=True)
def own_settings(tmp_path, monkeypatch):
    """Every test has settings of its own."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
