"""What to buy: fresh coil of each width, the least metal first."""

from __future__ import annotations

import pytest

from yattle.coil import NestJob, NestRules, Part, Stock
from yattle.derive.purchase import proposals


def job(*sizes) -> NestJob:
    parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)), metal="m")
                  for n, (long, wide) in enumerate(sizes))
    return NestJob(stock=(Stock(id="c", kind="coil", width=900.0, metal="m", length=5.0),), parts=parts, rules=NestRules(max_crosscut=3000.0))


def test_the_width_that_fits_the_girths_comes_first():
    """Four of 305 fill 1220: 3 m of it, 3.66 m²; on 610 6 m, as much metal; 1000 takes three and one."""
    found = {p.width: p for p in proposals(job(*[(3000.0, 305.0)] * 4))}
    assert found[1220.0].metres == pytest.approx(3.0) and found[610.0].metres == pytest.approx(6.0)
    assert found[1000.0].area == pytest.approx(6.0) and found[1220.0].used_well == pytest.approx(1.0)
    assert proposals(job(*[(3000.0, 305.0)] * 4))[0].area == pytest.approx(3.66) and 900.0 in found


def test_widths_too_narrow_come_last_or_not_at_all():
    found = proposals(job((1000.0, 1100.0), (1000.0, 300.0)))
    assert [p.width for p in found if p.left] == [610.0, 900.0, 1000.0] and found[0].left == 0
    assert [p.width for p in proposals(job((1000.0, 1240.0)))] == [1250.0]
