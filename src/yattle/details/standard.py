"""The house standard: every length a detail takes when nobody says otherwise.

Each entry is named, has a metric default and an inch twin, a least and a most, and the
reason it stands there. A job changes entries for all its runs, a run for itself alone.
All values are mm or degrees.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from yattle.errors import InputError
from yattle.measure import MM_PER_INCH, UNITS, Unit, say_length
from yattle.values import Value

System = Literal["metric", "inch"]


@dataclass(frozen=True)
class Entry:
    """One entry: ``metric`` in mm (or degrees), ``inch`` its twin in inches (or degrees)."""

    name: str
    title: str
    metric: float
    inch: float
    least: float
    most: float
    reason: str
    angle: bool = False

    def default(self, system: System) -> float:
        """The house's value in mm or degrees, for those who count in mm or in inches."""
        return self.inch * (1 if self.angle else MM_PER_INCH) if system == "inch" else self.metric

    def check(self, value: float, field: str, unit: Unit = UNITS["mm"]) -> float:
        """``value`` if it lies between least and most, else :class:`InputError` in the user's ``unit``."""
        if self.least <= value <= self.most:
            return value
        said = (f"{v:g}°" if self.angle else say_length(v, unit, mark=True) for v in (value, self.least, self.most))
        found, least, most = said
        raise InputError(field, found, f"{self.title} from {least} to {most}")


ENTRIES: dict[str, Entry] = {
    entry.name: entry
    for entry in (
        Entry("flange", "deck flange", 85, 3.375, 5, 400, "far enough upslope to be lapped by the underlay"),
        Entry("face", "face", 95, 3.75, 5, 400, "covers the fascia's top board and the gutter's back edge"),
        Entry("kick", "kick", 18, 0.75, 3, 100, "throws water off the fascia"),
        Entry("kick_turn", "kick turn", 42, 42, 5, 135, "a steeper kick drips back, a flatter one catches wind",
              angle=True),
        Entry("hem", "hem", 12, 0.5, 0, 40, "no raw edge where it is seen and touched; stiffens the kick"),
        Entry("lap", "lap", 80, 3, 20, 300, "least lap of a trim on a level run"),
        Entry("lap_wet", "wet lap", 150, 6, 50, 400, "of pans and flashings along which water runs"),
        Entry("lap_rise", "lap's rise", 15, 0.625, 0, 60, "a lap's end stands that much higher than its foot, so that "
              "no water backs up over it"),
        Entry("lap_most", "longest lap", 300, 12, 80, 600, "flatter ones hold by sealant or solder, however long"),
        Entry("wrap", "corner wrap", 34, 1.375, 8, 150, "goes round the corner, within the depth of the tongs"),
        Entry("tab", "end tab", 25, 1, 8, 100, "closes an end; rivets need room in it"),
        Entry("kick_out", "kick-out", 120, 4.75, 40, 300, "throws the water of a sidewall clear of the wall below"),
        Entry("nest_gap", "nest clearance", 2, 0.0625, 0, 10, "room beside the neighbour's hem in a lap"),
        Entry("stock_length", "stock length", 3000, 120, 300, 12000, "what the brake and the coil shear take"),
        Entry("least_piece", "least piece", 500, 20, 50, 3000, "a shorter piece never lies straight"),
        Entry("gutter_flange", "apron flange", 110, 4.25, 20, 400, "under the underlay, over the gutter's back edge"),
        Entry("gutter_apron", "gutter apron", 75, 3, 10, 300, "reaches well into the gutter"),
        Entry("gutter_drip", "drip", 15, 0.625, 5, 60, "lets go of the water inside the gutter"),
        Entry("gutter_lean", "apron lean", 15, 15, 0, 60, "away from the fascia, toward the gutter", angle=True),
        Entry("apron_flange", "eave flange", 150, 6, 30, 400, "carries the panels' ends and their screws"),
        Entry("apron_face", "eave apron", 60, 2.375, 15, 300, "covers the fascia's head"),
        Entry("rake_flange", "rake flange", 60, 2.375, 15, 300, "covers the last seam or rib"),
        Entry("rake_face", "rake face", 120, 4.75, 20, 400, "covers the barge board's head and the panel's edge"),
        Entry("rake_kick", "rake kick", 20, 0.75, 5, 100, "throws water off the barge board"),
        Entry("ridge_wing", "ridge wing", 170, 6.75, 40, 400, "covers the closures and their screws"),
        Entry("half_flange", "top flange", 150, 6, 40, 400, "covers the closures at the head of the slope"),
        Entry("half_face", "top face", 90, 3.5, 20, 400, "covers the wall's or fascia's head"),
        Entry("hip_wing", "hip wing", 120, 4.75, 40, 400, "covers the cut ends of the panels"),
        Entry("valley_wing", "valley wing", 185, 7.25, 80, 500, "under the panels far enough for ice and driven rain"),
        Entry("valley_rib", "valley rib", 30, 1.25, 0, 80, "stops water of one side running up the other; 0: none"),
        Entry("valley_apex", "rib's apex", 70, 70, 30, 169, "how sharp the rib is folded at its top", angle=True),
        Entry("valley_hem", "valley hem", 15, 0.625, 0, 40, "turns water back and takes the clips"),
        Entry("valley_return", "valley return", 20, 0.75, 8, 60, "turned up and back, it stops what creeps outward"),
        Entry("valley_open", "valley opening", 100, 4, 0, 400, "clear width at the head: leaves and ice go through"),
        Entry("valley_taper", "taper", 10, 0.375, 0, 40, "wider for each metre downslope, more water comes"),
        Entry("closed_wing", "closed wing", 150, 6, 60, 400, "under the panels on both sides"),
        Entry("carry", "carried over", 50, 2, 0, 120, "dressed over the ridge, as deep as the tongs reach"),
        Entry("under", "turned under", 25, 1, 0, 80, "round the eave at a valley's foot, hooked on what is there"),
        Entry("upstand", "upstand", 120, 4.75, 50, 400, "above splashing water and lying snow"),
        Entry("wall_apron", "wall apron", 140, 5.5, 50, 400, "over the panels' heads and their closures"),
        Entry("wall_flange", "wall flange", 110, 4.375, 40, 400, "over the first seam beside the wall"),
        Entry("back_pan", "back pan", 250, 10, 100, 600, "under the panels beyond where water backs up at the wall"),
        Entry("kerf", "kerf depth", 20, 0.75, 5, 60, "what the saw with its guide leaves"),
        Entry("counter_face", "counter face", 80, 3, 20, 300, "laps over the upstand"),
        Entry("counter_kick", "counter kick", 15, 0.625, 4, 50, "keeps water off the upstand"),
        Entry("receiver_base", "receiver base", 60, 2.375, 20, 200, "under the panels' cut ends, with its fixings"),
        Entry("receiver_back", "receiver back", 45, 1.75, 15, 120, "as high as the seams, and a little"),
        Entry("receiver_lip", "receiver lip", 25, 1, 8, 100, "over the panels' cut ends"),
        Entry("seam_height", "seam height", 38, 1.5, 0, 100, "of the panels; closures must be as high"),
        Entry("closure_height", "closure height", 38, 1.5, 10, 150, "as high as the seams"),
        Entry("closure_foot", "closure foot", 30, 1.25, 10, 120, "room for tape and screws in one line"),
        Entry("closure_top", "closure top", 30, 1.25, 10, 120, "carries the cap and its rivets"),
        Entry("closure_tab", "closure tab", 12, 0.5, 8, 40, "turned along the seam, with tape behind it"),
        Entry("closure_back", "closure set back", 25, 1, 0, 100, "behind the edge of the cap that covers it"),
        Entry("closure_gap", "closure clearance", 6, 0.25, 0, 15, "shorter than the clear space: spares the tape"),
        Entry("vent", "vent space", 20, 0.75, 5, 60, "how much higher a vented ridge stands on its closures"),
        Entry("cleat_base", "cleat base", 40, 1.625, 15, 120, "on the barge board, with its fixings"),
        Entry("cleat_lip", "cleat lip", 22, 0.875, 8, 80, "what the trim's kick hooks on"),
        Entry("eave_cleat", "eave cleat", 60, 2.375, 25, 200, "on the deck, with its screws"),
        Entry("eave_set_back", "set back", 12, 0.5, 0, 40, "the eave cleat behind the panels' fold: ends are not seen"),
        Entry("stagger", "stagger", 200, 8, 0, 1000, "joints of one layer from those of the layer beneath"),
        Entry("soffit", "soffit return", 45, 1.75, 15, 200, "back under a flying gable, to the soffit's edge"),
        Entry("valley_channel", "channel", 40, 1.5, 15, 200, "each half of it, between two ribs: a hand goes through"),
        Entry("caulk_kick", "caulk kick", 13, 0.5, 5, 25, "holds a bead at the wall"),
        Entry("coping_wall", "wall under it", 240, 9.5, 40, 800, "the wall's thickness, finished"),
        Entry("coping_fall", "fall of the top", 5, 5, 0, 45, "so that no water stands on the wall", angle=True),
        Entry("coping_inner", "inner face", 70, 2.75, 20, 300, "over the roof's upstand"),
        Entry("coping_outer", "outer face", 70, 2.75, 20, 300, "over the wall's face, hooked on its strip"),
        Entry("gutter_lip", "gutter lip", 20, 0.75, 8, 60, "stiffens the front, takes the straps"),
        Entry("gutter_front", "gutter front", 85, 3.375, 30, 300, "lower than the back: it runs over outside"),
        Entry("gutter_bottom", "gutter bottom", 120, 4.75, 40, 400, "wide enough for a hand and for leaves"),
        Entry("gutter_back", "gutter back", 110, 4.375, 30, 400, "up the fascia, under the apron"),
        Entry("gutter_wide", "gutter width", 150, 6, 60, 400, "of a half-round, across its mouth"),
        Entry("fascia_head", "fascia head", 20, 0.75, 8, 100, "on the board, under the eave's trim"),
        Entry("fascia_face", "fascia face", 150, 6, 30, 400, "as high as the board and a little"),
        Entry("fascia_foot", "fascia foot", 25, 1, 8, 150, "back under the board"),
        Entry("corner_side", "corner side", 75, 3, 15, 300, "over the cladding's cut edge"),
        Entry("corner_angle", "corner", 90, 90, 30, 170, "between the two walls", angle=True),
        Entry("vent_hole", "vent holes", 8, 0.3125, 3, 30, "wasps stay out of small ones, dust closes smaller ones"),
        Entry("vent_pitch", "holes every", 16, 0.625, 8, 80, "leaves as much sheet between two holes"),
        Entry("vent_base", "vent base", 40, 1.5, 15, 150, "on the back of the fascia board, with its screws"),
        Entry("vent_face", "vent face", 30, 1.25, 15, 150, "in the soffit beside the board, perforated"),
        Entry("vent_foot", "vent foot", 25, 1, 10, 100, "up the first board of the soffit"),
        Entry("board", "fascia board", 24, 1, 10, 100, "its thickness: the vent strip is fixed to its back"),
        Entry("zed_base", "zed's base", 100, 4, 15, 250, "on the wall, clear of the counterflashing over it"),
        Entry("zed_step", "zed's step", 13, 0.5, 8, 40, "over the pan's edge and its tape"),
        Entry("zed_cover", "zed's cover", 60, 2.375, 20, 200, "down over the pan that is turned up"),
        Entry("past_hole", "past the hole", 60, 2.375, 25, 300, "both pans at a split pipe go on so far past its hole"),
        Entry("set_width", "set's width", 10, 0.375, 0, 40, "of the upper pan's lower edge, set down"),
        Entry("set_angle", "set", 15, 15, 0, 45, "keeps the upper pan's edge tight on the lower one", angle=True),
        Entry("cut_allowance", "cut allowance", 10, 0.375, 0, 150, "left on pans at hips and valleys, trimmed on the "
              "roof"),
        Entry("seam_lock", "seam lock", 10, 0.375, 5, 30, "width of a lock where no system says it"),
        Entry("break_above", "upper leg", 150, 6, 50, 400, "under the upper panels' ends"),
        Entry("break_below", "lower leg", 150, 6, 50, 400, "over the lower panels' heads and their closures"),
    )
}


class Own(Value):
    """Entries that differ from the standard, each ``None`` where it does not (names as in ``ENTRIES``). In mm or
    degrees."""

    flange: float | None = None
    face: float | None = None
    kick: float | None = None
    kick_turn: float | None = None
    hem: float | None = None
    lap: float | None = None
    lap_wet: float | None = None
    lap_rise: float | None = None
    lap_most: float | None = None
    wrap: float | None = None
    tab: float | None = None
    kick_out: float | None = None
    nest_gap: float | None = None
    stock_length: float | None = None
    least_piece: float | None = None
    gutter_flange: float | None = None
    gutter_apron: float | None = None
    gutter_drip: float | None = None
    gutter_lean: float | None = None
    apron_flange: float | None = None
    apron_face: float | None = None
    rake_flange: float | None = None
    rake_face: float | None = None
    rake_kick: float | None = None
    ridge_wing: float | None = None
    half_flange: float | None = None
    half_face: float | None = None
    hip_wing: float | None = None
    valley_wing: float | None = None
    valley_rib: float | None = None
    valley_apex: float | None = None
    valley_hem: float | None = None
    valley_return: float | None = None
    valley_open: float | None = None
    valley_taper: float | None = None
    closed_wing: float | None = None
    carry: float | None = None
    under: float | None = None
    upstand: float | None = None
    wall_apron: float | None = None
    wall_flange: float | None = None
    back_pan: float | None = None
    kerf: float | None = None
    counter_face: float | None = None
    counter_kick: float | None = None
    receiver_base: float | None = None
    receiver_back: float | None = None
    receiver_lip: float | None = None
    seam_height: float | None = None
    closure_height: float | None = None
    closure_foot: float | None = None
    closure_top: float | None = None
    closure_tab: float | None = None
    closure_gap: float | None = None
    closure_back: float | None = None
    vent: float | None = None
    cleat_base: float | None = None
    cleat_lip: float | None = None
    eave_cleat: float | None = None
    eave_set_back: float | None = None
    stagger: float | None = None
    zed_base: float | None = None
    zed_step: float | None = None
    zed_cover: float | None = None
    vent_hole: float | None = None
    vent_pitch: float | None = None
    vent_base: float | None = None
    vent_face: float | None = None
    vent_foot: float | None = None
    board: float | None = None
    soffit: float | None = None
    valley_channel: float | None = None
    caulk_kick: float | None = None
    coping_wall: float | None = None
    coping_fall: float | None = None
    coping_inner: float | None = None
    coping_outer: float | None = None
    gutter_lip: float | None = None
    gutter_front: float | None = None
    gutter_bottom: float | None = None
    gutter_back: float | None = None
    gutter_wide: float | None = None
    fascia_head: float | None = None
    fascia_face: float | None = None
    fascia_foot: float | None = None
    corner_side: float | None = None
    corner_angle: float | None = None
    past_hole: float | None = None
    set_width: float | None = None
    set_angle: float | None = None
    cut_allowance: float | None = None
    seam_lock: float | None = None
    break_above: float | None = None
    break_below: float | None = None


class Standard:
    """The values in force for one run, each under its entry's name. Those with equal values are equal."""

    def __init__(self, values: dict[str, float]) -> None:
        self._values = values
        self._hash = hash(tuple(values.items()))

    def __eq__(self, other: object) -> bool:
        return self is other or (isinstance(other, Standard) and self._values == other._values)

    def __hash__(self) -> int:
        return self._hash

    def __reduce__(self) -> tuple[type[Standard], tuple[dict[str, float]]]:
        return Standard, (self._values,)  # texts have another hash in another process

    def only(self, names: tuple[str, ...]) -> Standard:
        """The values of these entries alone: what is worked out from it cannot depend on any other, and stays as it is
        while others change."""
        return Standard({name: self._values[name] for name in names})

    def __getattr__(self, name: str) -> float:
        try:
            return self.__dict__["_values"][name]  # type: ignore[no-any-return]
        except KeyError:
            raise AttributeError(name) from None

    @property
    def names(self) -> tuple[str, ...]:
        return tuple(ENTRIES)


@lru_cache(maxsize=256)
def standard_for(system: System, job_own: Own, run_own: Own | None = None) -> Standard:
    """The run's own values, else the job's, else the house standard's defaults."""
    def pick(entry: Entry) -> float:
        for own in (run_own, job_own):
            value = getattr(own, entry.name) if own is not None else None
            if value is not None:
                return float(value)
        return entry.default(system)

    return Standard({name: pick(entry) for name, entry in ENTRIES.items()})
