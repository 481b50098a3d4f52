"""What single pieces of stock are called in an answer: an id for one, numbered for several, never one name twice."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from yattle.coil.job import Stock


@lru_cache(maxsize=64)
def pieces_of(stock: tuple[Stock, ...]) -> Mapping[str, Stock]:
    """Every single piece by its name, in the order they are taken. Of one with ``qty`` over 1 they are ``id 1``, ``id
    2`` …; where another piece has one of these names, as many dots stand before the numbers as tell them apart.

    >>> three = Stock(id="S", kind="sheet", width=900.0, length=900.0, qty=3, metal="m")
    >>> list(pieces_of((three, three.but(id="S 2", qty=1))))
    ['S .1', 'S .2', 'S .3', 'S 2']
    """
    ids = {piece.id for piece in stock}
    found: dict[str, Stock] = {}
    for piece in stock:
        dots = ""
        while piece.qty > 1 and any(_named(piece, n, dots) in ids or _named(piece, n, dots) in found
                                    for n in range(1, piece.qty + 1)):
            dots += "."
        for n in range(1, piece.qty + 1):
            found[_named(piece, n, dots)] = piece
    return MappingProxyType(found)


@lru_cache(maxsize=64)
def names_by_id(stock: tuple[Stock, ...]) -> Mapping[str, tuple[str, ...]]:
    """The names of the single pieces of each stock id, in the order they are taken."""
    found: dict[str, list[str]] = {}
    for name, piece in pieces_of(stock).items():
        found.setdefault(piece.id, []).append(name)
    return MappingProxyType({stock_id: tuple(names) for stock_id, names in found.items()})


def _named(piece: Stock, n: int, dots: str) -> str:
    return piece.id if piece.qty == 1 else f"{piece.id} {dots}{n}"
