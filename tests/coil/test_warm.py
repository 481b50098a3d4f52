"""The compiled search made ready: anew where the cache is another version's, and never waited for in vain."""

from __future__ import annotations

import threading
import time

import pytest

from yattle.coil import compiled, warm


@pytest.fixture
def cold(monkeypatch, tmp_path):
    """As if nothing was loaded yet; the cache is a folder of its own. Told: each try to load."""
    for name in ("_over", "_ready"):
        monkeypatch.setattr(warm, name, threading.Event())
    monkeypatch.setattr(warm, "_started", threading.Lock())
    kept = tmp_path / "compiled.improve-1.py311.nbi"
    kept.write_bytes(b"of another version")
    (tmp_path / "other.nbi").write_bytes(b"not ours")
    monkeypatch.setattr(type(compiled.improve.stats), "cache_path", str(tmp_path), raising=False)
    return kept


def soon() -> float:
    return time.perf_counter() + 60.0


def test_what_another_version_left_in_the_cache_is_thrown_away(cold, monkeypatch):
    tried = []

    def load():
        tried.append(cold.exists())
        if cold.exists():
            raise AttributeError("Can't get attribute 'Shop'")

    monkeypatch.setattr(warm, "_warm", load)
    assert warm.ready(soon()) and tried == [True, False]
    assert (cold.parent / "other.nbi").exists()


def test_nobody_waits_for_what_cannot_be_compiled(cold, monkeypatch, caplog):
    def never():
        raise RuntimeError("no compiler")

    monkeypatch.setattr(warm, "_warm", never)
    began = time.perf_counter()
    assert not warm.ready(began + 60.0) and time.perf_counter() - began < 10.0
    assert not warm.ready(soon()) and "cannot be used" in caplog.text
