"""What stock costs under the objective, and how much of it is used."""

from __future__ import annotations

from yattle.coil.job import NestRules, Stock


def stock_cost(stock: Stock, length: float, rules: NestRules) -> float:
    """What ``length`` mm of a coil, a whole sheet or an offcut costs under the objective; where it is the length, its
    metres, offcuts counting nothing."""
    if rules.objective == "area":
        return used_area(stock, length)
    if rules.objective == "length":
        return 0.0 if stock.kind == "offcut" else (length if stock.kind == "coil" else stock.length or 0.0) / 1000
    if stock.kind == "coil":
        return length / 1000 * stock.cost_per_m if stock.cost_per_m is not None else used_area(stock, length)
    return stock.cost or 0.0


def used_area(stock: Stock, length: float) -> float:
    """Square metres taken off a coil, or of the whole sheet or offcut."""
    if stock.outline is not None:
        from yattle.coil.job import ring_area

        return abs(ring_area(stock.outline)) / 1e6
    return (length if stock.kind == "coil" else stock.length or 0.0) * (stock.width or 0.0) / 1e6
