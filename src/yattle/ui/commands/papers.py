"""Papers and lists: asked for a name, written beside the window in turn, each reported."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from shutil import rmtree
from tempfile import mkdtemp

from yattle.csv_tables import in_style
from yattle.derive.derived import Derived
from yattle.derive.printed import since_print
from yattle.files import put, safe_file
from yattle.job import load
from yattle.measure import UNITS
from yattle.papers.beside import write_paper as written_paper
from yattle.papers.beside import write_shop_pack
from yattle.session import Selection
from yattle.tasks import Answer, On, Policy, Request, Target
from yattle.ui.commands.asking import CSV, PDF
from yattle.ui.commands.shop import Shop
from yattle.ui.frame.print_box import PrintBox

FILES, PAPERS, LOOKS = "files", "papers", "looks"
"""The lanes of what is written: short lists and drawings by a thread of the program, papers by a process beside it, and
papers that are only looked at."""


def write(shop: Shop, suggestion: str, kinds: str, content: Callable[[Derived], str | bytes]) -> None:
    """A short list or drawing of the job as it is now: made and written beside the window, in turn."""
    name = shop.asking.save(safe_file(suggestion), kinds)
    if name:
        session, path = shop.session, Path(name)
        derived = session.derived
        def made() -> str | bytes:
            found = content(derived)
            return in_style(found, derived.job.tables) if isinstance(found, str) and kinds == CSV else found
        shop.store.ask(Request(FILES, lambda: put(path, made()), (), session.stamp,
                               Target("file", path.name), on=On.FILES), lambda answer: _say_written(shop, answer))


def write_paper(shop: Shop, suggestion: str, what: str, of: str | Selection | None = None) -> None:
    """A paper of the job as it is now, by a process beside the window, in turn."""
    name = shop.asking.save(safe_file(suggestion), PDF)
    if name:
        session, path = shop.session, Path(name)
        shop.store.ask(Request(PAPERS, written_paper, (session.job, session.derived.plan, what, path, of),
                               session.stamp, Target("file", path.name), on=On.PROCESS),
                       lambda answer: _say_written(shop, answer))


def _say_written(shop: Shop, answer: Answer) -> None:
    """Each is reported, whatever was asked for since."""
    if answer.error is not None:
        shop.complain(str(answer.error))
    else:
        shop.say(f"{answer.request.target.of} is written")


def pack(shop: Shop) -> None:
    """The whole shop pack into a folder."""
    folder = shop.asking.folder()
    if folder:
        session = shop.session
        out, derived = pack_folder(Path(folder), session.job.name), session.derived
        shop.tell("writing the shop pack …")
        shop.store.ask(Request(PAPERS, write_shop_pack, (session.job, derived.plan, out), session.stamp,
                               Target("folder", str(out)), on=On.PROCESS, hand=True),
                       lambda answer: _pack_written(shop, answer, derived),
                       lambda stage: shop.tell(f"writing the shop pack: {stage} …"))


def pack_folder(chosen: Path, job: str) -> Path:
    """Where the shop pack goes: a folder ``JOB pack`` of its own within the one chosen, or that one, where it is such a
    folder already."""
    name = safe_file(f"{job} pack")
    return chosen if chosen.name == name else chosen / name


def _pack_written(shop: Shop, answer: Answer, derived: Derived) -> None:
    """Keep in the job that was printed what its papers hold, so that what is changed afterwards can be told."""
    from yattle.derive.printed import with_printed

    session, out = shop.session, answer.request.target.of
    if shop.store.take(answer, lambda: session.edit("papers written", lambda job: with_printed(job, derived)),
                       f"the shop pack of {derived.job.name} is in {out}; that job is closed: it is not marked as "
                       "printed"):
        many = len(answer.result) if isinstance(answer.result, list) else 0
        shop.tell(f"the shop pack is in {out}: {many} files, revision {session.job.revisions[-1].letter}")


def look_and_print(shop: Shop) -> None:
    """Any paper of the job as it will be, to be printed or saved; first that of what is selected."""
    found = dict(_papers(shop))
    session, first = shop.session, next(iter(found))

    def make(key: str) -> None:
        what, of = found[key][1:]
        path = Path(mkdtemp(prefix="yattle-")) / "paper.pdf"

        def done(answer: Answer) -> None:
            if answer.error is not None:
                box.complain(str(answer.error))
            else:
                box.show_paper(key, path.read_bytes())
            rmtree(path.parent, ignore_errors=True)
        shop.store.ask(Request(LOOKS, written_paper, (session.job, session.derived.plan, what, path, of), session.stamp,
                               Target("file", path.name), Policy.LATEST, On.PROCESS), done)

    def save(key: str) -> None:
        what, of = found[key][1:]
        write_paper(shop, f"{key}.pdf", what, of)
    box = PrintBox(shop.parent, [(key, row[0]) for key, row in found.items()], first, session.job.sheet, make,
                   lambda sheet: session.edit("sheet", lambda job: job.but(sheet=sheet)), save)
    shop.open_dialog(box)


def _papers(shop: Shop) -> Iterator[tuple[str, tuple[str, str, str | Selection | None]]]:
    """Key → title, what is written, of what; that of what is selected or shown first."""
    run, opening, selection = shop.run, shop.session.selection.opening, shop.session.selection
    front = shop.frame.front.name
    whole: list[tuple[str, tuple[str, str, str | Selection | None]]] = [
        ("fold-cards", ("Fold cards, all", "fold cards", None)), ("cut-sheet", ("Cut sheet", "cut sheet", None)),
        ("site-pack", ("Site pack", "site pack", None)), ("labels", ("Labels", "labels", None)),
        ("all-papers", ("All papers", "book", None))]
    if since_print(shop.session.derived):
        whole.insert(1, ("changed-cards", ("Fold cards that differ from the print", "changed cards", None)))
    own: list[tuple[str, tuple[str, str, str | Selection | None]]] = []
    if opening and shop.session.derived.opening(opening).pieces:
        own.append((f"fold-card-{opening}", (f"Fold cards of {opening}", "hand cards", opening)))
    elif run is not None and run.pieces:
        own.append((f"fold-card-{run.run.id}", (f"Fold card of {run.run.id}", "fold cards", run.run.id)))
    if own:
        own += [("practice", ("Paper practice of this piece, 1:1", "practice", selection)),
                ("templates", ("Templates of this piece's ends, 1:1", "templates", selection))]
    shown = {"coil": "cut-sheet", "fit": "site-pack"}.get(front)
    whole.sort(key=lambda row: row[0] != shown)
    yield from (*whole[:1], *own, *whole[1:]) if shown else (*own, *whole)


def fold_card(shop: Shop) -> None:
    """The fold card of the selected run, or the cards of the selected opening's pieces."""
    run, opening = shop.run, shop.session.selection.opening
    if opening:
        if shop.session.derived.opening(opening).pieces:
            write_paper(shop, f"fold-card-{opening}.pdf", "hand cards", opening)
    elif run is not None and run.pieces:
        write_paper(shop, f"fold-card-{run.run.id}.pdf", "fold cards", run.run.id)


def practice(shop: Shop) -> None:
    """The selected piece for cutting out of paper."""
    _of_piece(shop, "practice")


def _of_piece(shop: Shop, what: str) -> None:
    from yattle.papers.selected import selected_piece

    found = selected_piece(shop.session.derived, shop.session.selection)
    if found is not None:
        write_paper(shop, f"{what}-{found.pattern.id}.pdf", what, shop.session.selection)


def templates(shop: Shop) -> None:
    """The ends of the selected piece, or an odd piece whole, to lay on and prick through."""
    _of_piece(shop, "templates")


def cut_list(shop: Shop) -> None:
    """Every piece as a row."""
    from yattle.papers.tables import cut_list as content

    write(shop, "cut-list.csv", CSV, content)


def order_list(shop: Shop) -> None:
    """Everything to order, with the spare."""
    from yattle.papers.order import order_list as content

    write(shop, "order-list.csv", CSV, content)


def log(shop: Shop) -> None:
    """The logbook."""
    from yattle.job.log import log_csv

    write(shop, "log.csv", CSV, lambda derived: log_csv(derived.job.log))


def compare_version(shop: Shop) -> None:
    """Which pieces are not as they are in another version of the job, as a list."""
    from yattle.derive.graph import derive
    from yattle.derive.versions import Change, changes, changes_csv

    name = shop.asking.open()
    if not name:
        return
    other, now = Path(name), shop.session.derived
    found: list[Change] = []
    if not shop.attempt(lambda: found.extend(changes(derive(load(other)), now))):
        return
    told = ", ".join(f"{change.piece} {change.what}" for change in found[:12])
    more = f" and {len(found) - 12} more" if len(found) > 12 else ""
    shop.say(f"against {other.name}: {told}{more}" if told else f"no piece differs from {other.name}")
    if told:
        said = changes_csv(tuple(found))
        write(shop, "changed-pieces.csv", CSV, lambda _: said)


def pattern(shop: Shop, kind: str) -> None:
    """The flat pattern of the selected piece, ``kind`` dxf or svg."""
    from yattle.papers.selected import selected_piece

    piece = selected_piece(shop.session.derived, shop.session.selection)
    if piece is None:
        return

    def content(derived: Derived) -> str:
        from yattle.drawing import pattern_drawing
        from yattle.papers.dxf import drawing_to_dxf
        from yattle.papers.svg import drawing_to_svg

        drawing = pattern_drawing(piece.pattern, piece.profile, UNITS[derived.job.unit])
        said = f"{piece.pattern.id}, {piece.pattern.qty} off, {piece.pattern.metal.name}"
        return drawing_to_dxf(drawing, title=said) if kind == "dxf" else drawing_to_svg(drawing, piece.title)

    write(shop, f"{piece.pattern.id}.{kind}", f"{kind.upper()} (*.{kind})", content)
