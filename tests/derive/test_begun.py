"""What a change takes from pieces that are cut: held against the shapes themselves, over random changes."""

from __future__ import annotations

import random

from yattle.derive import derive
from yattle.derive.begun import undone, undone_says
from yattle.job import demo_path, load
from yattle.job.deeds import shape_of
from yattle.job.model import CutPieces, Job

JOB = load(demo_path())


def shapes(job: Job) -> dict[str, tuple[str, int]]:
    return {p.id: (shape_of(p.outline, p.holes), p.qty) for p in derive(job).patterns}


def changed(job: Job, rng: random.Random) -> Job:
    """Another pitch, or length, of one block, or only another name."""
    blocks, n = list(job.roof.blocks), rng.randrange(len(job.roof.blocks))
    what = rng.choice(("pitch", "length", "name"))
    if what == "name":
        return job.but(name="other")
    blocks[n] = blocks[n].but(**{what: getattr(blocks[n], what) * rng.uniform(1.0, 1.05)})
    return job.but(roof=job.roof.but(blocks=tuple(blocks)))


def test_a_piece_is_lost_where_its_shape_is_no_more():
    rng, lost = random.Random(11), 0
    have = shapes(JOB)
    for _ in range(24):
        made = {name: rng.randint(1, have[name][1]) for name in rng.sample(sorted(have), 4)}
        job = JOB.but(cut=tuple(CutPieces(piece=n, shape=have[n][0], copies=many) for n, many in made.items()))
        after = changed(job, rng)
        now = shapes(after)
        wanted = {name: many - (min(many, now[name][1]) if name in now and now[name][0] == have[name][0] else 0)
                  for name, many in made.items()}
        found = undone(derive(job), derive(after))
        assert {one.piece: one.cut for one in found} == {name: many for name, many in wanted.items() if many}
        assert bool(undone_says(found)) is bool(found)
        lost += len(found)
    assert lost > 5, "some of the changes must matter"


def test_what_is_marked_as_cut_is_no_change():
    job = JOB.but(cut=tuple(CutPieces(piece=n, shape=s, copies=1) for n, (s, _) in shapes(JOB).items()))
    assert undone(derive(JOB), derive(job)) == undone(derive(job), derive(JOB)) == undone(derive(job), derive(job)) == ()
