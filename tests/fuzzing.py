"""Documents, files and answers of devices changed at random: made here, read by every verb and reader."""

from __future__ import annotations

import copy
import io
import json
import random
from collections.abc import Callable
from pathlib import Path

import ezdxf

from samples import metal, section
from yattle.brake import SHOP_BRAKE
from yattle.derive.measures import read_measures
from yattle.devices import Folder, StandInFolder, StandInInstrument, take_reading
from yattle.devices.coil_line import CoilLine, StandInCoilLine, follow
from yattle.errors import YattleError
from yattle.job import demo_path
from yattle.job.ledger import stock_csv, stock_from_csv
from yattle.job.panel_files import read_system
from yattle.job.sections import section_from_dxf
from yattle.job.store import parse
from yattle.panels import library

ODD = (1e-7, 1e12, 1e308, -0.0, 5e-324, 1e-9, 1e8, -1, 0, 1, 0.5, 3.7, 180, -180, 90, 10**30, None, "", "../../x", "=1+1",
       "\x00", [], {}, True, [1], 1e6, 80.1, 89.99)
PROFILE = section().model_dump(mode="json")
FOLD = {"format": "yattle-fold-job/1", "profile": PROFILE, "length": 3000.0, "brake": SHOP_BRAKE.model_dump(mode="json")}
ROOF = {"format": "yattle-roof/1", "blocks": [
    {"id": "main", "kind": "gable", "x": 0.0, "y": 0.0, "length": 14000.0, "span": 8000.0, "eave_height": 4200.0,
     "pitch": 35.0, "eave_overhang": 400.0, "rake_overhang": 300.0},
    {"id": "porch", "kind": "shed", "x": 0.0, "y": -6000.0, "length": 4000.0, "span": 4000.0, "eave_height": 2500.0, "pitch": 10.0},
    {"id": "hall", "kind": "hip", "x": 5000.0, "y": 5000.0, "bearing": 90.0, "length": 8000.0, "span": 5000.0,
     "eave_height": 4200.0, "pitch": 35.0, "pitch_ends": 40.0}],
    "openings": [{"id": "vent", "kind": "pipe", "x": -3000.0, "y": -2000.0, "diameter": 110.0}]}
NEST = {"format": "yattle-nest-job/1", "stock": [
    {"id": "coil 1", "kind": "coil", "width": 1220.0, "length": 45000.0, "metal": "m", "cost_per_m": 14.2},
    {"id": "off 7", "kind": "offcut", "outline": [[0, 0], [1500, 0], [1500, 200], [900, 520], [0, 520]], "metal": "m"}],
    "parts": [{"id": "P1", "outline": [[0, 0], [900, 0], [900, 200], [0, 200]], "qty": 3, "metal": "m"},
              {"id": "P2", "outline": [[0, 0], [500, 0], [500, 200], [250, 300], [0, 200]],
               "holes": [[[100, 50], [120, 50], [120, 80]]], "qty": 2, "metal": "m", "turns": "any", "mirror": True}],
    "rules": {"max_crosscut": 3200.0, "seconds": 0.3, "work": 2}}
LOG = {"format": "yattle-log/1", "entries": [
    {"when": "2026-01-01", "what": "measured", "fold": "f1", "wanted": 90.0, "set": 92.0 + n / 10, "found": 89.5 + n / 10,
     "metal": "m", "brake": "b"} for n in range(4)], "metals": [{"name": "m", "thickness": 0.6}]}
NET_SHED = json.loads(demo_path("net-shed").read_text())
EAVES = json.loads((Path(__file__).parent / "data" / "six-eaves.yattle").read_text())
COUNTED = {"seconds": None, "work": 2}  # two steps of searching for a plan
ONE_EAVE = EAVES | {"runs": EAVES["runs"][5:], "rules": EAVES["rules"] | COUNTED}
DOCUMENTS = {"girth": (PROFILE,), "folds": (FOLD,), "roof": (ROOF,), "nest": (NEST,), "learn": (LOG,),
             "adjust": (ROOF | {"taped": [{"kind": "block", "of": "main", "field": "length", "value": 14010.0}]},),
             "try": tuple(FOLD | {"order": order} for order in (
                 [{"fold": "hB"}, {"fold": "f2"}, {"fold": "f1"}, {"fold": "hB", "action": "flatten"}],
                 [{"fold": "hB"}, {"fold": "hB", "action": "flatten"}, {"fold": "f2"}, {"fold": "f1"}])),
             "develop": tuple({"detail": name, "metal": metal().model_dump(mode="json"), "length": 2400.0} | more
                              for name, more in (("eave-drip", {"pitch": 30.0}), ("sidewall", {}), ("cleat", {}),
                                                 ("free", {"legs": [30.0, 60.0], "turns": [90.0]}),
                                                 ("pan", {"coverage": 500.0}))),
             "order": (NET_SHED,), "plan": (ONE_EAVE,)}
"""What the tests change: a small document of each kind."""
PORCH = NET_SHED | {"roof": NET_SHED["roof"] | {"blocks": NET_SHED["roof"]["blocks"][1:], "openings": []}}
OF_JOBS = {verb: (EAVES, NET_SHED) for verb in ("fit", "order", "panels", "built", "advice")} | {
    verb: tuple(job | {"rules": job.get("rules", {}) | COUNTED} for job in jobs)
    for verb, jobs in {"together": (EAVES, NET_SHED), "plan of a porch": (PORCH,), "plan of a roof": (NET_SHED,)}.items()}
"""What takes a job: six eaves, and a whole roof. The first word is the verb. Whoever asks for the papers of a whole roof
waits for some 300 files."""


def places(node, before=()):
    """Every path of a document but its own."""
    inner = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in inner:
        yield (*before, key)
        yield from places(value, (*before, key))


def changed(draw: random.Random, given):
    """The document with one to three of its values changed, left out or doubled."""
    document = copy.deepcopy(given)
    for _ in range(draw.choice([1, 1, 1, 2, 3])):
        *way, last = draw.choice(list(places(document)))
        node = document
        for part in way:
            node = node[part]
        value, kind = node[last], draw.random()
        if isinstance(value, float | int) and not isinstance(value, bool) and kind < 0.6:
            new = value * 10 ** draw.uniform(-4, 4) if kind < 0.4 else value + draw.uniform(-60, 60)
            node[last] = round(new) if isinstance(value, int) else new
        elif kind < 0.9:
            node[last] = copy.deepcopy(draw.choice(ODD))
        elif isinstance(node, list):
            node.append(copy.deepcopy(value))
        else:
            del node[last]
    return _no_longer(document, given)


def _no_longer(document, given):
    """The document with as much searching as it had: who asks for more waits for it, and that is no fault."""
    had = given.get("rules", {})
    if "rules" not in document and had.keys() & {"seconds", "work"}:
        document["rules"] = {}
    rules = document.get("rules")
    for key in ("seconds", "work") if isinstance(rules, dict) else ():
        asked = rules.get(key)
        if key in had and (asked is None or (isinstance(asked, float | int) and 0 < asked < 86_400)):
            rules[key] = had[key]
    return document


def damaged(draw: random.Random, good: bytes) -> bytes:
    """A file with bytes changed, left out, put in."""
    raw = bytearray(good)
    for _ in range(draw.choice([1, 3, 30])):
        at = draw.randrange(len(raw) + 1)
        raw[at:at + draw.choice([1, 1, 4, 200])] = bytes(draw.randrange(256) for _ in range(draw.choice([0, 1, 5])))
    return bytes(raw)


def _dxf() -> bytes:
    drawing = ezdxf.new("R2010")
    drawing.modelspace().add_lwpolyline([(0, 0, 0), (60, 0, 0), (60, -80, 0)], format="xyb")
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode()


def _measures() -> bytes:
    return b"what,value\nE1,4310\nE2,2500.5\n"


def _through_file(read: Callable[[Path], object], name: str) -> Callable[[bytes, Path], object]:
    def read_bytes(raw: bytes, folder: Path) -> object:
        path = folder / name
        path.write_bytes(raw)
        return read(path)

    return read_bytes


def _as_text(read: Callable[[str], object]) -> Callable[[bytes, Path], object]:
    return lambda raw, folder: read(raw.decode("utf-8", "replace"))


_JOB = parse(json.dumps(EAVES))
FILES: dict[str, tuple[bytes, Callable[[bytes, Path], object]]] = {
    "stock list": (stock_csv(_JOB.stock).encode(), _as_text(stock_from_csv)),
    "table of measures": (_measures(), _as_text(lambda text: read_measures(_JOB, text))),
    "DXF section": (_dxf(), _through_file(section_from_dxf, "damaged.dxf")),
    "panel system": (json.dumps(library()[0].model_dump(mode="json")).encode(), _through_file(read_system, "damaged.json")),
    "job": (json.dumps(EAVES).encode(), _as_text(parse))}
"""A good file of each kind, and what reads it."""


def odd_answer(draw: random.Random, line: str) -> str:
    """What a broken device might say to a line."""
    word = line.split()[0] if line.split() else ""
    number = draw.choice([draw.uniform(-400, 4000), 10 ** draw.uniform(-20, 300), draw.choice(ODD)])
    return draw.choice([f"OK {number}", f"{word} {number}", f"DONE {number}", f"ERR {number}", str(number), f"{word} {word} {number}",
                        "".join(chr(draw.randrange(32, 700)) for _ in range(draw.randrange(30))), f"OK {number} mm\tgood", "OK"])


def _ask_folder(exchange: Callable[[str], str]) -> None:
    folder = Folder(exchange)
    folder.gauge(120.0)
    found = folder.fold(92.0)
    assert 0 <= found <= 180
    folder.flatten()


def _ask_coil_line(exchange: Callable[[str], str]) -> None:
    assert all(abs(one.cut - one.wanted) <= 5.0 for one in follow(CoilLine(exchange), [2450.0, 1800.0]))


def _ask_instrument(exchange: Callable[[str], str]) -> None:
    assert 0 <= take_reading(exchange).value <= 200_000


DEVICES = {"folder": (_ask_folder, StandInFolder), "coil line": (_ask_coil_line, StandInCoilLine),
           "instrument": (_ask_instrument, lambda: StandInInstrument(2450.0))}
"""What is asked of each kind of device, and one that answers well."""


def ask_at_random(draw: random.Random, device: str) -> str:
    """Ask a device that answers well more often than not; what came of it: ``taken``, or the sentence that refused."""
    ask, stand_in = DEVICES[device]
    good = stand_in()
    try:
        ask(lambda line: good(line) if draw.random() < 0.7 else odd_answer(draw, line))
    except YattleError as said:
        return str(said)
    return "taken"


def read_at_random(draw: random.Random, kind: str, folder: Path) -> str:
    """Read a damaged file of this kind; what came of it: ``read``, or the sentence that refused it."""
    good, read = FILES[kind]
    try:
        read(damaged(draw, good), folder)
    except YattleError as said:
        return str(said)
    return "read"
