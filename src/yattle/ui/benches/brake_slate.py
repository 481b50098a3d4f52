"""The brake bench's slate: this step, the order, what stops it and helps, and the machine's measures."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from PyQt6.QtWidgets import QPushButton

from yattle.brake import LIBRARY, FoldJob, FoldOrder, Refusal, Suggestion, Trial
from yattle.brake.batch import batch
from yattle.brake.order import Step
from yattle.brake.state import Limit
from yattle.brake.trial import TrialStep
from yattle.details import Finding
from yattle.devices import DeviceProblem, Folder, Measured, StandInFolder, check_address, fold_piece, open_line
from yattle.drawing import fold_letter
from yattle.files import why
from yattle.job.log import measured_folds, with_entries
from yattle.job.settings import keep_address, load_settings
from yattle.measure import Sum, Term, parse_angle, say_length, say_thickness
from yattle.section import Girth
from yattle.session.beside import helped
from yattle.session.session import Stamp
from yattle.tasks import Answer, Hand, On, Policy, Request, Target
from yattle.ui.benches.base import BenchPage
from yattle.ui.drawing.outline import Corner
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Desk, Store

LANE = "the folder"


def _fold_on(hand: Hand, address: str, stand_in: StandInFolder, steps: tuple[Step, ...]) -> bool:
    """Fold a piece, telling each stroke as it was measured; whether a stand-in said it. Raises what the line raises."""
    try:
        with open_line(address, stand_in) as exchange:
            folder = Folder(exchange)
            fold_piece(folder, steps, hand.stopped, lambda stroke: hand.tell((stroke, folder.is_stand_in)))
            return folder.is_stand_in
    except OSError as trouble:
        raise DeviceProblem(f"the folder at {address} does not answer ({why(trouble)})") from None


def _strokes_say(found: list[tuple[Measured, bool]]) -> str:
    said = "\n".join(f"{m.fold} {m.wanted:.0f}° came out {m.angle:.1f}°" for m, _ in found)
    return f"{said}\nby a stand-in: not measured" if found and found[0][1] else said


class BrakeSlate(BenchPage):
    """What the brake bench says and takes; which order is shown is the bench's own (:class:`BrakeBench`)."""

    order: FoldOrder | Refusal | None
    steps: tuple[TrialStep, ...]
    current: Step | None
    taken: tuple[FoldJob, tuple[tuple[str, str], ...]] | None
    _girth: Girth | None
    _job: FoldJob | None
    _own: Trial | None

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.measured, self.folded = "nothing yet", 1
        self.folder_at = load_settings().folder
        self.desk = Desk(store, "brake")
        self.desk.ready.connect(self.refresh)
        self.desk.trouble.connect(store.trouble)

    # -- the slate --------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        s.group("This step")
        s.read("mark", self._mark, big=True)
        s.read("leaf to", self._leaf)
        s.said("fold", lambda: self._says(self.current) if self.current else "–")
        s.group("The order")
        s.said("handling", self._cost)
        s.said("batch", self._batch)
        s.words("folder at", lambda: Shown(self.folder_at), self._put_folder,
               "stand-in, tcp:HOST:PORT or serial:PORT; Ctrl+G folds a piece on it")
        s.said("measured", lambda: self.measured)
        self.stop = QPushButton("stop the folder")
        self.stop.setToolTip("before the next stroke")
        self.stop.clicked.connect(self.stop_folder)
        s.widget_row(self.stop, self._show_stop)
        s.look_list(self._troubles, self._help)
        s.group("The machine")
        s.choice("brake", self._brakes, lambda: self.store.session.job.brake.name, self._put_brake)
        for name, title, hint in (
                ("min_flange", "least flange", "least flat outside the fold line"),
                ("min_hold", "least hold", "least flat under the jaw"),
                ("throat", "throat", "how far a piece may reach into the machine"),
                ("max_length", "length", "longest piece"),
                ("max_thickness", "thickness", "thickest metal")):
            self._limit(name, title, hint)
        s.number("greatest turn", lambda: Shown(f"{self.store.session.job.brake.max_turn:g}°"),
                 lambda text: self._put_number("max_turn", text), "as far as the leaf goes")
        s.number("springback", lambda: Shown(f"{self.store.session.job.brake.springback.ratio:g}", "leaf over fold"),
                 self._put_springback, "how far the leaf goes for each degree that stays")

    def _limit(self, name: str, title: str, hint: str) -> None:
        say = (lambda mm: say_thickness(mm, self.store.unit)) if name == "max_thickness" else self.say
        self.slate.number(title, lambda: Shown(say(getattr(self.store.session.job.brake, name))),
                          lambda text: self._put_length(name, title, text), hint)

    def _batch(self) -> str:
        """All pieces of the run: each finished before the next, or one setting for all."""
        steps, count = self.steps, len(self.run.pieces) if self.run else 0
        if not steps or count < 2:
            return "one piece"
        plan = batch(tuple(tried.step for tried in steps), count)
        (lifts, settings), (all_lifts, all_settings) = plan.one_by_one, plan.all_at_once
        return (f"{count} pieces one by one: {lifts} lifts, {settings} settings\n"
                f"all at once: {all_lifts} lifts, {all_settings} settings")

    def _put_folder(self, text: str) -> str | None:
        def put() -> None:
            self.folder_at = check_address(text)
            keep_address(folder=self.folder_at)
        return self.store.attempt(put)

    def fold_on_folder(self) -> None:
        """Fold one piece on the folder by the order shown, and say what was measured. While one is folded another is
        refused."""
        steps, session = tuple(tried.step for tried in self.steps), self.store.session
        if not steps or self._stopping():
            self.measured = "not folded: this order strikes" if steps else ""
            self.refresh()
            return
        of, found = self._piece_id(), list[tuple[Measured, bool]]()
        request = Request(LANE, _fold_on, (self.folder_at, StandInFolder(seed=self.folded), steps), session.stamp,
                          Target("piece", of, "measured folds"), Policy.EXCLUSIVE, On.DEVICE, hand=True)

        def told(stroke: object) -> None:
            found.append(stroke)  # type: ignore[arg-type]
            self.measured = f"folding {of}: {_strokes_say(found)}"
            self.refresh()
        if self.store.ask(request, lambda answer: self._take_measured(answer, found), told) is not None:
            self.folded += 1
            self.measured = f"folding {of}"
        self.refresh()

    def stop_folder(self) -> None:
        """End before the next stroke."""
        if not self.store.board.busy(LANE):
            self.store.said.emit("the folder: found nothing at work, so there is nothing to stop")
        self.store.board.stop(LANE)

    def _take_measured(self, answer: Answer, found: list[tuple[Measured, bool]]) -> None:
        """What came out goes into the log of the job and the piece that were folded, however it ended."""
        session, target, stamp = self.store.session, answer.request.target, answer.request.stamp
        assert isinstance(stamp, Stamp)
        ended = f"stopped after {len(found)} strokes\n" if answer.stopped else ""
        self.measured = f"{ended}{target.of}: {_strokes_say(found)}" if found else ended
        if found:  # also where it failed half way
            today, folds, simulated = date.today().isoformat(), [one for one, _ in found], found[0][1]
            entries = measured_folds(stamp.job, target.of, folds, today, simulated)
            self.store.take(replace(answer, error=None),
                            lambda: session.edit("measured folds", lambda job: with_entries(job, entries)),
                            f"{target.of} of {stamp.job.name} was folded, and that job is closed: not in the log: "
                            + _strokes_say(found).replace("\n", "; "))
        if answer.error is not None:
            self.measured = f"{answer.error}\n{self.measured}".strip()
            self.store.trouble.emit(str(answer.error))
        self.refresh()

    def _show_stop(self) -> None:
        self.stop.setVisible(self.store.board.busy(LANE))

    def _piece_id(self) -> str:
        run, piece = self.run, self.store.session.selection.piece
        return run.pieces[piece].id if run is not None and piece < len(run.pieces) else ""

    def _brakes(self) -> list[tuple[str, str]]:
        names = [brake.name for brake in LIBRARY]
        own = self.store.session.job.brake.name  # a machine read from a file stands before the library's
        return [(name, name) for name in (names if own in names else [own, *names])]

    def _put_brake(self, name: str) -> str | None:
        brake = next((brake for brake in LIBRARY if brake.name == name), None)
        if brake is None:
            return None
        return self.store.attempt(lambda: self.store.session.edit(
            "brake", lambda job: job.but(brake=brake.but(springback=job.brake.springback))))

    def _troubles(self) -> list[tuple[str, Finding]]:
        """What stops this order, worst first; where there is none at all, what was tried and helps."""
        found = [("", Finding("stop", limit.says)) for limit in self._stopping()[:3]]
        order = self.order
        if isinstance(order, Refusal):
            found += [("", Finding("look", suggestion.says)) for suggestion in self._suggested()]
        return found

    def _suggested(self) -> tuple[Suggestion, ...]:
        """What was tried beside the window and helps; asked for when first wanted."""
        job, order = self._job, self.order
        if job is None or not isinstance(order, Refusal):
            return ()
        found = self.desk.get(("help", job), helped, job, order.reasons)
        return found if isinstance(found, tuple) else ()

    def _stopping(self) -> list[Limit]:
        order = self.order
        if isinstance(order, Refusal):
            return list(order.reasons)
        return [tried.limit for tried in self.steps if tried.limit is not None]

    def _help(self, _: str, finding: Finding) -> None:
        """A suggestion that names a machine or a leg is taken at a press."""
        taken = next((s for s in self._suggested() if s.says == finding.text), None)
        if taken is None or self.run is None:
            return
        at = dict(taken.at)
        if taken.kind == "machine":
            self._put_brake(at["brake"])
        elif taken.kind == "leg":
            field, run_id = self.run.detail.leg_fields[at["leg"] - 1], self.run.run.id
            name = self.run.family.entries.get(field, field) if self.run.family else field
            self.store.attempt_aloud(lambda: self.store.session.set_own(run_id, name, float(at["length"])))
        else:
            self.store.said.emit(taken.says)

    # -- the machine's outlines -------------------------------------------------------------------

    def _corners(self) -> list[Corner]:
        brake = self.store.session.job.brake
        return [Corner(tool, n, at) for tool in ("clamp", "bed", "leaf") for n, at in enumerate(getattr(brake, tool))]

    def _reshape(self, tool: str, ring: list[tuple[float, float]]) -> None:
        """A new outline for a tool; one that cannot be is said and nothing changes."""
        self.store.attempt_aloud(lambda: self._set(f"{tool} outline", **{tool: tuple(ring)}))
        self.refresh()

    def _move_corner(self, tool: str, index: int, x: float, y: float) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        ring[index] = (x, y)
        self._reshape(tool, ring)

    def _add_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        a, b = ring[index], ring[(index + 1) % len(ring)]
        ring.insert(index + 1, (round((a[0] + b[0]) / 2), round((a[1] + b[1]) / 2)))
        self._reshape(tool, [(float(x), float(y)) for x, y in ring])

    def _remove_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        self._reshape(tool, ring[:index] + ring[index + 1:])

    def _put_length(self, name: str, title: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set(title, **{name: self.length_from(text, title)}))

    def _put_number(self, name: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set("greatest turn", **{name: parse_angle(text, "greatest turn")}))

    def _put_springback(self, text: str) -> str | None:
        spring = self.store.session.job.brake.springback
        return self.store.attempt(lambda: self._set(
            "springback", springback=spring.but(ratio=parse_angle(text, "springback"))))

    def _set(self, title: str, **changes: object) -> None:
        self.store.session.edit(f"brake {title}", lambda job: job.but(brake=job.brake.but(**changes)))

    def _mark(self) -> Shown:
        """The mark from the edge the person can reach, and the flats and arcs it is added up from."""
        step, girth = self.current, self._girth
        if step is None or girth is None:
            return Shown("–")
        terms, place = [], [bend.id for bend in girth.bends].index(step.fold)
        parts = list(zip(girth.profile.strip_names, girth.flats, strict=True))
        arcs = [bend.arc for bend in girth.bends]
        if step.out == "B":
            parts, arcs, place = parts[::-1], arcs[::-1], len(arcs) - 1 - place
        for n in range(place + 1):
            terms.append(Term(f"flat of {parts[n][0]}", parts[n][1]))
            terms.append(Term("its arc" if n < place else "half its arc", arcs[n] / (1 if n < place else 2)))
        total = Sum(f"from raw edge {step.out}", tuple(terms))
        return Shown(self.say(step.mark_from_out_edge), f"from {step.out}", total,
                     lambda mm: say_length(mm, self.store.unit, 2))

    def _leaf(self) -> Shown:
        step = self.current
        if step is None or step.set_angle is None:
            return Shown("flatten" if step else "–")
        turn = abs(step.turn)
        total = Sum("leaf to", (Term("turn", turn), Term("springback", step.set_angle - turn)))
        return Shown(f"{step.set_angle:.1f}°", "", total, lambda degrees: f"{degrees:.2f}°")

    def _says(self, step: Step) -> str:
        girth = self._girth
        assert girth is not None
        letter = fold_letter(step.fold, step.turn, girth.profile, self.store.unit)
        return f"{letter}, {step.face_up} face up, edge {step.out} out"

    def _cost(self) -> str:
        order, steps = self.order, self.steps
        if order is None and self._job is not None:
            return "being worked out"
        if isinstance(order, Refusal):
            return "no order can be folded on this machine"
        if not steps:
            return "no piece"
        assert order is not None
        if self._own is None:
            proof = "least possible, proven" if order.proved_best else f"best found, none is under {order.bound}"
            return f"{order.cost} ({proof}), {len(steps)} strokes"
        cost = self._own.cost
        if self.taken is not None:
            return f"{cost} so far" if self._own.ok else "this strikes: take it back, or go on and see"
        return f"{cost}, the best order costs {order.cost}" if self._own.ok else "this order strikes"
