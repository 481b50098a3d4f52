"""The speed figures: run with ``make bench``. Nothing here fails by being slow; it measures."""

from __future__ import annotations

import itertools
import json
import subprocess
import sys

import pytest

from yattle.brake import SHOP_BRAKE, FoldJob, plain_order
from yattle.coil import NestJob, NestRules, Part, Stock, first_answer
from yattle.derive import derive
from yattle.derive.roof_runs import run_of, with_run
from yattle.derive.run import spec_of
from yattle.details.chimney import Chimney
from yattle.details.forms import develop_form
from yattle.details.pipe import Pipe
from yattle.details.three_pans import ThreePans
from yattle.install.installation import installation
from yattle.job import Job, demo_path, load, save
from yattle.job.model import Run
from yattle.pattern.unfold import unfold

DEMO = load(demo_path())
METAL = spec_of(DEMO.metal, DEMO.thickness, DEMO.allowance)
FACES = itertools.count(0)


def _fresh_face() -> float:
    return 90 + next(FACES) * 0.001


def test_version(benchmark):
    """Wanted: 0.25 s at most."""
    benchmark.pedantic(lambda: subprocess.run([sys.executable, "-m", "yattle", "--version"], check=True,
                                              capture_output=True), rounds=8)


START = """
import os, tempfile; os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
from pathlib import Path
from yattle.ui.app import make_app, make_window
from yattle.job import demo_path
app = make_app(); window = make_window(demo_path()); window.show(); app.processEvents()
print(open("/proc/self/status").read().split("VmRSS:")[1].split()[0], flush=True)
os._exit(0)
"""


def test_window_usable(benchmark):
    """Process start to the painted window on the demo job. Wanted: 1.2 s at most."""
    def start():
        with subprocess.Popen([sys.executable, "-c", START], stdout=subprocess.PIPE,
                              stderr=subprocess.DEVNULL) as window:
            # said once it is painted; the processes beside it may end later
            assert window.stdout is not None and window.stdout.readline()
    benchmark.pedantic(start, rounds=8)


def test_idle_memory(benchmark):
    """Megabytes of the shown window with the nest done, reported as extra info. Wanted: 250 at most."""
    code = START.replace("print(", "from PyQt6.QtTest import QTest; QTest.qWait(1500); print(")
    done = benchmark.pedantic(lambda: subprocess.run([sys.executable, "-c", code], check=True, capture_output=True,
                                                     text=True), rounds=1)
    benchmark.extra_info["megabytes"] = int(done.stdout.split()[-1]) / 1024


def test_a_leg_of_one_run(benchmark):
    """The core's share of one edit, one run of the demo job."""
    def edit():
        run = run_of(DEMO, "E1")
        return derive(with_run(DEMO, "E1", own=run.own.but(face=_fresh_face())))
    benchmark(edit)


def test_a_leg_of_the_whole_job(benchmark):
    """The core's share of one edit of the standard, all runs of the demo job."""
    benchmark(lambda: derive(DEMO.but(own=DEMO.own.but(face=_fresh_face()))))


@pytest.fixture(scope="module")
def window(tmp_path_factory):
    import os

    os.environ["XDG_CONFIG_HOME"] = str(tmp_path_factory.mktemp("config"))
    from yattle.ui.app import make_app, make_window

    app = make_app()
    window = make_window(demo_path())
    window.resize(1280, 800)
    window.show()
    window.store.finish("results")
    yield app, window
    window.store.finish("results")
    window.store.session.start(window.store.session.job)
    window.store.finish("results")


def test_a_leg_edited_to_redrawn(benchmark, window):
    """Typing a leg of one run until section, girth, marks and pattern are painted. Wanted: 50 ms at most."""
    app, shown = window

    def edit():
        shown.store.session.set_own("E1", "face", _fresh_face())
        app.processEvents()
    benchmark.pedantic(edit, setup=lambda: shown.store.finish() and None, rounds=20)


def test_a_face_edited_to_redrawn(benchmark, window):
    """How one face is laid changed, its panels drawn. On the window's thread: 50 ms at most."""
    app, shown = window
    shown.show_bench("survey")
    survey = shown.benches["survey"].model
    survey.press("face:loft.1")
    shown.store.finish()
    turn = itertools.count(1)

    def edit():
        start = 10.0 + 5.0 * (next(turn) % 60)
        shown.store.session.edit("start", lambda job: job.with_panels(
            "loft.1", job.panel_rule("loft.1").but(start=start)))
        app.processEvents()
    benchmark.pedantic(edit, setup=lambda: shown.store.finish() and None, rounds=20)
    shown.show_bench("trim")


def test_the_standard_edited_to_redrawn(benchmark, window):
    """Changing a leg for all runs until everything is painted. Wanted: 150 ms at most."""
    app, shown = window

    def edit():
        face = _fresh_face()
        shown.store.session.edit("standard", lambda job: job.but(own=job.own.but(face=face)))
        app.processEvents()
    benchmark.pedantic(edit, setup=lambda: shown.store.finish() and None, rounds=20)


@pytest.mark.parametrize("name", ["coping", "eight-fold stair", "twelve-fold wave", "sixteen-fold wave"])
def test_fold_order(benchmark, name):
    """Proven orders of 6, 8, 12 and 16 folds. Wanted: 0.1, 0.3, 1.5 and 10 s at most, on one core."""
    from sections import SECTIONS

    lengths = itertools.count(1000)
    benchmark.pedantic(lambda: plain_order(FoldJob(profile=SECTIONS[name], length=float(next(lengths)),
                                                   brake=SHOP_BRAKE)), rounds=2)


def test_one_stroke(benchmark):
    """One look at whether a stroke is free, nothing remembered. Wanted: 0.3 ms at most."""
    from sections import SECTIONS

    from yattle.brake.simulate import Simulator
    from yattle.brake.state import Bench
    from yattle.section import Girth, girth_of

    girth = girth_of(SECTIONS["eight-fold stair"])
    assert isinstance(girth, Girth)
    bench = Bench(girth, SHOP_BRAKE)
    masks = itertools.cycle(range(0, 256, 2))
    simulator = Simulator(bench)

    def look():
        simulator._free.clear()
        simulator.free(next(masks), 0, "A")
    benchmark(look)


def test_nest_of_200_pieces(benchmark):
    """The first valid plan of 200 pieces. Wanted: 0.5 s at most."""
    sizes = itertools.count(0)
    coil = Stock(id="coil 1", kind="coil", width=1220.0, metal="m", cost_per_m=14.2)

    def plan():
        extra = next(sizes) * 1e-4
        sides = [(900.0 + 37 * n + extra, 150.0 + 7 * (n % 9)) for n in range(50)]
        parts = tuple(Part(id=f"P{n}", qty=4, metal="m", outline=((0.0, 0.0), (x, 0.0), (x, y), (0.0, y)))
                      for n, (x, y) in enumerate(sides))
        return first_answer(NestJob(stock=(coil,), parts=parts, rules=NestRules(max_crosscut=3200.0)))
    benchmark.pedantic(plan, rounds=3)


def test_a_frame_of_playback(benchmark, window):
    """The leaf moved on and the machine painted anew. Wanted: 16 ms at most, for 60 pictures a second."""
    app, shown = window
    shown.show_bench("brake")
    brake = shown.benches["brake"]
    shown.resize(1280, 800)
    app.processEvents()

    def frame():
        if brake.swing.value() >= 99:
            brake.swing.setValue(0)
        brake._frame()
        brake.machine.repaint()
    benchmark.pedantic(frame, rounds=100)


@pytest.mark.parametrize("count", [4, 12, 60])
def test_roof(benchmark, count):
    """A house of blocks joined, edges found. Wanted: 4 blocks 20 ms, 12 blocks 150 ms, 60 blocks 2 s."""
    from turns import house

    from yattle.roof import RoofPlan, build
    from yattle.values import read

    blocks = house((count + 1) // 3)[:count]
    plans = (read(RoofPlan, json.dumps({"blocks": [{**b, "x": float(str(b["x"])) + shift} for b in blocks]}))
             for shift in itertools.count())
    benchmark.pedantic(lambda plan: build(plan), setup=lambda: ((next(plans),), {}), rounds=7)


def test_a_drag_in_plan(benchmark, window):
    """A block moved on and the plan painted anew. Wanted: 33 ms at most, for 30 pictures a second."""
    app, shown = window
    shown.show_bench("survey")
    survey = shown.benches["survey"]
    survey.model.show_view("plan")
    survey.model.press("face:wing.1")
    while survey.model.desk.busy:
        app.processEvents()
    places = itertools.count(0)

    def drag():
        survey._pull("block:wing", "move", 4500.0 + 50.0 * (next(places) % 40), -5500.0, False)
        survey.plan.repaint()
    benchmark.pedantic(drag, rounds=40)
    survey.model.shape.preview = None


def test_the_whole_set_of_trims(benchmark):
    """All trims of the demo job developed and proven, nothing remembered. Wanted: 1.5 s at most."""
    from yattle.derive.run import derive_run
    from yattle.details.develop import develop
    from yattle.pattern import folded, lapped, proof

    def forget():
        for kept in (develop, derive_run, folded.tree_of, lapped.prove_lap, proof._proof):
            kept.cache_clear()
    benchmark.pedantic(lambda: [run.detail.max_gap for run in derive(DEMO).runs], setup=forget, rounds=5)


def test_an_edit_of_a_leg_all_proven(benchmark):
    """A leg of the standard changed, every trim that takes it developed and proven again. Wanted: 150 ms at most."""
    benchmark(lambda: [run.detail.max_gap for run in derive(DEMO.but(own=DEMO.own.but(face=_fresh_face()))).runs])


def test_one_proof_fold(benchmark):
    """One piece folded up from its pattern and held against its section. Wanted: 5 ms at most."""
    from yattle.pattern import folded, proof

    piece = derive(DEMO).pieces[0]

    def fold():
        folded.tree_of.cache_clear()
        proof._proof.cache_clear()
        return piece.proof.max_gap
    benchmark(fold)


def test_a_thousand_pieces(benchmark):
    """Details of 1,000 pieces, developed and proven. Wanted: 20 s at most."""
    from yattle.derive.run import spec_of
    from yattle.details import DetailPiece, develop
    from yattle.details.rake import Rake

    faces = itertools.count(0)

    def work():
        made = list[DetailPiece]()
        while len(made) < 1000:
            n = next(faces)
            made += develop(Rake(id=f"G{n}", length=9000.0 + n, face=100 + 0.01 * n,
                                 metal=spec_of("prepainted-steel", 0.6))).pieces
        return [piece.proof.max_gap for piece in made]
    benchmark.pedantic(work, rounds=2)


def test_a_chimney_set_with_cricket(benchmark):
    """Developed and proven. Wanted: 60 ms at most."""
    wide = itertools.count(900)

    def make():
        return develop_form(Chimney(metal=METAL, across=float(next(wide)), along=600.0, pitch=35.0)).max_gap
    assert benchmark(make) < 0.05


def test_a_collar(benchmark):
    """A collar of 0.1 mm chord error with its lap and tabs, laid flat. Wanted: 10 ms at most."""
    sizes = itertools.count(11000)

    def make():
        collar = Pipe(metal=METAL, diameter=next(sizes) / 100, pitch=30.0).collar()
        return unfold(collar, METAL, "C1", "outside")
    assert benchmark(make).pattern.area > 0


def test_a_split_pipe_set(benchmark):
    """Both pans, plate, collar and storm collar, developed and proven. Wanted: 40 ms at most."""
    sizes = itertools.count(9000)

    def make():
        return develop_form(Pipe(metal=METAL, diameter=next(sizes) / 100, pitch=30.0, school="split", coverage=475.0,
                                 from_seam=237.5)).max_gap
    assert benchmark(make) < 0.05


def test_three_pans(benchmark):
    """Three pans at a cross seam with their template, developed and proven. Wanted: 20 ms at most."""
    wide = itertools.count(400)

    def make():
        return develop_form(ThreePans(metal=METAL, coverage=float(next(wide)))).max_gap
    assert benchmark(make) < 0.05


def fitted(benchmark, job, rounds):
    """The installation of ``job``, each time for a job that nobody has asked about yet."""
    names = itertools.count()

    def another():
        derived = derive(job.but(name=f"{job.name} {next(names)}"))
        _ = derived.openings, derived.roof, derived.piece_count
        return (derived,), {}
    return benchmark.pedantic(installation, setup=another, rounds=rounds)


def test_fitting_the_demo(benchmark):
    """Order of fitting and schedules of the demo job. Wanted: 100 ms at most."""
    found = fitted(benchmark, load(demo_path()), 10)
    assert found.order.stages and found.packs


@pytest.fixture(scope="module")
def large():
    """A job of 2,000 pieces and more: 400 eaves of six pieces each."""
    runs = tuple(Run(id=f"E{n}", name=f"eave {n}", pitch=20.0 + n % 25, length=15_000.0 + n, at=(0.0, -2500.0 * n))
                 for n in range(1, 401))
    return Job(name="large", runs=runs)


def test_fitting_two_thousand_pieces(benchmark, large):
    """Wanted: 2 s at most."""
    assert derive(large).piece_count >= 2000 and fitted(benchmark, large, 3).order.stages


def test_saving_and_opening_two_thousand_pieces(benchmark, large, tmp_path):
    """Wanted: 1 s at most for either; here both."""
    path = tmp_path / "large.yattle"

    def both():
        save(large, path)
        return load(path)
    assert benchmark.pedantic(both, rounds=3) == large


def test_adjusting_the_demo(benchmark):
    """The demo's roof adjusted to its taped measures: 1 s at the most."""
    from yattle.roof.measured import adjust

    job = load(demo_path())
    assert benchmark.pedantic(lambda: adjust(job.roof, job.taped), rounds=3).misfits
    assert benchmark.stats.stats.min < 1.0


def test_girth_advice_on_the_demo(benchmark):
    """From a job that is worked out to its advice: 5 s at the most."""
    from yattle.derive.advice import girth_advice

    job = load(demo_path())
    derive(job)
    assert benchmark.pedantic(lambda: girth_advice(job), rounds=1)
    assert benchmark.stats.stats.min < 5.0


def test_ten_thousand_pieces_in_their_seconds(benchmark):
    """5,000 kinds twice with 3 s: 4 s at the most."""
    import random

    from yattle.coil import NestJob, NestRules, Part, Stock, nest

    draw = random.Random(1)
    parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (w, 0.0), (w, h), (0.0, h)), qty=2, metal="m")
                  for n in range(5000) for w, h in [(draw.uniform(200, 3000), draw.uniform(60, 600))])
    job = NestJob(stock=(Stock(id="c", kind="coil", width=1220.0, metal="m"),), parts=parts,
                  rules=NestRules(cutting="shear", seconds=3.0))
    assert not benchmark.pedantic(lambda: nest(job), rounds=1).unplaced
    assert benchmark.stats.stats.min < 4.0


def test_one_card(benchmark, tmp_path):
    """A fold card as it is looked at, the orders of its job known: at most 200 ms."""
    from yattle.papers.cards import write_run_card

    derived = derive(DEMO)
    write_run_card(derived, "E1", tmp_path / "warm.pdf")
    benchmark.pedantic(lambda: write_run_card(derived, "G1", tmp_path / "card.pdf"), rounds=5)


def test_the_book(benchmark, tmp_path):
    """All papers of the demo in one PDF, its plan known: at most 3 s."""
    from yattle.papers.book import write_book

    derived = derive(DEMO)
    assert derived.nest.ok
    benchmark.pedantic(lambda: write_book(derived, tmp_path / "book.pdf"), rounds=3)


def test_the_shop_pack(benchmark, tmp_path):
    """The whole pack of the demo, its plan known: at most 8 s."""
    from yattle.papers.pack import write_pack

    derived = derive(DEMO)
    assert derived.nest.ok
    benchmark.pedantic(lambda: write_pack(derived, tmp_path / "pack"), rounds=2)


def _of_2500_pieces():
    """A job and what is asked of the coil for 2,500 different pieces."""
    import random

    from yattle.coil import NestJob
    from yattle.coil.job import Part

    chance = random.Random(1)
    sizes = [(float(chance.randint(300, 3000)), float(chance.randint(60, 500))) for _ in range(2500)]
    parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (x, 0.0), (x, y), (0.0, y)), metal=DEMO.metal_name)
                  for n, (x, y) in enumerate(sizes))
    job = DEMO.but(stock=tuple(piece.but(length=None) if piece.kind == "coil" else piece for piece in DEMO.stock))
    return job, NestJob(stock=job.stock, parts=parts, rules=job.rules.but(max_crosscut=3200.0))


def test_a_deed_of_2500_pieces(benchmark):
    """All cuts of 2,500 pieces made: at most 50 ms."""
    from yattle.coil import first_answer
    from yattle.job.deeds import with_cuts_made

    job, asked = _of_2500_pieces()
    answer = first_answer(asked)
    assert benchmark(lambda: with_cuts_made(job, asked, answer, "2026-11-29")).cut
    assert benchmark.stats.stats.min < 0.05


@pytest.mark.parametrize("made", [0.0, 0.5], ids=["none is cut", "half is cut"])
def test_a_new_plan_after_a_spoil_of_2500_pieces(benchmark, made):
    """The first plan of what is still to cut, after one of 2,500 different pieces is spoiled: at most 0.5 s."""
    from yattle.coil import NestJob, first_answer
    from yattle.job.deeds import with_cuts_made

    job, asked = _of_2500_pieces()
    answer = first_answer(asked)
    after = with_cuts_made(job, asked, answer, "2026-11-29", int(made * len(answer.cuts)))
    gone = {one.piece for one in after.cut}
    spoiled = next((part for part in asked.parts if part.id in gone), asked.parts[0])
    left = tuple(part for part in asked.parts if part.id not in gone or part is spoiled)
    turn = itertools.count(1)

    def plan():  # every round another question, so that no answer is remembered
        return first_answer(NestJob(stock=after.stock, parts=left, rules=asked.rules.but(seconds=100.0 + next(turn))))
    assert benchmark.pedantic(plan, rounds=5).placements
    assert benchmark.stats.stats.min < 0.5


def test_panels_of_the_demo_with_their_fixings(benchmark):
    """Every face laid and counted: at most 150 ms."""
    from yattle.install.panel_fixings import panel_needs
    from yattle.job.panel_systems import with_system

    derived = derive(with_system(DEMO, "single seam 475 x 38"))
    assert benchmark(lambda: panel_needs(derived))


def test_panels_of_60_blocks_with_their_fixings(benchmark):
    """101 faces, some 2,900 panels laid and counted: at most 3 s."""
    from turns import large

    from yattle.install.panel_fixings import panel_needs
    from yattle.job.panel_systems import with_own_system, with_system
    from yattle.panels import find

    wide = find("single seam 475 x 38")
    half = wide.over / 2
    profile = tuple((min(x, half) if x < wide.over else x - half, y) for x, y in wide.profile)
    narrow = wide.but(name="narrow", over=half, profile=profile)
    derived = derive(with_system(with_own_system(large(), narrow), "narrow"))
    assert benchmark.pedantic(lambda: panel_needs(derived), rounds=1)
    assert sum(len(laid.panels) for laid in derived.panels.values()) > 2500
    assert benchmark.stats.stats.max < 3
