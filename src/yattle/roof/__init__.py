"""The roof from blocks, faces and openings: facets, edges, corners, water and panels."""

from yattle.roof.build import Roof, build
from yattle.roof.edges import LETTERS, Corner, Edge
from yattle.roof.facets import Facet
from yattle.roof.model import BoxOpening, Flat, Gable, Hip, PipeOpening, RoofPlan, Shed, SketchedFace

__all__ = ["LETTERS", "BoxOpening", "Corner", "Edge", "Facet", "Flat", "Gable", "Hip", "PipeOpening", "Roof",
           "RoofPlan", "Shed", "SketchedFace", "build"]
