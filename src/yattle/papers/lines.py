"""How each role is drawn on paper: readable in black and white, by line style and letter first."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class PaperLine:
    """``width`` in mm on paper, ``dash`` in mm (none: solid), grey 0 black … 1 white, ``fill`` grey or none."""

    width: float
    dash: tuple[float, ...] = ()
    grey: float = 0.0
    fill: float | None = None
    layer: str = "NOTES"
    colour: int = 7  # of the DXF palette


PAPER: dict[str, PaperLine] = {
    "cut": PaperLine(0.35, layer="CUT"),
    "fold-paint": PaperLine(0.25, (3.0, 1.2), layer="FOLD_PAINT", colour=1),
    "fold-back": PaperLine(0.25, (3.0, 1.0, 0.6, 1.0), layer="FOLD_BACK", colour=5),
    "mark": PaperLine(0.18, (0.8, 0.8), layer="MARK", colour=3),
    "paint": PaperLine(0.1, fill=0.35, layer="SECTION"),
    "back": PaperLine(0.25, layer="SECTION"),
    "around": PaperLine(0.12, grey=0.6, fill=0.93, layer="AROUND", colour=8),
    "dim": PaperLine(0.12, grey=0.3, layer="DIM", colour=8),
    "tool": PaperLine(0.2, grey=0.35, fill=0.86, layer="TOOL", colour=8),
    "leaf": PaperLine(0.2, grey=0.35, fill=0.78, layer="TOOL", colour=8),
    "piece": PaperLine(0.3, fill=0.9, layer="CUT"),
    "waste": PaperLine(0.15, (1.5, 1.0), grey=0.4, layer="OFFCUT", colour=8),
    "stock": PaperLine(0.4, layer="STOCK"),
    "break": PaperLine(0.0, fill=1.0, layer="DIM"),
    "trim": PaperLine(0.15, layer="DIM"),
    "axis": PaperLine(0.15, (6.0, 1.5, 1.0, 1.5), grey=0.4, layer="DIM"),
}
