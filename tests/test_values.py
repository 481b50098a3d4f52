"""Frozen values, errors with their field, and --set."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from samples import section
from yattle.errors import InputError
from yattle.section import Profile
from yattle.values import read, with_settings

TEXT = json.dumps(section().model_dump(mode="json"))


def test_equal_values_have_equal_hashes_and_are_not_each_other():
    a, b = section(), read(Profile, TEXT)
    assert a == b and hash(a) == hash(b) and a is not b
    assert a != a.but(legs=(40.0, 96.0, 18.0)) and a != "a"
    with pytest.raises(Exception, match="frozen"):
        a.legs = (1.0,)


def test_what_is_copied_with_a_change_is_another_value_whatever_was_asked_before():
    one, other = section(), section()
    assert one == other and len({one, other}) == 1  # what tells them equal is kept from here on
    changed = one.model_copy(update={"name": "another"})
    assert changed != one and hash(changed) != hash(one) and changed == other.but(name="another")


def test_but_validates_anew_and_leaves_the_old_one():
    a = section()
    with pytest.raises(InputError, match="turns"):
        a.but(turns=(1.0,))
    assert a == section()


@pytest.mark.parametrize(("setting", "path", "value"), [
    ("legs.0=41", ("legs", 0), 41), ("name=drip edge", ("name",), "drip edge"), ("metal.name=x", ("metal", "name"), "x"),
    ("hem_b=null", ("hem_b",), None), ("turns=[1, 2]", ("turns",), [1, 2]), ("measured=inside", ("measured",), "inside")])
def test_settings_are_put_where_they_say(setting, path, value):
    document = json.loads(with_settings(TEXT, [setting]))
    for part in path:
        document = document[part]
    assert document == value


@pytest.mark.parametrize("setting", ["legs.7=1", "legs.x=1", "name.first=1", "legs", "=1"])
def test_settings_that_lead_nowhere(setting):
    with pytest.raises(InputError, match="--set"):
        with_settings(TEXT, [setting])


def test_settings_on_no_json():
    with pytest.raises(InputError, match="not JSON"):
        with_settings("{", ["a=1"])
    assert with_settings("{", []) == "{"


@given(st.recursive(st.none() | st.booleans() | st.floats(allow_nan=True) | st.text(max_size=8),
                    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(
                        st.sampled_from(["legs", "turns", "metal", "hem_a", "format", "x"]), inner, max_size=4), max_leaves=12))
def test_any_document_is_a_profile_or_one_sentence(document):
    try:
        assert isinstance(read(Profile, json.dumps(document)), Profile)
    except InputError as wrong:
        assert str(wrong).count("\n") == 0 and ": found " in str(wrong)
