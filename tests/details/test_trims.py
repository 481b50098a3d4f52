"""Every straight detail over a grid of pitches and folds: it folds up as drawn, its angles follow from the planes, and
what is cut by a plane ends on that plane."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from samples import STEEL, made
from yattle.brake import SHOP_BRAKE, FoldJob, FoldOrder, plain_order
from yattle.cli import main
from yattle.details import ENTRIES, FAMILIES, develop, families_for
from yattle.details.run_ends import plane_offsets, section_corners
from yattle.errors import InputError
from yattle.pattern.folded import fold_tree, fold_up
from yattle.pattern.proof import root_strip
from yattle.roof.edges import LETTERS
from yattle.section import folded_points

PITCHES = (5.0, 12.0, 30.0, 45.0, 60.0)
FOLDS = (4.0, 20.0, 51.13, 90.0, 120.0)


def grid():
    for name, family in FAMILIES.items():
        fields = family.model.model_fields
        if "pitch" in fields and "fold" in fields:
            yield from ((name, {"pitch": p, "fold": p + q}) for p in PITCHES for q in PITCHES[:4])
        elif "pitch" in fields:
            yield from ((name, {"pitch": p}) for p in PITCHES)
        elif "fold" in fields:
            yield from ((name, {"fold": f}) for f in FOLDS)
        elif "upper" in fields:
            yield from ((name, {"upper": a, "lower": b}) for a in PITCHES for b in PITCHES)
        else:
            yield name, {}


@pytest.mark.parametrize(("name", "given"), list(grid()), ids=str)
def test_it_folds_up_as_drawn(name, given):
    result = develop(made(name, **given))
    if name == "valley" and given["fold"] > 115:
        given = {}  # the foot of its rib would fold past what can be folded: said, not made
    assert result.ok or result.findings[0].level == "stop"
    if result.ok:
        assert result.max_gap < 1e-6 and len(result.pieces) >= 3
        for piece in result.pieces:
            assert piece.ledger.value == pytest.approx(piece.pattern.length, abs=1e-6), "every millimetre is said"
            assert piece.pattern.girth == pytest.approx(result.girth.girth)
        assert sum(piece.share for piece in result.pieces) == pytest.approx(7300.0)


@pytest.mark.parametrize("name", list(FAMILIES))
def test_the_usual_section_can_be_folded_in_the_shop(name):
    result = develop(made(name, length=2500.0))
    order = plain_order(FoldJob(profile=result.profile, length=2500.0, brake=SHOP_BRAKE))
    assert isinstance(order, FoldOrder) and order.proved_best


def heading_of(name, leg, **given):
    """Direction of a leg as installed, degrees from level, out positive."""
    detail = made(name, **given)
    sheet = detail.sheet()
    return sheet.heading + sum(sheet.turns[:leg])


@pytest.mark.parametrize("pitch", PITCHES)
def test_legs_lie_on_the_planes_they_were_made_for(pitch):
    assert heading_of("eave-drip", 1, pitch=pitch) == pytest.approx(-90) and heading_of("eave-drip", 0, pitch=pitch) == -pitch
    assert heading_of("headwall", 1, pitch=pitch) == pytest.approx(-pitch)
    assert heading_of("half-ridge", 1, pitch=pitch) == pytest.approx(-90)
    assert heading_of("ridge-cap", 1, pitch=pitch, fold=pitch + 20) == pytest.approx(-20)
    assert heading_of("pitch-break", 1, upper=pitch, lower=7.0) == pytest.approx(-7)
    assert heading_of("gutter-apron", 1, pitch=pitch) == pytest.approx(min(-75, -pitch))
    assert heading_of("valley", 3, fold=2 * pitch) == pytest.approx(pitch), "both wings rise alike"
    assert heading_of("valley", 1, fold=2 * pitch, rib=0.0) == pytest.approx(pitch)


NORMAL = st.tuples(st.floats(0.35, 1), st.floats(-0.8, 0.8), st.floats(-0.8, 0.8))


@given(st.sampled_from(["rake", "ridge-cap", "valley", "eave-drip", "free", "counterflashing"]), NORMAL,
       st.sampled_from(["left", "right"]))
def test_an_end_cut_by_a_plane_lies_on_it(name, normal, side):
    """Folded up from its pattern alone, every corner of the cut end is on the plane."""
    detail = made(name, length=2400.0, **{f"{side}_plane": normal, **({"left": "plain", "right": "plain"} if name == "eave-drip" else {})})
    result = develop(detail)
    assert result.ok and result.max_gap < 1e-5  # a plane 0.003° off square: steps of a tenth of a micrometre
    piece, sheet = result.pieces[0], detail.sheet()
    corners = section_corners(result.profile, sheet.heading, sheet.datum, sheet.crossing)
    end = 0.0 if side == "left" else 2400.0
    folded = fold_up(piece.pattern)
    root, strip = folded[fold_tree(piece.pattern).root], root_strip(piece.pattern)
    a, b = corners[strip], corners[strip + 1]
    down, paint = (b - a) / np.linalg.norm(b - a), np.array([a[1] - b[1], b[0] - a[0]]) / np.linalg.norm(b - a)
    far = 0.0
    for facet in folded:
        at_end = facet.flat[:, 0] < 1200 if side == "left" else facet.flat[:, 0] > 1200
        x, y, z = facet.space[at_end].T
        place = a + np.outer(root.flat[:, 1].max() - y, down) + np.outer(z, paint)
        far = max(far, np.abs(np.column_stack((x - end, place)) @ np.array(normal)).max())
    assert far < 1e-6


@given(st.floats(-80, 80), st.floats(-40, 40))
def test_twins_mitred_at_any_angle_meet(plan, elevation):
    """Two runs of one section: the plane that halves the angle between them cuts both, and their ends are one line."""
    p, e = math.radians(plan), math.radians(elevation)
    on = np.array([math.cos(p) * math.cos(e), math.sin(p) * math.cos(e), math.sin(e)])
    halving = tuple(float(v) for v in np.array([1.0, 0.0, 0.0]) + on)
    result = develop(made("free", length=3000.0, right_plane=halving))
    if not result.ok:
        return
    sheet, profile = made("free").sheet(), result.profile
    corners = folded_points(profile, sheet.heading)
    corners = corners - corners[sheet.datum]
    offsets = np.array(plane_offsets(profile, sheet.heading, sheet.datum, halving))
    ends = np.column_stack((offsets, corners))  # of the first run, in space
    mirror = np.array(halving) / np.linalg.norm(halving)
    twin = ends - 2 * np.outer(ends @ mirror, mirror)  # the second run is the first one in the mirror of the plane
    assert np.abs(twin - ends).max() < 0.01


def test_a_plane_along_the_run_is_refused():
    result = develop(made("rake", right_plane=(0.0, 1.0, 0.0)))
    assert not result.ok and "the plane of the cut runs along the piece" in result.findings[0].text


def test_sloping_runs_lap_downhill():
    for low, under in (("left", "right"), ("right", "left")):
        pieces = develop(made("rake", low=low)).pieces
        kinds = [(p.ends[0].kind, p.ends[1].kind) for p in pieces]
        lower = kinds[0] if low == "left" else kinds[-1]
        assert lower[1 if under == "right" else 0] == "under", "the lowest piece lies beneath the next"


def test_every_edge_has_a_detail_and_every_entry_a_use():
    assert all(families_for(kind) for kind in LETTERS)
    used = {entry for family in FAMILIES.values() for entry in family.entries.values()}
    taken = {"vent", "stagger", "lap_rise", "lap_most", "closure_back", "past_hole", "set_width", "set_angle", "seam_lock", "cut_allowance",
             "board"}
    assert used | taken == set(ENTRIES), "by the layers and where they lie, by laps that follow the slope, and by pans"
    for family in FAMILIES.values():
        assert set(family.entries) | set(family.roof) <= set(family.model.model_fields)


def test_number_hand_and_upslope_end_stand_on_every_piece():
    pieces = develop(made("rake", left="tab", low="left", slope=30.0)).pieces
    said = [next(m.text for m in p.pattern.marks if m.text.startswith("T-")) for p in pieces]
    assert said == ["T-1 left hand, upslope →", "T-2 middle, upslope →", "T-3 middle, upslope →"]
    level = develop(made("eave-drip", pitch=30.0, length=2000.0)).pieces[0]
    assert any(m.text == "T-1 both corners" for m in level.pattern.marks)


@pytest.mark.parametrize("name", ["eave-drip", "valley", "hip-receiver"])
def test_the_drawing_is_the_one_that_was_looked_at(name, monkeypatch):
    """Golden drawings: those of the detail's page, small and kept with it."""
    root = Path(__file__).parents[2]
    monkeypatch.syspath_prepend(str(root / "tools"))
    from detail_pages import page

    assert page(FAMILIES[name])[1] == (root / "docs" / "details" / f"{name}.svg").read_text(encoding="utf-8")


@pytest.mark.parametrize("name", list(FAMILIES))
def test_developed_without_the_window(name, capsys, tmp_path):
    document = json.loads(made(name).model_dump_json())
    (tmp_path / "detail.json").write_text(json.dumps(document))
    assert main(["develop", str(tmp_path / "detail.json")]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["ok"] and answer["fit"]["max_gap"] < 1e-6 and answer["cautions"]
    assert answer["pieces"][0]["format"] == "yattle-pattern/1" and answer["sections"][0]["format"] == "yattle-profile/1"


@pytest.mark.parametrize(("change", "says"), [
    ({"detail": "gargoyle"}, "detail: found"), ({"detail": None}, "detail: found nothing"), ({"length": 0}, "length: found 0"),
    ({"wing": -4}, "wing: found -4"), ({"fold": 180}, "fold: found 180"), ({"spire": 3}, "spire: found 3")])
def test_wrong_details_are_said_in_one_line(change, says, capsys, tmp_path):
    (tmp_path / "d.json").write_text(json.dumps({**json.loads(made("ridge-cap").model_dump_json()), **change}))
    assert main(["develop", str(tmp_path / "d.json")]) == 2
    assert says in capsys.readouterr().err


def test_free_sections_of_the_wrong_size():
    with pytest.raises(InputError, match="2, one between each two legs"):
        develop(made("free", turns=(80.0,)))
    short = develop(made("free", legs=(40.0, 0.4, 20.0)))
    assert not short.ok and "leg 2" in short.findings[0].text and STEEL["thickness"] == 0.6


# -- what follows from what -----------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", [name for name in FAMILIES if name != "free"])
def test_a_fold_follows_from_the_field_that_changes_it(name):
    """Change a field of the detail: the folds named after it change, and those named after others don't. A hem's fold
    follows from the field ``hem`` and is there as long as that is not 0."""
    detail = made(name)
    result = develop(detail)
    assert result.girth is not None
    turns = {bend.id: bend.turn for bend in result.girth.bends}
    assert set(result.turn_fields) == set(turns)
    for bend in result.girth.bends:
        if bend.kind == "hem":
            assert result.turn_fields[bend.id] == "hem"
            if name != "cleat":  # its hem is what holds: it cannot be left out
                without = develop(detail.but(hem=0.0))
                assert without.girth is not None and bend.id not in {b.id for b in without.girth.bends}
            longer = develop(detail.but(hem=detail.hem + 4.0))
            ours = bend.id == "hA"
            lengths = [r.profile.hem_a if ours else r.profile.hem_b for r in (result, longer)]
            assert lengths[1].length == pytest.approx(lengths[0].length + 4.0)
    for field in dict.fromkeys(result.turn_fields.values()):
        if field not in type(detail).model_fields or field == "hem" or getattr(detail, field) is None:
            continue
        other = develop(detail.but(**{field: getattr(detail, field) + 1.5}))
        changed = {bend.id for bend in other.girth.bends if bend.kind == "fold"
                   and abs(bend.turn - turns.get(bend.id, 999)) > 1e-6}
        named = {fold for fold, of in result.turn_fields.items() if of == field}
        assert named & changed, f"{name}: nothing named after {field} changes with it"


@pytest.mark.parametrize(("fold", "apex", "told"), [(231.0 - 70.0, 70.0, False), (160.0, 140.5, True), (150.0, 149.0, False),
                                                   (151.0, 149.5, True), (140.0, 70.0, False)])
def test_a_valley_whose_rib_folds_too_far_at_its_foot_is_looked_at(fold, apex, told):
    """The foot's folds share out the valley's angle and the apex: (fold + apex) / 2, looked at past 150°."""
    looks = made("valley", fold=fold, apex=apex).sheet().looks
    assert ((fold + apex) / 2 > 150) == told
    assert any(finding.field == "apex" and "rib" in finding.text for finding in looks) == told
    assert not any(finding.field == "apex" for finding in made("valley", fold=fold, apex=apex, rib=0.0).sheet().looks)
