"""The roof as built on the fit bench: stage by stage in space, drawn apart, cut open, what is in hand lit, a finding at its place."""

from __future__ import annotations

import numpy as np
import pytest
from hands import findings, keys, press_finding, settle
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent

from yattle.built import put_together
from yattle.built.shown import shown
from yattle.derive import derive
from yattle.derive.roof_runs import run_of, with_run
from yattle.install.installation import installation
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.roof.starts import STARTS

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(open_window, qtbot):
    found = open_window(with_system(Job(name="gable", roof=STARTS["gable"]), "snap seam 16 x 1 3/4 in, nail strip"))
    assert found.store.session.results.built is None, "nobody has looked yet"
    keys(found, "Ctrl+5", qtbot)
    wait_for_all_of_it(found, qtbot)
    return found


def wait_for_all_of_it(window, qtbot):
    """Until the whole roof was asked: a process that has just put a roof like it together tells what differs first."""
    session = window.store.session
    qtbot.waitUntil(lambda: session.results.built is not None and session.results.built.whole, timeout=30000)


def unfit() -> Job:
    """A gable with one rake whose hem is too narrow for its cleat."""
    job = with_system(Job(name="unfit", roof=STARTS["gable"]), "snap seam 16 x 1 3/4 in, nail strip")
    return with_run(job, "G1", own=run_of(job, "G1").own.but(hem=7.2))


def picture(widget):
    image = widget.grab().toImage().convertToFormat(widget.grab().toImage().Format.Format_RGB32)
    bits = image.constBits()
    return np.frombuffer(bytes(bits.asarray(image.sizeInBytes())), dtype=np.uint8).reshape(image.height(), image.width(), 4)[:, :, :3].copy()


def from_any_piece_to_its_place_on_the_roof_by_a_key(window, qtbot):
    """On the trim bench the ridge is in hand; Shift+F5 shows it lit among what lies on the roof at its stage."""
    window.store.session.select(run="R1")
    keys(window, "Ctrl+2", qtbot)
    keys(window, "Shift+F5", qtbot)
    bench = window.benches["fit"]
    assert bench.view == "built" and bench.pages.currentWidget() is bench.solid and bench.views["built"].isChecked()
    assert bench.solid.item == "R1" and {part.item for part in bench.solid.seen} >= {"R1"}
    copper = np.array([150, 70, 21])
    shot = picture(bench.solid).astype(int)[:, :, ::-1]
    hue = (abs(shot[:, :, 0] * 70 - shot[:, :, 1] * 150) < 900) & (shot[:, :, 0] > shot[:, :, 2] + 60)
    assert hue.sum() > 100, f"the cap is seen in copper {copper}"


def stage_by_stage_more_of_it_is_on(window, qtbot):
    keys(window, "Shift+F5", qtbot)
    bench = window.benches["fit"]
    window.store.session.select(run=None)
    many = []
    for n in range(bench.slide.maximum() + 1):
        bench.slide.setValue(n)
        assert bench.solid.stage == n + 1
        many.append(len(bench.solid.seen))
    assert many == sorted(many) and many[-1] > 2 * many[0]
    names = {part.name for part in bench.solid.seen}
    assert {piece.pattern.id for run in window.store.session.derived.runs for piece in run.pieces if piece.pattern.qty == 1} <= names
    qtbot.mouseClick(bench.views["plan"], LEFT)
    assert bench.pages.currentWidget() is bench.plan and not bench.space.isVisibleTo(window)


def it_turns_comes_nearer_is_drawn_apart_and_cut_open(window, qtbot):
    keys(window, "Shift+F5", qtbot)
    bench = window.benches["fit"]
    bench.slide.setValue(bench.slide.maximum())
    qtbot.wait(60)
    seen = [picture(bench.solid)]

    def changed(what):
        now = picture(bench.solid)
        assert (now != seen[-1]).any(), what
        seen.append(now)
    qtbot.keyClick(bench.solid, Qt.Key.Key_Left)
    changed("turned by a key")
    middle = bench.solid.rect().center()
    qtbot.mousePress(bench.solid, LEFT, pos=middle)
    qtbot.mouseMove(bench.solid, middle + QPoint(40, 10))
    qtbot.mouseRelease(bench.solid, LEFT, pos=middle + QPoint(40, 10))
    wheel = QWheelEvent(middle.toPointF(), bench.solid.mapToGlobal(middle).toPointF(), QPoint(0, 0), QPoint(0, 120),
                        Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)
    bench.solid.wheelEvent(wheel)
    changed("nearer by the wheel")
    bench.apart.setValue(60)
    changed("drawn apart")
    bench.apart.setValue(0)
    changed("together again")
    bench.open.setValue(500)
    changed("cut open")
    qtbot.keyClick(bench.solid, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    changed("moved aside")
    qtbot.keyClick(bench.solid, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    changed("whole again")
    bench.open.setValue(0)


def cut_open_and_looked_at_from_near_its_layers_are_seen_with_their_thickness(window, qtbot):
    """The deck is as many px thick as it should be at that scale, in its own tone; the key names it."""
    keys(window, "Shift+F5", qtbot)
    bench = window.benches["fit"]
    solid, built = bench.solid, bench.model.built
    bench.slide.setValue(bench.slide.maximum())
    solid.azimuth, solid.tilt = 270.0, 0.0  # along the ridge: a gable's faces stand square to the screen's plane
    bench.open.setValue(500)
    wait(qtbot)
    for _ in range(16):
        solid.look(1.4)
    wait(qtbot)
    sight = solid._fit(solid._rotation(), solid._scene.corners)
    deck = next(iter(built.layers))
    (ring,) = (part.ring for part in built.parts if part.name == deck)
    middle = ring.mean(axis=0)
    spot = sight.at(middle[None])[0]
    centre = np.array([solid.rect().center().x(), solid.rect().center().y()])
    solid.aside = solid.aside + centre - spot
    wait(qtbot)
    assert sight.near
    shot = picture(solid).astype(int)[:, :, ::-1]
    wood = (abs(shot - np.array([196, 170, 132])).sum(axis=2) < 24)
    column = wood[:, int(centre[0])]
    (layer,) = (one for one in built.layers[deck] if one.name == "deck")
    pitch = np.radians(window.store.session.derived.roof.facet(deck.removeprefix("deck ")).plane.pitch)
    want = (layer.high - layer.low) * sight.scale / np.cos(pitch)
    rows = np.nonzero(column)[0]
    assert rows.max() - rows.min() == pytest.approx(want, rel=0.04), "as thick as it is, measured plumb"
    beside = shot[rows.min() - 12:rows.min() + 4, int(centre[0])].sum(axis=1)
    assert beside.min() > 150, "on a deck lies its underlay: no sheet is drawn where it ends"
    bench.open.setValue(0)
    solid.look(0)


def a_place_under_the_pointer_stays_there_when_it_comes_nearer(window, qtbot):
    keys(window, "Shift+F5", qtbot)
    solid = window.benches["fit"].solid
    solid.look(0)
    corner = next(part.ring[0] for part in window.benches["fit"].model.built.parts if part.kind == "deck")
    before = solid._fit(solid._rotation(), solid._scene.corners).at(corner[None])[0]
    for times in (1.3, 9.0, 0.5, 40.0):
        solid.look(times, QPointF(*before))
        assert solid._fit(solid._rotation(), solid._scene.corners).at(corner[None])[0] == pytest.approx(before, abs=1e-6)
    assert solid.zoom > 100.0
    solid.look(0)
    assert solid._fit(solid._rotation(), solid._scene.corners).at(corner[None])[0] == pytest.approx(before)


def wait(qtbot):
    qtbot.wait(60)


def two_words_where_there_was_one(window, qtbot):
    """Folds up: each piece by itself. Fits: with what it lies on; and what has no place is counted, not green."""
    keys(window, "Ctrl+5", qtbot)
    bench = window.benches["fit"]
    assert bench.slate.row("folds up").said.text() == "every piece, from its pattern"
    assert bench.slate.row("fits").said.text() == "every piece, with what is round it" and bench.model.built.says == "fits"
    keys(window, "Shift+F5", qtbot)
    qtbot.waitUntil(lambda: "matters most" in bench.slate.row("by scatter").said.text(), timeout=30000)
    assert all(word in bench.slate.row("by scatter").said.text() for word in ("cover", "%"))
    keys(window, "Ctrl+2", qtbot)
    right = window.benches["trim"].solid_card.right

    def said():
        return right.text().replace("\u00a0", " ")

    qtbot.waitUntil(lambda: said().startswith("folds up to 0.00 mm") and said().endswith("fits"), timeout=5000)
    assert right.property("earned") == "true"
    assert not [f for _, f in bench.model.looks() if bench.model.place_of(f) is not None]


def test_a_finding_leads_to_its_place(open_window, qtbot):
    """Where a trim does not hold its cleat it is said, pressing it lights the place in the roof as built."""
    job = unfit()
    window = open_window(job)
    keys(window, "Ctrl+5", qtbot)
    wait_for_all_of_it(window, qtbot)
    settle(window, qtbot)
    bench = window.benches["fit"]
    troubles = [one for one in bench.model.built.troubles if one.stops]
    assert [one.item for one in troubles] == ["G1", "G1"] and bench.slate.row("fits").said.text().startswith("4 places do not fit")
    assert all("2 places like this" in one.says for one in troubles)
    assert window.rail.buttons["fit"].looks == len(bench.model.installation.findings) + 2
    assert bench.view == "plan" and len(bench.plan.unfit) == 4 and "a cross: does not fit" in bench.plan.corners[0]
    bare = picture(bench.plan).astype(int)
    bench.plan.unfit = []
    assert (abs(picture(bench.plan).astype(int) - bare).sum(axis=2) > 60).sum() > 60, "crosses are drawn there"
    assert any("the locks of G1-1 and" in said for said in findings(bench.slate))
    press_finding(bench.slate, troubles[0].says[:20], qtbot)
    assert bench.view == "built" and bench.solid.place == troubles[0].at and bench.solid.zoom >= 4.0
    corners = np.concatenate([part.ring for part in bench.model.built.parts])
    assert np.linalg.norm(corners - np.array(troubles[0].at), axis=1).min() < 2500.0
    solid, hidden = bench.solid, {}
    chosen = solid.azimuth
    for turn in range(0, 360, 30):
        hidden[(chosen + turn) % 360] = solid._before(solid.place, (chosen + turn) % 360)
    solid.azimuth = chosen
    assert hidden[chosen % 360] == min(hidden.values()) < max(hidden.values()), "from where it is seen best"
    assert {part.item for part in solid.seen} >= {"G1"}, "at a stage at which it is on"
    qtbot.mouseClick(bench.views["plan"], LEFT)
    assert bench.plan.lit == troubles[0].at[:2], "and on the plan too"
    qtbot.mouseClick(bench.views["built"], LEFT)
    assert bench.solid.place is None and bench.plan.lit is None, "looked at anew, nothing is lit"


def test_green_is_earned(open_window, qtbot):
    """What folds up but does not fit is not said in green: those words are for what does both."""
    window = open_window(unfit())
    keys(window, "Ctrl+5", qtbot)
    wait_for_all_of_it(window, qtbot)
    settle(window, qtbot)
    built, session = window.store.session.results.built, window.store.session
    window.show_bench("trim")
    right = window.benches["trim"].solid_card.right
    seen = set()
    for run in session.derived.runs:
        for index, piece in enumerate(run.pieces[:2]):
            session.select(run=run.run.id, piece=index)
            qtbot.waitUntil(lambda at=piece.id: right.text().endswith("fits" if built.fits_at(at) else "Fit"), timeout=3000)
            qtbot.wait(40)
            assert (right.property("earned") == "true") == built.fits_at(piece.id), (piece.id, right.text())
            seen.add(built.fits_at(piece.id))
    assert seen == {True, False}


def test_what_is_shown_is_what_is_placed():
    built = put_together(derive(load(demo_path("net-shed"))))
    found = shown(built, installation(built.derived))
    pieces = {part.name for part in found.parts if part.kind == "piece"}
    assert pieces == set(built.standing) and found.fits and found.missing == ()
    assert {part.kind for part in found.parts} == {"piece", "deck"} | ({"panel"} if any(
        part.kind == "panel" for part in found.parts) else set())
    assert all(part.stage >= 1 for part in found.parts if part.kind == "piece")


def on_trim_what_lies_round_a_piece_comes_from_the_roof_put_together(window, qtbot):
    """The rake beside its peak: the other rake, the cap and its own next piece, no farther than 60 mm off; none of itself."""
    session = window.store.session
    session.select(run="G1", piece=0)
    keys(window, "Ctrl+2", qtbot)
    solid, built = window.benches["trim"].solid, session.results.built
    qtbot.waitUntil(lambda: solid._pattern is not None and solid._pattern.id == "G1-1" and len(solid.around) > 4, timeout=5000)
    rows = built.places["G1-1"]
    own = np.concatenate([part.ring for part in built.parts if part.name == "G1-1"])
    own = (own - rows[:, 3]) @ rows[:, :3]
    for ring in solid.around:
        assert (ring.min(axis=0) > own.min(axis=0) - 60.1).all() and (ring.max(axis=0) < own.max(axis=0) + 60.1).all()
    assert len(solid.surfaces()) > len(solid.around) // 2
    assert any(abs(ring[:, 2]).max() < 1.0 for ring in solid.around), "the next piece's face lies in its own"
    solid.set_share(0.5)
    assert len(solid.surfaces()) < len(solid.around), "half folded it stands alone"


def after_an_edit_what_it_touches_is_said_first_and_no_word_is_green_before_its_time(window, qtbot):
    """On Fit the corner of the picture tells what goes on; on Trim a piece that was changed says that it fits without
    anybody going back to Fit."""
    session, bench = window.store.session, window.benches["fit"]
    wait_for_all_of_it(window, qtbot)
    keys(window, "Shift+F5", qtbot)
    heard = []
    session.listen(lambda what: heard.append((what, bench.model.built_say(), bench.model.fits_say())))
    session.set_own("R1", "ridge_wing", 155.0)
    assert bench.model.built_say() == bench.model.fits_say() == "asking again …"
    qtbot.waitUntil(lambda: bench.card.under.text().startswith("asking"), timeout=5000)
    assert bench.solid.seen, "the roof as it was is seen meanwhile"
    wait_for_all_of_it(window, qtbot)
    said = [built for _, built, _ in heard]
    first = next(n for n, one in enumerate(said) if one == "asking the rest …")
    assert all(one.startswith("asking again …") for one in said[:first]) and said[-1] == "fits"
    assert "share" in {what for what, *_ in heard} and not any("every piece" in fits for _, _, fits in heard[:-1])
    keys(window, "Ctrl+2", qtbot)
    session.select(run="R1", piece=0)
    session.set_own("R1", "ridge_wing", None)
    right = window.benches["trim"].solid_card.right
    qtbot.waitUntil(lambda: "fits" not in right.text() and right.property("earned") != "true", timeout=5000)
    qtbot.waitUntil(lambda: right.text().endswith("fits") and right.property("earned") == "true", timeout=30000)


def test_the_roof_as_built(window, qtbot):
    """One window for all of it: it takes the longest to come."""
    two_words_where_there_was_one(window, qtbot)
    from_any_piece_to_its_place_on_the_roof_by_a_key(window, qtbot)
    stage_by_stage_more_of_it_is_on(window, qtbot)
    it_turns_comes_nearer_is_drawn_apart_and_cut_open(window, qtbot)
    cut_open_and_looked_at_from_near_its_layers_are_seen_with_their_thickness(window, qtbot)
    a_place_under_the_pointer_stays_there_when_it_comes_nearer(window, qtbot)
    on_trim_what_lies_round_a_piece_comes_from_the_roof_put_together(window, qtbot)
    after_an_edit_what_it_touches_is_said_first_and_no_word_is_green_before_its_time(window, qtbot)
