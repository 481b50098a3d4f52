"""A sheet of sample sections, jobs and brakes, plain and awkward ones."""

from __future__ import annotations

from pathlib import Path

from hypothesis import strategies as st

from yattle.details import FAMILIES, EaveDrip
from yattle.metal import metal_spec
from yattle.section import Hem, MetalSpec, Profile

STEEL = {"name": "prepainted steel 0.60", "thickness": 0.6, "inside_radius": 0.8, "density": 7850.0,
         "allowance": {"rule": "k-factor", "k": 0.33}}


def metal(rule: dict | None = None, **changes) -> MetalSpec:
    return MetalSpec.model_validate({**STEEL, **({"allowance": rule} if rule else {}), **changes})


def section(legs=(40.0, 95.0, 18.0), turns=(-78.0, 42.0), hem_b=True, hem_a=None, rule=None, **changes) -> Profile:
    hem = Hem(kind="closed", length=12.0, toward="back") if hem_b is True else hem_b or None
    return Profile(name="eave drip", metal=metal(rule), legs=tuple(legs), turns=tuple(turns), hem_a=hem_a, hem_b=hem,
                   **changes)


def eave(**changes) -> EaveDrip:
    spec = MetalSpec.model_validate(metal_spec("prepainted-steel", 0.6))
    return EaveDrip(**{"pitch": 32.0, "length": 9480.0, "metal": spec, **changes})


def made(name, **more):
    """A detail of that family, what the roof would give filled in."""
    model = FAMILIES[name].model
    given_by_roof = {"pitch": 30.0, "fold": 50.0, "upper": 40.0, "lower": 15.0}
    needed = {f: v for f, v in given_by_roof.items() if f in model.model_fields and f not in more}
    free = {"legs": (40.0, 60.0, 20.0), "turns": (80.0, -40.0)} if name == "free" else {}
    return model(**{"id": "T", "length": 7300.0, "metal": metal(), **needed, **free, **more})


RULES = st.one_of(
    st.builds(lambda k: {"rule": "k-factor", "k": k}, st.floats(0, 0.5)),
    st.just({"rule": "din6935"}), st.just({"rule": "sum"}),
    st.just({"rule": "table", "deductions": ((0.0, 0.0), (90.0, 1.3), (180.0, 2.1))}))

HEMS = st.one_of(
    st.none(),
    st.builds(lambda length, side: Hem(kind="closed", length=length, toward=side),
              st.floats(8, 25), st.sampled_from(["paint", "back"])),
    st.builds(lambda length, gap, side: Hem(kind="open", length=length, gap=gap, toward=side),
              st.floats(12, 25), st.floats(1, 4), st.sampled_from(["paint", "back"])))


@st.composite
def sections(draw) -> Profile:
    """Sections with legs long enough for their folds."""
    count = draw(st.integers(0, 6))
    turns = draw(st.lists(st.floats(-150, 150), min_size=count, max_size=count))
    legs = draw(st.lists(st.floats(12, 300), min_size=count + 1, max_size=count + 1))
    thickness = draw(st.floats(0.3, 1.2))
    return Profile(metal=metal(draw(RULES), thickness=thickness, inside_radius=draw(st.just(0.0) | st.floats(0.01, 2))),
                   measured=draw(st.sampled_from(["outside", "inside"])), legs=tuple(legs), turns=tuple(turns),
                   hem_a=draw(HEMS), hem_b=draw(HEMS))


def eaves_path() -> Path:
    """A job of six eaves entered by themselves, without a roof."""
    return Path(__file__).parent / "data" / "six-eaves.yattle"


COVERAGE_ONLY = Path(__file__).parent / "data" / "second-sail-loft.yattle"
"""The sail loft as it was before panel systems: its panels are a coverage and nothing else."""

THREE_EAVES = Path(__file__).parent / "data" / "net-shed-eaves.yattle"
"""The net shed as three eaves in feet and inches, without a roof: a small job."""
