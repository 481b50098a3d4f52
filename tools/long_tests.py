"""Which tests `make test` leaves to `make thorough`: long_tests.py JUNIT.XML … > tests/long.txt

Every module's quick tests are run by both. Of its long ones `make test` takes the shortest, as far as a share of what
they take together, and those that go a whole way. What is listed is what it leaves out. The reports come from
`THOROUGH=1 pytest --junitxml=JUNIT.XML`; what a later one says counts.
"""

from __future__ import annotations

import sys
import xml.etree.ElementTree as ElementTree
from collections import defaultdict

LONG = 0.5  # seconds
SHARE = 0.08  # of what a module's long tests take together
KEPT = ("test_the_whole_way_from_survey_to_log", "test_plan_writes_places_and_model",
        "test_the_wheel_has_all_that_it_needs",
        "test_on_sound_roofs_it_is_silent_and_looks_at_every_trim_and_lap[net-shed]",
        "test_no_text_is_overlapped_or_cut[net-shed]", "test_the_whole_pack_from_the_window")
"""Whole ways, which are always gone."""


def left_out(reports: list[str]) -> list[str]:
    """The names of the tests that are left out, by module and test."""
    took = {(case.get("classname", ""), case.get("name", "")): float(case.get("time", 0)) for report in reports
            for case in ElementTree.parse(report).getroot().iter("testcase")}
    modules = defaultdict[str, list[tuple[float, str]]](list)
    for (module, name), seconds in took.items():
        if seconds > LONG:
            modules[module].append((seconds, name))
    found = []
    for module, cases in modules.items():
        room = SHARE * sum(seconds for seconds, _ in cases)
        for n, (seconds, name) in enumerate(sorted(cases)):
            room -= seconds
            if name not in KEPT and (room < 0 and (n or seconds > 4 * LONG)):
                found.append(f"{module.replace('.', '/')}.py::{name}")
    return sorted(found)


if __name__ == "__main__":
    print("\n".join(left_out(sys.argv[1:])))
