"""The library of roofing metals, read from ``library.json`` beside this module.

Every figure there names its source under ``from``; the sources are spelled out once at
the head of the file.
"""

from __future__ import annotations

import difflib
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, Literal

from pydantic import Field

from yattle.bounds import Density, Positive, Thickness
from yattle.errors import InputError
from yattle.values import Value, read


class Metal(Value):
    """One roofing metal.

    ``density``: kg/m³; ``expansion``: 10⁻⁶ per kelvin
    ``thicknesses``, ``inside_radius``: mm
    ``least_inside_radius_t``: in thicknesses
    ``springback``: the leaf's angle over the fold's, a ratio
    """

    id: str
    name: str
    family: Literal["steel", "aluminium", "copper", "zinc", "stainless"]
    density: Density
    expansion: Positive
    thicknesses: tuple[Thickness, ...]
    inside_radius: Positive
    least_inside_radius_t: Positive
    allowance: dict[str, Any]
    springback: Annotated[float, Field(ge=1, lt=1.5)]
    paint: Literal["none", "one side"]
    colour: str
    origin: dict[str, str] = Field(alias="from")


class MetalLibrary(Value):
    format: Literal["yattle-metals/1"]
    sources: dict[str, str]
    metals: tuple[Metal, ...]

    def find(self, metal_id: str, field: str = "metal") -> Metal:
        """The metal of that id; raises :class:`InputError` with the nearest name otherwise."""
        ids = [metal.id for metal in self.metals]
        if metal_id in ids:
            return self.metals[ids.index(metal_id)]
        near = difflib.get_close_matches(metal_id, ids, n=1) or ids
        raise InputError(field, repr(metal_id), f"a metal of the library, such as {near[0]}")


@cache
def library() -> MetalLibrary:
    """The metals that ship with Yattle."""
    return read(MetalLibrary, files("yattle.metal").joinpath("library.json").read_bytes(), "metals")


class OwnMetal(Value):
    """A metal that the shop entered itself, with the ``source`` of its figures.

    ``density``: kg/m³; ``expansion``: 10⁻⁶ per kelvin; ``inside_radius``: of its folds, mm
    ``k``: its k-factor; ``springback``: the leaf's angle over the fold's; both ratios
    """

    name: Annotated[str, Field(min_length=1, max_length=60)]
    family: Literal["steel", "aluminium", "copper", "zinc", "stainless"] = "steel"
    density: Density = 7850.0
    expansion: Positive = 12.0
    thickness: Thickness = 0.6
    inside_radius: Positive = 0.8
    k: Annotated[float, Field(ge=0, le=1)] = 0.33
    springback: Annotated[float, Field(ge=1, lt=1.5)] = 1.03
    paint: Literal["none", "one side"] = "one side"
    colour: Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")] = "#8a8f94"
    source: Annotated[str, Field(min_length=1, max_length=400)]

    @property
    def metal(self) -> Metal:
        """As one of the library; its id is its name."""
        said = {"density": self.source, "expansion": self.source, "thicknesses": self.source}
        return Metal(id=self.name, name=self.name, family=self.family, density=self.density, expansion=self.expansion,
                     thicknesses=(self.thickness,), inside_radius=self.inside_radius, least_inside_radius_t=1.0,
                     allowance={"rule": "k-factor", "k": self.k}, springback=self.springback, paint=self.paint,
                     colour=self.colour, **{"from": said})


def metal_spec(metal_id: str | Metal, thickness: float) -> dict[str, Any]:
    """The ``metal`` part of a profile for a metal, or the id of one of the library, at ``thickness`` mm."""
    metal = library().find(metal_id) if isinstance(metal_id, str) else metal_id
    return {"name": f"{metal.name} {thickness:.2f}", "thickness": thickness,
            "inside_radius": max(metal.inside_radius, metal.least_inside_radius_t * thickness),
            "density": metal.density, "allowance": metal.allowance}
