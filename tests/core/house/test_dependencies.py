"""The house: dependencies point one way, and no room reads a later one."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent.parent.parent / "src" / "inkthread"
ROOMS = ("brief", "circuits", "route", "wire", "ends", "cut", "dress", "parts", "build", "prove")
BASE = (
    "document",
    "catalogue",
    "physics",
    "quantity",
    "findings",
    "memo",
    "words",
    "opening",
    "tolerances",
    "table",
    "typed",
)
OUTSIDE = {
    "flask",
    "flask_openapi3",
    "sqlalchemy",
    "alembic",
    "waitress",
    "sqlite3",
    "pathlib",
    "os",
    "time",
    "datetime",
    "random",
    "socket",
    "urllib",
}


def imports(path: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


FILES = sorted(SOURCE.rglob("*.py"))
CORE_FILES = [p for p in FILES if p.is_relative_to(SOURCE / "core")]
CORE = [f for f in FILES if f.relative_to(SOURCE).parts[0] == "core"]


def test_there_is_something_to_check():
    assert len(CORE) > 20


@pytest.mark.parametrize("path", CORE, ids=lambda p: str(p.relative_to(SOURCE)))
def test_core_imports_nothing_of_the_interface_the_storage_or_the_clock(path):
    for name in imports(path):
        assert name.split(".")[0] not in OUTSIDE, f"{path.name} imports {name}"
        if name.startswith("inkthread"):
            assert name.startswith("inkthread.core"), f"{path.name} imports {name}"


@pytest.mark.parametrize("path", CORE, ids=lambda p: str(p.relative_to(SOURCE)))
def test_no_room_reads_a_later_room(path):
    parts = path.relative_to(SOURCE / "core").parts
    here = parts[0].removesuffix(".py")
    used = {n.split(".")[2] for n in imports(path) if n.startswith("inkthread.core.")}
    if here in ROOMS:
        later = set(ROOMS[ROOMS.index(here) + 1 :])
        assert not used & (later | {"evaluate", "reckoning", "bench", "acts"})
    elif here in BASE:
        assert not used & (set(ROOMS) | {"evaluate", "reckoning", "bench", "acts"})


@pytest.mark.parametrize("room", ["storage", "exchange"])
def test_storage_and_exchange_do_not_read_the_web(room):
    for path in (SOURCE / room).rglob("*.py"):
        assert not any(n.startswith("inkthread.web") for n in imports(path))


SAYS_NOTHING = {"held", "found", "made", "here"}
"""Names that say that something is held, not what."""


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(SOURCE)))
def test_locals_say_what_they_hold(path):
    tree = ast.parse(path.read_text(encoding="utf-8"))
    for function in (n for n in ast.walk(tree) if isinstance(n, ast.FunctionDef)):
        named = {n.id for n in ast.walk(function) if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Store)}
        named |= {a.arg for a in ast.walk(function) if isinstance(a, ast.arg)}
        assert not named & SAYS_NOTHING, function.name
        # An x beside a y is a place.
        assert (
            "x" not in named
            or "placed" in named
            or "y"
            in {n.id for n in ast.walk(function) if isinstance(n, ast.Name)}
            | {a.arg for a in ast.walk(function) if isinstance(a, ast.arg)}
        ), function.name


NUMBERS = {"amps", "volts_drop", "ohms_per_m", "resistance", "temperature", "length", "current", "mass"}


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(SOURCE)))
def test_a_field_that_holds_a_number_names_its_unit(path):
    tree = ast.parse(path.read_text(encoding="utf-8"))
    for node in ast.walk(tree):
        if isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name):
            kind = ast.unparse(node.annotation)
            if "float" in kind and "FloatArray" not in kind:
                assert node.target.id not in NUMBERS, node.target.id


LONGEST = 500


def test_no_file_is_longer_than_a_reader_holds():
    root = SOURCE.parent.parent
    files = [*FILES, *(root / "tests").rglob("*.py"), *(root / "tools").glob("*.py")]
    lines = {p.name: len(p.read_text(encoding="utf-8").splitlines()) for p in files}
    assert {name: count for name, count in lines.items() if count > LONGEST} == {}


KEEPS = {
    "catalogue/names.py": 1, "catalogue/own.py": 1, "catalogue/search.py": 1, "catalogue/wires.py": 1,
    "ends/pairs.py": 1, "circuits/kind_of_name.py": 1, "physics/packing.py": 2,
    "typed/grammar.py": 1, "document/complete.py": 3, "document/load.py": 1, "record.py": 1,
}  # fmt: skip
"""What is kept by a module: what follows from the catalogue or from figures alone, and what is compiled once."""


@pytest.mark.parametrize("path", CORE_FILES, ids=lambda p: str(p.relative_to(SOURCE)))
def test_nothing_of_a_harness_is_kept_by_a_module(path):
    """What was worked out of a harness is kept by the memo that is handed in, and by nothing else."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    caches = 0
    for node in tree.body:
        if isinstance(node, ast.FunctionDef):
            caches += sum("cache" in ast.unparse(d) for d in node.decorator_list)
        if isinstance(node, ast.Assign | ast.AnnAssign) and node.value is not None:
            made = ast.unparse(node.value)
            empty = made in ("{}", "[]", "set()", "dict()", "list()") or "OrderedDict(" in made
            assert not empty, f"{path.name}:{node.lineno} is filled as it goes"
    assert caches == KEEPS.get(path.relative_to(SOURCE / "core").as_posix(), 0)


USED_OTHERWISE = {0.001, 0.0005}
"""A thousandth: millivolts, millimetres, and the half of one below which nothing is shown."""


@pytest.mark.parametrize("path", CORE_FILES, ids=lambda p: str(p.relative_to(SOURCE)))
def test_how_near_counts_as_past_is_named_in_one_place(path):
    """Tolerances of the trade are named in tolerances.py; solvers of physics have their own, named too."""
    if path.name == "tolerances.py" or path.parent.name == "physics":
        return
    for function in (
        n for n in ast.walk(ast.parse(path.read_text(encoding="utf-8"))) if isinstance(n, ast.FunctionDef)
    ):
        for node in ast.walk(function):
            if isinstance(node, ast.Constant) and isinstance(node.value, float):
                apart = min(abs(node.value), abs(node.value - 1))
                assert apart == 0 or apart > 0.002 or node.value in USED_OTHERWISE, (
                    f"{path.name}:{node.lineno}"
                )
