"""The brake bench in the real window: orders, strikes, the machine's outline, the folder, practice."""

from __future__ import annotations

from threading import Event

import pytest
from hands import LEFT, choose, findings, keys, press_finding, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton

from samples import eaves_path
from yattle.devices import StandInFolder, served
from yattle.drawing.shapes import Tag
from yattle.job import load
from yattle.tasks import On


def said_of_handling(brake, qtbot):
    """What the slate says of handling, once that is worked out."""
    said = brake.slate.row("handling").said
    qtbot.waitUntil(lambda: said.text() != "being worked out", timeout=10000)
    return said.text()


def test_the_brake_bench(window, qtbot):
    window.show_bench("brake")
    settle(window, qtbot)
    brake = window.benches["brake"]
    assert len(brake.strip.pictures) == 4
    place = brake.strip.place(3).center().toPoint()
    qtbot.mouseClick(brake.strip, LEFT, pos=place)
    assert brake.model.current.n == 4
    mark = brake.slate.row("mark")
    shown = mark.get()
    assert shown.sum.value == pytest.approx(brake.model.current.mark_from_out_edge)
    brake.model.go(next(n for n, (tried, *_) in enumerate(brake.strip.pictures) if tried.step.fold == "f1"))
    type_into(brake.slate.row("springback"), "1.05", qtbot)
    settle(window, qtbot)
    assert brake.model.current.set_angle == pytest.approx(abs(brake.model.current.turn) * 1.05)
    window.do("edit.undo")


def drag(strip, start, end, qtbot):
    qtbot.mousePress(strip, LEFT, pos=strip.place(start).center().toPoint())
    qtbot.mouseRelease(strip, LEFT, pos=strip.place(end).center().toPoint())


def test_another_order_is_tried_by_dragging(window, qtbot):
    window.show_bench("brake")
    brake = window.benches["brake"]
    def shown():
        return [(tried.step.fold, tried.step.action) for tried, *_ in brake.strip.pictures]

    qtbot.waitUntil(lambda: bool(shown()), timeout=15000)
    best = shown()
    assert best[:2] == [("hB", "fold"), ("hB", "flatten")], "hems first where nothing is lost by it"
    drag(brake.strip, 3, 0, qtbot)
    settle(window, qtbot)
    assert shown() == [best[3], *best[:3]] and brake.best.isVisible()
    assert "the best order costs 1" in said_of_handling(brake, qtbot)
    qtbot.mouseClick(brake.best, LEFT)
    drag(brake.strip, 1, 0, qtbot)
    settle(window, qtbot)
    assert said_of_handling(brake, qtbot) == "this order strikes"
    assert "before it is flattened" in brake.strip.pictures[0][0].limit.says
    brake.strip.setFocus()
    qtbot.keyClick(brake.strip, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert brake.model.here == 1
    qtbot.mouseClick(brake.best, LEFT)
    assert shown() == best and not brake.best.isVisible()


def test_where_it_strikes_and_what_helps(window, qtbot):
    window.show_bench("brake")
    brake = window.benches["brake"]
    type_into(brake.slate.row("least flange"), "120", qtbot)
    settle(window, qtbot)
    assert said_of_handling(brake, qtbot) == "no order can be folded on this machine"
    assert any("needs 120 mm" in tried.limit.says for tried, *_ in brake.strip.pictures if tried.limit)
    qtbot.waitUntil(lambda: not brake.model.desk.busy and any(
        "can be folded on" in said for said in findings(brake.slate)), timeout=20000)
    press_finding(brake.slate, "thin rail", qtbot)
    assert window.store.session.job.brake.name == "shop leaf brake, thin rail"
    assert "the least there is" in said_of_handling(brake, qtbot)
    window.do("edit.undo")
    window.do("edit.undo")
    assert window.store.session.job.brake.name == "shop leaf brake" and window.store.session.job.brake.min_flange == 8


def test_how_thick_this_metal_may_be_is_typed(window, qtbot):
    window.show_bench("brake")
    brake, session = window.benches["brake"], window.store.session
    metal = session.job.metal_used.name
    row = brake.slate.row("in this metal")
    assert metal in row.note.text()
    type_into(row, "0.4 mm", qtbot)
    settle(window, qtbot)
    assert session.job.brake.thickest(metal) == 0.4 and session.job.brake.thickest("another") == 1.0
    assert said_of_handling(brake, qtbot) == "no order can be folded on this machine"
    type_into(row, "", qtbot)
    assert session.job.brake.by_metal == ()


def test_a_machine_is_an_open_file(window, qtbot, tmp_path, monkeypatch):
    window.show_bench("brake")
    brake = window.benches["brake"]
    type_into(brake.slate.row("throat"), "300", qtbot)
    target = tmp_path / "mine.json"
    monkeypatch.setattr(window.asking, "save", lambda name, kinds: str(target))
    choose(window, "piece.machine-save")
    qtbot.waitUntil(lambda: not window.store.board.busy("files", "papers"), timeout=10000)
    window.do("job.demo")
    monkeypatch.setattr(window.asking, "open", lambda *kinds: str(target))
    choose(window, "piece.machine-open")
    assert window.store.session.job.brake.throat == 300
    target.write_text(target.read_text().replace('"throat":300.0', '"throat":-1').replace('"throat": 300.0', '"throat": -1'))
    choose(window, "piece.machine-open")
    assert "mine.json.throat: found -1" in window.trouble.text.text() and window.store.session.job.brake.throat == 300


def test_the_machine_s_corners_are_moved_by_hand(window, qtbot):
    window.show_bench("brake")
    brake = window.benches["brake"]
    settle(window, qtbot)
    qtbot.mouseClick(brake.outline, LEFT)
    brake.machine.grab()
    corner = next(c for c in brake.machine.outlines if c.tool == "leaf" and c.at == (50.0, -60.0))
    start = brake.machine.place_of(corner).toPoint()
    target = brake.machine.place_of(type(corner)("leaf", 0, (70.0, -80.0))).toPoint()
    qtbot.mousePress(brake.machine, LEFT, pos=start)
    qtbot.mouseMove(brake.machine, target)
    qtbot.mouseRelease(brake.machine, LEFT, pos=target)
    x, y = window.store.session.job.brake.leaf[corner.index]
    assert abs(x - 70) <= 2 and abs(y + 80) <= 2
    brake.machine.setFocus()
    settle(window, qtbot)
    qtbot.keyClick(brake.machine, Qt.Key.Key_Right)
    settle(window, qtbot)
    assert window.store.session.job.brake.leaf[corner.index][0] == x + 1
    count = len(window.store.session.job.brake.leaf)
    qtbot.keyClick(brake.machine, Qt.Key.Key_Insert)
    assert len(window.store.session.job.brake.leaf) == count + 1
    brake.model.machine.move_corner("leaf", 0, 300.0, -100.0)
    assert "crosses itself" in window.trouble.text.text()
    for _ in range(3):
        window.do("edit.undo")
    assert window.store.session.job == load(eaves_path())


def test_a_piece_on_the_stand_in_folder(window, qtbot):
    window.show_bench("brake")
    brake = window.benches["brake"]
    qtbot.waitUntil(lambda: bool(brake.model.steps), timeout=20000)
    keys(window, "Ctrl+G", qtbot)
    settle(window, qtbot)
    said = brake.slate.row("measured").said.text()
    assert "f1 55° came out" in said and "hB 135° came out" in said
    assert brake.slate.row("batch").said.text().startswith("6 pieces one by one: 6 lifts, 18 settings")
    keys(window, "Ctrl+G", qtbot)
    settle(window, qtbot)
    assert brake.slate.row("measured").said.text() != said, "another piece scatters otherwise"
    with served(StandInFolder(seed=1)) as address:
        type_into(brake.slate.row("folder at"), address, qtbot)
        keys(window, "Ctrl+G", qtbot)
        settle(window, qtbot)
        assert brake.slate.row("measured").said.text() == said, "the same seed on a line is the same piece"
    keys(window, "Ctrl+G", qtbot)
    settle(window, qtbot)
    assert "does not answer" in brake.slate.row("measured").said.text()
    type_into(brake.slate.row("folder at"), "usb", qtbot)
    assert brake.model.folder.at == address, "nonsense is refused where it was typed"


def test_a_long_section_is_worked_out_beside_the_window(window, qtbot):
    """The window waits no longer than nobody sees; then the order comes by itself."""
    window.show_bench("brake")
    brake, release = window.benches["brake"], Event()
    assert brake.model.desk.get(("slow",), release.wait, 5, on=On.THREAD) is None and brake.model.desk.busy
    with qtbot.waitSignal(brake.model.desk.ready, timeout=3000):
        release.set()
    qtbot.waitUntil(lambda: not brake.model.desk.busy, timeout=3000)  # another answer may have come first
    assert brake.model.desk.get(("slow",), lambda: 1 / 0, on=On.THREAD) is True
    with qtbot.waitSignal(brake.model.desk.trouble, timeout=3000):
        brake.model.desk.get(("broken",), lambda: 1 / 0, on=On.THREAD)


def press_text(widget, text, qtbot):
    def found():
        return [b for b in widget.findChildren(QAbstractButton) if b.text() == text and b.isVisible()]

    qtbot.waitUntil(lambda: bool(found()), timeout=3000)
    qtbot.mouseClick(found()[0], LEFT)


def test_practising(window, qtbot):
    """Flattening a hem that is not folded strikes; taken back, the right order comes to the best cost."""
    window.show_bench("brake")
    brake = window.benches["brake"]
    qtbot.mouseClick(brake.practise, LEFT)
    assert brake.machine_card.head.text() == "Practice · E1" and brake.strip.pictures == []
    brake.machine.grab()
    letters = {shape.text for shape in brake.machine.drawing.shapes if isinstance(shape, Tag)}
    assert letters == {"BH 12", "B 55", "P 42"}, "the piece in hand lies flat on the machine, its folds named"
    press_text(brake.offers, "flatten BH 12", qtbot)
    qtbot.waitUntil(lambda: "strikes" in said_of_handling(brake, qtbot), timeout=10000)
    press_text(brake.offers, "take back", qtbot)
    for text in ("BH 12", "flatten BH 12", "B 55", "P 42"):
        press_text(brake.offers, text, qtbot)
    qtbot.waitUntil(lambda: len(brake.strip.pictures) == 4, timeout=5000)
    assert said_of_handling(brake, qtbot) == "1 so far"
    qtbot.mouseClick(brake.practise, LEFT)
    assert "the least there is" in said_of_handling(brake, qtbot) and not brake.offers.isVisible()


def test_playing_the_order(window, qtbot):
    window.show_bench("brake")
    settle(window, qtbot)
    brake = window.benches["brake"]
    brake.model.go(0)
    qtbot.mouseClick(brake.play, LEFT)
    qtbot.waitUntil(lambda: not brake.player.isActive(), timeout=15000)
    assert brake.model.here == 3 and brake.swing.value() == 100 and not brake.play.isChecked()


def test_folds_and_legs_are_called_as_on_the_drawings(window):
    """Whatever the machine's sentences call a fold, the window says its letter and which one it is."""
    window.show_bench("brake")
    model = window.benches["brake"].model
    bends = model.girth.bends
    first = next(bend for bend in bends if bend.id.startswith("f"))
    said = model.named(f"{first.id}: leg 1 strikes the jaw at 40°; f99 is nobody's")
    assert said.startswith(("P ", "B ")) and f"(fold {bends.index(first) + 1} from A)" in said and "f99" in said
    assert f"leg 1 ({model.run.detail.leg_fields[0].replace('_', ' ')})" in said
