"""The base of every value Yattle reads, keeps or writes.

A :class:`Value` is frozen, refuses unknown fields and not-finite numbers, and never
guesses types (``"40"`` is not 40). Being frozen it can be hashed, so results can be
kept under the value they were worked out from.
"""

from __future__ import annotations

import json
import os
from collections.abc import Callable, Iterator
from functools import cached_property
from typing import Any, Self, TypeVar

os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # looking for plugins reads every package installed

from pydantic import BaseModel, ConfigDict, ValidationError

from yattle.errors import InputError

MODEL = TypeVar("MODEL", bound=BaseModel)
_FEW, _SHORT = 8, 60  # entries that are shown; letters of what was found


class Value(BaseModel):
    """A frozen, strict value; equal values have equal hashes."""

    # what checks a value is built when the first one is made: most are never met in a session
    model_config = ConfigDict(
        frozen=True, extra="forbid", strict=True, allow_inf_nan=False, defer_build=True
    )

    @cached_property
    def _all(self) -> tuple[Any, ...]:
        """Its fields in their order: tuples compare what is one and the same without looking into it."""
        return tuple(map(self.__dict__.__getitem__, type(self).__pydantic_fields__))

    @cached_property
    def _hash(self) -> int:
        return hash((type(self), self._all))

    def __hash__(self) -> int:
        return self._hash

    def __copy__(self) -> Self:
        """Its fields, without what was worked out of them: whoever copies may change some (``model_copy``)."""
        made = super().__copy__()
        object.__setattr__(made, "__dict__", {name: self.__dict__[name] for name in type(self).__pydantic_fields__})
        return made

    def __getstate__(self) -> dict[Any, Any]:
        """What goes to another process: the fields, without what was worked out here (a text's hash differs there)."""
        state = dict(super().__getstate__())
        state["__dict__"] = {name: self.__dict__[name] for name in type(self).model_fields}
        return state

    def __eq__(self, other: object) -> bool:
        if type(other) is not type(self):
            return NotImplemented
        return self is other or self._all == other._all

    def but(self: MODEL, **changes: Any) -> MODEL:
        """This value with some fields changed, validated anew (raises :class:`InputError`)."""
        data = {name: getattr(self, name) for name in type(self).model_fields} | changes
        return check(lambda: type(self).model_validate(data), document=data)


def check(build: Callable[[], MODEL], where: str = "", document: Any = None) -> MODEL:
    """Run ``build``; the first complaint of the validator becomes an :class:`InputError`. ``document`` is what it is
    built from: it tells fields from the names of a union's branches, which the validator puts between them."""
    try:
        return build()
    except ValidationError as trouble:
        raise _as_input_error(trouble, where, document) from None


def read(kind: type[MODEL], text: str | bytes, where: str = "") -> MODEL:
    """Read a JSON document as a value of ``kind``.

    Raises :class:`InputError` naming the path of the first field that is wrong, what was
    found and what is expected.
    """
    try:
        return kind.model_validate_json(text)
    except ValidationError as trouble:
        raise _as_input_error(trouble, where, _document(text)) from None


def _document(text: str | bytes) -> Any:
    """The JSON document, where it is one."""
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        return None


def field_of(text: str, name: str, expected: tuple[str, ...]) -> str:
    """The text in field ``name`` of the JSON document, one of ``expected``; :class:`InputError` for anything else."""
    try:
        document = json.loads(text)
    except (ValueError, RecursionError) as trouble:
        raise InputError("the file", f"text that is not JSON ({trouble})", "one JSON document") from None
    found = document.get(name) if isinstance(document, dict) else None
    if found not in expected:
        raise InputError(name, _short(found) if found is not None else "nothing", "one of " + ", ".join(expected))
    return str(found)


def with_settings(text: str, settings: list[str]) -> str:
    """The JSON document ``text`` with each ``path=value`` of ``settings`` put in.

    A path's parts are joined by dots, list places counted from 0 (``legs.1=90``); a value is JSON, or else taken as
    text. Raises :class:`InputError` where a path leads nowhere.

    >>> with_settings('{"legs": [40, 95]}', ["legs.1=90"])
    '{"legs": [40, 90]}'
    """
    if not settings:
        return text
    try:
        document = json.loads(text)
    except (ValueError, RecursionError) as trouble:
        raise InputError("the file", f"text that is not JSON ({trouble})", "one JSON document") from None
    for setting in settings:
        path, equals, raw = setting.partition("=")
        if not equals or not path:
            raise InputError("--set", repr(setting), "path=value, such as legs.1=90")
        _put(document, path.split("."), _json_or_text(raw), path)
    return json.dumps(document)


def _json_or_text(raw: str) -> Any:
    try:
        return json.loads(raw)
    except (ValueError, RecursionError):
        return raw


def _put(place: Any, parts: list[str], value: Any, path: str) -> None:
    for part in parts[:-1]:
        place = _step(place, part, path)
    last = parts[-1]
    if isinstance(place, list):
        place[_index(place, last, path)] = value
    elif isinstance(place, dict):
        place[last] = value
    else:
        raise InputError("--set", path, "a path that leads through objects and lists")


def _step(place: Any, part: str, path: str) -> Any:
    if isinstance(place, list):
        return place[_index(place, part, path)]
    if isinstance(place, dict):
        return place.setdefault(part, {})
    raise InputError("--set", path, "a path that leads through objects and lists")


def _index(place: list[Any], part: str, path: str) -> int:
    if part.isdigit() and int(part) < len(place):
        return int(part)
    raise InputError("--set", path, f"a place from 0 to {len(place) - 1} instead of {part!r}")


_EXPECTED = {
    "missing": "this field to be given",
    "extra_forbidden": "only the fields of this format",
    "finite_number": "a finite number",
    "float_type": "a number",
    "int_type": "a whole number",
    "int_from_float": "a whole number",
    "string_type": "a text",
    "string_too_long": "a text of at most {max_length} letters",
    "string_pattern_mismatch": "a date such as 2026-01-31",
    "string_too_short": "a text of at least {min_length} letters",
    "int_parsing_size": "a whole number within reason",
    "bool_type": "true or false",
    "tuple_type": "a list",
    "model_type": "an object",
    "model_attributes_type": "an object",
    "json_invalid": "one JSON document",
    "union_tag_invalid": "one of {expected_tags}",
    "union_tag_not_found": "its field {discriminator} to be given",
    "greater_than": "a number above {gt:g}",
    "greater_than_equal": "a number of at least {ge:g}",
    "less_than": "a number under {lt:g}",
    "less_than_equal": "a number of at most {le:g}",
    "literal_error": "{expected}",
    "too_short": "at least {min_length} entries",
    "too_long": "at most {max_length} entries",
}


def _as_input_error(trouble: ValidationError, where: str, document: Any = None) -> InputError:
    first = trouble.errors()[0]
    context = first.get("ctx", {})
    inner = context.get("error")
    path = ".".join(_path(first["loc"], first["type"] == "missing", document))
    field = ".".join(part for part in (where, path) if part)
    if isinstance(inner, InputError):
        return InputError(".".join(p for p in (field, inner.field) if p), inner.found, inner.expected)
    kind = first["type"]
    if kind == "json_invalid":
        return InputError(field or "the file", f"text that is not JSON ({context.get('error', '')})",
                          "one JSON document")
    found = "nothing" if kind == "missing" else _short(first["input"])
    expected = _EXPECTED[kind].format_map(_Blank(context)) if kind in _EXPECTED else first["msg"]
    return InputError(field or "the document", found, expected)


class _Blank(dict[str, Any]):
    def __missing__(self, key: str) -> str:
        return "something else"


def _path(places: tuple[int | str, ...], missing: bool, document: Any) -> Iterator[str]:
    """The parts of a path that are fields and places of the document. The validator's path also names the branch of a
    union that it took, which is neither."""
    node = document
    for n, part in enumerate(places):
        found, after = _within(node, part)
        if document is None:
            if "[" not in str(part):
                yield str(part)
        elif found or (missing and n == len(places) - 1):
            yield str(part)
            node = after


def _within(node: Any, part: int | str) -> tuple[bool, Any]:
    """Whether a document's node has such a field or place, and what stands there."""
    if isinstance(node, dict):
        return part in node, node.get(part)
    if isinstance(node, BaseModel):
        return part in type(node).model_fields, getattr(node, str(part), None)
    if isinstance(node, list | tuple) and isinstance(part, int):
        return part < len(node), node[part] if part < len(node) else None
    return False, None


def _short(found: Any) -> str:
    if isinstance(found, list | tuple | dict) and len(found) > _FEW:
        return f"{len(found)} entries"
    if isinstance(found, str) and len(found) > _SHORT:
        found = found[:_SHORT] + "…"
    try:
        text = json.dumps(found, ensure_ascii=False, default=str)
    except (TypeError, ValueError, RecursionError):
        text = type(found).__name__
    return text if len(text) <= _SHORT else text[:_SHORT - 3] + "…"
