"""The compiled search made ready: loaded from its cache in a moment, the first time ever compiled, which takes some
seconds. Nobody waits for it longer than they have time; the set-up does it once."""

from __future__ import annotations

import logging
import threading
import time
from pathlib import Path

_started = threading.Lock()
_over = threading.Event()  # loaded, or known not to load: nobody waits any longer
_ready = threading.Event()


def begin() -> bool:
    """Begin to load it beside whatever else is done; whether it is ready already."""
    if not _ready.is_set() and _started.acquire(blocking=False):
        threading.Thread(target=_load, daemon=True).start()
    return _ready.is_set()


def ready(until: float) -> bool:
    """Whether the compiled search can be used, at the moment ``until`` at the latest. In seconds of
    :func:`time.perf_counter`. A search that cannot be compiled is not waited for."""
    begin()
    _over.wait(max(0.0, min(until - time.perf_counter(), 1e6)))
    return _ready.is_set()


def _load() -> None:
    """Load it; what another version left in the cache and cannot be read is thrown away, and all compiled anew."""
    try:
        try:
            _warm()
        except Exception:  # unpickling may raise anything
            _forget()
            _warm()
        _ready.set()
    except Exception:
        logging.getLogger(__name__).exception("the compiled search cannot be used; plans are made without it")
    finally:
        _over.set()


def _forget() -> None:
    from yattle.coil import compiled

    for kept in Path(compiled.improve.stats.cache_path).glob("compiled.*.nb[ic]"):
        kept.unlink(missing_ok=True)


def _warm() -> None:
    from yattle.coil.annealing import Annealing
    from yattle.coil.block import Spacing
    from yattle.coil.budget import Budget
    from yattle.coil.job import Part, Stock
    from yattle.coil.pricing import block_of
    from yattle.coil.sizes import orientations
    from yattle.coil.tree import Leaf
    from yattle.coil.types import ItemType, StockType

    part = Part(id="w", outline=((0.0, 0.0), (10.0, 0.0), (10.0, 5.0), (0.0, 5.0)), qty=2, metal="w")
    stock = Stock(id="w", kind="coil", width=10.0, metal="w")
    source = StockType(stock, 10.0, 30.0, 1.0, 0.0, 1_000_000, 1e12, (0,))
    blocks = [block_of(0, [(0.0, Leaf(0, orientations(part)[0]))], 0.0, 0.0)] * 2
    search = Annealing([ItemType(orientations(part), (part,), 2)], [source], Spacing(0.0, 0.0), blocks)
    search.run(Budget(time.perf_counter() + 1, 2, begun=0.0), 1)
