"""The trade's words that the finder knows, whatever this program calls the thing, and where they lead."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files


@dataclass(frozen=True)
class TradeWord:
    """``words``: what people call it; ``says``: what it is here; ``leads``: to the first run of a kind of ``edge``, the
    first ``opening`` of a kind, to an ``action`` or to a ``page`` of the guide, by ``to``."""

    words: tuple[str, ...]
    says: str
    leads: str
    to: str


@lru_cache(maxsize=1)
def trade_words() -> tuple[TradeWord, ...]:
    """All of them, from the table that ships with the guide."""
    rows = csv.DictReader(files("yattle.help").joinpath("words.csv").read_text(encoding="utf-8").splitlines())
    return tuple(TradeWord(tuple(word.strip() for word in row["words"].split("|")), row["says"], row["leads"],
                           row["to"]) for row in rows)
