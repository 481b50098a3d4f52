"""Every verb, file and device on input changed at random: how often what came of it, and what took longest.

    python tools/fuzz.py 20000 girth "DXF section" folder      (no names: all of them)

Prints a line for each: how many ended with status 0, 1 and 2 (or were read and refused), how many with anything else,
how many took over two seconds, and the longest; those are timed once more at the end, alone. What a verb loads when it
is first asked is loaded before, and no case asks for more searching than its document does. What went wrong is kept
with its input in ``build/fuzz``.
"""

from __future__ import annotations

import contextlib
import io
import json
import random
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))

from fuzzing import DEVICES, DOCUMENTS, FILES, OF_JOBS, ask_at_random, changed, read_at_random
from yattle.cli import main

SLOW = 2.0  # seconds
KEPT = Path("build/fuzz")


def _verb(name: str, seed: int, folder: Path) -> str:
    """Run a verb on one changed document; its status, or what is wrong with how it ended."""
    draw = random.Random(f"{name} {seed}")
    return _ask(name, [changed(draw, draw.choice(_documents(name))) for _ in range(_many(name))], folder)


def _documents(name: str) -> tuple[Any, ...]:
    found: tuple[Any, ...] = OF_JOBS.get(name) or DOCUMENTS[name]
    return found


def _many(name: str) -> int:
    return 2 if name == "together" else 1


def _ask(name: str, documents: list[Any], folder: Path) -> str:
    verb, files = name.partition(" ")[0], [folder / f"{n}.json" for n in range(len(documents))]
    for file, document in zip(files, documents, strict=True):
        file.write_text(json.dumps(document))
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        more = ["--out", str(folder / "out")] if verb == "plan" else []
        status = main([verb, *map(str, files), *more])
    said, told = out.getvalue(), err.getvalue()
    if status == 2:
        return "2" if not said and (verb == "plan" or told.count("\n") == 1) else f"status 2 with {said!r}, {told!r}"
    document = json.loads(said)
    fits = status in (0, 1) and said.count("\n") == 1 and document.get("ok", True) == (status == 0)
    return str(status) if fits else f"status {status} with {said[:200]!r}"


def _file(kind: str, seed: int, folder: Path) -> str:
    said = read_at_random(random.Random(f"{kind} {seed}"), kind, folder)
    return "read" if said == "read" else "refused" if "\n" not in said else said


def _device(device: str, seed: int, folder: Path) -> str:
    said = ask_at_random(random.Random(f"{device} {seed}"), device)
    return "read" if said == "taken" else "refused" if "\n" not in said else said


def _tried(one: Callable[[str, int, Path], str], name: str, seed: int) -> tuple[str, float]:
    """What came of one case, and seconds."""
    with tempfile.TemporaryDirectory() as folder:
        began = time.perf_counter()
        try:
            came = one(name, seed, Path(folder))
        except Exception:
            came = traceback.format_exc()
        took = time.perf_counter() - began
        if came not in ("0", "1", "2", "read", "refused"):
            KEPT.mkdir(parents=True, exist_ok=True)
            (KEPT / f"{name} {seed}.txt").write_text(came)
    return came, took


def _all(count: int, names: list[str]) -> None:
    kinds = dict.fromkeys((*DOCUMENTS, *OF_JOBS), _verb) | dict.fromkeys(FILES, _file) | dict.fromkeys(DEVICES, _device)
    for name in names or kinds:
        statuses: Counter[str] = Counter()
        slow: list[tuple[float, int]] = []
        longest = 0.0
        if kinds[name] is _verb:  # what a verb loads when it is first asked is loaded before
            with tempfile.TemporaryDirectory() as folder:
                _ask(name, [*_documents(name)[-1:]] * _many(name), Path(folder))
        for seed in range(count):
            came, took = _tried(kinds[name], name, seed)
            statuses[came if len(came) < 8 else "wrong"] += 1
            longest = max(longest, took)
            if took > SLOW:
                slow.append((took, seed))
        again = [(_tried(kinds[name], name, seed)[1], seed) for _, seed in sorted(slow)[-10:]]
        said = ", ".join(f"{took:.1f} s (seed {seed})" for took, seed in again)
        print(f"{name}: {dict(sorted(statuses.items()))}, longest {longest:.2f} s, {len(slow)} over {SLOW:g} s"
              + (f"; the slowest again: {said}" if again else ""), flush=True)


if __name__ == "__main__":
    _all(int(sys.argv[1]) if len(sys.argv) > 1 else 200, sys.argv[2:])
