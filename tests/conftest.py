"""Shared set-up: no real settings, no real display, and the samples of ``samples.py``."""

from __future__ import annotations

import contextlib
import os
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import settings

from yattle.coil.warm import ready

# The processes beside a window give way to everything else. Where tests run beside each other they would wait for the
# other tests' windows, so that these give way as much.
with contextlib.suppress(OSError):
    os.nice(19)

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


# Sweeps over many like cases take most of the time: of those with six cases or more `make test` takes every third one,
# of thirty or more every fifth, always the same ones, the first and the last among them. Of each module's long tests it
# takes the shortest: the others are listed in long.txt, made by tools/long_tests.py. `make thorough` takes all.
SWEEPS = {"built", "coil", "details", "panels", "papers", "ui"}
LONG = Path(__file__).with_name("long.txt")


def pytest_collection_modifyitems(config, items):
    if os.environ.get("THOROUGH") or any("::" in str(argument) or str(argument).endswith(".py") for argument in config.args):
        return
    left_out = set(LONG.read_text().splitlines())
    sweeps = {}
    for item in items:
        if SWEEPS & set(item.path.parts) and getattr(item, "originalname", item.name) != item.name:
            sweeps.setdefault((item.path, item.parent.nodeid, item.originalname), []).append(item)
    for cases in sweeps.values():
        step = 5 if len(cases) >= 30 else 3 if len(cases) >= 6 else 1
        left_out |= {case.nodeid for n, case in enumerate(cases[:-1]) if n % step}
    config.hook.pytest_deselected(items=[item for item in items if item.nodeid in left_out])
    items[:] = [item for item in items if item.nodeid not in left_out]
