"""All pieces of an opening in their place, and what they stand round."""

from __future__ import annotations

import numpy as np

from yattle.derive.openings import DerivedOpening
from yattle.details.chimney import Chimney
from yattle.details.curb import Curb
from yattle.details.feet import corners_of
from yattle.details.forms import Form, FormPiece
from yattle.details.pipe import Pipe
from yattle.ui.drawing.space import Space, SpaceSurface
from yattle.ui.theme import theme

_INK, _STANDS = "#1b2325", "#b3a596"


class Installed(Space):
    """All pieces of an opening in their place, the selected one in copper."""

    def __init__(self, name: str) -> None:
        super().__init__(name, tilt=34.0)
        self.pieces: tuple[FormPiece, ...] = ()
        self.chosen, self.metal = 0, "#4a6b80"
        self.form: Form | None = None
        self._of = ""

    def show_set(self, found: DerivedOpening, chosen: int, metal: str) -> None:
        now = (found.pieces, chosen, metal, found.form)
        if now != (self.pieces, self.chosen, self.metal, self.form):
            if found.id != self._of:
                self._of, self.aside = found.id, np.zeros(2)  # another one comes to the middle
            self.pieces, self.chosen, self.metal, self.form = now
            self._soon.start(20)

    def surfaces(self) -> list[SpaceSurface]:
        found, lift = _standing(self.form), 0.0
        for n, piece in enumerate(self.pieces):
            if piece.paper:
                continue
            colour = theme().copper if n == self.chosen else self.metal
            curved = any(crease.roll for crease in piece.surface.creases)
            for face in piece.flat.faces:
                points = np.array(face.corners) + face.normal * lift
                lines = [] if curved else [(points[k], points[(k + 1) % len(points)], 0.8, _INK)
                                           for k in range(len(points))]
                found.append(SpaceSurface(points, colour, theme().bare, lines, [np.array(h) for h in face.holes]))
            lift += 0.6  # later pieces lie on those before them
        return found

def _standing(form: Form | None) -> list[SpaceSurface]:
    """What the pieces go round: masonry, a curb, a pipe; plainly."""
    if isinstance(form, Chimney):
        feet = [form.roof.at(*corner) for corner in corners_of(form.across - 6, form.along - 6, form.turned)]
        top = max(foot[2] for foot in feet) + form.kerf_plumb + (form.behind.rise if form.behind else 0.0) + 150
    elif isinstance(form, Curb):
        feet = [np.array([*corner, 0.0]) for corner in corners_of(form.across - 6, form.along - 6, 0.0)]
        top = form.height + 60
    elif isinstance(form, Pipe):
        turn = np.linspace(0, 2 * np.pi, 33)[:-1]
        feet = [np.array([form.diameter / 2 * np.cos(t), form.diameter / 2 * np.sin(t), -form.bore]) for t in turn]
        top = form.top + 160
    else:
        return []
    heads = [np.array([x, y, top]) for x, y, _ in feet]
    walls = [np.array([feet[n - 1], feet[n], heads[n], heads[n - 1]]) for n in range(len(feet))]
    return [SpaceSurface(points, _STANDS, _STANDS, []) for points in (*walls, np.array(heads))]
