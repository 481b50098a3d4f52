"""A page of what the check of the roof as built looks at and what it finds: built_page.py FILE."""

from __future__ import annotations

import json
import math
import sys
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from random_compounds import of_compounds
from random_roofs import advised, of_a_hipped_ell, of_a_start, of_an_ell, of_any_shape, of_several, with_openings

from yattle.built.checked import Checked, check_built, check_standing
from yattle.built.mutants import Mutant, hem_turned, longer, mirrored, turned, turned_over, wider_leg
from yattle.built.placed import PlacedPiece, places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all
from yattle.derive import Derived, derive
from yattle.derive.run import DerivedRun, common_of, detail_of
from yattle.details.develop import develop
from yattle.details.trim import Trim
from yattle.job import Job, demo_path, load
from yattle.job.model import FaceNote
from yattle.job.panel_systems import with_system
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
    ("a hem the other way", tuple(hem_turned(n) for n in _FOLDS)),
    ("the other hand", (mirrored,)),
)
_ROOFS, _STEP = 100, 4
_ROWS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
_HEAD = """# The roof put together, and what the check sees

`yattle built JOB` folds every written pattern up, puts it at its place and holds it against what is round it; with
`--out` it writes `built.json`, and all of it as `built.glb`. Into a folder that holds a pack it is asked of the
patterns found there: what cannot be read, is not there or is not as the job has it is said first
(`papers/written.py`), and the roof is not `ok`. `plan` writes the same, the model among its `models`; where a row of
the first seven fails its status is 1 and every page of its papers is marked. The rows, by code that knows only
patterns, places, heights, laps, the order of fitting and the roof's planes:

- **bears**: the best part of a trim lies on each of its faces, on the deck, the flats, the seams or the closures,
  within 1 mm (`built/bears.py`), a pan's floor on the flats, a zed's foot on the flats and its top under its trim, a
  counterflashing and a wall zed on their wall, a vent strip on the back of its board and against the soffit, cleats on
  the deck and on their boards, flashings of openings on the flats, caps of
  corners on the faces round them (`built/flanges.py`), what stands at a chimney or a curb on its side
  (`built/forms.py`); over the face itself, not only in line with it; pitch breaks and gutters are not asked.
- **cover**: two pieces of a run lie on each other over the run's lap, at most 1 mm short, no more than 3 mm too far,
  with at least 70 % of the upper sheet there on the lower one (`built/cover.py`); every trim goes as far as its end's
  plane in the roof, 3 mm off at the most, and a pan's floor fills its panel's outline (`built/ends.py`); the leg that
  lies on a face ends on the chalk line that fitting snaps for it (`built/lines.py`); zeds lie under
  their trim, as far behind its edge as the house has it, their foot on the dry side of them, their top out to the edge
  (`built/hidden.py`); a counterflashing comes down over its upstand by the house's face, goes as far as its run, and
  into the wall along the top of the upstand (`built/counters.py`); the trim of one run lies over that of another, where
  fitting says so, by the house's lap along the water, or as far as the lower one goes, and an eave's goes round the
  gable's corner (`built/trim_laps.py`); the
  pieces of an opening or a corner lie on each other and on what stands there as their form lays them, 70 % of it at
  the least (`built/forms.py`); caps over seams come down over both sides, a flange on the flats at each
  (`built/seam_caps.py`).
- **hook**: the locks of pans made in the shop reach 8 mm or more into their neighbours' and go round them; a rake's hem
  and kick hold its cleat's lip between them as deep, a pan's hem the strip at its eave, each cleat and strip held by
  its hem and not by its raw edge (`built/hook.py`); a counterflashing reaches as deep into its kerf.
- **clash**: nothing goes more than 1 mm through another piece, a bought panel, its seams or its ribs, a wall, a board,
  a chimney, a curb (`built/clash.py`, `built/crossings.py`). What is dressed by hand gives way: end tabs, ends carried
  over a ridge or turned under, heads of pans turned up with the tongs, what panels are left longer at hips and ridges,
  valleys' ribs under the caps at their heads (`built/dressed.py`); a valley's foot over the panels below. Shingles are
  cut on the roof: the courses they lie in stand for them.
- **slot**: a place of a face, over 5 mm wide, over which no sheet lies (`built/slots.py`); a place under a trim's edge
  at which one sees in over the flats, over more than 5 mm along it and up (`built/mouths.py`).
- **water**: drops let go beside every joint, and from a grid over every face (`built/drops.py`): what comes off an
  edge, or over a hem at it, lands on a sheet or clear of the roof, and nothing runs in under a sheet that lies over
  its own; of two pieces on a slope the upper one lies over;
  kicks throw it clear of the board, or the upstand (`built/drips.py`); hems of trims, pans and openings lie on
  their dry side, in valleys and at walls along which water runs on the wet one unless a zed or a seam carries their
  edge, of cleats and strips on their back, pockets of pans behind their turn-up (`built/hem_sides.py`); what wind
  drives up under a lap, as high as the house lets a lap rise, does not come over its upper end (`built/wind.py`).
- **open**: a piece that has a place and no pattern.
- **sealant**, told: where water comes against a piece that only tape, a bead or screws through it close.
- **goes in**, told: what is hooked, tucked or slid in past what is on before it, straight, turned, or with a leg
  sprung at its fold (`built/goes_in.py`), at openings too (`built/fitted_openings.py`): what stands in the way, how
  far it is to be loosened, or what to fit first.
- **laps**, told: what fitting says lies over another item and lies under it (`built/told.py`).

Not asked: upright slots at rakes (the panel's edge is turned up there on the roof) and over panels that are shut by
strips cut to their profile, and what wind drives in there; sharp corners at the ends of hips that the last zed, cut
along the seams, does not reach into: these are told, to be closed on the roof.
How often the rows still hold with the shop's scatter is sampled for Fit (`built/tolerance.py`).

After an edit of some runs only what it touches is placed and asked again (`built/again.py`); the window then has the
whole asked, and says nothing old meanwhile. The rows, and the panels of a large roof, are shared with a copy of the
process on another core (`cores.py`).

## What the shapes are cut with

A tree over boxes and flat cuts (shapely), after which few pairs are left for exact tests. Measured once on the sail
loft, 283 pieces of 1,367 flat parts, on one core:

- Boxes, then planes, then flat cuts, as it is: 0.07 s. Of 85 pairs of parts that reach through each other's planes
  10 pairs of pieces come out, with how deep.
- Triangles in a collision tree (python-fcl): 0.05 s and 0.08 s. 353 pairs, 6,504 contacts: sheets that lie on each
  other touch, and nothing says which go through.
- Each part as a solid 0.6 mm thick (manifold3d): 0.28 s and 1.5 s. 348 of 404 pairs share some volume.
- 20,000 drops by the tree over the plan, as it is: 0.03 s, every sheet over and under each of them. As rays
  (embreex): 0.04 s.

So nothing more is installed: sheets lie on each other everywhere, and what is asked is by how much one goes through.

## Single faults in sound roofs

One fault at a time in every fourth trim, strip and pan: how many, and which row saw them. Of 10 mm shorter pans nothing
is seen where their head ends under a cap: there it does not matter.
"""

_RANDOM = """{many} random roofs of each sort, with every system of the library: the five starts with any pitches from
3 to 60°; houses of any size with gables, hips, unequal pitches, eaves level or not, wings, gable and shed dormers,
lean-tos; of these with something in front and behind (the same again, a lean-to, an opening), their bearing any; in
the shape of an L, a wing at the gable in line with it or well in from it; and houses with a chimney, a curb or a pipe
of any size at any place. Where one comes too close to itself (an eave hangs low over another roof, a ridge comes in
just below another or in an overhang, a gable hardly comes out over a ridge), that is said of the edge before anything
is made, with an eave height that was tried; of what stands too close to an edge it is said how far it is to be moved:
built so, it should be silent. A curb or a pipe across a hip or a valley is refused, and its place lies open."""

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
        said = " | ".join(str(many) for many in _seen_of_forms(derived, placed, standing))
        lines.append(f"| {name} | of an opening or a corner, any fold the other way | {said} |")
    lines += ["", "One of a kind, in the sail loft (the last on a roof with a pitch break):", "",
              "| fault | rows that see it |", "|---|---|"]
    lines += [f"| {what} | {', '.join(sorted(rows)) or 'none'} |" for what, rows in _of_a_kind()]
    lines += ["", "## Findings on roofs that nobody made wrong", "", _RANDOM.format(many=_ROOFS), "",
              "| roofs | said to be too close | with a finding as they are | with one when built as advised |",
              "|---|---|---|---|"]
    for what, make in (("the five starts, any pitches", of_a_start), ("of any shape", of_any_shape),
                       ("in the shape of an L", of_an_ell), ("hipped, in the shape of an L", of_a_hipped_ell),
                       ("of several parts", of_several), ("compound ones", of_compounds),
                       ("with what stands in their faces", with_openings)):
        lines.append(f"| {what} | {' | '.join(map(str, _random(make)))} |")
    lines += ["", "Made by `tools/built_page.py`; the roofs by `tools/random_roofs.py`, the compound ones by "
                  "`tools/random_compounds.py`."]
    return "\n".join(lines) + "\n"


def _of_a_kind() -> Iterator[tuple[str, set[str]]]:
    """Faults that are not a pattern's own."""
    sound = derive(load(demo_path("sail-loft")))
    placed, _ = places_of(sound)
    standing = stand_all(sound.patterns, placed)

    def rows(derived: Derived, there: dict[str, Standing]) -> set[str]:
        return _rows_of(check_standing(derived, placed, there)) - {"sealant"}
    cap, rake = (next(run for run in sound.runs if run.run.kind == kind and not run.run.layer and len(run.pieces) > 1)
                 for kind in ("ridge", "rake"))
    one, other = sorted(rake.pieces, key=lambda piece: piece.pattern.length)[::len(rake.pieces) - 1][:2]
    swapped = (one.pattern.model_copy(update={"id": other.id}), other.pattern.model_copy(update={"id": one.id}))
    yield "two pieces of a rake exchanged", rows(sound, {**standing, **stand_all(swapped, placed)})
    yield "a piece left out", rows(sound, {name: piece for name, piece in standing.items() if name != one.id})
    narrow = [made for piece in cap.pieces if (made := wider_leg(0, -60.0)(piece.pattern)) is not None]
    narrow = [made for piece in narrow if (made := wider_leg(1, -60.0)(piece)) is not None]
    yield "a cap narrower than its closures", rows(sound, {**standing, **stand_all(narrow, placed)})
    cleat = next(piece for piece in standing.values() if piece.pattern.startswith(f"{rake.run.id}.k"))
    low = tuple(part + np.array([0.0, 0.0, -10.0]) for part in cleat.parts)
    yield "a cleat 10 mm too low", rows(sound, {**standing, cleat.name: Standing(cleat.name, cleat.pattern, low)})
    past = {facet.id: sound.job.panel_rule(facet.id).overhang + 20.0 for facet in sound.roof.facets}
    yield "the panels' overhang 20 mm more after the trims", rows(derive(_laid(sound.job, "overhang", past)), standing)
    face = next(found.facets[0] for found in sound.roof.openings if found.opening.kind == "pipe")
    seam = (sound.panels[face].start + sound.job.panel_rule(face).coverage / 2) % sound.job.panel_rule(face).coverage
    yield "a seam under a base plate", rows(derive(_laid(sound.job, "start", {face: seam})), standing)
    zed = next(run for run in sound.runs if run.run.layer == "closure" and run.pieces)
    long = longer(40.0)(zed.pieces[0].pattern)
    yield "a zed longer than its gap", rows(sound, {**standing, **stand_all((long,) if long else (), placed)})
    eave = next(run for run in sound.runs if run.run.kind == "eave" and run.run.left == "wrap")
    bare = [piece.pattern for piece in develop(_trim(sound, eave).but(left="plain", right="plain")).pieces]
    yield "a wrap forgotten", rows(sound, {**standing, **stand_all(bare, placed)})
    yield "a lap turned", rows(_turned_lap(sound), standing)
    yield "the upper face for the lower one at a pitch break", _break_turned()


def _trim(derived: Derived, run: DerivedRun) -> Trim:
    assert run.family is not None
    return detail_of(run.run, run.family, run.standard, common_of(derived.job))


def _turned_lap(derived: Derived) -> Derived:
    """The pieces of a valley marked to lap the other way: the lower one over the upper one."""
    valley = next(run for run in derived.runs if run.run.kind == "valley" and len(run.pieces) > 1)
    other: dict[str, Any] = {"under": "over", "over": "under"}
    pieces = tuple(replace(piece, ends=(replace(one, kind=other.get(one.kind, one.kind)),
                                        replace(two, kind=other.get(two.kind, two.kind))))
                   for piece in valley.pieces for one, two in [piece.ends])
    wrong = replace(valley, detail=replace(valley.detail, pieces=pieces))
    return replace(derived, runs=tuple(wrong if run is valley else run for run in derived.runs))


def _break_turned() -> set[str]:
    """A steep roof over a shallow one, the trim between them made as if it were the other way round."""
    blocks = ({"id": "main", "kind": "gable", "x": 0, "y": 0, "length": 9000, "span": 7000, "pitch": 40,
               "eave_height": 3000 + 2500 * math.tan(math.radians(15)), "rake_overhang": 300},
              {"id": "low", "kind": "shed", "x": 0, "y": -4750, "length": 9000, "span": 2500, "eave_height": 3000,
               "pitch": 15, "eave_overhang": 300, "rake_overhang": 300})
    roof = RoofPlan.model_validate_json(json.dumps({"blocks": blocks}))
    derived = derive(with_system(Job(name="break", roof=roof), "double seam 430 x 25"))
    placed, _ = places_of(derived)
    run = next(one for one in derived.runs if one.run.kind == "pitch-break" and not one.run.layer)
    trim: Any = _trim(derived, run)
    wrong = [piece.pattern for piece in develop(trim.but(upper=trim.lower, lower=trim.upper)).pieces]
    standing = stand_all(derived.patterns, placed)
    assert not _rows_of(check_standing(derived, placed, standing)) & set(_ROWS)
    return _rows_of(check_standing(derived, placed, {**standing, **stand_all(wrong, placed)})) - {"sealant"}


def _laid(job: Job, field: str, values: dict[str, float]) -> Job:
    """The job with one measure of some faces' panels another."""
    notes = tuple(FaceNote(face=face, panels=job.panel_rule(face).but(**{field: value}),
                           structure=job.structure_of(face)) for face, value in values.items())
    return job.but(faces=(*(note for note in job.faces if note.face not in values), *notes))


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


def _seen_of_forms(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing]) -> Row:
    """The same of every piece of an opening or a corner, each fold the other way."""
    looked = {one.pattern for one in standing.values()}
    rows = [_row(derived, placed, standing, wrong) for one in derived.openings if one.kind != "pans"
            for piece in one.pieces if piece.pattern.id in looked for n in range(len(piece.pattern.folds))
            if (wrong := turned_over(n)(piece.pattern)) is not None]
    return len(rows), *(sum(name in row for row in rows) for name in _ROWS), sum(bool(row) for row in rows)


def _row(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing], wrong: Pattern) -> set[str]:
    """Which rows see a wrong pattern."""
    other = stand_all((wrong,), placed)
    return _rows_of(check_standing(derived, placed, {**standing, **other}, frozenset({wrong.id})))


def _rows_of(found: Checked) -> set[str]:
    return {one["row"] for one in said_of(found)}


def _random(make: Callable[[int], Job]) -> tuple[int, int, int]:
    """Of so many random roofs: how many are said to be too close to themselves, how many have a finding as they are,
    and how many where those too close are built with the height that is said."""
    said = found = left = 0
    for seed in range(_ROOFS):
        derived = derive(make(seed))
        other = advised(derived)
        wrong = bool(_rows_of(check_built(derived, places_of(derived)[0])) & set(_ROWS))
        said, found = said + (other is not None), found + wrong
        if other is not None:
            wrong = bool(_rows_of(check_built(other, places_of(other)[0])) & set(_ROWS))
        left += wrong
    return said, found, left


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(page())
