"""Panel systems: each drawn with its figures, chosen for a face or for the whole job; own ones read from a file."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from yattle.drawing.panel_profile import panel_profile_drawing
from yattle.measure import Sum, Unit, say_length
from yattle.panels import PanelSystem, derive_profile
from yattle.panels.profile import figures_of
from yattle.roof.structure import Structure
from yattle.ui.drawing.grip_canvas import GripCanvas
from yattle.ui.drawing.handles import Handle
from yattle.ui.drawing.paint import Ink
from yattle.ui.frame.own_module import OwnModule
from yattle.ui.widgets.words import Words


class SystemsBox(QDialog):
    """``systems`` to choose from, ``now`` the one in use; ``choose`` is told a name and whether it is for the face
    alone; ``face`` the one in hand, if any, ``structure`` what it lies on; ``read`` reads an own system and gives
    it; ``keep`` takes one that was typed or drawn here."""

    def __init__(self, parent: QWidget, systems: list[PanelSystem], now: str, unit: Unit, face: str,
                 structure: Structure, choose: Callable[[str, bool], str | None],
                 read: Callable[[], PanelSystem | None], keep: Callable[[PanelSystem], object]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Panel systems")
        self.resize(980, 560)
        self.systems, self.unit, self._choose, self._read, self._keep = systems, unit, choose, read, keep
        self.structure = structure
        self.list = QListWidget()
        self.list.setAccessibleName("panel systems")
        self.list.setFixedWidth(290)
        self.picture = GripCanvas("the module and what it lies on, seen from the eave", (205, 50, 70, 50))
        self.says, self.rules = Words(), Words()
        for words in (self.says, self.rules):
            words.setWordWrap(True)
        self.for_face, self.for_all = QPushButton(f"for face {face}"), QPushButton("for all faces")
        self.read_button, self.close_button = QPushButton("read an own one …"), QPushButton("close")
        self.own = OwnModule(unit, self.draw_own, self._keep_own)
        self.for_face.setVisible(bool(face))
        self._lay_out()
        self._fill(now)

    def _lay_out(self) -> None:
        self.list.currentRowChanged.connect(lambda _: self.show_system())
        self.for_face.clicked.connect(lambda: self._take(True))
        self.for_all.clicked.connect(lambda: self._take(False))
        self.read_button.clicked.connect(self._read_own)
        self.close_button.clicked.connect(self.reject)
        self.picture.pulled.connect(lambda _part, role, x, y, done: self.own.pull(int(role), x, y, done))
        self.picture.dropped.connect(self.own.add)
        foot = QHBoxLayout()
        foot.addWidget(self.read_button)
        foot.addStretch(1)
        for button in (self.for_face, self.for_all, self.close_button):
            foot.addWidget(button)
        right = QVBoxLayout()
        right.addWidget(self.picture, 1)
        right.addWidget(self.says)
        right.addWidget(self.rules)
        right.addWidget(self.own)
        right.addLayout(foot)
        row = QHBoxLayout(self)
        row.addWidget(self.list)
        row.addLayout(right, 1)

    def _fill(self, now: str) -> None:
        self.list.clear()
        for system in self.systems:
            item = QListWidgetItem(system.name)
            item.setData(Qt.ItemDataRole.UserRole, system.name)
            self.list.addItem(item)
        names = [system.name for system in self.systems]
        self.list.setCurrentRow(names.index(now) if now in names else 0)

    @property
    def system(self) -> PanelSystem:
        """The one that is shown."""
        return self.systems[max(self.list.currentRow(), 0)]

    def show_system(self) -> None:
        """The module and what is known of it."""
        system = self.system
        rules, fixing = system.rules, system.fixing
        self.picture.show_handles([])
        self.picture.show_drawing(panel_profile_drawing(system, self.unit, self.structure), Ink(points=11))
        lock = f"{system.lock} lock, " if system.lock != "none" else ""
        made = "made in the shop" if system.made == "shop" else "bought"
        flats = [flat for flat in derive_profile(system).flats if flat.takes_screw]
        self.says.setText(f"{system.kind}, {lock}{made}; from {rules.least_pitch:.1f}° on; eave {rules.eave}, ridge "
                          f"{rules.ridge}\n{'; '.join(map(self._summed, figures_of(system)))}; {len(flats)} "
                          f"flat{'' if len(flats) == 1 else 's'} wide enough for a screw")
        held = [f"clips every {self._say(fixing.clips)}" if fixing.clips else "",
                f"strip screws every {self._say(fixing.strip)}" if fixing.strip else "",
                f"screws at supports every {self._say(fixing.supports)}, {fixing.end_row} a rib at ends, "
                f"{fixing.middle_row} between" if fixing.supports else ""]
        source = dict(system.sources).get("profile", "nobody has said where its figures come from")
        told = ", ".join(part for part in held if part) or "nothing that is told"
        self.rules.setText(f"held by {told}. {source}. The maker's paper outranks every figure here.")

    def draw_own(self, system: PanelSystem | None, wrong: str) -> None:
        """What is being typed: the module with a handle at each point, or one sentence why it is none yet."""
        if system is None:
            self.says.setText(wrong)
            return
        self.picture.show_drawing(panel_profile_drawing(system, self.unit, self.structure), Ink(points=11))
        self.picture.show_handles([Handle("module", str(n), at) for n, at in enumerate(system.profile)])
        self.says.setText("drag a point, or press with Shift for another one at the right")
        self.rules.setText("")

    def _keep_own(self, system: PanelSystem) -> None:
        self._keep(system)
        self._show_own(system)

    def _summed(self, figure: Sum) -> str:
        """A figure with the sum it comes from."""
        terms = "".join(f" {'−' if term.amount < 0 else '+'} {term.what} {say_length(abs(term.amount), self.unit)}"
                        for term in figure.terms if abs(term.amount) > 1e-9).removeprefix(" + ")
        return f"{figure.what} {say_length(figure.value, self.unit)} = {terms}"

    def _say(self, size: float) -> str:
        return say_length(size, self.unit, 0, mark=True)

    def _take(self, face: bool) -> None:
        wrong = self._choose(self.system.name, face)
        self.says.setText(wrong or f"{self.system.name} is laid {'on this face' if face else 'on all faces'}")

    def _read_own(self) -> None:
        found = self._read()
        if found is not None:
            self._show_own(found)

    def _show_own(self, system: PanelSystem) -> None:
        self.systems = [*(s for s in self.systems if s.name != system.name), system]
        self._fill(system.name)
