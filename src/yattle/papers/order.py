"""What to order, by kind and so by who sells it: metal, panels, fixings, sealing, underlay; what is left out."""

from __future__ import annotations

from typing import Any

from yattle.csv_tables import as_csv
from yattle.derive.derived import Derived
from yattle.install.answers import order_answer
from yattle.install.schedule import many_says
from yattle.measure import SheetArea, Unit, say_length

ORDER_COLUMNS = ("kind", "what", "in_all", "unit", "packs", "a_pack")
_PACKED = (("Fixings", "fixings"), ("Sealing", "sealing"), ("Underlay", "sheets"), ("Fillers", "fillers"))
_A_PACK = {"tape": "rolls", "lap tape": "rolls", "underlay": "rolls", "sealant": "tubes"}


def order_groups(derived: Derived, unit: Unit) -> list[tuple[str, list[str]]]:
    """Kinds with a line for each thing, in words."""
    answer = order_answer(derived)
    metal = [_metal_says(row, derived, unit) for row in answer["metal"]]
    faces: dict[str, list[str]] = {}
    for row in answer["panels"]:
        faces.setdefault(row["face"], []).append(f"{row['qty']} × {say_length(row['length'], unit, 0)}")
    panels = [f"face {face}: {', '.join(rows)}" for face, rows in faces.items()]
    groups = [("Metal", metal), ("Panels", panels)]
    for title, key in _PACKED:
        groups.append((title, [_pack_says(pack, unit) for pack in answer[key]]))
    return [*groups, ("Left out", list(answer["left_out"]))]


def _metal_says(row: dict[str, Any], derived: Derived, unit: Unit) -> str:
    wide = f", {say_length(row['width'], unit, 0)} wide" if row["width"] else ""
    if row["kind"] != "coil":
        return f"{row['metal']}, {row['kind']} from the rack: {SheetArea(row['area']).say(unit)}"
    spare = 1 + derived.job.fit.spare
    long, more = (say_length(row["length"] * share, unit, 0, mark=True) for share in (1, spare))
    return f"{row['metal']}, {derived.job.colour}, coil{wide}: {long}, with spare {more}"


def _pack_says(pack: dict[str, Any], unit: Unit) -> str:
    what, name = pack["what"], _A_PACK.get(pack["what"], "packs")
    name = name.removesuffix("s") if pack["packs"] == 1 else name
    return (f"{what}: {many_says(what, pack['many'], unit)}; with spare {pack['packs']} {name} of "
            f"{many_says(what, pack['a_pack'], unit)}")


def order_list(derived: Derived) -> str:
    """CSV of everything to order with the spare: metal in mm of coil or m², panels in pieces of a length."""
    answer, rows = order_answer(derived), list[tuple[Any, ...]]()
    for row in answer["metal"]:
        wide = f" {row['width']:g} wide" if row["width"] else ""
        amount = (round(row["length"], 1), "mm") if row["kind"] == "coil" else (round(row["area"], 3), "m²")
        rows.append(("metal", f"{row['metal']} {row['kind']}{wide}", *amount, None, None))
    for row in answer["panels"]:
        rows.append(("panels", f"face {row['face']}, {row['length']:g} mm", row["qty"], "pieces", None, None))
    for _, key in _PACKED:
        rows += [(key, pack["what"], round(pack["many"], 1), pack["unit"], pack["packs"], pack["a_pack"])
                 for pack in answer[key]]
    return as_csv([ORDER_COLUMNS, *rows])
