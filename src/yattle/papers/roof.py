"""The roof for other programs: its plan as DXF, the whole as glTF."""

from __future__ import annotations

import numpy as np

from yattle.derive import Derived
from yattle.derive.roof_runs import roof_runs
from yattle.drawing import Drawing, PlanEdge, roof_drawing
from yattle.measure import UNITS, say_pitch
from yattle.papers.dxf import drawing_to_dxf
from yattle.papers.gltf import mesh_of, sheet_of, to_glb, tone_of
from yattle.roof import Roof


def roof_plan(derived: Derived) -> Drawing:
    """The plan in mm, with the letters of its edges and the pitches of its faces."""
    style = "in 12" if derived.job.system == "inch" else "degrees"
    pitches = {f.id: say_pitch(f.plane.pitch, style) for f in derived.roof.facets}
    edges = tuple(PlanEdge(r.run.id, r.edge) for r in roof_runs(derived.job))
    return roof_drawing(derived.roof, edges, (), UNITS[derived.job.unit], pitches)


def roof_to_dxf(derived: Derived) -> str:
    """The plan in mm, every kind of edge on a layer of its own, letters and pitches beside."""
    return drawing_to_dxf(roof_plan(derived), text=180.0)


def roof_to_glb(roof: Roof, colour: str = "#4a6b80") -> bytes:
    """Every face as a mesh of its own, in metres with y up."""
    import shapely

    material, scene = sheet_of(tone_of(colour)), {}
    for facet in roof.facets:
        triangles = shapely.get_parts(shapely.constrained_delaunay_triangles(facet.shape))
        points = np.array([facet.plane.at((x, y)) for t in triangles for x, y in t.exterior.coords[:3]])
        scene[facet.id] = mesh_of(points, np.arange(len(points)).reshape(-1, 3).tolist(), material)
    return to_glb(scene)
