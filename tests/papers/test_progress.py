"""Every paper says what is done of its pieces; the index says which strokes stand as on a card before."""

from __future__ import annotations

import re

import pytest
from pypdf import PdfReader

from yattle.brake import FoldOrder
from yattle.derive import derive
from yattle.derive.sections import section_of, sections_of
from yattle.job import demo_path, load
from yattle.job.deeds import shape_of
from yattle.job.model import CutPieces
from yattle.papers.cards import write_fold_cards, write_opening_cards, write_run_card
from yattle.papers.progress import progress_says
from yattle.papers.site import write_site_pack

JOB = load(demo_path())
PLAIN = derive(JOB)


def made(names, cut, folded=0, fitted=0):
    """The demo with so many copies of each of these pieces cut, folded, fitted; -1: all of them."""
    patterns = {p.id: p for p in PLAIN.patterns}
    return derive(JOB.but(cut=tuple(CutPieces(
        piece=n, shape=shape_of(patterns[n].outline, patterns[n].holes), **{
            what: many if many >= 0 else patterns[n].qty for what, many in (("copies", cut), ("folded", folded),
                                                                           ("fitted", fitted))}) for n in names)))


def text(path):
    return "\n".join(" ".join(page.extract_text().replace("\u00a0", " ").split()) for page in PdfReader(path).pages)


@pytest.mark.parametrize(("numbers", "said"), [
    ((-1, 0, 0), "5 of 5 cut"), ((-1, -1, 0), "5 of 5 cut, 5 folded"), ((-1, -1, -1), "fitted"),
    ((1, 0, 0), "1 of 5 cut"), ((3, 2, 0), "3 of 5 cut, 2 folded"), ((4, 3, 1), "4 of 5 cut, 3 folded, 1 fitted"),
    ((-1, 2, 1), "5 of 5 cut, 2 folded, 1 fitted")])
def test_how_far_pieces_have_come_in_words(numbers, said):
    pattern = PLAIN.patterns[0].but(qty=5)
    cut, folded, fitted = (5 if many < 0 else many for many in numbers)
    job = JOB.but(cut=(CutPieces(piece=pattern.id, shape=shape_of(pattern.outline, pattern.holes), copies=cut,
                                 folded=folded, fitted=fitted),))
    assert progress_says(job, [pattern]) == said
    assert progress_says(JOB, [pattern]) == "" == progress_says(job, [pattern.but(id="another")])


def test_cards_and_site_pack_say_what_is_still_to_do(tmp_path, monkeypatch):
    run = PLAIN.run("R4")
    names = [piece.pattern.id for piece in run.pieces]
    derived = made(names, -1, -1, -1)
    write_run_card(derived, "R4", tmp_path / "card.pdf")
    write_site_pack(derived, tmp_path / "site.pdf")
    monkeypatch.setattr("yattle.papers.cards.card", lambda *_: None)  # of all cards the index alone is read
    monkeypatch.setattr("yattle.papers.cards.piece_cards", lambda *_: None)
    write_fold_cards(derived, tmp_path / "all.pdf")
    monkeypatch.undo()
    rows = sum(row.run.run.id == "R4" for row in section_of(derived, "R4").rows)
    assert text(tmp_path / "card.pdf").count("· fitted") == rows > 0
    assert text(tmp_path / "site.pdf").count("· fitted") == 1
    many = section_of(derived, "R4").many
    index = text(tmp_path / "all.pdf").split("\n")[0]
    if many == len(names):
        assert "· fitted" in index
    else:
        assert f"{len(names)} of {many} cut" in index
    odd = next(p.pattern.id for one in PLAIN.openings for p in one.pieces if not p.paper)
    write_opening_cards(made([odd], -1, -1), PLAIN.openings[0].id, tmp_path / "odd.pdf")
    assert "· folded" in text(tmp_path / "odd.pdf")


def test_strokes_that_stand_as_on_a_card_before_really_do(tmp_path, monkeypatch):
    monkeypatch.setattr("yattle.papers.cards.card", lambda *_: None)  # the index alone is read
    monkeypatch.setattr("yattle.papers.cards.piece_cards", lambda *_: None)
    write_fold_cards(PLAIN, tmp_path / "all.pdf")
    groups = sections_of(PLAIN)
    told = re.findall(r"strokes ([\d, ]+) as on card (\d+)", text(tmp_path / "all.pdf").split("\n")[0])
    assert told, "eave drips of several pitches share their hem"
    orders = {group.n: PLAIN.order(group.runs[0].run.id) for group in groups}
    fits = 0
    for strokes, card in told:
        steps = [int(n) for n in strokes.split(", ")]
        other = {(round(s.mark_from_out_edge, 1), round(s.set_angle or 0, 1), s.action) for s in orders[int(card)].steps}
        fits += any(isinstance(order, FoldOrder) and n > int(card) and [
            s.n for s in order.steps if (round(s.mark_from_out_edge, 1), round(s.set_angle or 0, 1), s.action) in other
            ] == steps for n, order in orders.items())
    assert fits == len(told)
