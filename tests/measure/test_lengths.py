"""Lengths and pitches as people type them."""

from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.errors import InputError
from yattle.measure import (
    UNITS,
    parse_angle,
    parse_length,
    parse_pitch,
    say_length,
    say_pitch,
    say_thickness,
    split_numbers,
    tape_mark,
)


@pytest.mark.parametrize(("typed", "mm"), [
    ("95", 95), ("3 3/4\"", 95.25), ("3-3/4\"", 95.25), ("1' 2 5/8", 371.475), ("1' 2-5/8\"", 371.475),
    ("1'-2\"", 355.6), ("12.5 cm", 125), ("12,5 cm", 125), ("1220/3", 1220 / 3), ("2 486", 2486), ("2\u00a0486.5", 2486.5),
    ("14.8 m", 14800), ("5/8\"", 15.875), ("(2+3)*4", 20), ("1 m - 20", 980), ("2 x 95 + 3", 193), ("-3", -3),
    ("3 ft", 914.4), ("10 in + 1 cm", 264), ("1/2\"", 12.7)])
def test_what_people_type(typed, mm):
    assert parse_length(typed) == pytest.approx(mm, abs=1e-9)


@pytest.mark.parametrize(("typed", "inches"), [("3 3/4", 3.75), ("3-3/4", 3.75), ("95 mm", 95 / 25.4), ("7/8", 0.875),
                                               ("48' 6 1/2\"", 582.5), ("100/3", 100 / 3)])
def test_inches_are_the_plain_unit_where_they_are_shown(typed, inches):
    assert parse_length(typed, "in") == pytest.approx(inches * 25.4, abs=1e-9)


@pytest.mark.parametrize("typed", ["", "  ", "abc", "1/0", "1,220", "3 m m", "5+", "inf", "nan", "1e9", "95 parsec", "((3)",
                                   "3 mm * 4 mm", "9" * 200])
def test_nonsense_is_one_sentence_with_the_field(typed):
    with pytest.raises(InputError) as wrong:
        parse_length(typed, field="face")
    assert str(wrong.value).startswith("face: found ") and "\n" not in str(wrong.value)


@given(st.text(max_size=30))
def test_no_text_breaks_it(typed):
    with contextlib.suppress(InputError):
        assert isinstance(parse_length(typed), float)


@given(st.floats(0, 50_000), st.sampled_from(list(UNITS.values())))
def test_what_is_printed_reads_back_to_its_step(mm, unit):
    said = say_length(mm, unit, mark=True)
    assert abs(parse_length(said) - mm) <= unit.step / 2 + 1e-6, said


@pytest.mark.parametrize("unit", [unit for unit in UNITS.values() if unit.parts], ids=lambda unit: unit.name)
@pytest.mark.parametrize("mark", [False, True])
def test_every_inch_that_is_written_reads_back_exactly(unit, mark):
    """Up to forty feet in steps of the tape; what was written without inches or marks was read as a division."""
    wrong = [said for step in range(40 * 12 * unit.parts + 1)
             if abs(parse_length(said := say_length(step * 25.4 / unit.parts, unit, mark=mark), "in")
                    - step * 25.4 / unit.parts) > 1e-9]
    assert wrong == []


@pytest.mark.parametrize(("typed", "inches"), [
    ("10-6", 126), ("32-4 1/2", 388.5), ("32-4-1/2", 388.5), ("3½", 3.5), ("½", 0.5), ("10' 3⅝", 123.625),
    ("4' 1/16", 48.0625), ("4' 1/16\"", 48.0625), ("4' 0 1/16\"", 48.0625), ("4'-1/16", 48.0625), ("10 - 6", 4),
    ("96-14", 82), ("0-11", 11), ("3-3/4", 3.75), ("12' / 2", 72), ("5 ft 3 in", 63)])
def test_feet_and_inches_as_carpenters_write_them(typed, inches):
    assert parse_length(typed, "in") == pytest.approx(inches * 25.4, abs=1e-9)


def test_a_dash_between_millimetres_takes_off():
    assert parse_length("10-6") == 4 and parse_length("32-4") == 28


@pytest.mark.parametrize(("mm", "unit", "said"), [(0.6, "mm", "0.60 mm"), (0.75, "mm", "0.75 mm"), (0.6, "in16", '0.0236"'),
                                                  (1.0, "in8", '0.0394"')])
def test_a_thickness_is_not_rounded_to_the_tape(mm, unit, said):
    assert say_thickness(mm, UNITS[unit], mark=True) == said


def test_printing():
    assert say_length(0.0) == "0.0" and say_length(-0.01) == "0.0" and say_length(-2) == "-2.0"
    assert say_length(152.4, UNITS["in8"]) == "6" and say_length(12 * 304.8 + 15.875, UNITS["in8"]) == "12' 0 5/8\""


@given(st.floats(0, 3000), st.sampled_from(list(UNITS.values())))
def test_marks_round_from_the_edge_and_tell_it(mm, unit):
    rounded, added = tape_mark(mm, unit)
    assert rounded - mm == pytest.approx(added, abs=1e-6)
    assert abs(added) <= unit.tape_step / 2 + 1e-9


@pytest.mark.parametrize(("typed", "degrees"), [("7:12", 30.256437), ("7/12", 30.256437), ("30°", 30), ("30", 30),
                                                ("58%", 30.113733), ("1:4", 14.036243), ("0", 0), ("12,5°", 12.5)])
def test_pitches(typed, degrees):
    assert parse_pitch(typed) == pytest.approx(degrees, abs=1e-6)


@pytest.mark.parametrize("typed", ["95°", "90", "-3", "7:0", "steep", ""])
def test_no_such_pitch(typed):
    with pytest.raises(InputError, match="0° to under 90°"):
        parse_pitch(typed)


def test_saying_pitches_and_angles():
    assert say_pitch(26.56505117707799, "in 12") == "6:12"
    assert parse_angle("-42°") == -42
    with pytest.raises(InputError):
        parse_angle("forty")


@pytest.mark.parametrize(("text", "legs"), [
    ("40 120 20", (40, 120, 20)), ("40,120,20", (40, 120, 20)), ("40; 120;20", (40, 120, 20)), ("12,5; 30", (12.5, 30)), ("60 mm 2 cm", (60, 20)),
    ('1 1/2 4 3/4" 2"', (38.1, 120.65, 50.8)), ("3' 6\" 2\"", (1066.8, 50.8))])
def test_legs_in_one_line_as_anyone_types_them(text, legs):
    typed = "in" if '"' in text else "mm"
    assert [parse_length(part, typed, "legs") for part in split_numbers(text)] == pytest.approx(list(legs))


@given(st.lists(st.floats(1, 999).map(lambda v: round(v, 1)), min_size=1, max_size=8), st.sampled_from([" ", ", ", "; ", ";", ",", "   "]))
def test_whatever_stands_between_them_they_are_the_same_numbers(values, between):
    assert [float(part) for part in split_numbers(between.join(f"{value:g}" for value in values))] == pytest.approx(values)
