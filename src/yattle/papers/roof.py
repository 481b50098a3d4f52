"""The roof for other programs: its plan as DXF, the whole as glTF."""

from __future__ import annotations

import numpy as np

from yattle.derive import Derived
from yattle.derive.roof_runs import roof_runs
from yattle.drawing import PlanEdge, roof_drawing
from yattle.measure import UNITS, say_pitch
from yattle.papers.dxf import drawing_to_dxf
from yattle.roof import Roof


def roof_to_dxf(derived: Derived) -> str:
    """The plan in mm, every kind of edge on a layer of its own, letters and pitches beside."""
    style = "in 12" if derived.job.system == "inch" else "degrees"
    pitches = {f.id: say_pitch(f.plane.pitch, style) for f in derived.roof.facets}
    edges = tuple(PlanEdge(r.run.id, r.edge) for r in roof_runs(derived.job))
    return drawing_to_dxf(roof_drawing(derived.roof, edges, (), UNITS[derived.job.unit], pitches), text=180.0)


def roof_to_glb(roof: Roof, colour: str = "#4a6b80") -> bytes:
    """Every face as a mesh of its own, in metres with y up."""
    import shapely
    import trimesh

    red, green, blue = (int(colour[k : k + 2], 16) for k in (1, 3, 5))
    material = trimesh.visual.material.PBRMaterial(
        baseColorFactor=(red, green, blue, 255), metallicFactor=0.4, roughnessFactor=0.6, doubleSided=True)
    scene = {}
    for facet in roof.facets:
        triangles = shapely.get_parts(shapely.constrained_delaunay_triangles(facet.shape))
        points = np.array([facet.plane.at((x, y)) for t in triangles for x, y in t.exterior.coords[:3]])
        vertices = points[:, [0, 2, 1]] * np.array([1, 1, -1]) / 1000
        scene[facet.id] = trimesh.Trimesh(vertices, np.arange(len(points)).reshape(-1, 3), process=False,
                                          visual=trimesh.visual.TextureVisuals(material=material))
    data: bytes = trimesh.Scene(scene).export(file_type="glb")
    return data
