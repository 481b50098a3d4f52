"""A page of what the check of the roof as built looks at and what it finds: built_page.py FILE."""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Iterator
from pathlib import Path

from yattle.built.checked import Checked, check_built, check_standing
from yattle.built.mutants import Mutant, longer, mirrored, turned, wider_leg
from yattle.built.placed import PlacedPiece, places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all
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
    ("the other hand", (mirrored,)),
)
_ROOFS, _STEP = 100, 4
_ROWS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
_HEAD = """# The roof put together, and what the check sees

`yattle built JOB` folds every written pattern up, puts it at its place and holds it against what is round it. `plan`
writes the same as `built.json`, and all that has a place as `models/built.glb`. Rows worked out so far, by code that
knows only patterns, places, heights, laps and the roof's planes:

- **bears**: the best part of a trim lies on each of its faces, on the deck, the flats, the seams or the closures,
  within 1 mm (`built/bears.py`), a pan's floor on the flats, a zed's foot on the flats and its top under its trim, a
  counterflashing on its wall, an eave's cleat on the deck; pitch breaks and gutters are not asked.
- **cover**: two pieces of a run lie on each other over the run's lap, at most 1 mm short, no more than 3 mm too far,
  with at least 70 % of the upper sheet there on the lower one (`built/cover.py`); every trim goes as far as its end's
  plane in the roof, 3 mm off at the most (`built/ends.py`).
- **hook**: the locks of pans made in the shop reach 8 mm or more into their neighbours', and a rake's hem and kick hold
  its cleat's lip between them as deep (`built/hook.py`).
- **clash**: nothing goes more than 1 mm through another piece (`built/clash.py`). What is dressed by hand gives way:
  end tabs, ends carried over a ridge or turned under, heads of pans turned up with the tongs (`built/dressed.py`). It
  is told, and does not yet stop a plan.
- **slot**: a place of a face, over 5 mm wide, over which no sheet lies (`built/slots.py`); told, as clash is.
- **water**: on a slope the upper of two pieces lies over the lower one (`built/water.py`).
- **open**: a piece that has a place and no pattern.

Not yet: drops over the whole, sealant, goes in; slots that stand upright; bought panels' seams; pieces of one opening
against each other. Corner pieces and further copies of an opening's pieces have no place. The answer names each of them
and is never `ok`. Of 10 mm shorter pans nothing is seen where their head ends under a cap: there it does not matter.

## Single faults in sound roofs

One fault at a time in every fourth trim, strip and pan that has a place: how many, and which row saw them.
"""

Row = tuple[int, ...]


def page() -> str:
    """The page as Markdown."""
    lines = [_HEAD, f"| roof | fault | tried | {' | '.join(_ROWS)} | seen |", f"|{'---|' * (len(_ROWS) + 4)}"]
    for name, derived in _three():
        placed, _ = places_of(derived)
        standing = stand_all(derived.patterns, placed)
        for what, mutants in _MUTANTS:
            said = " | ".join(str(many) for many in _seen(derived, placed, standing, mutants))
            lines.append(f"| {name} | {what} | {said} |")
    wrong = [seed for seed in range(_ROOFS) if _rows_of(_random(seed))]
    lines += ["", "## Findings on roofs that nobody made wrong", "",
              f"{len(wrong)} of {_ROOFS} random roofs (every start, every system of the library, 3° to 60°) have one: "
              "blocks that meet with unequal pitches, eaves at unequal levels or a ridge just above another, whose "
              "trims do go through each other there.",
              "", "Made by `tools/built_page.py`."]
    return "\n".join(lines) + "\n"


def _three() -> Iterator[tuple[str, Derived]]:
    for name in ("sail-loft", "net-shed"):
        yield name, derive(load(demo_path(name)))
    yield "hip", derive(_long_cuts(with_system(Job(name="hip", roof=STARTS["hip"]), "double seam 430 x 25")))


def _long_cuts(job: Job) -> Job:
    """Nine metres are cut off the coil, so that pans are pieces."""
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


def _seen(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing],
          mutants: tuple[Mutant, ...]) -> Row:
    """How many wrong pieces were tried, how many each row saw, and how many any of them."""
    looked = {one.pattern for one in standing.values()} - {
        piece.pattern.id for one in derived.openings if one.kind != "pans" for piece in one.pieces}
    rows = [_row(derived, placed, standing, wrong) for pattern in derived.patterns[::_STEP] if pattern.id in looked
            for make in mutants if (wrong := make(pattern)) is not None]
    return len(rows), *(sum(name in row for row in rows) for name in _ROWS), sum(bool(row) for row in rows)


def _row(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing], wrong: Pattern) -> set[str]:
    """Which rows see a wrong pattern."""
    other = stand_all((wrong,), placed)
    return _rows_of(check_standing(derived, placed, {**standing, **other}, frozenset({wrong.id})))


def _rows_of(found: Checked) -> set[str]:
    return {one["row"] for one in said_of(found)}


def _random(seed: int) -> Checked:
    rng = random.Random(seed)
    plan = json.loads(STARTS[rng.choice(sorted(STARTS))].model_dump_json())
    for block in plan["blocks"]:
        block["pitch"] = rng.choice([3, 6, 12, 18, 25, 30, 38, 45, 52, 60])
    job = Job(name="any", roof=RoofPlan.model_validate_json(json.dumps(plan)))
    derived = derive(_long_cuts(with_system(job, rng.choice(sorted(system.name for system in library())))))
    return check_built(derived, places_of(derived)[0])


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(page())
