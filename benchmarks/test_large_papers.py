"""Papers of a job of 60 blocks and 2,800 pieces: how long they take, and read back, text by text."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from pypdf import PdfReader
from turns import large

from yattle.derive import derive
from yattle.papers.cards import write_fold_cards
from yattle.papers.cut_sheet import write_cut_sheet
from yattle.papers.site import write_site_pack

sys.path += [str(Path(__file__).parents[1] / "tests" / "papers"), str(Path(__file__).parents[1] / "tests")]
from test_cards import faults

PAPERS = {"cards": write_fold_cards, "cut sheet": write_cut_sheet, "site pack": write_site_pack}


@pytest.fixture(scope="module")
def derived():
    found = derive(large())
    assert found.nest.ok
    return found


@pytest.mark.parametrize("paper", PAPERS)
def test_papers_of_60_blocks(benchmark, derived, paper, tmp_path):
    """Each in at most 20 s, nothing on anything and nothing outside the margins."""
    benchmark.pedantic(lambda: PAPERS[paper](derived, tmp_path / "p.pdf"), rounds=1)
    assert faults(tmp_path / "p.pdf") == [] and len(PdfReader(tmp_path / "p.pdf").pages) > 20
    assert benchmark.stats.stats.max < 20


def test_the_demo_s_pack_as_it_is_planned(benchmark, tmp_path):
    """With the plan that ``plan`` searches for, not the first one: at most 70 pages and 200 lines of cuts."""
    from yattle.coil.steps import blocks_of_plan, step_lines
    from yattle.job import demo_path, load
    from yattle.verbs import PLAN_WORK

    found = benchmark.pedantic(lambda: derive(load(demo_path())).searched(PLAN_WORK), rounds=1)
    for name, write in PAPERS.items():
        write(found, tmp_path / f"{name}.pdf")
    pages = sum(len(PdfReader(tmp_path / f"{name}.pdf").pages) for name in PAPERS)
    lines = sum(len(step_lines(block)) for block in blocks_of_plan(found.job.stock, found.nest))
    assert pages <= 70 and lines <= 200, (pages, lines)
