"""What all pieces share that are not a run with two ends: a form says its surfaces, the machinery lays them flat and
proves them by folding each up again against the faces it was made for."""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yattle.bounds import Id
from yattle.details.common import Finding, misfit
from yattle.details.drops import Leak
from yattle.pattern import Pattern, Proof
from yattle.pattern.proof import prove_against_faces
from yattle.pattern.surface import Corner, Crease, Face, Surface
from yattle.pattern.unfold import Unfolded, unfold
from yattle.section import MetalSpec
from yattle.values import Value

Array = NDArray[np.float64]


class Form(Value):
    """What every form is given. ``chord`` how far, in mm, a flat part may lie off the curve it stands for."""

    format: Literal["yattle-detail/1"] = "yattle-detail/1"
    id: Id = "F1"
    metal: MetalSpec
    measured: Literal["outside", "inside"] = "outside"
    chord: Annotated[float, Field(ge=0.01, le=5)] = 0.1

    @abstractmethod
    def surfaces(self) -> tuple[Surface, ...]:
        """The pieces as they stand installed; every form has its own. Raises :class:`InputError` where the sizes
        cannot be made."""

    @property
    def notes(self) -> tuple[str, ...]:
        return ()

    @property
    def cautions(self) -> tuple[str, ...]:
        return ("Cut edges are sharp: wear gloves.",)

    def looks(self) -> tuple[Finding, ...]:
        """What should be seen before it is cut."""
        return ()

    def lost_drops(self) -> tuple[Leak, ...] | None:
        """Where a drop on the pieces, as they lie, does not stay on top of metal; a second or two of work. ``None``
        where that cannot be followed."""
        return None


@dataclass(frozen=True)
class FormPiece:
    """One piece: what it is made for, laid flat; its proof when asked for."""

    surface: Surface
    flat: Unfolded

    @property
    def pattern(self) -> Pattern:
        return self.flat.pattern

    @property
    def paper(self) -> bool:
        """Whether it is a template, printed and not cut from the coil."""
        return self.surface.paper

    @cached_property
    def proof(self) -> Proof:
        """The pattern folded up again and held against its faces."""
        return prove_against_faces(self.pattern, self.flat.seats, self.flat.faces)


@dataclass(frozen=True)
class FormResult:
    """A form worked out."""

    form: Form
    pieces: tuple[FormPiece, ...]

    @property
    def max_gap(self) -> float:
        """The greatest gap of all its proofs, mm; 0 without pieces."""
        return max((piece.proof.max_gap for piece in self.pieces), default=0.0)

    @property
    def misfits(self) -> Iterator[Finding]:
        """Pieces that do not fold up to their faces, one after another: each takes its time."""
        return (misfit(f"piece {made.pattern.id} does not fold up to what it was made for", made.proof)
                for made in self.pieces if not made.proof.holds)

    def answer(self) -> dict[str, Any]:
        """The document that ``yattle develop`` prints."""
        looks, misfits = self.form.looks(), tuple(self.misfits)
        findings = [finding.document() for finding in (*looks, *misfits)]
        if misfits:
            return {"ok": False, "reasons": [finding.says() for finding in misfits], "findings": findings}
        return {"ok": True, "pieces": [piece.pattern.model_dump(mode="json") for piece in self.pieces], "sections": [],
                "fit": {"max_gap": self.max_gap, "checked": sum(p.proof.checked for p in self.pieces)},
                "findings": findings, "notes": [*self.form.notes, *(finding.says() for finding in looks)],
                "cautions": list(self.form.cautions)}


def develop_form(form: Form) -> FormResult:
    """Every piece of a form laid flat; raises :class:`~yattle.errors.InputError` for what cannot be made."""
    surfaces = form.surfaces()
    return FormResult(form, tuple(
        FormPiece(surface, unfold(surface, form.metal, f"{form.id}-{n}", form.measured))
        for n, surface in enumerate(surfaces, 1)))


def tilted(surface: Surface, pitch: float, by: Array | None = None, turned: bool = False) -> Surface:
    """A surface given in a roof's own plane (y up the slope, z square to it) set on the slope of ``pitch`` degrees and
    moved ``by``; ``turned``: half round first, so that its y points down the slope."""
    lean = math.radians(pitch)
    turn = np.array([[1, 0, 0], [0, math.cos(lean), -math.sin(lean)], [0, math.sin(lean), math.cos(lean)]])
    return moved(surface, turn @ np.diag([-1.0, -1.0, 1.0]) if turned else turn, by)


def moved(surface: Surface, turn: Array, by: Array | None = None) -> Surface:
    """A surface turned by a matrix (3, 3), then moved ``by`` mm."""
    shift = np.zeros(3) if by is None else by

    def at(point: Corner) -> Corner:
        return corner(turn @ np.array(point) + shift)

    return replace(surface, faces=tuple(
        replace(face, corners=tuple(at(p) for p in face.corners),
                holes=tuple(tuple(at(p) for p in hole) for hole in face.holes),
                marks=tuple((at(a), at(b), text) for a, b, text in face.marks),
                layer=corner(turn @ np.array(face.layer))) for face in surface.faces))


# -- curved surfaces by rulings -------------------------------------------------------------------------


def parts_for(radius: float, chord: float, least: int = 12) -> int:
    """How many flat parts a full circle needs so that none lies more than ``chord`` mm off it (sagitta
    r·(1 − cos(π/n)))."""
    if chord >= radius:
        return least
    return max(least, math.ceil(math.pi / math.acos(1 - chord / radius)))


def true_to_girth(radius: float, parts: int) -> float:
    """The radius of the polygon of ``parts`` sides that is as long round as the circle: what is rolled comes out
    right. In mm.

    >>> round(true_to_girth(50.0, 24), 2)  # a pipe of 100 by 24 rulings
    50.14
    """
    return radius * (math.pi / parts) / math.sin(math.pi / parts)


def corner(point: Array) -> Corner:
    """A point of an array as three plain numbers, mm."""
    return float(point[0]), float(point[1]), float(point[2])


def ruled(name: str, lower: Array, upper: Array, lap: float = 0.0) -> Surface:
    """A surface between two rows of points (n, 3) with rulings between them, seen from outside with ``lower`` below
    running anticlockwise: flat parts rolled against each other. ``lap`` mm more at its end, going on straight."""
    low, high = ([(x, y, z) for x, y, z in row.tolist()] for row in (lower, upper))
    faces, creases = [], []
    for n in range(len(low) - 1):
        ring = (low[n], low[n + 1], high[n + 1], high[n])
        faces.append(Face(f"part {n + 1}", tuple(p for k, p in enumerate(ring) if math.dist(p, ring[k - 1]) > 1e-6)))
    for n in range(1, len(faces)):
        creases.append(Crease(n - 1, faces[n - 1].corners.index(low[n]), n, roll=True))
    if lap:
        creases.append(lapped(faces, lower[-2:], upper[-2:], lap))
    return Surface(name, tuple(faces), tuple(creases))


def lapped(faces: list[Face], lower: Array, upper: Array, lap: float) -> Crease:
    """The lap of so many mm: a flat part beyond the last ruling, in the plane of the last part, added to ``faces``;
    ``lower`` and ``upper``: the last two points of the rows, (2, 3)."""
    last, normal = len(faces) - 1, faces[-1].normal
    ruling = upper[1] - lower[1]
    out = np.cross(ruling / np.linalg.norm(ruling), normal) * lap
    if out @ (lower[1] - lower[0]) < 0:
        out = -out
    faces.append(Face("lap", (corner(lower[1]), corner(lower[1] + out), corner(upper[1] + out), corner(upper[1]))))
    return Crease(last, faces[last].corners.index(corner(lower[1])), last + 1, roll=True)
