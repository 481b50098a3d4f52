"""The roof from blocks, faces and openings: facets, edges, corners, water and panels."""

from yattle.roof.build import Roof, build
from yattle.roof.edges import LETTERS, Corner, Edge
from yattle.roof.facets import Facet
from yattle.roof.model import Box, Face, Flat, Gable, Hip, Pipe, RoofPlan, Shed

__all__ = ["LETTERS", "Box", "Corner", "Edge", "Face", "Facet", "Flat", "Gable", "Hip", "Pipe", "Roof", "RoofPlan",
           "Shed", "build"]
