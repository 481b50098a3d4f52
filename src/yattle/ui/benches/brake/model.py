"""What the brake bench knows: the best order, the person's own, practice, the folder, the machine's measures."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable

from yattle.brake import FoldJob, FoldOrder, Refusal, Suggestion, Trial, natural_order, plain_order, try_order
from yattle.brake.batch import batch
from yattle.brake.order import Step
from yattle.brake.state import Limit
from yattle.brake.trial import TrialStep
from yattle.details import Finding
from yattle.drawing import Drawing, fold_letter, step_drawing
from yattle.drawing.brake import flat_drawing
from yattle.measure import Sum, Term, in_unit, say_length
from yattle.section import Girth
from yattle.session.beside import helped
from yattle.ui.benches.brake.folder import FolderHand
from yattle.ui.benches.brake.machine import MachineHand
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel
from yattle.ui.shown import Shown


class BrakeModel(BenchModel):
    """What the brake bench knows: the best order, the person's own, practice, the folder, the machine's measures."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.folder, self.machine = FolderHand(self), MachineHand(self)
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

    def fold_on_folder(self) -> None:
        """Fold one piece on the folder by the order shown."""
        self.folder.fold(tuple(tried.step for tried in self.steps), bool(self._stopping()), self.tapers)

    def troubles(self) -> list[tuple[str, Finding]]:
        """What stops this order, worst first; where there is none at all, what was tried and helps."""
        found = [("", Finding("stop", self.named(limit.says))) for limit in self._stopping()[:3]]
        order = self.order
        if isinstance(order, Refusal):
            found += [("", Finding("look", self.named(suggestion.says))) for suggestion in self._suggested()]
        return found

    def named(self, text: str) -> str:
        """What is said of folds and legs with the letters that stand on the drawings: ``f3`` by its letter and which
        one it is from edge A, ``leg 2`` by its name."""
        girth, run = self.girth, self.run
        if girth is None or run is None:
            return text
        places = {bend.id: n for n, bend in enumerate(girth.bends, 1)}
        turns = {bend.id: bend.turn for bend in girth.bends}

        def fold(met: re.Match[str]) -> str:
            name = met.group(0)
            if name not in places:
                return name
            letter = fold_letter(name, turns[name], girth.profile, self.store.unit)
            return f"{letter} (fold {places[name]} from A)"

        def leg(met: re.Match[str]) -> str:
            n, names = int(met.group(1)) - 1, run.detail.leg_fields
            return f"leg {n + 1} ({names[n].replace('_', ' ')})" if n < len(names) else met.group(0)
        told = in_unit(text, self.store.unit)
        return re.sub(r"\bleg (\d+)\b", leg, re.sub(r"\bf\d+\b", fold, told))

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
        taken = next((s for s in self._suggested() if self.named(s.says) == finding.text), None)
        if taken is None or self.run is None:
            return
        at = dict(taken.at)
        if taken.kind == "machine":
            self.machine.put_brake(at["brake"])
        elif taken.kind == "leg":
            field, run_id = self.run.detail.leg_fields[at["leg"] - 1], self.run.run.id
            name = self.run.family.entries.get(field, field) if self.run.family else field
            self.store.attempt_aloud(lambda: self.store.session.set_own(run_id, name, float(at["length"])))
        else:
            self.store.say(taken.says)

    @property
    def tapers(self) -> bool:
        """Whether the pieces in hand differ from end to end: their folds have lines and no one mark."""
        return bool(self.run and self.run.pieces and self.run.pieces[0].girths)

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
        where = ", the run's left end" if self.tapers else ""
        return Shown(self.say(step.mark_from_out_edge), f"from {step.out}{where}", total,
                     lambda mm: say_length(mm, self.store.unit, 2))

    def leaf(self) -> Shown:
        step = self.current
        if step is None or step.set_angle is None:
            return Shown("flatten" if step else "–")
        turn = abs(step.turn)
        total = Sum("leaf to", (Term("turn", turn), Term("springback", step.set_angle - turn)))
        return Shown(f"{step.set_angle:.1f}°", step.short_says(), total, lambda degrees: f"{degrees:.2f}°")

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
            return "no piece" if self.taken is None else "nothing folded yet"
        assert order is not None
        if self.own is None:
            proof = "the least there is" if order.proved_best else f"best found, none is under {order.bound}"
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
        taken, letters = self.taken[1] if self.taken[0] == job else (), self.letters
        return [(fold, action, letters[fold]) for fold, action in natural_order(job) if (fold, action) not in taken]

    @property
    def letters(self) -> dict[str, str]:
        """What each fold is called; those that would be called alike also by which fold from edge A they are."""
        girth = self.girth
        if girth is None:
            return {}
        bare = {bend.id: fold_letter(bend.id, bend.turn, girth.profile, self.store.unit) for bend in girth.bends}
        many = Counter(bare.values())
        which = {fold: f"edge {fold[1]}" if fold in ("hA", "hB") else f"fold {n}" for n, fold in enumerate(bare, 1)}
        return {fold: f"{letter}, {which[fold]}" if many[letter] > 1 else letter for fold, letter in bare.items()}

    def flat(self) -> Drawing | None:
        """While practising, before the first stroke: the piece in hand as it lies flat on the machine."""
        job, girth = self.job, self.girth
        if job is None or girth is None or not girth.bends:
            return None
        return flat_drawing(girth, self.store.session.job.brake, natural_order(job)[0][0], self.letters)

    def step(self, by: int) -> None:
        """Another stroke, round the end."""
        if self.steps:
            self.go((self.here + by) % len(self.steps))

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
