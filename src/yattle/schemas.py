"""JSON Schemas of every file format, made from the code's own models."""

from __future__ import annotations

from typing import Any

from yattle.brake import Brake, FoldJob
from yattle.brake.trial import OwnOrder
from yattle.coil import NestJob
from yattle.details import FAMILIES
from yattle.details.all_forms import FORMS
from yattle.job.learn import Log
from yattle.job.model import Job
from yattle.metal import MetalLibrary
from yattle.panels import PanelSystem
from yattle.pattern import Pattern
from yattle.roof import RoofPlan
from yattle.roof.measured import TapedRoof
from yattle.section import Profile
from yattle.values import Value

MODELS: dict[str, type[Value]] = {
    "profile": Profile, "pattern": Pattern, "fold-job": FoldJob, "brake": Brake, "roof": RoofPlan,
    "nest-job": NestJob, "job": Job, "metals": MetalLibrary, "taped-roof": TapedRoof,
    "panels": PanelSystem, "own-order": OwnOrder, "log": Log,
    **{f"detail/{name}": family.model for name, family in FAMILIES.items()},
    **{f"detail/{name}": model for name, model in FORMS.items()}}


def schemas() -> dict[str, dict[str, Any]]:
    """Format name → its JSON Schema."""
    return {name: model.model_json_schema() for name, model in MODELS.items()}
