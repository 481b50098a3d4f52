"""What is written reads back: DXF by ezdxf, PDF by pypdf, SVG as XML, glTF by trimesh."""

from __future__ import annotations

import csv
import io
import xml.etree.ElementTree as ET

import numpy as np
import pytest

from samples import THREE_EAVES, eaves_path
from yattle.derive import derive
from yattle.drawing import fold_letter, pattern_drawing, section_drawing, stock_drawing
from yattle.drawing.shapes import ROLES, Line, Ring, Tag
from yattle.errors import FileProblem
from yattle.job import demo_path, load
from yattle.papers.cards import write_run_card
from yattle.papers.cut_sheet import write_cut_sheet
from yattle.papers.dxf import drawing_to_dxf
from yattle.papers.gltf import piece_to_glb
from yattle.papers.lines import PAPER
from yattle.papers.pack import write_pack
from yattle.papers.svg import drawing_to_svg
from yattle.papers.tables import COLUMNS, cut_list, panel_list
from yattle.roof.starts import STARTS

DERIVED = derive(load(eaves_path()))
RUN = DERIVED.run("E1")
PIECE = RUN.pieces[5]
DRAWING = pattern_drawing(PIECE.pattern, RUN.detail.profile)


def test_every_role_has_its_line_on_paper():
    assert set(PAPER) == set(ROLES)


def test_dxf_read_back_has_the_same_geometry():
    import ezdxf

    document = ezdxf.read(io.StringIO(drawing_to_dxf(DRAWING)))
    assert document.units == ezdxf.units.MM
    space = document.modelspace()
    outline = next(iter(space.query('LWPOLYLINE[layer=="CUT"]')))
    assert outline.closed
    assert np.allclose([p[:2] for p in outline.get_points()], PIECE.pattern.outline, atol=1e-9)
    folds = {(round(p[0][1], 6)) for line in space.query("LWPOLYLINE") if line.dxf.layer.startswith("FOLD")
             for p in [line.get_points()]}
    assert {round(fold.a[1], 6) for fold in PIECE.pattern.folds} == folds
    texts = {text.dxf.text for text in space.query("TEXT")}
    assert "B 55" in texts and "P 42" in texts and "BH 12" in texts
    assert {"CUT", "FOLD_PAINT", "FOLD_BACK", "MARK", "DIM"} <= {layer.dxf.name for layer in document.layers}


def test_svg_is_one_to_one():
    root = ET.fromstring(drawing_to_svg(DRAWING, "E1-6 & more"))
    width = float(root.get("width").removesuffix("mm"))
    assert width == pytest.approx(PIECE.pattern.length + 50, abs=0.01)
    assert root.get("viewBox").split()[2] == f"{width:.3f}"
    path = next(p for p in root.iter("{http://www.w3.org/2000/svg}path") if p.get("class") == "cut")
    points = np.array([[float(v) for v in pair.split()] for pair in path.get("d")[2:-2].split(" L ")])
    assert np.ptp(points[:, 0]) == pytest.approx(PIECE.pattern.length, abs=1e-3)
    assert np.ptp(points[:, 1]) == pytest.approx(PIECE.pattern.girth, abs=1e-3)


def test_letters_first():
    profile = RUN.detail.profile
    assert fold_letter("f1", -58.0, profile) == "B 58" and fold_letter("f2", 42.5, profile) == "P 42.5"
    assert fold_letter("hB", -180.0, profile) == "BH 12"


def test_the_broken_drawing_keeps_both_ends_and_every_letter():
    broken = pattern_drawing(PIECE.pattern, RUN.detail.profile, keep=300)
    x0, _, x1, _ = broken.box
    assert x1 - x0 == pytest.approx(630, abs=1)
    tags = [s.text for s in broken.shapes if isinstance(s, Tag)]
    assert tags == [s.text for s in DRAWING.shapes if isinstance(s, Tag)]
    assert all(x0 <= s.at[0] <= x1 for s in broken.shapes if isinstance(s, Tag))


def test_a_section_drawn_has_the_legs_apart_and_its_paint_band():
    drawing = section_drawing(RUN.detail.profile, RUN.detail.heading, around=(("deck", ((0, 0), (1, 0), (1, 1))),))
    roles = [s.role for s in drawing.shapes if isinstance(s, Line | Ring)]
    assert roles.count("paint") == 1 and roles.count("back") == 1 and "around" in roles
    labels = [s.text for s in drawing.shapes if getattr(s, "key", "").startswith("leg:")]
    assert labels == ["85.0", "95.0", "18.0"]


def test_the_coil_drawing_shows_each_piece_and_cut():
    coil = DERIVED.job.stock[0]
    drawing = stock_drawing(coil, DERIVED.nest, coil.id)
    pieces = {s.key for s in drawing.shapes if isinstance(s, Ring) and s.role == "piece"}
    assert pieces == {p.part for p in DERIVED.nest.placements if p.stock == coil.id}
    before = stock_drawing(coil, DERIVED.nest, coil.id, upto_cut=3)
    assert sum(1 for s in before.shapes if isinstance(s, Line) and s.key.startswith("cut:")) <= 3


def _text(path) -> str:
    from pypdf import PdfReader

    return "\n".join(page.extract_text() for page in PdfReader(path).pages)


def test_fold_card_and_cut_sheet(tmp_path):
    write_run_card(DERIVED, "E1", tmp_path / "card.pdf")
    text = _text(tmp_path / "card.pdf")
    assert "1 · eave drip" in text and "E1-6" in text and "B 55" in text and "left hand" in text
    assert "on shop leaf brake" in text and "wear gloves" in text
    write_cut_sheet(DERIVED, tmp_path / "cuts.pdf")
    text = _text(tmp_path / "cuts.pdf")
    assert "coil 1" in text and "offcut 7" in text and "pull to the stop at" in text and "Rack" in text


def test_the_cut_list_has_a_row_a_piece():
    rows = list(csv.DictReader(io.StringIO(cut_list(DERIVED))))
    assert len(rows) == len(DERIVED.pieces) and tuple(rows[0]) == COLUMNS
    assert float(rows[0]["blank_length_mm"]) == pytest.approx(DERIVED.pieces[0].pattern.length, abs=1e-3)


def test_the_folded_piece_as_gltf():
    import trimesh

    scene = trimesh.load(io.BytesIO(piece_to_glb(PIECE.pattern)), file_type="glb")
    size = np.ptp(scene.bounds, axis=0)
    assert size[0] == pytest.approx(2466.7 / 1000 + 0.08 + 0.0, abs=0.2)
    area = sum(mesh.area for mesh in scene.geometry.values())
    assert area * 1e6 == pytest.approx(PIECE.pattern.area, rel=0.02)


def test_the_whole_pack_of_the_inch_job(tmp_path):
    derived = derive(load(THREE_EAVES))
    summary = write_pack(derived, tmp_path)
    assert summary["ok"] and summary["pieces"] == 7
    assert all((tmp_path / name).stat().st_size > 0 for name in summary["files"])
    assert "8' 4 5/16" in _text(tmp_path / "papers" / "fold-cards.pdf")


def test_a_pack_into_a_file_s_place_is_refused(tmp_path):
    (tmp_path / "taken").write_text("")
    with pytest.raises(FileProblem, match="choose another folder"):
        write_pack(DERIVED, tmp_path / "taken")


def test_a_step_is_drawn_as_the_piece_lies():
    """Held into the machine, swinging out and up; a hem flattened with the leaf down."""
    import numpy as np

    from yattle.drawing.brake import chain_at_step, flattened

    girth = RUN.detail.girth
    held, swinging = chain_at_step(girth, {}, "f2", "paint", "B", 42.0)
    assert held[:, 0].max() == 0 and np.allclose(held[:, 1], 0)
    assert np.degrees(np.arctan2(*swinging[1][::-1])) == pytest.approx(42)
    assert abs(held[-1][0]) + np.hypot(*swinging[-1]) == pytest.approx(girth.girth)
    for out, inside in (("B", True), ("A", False)):
        rest, flap = flattened(girth, {"hB": -135.0}, "hB", "back", out, 1.0)
        assert (rest[:, 0].max() <= 1e-9) == inside
        assert abs(flap[1, 0]) == pytest.approx(0 if not inside else girth.girth - girth.bends[-1].mark, abs=0.1)


def test_the_roof_in_the_pack(tmp_path):
    roof = STARTS["gable with a wing"]
    derived = derive(load(eaves_path()).but(roof=roof, runs=()))
    rows = list(csv.DictReader(io.StringIO(panel_list(derived))))
    assert {row["face"] for row in rows} == {f.id for f in derived.roof.facets}
    assert any("V1" in row["cuts"] for row in rows) and all(float(row["length_mm"]) > 0 for row in rows)
    write_pack(derived, tmp_path)
    assert {"roof.json", "roof-plan.dxf", "panel-list.csv", "models/roof.glb"} <= {
        p.relative_to(tmp_path).as_posix() for p in tmp_path.rglob("*") if p.is_file()}


def test_drawings_made_beside_each_other_are_each_whole_and_the_same_again():
    """One template serves them all: no drawing has another's lines, every file passes the reader's own audit."""
    from concurrent.futures import ThreadPoolExecutor

    import ezdxf

    derived = derive(load(demo_path()))
    drawings = [pattern_drawing(piece.pattern, run.detail.profile) for run in derived.runs for piece in run.pieces[:1]]
    alone = [drawing_to_dxf(drawing) for drawing in drawings]
    with ThreadPoolExecutor(4) as pool:
        assert list(pool.map(drawing_to_dxf, drawings)) == alone
    for drawing, text in list(zip(drawings, alone, strict=True))[::7]:
        document = ezdxf.read(io.StringIO(text))
        audit = document.audit()
        assert not audit.errors and not audit.fixes and document.header["$INSUNITS"] == 4
        lines = [shape for shape in drawing.shapes if isinstance(shape, Line | Ring)]
        polylines = document.modelspace().query("LWPOLYLINE")
        assert len(polylines) == len(lines)
        handles = [entity.dxf.handle for entity in document.entitydb.values()]
        assert len(handles) == len(set(handles))
