"""What was taped beside what the roof says: of the run, the block or the face in hand; and what does not fit."""

from __future__ import annotations

from yattle.derive.measures import face_out_of_square, taped_whole
from yattle.details import Finding
from yattle.devices import check_address
from yattle.job.settings import keep_address, load_settings
from yattle.measure import Fine, parse_angle, say_length
from yattle.roof.measured import ANGLES, Adjustment, Taped, taken, worked_out
from yattle.session.beside import adjusted
from yattle.ui.benches.survey.panels import PanelsHere
from yattle.ui.benches.survey.selected import SurveySelection
from yattle.ui.shown import Shown

_USUAL = 3.0  # of a measure's own scatter: as far as one is off now and then
_UNEVEN = 5.0  # mm that both diagonals together may be off
Place = tuple[str, str, str]  # kind, of and field of a taped measure


class Measures:
    """``taped_field`` is the measure of the block in hand that was taped."""

    def __init__(self, survey: SurveySelection, panels: PanelsHere) -> None:
        self.survey, self.panels, self.store = survey, panels, survey.store
        self.taped_field = "length"
        self.instrument_at = load_settings().instrument

    def diagonal(self, field: str) -> Shown:
        return self.measure(self.face_place("diagonal", field))

    def put_diagonal(self, field: str, text: str, simulated: bool = False) -> str | None:
        return self.put_measure(self.face_place("diagonal", field), text, simulated)

    def put_instrument(self, text: str) -> str | None:
        def put() -> None:
            self.instrument_at = check_address(text)
            keep_address(instrument=self.instrument_at)
        return self.store.attempt(put)

    def truth_of(self, name: str) -> tuple[float, bool]:
        """What the roof says of the measure in the field of that name, and whether it is an angle: what the stand-in
        for an instrument reads."""
        places = {"taped fold": self.fold_place(), "tape said": self.block_place(),
                  "taped pitch": self.face_place("pitch"),
                  "diagonal 1": self.face_place("diagonal", "0-2"), "diagonal 2": self.face_place("diagonal", "1-3")}
        place = places.get(name)
        if place is not None:
            asked = Taped(kind=place[0], of=place[1], field=place[2], value=1.0)  # type: ignore[arg-type]
            return worked_out(self.store.session.derived.roof, asked) or 0.0, asked.is_angle
        run = self.survey.run.run if self.survey.run is not None else None
        is_angle = "pitch" in name
        return (0.0 if run is None else run.pitch if is_angle else run.length), is_angle

    def fold_place(self) -> Place | None:
        found = self.survey.roof_run
        return ("fold", found.edge.key, str(found.place)) if found is not None and found.edge.fold is not None else None

    def face_place(self, kind: str, field: str = "") -> Place | None:
        return (kind, self.survey.facet.id, field) if self.survey.facet is not None else None

    def block_place(self) -> Place | None:
        return ("block", self.survey.block_id, self.taped_field_here) if self.survey.block_id else None

    def taped_fields(self) -> list[tuple[str, str]]:
        fields = ("length", "span", "eave_height", "pitch", "pitch_right", "pitch_ends", "eave_overhang",
                  "rake_overhang", "bearing")
        return [(f, f.replace("_", " ")) for f in fields if getattr(self.survey.item, f, None) is not None]

    @property
    def taped_field_here(self) -> str:
        return self.taped_field if getattr(self.survey.item, self.taped_field, None) is not None else "length"

    def put_taped_field(self, field: str) -> str | None:
        self.taped_field = field
        self.survey.changed()
        return None

    def measure(self, place: Place | None) -> Shown:
        """What was taped, and how far it is off; where nothing was taped what the roof says."""
        if place is None:
            return Shown("")
        taped = next((t for t in self.store.session.job.taped if (t.kind, t.of, t.field) == place), None)
        asked = Taped(kind=place[0], of=place[1], field=place[2], value=1.0)  # type: ignore[arg-type]
        says = worked_out(self.store.session.derived.roof, asked)
        shown = "" if says is None else f"{says:.1f}°" if asked.is_angle else self.survey.say(says)
        if taped is None or says is None:
            return Shown("", f"roof says {shown}" if shown else "")
        gap = taped.value - says
        off = f"{gap:+.1f}°" if taped.is_angle else f"{'+' if gap > 0 else '−'}{self._said(abs(gap))}"
        off += ", stand-in" if taped.by == "stand-in" else ""
        return Shown(f"{taped.value:g}°" if taped.is_angle else self.survey.say(taped.value), off)

    def put_measure(self, place: Place | None, text: str, simulated: bool = False) -> str | None:
        assert place is not None
        kind, of, field = place

        def put() -> None:
            taped = None
            if text.strip():
                taped = taken(kind, of, field, self._read_measure(kind, field, text),
                              "stand-in" if simulated else "tape")
            self.store.session.edit(f"{of} {field or kind} taped", lambda job: job.with_taped(taped, kind, of, field))
        return self.store.attempt(put)

    def _read_measure(self, kind: str, field: str, text: str) -> float:
        if kind == "pitch" or "pitch" in field:
            return self.survey.pitch_from(text)
        if kind == "fold" or field in ANGLES:
            return parse_angle(text, f"taped {field or kind}")
        return self.survey.length_from(text, f"{kind} {field}".replace("_", " "))

    def square_says(self) -> str:
        """How far the face is out of square, and what that makes a panel."""
        facet, session = self.survey.facet, self.store.session
        lean = face_out_of_square(session.job, session.derived.roof, facet) if facet is not None else None
        if lean is None:
            return ""
        if lean.corner == "none":
            off = f", but the diagonals are {self._said(lean.misfit)} off together"
            return f"square{off if lean.misfit > _UNEVEN else ''}"
        count = len(self.panels.laid.panels) if self.panels.laid is not None else 0
        each = Fine(abs(lean.offset) / max(count, 1)).say(self.store.unit)
        spread = f"; spread over {count} panels {each} each" if count else ""
        return f"{self.survey.say(abs(lean.offset))} out at the head, {lean.corner} corner stands out{spread}"

    def _said(self, mm: float) -> str:
        return say_length(mm, self.store.unit, 0, mark=True)

    @property
    def adjustment(self) -> Adjustment | None:
        job = self.store.session.job
        taped = tuple(one for one in taped_whole(job) if one.by != "stand-in")
        if not taped:
            return None
        found = self.survey.desk.get(("adjust", job.roof, taped), adjusted, job.roof, taped, quick=False)
        return found if isinstance(found, Adjustment) else None

    def fit_says(self) -> str:
        """How well one roof fits all that was taped; that it is still being looked for."""
        taped = sum(one.by != "stand-in" for one in taped_whole(self.store.session.job))
        if not taped:
            return ""
        fitted = self.adjustment
        if fitted is None:
            return "looking for the roof that fits them best" if self.survey.desk.busy else "no roof fits them"
        worst = fitted.misfits[0] if fitted.misfits else None
        many = f"{taped} measure{'' if taped == 1 else 's'}"
        if worst is None or worst.off < _USUAL:
            return f"{many}, all as near as a tape comes"
        return f"{many}; {worst.named} is {worst.off:.0f} times as far off as usual"

    def troubles(self) -> list[tuple[str, Finding]]:
        session = self.store.session
        found = [f for f in session.findings if f[1].field in ("taped", "length", "pitch")]
        fitted = self.adjustment
        if fitted is not None and fitted.suspects and fitted.suspects[0].off > _USUAL:
            named = " or ".join(m.named for m in fitted.suspects[:3])
            worst = fitted.suspects[0]
            gap = worst.measured - worst.adjusted
            off = f"{gap:+.1f}°" if worst.is_angle else f"{'+' if gap > 0 else '−'}{self._said(abs(gap))}"
            found.append(("", Finding("look", f"most likely wrong: {named}",
                                      f"{off} against all other measures; tape it again, or press here to take the "
                                      "roof that fits all of them best", "adjust")))
        return found

    def take_adjusted(self) -> None:
        """Make the roof the one that fits all measures best."""
        fitted = self.adjustment
        if fitted is not None:
            self.store.attempt_aloud(lambda: self.store.session.edit(
                "take the adjusted roof", lambda job: job.but(roof=fitted.plan)))
