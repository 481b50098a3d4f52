"""Chapters and pages of the guide, read from Markdown.

A chapter is a file; its first part is the chapter's own page, every ``##`` after it a page that answers a question. A
comment under such a head says its ``id``, the ``words`` by which it is found, which actions it explains (``do``) and
which groups of rows (``rows``).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files

CHAPTERS = ("first", "survey", "trim", "brake", "coil", "fit", "log")
"""In the order of the trade; all but the first are called as the bench they are of."""
_ABOUT = re.compile(r"<!--(.*?)-->", re.S)


@dataclass(frozen=True)
class Page:
    """One page: ``id``, ``title``, the ``chapter`` it is of, its ``text`` in Markdown; what finds it and what it
    explains."""

    id: str
    title: str
    chapter: str
    text: str
    words: tuple[str, ...] = ()
    actions: tuple[str, ...] = ()
    rows: tuple[str, ...] = ()


@lru_cache(maxsize=1)
def pages() -> tuple[Page, ...]:
    """Every page, chapter by chapter."""
    return tuple(page for n, name in enumerate(CHAPTERS, 1) for page in _read(name, files("yattle.help").joinpath(
        "guide", f"{n}-{name}.md").read_text(encoding="utf-8")))


def page(page_id: str) -> Page:
    """The page of that id (it must exist); a chapter's own page has the chapter's name."""
    return next(one for one in pages() if one.id == page_id)


def chapter(name: str) -> tuple[Page, ...]:
    """A chapter's own page, then the questions it answers."""
    return tuple(one for one in pages() if one.chapter == name)


def page_of_action(action_id: str) -> Page | None:
    """The page that explains an action of a menu."""
    return next((one for one in pages() if action_id in one.actions), None)


def page_of_rows(bench: str, group: str) -> Page | None:
    """The page that explains a group of rows of a bench's slate; that of another bench where its own has none."""
    found = [one for one in pages() if group in one.rows]
    return next((one for one in found if one.chapter == bench), found[0] if found else None)


def _read(name: str, text: str) -> list[Page]:
    first, *rest = re.split(r"^## ", text, flags=re.M)
    title = first.split("\n", 1)[0].removeprefix("# ").strip()
    return [Page(name, title, name, first.strip()), *(_question(name, part) for part in rest)]


def _question(name: str, part: str) -> Page:
    title, body = part.split("\n", 1)
    about = _ABOUT.search(body)
    said = dict(one.split(":", 1) for one in about.group(1).split("|")) if about is not None else {}
    given = {key.strip(): value for key, value in said.items()}
    rows = _each(given.get("rows", ""), ";")  # a group's name may have a comma in it
    text = f"## {title}\n\n{_ABOUT.sub('', body).strip()}"
    return Page(given["id"].strip(), title.strip(), name, text, _each(given.get("words", "")),
                _each(given.get("do", "")), rows)


def _each(text: str, between: str = ",") -> tuple[str, ...]:
    return tuple(one.strip() for one in text.split(between) if one.strip())

