"""The folder that the brake bench sends a piece to: one piece by the order shown, and what was measured."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from yattle.brake.order import Step
from yattle.devices import DeviceProblem, Folder, Measured, StandInFolder, check_address, fold_piece, open_line
from yattle.files import why
from yattle.job.log import measured_folds, with_entries
from yattle.job.settings import keep_address, load_settings
from yattle.session.session import Stamp
from yattle.tasks import Answer, Hand, On, Policy, Request, Target
from yattle.ui.benches.model import BenchModel

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


class FolderHand:
    """``measured``: what came out, in words; ``at``: where the folder hangs."""

    def __init__(self, bench: BenchModel) -> None:
        self.bench, self.store = bench, bench.store
        self.measured, self._folded = "nothing yet", 1
        self.at = load_settings().folder

    def put_address(self, text: str) -> str | None:
        def put() -> None:
            self.at = check_address(text)
            keep_address(folder=self.at)
        return self.store.attempt(put)

    def fold(self, steps: tuple[Step, ...], strikes: bool, tapers: bool = False) -> None:
        """Fold one piece by these steps, unless the order ``strikes`` or the piece ``tapers``, and say what was
        measured. While one is folded another is refused."""
        session = self.store.session
        if not steps or strikes or tapers:
            why = "this order strikes" if strikes else "its gauge is square and the piece tapers: by hand, to its lines"
            self.measured = f"not folded: {why}" if steps else ""
            self.bench.changed()
            return
        of, found = self._piece_id(), list[tuple[Measured, bool]]()
        request = Request(LANE, _fold_on, (self.at, StandInFolder(seed=self._folded), steps), session.stamp,
                          Target("piece", of, "measured folds"), Policy.EXCLUSIVE, On.DEVICE, hand=True)

        def told(stroke: object) -> None:
            found.append(stroke)  # type: ignore[arg-type]
            self.measured = f"folding {of}: {_strokes_say(found)}"
            self.bench.changed()
        if self.store.ask(request, lambda answer: self._take_measured(answer, found), told) is not None:
            self._folded += 1
            self.measured = f"folding {of}"
        self.bench.changed()

    def stop(self) -> None:
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
        self.bench.changed()

    def _piece_id(self) -> str:
        run, piece = self.bench.run, self.store.session.selection.piece
        return run.pieces[piece].id if run is not None and piece < len(run.pieces) else ""

    @property
    def folding(self) -> bool:
        """Whether the folder is at work."""
        return self.store.board.busy(LANE)
