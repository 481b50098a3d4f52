"""A job from before panel systems: what a system of its coverage changes is listed before anything is printed."""

from __future__ import annotations

from yattle.install.differences import told_by_systems
from yattle.job.old_panels import knows_only_coverage, with_coverage_as_systems
from yattle.tasks import Answer, On, Request, Target
from yattle.ui.commands.shop import Shop
from yattle.ui.frame.dialogs import ChangesBox

LANE = "old panels"


def offer(shop: Shop) -> None:
    """Work out beside the window what would change, then ask; a job that knows its systems is let be."""
    job = shop.session.job
    if not knows_only_coverage(job):
        return

    def take() -> None:
        shop.session.edit("panel systems", with_coverage_as_systems)
        shop.say("the panels have a system of their coverage now: seam, height and fixing are on the survey's slate")

    def done(answer: Answer) -> None:
        if answer.error is not None:
            shop.complain(str(answer.error))
        elif shop.session.job == job:
            lines = tuple(answer.result) if isinstance(answer.result, tuple) else ()
            box = ChangesBox(shop.parent, "Panels of this job",
                             "This job knows of its panels only how wide they cover. As a seamed system of that "
                             "coverage, with seams as the house standard has them:", lines)
            box.accepted.connect(take)
            shop.open_dialog(box)
    shop.store.ask(Request(LANE, told_by_systems, (job,), shop.session.stamp, Target("job"), on=On.PROCESS), done)
