"""Lengths typed as the hand speaks: ``95``, ``3 3/4``, ``3½``, ``1' 2-5/8"``, ``10-6``, ``12.5 cm``, ``1220/3``.

Words: a *plain* number has no unit of its own and takes the default one; a *mixed*
number is a whole and a fraction (``3 3/4``, ``3-3/4``); a *quantity* is a number with
its unit. Everything becomes millimetres.
"""

from __future__ import annotations

import math
import re
import unicodedata
from fractions import Fraction

from yattle.errors import InputError

MM_PER_INCH = 25.4
_UNIT_MM = {
    "mm": 1.0, "cm": 10.0, "dm": 100.0, "m": 1000.0,
    "in": MM_PER_INCH, '"': MM_PER_INCH, "″": MM_PER_INCH, "inch": MM_PER_INCH, "inches": MM_PER_INCH,
    "ft": 304.8, "'": 304.8, "′": 304.8, "foot": 304.8, "feet": 304.8,
}
_LONGEST_TEXT = 80
_TAPE_PARTS = {2, 4, 8, 16, 32, 64}

_NUMBER = r"\d{1,3}(?:[ \xa0]\d{3})+(?![\d/])(?:\.\d+)?|\d+\.\d*|\.\d+|\d+"
_FRACTION = r"(?P<top>\d+)\s*[/⁄]\s*(?P<bottom>\d+)"
_MIXED = re.compile(rf"(?P<whole>\d+)(?:\s+|\s*(?P<dash>-)\s*){_FRACTION}(?!\s*[.\d])")
_PLAIN = re.compile(_NUMBER)
_UNIT = re.compile(r"\s*(inches|inch|feet|foot|mm|cm|dm|ft|in|m|\"|″|''|'|′)(?![a-z])", re.IGNORECASE)
_FEET_INCHES = re.compile(r"(\d+)-(\d+)(?:[ -](\d+)/(\d+))?")  # 10-6, 32-4 1/2: as carpenters write feet and inches
_VULGAR = re.compile("[\u00bc-\u00be\u2150-\u215e]")  # ¼ to ⅞, each one sign
_EXAMPLES = "a length such as 95, 3 3/4, 1' 2 5/8\", 12.5 cm or 1220/3"


def parse_length(text: str, default: str = "mm", field: str = "length") -> float:
    """The millimetres that ``text`` means; a plain number is in the unit ``default``.

    Arithmetic with ``+ - * /`` and parentheses is worked out. Where inches are typed ``10-6`` is ten feet six, as
    carpenters write it (less is taken off with spaces: ``10 - 6``). Raises :class:`~yattle.errors.InputError` for an
    empty, unfinished or not-finite length.

    >>> parse_length("3 3/4", "in")
    95.25
    >>> round(parse_length("1' 2-5/8\\""), 3)
    371.475
    >>> parse_length("12.5 cm"), parse_length("2 x 95 + 3")
    (125.0, 193.0)
    >>> [round(parse_length(typed, "in") / 25.4, 6) for typed in ("10-6", "32-4 1/2", "4' 1/16", "3½")]
    [126.0, 388.5, 48.0625, 3.5]
    """
    if default == "in" and (carpenter := _feet_inches(_tidy(text).strip())) is not None:
        return carpenter
    reader = _Reader(text, _UNIT_MM[default], field)
    value = reader.whole()
    if not math.isfinite(value):
        raise InputError(field, repr(text), _EXAMPLES)
    return value


def _feet_inches(text: str) -> float | None:
    """The millimetres of feet and inches parted by a dash; ``None`` where it is something else."""
    match = _FEET_INCHES.fullmatch(text)
    if match is None or int(match[2]) >= 12 or (match[4] and not 0 < int(match[3]) < int(match[4])):
        return None
    part = Fraction(int(match[3]), int(match[4])) if match[4] else Fraction(0)
    return float((12 * int(match[1]) + int(match[2]) + part) * Fraction("25.4"))


class _Reader:
    """Reads one expression; a value is (number, is it a length already)."""

    def __init__(self, text: str, default_mm: float, field: str) -> None:
        self.text, self.default_mm, self.field, self.at = text, default_mm, field, 0
        self.rest = _tidy(text)
        if not self.rest.strip() or len(text) > _LONGEST_TEXT or re.search(r"\d,\d{3}(?!\d)", text):
            raise self._wrong()

    def _wrong(self) -> InputError:
        return InputError(self.field, repr(self.text[:_LONGEST_TEXT]) if self.text else "nothing", _EXAMPLES)

    def whole(self) -> float:
        value = self._mm(self._sum())
        if self.rest[self.at:].strip():
            raise self._wrong()
        return value

    def _mm(self, value: tuple[float, bool]) -> float:
        return value[0] if value[1] else value[0] * self.default_mm

    def _take(self, signs: str) -> str:
        place = self.at + len(self.rest[self.at:]) - len(self.rest[self.at:].lstrip())
        if place < len(self.rest) and self.rest[place] in signs:
            self.at = place + 1
            return self.rest[place]
        return ""

    def _sum(self) -> tuple[float, bool]:
        left = self._product()
        while sign := self._take("+-"):
            right = self._product()
            if left[1] != right[1]:
                left, right = (self._mm(left), True), (self._mm(right), True)
            left = (left[0] + right[0] if sign == "+" else left[0] - right[0], left[1])
        return left

    def _product(self) -> tuple[float, bool]:
        left = self._factor()
        while sign := self._take("*×xX/÷"):
            right = self._factor()
            if sign in "/÷":
                if right[0] == 0 or (right[1] and not left[1]):
                    raise self._wrong()
                left = (left[0] / right[0], left[1] and not right[1])
            elif left[1] and right[1]:
                raise self._wrong()
            else:
                left = (left[0] * right[0], left[1] or right[1])
        return left

    def _factor(self) -> tuple[float, bool]:
        if self._take("-"):
            number, is_length = self._factor()
            return -number, is_length
        if self._take("("):
            inside = self._sum()
            if not self._take(")"):
                raise self._wrong()
            return inside
        return self._quantity()

    def _quantity(self) -> tuple[float, bool]:
        number = self._number()
        unit = self._unit()
        if unit is None:
            return number, False
        millimetres = number * unit
        if unit == _UNIT_MM["ft"]:
            millimetres += self._inches_after_feet()
        return millimetres, True

    def _inches_after_feet(self) -> float:
        start = self.at
        match = re.compile(r"\s*-?\s*(?=[\d.])").match(self.rest, self.at)
        if match is None:
            return 0.0
        self.at = match.end()
        number = self._part() or self._number()
        unit = self._unit()
        if unit not in (None, MM_PER_INCH):
            self.at = start
            return 0.0
        return number * MM_PER_INCH

    def _part(self) -> float:
        """A fraction of an inch by itself, as in ``4' 1/16``: no division; 0 where there is none."""
        match = re.compile(_FRACTION + r"(?!\s*[.\d])").match(self.rest, self.at)
        if match is None or not 0 < int(match["top"]) < int(match["bottom"]):
            return 0.0
        self.at = match.end()
        return int(match["top"]) / int(match["bottom"])

    def _number(self) -> float:
        start = self.at + len(self.rest[self.at:]) - len(self.rest[self.at:].lstrip())
        mixed = _MIXED.match(self.rest, start)
        if mixed and _is_mixed(mixed):
            self.at = mixed.end()
            return float(int(mixed["whole"]) + Fraction(int(mixed["top"]), int(mixed["bottom"])))
        plain = _PLAIN.match(self.rest, start)
        if plain is None:
            raise self._wrong()
        self.at = plain.end()
        whole = float(plain[0].replace(" ", "").replace("\u00a0", ""))
        return self._over_tape_part(whole)

    def _over_tape_part(self, top: float) -> float:
        # 5/8" is five eighths of an inch; without this it would read 5 / (8").
        below = re.compile(r"\s*[/⁄]\s*(\d+)(?=\s*(?:\"|″|''|in\b|inch))").match(self.rest, self.at)
        if below is None or int(below[1]) == 0:
            return top
        self.at = below.end()
        return top / int(below[1])

    def _unit(self) -> float | None:
        match = _UNIT.match(self.rest, self.at)
        if match is None:
            return None
        self.at = match.end()
        return _UNIT_MM[match[1].lower().replace("''", '"')]


def _is_mixed(match: re.Match[str]) -> bool:
    top, bottom = int(match["top"]), int(match["bottom"])
    # "100-3/4" could be a sum; a tape fraction after a dash is how inches are written.
    return 0 < top < bottom and (match["dash"] is None or bottom in _TAPE_PARTS)


def _tidy(text: str) -> str:
    text = re.sub(r"(?<=\d),(?=\d)", ".", text)
    text = _VULGAR.sub(lambda sign: f" {unicodedata.normalize('NFKC', sign[0])}", text)
    return text.replace("−", "-").replace("–", "-").replace("’", "'").replace("”", '"').replace("⁄", "/")


_ONE = re.compile(r"""-?(?:\d+(?:\.\d+)?\s*(?:'|ft)\s*)?"""  # feet before
                  r"""(?:\d+\s+\d+/\d+|\d+/\d+|\d*\.\d+|\d+)?\s*(?:mm|cm|m|in|"|″|°)?""")


def split_numbers(text: str) -> list[str]:
    """The numbers of one line as anybody types a row of them: with blanks, commas or semicolons between, whole and
    fraction together. Where there are semicolons a comma is a decimal one.

    >>> split_numbers("40 120, 20"), split_numbers('1 1/2 4 3/4" 2'), split_numbers("12,5; 30")
    (['40', '120', '20'], ['1 1/2', '4 3/4"', '2'], ['12.5', '30'])
    """
    if ";" in text:
        return [part.strip().replace(",", ".") for part in text.split(";") if part.strip()]
    found: list[str] = []
    for part in text.split(","):
        rest = part.strip()
        while rest:
            met = _ONE.match(rest)
            one = met.group(0).strip() if met is not None else ""
            if not one:  # no number: said as it stands, so that what reads it can say what is wrong
                one, _, rest = rest.partition(" ")
            else:
                rest = rest[len(met.group(0)):] if met is not None else ""
            found.append(one)
            rest = rest.strip()
    return found
