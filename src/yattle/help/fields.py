"""One sentence for every field of the slates, read from Markdown: a part for each bench, a line for each field."""

from __future__ import annotations

import re
from functools import cache
from importlib.resources import files

_LINE = re.compile(r"^- ([^:]+): (.+)$", re.M)


@cache
def _fields() -> dict[tuple[str, str], str]:
    text = files("yattle.help").joinpath("fields.md").read_text(encoding="utf-8")
    _, *parts = re.split(r"^## ", text, flags=re.M)
    return {(part.split("\n", 1)[0].strip(), name): says for part in parts for name, says in _LINE.findall(part)}


def field_says(bench: str, name: str) -> str:
    """What a field of a bench's slate is, in one sentence without its stop; empty where nothing is said of it."""
    return _fields().get((bench, name), "")
