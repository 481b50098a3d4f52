"""``yattle-job/1``: one job as it is kept in a ``*.yattle`` file.

A job is one value; an edit makes a new one. Lengths in mm, angles in degrees, whatever the
user's unit is.
"""

from __future__ import annotations

from collections import Counter
from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.bounds import Bearing, Count, Measured, Name, Past, Place, PlacePair, RunLength, Steep, Thickness
from yattle.brake import SHOP_BRAKE, Brake
from yattle.coil.job import NestRules, Stock
from yattle.csv_tables import Style
from yattle.details import ENTRIES, Own, families_for
from yattle.details.all import SQUARE
from yattle.details.all_forms import lies_beside
from yattle.details.common import EndPart, RunEnd
from yattle.details.eave_drip import check_pitch
from yattle.details.free import Mitre, Shape
from yattle.details.schools import Schools
from yattle.details.trim import CornerCut, Normal, Outlets, Tapers
from yattle.errors import InputError
from yattle.job.fixing_rules import FixingRules
from yattle.metal import Metal, OwnMetal, library
from yattle.panels import PanelSystem, find
from yattle.roof import RoofPlan
from yattle.roof.edges import WALLS
from yattle.roof.edges import Kind as EdgeKind
from yattle.roof.measured import Taped
from yattle.roof.panels import PanelRule
from yattle.roof.structure import Structure
from yattle.values import Value

FORMAT = "yattle-job/1"
Text = Annotated[str, Field(min_length=1, max_length=400)]
Note = Annotated[str, Field(max_length=20_000)]
Many = Field(max_length=5000)


class Run(Value):
    """One straight edge, as seen from outside, going to the right. Lengths in mm, angles in degrees.

    ``length``: its true length; ``taped``: what the tape said
    ``taped_by``: a stand-in for the tape, which is no measure: nothing follows from it
    ``at``, ``bearing``: its left end in plan, and its direction anticlockwise from east
    ``pitch``: of the roof beside it; ``slope``: its own, from level; ``fold``: between its planes
    ``lean``: how the face that its first leg lies on leans across it
    ``past``: how far the panels go on beyond its low end
    ``lower_pitch``: of a pitch break's lower face, whose upper one has ``pitch``
    ``turned``: its high end is on the left
    ``left_plane`` … ``right_plane_b``: the planes that cut its ends, their ``reaches``, and ``corner_cuts``,
        as of :class:`~yattle.details.trim.Trim`
    ``detail``: where it is not the usual one for its kind
    ``section``: the user's own one; ``mitre_left``, ``mitre_right``: how such a run goes on at its ends
    ``layer``: it comes with another run (a cleat, a closure); ``gaps``: the gaps between seams that it fills
    ``left_also``, ``right_also``: parts that its ends have besides; ``None``: as the school chosen has them
    ``avoid``: stretches from the left end where no joint may stand
    ``over``: how high the seams or ribs of the panels beneath it stand over their flat; 0 where nobody knows
    ``packed``: how much of that its closures are higher, so that caps that meet come to one height
    ``draws``: by how much the edge of a leg over closures comes nearer to its line for each mm that it is raised
    ``on_face``: the face that closures stand on
    ``hooked``: how far the panels that hook on it go past the eave
    ``tapers``: measures that are another at the right end, as of :class:`~yattle.details.trim.Trim`
    ``outlets``: of a gutter, as of :class:`~yattle.details.trim.Trim`
    ``first_seam``: of a wall along the fall, how far the first seam stands off it; ``None`` where none runs along it
    ``beyond``: of a pitch break, how far its fold lies beyond its upper and its lower face; so much longer are its legs
    """

    id: Annotated[str, Field(min_length=1, max_length=12)]
    name: Name = ""
    kind: EdgeKind | Literal["free"] = "eave"
    pitch: Bearing = 0.0
    slope: Annotated[float, Field(ge=0, lt=90)] = 0.0
    fold: Annotated[float, Field(ge=0, le=180)] | None = None
    turned: bool = False
    left_plane: Normal | None = None
    right_plane: Normal | None = None
    left_plane_b: Normal | None = None
    right_plane_b: Normal | None = None
    reaches: tuple[Place, Place, Place, Place] = (0.0, 0.0, 0.0, 0.0)
    corner_cuts: Annotated[tuple[CornerCut, ...], Field(max_length=50)] = ()
    lean: Steep | None = None
    lower_pitch: Bearing | None = None
    past: Past = 0.0
    layer: str = ""
    gaps: tuple[tuple[Place, Count], ...] = ()
    avoid: tuple[PlacePair, ...] = ()
    over: Annotated[float, Field(ge=0, le=500)] = 0.0
    packed: Annotated[float, Field(ge=0, le=500)] = 0.0
    draws: Annotated[float, Field(ge=0, le=60)] = 0.0
    on_face: Name = ""
    hooked: Annotated[float, Field(ge=0, le=500)] = 0.0
    tapers: Tapers = ()
    outlets: Outlets = ()
    first_seam: Annotated[float, Field(ge=0, le=1e6)] | None = None
    beyond: tuple[Past, Past] = (0.0, 0.0)
    detail: str | None = None
    schools: Schools = Schools()
    section: Shape | None = None
    mitre_left: Mitre | None = None
    mitre_right: Mitre | None = None
    length: RunLength
    taped: RunLength | None = None
    taped_by: Literal["tape", "stand-in"] = "tape"
    left: RunEnd = "wrap"
    right: RunEnd = "wrap"
    left_also: tuple[EndPart, ...] | None = None
    right_also: tuple[EndPart, ...] | None = None
    at: PlacePair = (0.0, 0.0)
    bearing: Bearing = 0.0
    own: Own = Own()

    @model_validator(mode="after")
    def _within_reason(self) -> Self:
        if self.kind == "eave":
            check_pitch(self.pitch)
        if not self.layer:
            _check_detail(self.kind, self.detail)
        _check_own(self.own)
        return self

    @property
    def collects(self) -> bool:
        """Whether it is a wall that the roof falls toward, so that water comes to it."""
        return self.kind in WALLS and self.fold is not None and self.fold > SQUARE

    @property
    def low(self) -> Literal["left", "right"] | None:
        """Which end lies lower, seen from edge A (against a wall that is the wall's, elsewhere the roof's)."""
        if self.slope <= 0.5:
            return None
        return "left" if self.turned == (self.kind in WALLS) else "right"


class EdgeNote(Value):
    """What the job says of one edge of the roof, found again by its ``key`` and ``place`` among edges of one key.

    ``left`` and ``right`` ends are chosen by what meets there where they are not given.
    """

    key: Text
    place: Annotated[int, Field(ge=0, le=100_000)] = 0
    name: Name | None = None
    left: RunEnd | None = None
    right: RunEnd | None = None
    left_also: tuple[EndPart, ...] | None = None
    right_also: tuple[EndPart, ...] | None = None
    detail: str | None = None
    schools: Schools = Schools()
    section: Shape | None = None
    mitre_left: Mitre | None = None
    mitre_right: Mitre | None = None
    tapers: Tapers | None = None
    own: Own = Own()


class FaceNote(Value):
    """How one face of the roof is laid with panels, and what they lie on where that is not the job's ``structure``."""

    face: Text
    panels: PanelRule
    structure: Structure | None = None


class OpeningNote(Value):
    """What was chosen for an opening of the roof: fields of its form that differ from their usual values. In mm or
    degrees."""

    of: Text
    own: Annotated[tuple[tuple[Name, Place | Name], ...], Field(max_length=100)] = ()

    @property
    def values(self) -> dict[str, float | str]:
        """The fields chosen, by their names, in mm or degrees."""
        return dict(self.own)


class Printed(Value):
    """A piece as it stood when the papers were last written: its id and what its pattern came to."""

    piece: Text
    mark: Text


class RunName(Value):
    """What an edge of the roof was called when it was printed: it keeps that name, whatever becomes of others."""

    key: Text
    place: Annotated[int, Field(ge=0, le=100_000)] = 0
    id: Annotated[str, Field(pattern=r"^[A-Z]{1,2}[0-9]{1,6}$")]


class Revision(Value):
    """A print of the papers: its ``letter``, the day, and what ``differs`` from the one before: piece ids."""

    letter: Annotated[str, Field(pattern=r"^[A-Z]{1,3}$")]
    when: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]
    changed: Annotated[tuple[Text, ...], Many] = ()
    new: Annotated[tuple[Text, ...], Many] = ()
    gone: Annotated[tuple[Text, ...], Many] = ()

    @property
    def says(self) -> str:
        """What differs from the print before, in a few words; empty of the first one."""
        rows = ((len(self.changed), "differ" if len(self.changed) > 1 else "differs"), (len(self.new), "new"),
                (len(self.gone), "gone"))
        said = [f"{many} {'' if word in ('new', 'gone') else 'piece' + ('s ' if many > 1 else ' ')}{word}"
                for many, word in rows if many]
        return ", ".join(said)


class LedgerEntry(Value):
    """Stock that came in, went out or was counted: mm of a coil, or pieces."""

    when: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]
    what: Literal["in", "out", "count"]
    stock: Text
    amount: Annotated[float, Field(ge=0, le=1e9)]
    note: Note = ""


Copies = Annotated[int, Field(ge=0, le=100_000)]


class CutPieces(Value):
    """So many ``copies`` of a piece that are cut, and how far they have come.

    ``shape``: the one it had when it was cut: another shape is another piece
    ``stock``, ``lot``: the stock piece it was cut from, and that one's lot
    ``folded``: so many of the copies are folded; ``fitted``: so many of those are on the roof
    """

    piece: Text
    shape: Annotated[str, Field(max_length=32)]
    copies: Annotated[int, Field(ge=1, le=100_000)]
    stock: Name = ""
    lot: Annotated[str, Field(max_length=200)] | None = None
    folded: Copies = 0
    fitted: Copies = 0

    @model_validator(mode="after")
    def _in_turn(self) -> Self:
        for field, many, most in (("folded", self.folded, self.copies), ("fitted", self.fitted, self.folded)):
            if many > most:
                raise InputError(field, f"{many} of {self.piece}",
                                 f"at most {most}: a piece is cut, then folded, then fitted")
        return self


class Learnt(Value):
    """A springback of a metal on a brake, or a metal's k-factor, that was learnt and taken. ``value`` is a ratio;
    ``offset`` what the leaf goes further, degrees."""

    what: Literal["springback", "k"]
    metal: Name
    brake: Name = ""
    value: Annotated[float, Field(ge=0, le=2)]
    offset: Annotated[float, Field(ge=-20, le=20)] = 0.0


class ShopRates(Value):
    """What the shop's time is worth: ``an_hour`` in the job's currency, ``minutes_a_cut`` with handling; kept offcuts
    count as so much of their metal's price (``offcuts_worth``, 0 … 1)."""

    an_hour: Annotated[float, Field(ge=0, le=1e6)] = 45.0
    minutes_a_cut: Annotated[float, Field(ge=0, le=1000)] = 0.5
    offcuts_worth: Annotated[float, Field(ge=0, le=1)] = 0.5

    @property
    def a_cut(self) -> float:
        """What one cut costs with its handling, in the job's money."""
        return self.an_hour / 60 * self.minutes_a_cut


class LogEntry(Value):
    """A line of the logbook.

    ``of``: the piece, run or opening it is of; empty: the job
    ``fold``: the fold measured, with the angle or length ``wanted``
    ``set``: what the leaf was set to, ``found``: what came out, degrees
    ``folds``: of a leg, whose ``found`` is a length in mm: with so many folds at 90°
    ``metal``, ``brake``: what it was measured on
    ``by``: ``hand``, a ``device``, or a ``stand-in`` for one: not measured then, and nothing is learnt from it
    """

    when: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]
    what: Literal["measured", "fitted", "changed", "spoiled", "weather", "time", "photo", "lesson"]
    of: Name = ""
    text: Note = ""
    fold: Name = ""
    wanted: Measured | None = None
    set: Measured | None = None
    found: Measured | None = None
    folds: Annotated[int, Field(ge=0, le=2)] = 0
    metal: Name = ""
    brake: Name = ""
    by: Literal["hand", "device", "stand-in"] = "hand"


class LapNote(Value):
    """Somebody's own word that one item of the fitting order lies ``over`` another."""

    over: Text
    under: Text


class Job(Value):
    """A whole job: what a person entered, and nothing that follows from it. Lengths in mm, angles in degrees.

    ``system``: whose defaults the standard takes; ``unit``: how lengths are shown; ``tables``: how CSV is written
    ``sheet``: what papers are printed on; empty: A4, of jobs in inches letter
    ``metal``: of the library or of the job's own ``metals``; ``thickness`` mm, also one that is not usual
    ``k``: the k-factor learnt, where it is not the metal's
    ``roof``: what was surveyed; ``taped``: all measures taken beside worked-out ones
    ``edges``, ``openings``, ``faces``: what was chosen for those of the roof
    ``rain``: mm an hour, for gutters
    ``panels``: how faces are laid unless a face has its own rule; ``systems``: the panel systems they are of, kept here
    ``structure``: what panels lie on unless a face has its own
    ``runs``: eaves entered by themselves, without a roof
    ``stock``: what there is to cut from; ``ledger``: what came and went of it
    ``cut``: the pieces that are cut already, from what, and how far they are; no plan cuts them again
    ``shop``: the shop's rates for cuts, lengths and time
    ``fit``: how things are fixed; ``laps``: what somebody said of the order
    ``log``: what was measured; ``learnt``: what of that was taken, by metal and brake
    ``printed``: what the papers last written hold; ``revisions``: each time they were; ``run_names``: what edges of
        the roof are called on them
    """

    format: Literal["yattle-job/1"] = "yattle-job/1"
    name: Name
    place: Name = ""
    system: Literal["metric", "inch"] = "metric"
    unit: Literal["mm", "in8", "in16", "in32"] = "mm"
    tables: Style = "comma"
    sheet: Literal["", "a4", "letter"] = ""
    metal: Name = "prepainted-steel"
    thickness: Thickness = 0.6
    metals: Annotated[tuple[OwnMetal, ...], Field(max_length=100)] = ()
    colour: Name = "slate blue"
    measured: Literal["outside", "inside"] = "outside"
    allowance: Literal["metal", "din6935", "sum"] = "metal"
    k: Annotated[float, Field(ge=0, le=1)] | None = None
    weather: Literal["left", "right"] = "left"
    joints: Literal["even", "full"] = "even"
    tape_tolerance: Annotated[float, Field(ge=0, le=1000)] = 10.0
    own: Own = Own()
    schools: Schools = Schools()
    roof: RoofPlan = RoofPlan()
    edges: Annotated[tuple[EdgeNote, ...], Many] = ()
    openings: Annotated[tuple[OpeningNote, ...], Many] = ()
    faces: Annotated[tuple[FaceNote, ...], Many] = ()
    taped: Annotated[tuple[Taped, ...], Many] = ()
    rain: Annotated[float, Field(ge=0, le=2000)] = 150.0
    panels: PanelRule = PanelRule()
    structure: Structure = Structure()
    systems: Annotated[tuple[PanelSystem, ...], Field(max_length=100)] = ()
    runs: Annotated[tuple[Run, ...], Many] = ()
    printed: Annotated[tuple[Printed, ...], Many] = ()
    revisions: Annotated[tuple[Revision, ...], Many] = ()
    run_names: Annotated[tuple[RunName, ...], Many] = ()
    brake: Brake = SHOP_BRAKE
    stock: Annotated[tuple[Stock, ...], Many] = ()
    rules: NestRules = NestRules()
    shop: ShopRates = ShopRates()
    fit: FixingRules = FixingRules()
    laps: Annotated[tuple[LapNote, ...], Many] = ()
    log: Annotated[tuple[LogEntry, ...], Many] = ()
    learnt: Annotated[tuple[Learnt, ...], Many] = ()
    ledger: Annotated[tuple[LedgerEntry, ...], Many] = ()
    cut: Annotated[tuple[CutPieces, ...], Field(max_length=20_000)] = ()

    @model_validator(mode="after")
    def _known_and_once(self) -> Self:
        usual = self.metal_used.thicknesses
        low, high = 0.4 * min(usual), 2.5 * max(usual)
        if not low <= self.thickness <= high:
            raise InputError("thickness", f"{self.thickness:g} mm", f"{low:g} to {high:g} mm for "
                             f"{self.metal_used.name}, usual is {', '.join(f'{t:g}' for t in usual)}")
        for field, ids in (("runs", [run.id for run in self.runs]), ("metals", [one.name for one in self.metals]),
                           ("stock", [piece.id for piece in self.stock])):
            twice = [key for key, count in Counter(ids).items() if count > 1]
            if twice:
                raise InputError(field, f"the id {twice[0]!r} twice", "every id once")
        rules = [("panels", self.panels), *((f"faces.{n}.panels", face.panels) for n, face in enumerate(self.faces))]
        for where, rule in rules:
            _check_system(where, rule, self.systems)
        for n, run in enumerate(self.runs):
            if run.kind not in ("eave", "free") or run.fold is not None or run.slope or run.layer:
                raise InputError(f"runs.{n}.kind", run.kind, "eave or free: other edges come from the roof")
        _check_own(self.own)
        return self

    def note(self, key: str, place: int) -> EdgeNote:
        """What the job says of an edge of the roof; an empty note where it says nothing."""
        return next((n for n in self.edges if (n.key, n.place) == (key, place)), EdgeNote(key=key, place=place))

    def opening_note(self, opening: str) -> OpeningNote:
        """What the job says of an opening; an empty note where it says nothing."""
        return next((note for note in self.openings if note.of == opening), OpeningNote(of=opening))

    def with_note(self, note: EdgeNote) -> Job:
        """This job with what it says of one edge changed."""
        rest = tuple(n for n in self.edges if (n.key, n.place) != (note.key, note.place))
        said = note != EdgeNote(key=note.key, place=note.place)
        return self.but(edges=(*rest, note) if said else rest)

    def with_taped(self, taped: Taped | None, kind: str, of: str, field: str) -> Job:
        """This job with one taped measure set, or taken out (``None``)."""
        rest = tuple(t for t in self.taped if (t.kind, t.of, t.field) != (kind, of, field))
        return self.but(taped=rest if taped is None else (*rest, taped))

    def with_panels(self, face: str, rule: PanelRule) -> Job:
        """This job with one face laid by its own rule."""
        rest = tuple(note for note in self.faces if note.face != face)
        held = next((note.structure for note in self.faces if note.face == face), None)
        return self.but(faces=(*rest, FaceNote(face=face, panels=rule.but(plates=()), structure=held)))

    def structure_of(self, face: str) -> Structure:
        """What the panels of a face lie on: its own or the job's."""
        own = next((note.structure for note in self.faces if note.face == face), None)
        return self.structure if own is None else own

    def with_structure(self, structure: Structure, face: str = "") -> Job:
        """This job with what the panels of one face lie on, or (no face) of all that have none of their own."""
        if not face:
            return self.but(structure=structure)
        rest = tuple(note for note in self.faces if note.face != face)
        own = self.panel_rule(face).but(plates=())
        return self.but(faces=(*rest, FaceNote(face=face, panels=own, structure=structure)))

    def panel_system(self, face: str) -> PanelSystem | None:
        """The panel system of a face; ``None`` where only a coverage is known."""
        name = self.panel_rule(face).system
        return find(name, self.systems) if name else None

    def panel_rule(self, face: str) -> PanelRule:
        """How a face is laid: its own rule or the job's, clear of the plates and flanges of the roof's openings."""
        return self._own_rules.get(face, self._rule)

    @cached_property
    def _own_rules(self) -> dict[str, PanelRule]:
        """The rules of the faces that have their own; the first where a face has two."""
        return {note.face: self._clear(note.panels) for note in reversed(self.faces)}

    @cached_property
    def _rule(self) -> PanelRule:
        return self._clear(self.panels)

    def _clear(self, rule: PanelRule) -> PanelRule:
        """A rule that keeps clear of the openings' plates."""
        return rule if rule.plates == self._plates else rule.but(plates=self._plates)

    @cached_property
    def _plates(self) -> tuple[tuple[str, float], ...]:
        """How far each opening's plate or flange lies beside it, mm."""
        found = ((opening.id, lies_beside(opening.kind, self.opening_note(opening.id).values))
                 for opening in self.roof.openings)
        return tuple((name, min(reach, 3000.0)) for name, reach in found if reach)

    @property
    def coil(self) -> Stock | None:
        """The first coil of the job's metal; ``None`` where there is none."""
        return next((s for s in self.stock if s.kind == "coil" and s.metal == self.metal_name), None)

    @property
    def metal_used(self) -> Metal:
        """The metal of the job: one of its own, else of the library. Raises :class:`InputError` where there is none."""
        return next((own.metal for own in self.metals if own.name == self.metal), None) or library().find(self.metal)

    @property
    def metal_name(self) -> str:
        return f"{self.metal_used.name} {self.thickness:.2f}"


def _check_system(where: str, rule: PanelRule, systems: tuple[PanelSystem, ...]) -> None:
    """Raise :class:`InputError` for a system that is not there, or has another coverage."""
    if rule.system:
        wide = find(rule.system, systems).pitch_of_seams
        if abs(wide - rule.coverage) > 0.5:
            raise InputError(f"{where}.coverage", f"{rule.coverage:g} mm", f"{wide:g} mm, as {rule.system} covers")


def _check_detail(kind: str, detail: str | None) -> None:
    suits = [family.name for family in families_for(kind)]
    if detail is not None and detail not in suits:
        raise InputError("detail", repr(detail), f"one of {', '.join(suits)} for a {kind}")


def _check_own(own: Own) -> None:
    for name, entry in ENTRIES.items():
        value = getattr(own, name)
        if value is not None:
            entry.check(value, f"own.{name}")
