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
    "face-1": PaperLine(0.0, fill=0.97, layer="ROOF"), "face-2": PaperLine(0.0, fill=0.93, layer="ROOF"),
    "face-3": PaperLine(0.0, fill=0.89, layer="ROOF"),
    "edge-eave": PaperLine(0.6, layer="EAVE"),
    "edge-rake": PaperLine(0.4, layer="RAKE"),
    "edge-ridge": PaperLine(0.4, (5.0, 1.0), layer="RIDGE", colour=1),
    "edge-hip": PaperLine(0.4, (3.0, 1.0, 0.6, 1.0), layer="HIP", colour=1),
    "edge-valley": PaperLine(0.5, (0.8, 0.9), layer="VALLEY", colour=5),
    "edge-wall": PaperLine(0.8, (0.6, 0.6), layer="WALL", colour=3),
    "edge-break": PaperLine(0.4, (1.8, 1.0), layer="BREAK", colour=6),
    "opening": PaperLine(0.3, fill=1.0, layer="OPENING"),
    "walls": PaperLine(0.15, (2.0, 1.0), grey=0.5, layer="WALL", colour=8),
    "water": PaperLine(0.3, (0.5, 0.8), layer="WATER", colour=5),
    "panel": PaperLine(0.15, fill=0.97, layer="PANEL"),
    "wall-cut": PaperLine(0.2, (1.0, 0.8), grey=0.3, layer="WALL", colour=8),
    "hatch": PaperLine(0.1, grey=0.55, layer="DIM", colour=8),
    "seen": PaperLine(0.18, fill=0.9, layer="CUT"), "seen-back": PaperLine(0.18, fill=0.72, layer="CUT"),
    "lit-edge": PaperLine(0.9, layer="ROOF"),
    "fault": PaperLine(0.9, (1.5, 0.8), layer="DIM", colour=1),
    "lit": PaperLine(0.2, fill=0.72, layer="ROOF"),
    "axis": PaperLine(0.15, (6.0, 1.5, 1.0, 1.5), grey=0.4, layer="DIM"),
}
