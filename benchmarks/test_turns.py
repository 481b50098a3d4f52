"""The window never waits: the longest turn of its event loop, and how soon an edit is painted. They measure only."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest


@pytest.mark.parametrize("which", ["demo", "large"])
def test_turns_of_the_event_loop(benchmark, which):
    """Wanted: no turn over 100 ms on the demo, 250 ms on 60 blocks and 2,500 pieces; a leg painted in 50 ms in the
    median, also while everything of the edit before still runs; the standard's leg in 150 ms."""
    script = Path(__file__).with_name("turns.py")
    done = benchmark.pedantic(lambda: subprocess.run([sys.executable, str(script), which], check=True,
                                                     capture_output=True, text=True), rounds=1)
    found = json.loads(done.stdout)
    benchmark.extra_info.update({name: json.dumps(value) for name, value in found.items()})
    print(f"\n{which}: {json.dumps(found, indent=1)}")
