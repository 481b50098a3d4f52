"""What the brake bench knows: the best order, the person's own, practice, the folder, the machine's measures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date

from yattle.brake import LIBRARY, FoldJob, FoldOrder, Refusal, Suggestion, Trial, natural_order, plain_order, try_order
from yattle.brake.batch import batch
from yattle.brake.order import Step
from yattle.brake.state import Limit
from yattle.brake.trial import TrialStep
from yattle.details import Finding
from yattle.devices import DeviceProblem, Folder, Measured, StandInFolder, check_address, fold_piece, open_line
from yattle.drawing import Drawing, fold_letter, step_drawing
from yattle.files import why
from yattle.job.log import measured_folds, with_entries
from yattle.job.settings import keep_address, load_settings
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.section import Girth
from yattle.session.beside import helped
from yattle.session.session import Stamp
from yattle.tasks import Answer, Hand, On, Policy, Request, Target
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel
from yattle.ui.drawing.handles import ToolCorner
from yattle.ui.shown import Shown

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


class BrakeModel(BenchModel):
    """What the brake bench knows: the best order, the person's own, practice, the folder, the machine's measures."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.measured, self.folded = "nothing yet", 1
        self.folder_at = load_settings().folder
        self.desk = store.desk("brake", changed)
        self.here = 0
        self.mine: tuple[FoldJob, tuple[tuple[str, str], ...]] | None = None  # an order of one's own, and for what
        self.taken: tuple[FoldJob, tuple[tuple[str, str], ...]] | None = None  # practising: the strokes proposed so far

    def batch(self) -> str:
        """All pieces of the run: each finished before the next, or one setting for all."""
        steps, count = self.steps, len(self.run.pieces) if self.run else 0
        if not steps or count < 2:
            return "one piece"
        plan = batch(tuple(tried.step for tried in steps), count)
        (lifts, settings), (all_lifts, all_settings) = plan.one_by_one, plan.all_at_once
        return (f"{count} pieces one by one: {lifts} lifts, {settings} settings\n"
                f"all at once: {all_lifts} lifts, {all_settings} settings")

    def put_folder(self, text: str) -> str | None:
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
            self.changed()
            return
        of, found = self._piece_id(), list[tuple[Measured, bool]]()
        request = Request(LANE, _fold_on, (self.folder_at, StandInFolder(seed=self.folded), steps), session.stamp,
                          Target("piece", of, "measured folds"), Policy.EXCLUSIVE, On.DEVICE, hand=True)

        def told(stroke: object) -> None:
            found.append(stroke)  # type: ignore[arg-type]
            self.measured = f"folding {of}: {_strokes_say(found)}"
            self.changed()
        if self.store.ask(request, lambda answer: self._take_measured(answer, found), told) is not None:
            self.folded += 1
            self.measured = f"folding {of}"
        self.changed()

    def stop_folder(self) -> None:
        """End before the next stroke."""
        if not self.store.board.busy(LANE):
            self.store.say("the folder: found nothing at work, so there is nothing to stop")
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
            self.store.complain(str(answer.error))
        self.changed()

    def _piece_id(self) -> str:
        run, piece = self.run, self.store.session.selection.piece
        return run.pieces[piece].id if run is not None and piece < len(run.pieces) else ""

    def brakes(self) -> list[tuple[str, str]]:
        names = [brake.name for brake in LIBRARY]
        own = self.store.session.job.brake.name  # a machine read from a file stands before the library's
        return [(name, name) for name in (names if own in names else [own, *names])]

    def put_brake(self, name: str) -> str | None:
        brake = next((brake for brake in LIBRARY if brake.name == name), None)
        if brake is None:
            return None
        return self.store.attempt(lambda: self.store.session.edit(
            "brake", lambda job: job.but(brake=brake.but(springback=job.brake.springback))))

    def troubles(self) -> list[tuple[str, Finding]]:
        """What stops this order, worst first; where there is none at all, what was tried and helps."""
        found = [("", Finding("stop", limit.says)) for limit in self._stopping()[:3]]
        order = self.order
        if isinstance(order, Refusal):
            found += [("", Finding("look", suggestion.says)) for suggestion in self._suggested()]
        return found

    def _suggested(self) -> tuple[Suggestion, ...]:
        """What was tried beside the window and helps; asked for when first wanted."""
        job, order = self.job, self.order
        if job is None or not isinstance(order, Refusal):
            return ()
        found = self.desk.get(("help", job), helped, job, order.reasons)
        return found if isinstance(found, tuple) else ()

    def _stopping(self) -> list[Limit]:
        order = self.order
        if isinstance(order, Refusal):
            return list(order.reasons)
        return [tried.limit for tried in self.steps if tried.limit is not None]

    def help(self, _: str, finding: Finding) -> None:
        """A suggestion that names a machine or a leg is taken at a press."""
        taken = next((s for s in self._suggested() if s.says == finding.text), None)
        if taken is None or self.run is None:
            return
        at = dict(taken.at)
        if taken.kind == "machine":
            self.put_brake(at["brake"])
        elif taken.kind == "leg":
            field, run_id = self.run.detail.leg_fields[at["leg"] - 1], self.run.run.id
            name = self.run.family.entries.get(field, field) if self.run.family else field
            self.store.attempt_aloud(lambda: self.store.session.set_own(run_id, name, float(at["length"])))
        else:
            self.store.say(taken.says)

    def corners(self) -> list[ToolCorner]:
        brake = self.store.session.job.brake
        return [ToolCorner(tool, n, at) for tool in ("clamp", "bed", "leaf") for n,
                at in enumerate(getattr(brake, tool))]

    def _reshape(self, tool: str, ring: list[tuple[float, float]]) -> None:
        """A new outline for a tool; one that cannot be is said and nothing changes."""
        self.store.attempt_aloud(lambda: self._set(f"{tool} outline", **{tool: tuple(ring)}))
        self.changed()

    def move_corner(self, tool: str, index: int, x: float, y: float) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        ring[index] = (x, y)
        self._reshape(tool, ring)

    def add_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        a, b = ring[index], ring[(index + 1) % len(ring)]
        ring.insert(index + 1, (round((a[0] + b[0]) / 2), round((a[1] + b[1]) / 2)))
        self._reshape(tool, [(float(x), float(y)) for x, y in ring])

    def remove_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        self._reshape(tool, ring[:index] + ring[index + 1:])

    def put_length(self, name: str, title: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set(title, **{name: self.length_from(text, title)}))

    def put_number(self, name: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set("greatest turn", **{name: parse_angle(text, "greatest turn")}))

    def put_springback(self, text: str) -> str | None:
        spring = self.store.session.job.brake.springback
        return self.store.attempt(lambda: self._set(
            "springback", springback=spring.but(ratio=parse_angle(text, "springback"))))

    def _set(self, title: str, **changes: object) -> None:
        self.store.session.edit(f"brake {title}", lambda job: job.but(brake=job.brake.but(**changes)))

    def mark(self) -> Shown:
        """The mark from the edge the person can reach, and the flats and arcs it is added up from."""
        step, girth = self.current, self.girth
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

    def leaf(self) -> Shown:
        step = self.current
        if step is None or step.set_angle is None:
            return Shown("flatten" if step else "–")
        turn = abs(step.turn)
        total = Sum("leaf to", (Term("turn", turn), Term("springback", step.set_angle - turn)))
        return Shown(f"{step.set_angle:.1f}°", "", total, lambda degrees: f"{degrees:.2f}°")

    def says(self, step: Step) -> str:
        girth = self.girth
        assert girth is not None
        letter = fold_letter(step.fold, step.turn, girth.profile, self.store.unit)
        return f"{letter}, {step.face_up} face up, edge {step.out} out"

    def cost(self) -> str:
        order, steps = self.order, self.steps
        if order is None and self.job is not None:
            return "being worked out"
        if isinstance(order, Refusal):
            return "no order can be folded on this machine"
        if not steps:
            return "no piece"
        assert order is not None
        if self.own is None:
            proof = "least possible, proven" if order.proved_best else f"best found, none is under {order.bound}"
            return f"{order.cost} ({proof}), {len(steps)} strokes"
        cost = self.own.cost
        if self.taken is not None:
            return f"{cost} so far" if self.own.ok else "this strikes: take it back, or go on and see"
        return f"{cost}, the best order costs {order.cost}" if self.own.ok else "this order strikes"

    @property
    def order(self) -> FoldOrder | Refusal | None:
        """The order with the least handling or why there is none; ``None`` while it is worked out."""
        job = self.job
        found = self.desk.get(("order", job), plain_order, job) if job is not None else None
        return found if isinstance(found, FoldOrder | Refusal) else None

    @property
    def girth(self) -> Girth | None:
        return self.run.detail.girth if self.run else None

    @property
    def job(self) -> FoldJob | None:
        run = self.store.session.selection.run
        return self.store.session.derived.fold_job(run) if run else None

    @property
    def own(self) -> Trial | None:
        """The person's own order as tried; where no order exists, the natural one, to show what strikes."""
        job = self.job
        if job is None:
            return None
        if self.taken is not None:
            return self._tried(job, self.taken[1] if self.taken[0] == job else ())
        if self.mine is not None and self.mine[0] == job:
            return self._tried(job, self.mine[1])
        return self._tried(job, natural_order(job)) if isinstance(self.order, Refusal) else None

    @property
    def _own_wanted(self) -> bool:
        """Whether an order of one's own is to be shown, tried already or not."""
        return self.taken is not None or (self.mine is not None and self.mine[0] == self.job)

    def _tried(self, job: FoldJob, strokes: tuple[tuple[str, str], ...]) -> Trial | None:
        found = self.desk.get(("try", job, strokes), try_order, job, strokes)
        return found if isinstance(found, Trial) else None

    @property
    def steps(self) -> tuple[TrialStep, ...]:
        """The strokes shown: one's own order, or the best."""
        own, order = self.own, self.order
        if own is not None or self._own_wanted:
            return own.steps if own is not None else ()
        return tuple(TrialStep(step, None, None) for step in order.steps) if isinstance(order, FoldOrder) else ()

    @property
    def current(self) -> Step | None:
        steps = self.steps
        return steps[min(self.here, len(steps) - 1)].step if steps else None

    def move(self, start: int, end: int) -> None:
        """Try stroke ``start`` at place ``end``."""
        job = self.job
        if job is None or start == end:
            return
        strokes = [(tried.step.fold, tried.step.action) for tried in self.steps]
        strokes.insert(end, strokes.pop(start))
        self.mine = (job, tuple(strokes))
        self.here = end
        step = self.current
        if step is not None:
            self.store.session.select(fold=step.fold)
        self.changed()

    def practise(self, on: bool) -> None:
        job = self.job
        self.taken = (job, ()) if on and job is not None else None
        self.here = 0
        self.changed()

    def propose(self, fold: str, action: str) -> bool:
        """Fold this next, and see; whether there was anything to propose it for."""
        job = self.job
        if job is None or self.taken is None:
            return False
        before = self.taken[1] if self.taken[0] == job else ()
        self.taken = (job, (*before, (fold, action)))
        self.here = len(before)
        self.store.session.select(fold=fold)
        return True

    @property
    def offered(self) -> list[tuple[str, str, str]]:
        """While practising: the strokes that are left, as fold, action and letter."""
        job, girth = self.job, self.girth
        if self.taken is None or job is None or girth is None:
            return []
        taken = self.taken[1] if self.taken[0] == job else ()
        turns = {bend.id: bend.turn for bend in girth.bends}
        return [(fold, action, fold_letter(fold, turns[fold], girth.profile, self.store.unit))
                for fold, action in natural_order(job) if (fold, action) not in taken]

    def step(self, by: int) -> None:
        """Another stroke, round the end."""
        if self.steps:
            self.go((self.here + by) % len(self.steps))

    @property
    def folding(self) -> bool:
        """Whether the folder is at work."""
        return self.store.board.busy(LANE)

    @property
    def can_take_best(self) -> bool:
        """Whether an order of one's own is shown where there is a best one to go back to."""
        return (self.mine is not None and self.taken is None and self.mine[0] == self.job
                and isinstance(self.order, FoldOrder))

    @property
    def proven(self) -> bool:
        """Whether the order shown is proven to have the least handling."""
        return self.own is None and isinstance(self.order, FoldOrder) and self.order.proved_best

    def take_back(self) -> None:
        """Unfold the last proposal."""
        if self.taken is not None and self.taken[1]:
            self.taken = (self.taken[0], self.taken[1][:-1])
            self.here = max(0, len(self.taken[1]) - 1)
            self.changed()

    def take_best(self) -> None:
        """Back to the order with the least handling."""
        self.mine = None
        self.changed()

    @staticmethod
    def strike_share(tried: TrialStep) -> float:
        return 100 * (tried.angle or 0.0) / max(abs(tried.step.turn), 1e-9)

    def go(self, n: int) -> None:
        """Show step ``n`` (from 0) and select its fold everywhere."""
        self.here = n
        step = self.current
        if step is not None:
            self.store.session.select(fold=step.fold)
        self.changed()

    def follow_fold(self) -> None:
        """A fold selected elsewhere brings its first stroke to the front."""
        fold = self.store.session.selection.fold
        if fold and (self.current is None or self.current.fold != fold):
            self.here = next((n for n, tried in enumerate(self.steps) if tried.step.fold == fold), self.here)

    def caption(self, step: Step) -> str:
        girth = self.girth
        assert girth is not None
        letter = fold_letter(step.fold, step.turn, girth.profile, self.store.unit)
        return f"{letter} flatten" if step.action == "flatten" else (
            f"{letter} at {self.say(step.mark_from_out_edge)}")

    def drawing(self, n: int, swing: float, tools: bool) -> Drawing:
        girth, steps = self.girth, self.steps
        assert girth is not None
        turns = {tried.step.fold: tried.step.turn for tried in steps[:n]}
        step = steps[n].step
        return step_drawing(girth, self.store.session.job.brake, turns, step.fold, step.face_up, step.out,
                            abs(step.turn) * swing, tools, step.action)
