"""All papers of a job in one book: site pack, cut sheet, a fold card for every run and opening, labels."""

from __future__ import annotations

import tempfile
from pathlib import Path

from yattle.derive.derived import Derived
from yattle.files import careful
from yattle.install.installation import installation
from yattle.papers.cards import write_cut_sheet, write_fold_cards
from yattle.papers.labels import write_labels
from yattle.papers.practice import write_hand_cards
from yattle.papers.selected import cards_of
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
    for run in derived.runs:
        if run.pieces:
            yield f"Fold card {run.run.id}", lambda part, name=run.run.id: write_fold_cards(derived, name, part)
    for opening in derived.openings:
        if opening.pieces:
            yield f"Fold card {opening.title}", lambda part, name=opening.id: write_hand_cards(
                cards_of(derived, name), part)
    yield "Labels", lambda part: write_labels(derived, part)
