"""Which tests `make test` leaves to `make thorough`: long_tests.py JUNIT.XML … > tests/long.txt

Every module's quick tests are run by both. Of its long ones `make test` takes the shortest, up to some seconds for each
module, and those that go a whole way. What is listed is what it leaves out. The reports come from
`THOROUGH=1 pytest --junitxml=JUNIT.XML`, or without THOROUGH=1 to leave out more than the list has already; what a
later one says counts.
"""

from __future__ import annotations

import sys
import xml.etree.ElementTree as ElementTree
from collections import defaultdict
from pathlib import Path

LONG = 0.25  # seconds
MOST = 1.0  # seconds that a module's long tests may take together, on the slowest of our machines
LISTED = Path(__file__).parents[1] / "tests" / "long.txt"
KEPT = ("test_the_whole_way_from_survey_to_log", "test_plan_writes_places_and_model",
        "test_the_wheel_has_all_that_it_needs",
        "test_on_sound_roofs_it_is_silent_and_looks_at_every_trim_and_lap[net-shed]",
        "test_no_text_is_overlapped_or_cut[net-shed]", "test_the_whole_pack_from_the_window")
"""Whole ways, which are always gone."""
HOUSE = "tests.test_house"  # what keeps the house in order is asked whole


def left_out(reports: list[str]) -> list[str]:
    """The names of the tests that are left out, by module and test."""
    took = {(case.get("classname", ""), case.get("name", "")): float(case.get("time", 0)) for report in reports
            for case in ElementTree.parse(report).getroot().iter("testcase")}
    modules = defaultdict[str, list[tuple[float, str]]](list)
    for (module, name), seconds in took.items():
        if seconds > LONG:
            modules[module].append((seconds, name))
    known = {(f"{module}.{name}") for module, name in took}
    found = [line for line in LISTED.read_text().splitlines() if _told(line) not in known]
    for module, cases in modules.items():
        room = MOST
        for n, (seconds, name) in enumerate(sorted(cases)):
            room -= seconds
            if name not in KEPT and module != HOUSE and (room < 0 and (n or seconds > 8 * LONG)):
                found.append(f"{module.replace('.', '/')}.py::{name}")
    return sorted(found)


def _told(line: str) -> str:
    """A listed test as a report names it."""
    module, _, name = line.partition(".py::")
    return f"{module.replace('/', '.')}.{name}"


if __name__ == "__main__":
    print("\n".join(left_out(sys.argv[1:])))
