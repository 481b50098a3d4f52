"""Lists, labels and files for machines: every piece once, in measures that agree with the job."""

from __future__ import annotations

import csv
import io
import json
import re
from collections import Counter
from dataclasses import replace

import ezdxf
import numpy as np
import pytest
import trimesh
from pypdf import PdfReader

from samples import eaves_path, made
from yattle.coil import Stock
from yattle.derive import derive
from yattle.derive.roof_runs import roof_runs
from yattle.details import FAMILIES, develop
from yattle.drawing import pattern_drawing
from yattle.install.installation import installation
from yattle.job import demo_path, load
from yattle.papers.codes import CODE
from yattle.papers.dxf import drawing_to_dxf
from yattle.papers.gltf import piece_to_glb
from yattle.papers.labels import offcut_labels, piece_labels, write_labels
from yattle.papers.order import order_list
from yattle.papers.roof import roof_to_dxf, roof_to_glb
from yattle.papers.site import write_site_pack
from yattle.papers.svg import drawing_to_svg
from yattle.papers.tables import cut_list, panel_list

EAVES, SHED, LOFT = (derive(load(path)) for path in (eaves_path(), demo_path("net-shed"), demo_path()))


def rows(text):
    return list(csv.DictReader(io.StringIO(text)))


# -- lists ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("derived", [EAVES, SHED], ids=["eaves", "shed"])
def test_the_cut_list_has_every_pattern_with_its_own_measures(derived):
    found = {row["piece"]: row for row in rows(cut_list(derived))}
    assert set(found) == {pattern.id for pattern in derived.patterns}
    for pattern in derived.patterns:
        row = found[pattern.id]
        assert float(row["blank_length_mm"]) == pytest.approx(pattern.length, abs=1e-3)
        assert float(row["girth_mm"]) == pytest.approx(pattern.girth, abs=1e-3) and int(row["qty"]) == pattern.qty
    placed = {place.part for place in derived.nest.placements}
    assert {name for name, row in found.items() if row["stock"]} == placed & set(found)
    said = {(name, *place.split(": ")[:1], place.split(": ")[1].rsplit(" ", 2)[0]) for name, row in found.items()
            for place in row["places_mm"].split("; ") if place}
    assert said == {(p.part, str(p.copy), p.stock) for p in derived.nest.placements if p.part in found}, "a place for each copy"


def test_the_order_list_has_packs_enough_and_no_pack_too_many():
    packs = {pack.what: pack for pack in installation(SHED).packs}
    found = rows(order_list(SHED))
    packed = [row for row in found if row["packs"] and "profile strips" not in row["what"]]
    assert {row["what"] for row in packed} == set(packs)
    metal = [row for row in found if row["kind"] == "metal"]
    assert sum(float(row["in_all"]) for row in metal if row["unit"] == "mm") == pytest.approx(
        sum(used.length for used in SHED.nest.used if used.stock.startswith("coil")), abs=0.2)
    for row in packed:
        wanted = packs[row["what"]].many * (1 + SHED.job.fit.spare)
        assert int(row["packs"]) * float(row["a_pack"]) >= wanted - 1e-6
        assert (int(row["packs"]) - 1) * float(row["a_pack"]) < wanted


def test_the_panel_list_has_every_panel_of_every_face():
    found = rows(panel_list(LOFT))
    names = {found.run.id for found in roof_runs(LOFT.job)}
    for facet in LOFT.roof.facets:
        laid = LOFT.panels[facet.id]
        mine = [row for row in found if row["face"] == facet.id]
        assert [int(row["panel"]) for row in mine] == [panel.n for panel in laid.panels]
        for row, panel in zip(mine, laid.panels, strict=True):
            assert float(row["length_mm"]) == pytest.approx(panel.length, abs=0.051)
            cuts = [cut.split()[0] for cut in row["cuts"].split(", ") if cut]
            assert len(cuts) == len(panel.cuts) and set(cuts) <= names


# -- labels -----------------------------------------------------------------------------------------------------


def test_there_is_a_label_for_every_piece_that_is_cut():
    labels = Counter(label.code for label in piece_labels(SHED))
    assert labels == Counter({f"{CODE}piece/{pattern.id}": pattern.qty for pattern in SHED.patterns})
    assert all(label.head and all(label.lines) for label in piece_labels(SHED))


def test_offcuts_have_labels_of_their_own():
    kept = [stock for stock in SHED.job.stock if stock.kind == "offcut"]
    codes = [label.code for label in offcut_labels(SHED)]
    assert len(codes) == len(set(codes)) and {f"{CODE}stock/{stock.id}" for stock in kept} <= set(codes)


def test_an_offcut_s_label_is_true():
    """A trapezoid says what is whole inside it, and an unknown rolling direction is none."""
    rack = (Stock(id="off 1", kind="offcut", metal="m", outline=((0.0, 0.0), (900.0, 0.0), (600.0, 300.0), (0.0, 300.0)), direction="unknown"),
            Stock(id="off 2", kind="offcut", metal="m", outline=((0.0, 0.0), (500.0, 0.0), (500.0, 200.0), (0.0, 200.0))))
    odd, plain = (label.lines for label in offcut_labels(replace(EAVES, job=EAVES.job.but(stock=rack))))
    assert "4 corners" in odd[2] and "600 × 300" in odd[2] and "direction not known" in odd[3]
    assert len(plain) == 3 and plain[2].endswith("rolled along the first size")


def test_labels_are_printed_each_once(tmp_path):
    write_labels(EAVES, tmp_path / "labels.pdf")
    pages = PdfReader(tmp_path / "labels.pdf").pages
    said = "\n".join(page.extract_text() for page in pages)
    for label in piece_labels(EAVES):
        assert label.head in said
    many = len(piece_labels(EAVES)) + len(offcut_labels(EAVES))
    assert len(pages) == -(-many // 24)


# -- for machines -----------------------------------------------------------------------------------------------

FLAT = [piece.pattern for name in FAMILIES for piece in develop(made(name)).pieces[:1]]


@pytest.mark.parametrize("pattern", FLAT, ids=lambda pattern: pattern.name)
def test_the_dxf_has_the_outline_closed_and_true(pattern):
    document = ezdxf.read(io.StringIO(drawing_to_dxf(pattern_drawing(pattern, None))))
    outlines = [entity for entity in document.modelspace() if entity.dxftype() == "LWPOLYLINE" and entity.closed
                and entity.dxf.layer == "CUT"]
    assert outlines
    points = np.array([point[:2] for point in outlines[0].get_points()])
    assert np.allclose(points, pattern.outline, atol=1e-6) and document.header["$INSUNITS"] == 4, "millimetres"
    assert not document.audit().errors


@pytest.mark.parametrize("pattern", FLAT, ids=lambda pattern: pattern.name)
def test_the_svg_is_as_large_as_the_piece(pattern):
    text = drawing_to_svg(pattern_drawing(pattern, None), "a <title> & more")
    assert "&lt;title&gt; &amp; more" in text and "<title> &" not in text
    wide, high = (float(re.search(rf'{side}="([\d.]+)mm"', text)[1]) for side in ("width", "height"))
    box = [float(value) for value in re.search(r'viewBox="([^"]+)"', text)[1].split()]
    assert (wide, high) == pytest.approx(box[2:]), "one to one"
    assert wide >= pattern.length and high >= pattern.girth


@pytest.mark.parametrize("pattern", FLAT[:8], ids=lambda pattern: pattern.name)
def test_the_folded_piece_has_as_much_metal_as_the_flat_one(pattern):
    """Up to what its folds take off: facets are folded up sharp, to the mould lines."""
    scene = trimesh.load(io.BytesIO(piece_to_glb(pattern)), file_type="glb")
    area = sum(float(mesh.area) for mesh in scene.geometry.values()) * 1e6  # in metres
    taken = sum(abs(fold.deduction) * float(np.hypot(fold.a[0] - fold.b[0], fold.a[1] - fold.b[1])) for fold in pattern.folds)
    sides = round(area / pattern.area)
    assert sides in (1, 2) and area / sides == pytest.approx(pattern.area, abs=1.5 * taken + 1.0)


def test_the_roof_as_gltf_and_dxf_is_the_roof():
    scene = trimesh.load(io.BytesIO(roof_to_glb(LOFT.roof)), file_type="glb")
    low, high = scene.bounds
    corners = np.array([point for edge in LOFT.roof.edges for point in (edge.a, edge.b)])
    size = np.sort(np.ptp(corners, axis=0))
    assert np.all(np.sort(high - low) * (1000 if (high - low).max() < 1000 else 1) >= size * 0.999)
    document = ezdxf.read(io.StringIO(roof_to_dxf(LOFT)))
    lines = {(tuple(np.round(entity.dxf.start[:2], 1)), tuple(np.round(entity.dxf.end[:2], 1)))
             for entity in document.modelspace() if entity.dxftype() == "LINE"}
    lines |= {(tuple(np.round(p[:2], 1)), tuple(np.round(q[:2], 1))) for entity in document.modelspace()
              if entity.dxftype() == "LWPOLYLINE" for p, q in zip(entity.get_points(), list(entity.get_points())[1:], strict=False)}
    for edge in LOFT.roof.edges:
        a, b = tuple(np.round(edge.a[:2], 1)), tuple(np.round(edge.b[:2], 1))
        assert (a, b) in lines or (b, a) in lines, edge.id


def test_the_site_pack_says_every_stage_and_what_is_to_order(tmp_path):
    write_site_pack(LOFT, tmp_path / "site.pdf")
    said = " ".join(page.extract_text() for page in PdfReader(tmp_path / "site.pdf").pages)
    found = installation(LOFT)
    assert [f"Stage {n + 1}" in said for n in range(len(found.order.stages))] == [True] * len(found.order.stages)
    for item in found.items:
        assert item.name.split(",")[0] in said
    assert "Local codes" in said and "complies" not in said
    json.dumps(found.shares)
