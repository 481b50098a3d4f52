"""The two pans at a pipe between them, as they lie on the roof."""

from __future__ import annotations

from yattle.derive.laying import rule_on
from yattle.derive.pans import pans_on, shifted
from yattle.details import standard_for
from yattle.details.pan_shape import PanShape
from yattle.details.pipe import Pipe
from yattle.job.model import Job
from yattle.roof import Roof
from yattle.roof.openings import Placed
from yattle.roof.panel_edges import FOOT, HEAD, sides_of
from yattle.roof.panel_rule import through_flats
from yattle.roof.panels import face_frame, lay


def split_pans(job: Job, roof: Roof, placed: Placed, pipe: Pipe) -> tuple[tuple[int, PanShape], ...] | None:
    """The lower and the upper pan at a pipe, each with its panel's number, the pipe's middle at 0 mm; ``None`` where
    the layout does not split its panel there. Raises :class:`InputError` where a pan cannot be."""
    facet = roof.facet(placed.facets[0])
    laid, frame = lay(roof, facet.id, rule_on(job, facet)), face_frame(facet)
    s, t = through_flats(frame, laid.rule, (placed.opening.x, placed.opening.y))
    sides = sides_of(roof, laid)
    shapes = pans_on(roof, laid, job.panel_system(facet.id), standard_for(job.system, job.own),
                     {placed.opening.id: pipe})
    found = []
    for side, upper in ((HEAD, False), (FOOT, True)):
        near = [panel for panel in laid.panels if panel.left < s < panel.right and side in sides[panel.n]
                and min(y for _, y in panel.outline) < t + pipe.split.over and
                max(y for _, y in panel.outline) > t - pipe.split.over]
        near = [panel for panel in near if (max if not upper else min)(y for _, y in panel.outline) == min(
            ((max if not upper else min)(y for _, y in one.outline) for one in near), key=lambda y: abs(y - t))]
        if len(near) != 1:
            return None
        panel = near[0]
        low = min(y for _, y in panel.outline)
        shape = shifted(shapes[panel.n], (panel.left - s, low - t))
        found.append((panel.n, shape.but(name="upper pan" if upper else "lower pan")))
    return tuple(found)
