"""Sections of one's own: read from a drawing, kept, mitred, refused; standards kept and compared; papers' marks."""

from __future__ import annotations

import math
import random
from dataclasses import replace

import ezdxf
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.derive import derive
from yattle.derive.on_roof import on_roof
from yattle.derive.printed import changed, with_printed
from yattle.derive.roof_runs import roof_runs, with_run
from yattle.details import Own
from yattle.details.free import Mitre, Shape, crossed
from yattle.details.schools import Schools
from yattle.errors import FileProblem, InputError
from yattle.job import demo_path, load
from yattle.job.sections import keep_section, kept_sections, read_section, section_from_dxf, shape_of
from yattle.job.standards import HouseStandard, differences, load_standard, save_standard, standard_of, with_standard
from yattle.measure import UNITS
from yattle.pattern.folded import fold_up
from yattle.session.session import Session

DEMO = load(demo_path())


def drawn(tmp_path, points, unit=4, **more):
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = unit
    document.modelspace().add_lwpolyline(points, format="xyb", **more)
    path = tmp_path / "cornice.dxf"
    document.saveas(path)
    return path


def test_a_polyline_becomes_legs_and_turns(tmp_path):
    """60 level, down 80, back out 20: two folds of 90° toward the back and the paint."""
    shape = section_from_dxf(drawn(tmp_path, [(0, 0, 0), (60, 0, 0), (60, -80, 0), (80, -80, 0)]))
    assert shape.legs == (60.0, 80.0, 20.0) and shape.turns == (-90.0, 90.0) and shape.heading == 0.0
    assert shape.name == "cornice"
    inches = section_from_dxf(drawn(tmp_path, [(0, 0, 0), (2, 0, 0), (2, -3, 0)], unit=1))
    assert inches.legs == pytest.approx((50.8, 76.2))


def test_an_arc_is_a_fold_between_the_lines_beside_it(tmp_path):
    """Square corner rounded with 10 mm: the legs go on to where they would meet."""
    bulge = -math.tan(math.radians(90) / 4)
    shape = section_from_dxf(drawn(tmp_path, [(0, 0, 0), (50, 0, bulge), (60, -10, 0), (60, -80, 0)]))
    assert shape.legs == pytest.approx((60.0, 80.0), abs=1e-3) and shape.turns == pytest.approx((-90.0,), abs=1e-3)


@given(st.lists(st.floats(10, 200), min_size=2, max_size=7), st.data())
def test_walked_and_read_again(legs, data):
    """Any section walked into points comes back as it was."""
    turns = data.draw(st.lists(st.floats(5, 140).flatmap(lambda t: st.sampled_from([t, -t])), min_size=len(legs) - 1,
                               max_size=len(legs) - 1))
    at, heading, points = 0j, 20.0, [(0.0, 0.0, 0.0)]
    for n, leg in enumerate(legs):
        at += leg * complex(math.cos(math.radians(heading)), math.sin(math.radians(heading)))
        points.append((at.real, at.imag, 0.0))
        heading += turns[n] if n < len(turns) else 0
    shape = shape_of(points, "walked")
    assert shape.legs == pytest.approx(legs, abs=1e-3) and shape.turns == pytest.approx(turns, abs=1e-3)
    assert shape.heading == pytest.approx(20.0, abs=1e-3)


def test_drawings_that_hold_no_section(tmp_path):
    with pytest.raises(FileProblem, match="no open polyline"):
        section_from_dxf(drawn(tmp_path, [(0, 0, 0), (60, 0, 0), (60, -80, 0)], close=True))
    (tmp_path / "x.dxf").write_text("no drawing")
    with pytest.raises(FileProblem, match=r"x\.dxf"):
        section_from_dxf(tmp_path / "x.dxf")
    with pytest.raises(FileProblem, match="cannot be read"):
        section_from_dxf(tmp_path / "none.dxf")
    with pytest.raises(InputError, match="half a circle"):
        section_from_dxf(drawn(tmp_path, [(0, 0, 0), (60, 0, 1.0), (90, 0, 0), (90, -80, 0)]))


@pytest.mark.parametrize(("points", "says"), [
    ([(0, 0, 0.4), (60, 0, 0), (60, -80, 0)], "an arc at its end"),
    ([(0, 0, 0), (60, 0, 0.3), (70, -10, 0)], "an arc at its end"),
    ([(0, 0, 0), (60, 0, -0.4), (70, -10, -0.4), (60, -20, 0), (0, -20, 0)], "two arcs running into each other"),
    ([(0, 0, 0), (60, 0, 0), (20, 0.1, 0)], "folded back on itself"),
    ([(8.0 * n, 5.0 * (n % 2), 0) for n in range(60)], "59 legs, expected at most 41"),
    ([(0, 0, 0), (1e9, 0, 0), (0, 5, 0)], "out of reach")])
def test_a_polyline_that_is_no_section_says_why(tmp_path, points, says):
    with pytest.raises(InputError, match=says):
        section_from_dxf(drawn(tmp_path, points))


def test_a_damaged_drawing_is_one_sentence(tmp_path):
    """Bytes of a good drawing changed, cut or doubled at random: a section or one line, never anything else."""
    good = drawn(tmp_path, [(0, 0, 0), (60, 0, 0), (60, -80, 0)]).read_bytes()
    draw, path = random.Random(5), tmp_path / "damaged.dxf"
    for _ in range(300):
        raw = bytearray(good)
        for _ in range(draw.choice([1, 3, 30])):
            at = draw.randrange(len(raw))
            raw[at:at + draw.choice([1, 1, 4, 200])] = bytes(draw.randrange(256) for _ in range(draw.choice([0, 1, 5])))
        path.write_bytes(raw)
        try:
            assert section_from_dxf(path).legs
        except (FileProblem, InputError) as said:
            assert "\n" not in str(said)


def test_kept_and_found_again(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    shape = Shape(name="Pier cap", legs=(40.0, 200.0, 40.0), turns=(-90.0, -90.0))
    path = keep_section(shape)
    (path.parent / "broken.json").write_text("{")
    assert read_section(path) == shape and kept_sections() == {"Pier cap": shape}


def test_a_section_that_crosses_itself_is_said():
    assert crossed((100.0, 40.0, 60.0, 80.0), (90.0, 90.0, 90.0)) == (1, 4)
    assert crossed((100.0, 40.0, 60.0, 20.0), (90.0, 90.0, 90.0)) is None
    job = with_run(DEMO, "E1", detail="free", section=Shape(legs=(100.0, 40.0, 60.0, 80.0), turns=(90.0, 90.0, 90.0)))
    run = derive(job).run("E1")
    assert not run.pieces and "crosses itself (leg 1 and leg 4)" in run.findings[0].says()
    with pytest.raises(InputError, match="one between each two legs"):
        Shape().but(legs=(10.0, 20.0, 30.0))


@pytest.mark.parametrize(("mitre", "normal"), [
    (Mitre(way="plan", angle=90.0), (1, -1, 0)), (Mitre(way="plan", angle=-90.0), (1, 1, 0)),
    (Mitre(way="elevation", angle=60.0), (math.cos(math.pi / 6), 0, math.sin(math.pi / 6)))])
def test_a_mitre_is_the_plane_that_halves_the_corner(mitre, normal):
    found = np.array(mitre.normal("right"))
    assert np.cross(found, normal) == pytest.approx(np.zeros(3), abs=1e-9)
    left = np.array(mitre.normal("left"))
    assert left == pytest.approx(found * np.array([1, -1, -1]))


def test_a_run_on_no_edge_mitred_round_a_corner():
    """Once round a pier: each end's mould lines come to the plane that stands at 45°."""
    session = Session(DEMO)
    name = session.add_free(Shape(legs=(40.0, 200.0, 40.0), turns=(-90.0, -90.0)))
    session.edit_run("mitre", name, mitre_right=Mitre(way="plan", angle=90.0), mitre_left=Mitre(way="plan", angle=90.0))
    run = session.derived.run(name)
    assert run.run.kind == "free" and run.pieces[0].hand == "both corners" and run.pieces[0].proof.max_gap < 1e-9
    ends = np.concatenate([f.space for f in fold_up(run.pieces[0].pattern)])
    assert np.ptp(ends[:, 0]) == pytest.approx(2400.0), "the face is as long as the run"
    flat = run.pieces[0].pattern.outline
    edge = [x for x, y in flat if y == max(y for _, y in flat)]
    assert max(edge) - min(edge) == pytest.approx(2400 - 2 * 40.0), "the leg behind it 40 shorter at either end"
    session.undo()
    session.remove_run(name)
    assert name not in [r.run.id for r in session.derived.runs]


# -- standards ----------------------------------------------------------------------------------------


def test_a_standard_goes_from_job_to_job(tmp_path):
    job = DEMO.but(own=Own(face=101.0, hem=10.0), schools=Schools(closures="tabs"))
    save_standard(standard_of(job), tmp_path / "ours.standard.json")
    taken = with_standard(DEMO, load_standard(tmp_path / "ours.standard.json"))
    assert taken.own == job.own and taken.schools == job.schools and taken.roof == DEMO.roof
    found = {d.title: (d.mine, d.other) for d in differences(DEMO, standard_of(job), UNITS["mm"])}
    assert found["face"] == ("95.0", "101.0") and found["seam gaps"] == ("zeds cut square", "zeds with side tabs")
    assert set(found) == {"face", "hem", "seam gaps"} and not differences(job, standard_of(job), UNITS["mm"])


def test_a_standard_out_of_bounds_is_refused(tmp_path):
    path = tmp_path / "wild.standard.json"
    save_standard(HouseStandard(own=Own(face=9000.0)), path)
    with pytest.raises(InputError, match=r"own\.face"):
        load_standard(path)
    path.write_text("[]")
    with pytest.raises(InputError):
        load_standard(path)
    with pytest.raises(FileProblem):
        load_standard(tmp_path / "none.json")


# -- papers and the roof ------------------------------------------------------------------------------


def test_what_changed_since_the_print():
    assert changed(derive(DEMO)) == {}
    printed = with_printed(DEMO, derive(DEMO))
    assert changed(derive(printed)) == {}
    now = changed(derive(with_run(printed, "E1", own=Own(face=90.0))))
    assert set(now) == {f"E1-{n}" for n in range(1, 8)} and set(now.values()) == {"changed"}
    gone = changed(derive(printed.but(schools=Schools(rake_under="none"))))
    assert set(gone.values()) == {"gone"} and all(name.partition("-")[0].endswith(".k") for name in gone)


@pytest.mark.parametrize("turn", [0.0, 23.0])
def test_every_trim_lies_on_its_roof(turn):
    roof = DEMO.roof
    if turn:
        rad = math.radians(turn)
        blocks = tuple(b.but(x=b.x * math.cos(rad) - b.y * math.sin(rad), y=b.x * math.sin(rad) + b.y * math.cos(rad),
                             bearing=(b.bearing + turn) % 360) for b in roof.blocks)
        roof = roof.but(blocks=blocks, openings=())
    job = DEMO.but(roof=roof, edges=(), faces=(), taped=())
    derived = derive(job)
    fits = {r.run.id: on_roof(derived.roof, r, derived.run(r.run.id)) for r in roof_runs(job)}
    assert len(fits) == 36 and all(fit is not None and fit.max_gap < 1e-5 for fit in fits.values())
    cap, found = derived.run("R1"), next(r for r in roof_runs(job) if r.run.id == "R1")
    wrong = on_roof(derived.roof, found, replace(cap, detail=replace(cap.detail, heading=cap.detail.heading + 10)))
    assert wrong.max_gap == pytest.approx(170 * math.sin(math.radians(10)))
