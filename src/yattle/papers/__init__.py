"""What leaves the program: SVG, DXF, PDF, CSV, glTF, and the shop pack that holds them all."""

from yattle.papers.dxf import drawing_to_dxf
from yattle.papers.pack import write_pack
from yattle.papers.svg import drawing_to_svg

__all__ = ["drawing_to_dxf", "drawing_to_svg", "write_pack"]
