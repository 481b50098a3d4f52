"""A page of what the check of the roof as built looks at and what it finds: built_page.py FILE."""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Iterator
from pathlib import Path

from yattle.built.checked import Checked, check_built
from yattle.built.mutants import Mutant, longer, turned, wider_leg
from yattle.built.placed import PlacedPiece, places_of
from yattle.derive import Derived, derive
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.panels import library
from yattle.pattern import Pattern
from yattle.roof import RoofPlan
from yattle.roof.starts import STARTS

_FOLDS = range(6)
_MUTANTS: tuple[tuple[str, tuple[Mutant, ...]], ...] = (
    ("10 mm shorter", (longer(-10.0),)), ("10 mm longer", (longer(10.0),)),
    ("a leg 5 mm wider", tuple(wider_leg(n, 5.0) for n in _FOLDS)),
    ("a leg 5 mm narrower", tuple(wider_leg(n, -5.0) for n in _FOLDS)),
    ("a fold the other way", tuple(turned(n, lambda turn: -turn) for n in _FOLDS)),
    ("a fold 5° more", tuple(turned(n, lambda turn: turn + 5.0) for n in _FOLDS)),
)
_ROOFS = 100
_HEAD = """# The roof put together, and what the check sees

`yattle built JOB` folds every written pattern up, puts it at its place and holds it against what it lies on. `plan`
writes the same as `built.json`, and all that has a place as `models/built.glb`. Two rows are worked out so far, by code
that knows only patterns, places, heights and laps:

- **bears**: the best part of a trim lies on each of its faces, on the deck, the flats, the seams or the closures,
  within 1 mm (`built/bears.py`); pitch breaks and gutters are not asked.
- **cover**: two pieces of a run lie on each other over the run's lap, at most 1 mm short, no more than 3 mm too far,
  with at least 70 % of the upper sheet there on the lower one (`built/cover.py`).

Not yet: clash, hook, open, water, sealant, goes in. Layers, corner pieces and further copies of an opening's pieces
have no place. The answer names each of them and is never `ok`.

## Single faults in sound roofs

One fault at a time in every trim that is looked at: how many, and which row saw them. What no row saw lies neither on a
face nor in a lap: it is what the missing rows are for.
"""

Row = tuple[int, int, int, int]


def page() -> str:
    """The page as Markdown."""
    lines = [_HEAD, "| roof | fault | tried | bears | cover | seen |", "|---|---|---|---|---|---|"]
    for name, derived in _three():
        placed, _ = places_of(derived)
        for what, mutants in _MUTANTS:
            tried, bears, cover, seen = _seen(derived, placed, mutants)
            lines.append(f"| {name} | {what} | {tried} | {bears} | {cover} | {seen} |")
    wrong = sum(bool(_findings(_random(seed))) for seed in range(_ROOFS))
    lines += ["", "## False findings", "",
              f"{wrong} of {_ROOFS} random sound roofs (every start, every system of the library, 3° to 60°) have one.",
              "", "Made by `tools/built_page.py`."]
    return "\n".join(lines) + "\n"


def _three() -> Iterator[tuple[str, Derived]]:
    for name in ("sail-loft", "net-shed"):
        yield name, derive(load(demo_path(name)))
    yield "hip", derive(with_system(Job(name="hip", roof=STARTS["hip"]), "double seam 430 x 25"))


def _seen(derived: Derived, placed: list[PlacedPiece], mutants: tuple[Mutant, ...]) -> Row:
    looked = {one.piece for one in check_built(derived, placed).contacts}
    rows = [_row(derived, placed, wrong) for pattern in derived.patterns if pattern.id in looked
            for make in mutants if (wrong := make(pattern)) is not None]
    return (len(rows), sum(b for b, _ in rows), sum(c for _, c in rows), sum(b or c for b, c in rows))


def _row(derived: Derived, placed: list[PlacedPiece], wrong: Pattern) -> tuple[bool, bool]:
    """Whether bears and cover see a wrong pattern."""
    patterns = [wrong if pattern.id == wrong.id else pattern for pattern in derived.patterns]
    found = check_built(derived, placed, patterns, frozenset({wrong.id}))
    return _bears(found), _cover(found)


def _bears(found: Checked) -> bool:
    return any(not one.ok for one in found.contacts)


def _cover(found: Checked) -> bool:
    return any(not one.ok or one.long for one in found.covers)


def _findings(found: Checked) -> bool:
    return _bears(found) or _cover(found)


def _random(seed: int) -> Checked:
    rng = random.Random(seed)
    plan = json.loads(STARTS[rng.choice(sorted(STARTS))].model_dump_json())
    for block in plan["blocks"]:
        block["pitch"] = rng.choice([3, 6, 12, 18, 25, 30, 38, 45, 52, 60])
    job = Job(name="any", roof=RoofPlan.model_validate_json(json.dumps(plan)))
    derived = derive(with_system(job, rng.choice(sorted(system.name for system in library()))))
    return check_built(derived, places_of(derived)[0])



if __name__ == "__main__":
    Path(sys.argv[1]).write_text(page())
