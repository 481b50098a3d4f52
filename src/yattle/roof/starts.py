"""Five roofs to begin with, and new blocks and openings for a roof that is there."""

from __future__ import annotations

import math
from typing import Any

from yattle.roof.build import Roof, middle
from yattle.roof.lean_to import following
from yattle.roof.model import RoofPlan
from yattle.roof.openings import outline
from yattle.roof.taped_place import free_place

_HOUSE: dict[str, Any] = {"id": "main", "kind": "gable", "x": 0.0, "y": 0.0, "length": 12000.0, "span": 8000.0,
                          "eave_height": 3000.0, "pitch": 35.0, "eave_overhang": 300.0, "rake_overhang": 250.0}
_WING: dict[str, Any] = {**_HOUSE, "id": "wing", "x": 2500.0, "y": -5000.0, "bearing": 90.0, "length": 10000.0,
                         "span": 6000.0}
_LEAN_TO: dict[str, Any] = {"id": "lean-to", "kind": "shed", "x": -1000.0, "y": -5250.0, "length": 6000.0,
                            "span": 2500.0, "eave_height": 2200.0, "pitch": 8.0, "eave_overhang": 250.0,
                            "rake_overhang": 200.0, "top_overhang": 0.0}
_HIP: dict[str, Any] = {key: value for key, value in _HOUSE.items() if key != "rake_overhang"} | {"kind": "hip"}
_DORMER: dict[str, Any] = {**_HOUSE, "id": "dormer", "y": -1600.0, "bearing": 90.0, "length": 3200.0, "span": 1800.0,
                           "eave_height": 4600.0, "eave_overhang": 150.0, "rake_overhang": 150.0}
_SHED: dict[str, Any] = {**_LEAN_TO, "id": "main", "x": 0.0, "y": 0.0, "length": 8000.0, "span": 4000.0, "pitch": 12.0,
                         "top_overhang": None}
_FLAT: dict[str, Any] = {"id": "flat", "kind": "flat", "x": 0.0, "y": 0.0, "length": 5000.0, "span": 4000.0,
                         "eave_height": 2600.0, "eave_overhang": 200.0}


def _plan(*blocks: dict[str, Any]) -> RoofPlan:
    return RoofPlan.model_validate({"blocks": tuple(blocks)})


STARTS: dict[str, RoofPlan] = {
    "gable": _plan(_HOUSE), "hip": _plan(_HIP), "gable with a wing": _plan(_HOUSE, _WING),
    "gable with a lean-to": _plan(_HOUSE, _LEAN_TO), "single slope": _plan(_SHED)}
"""Five shapes, each a roof of its own that is changed from there."""

NEW_BLOCKS: dict[str, dict[str, Any]] = {
    "gable": {**_WING, "length": 8000.0}, "shed": _LEAN_TO, "flat": _FLAT,
    "hip": {**_HIP, "id": "hip", "bearing": 90.0, "length": 8000.0, "span": 6000.0},
    "dormer": _DORMER}
NEW_OPENINGS: dict[str, dict[str, Any]] = {
    "chimney": {"kind": "chimney", "across": 900.0, "along": 600.0, "bearing": 0.0},
    "curb": {"kind": "curb", "across": 600.0, "along": 600.0, "bearing": 0.0},
    "skylight": {"kind": "skylight", "across": 780.0, "along": 980.0, "bearing": 0.0},
    "pipe": {"kind": "pipe", "diameter": 110.0}}


_SLIDE = {"gable": 0.2, "hip": 0.2, "shed": -0.1, "flat": -0.1, "dormer": -0.25}  # of the first block's length


def _free(name: str, taken: set[str]) -> str:
    return name if name not in taken else next(f"{name} {n}" for n in range(2, 1000) if f"{name} {n}" not in taken)


def add_block(plan: RoofPlan, kind: str) -> tuple[RoofPlan, str]:
    """The plan with a new block, laid against the first one where that fits the kind; and its id."""
    taken = {block.id for block in (*plan.blocks, *plan.faces)}
    new = {**NEW_BLOCKS[kind], "id": _free(NEW_BLOCKS[kind]["id"], taken)}
    if plan.blocks:
        first = plan.blocks[0]
        off = {"shed": (first.span + new["span"]) / 2, "flat": (first.span + new["span"]) / 2,
               "dormer": first.span / 2 - new["length"] / 2 - 400.0}.get(kind, new["length"] / 2)
        turn, slide = math.radians(first.bearing), _SLIDE[kind] * first.length
        new.update(x=first.x + slide * math.cos(turn) + off * math.sin(turn),
                   y=first.y + slide * math.sin(turn) - off * math.cos(turn),
                   bearing=(first.bearing + new.get("bearing", 0.0)) % 360.0)
        if kind == "dormer" and hasattr(first, "pitch"):
            new["eave_height"] = first.eave_height + 1500.0
    made = RoofPlan.model_validate({"blocks": (new,)}).blocks
    return plan.but(blocks=(*plan.blocks, *made)), str(new["id"])


def add_face(plan: RoofPlan) -> tuple[RoofPlan, str]:
    """The plan with a sketched face beside everything else, to be drawn to its own outline; and its id."""
    taken = {block.id for block in (*plan.blocks, *plan.faces)}
    left = max([b.x + (b.length + b.span) / 2 for b in plan.blocks]
               + [x for f in plan.faces for x, _ in f.outline], default=-1000.0) + 1000.0
    outline = ((left, -2000.0), (left + 5000.0, -2000.0), (left + 5000.0, 2000.0), (left, 2000.0))
    face = {"id": _free("face", taken), "outline": outline, "pitch": 30.0, "eave_height": 2600.0}
    made = RoofPlan.model_validate({"faces": (face,)}).faces
    return plan.but(faces=(*plan.faces, *made)), str(face["id"])


def add_opening(plan: RoofPlan, roof: Roof, kind: str, face: str | None) -> tuple[RoofPlan, str]:
    """The plan with a new opening on a face (the largest where none is named), in its middle or where it is free, and
    its id."""
    import shapely

    facet = next((f for f in roof.facets if f.id == face), None) or max(roof.facets, key=lambda f: f.shape.area)
    new = NEW_OPENINGS[kind]
    wide = float(max(new.get(field, 0.0) for field in ("across", "along", "diameter")))
    taken = [shapely.Polygon(outline(placed.opening)) for placed in roof.openings if facet.id in placed.facets]
    x, y = free_place(facet, taken, wide) or middle(facet)
    name = _free(kind, {opening.id for opening in plan.openings})
    new = {**new, "id": name, "x": float(round(x)), "y": float(round(y))}
    made = RoofPlan.model_validate({"openings": (new,)}).openings
    return plan.but(openings=(*plan.openings, *made)), name


def without(plan: RoofPlan, part: str) -> RoofPlan:
    """The plan without a block, face or opening of that id; openings that would be left off the roof go with it."""
    from yattle.errors import InputError
    from yattle.roof.build import build

    less = plan.but(blocks=tuple(b for b in plan.blocks if b.id != part),
                    faces=tuple(f for f in plan.faces if f.id != part),
                    openings=tuple(o for o in plan.openings if o.id != part))
    for opening in less.openings:
        try:
            build(less.but(openings=(opening,)))
        except InputError:
            less = less.but(openings=tuple(o for o in less.openings if o.id != opening.id))
    return less


def with_part(plan: RoofPlan, part: str, **changes: object) -> RoofPlan:
    """The plan with fields of one block, face or opening changed, lean-tos with the wall they stand against; raises
    :class:`InputError` for a wrong value."""
    def changed(items: Any) -> Any:
        return tuple(item.but(**changes) if item.id == part else item for item in items)
    after = plan.but(blocks=changed(plan.blocks), faces=changed(plan.faces), openings=changed(plan.openings))
    return following(plan, after, part)
