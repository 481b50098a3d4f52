"""All papers of a job in one book: site pack, cut sheet, fold cards, labels."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from yattle.cores import shared
from yattle.derive.derived import Derived
from yattle.files import careful
from yattle.install.installation import installation
from yattle.papers.cards import write_fold_cards
from yattle.papers.cut_sheet import write_cut_sheet
from yattle.papers.labels import write_labels
from yattle.papers.site import write_site_pack

CARDS = "Fold cards"
"""The part that takes longest."""


def write_book(derived: Derived, path: Path) -> None:
    """One PDF with a bookmark for each part."""
    from pypdf import PdfWriter

    book = PdfWriter()
    with tempfile.TemporaryDirectory() as folder:
        parts = {title: (Path(folder) / f"{n}.pdf", write) for n, (title, write) in enumerate(_parts(derived))}
        longest = sorted(parts, key=lambda title: title != CARDS)
        shared([partial(write, derived, part) for part, write in map(parts.__getitem__, longest)])
        for title, (part, _) in parts.items():
            book.append(str(part), outline_item=title)
        book.add_metadata({"/Title": f"{derived.job.name} · all papers", "/Creator": "Yattle"})
        careful(path, book.write)


def _parts(derived: Derived) -> Iterator[tuple[str, Callable[[Derived, Path], None]]]:
    if installation(derived).items:
        yield "Site pack", write_site_pack
    if derived.nest.used:
        yield "Cut sheet", write_cut_sheet
    if derived.patterns:
        yield CARDS, write_fold_cards
    yield "Labels", write_labels
