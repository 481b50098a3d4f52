"""The house itself: no circles, models without a window, names that hide nothing, words with their units."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from functools import cache
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SRC = ROOT / "src"
MODULES = {".".join(path.relative_to(SRC).with_suffix("").parts).removesuffix(".__init__"): path
           for path in SRC.rglob("*.py")}


@cache
def parsed(path):
    return ast.parse(path.read_text())


@cache
def every_node(path):
    return tuple(ast.walk(parsed(path)))


def imported(path):
    """Every module of ours that a file imports, wherever in it, for types alone too."""
    for node in every_node(path):
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("yattle"):
            for alias in node.names:
                whole = f"{node.module}.{alias.name}"
                yield whole if whole in MODULES else node.module


def test_no_module_imports_in_a_circle():
    graph = {name: set(imported(path)) - {name} for name, path in MODULES.items()}
    try:
        assert len(list(TopologicalSorter(graph).static_order())) >= len(MODULES)
    except CycleError as circle:
        pytest.fail(" → ".join(circle.args[1]))


def test_the_models_of_all_benches_import_without_qt():
    names = [name for name in MODULES if name.startswith("yattle.ui.benches.") and name.endswith((".model", ".host"))]
    assert len(names) == 9
    code = "import sys; sys.modules['PyQt6'] = None\n" + "".join(f"import {name}\n" for name in names)
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr


def own_names(node):
    """What a class calls its own: methods, class attributes, and what its methods put on ``self``."""
    for part in node.body:
        if isinstance(part, ast.FunctionDef):
            yield part.name, "method"
            for inner in ast.walk(part):
                if isinstance(inner, ast.Attribute) and isinstance(inner.ctx, ast.Store) and (
                        isinstance(inner.value, ast.Name) and inner.value.id == "self"):
                    yield inner.attr, "attribute"
        elif isinstance(part, ast.Assign | ast.AnnAssign):
            for target in part.targets if isinstance(part, ast.Assign) else [part.target]:
                for name in ast.walk(target):
                    if isinstance(name, ast.Name):
                        yield name.id, "attribute"


def test_no_attribute_hides_a_method_of_its_widget():
    """``self.height = 3.0`` on a widget would be found by everybody who asks it for its height."""
    import importlib

    from PyQt6.QtWidgets import QWidget

    hidden = []
    for name, path in MODULES.items():
        if not name.startswith("yattle.ui."):
            continue
        module = importlib.import_module(name)
        for node in parsed(path).body:
            kind = getattr(module, node.name, None) if isinstance(node, ast.ClassDef) else None
            if not (isinstance(kind, type) and issubclass(kind, QWidget)):
                continue
            qt = next(base for base in kind.__mro__ if base.__module__.startswith("PyQt6"))
            hidden += [f"{name}.{node.name}.{own}" for own, what in own_names(node)
                       if what == "attribute" and callable(getattr(qt, own, None))]
    assert hidden == []


def test_every_place_that_the_plan_of_the_house_names_is_there():
    text = (ROOT / "docs" / "architecture.md").read_text()
    for folder in re.findall(r"^\| `([a-z_/]+)/`", text, flags=re.M):
        assert (SRC / "yattle" / folder).is_dir(), folder
    begin = text[text.index("## Where to begin"):text.index("## How a number flows")]
    changes = [line for line in begin.splitlines() if line.startswith("| ") and "change" not in line]
    assert len(changes) == 10
    for place in re.findall(r"`([a-z_./A-Z]+)`", begin):
        where = place.replace("NAME", "trim")
        if "/" in where or where.endswith(".py"):
            assert (SRC / "yattle" / where).exists() or (ROOT / where).exists(), place
    described = set(re.findall(r"\| `([a-z_]+)/", text)) | {"ui"}
    folders = {path.name for path in (SRC / "yattle").iterdir() if path.is_dir() and path.name != "__pycache__"}
    assert folders <= described, folders - described


def test_every_verb_is_in_the_readme():
    from yattle.verbs import MANY, VERBS

    text = (ROOT / "README.md").read_text()
    assert [verb for verb in (*VERBS, *MANY) if f"yattle {verb} " not in text] == []


def test_the_program_names_no_list_of_methods_by_text():
    """Actions are functions: whoever renames one is told by the types."""
    from yattle.ui.commands.table import ACTIONS

    assert all(callable(spec.do) for spec in ACTIONS) and len({spec.id for spec in ACTIONS}) == len(ACTIONS)


def test_a_class_name_has_one_meaning():
    found: dict[str, list[str]] = {}
    for name, path in MODULES.items():
        for node in every_node(path):
            if isinstance(node, ast.ClassDef):
                found.setdefault(node.name.strip("_"), []).append(name)
    assert {name: places for name, places in found.items() if len(places) > 1} == {}


MEASURED = re.compile(r"\b(float|Array|Floats|Point3?|Positive|NotNegative|Ring|Corner)\b")
UNIT = re.compile(r"\b(mm²?|m²|m|kg|degrees?|units?|money|square (milli)?metres|millimetres?|kilograms|kelvin|seconds?|"
                  r"moment|ratio|share|points|places|cost)\b|°|\b0 (…|to) 1\b", re.I)


def measured(tree):
    """What is public and has to do with measures: name, its signature or fields, its docstring."""
    for node in tree.body:
        if not isinstance(node, ast.FunctionDef | ast.ClassDef) or node.name.startswith("_"):
            continue
        yield node.name, node
        for part in node.body if isinstance(node, ast.ClassDef) else ():
            if isinstance(part, ast.FunctionDef) and not part.name.startswith("_"):
                yield f"{node.name}.{part.name}", part


def types_of(node):
    if isinstance(node, ast.ClassDef):
        return " ".join(ast.unparse(part.annotation) for part in node.body if isinstance(part, ast.AnnAssign))
    given = [ast.unparse(a.annotation) for a in (*node.args.args, *node.args.kwonlyargs) if a.annotation]
    return " ".join([*given, ast.unparse(node.returns) if node.returns else ""])


def test_what_is_public_and_measured_says_its_unit():
    silent, all_of_it = [], 0
    for module, path in MODULES.items():
        if module.startswith("yattle.ui"):
            continue
        for name, node in measured(parsed(path)):
            if MEASURED.search(types_of(node)):
                all_of_it += 1
                if not UNIT.search(ast.get_docstring(node) or ""):
                    silent.append(f"{module}.{name}")
    assert all_of_it > 400 and len(silent) <= 0.02 * all_of_it, silent


def test_what_is_left_to_make_thorough_is_there():
    """A test that has another name now would be run by both again, and nobody would see that the list is old."""
    gone = []
    for line in (ROOT / "tests" / "long.txt").read_text().split("\n"):
        path, _, name = line.partition("::")
        if line and f"def {name.partition('[')[0]}(" not in (ROOT / path).read_text():
            gone.append(line)
    assert not gone
