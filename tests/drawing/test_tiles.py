"""A plan in parts: every letter on one of them, what is drawn nowhere lost, no part with too many letters."""

from __future__ import annotations

import random

import shapely

from yattle.drawing.shapes import Drawing, Label, Line, Ring, Tag
from yattle.drawing.tiles import overview, tiles


def plan(rng, letters, grid):
    """A drawing with ``letters`` on it, on places that often share a coordinate, up to its very border."""
    at = [(rng.randrange(grid) * 100.0, rng.randrange(grid) * 70.0) for _ in range(letters)]
    ring = ((0.0, 0.0), ((grid - 1) * 100.0, 0.0), ((grid - 1) * 100.0, (grid - 1) * 70.0), (0.0, (grid - 1) * 70.0))
    return Drawing((Ring(ring, "face-1"), Line((ring[0], ring[2]), "dim"), Label((10.0, 10.0), "35°"),
                    *(Tag(place, f"E{n}") for n, place in enumerate(at))))


def test_every_letter_stands_on_one_part_and_no_line_is_lost():
    rng = random.Random(23)
    for _ in range(60):
        letters, most, grid = rng.randint(1, 80), rng.randint(3, 20), rng.randint(2, 12)
        whole = plan(rng, letters, grid)
        parts = tiles(whole, most)
        tags = [[shape.text for shape in part.shapes if isinstance(shape, Tag)] for part in parts]
        assert sorted(text for mine in tags for text in mine) == sorted(f"E{n}" for n in range(letters))
        for part, mine in zip(parts, tags, strict=True):
            places = {shape.at for shape in part.shapes if isinstance(shape, Tag)}
            assert len(mine) <= most or min(len({at[k] for at in places}) for k in (0, 1)) == 1
        rings = [shapely.Polygon(s.points).area for part in parts for s in part.shapes if isinstance(s, Ring)]
        lines = [shapely.LineString(s.points).length for part in parts for s in part.shapes if isinstance(s, Line)]
        (ring,) = (s for s in whole.shapes if isinstance(s, Ring))
        (line,) = (s for s in whole.shapes if isinstance(s, Line))
        assert abs(sum(rings) - shapely.Polygon(ring.points).area) < 1e-6
        assert abs(sum(lines) - shapely.LineString(line.points).length) < 1e-6
        assert sum(isinstance(s, Label) for part in parts for s in part.shapes) == 1


def test_of_an_overview_letters_may_be_left_out():
    whole = plan(random.Random(1), 5, 4)
    assert all(s.spare for s in overview(whole).shapes if isinstance(s, Tag))
    assert not any(s.spare for s in whole.shapes if isinstance(s, Tag)) and len(tiles(whole, 5)) == 1
