"""Pitches and angles: rise in 12, degrees, percent or ratio; everything becomes degrees from level."""

from __future__ import annotations

import math
import re

from yattle.errors import InputError

_PITCH_EXPECTED = "a pitch such as 7:12, 30°, 58% or 30, from 0° to under 90°"
_NUMBER = r"(\d+(?:[.,]\d*)?|[.,]\d+)"
_RATIO = re.compile(rf"^{_NUMBER}\s*(?::|in|/)\s*{_NUMBER}$", re.IGNORECASE)
_PERCENT = re.compile(rf"^{_NUMBER}\s*%$")
_DEGREES = re.compile(rf"^(-?){_NUMBER}\s*(?:°|deg|degrees)?$", re.IGNORECASE)


def parse_pitch(text: str, field: str = "pitch") -> float:
    """Degrees from level that ``text`` means: ``7:12``, ``30°``, ``58%``, ``1:4``, ``30``.

    A plain number is degrees. Raises :class:`InputError` outside 0 ≤ pitch < 90.

    >>> round(parse_pitch("7:12"), 4), parse_pitch("30°"), round(parse_pitch("100%"), 9)
    (30.2564, 30.0, 45.0)
    """
    said = text.strip()
    degrees = _degrees(said)
    if degrees is None or not 0 <= degrees < 90:
        raise InputError(field, repr(text) if said else "nothing", _PITCH_EXPECTED)
    return degrees


def _degrees(said: str) -> float | None:
    if ratio := _RATIO.match(said):
        run = _float(ratio[2])
        return math.degrees(math.atan(_float(ratio[1]) / run)) if run else None
    if percent := _PERCENT.match(said):
        return math.degrees(math.atan(_float(percent[1]) / 100))
    plain = _DEGREES.match(said)
    return _float(plain[1] + plain[2]) if plain else None


def _float(text: str) -> float:
    return float(text.replace(",", "."))


def parse_angle(text: str, field: str = "angle") -> float:
    """Degrees that ``text`` means, a sign allowed (``-42``, ``42°``). Raises :class:`InputError` where it means
    none."""
    match = _DEGREES.match(text.strip().replace("−", "-"))
    if match is None:
        raise InputError(field, repr(text), "an angle in degrees, such as 42")
    return _float(match[1] + match[2])


def say_pitch(degrees: float, style: str = "degrees") -> str:
    """A pitch in words; ``style`` is ``degrees``, ``in 12`` or ``percent``.

    >>> say_pitch(30.2564, "in 12"), say_pitch(32.0), say_pitch(45, "percent")
    ('7:12', '32°', '100 %')
    """
    if style == "in 12":
        return f"{round(math.tan(math.radians(degrees)) * 12, 2):g}:12"
    if style == "percent":
        return f"{round(math.tan(math.radians(degrees)) * 100, 1):g} %"
    return f"{round(degrees, 2):g}°"
