"""Roofing metals: what they weigh, how they fold and how they move."""

from yattle.metal.library import Metal, MetalLibrary, OwnMetal, library, metal_spec

__all__ = ["Metal", "MetalLibrary", "OwnMetal", "library", "metal_spec"]
