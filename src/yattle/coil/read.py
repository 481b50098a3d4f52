"""An answer read back into how each stock piece is cut up, so that it can be changed: blocks in another order, some of
them kept, a piece moved by hand."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import replace

from yattle.coil.answer import Cut, NestAnswer, Rect
from yattle.coil.block import Spacing
from yattle.coil.first import Laid, trims_of
from yattle.coil.job import NestJob, Part, Stock
from yattle.coil.names import pieces_of
from yattle.coil.setups import with_fewer
from yattle.coil.simpler import simpler
from yattle.coil.sizes import Orientation
from yattle.coil.tree import Leaf, Split, Tree, leaves
from yattle.coil.write import Writer


def stock_of(job: NestJob, name: str) -> Stock:
    """The stock that a piece of it named ``name`` in an answer is one of."""
    return pieces_of(job.stock)[name]


def laid_of(job: NestJob, answer: NestAnswer) -> list[Laid]:
    """What each stock piece of a shear's answer is cut into; gaps stand in the trees as cuts of their own."""
    parts = {part.id: part for part in job.parts}
    at = {place.piece: Leaf(parts[place.part], Orientation(place.turn, place.width, place.height))
          for place in answer.placements if place.piece is not None}
    cuts: dict[str, list[Cut]] = defaultdict(list)
    for cut in answer.cuts:
        cuts[cut.piece].append(cut)
    return [_laid(stock_of(job, used.stock), used.stock, at, cuts) for used in answer.used]


def _laid(stock: Stock, name: str, at: dict[str, Leaf], cuts: dict[str, list[Cut]]) -> Laid:
    x0, y0, x1, _ = stock.box
    if stock.kind != "coil":
        return Laid(stock, ((x0, x1 - x0, _tree(name, x0, y0, at, cuts)),), y0, 0.0)
    blocks: list[tuple[float, float, Tree]] = []
    start, own = x0, [cut for cut in cuts.get(name, ()) if cut.gives[1] == name]
    for cut in own:
        blocks.append((start, cut.at - start, _tree(cut.gives[0], start, y0, at, cuts)))
        start = cut.at
    last = {**cuts, name: cuts[name][len(own):]} if len(cuts.get(name, ())) > len(own) else {}
    blocks.append((start, x1 - start, _tree(name, start, y0, at, last)))  # of a coil used to its very end
    return Laid(stock, tuple(block for block in blocks if block[2] is not None), y0, 0.0)


def _tree(piece: str, x: float, y: float, at: dict[str, Leaf], cuts: dict[str, list[Cut]]) -> Tree:
    if piece in at:
        return at[piece]
    if piece not in cuts:
        return None
    cut = cuts[piece][0]
    across = cut.axis == "across"
    low, high = cut.gives
    step = cut.at - (x if across else y)
    made = (_tree(low, x, y, at, cuts),
            _tree(high, cut.at if across else x, y if across else cut.at, at, cuts))
    return Split(across, step, *made) if made != (None, None) else None


def in_priority(job: NestJob, answer: NestAnswer) -> NestAnswer:
    """The same plan with each block cut up the simplest way, the blocks of each coil in the order in which their pieces
    are wanted, among equals so that the slitter's fence is set to another width as seldom as can be."""
    if job.rules.cutting != "shear" or job.rules.first != "crosscut":
        return answer
    laid = laid_of(job, answer)
    plain = written(job, laid, answer)
    if Spacing.of(job.rules).gap:
        return plain
    made = written(job, [_simpler(job, one) for one in laid], answer)
    return made if made.objective <= plain.objective + 1e-9 else plain


def _simpler(job: NestJob, laid: Laid) -> Laid:
    """What a stock piece is cut into, each block the simplest way; an irregular one stays as it is."""
    stock, (edge, end) = laid.stock, trims_of(laid.stock, job.rules)
    if stock.outline is not None:
        return laid
    wide, spare = stock.box[3] - stock.box[1] - edge, 0.0 if stock.kind == "coil" else end
    blocks = tuple((x, length, simpler(tree, length - spare, wide, Spacing.of(job.rules), edge))
                   for x, length, tree in laid.blocks)
    return replace(laid, blocks=blocks)


def written(job: NestJob, laid: list[Laid], like: NestAnswer) -> NestAnswer:
    """Plans put together from what was read back, each coil's blocks one after another by priority."""
    gap = Spacing.of(job.rules).gap
    blocks: dict[str, list[tuple[float, Tree]]] = defaultdict(list)
    for one in laid:
        if one.stock.kind == "coil":
            blocks[one.stock.id] += [(length, tree) for _, length, tree in one.blocks]
    made = [one for one in laid if one.stock.kind != "coil"]
    for stock in job.stock:
        if stock.id in blocks:
            _, end = trims_of(stock, job.rules)
            made.append(_in_row(stock, with_fewer(blocks[stock.id], _wanted, not gap), end, gap))
    answer = Writer(job, made, 0.0).answer(like.bound)
    return replace(answer, seconds=like.seconds, stopped=like.stopped)


def _wanted(block: tuple[float, Tree]) -> int:
    return min(int(leaf.item.priority) for leaf, _, _ in leaves(block[1], 0.0))


def _in_row(stock: Stock, blocks: list[tuple[float, Tree]], trim: float, gap: float) -> Laid:
    x, row = trim, []
    for length, tree in blocks:
        row.append((x, length, tree))
        x += length + gap
    return Laid(stock, tuple(row), 0.0, trim)


def table_after(job: NestJob, answer: NestAnswer, made: int) -> dict[str, tuple[str, Rect]]:
    """After the first ``made`` cuts: every piece by its name, with the stock piece it comes from."""
    table: dict[str, tuple[str, Rect]] = {used.stock: (used.stock, stock_of(job, used.stock).box)
                                          for used in answer.used}
    for cut in answer.cuts[:made]:
        stock, (x0, y0, x1, y1) = table.pop(cut.piece)
        low = (x0, y0, cut.at, y1) if cut.axis == "across" else (x0, y0, x1, cut.at)
        high = (cut.at, y0, x1, y1) if cut.axis == "across" else (x0, cut.at, x1, y1)
        table[cut.gives[0]], table[cut.gives[1]] = (stock, low), (stock, high)
    return table


def blocks_of(answer: NestAnswer) -> dict[str, tuple[str, str]]:
    """For every piece that a sheared plan comes to (its name): the stock and the crosscut of it that it comes from, by
    the name it leaves the coil with; of sheets and offcuts the whole."""
    found = {used.stock: (used.stock, used.stock) for used in answer.used}
    coils = {cut.piece for cut in answer.cuts if cut.piece in cut.gives}
    for cut in answer.cuts:
        stock, block = found[cut.piece]
        off_coil = cut.piece in coils and cut.axis == "across" and cut.piece == stock
        for give in cut.gives:
            found[give] = (stock, give if off_coil and give != stock else block)
    return found


def held(job: NestJob, answer: NestAnswer, locked: frozenset[str]) -> tuple[list[Laid], NestJob]:
    """The blocks that hold a piece named in ``locked`` (``part/copy``), and the job of all that is left."""
    places = {place.piece: place for place in answer.placements}
    of = blocks_of(answer)
    names = {of[place.piece or ""][1] for place in places.values() if f"{place.part}/{place.copy}" in locked}
    kept, held_parts = [], Counter[str]()
    lengths: dict[str, float] = defaultdict(float)
    whole = {place.stock for place in places.values() if f"{place.part}/{place.copy}" in locked}
    starts = {name: start for name, start in _block_starts(answer).items() if name in names}
    gap = Spacing.of(job.rules).gap
    for one, used in zip(laid_of(job, answer), answer.used, strict=True):
        if one.stock.kind == "coil":
            mine = [at for stock, at in starts.values() if stock == used.stock]
            blocks = tuple(b for b in one.blocks if any(abs(b[0] - at) < 1e-6 for at in mine))
            lengths[one.stock.id] += sum(length + gap for _, length, _ in blocks)
        else:
            blocks = one.blocks if used.stock in whole else ()
            lengths[one.stock.id] += 1 if blocks else 0
        if blocks:
            kept.append(replace(one, blocks=blocks))
            held_parts.update(leaf.item.id for _, _, tree in blocks for leaf, _, _ in leaves(tree, 0.0))
    parts = [(part, part.qty - held_parts[part.id]) for part in job.parts]
    rest = tuple(_with_qty(part, qty) for part, qty in parts if qty)
    return kept, job.but(parts=rest, stock=tuple(left for stock in job.stock if (left := _less(stock, lengths))))


def _with_qty(part: Part, qty: int) -> Part:
    return part if qty == part.qty else part.but(qty=qty)


def _less(stock: Stock, lengths: dict[str, float]) -> Stock | None:
    """What is left of a stock piece; ``None``: nothing."""
    taken = lengths.get(stock.id, 0.0)
    if not taken:
        return stock
    if stock.kind == "coil":
        return stock if stock.length is None else stock.but(length=max(stock.length - taken, 1.0))
    return stock.but(qty=int(stock.qty - taken)) if stock.qty > taken else None


def _block_starts(answer: NestAnswer) -> dict[str, tuple[str, float]]:
    """For each piece cut off a coil the coil and where on it the piece began."""
    found: dict[str, tuple[str, float]] = {}
    start: dict[str, float] = defaultdict(float)
    coils = {cut.piece for cut in answer.cuts if cut.axis == "across" and cut.piece in cut.gives}
    for cut in answer.cuts:
        if cut.piece in coils and cut.axis == "across":
            found[cut.gives[0]] = cut.piece, start[cut.piece]
            start[cut.piece] = cut.at
    return found
