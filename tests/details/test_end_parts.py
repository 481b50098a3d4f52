"""Ends built from parts that go together: a plumb cut with tabs, hems and kick cut back, on both hands."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from at_random import faults

from samples import made
from yattle.derive import derive
from yattle.derive.roof_runs import with_run
from yattle.details import FAMILIES, develop
from yattle.details.ends import PARTS, ends_of, parts_of
from yattle.details.schools import Schools
from yattle.errors import InputError
from yattle.job import demo_path, load

FOOT = ("top-tab", "face-tab", "hem-45")


def flaps(piece):
    return [face for face in piece.flat.faces if face.name == "tab"]


@pytest.mark.parametrize("slope", [5.0, 22.6, 35.0, 60.0])
@pytest.mark.parametrize("low", ["left", "right"])
def test_a_rake_s_foot_is_closed_in_the_plumb_plane_as_deep_as_the_panel_stands(slope, low):
    """Both flaps hang plumb where the panels end, 40 beyond the edge; the top one comes 3 mm past a seam of 38. Turned
    by 90° less the pitch it closes the flange's end, by 90° the face's."""
    result = develop(made("rake", length=2400.0, low=low, slope=slope, over=38.0, past=40.0, **{low: "plumb", f"{low}_also": FOOT}))
    (piece,) = result.pieces
    assert result.max_gap < 1e-6 and piece.ledger.value == pytest.approx(piece.pattern.length)
    rise = math.radians(slope)
    way = np.array([math.cos(rise), (1 if low == "left" else -1) * math.sin(rise)])  # upright, seen along the run and up
    plumb = np.array([way[0], -way[1]])
    turns = sorted(abs(fold.turn) for fold in piece.pattern.folds if fold.id.startswith("w"))
    assert turns == pytest.approx(sorted([90 - slope, 90.0]), abs=1e-6)
    at = -40.0 if low == "left" else 2440.0
    for face in flaps(piece):
        for x, up, _ in face.corners:  # along the run, square to the flange
            assert plumb @ np.array([x - at, up]) == pytest.approx(0.0, abs=1e-6)
    top = max(flaps(piece), key=lambda face: np.ptp([c[2] for c in face.corners]))
    drop = [c[1] for c in top.corners]
    assert max(drop) - min(drop) == pytest.approx(41.0), "square to the panel, as its seam stands"


def test_hems_and_kick_are_cut_back_by_hand():
    """Without a plane: the kick of 20 and its hem end 20 sooner, the tip of that hem of 12, cut at 45°, 12 sooner still;
    the tip of the flange's hem 12 before the end."""
    piece = develop(made("rake", length=1000.0, right_also=("hem-45", "drip-back"))).pieces[0]
    ends = {face.name: sorted({round(c[0], 1) for c in face.corners if c[0] > 500}) for face in piece.flat.faces}
    assert (ends["hA"][0], ends["leg 1"][-1], ends["leg 3"][-1], ends["hB"][0]) == (988.0, 1000.0, 980.0, 968.0)
    assert piece.pattern.length == pytest.approx(1000.0)


@pytest.mark.parametrize("name", [name for name in FAMILIES if name not in ("cleat", "eave-cleat", "apron-cleat", "hip-receiver", "closure")])
def test_any_parts_go_together_on_any_cut(name):
    """At random: planes and named ends with parts, slopes and laps; every piece folds up and lies on its sheet."""
    draw, done = random.Random(name), 0
    sheet = made(name).sheet()
    for _ in range(12):
        slope = draw.choice([0.0, 12.0, 35.0])
        low = draw.choice(["left", "right"]) if slope else None
        also = tuple(draw.sample(parts_of(sheet), draw.randint(1, len(parts_of(sheet)))))
        plane = draw.choice([None, (math.cos(draw.uniform(-0.6, 0.6)), draw.uniform(-0.5, 0.5), draw.uniform(-0.5, 0.5))])
        end = draw.choice([name for name in ends_of(sheet) if name in ("plain", "plumb", "hem-45")])
        side = draw.choice(["left", "right"])
        try:
            result = develop(made(name, length=draw.choice([800.0, 4300.0]), low=low, slope=slope, past=draw.choice([0.0, 30.0]),
                                  **{side: end, f"{side}_also": also, f"{side}_plane": plane}))
        except InputError as wrong:
            assert "\n" not in str(wrong)
            continue
        if not result.ok:
            assert result.findings[0].level == "stop" and "does not fold up" not in result.findings[0].text
            continue
        assert result.max_gap <= 0.05, (side, end, also, plane, result.max_gap)
        for piece in result.pieces:
            assert not list(faults(piece.pattern, True)), (side, end, also, plane)
            assert piece.ledger.value == pytest.approx(piece.pattern.length)
            assert piece.pattern.length <= 3000.0 + 1e-6
        done += 1
    assert done > 3


@pytest.mark.parametrize(("also", "says"), [
    (("dam",), "also: found 'dam', expected parts that a rake trim can have: top-tab"),
    (("face-tab", "wrap"), "also: found 'wrap', expected one flap on the face, it has one already")])
def test_parts_that_cannot_be_are_said_in_a_line(also, says):
    with pytest.raises(InputError) as wrong:
        develop(made("rake", length=1000.0, left_also=also))
    assert says in str(wrong.value) and "\n" not in str(wrong.value)


def test_the_school_closes_every_foot_of_the_demo_s_rakes_and_one_part_can_be_switched_off():
    job = load(demo_path())
    closed = derive(job.but(schools=Schools(rake_end="plumb")))
    rakes = [run for run in closed.own_runs if run.run.kind == "rake" and "tab" in (run.run.left, run.run.right)]
    assert len(rakes) >= 10
    for run in rakes:
        end = "left" if run.run.left == "tab" else "right"
        piece = run.pieces[0 if end == "left" else -1]
        note = piece.ends[0 if end == "left" else 1]
        assert all(PARTS[part] in note.says() for part in FOOT) and run.detail.max_gap < 1e-6
    g1 = rakes[0].run
    end = "left" if g1.left == "tab" else "right"
    without = with_run(closed.job, g1.id, **{f"{end}_also": ("top-tab", "hem-45")})
    piece = derive(without).run(g1.id).pieces[0 if end == "left" else -1]
    assert sum(fold.id.startswith("w") for fold in piece.pattern.folds) == 1
