"""Short cautions of what lies beneath panels, of low pitches, of what may be walked on; they defer to who knows
better."""

from __future__ import annotations

from yattle.panels import PanelSystem
from yattle.roof.structure import Structure

OLD_ROOF = ("An old roof lies beneath: what it is made of is found out before it is drilled or walked on; sheets that "
            "may hold fibres are for licensed people only.")
ON_SUPPORTS = ("No deck beneath: walk over the supports only, on boards where the maker asks, never on a panel's free "
               "edge.")
LOW = "its taped laps keep the water out: dry, pressed over their whole length, none left for later."
TOO_LOW = "Laid flatter than its {:.1f}°: the maker's word first, in writing."
STEEP = "From {:.0f}° on nobody stands by himself: roof ladder or harness as local rules ask."
_STEEP, _ALWAYS = 30.0, 60.0  # degrees


def cautions_of(system: PanelSystem | None, structure: Structure, pitch: float) -> tuple[str, ...]:
    """What is said once where panels of a system go onto a structure at a pitch (degrees)."""
    found = []
    if structure.old_roof:
        found.append(OLD_ROOF)
    if structure.kind == "supports":
        found.append(ON_SUPPORTS)
    if system is not None and pitch < system.rules.least_pitch - 1e-6:
        found.append(TOO_LOW.format(system.rules.least_pitch))
    if system is not None and pitch < system.rules.tape_below - 1e-6:
        always = system.rules.tape_below >= _ALWAYS
        found.append(f"{'At every pitch' if always else f'Below {system.rules.tape_below:.0f}°'} {LOW}")
    if pitch >= _STEEP:
        found.append(STEEP.format(_STEEP))
    return tuple(found)
