"""Taped measures from a table: a line each, what was taped and what the tape said.

``what`` is a run (``E2``), ``fold`` and a run (``fold V1``), ``pitch`` and a face (``pitch loft.1``), ``diagonal``,
a face and two of its corners (``diagonal loft.1 0-2``), or a field of a block (``span loft``). Values are lengths,
pitches or angles as the hand speaks them. A first line ``what,value`` is passed over.
"""

from __future__ import annotations

from yattle.csv_tables import rows_of
from yattle.derive.parted import tape_of
from yattle.derive.roof_runs import roof_runs, run_of, with_fold_taped, with_run
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.measure import UNITS, parse_angle, parse_length, parse_pitch
from yattle.roof import Facet, Roof, build
from yattle.roof.build import outline3
from yattle.roof.measured import ANGLES, Taped, taken, worked_out
from yattle.roof.panels import OutOfSquare, face_frame, out_of_square


def read_measures(job: Job, text: str, where: str = "the file") -> Job:
    """The job with every measure of the table; raises :class:`InputError` with the line that is wrong."""
    found = 0
    for n, row in enumerate(rows_of(text, where), 1):
        cells = [cell.strip() for cell in row]
        if not any(cells) or (n == 1 and [c.lower() for c in cells[:2]] == ["what", "value"]):
            continue
        if len(cells) < 2 or not cells[0] or not cells[1]:
            raise InputError(f"{where}, line {n}", repr(",".join(row)), "what was taped, a comma, and its value")
        job = _with_measure(job, cells[0], cells[1], f"{where}, line {n}")
        found += 1
    if not found:
        raise InputError(where, "no measures", "a line for each: what was taped, a comma, and its value")
    return job


def face_out_of_square(job: Job, roof: Roof, facet: Facet) -> OutOfSquare | None:
    """How far a four-cornered face is out, from both its diagonals as taped; ``None`` where they were not."""
    taped = {t.field: t.value for t in job.taped
             if (t.kind, t.of) == ("diagonal", facet.id) and t.by != "stand-in"}
    corners = outline3(facet)
    if len(corners) != 4 or not {"0-2", "1-3"} <= set(taped):
        return None
    frame = face_frame(facet)
    places = [frame.at((x, y)) for x, y, _ in corners]
    rising = "0-2" if (places[2][0] - places[0][0]) * (places[2][1] - places[0][1]) > 0 else "1-3"
    falling = "1-3" if rising == "0-2" else "0-2"
    return out_of_square(frame.width, frame.height, taped[rising], taped[falling])


def _with_measure(job: Job, what: str, value: str, where: str) -> Job:
    words = what.split()
    if len(words) == 1:
        run = run_of(job, words[0])
        return with_run(job, run.id, taped=parse_length(value, UNITS[job.unit].typed, where))
    if words[0] == "fold":
        return with_fold_taped(job, " ".join(words[1:]), parse_angle(value, where))
    kind, of, field = words[0], " ".join(words[1:]), ""
    if kind == "diagonal" and len(words) > 2:
        of, field = " ".join(words[1:-1]), words[-1]
    is_face = any(facet.id == of for facet in build(job.roof).facets)
    if kind != "diagonal" and not (kind == "pitch" and is_face):
        kind, field = "block", words[0]
    number = (parse_pitch(value, where) if "pitch" in words[0] else parse_angle(value, where) if words[0] in ANGLES
              else parse_length(value, UNITS[job.unit].typed, where))
    taped = taken(kind, of, field, number, where=where)
    if worked_out(build(job.roof), taped) is None:
        raise InputError(where, repr(what), "a run, or pitch, diagonal or a measure of a face or block of this roof")
    return job.with_taped(taped, kind, of, field)


def taped_whole(job: Job) -> tuple[Taped, ...]:
    """What was taped of a job's roof, without what was taped of the parts of its edges between chimneys, mm or degrees:
    the roof itself knows edges whole."""
    roof = build(job.roof)
    parts = {(found.edge.key, found.place): (found.edge, roof.edge(found.edge.id).length) for found in roof_runs(job)}

    def of_a_part(taped: Taped) -> bool:
        edge, whole = parts.get((taped.of, int(taped.field or 0)), (None, 0.0)) if taped.kind == "edge" else (None, 0.0)
        return edge is not None and edge.length <= whole - 1.0 and tape_of(edge, taped, whole) is not None
    return tuple(taped for taped in job.taped if not of_a_part(taped))
