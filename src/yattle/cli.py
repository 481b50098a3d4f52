"""The headless verbs: JSON in, one JSON document out.

Exit status 0 done, 1 understood but cannot be done (reasons in the document), 2 wrong
input (one line on standard error). Heavy modules are imported by the verb that needs them.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
import time
import warnings
from pathlib import Path

from yattle import __version__
from yattle.errors import FileProblem, YattleError
from yattle.files import put_into, text_of, why
from yattle.verbs import MANY, VERBS, Answer, nest, schema

_BEGUN = time.perf_counter()  # before anything heavy is imported
_GRACE = 0.4  # seconds of the start that do not count against those that a search was given


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="yattle", description="From a roof edge to a folded piece and a cut coil.",
                                     epilog="Without a verb, or with a *.yattle file, the window opens.")
    parser.add_argument("--version", action="version", version=f"yattle {__version__}")
    verbs = parser.add_subparsers(dest="verb", metavar="VERB")
    for name, verb in (VERBS | MANY).items():
        one = verbs.add_parser(name, help=verb.__doc__)
        one.add_argument("file", help="a JSON file, or - for standard input", nargs="+" if name in MANY else None)
        one.add_argument("--out", type=Path, help="a folder to write to")
        one.add_argument("--set", action="append", default=[], metavar="KEY=VALUE", dest="settings",
                         help="change one value of the input, such as legs.1=90")
    verbs.add_parser("schema", help="a format's JSON Schema").add_argument("name")
    verbs.add_parser("demo-path", help="where the demo job lies").add_argument(
        "which", nargs="?", default="sail-loft", choices=["sail-loft", "net-shed"])
    verbs.add_parser("open", help="open the window").add_argument("file", nargs="?")
    return parser


def run() -> None:
    """Run what the command line says in a process of its own, which ends at once when the answer is out."""
    warnings.simplefilter("ignore")  # libraries' words to programmers
    try:
        status = main(begun=_BEGUN + _GRACE)
        sys.stdout.flush()
        sys.stderr.flush()
    except BrokenPipeError:  # nobody reads any further
        status = 1
    except Exception as failed:  # a fault of the program: said in one line, like everything else
        print(f"the program itself failed on this ({type(failed).__name__}: {' '.join(str(failed).split())[:200]}); "
              "nothing was changed: keep the file and report it", file=sys.stderr)
        status = 2
    if "yattle.ui.app" in sys.modules:
        raise SystemExit(status)
    os._exit(status)  # taking compiled code apart again would cost half a second


def main(arguments: list[str] | None = None, begun: float | None = None) -> int:
    """Run one verb, or open the window; returns the exit status. ``begun``: when the process did, for a search whose
    seconds are counted from there (a moment of :func:`time.perf_counter`)."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    if not given or (len(given) == 1 and given[0].endswith(".yattle")):
        given = ["open", *given]
    options = _parser().parse_args(given)
    try:
        return _run(options, begun)
    except YattleError as wrong:
        print(" ".join(str(wrong).split()), file=sys.stderr)
        return 2


def _run(options: argparse.Namespace, begun: float | None) -> int:
    if options.verb == "open":
        from yattle.ui.app import run_window

        return int(run_window(Path(options.file) if options.file else None))
    if options.verb == "demo-path":
        from yattle.job.store import demo_path

        print(demo_path(options.which))
        return 0
    if options.verb == "schema":
        return _print(schema(options.name))
    from yattle.values import with_settings

    if options.verb in MANY:
        answer = MANY[options.verb]([with_settings(_read(name), options.settings) for name in options.file])
    else:
        text = with_settings(_read(options.file), options.settings)
        answer = nest(text, options.out, begun) if options.verb == "nest" else VERBS[options.verb](text, options.out)
    if options.out is not None and options.verb != "plan":
        put_into(options.out, f"{options.verb}.json", json.dumps(answer, indent=1) + "\n")
    return _print(answer)


def _read(name: str) -> str:
    try:
        return text_of(sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes())
    except OSError as trouble:
        raise FileProblem(f"{name}: cannot be read ({why(trouble)})") from None
    except UnicodeDecodeError:
        raise FileProblem(f"{name}: found bytes that are not UTF-8 text, expected one JSON document") from None


def _print(answer: Answer) -> int:
    text = json.dumps(answer, allow_nan=False)  # whole before anything of it is written
    print(text)
    return 0 if answer.get("ok", True) else 1
