"""All papers of a job in one book: site pack, cut sheet, fold cards, labels."""

from __future__ import annotations

import tempfile
from pathlib import Path

from yattle.derive.derived import Derived
from yattle.files import careful
from yattle.install.installation import installation
from yattle.papers.cards import write_fold_cards
from yattle.papers.cut_sheet import write_cut_sheet
from yattle.papers.labels import write_labels
from yattle.papers.site import write_site_pack


def write_book(derived: Derived, path: Path) -> None:
    """One PDF with a bookmark for each part."""
    from pypdf import PdfWriter

    book = PdfWriter()
    with tempfile.TemporaryDirectory() as folder:
        for n, (title, write) in enumerate(_parts(derived)):
            part = Path(folder) / f"{n}.pdf"
            write(part)
            book.append(str(part), outline_item=title)
        book.add_metadata({"/Title": f"{derived.job.name} · all papers", "/Creator": "Yattle"})
        careful(path, book.write)


def _parts(derived: Derived):  # type: ignore[no-untyped-def]
    if installation(derived).items:
        yield "Site pack", lambda part: write_site_pack(derived, part)
    if derived.nest.used:
        yield "Cut sheet", lambda part: write_cut_sheet(derived, part)
    if derived.patterns:
        yield "Fold cards", lambda part: write_fold_cards(derived, part)
    yield "Labels", lambda part: write_labels(derived, part)
