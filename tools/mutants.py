"""Change the core a little, many times over, and see whether its tests notice.

``mutants.py [ROOM ...] [--each N] [--seed S]`` takes N places in each room (all rooms of the core where
none is named), changes one at a time in a copy and runs the tests of the core against it. It prints
how many were noticed and every one that was not: those are edges that no test stands on.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

HOME = Path(__file__).resolve().parent.parent
CORE = Path("src/inkthread/core")
LONGEST_S = 240
"""A change that never ends counts as noticed."""

COMPARE = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.In: ast.NotIn, ast.NotIn: ast.In,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
REVERSE = {ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt}
COUNT = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Div}
CALLS = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "any": "all", "all": "any"}
TOLERANCE = 1e-4
"""Constants smaller than this are only allowances for rounding."""


@dataclass(frozen=True)
class Change:
    """One small change of one module."""

    path: Path
    line: int
    what: str
    text: str
    """The module as changed."""

    def __str__(self) -> str:
        return f"{self.path.relative_to(CORE)}:{self.line}: {self.what}"


def changes(path: Path) -> Iterator[Change]:
    """Every small change of one module."""
    source = (HOME / path).read_text(encoding="utf-8")
    tree = ast.parse(source)
    for node in [n for top in tree.body if not _idle(top) for n in ast.walk(top)]:
        for what, undo in _each_way(node):
            yield Change(path, getattr(node, "lineno", 0), what, ast.unparse(tree))
            undo()


def _idle(node: ast.stmt) -> bool:
    """Imports and docstrings: nothing to change."""
    return isinstance(node, (ast.Import, ast.ImportFrom)) or (
        isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
    )


def _each_way(node: ast.AST) -> Iterator[tuple[str, Callable[[], None]]]:
    """Change the node in place, one way after the other; each is taken back by what is yielded with it."""

    def put(field: str, new: object) -> tuple[str, Callable[[], None]]:
        old = getattr(node, field)
        before = ast.unparse(node)
        setattr(node, field, new)
        return f"{before}  ->  {ast.unparse(node)}", lambda: setattr(node, field, old)

    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        kind = type(node.ops[0])
        yield put("ops", [COMPARE[kind]()])
        if kind in REVERSE:
            yield put("ops", [REVERSE[kind]()])
    elif isinstance(node, ast.BinOp) and type(node.op) in COUNT:
        yield put("op", COUNT[type(node.op)]())
    elif isinstance(node, ast.BoolOp):
        yield put("op", ast.Or() if isinstance(node.op, ast.And) else ast.And())
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        yield put("operand", ast.UnaryOp(ast.Not(), node.operand))
    elif isinstance(node, ast.Constant) and isinstance(value := node.value, int | float):
        if not isinstance(value, bool) and abs(value) >= TOLERANCE:
            yield put("value", value * 1.2 if isinstance(value, float) else value + 1)
    elif isinstance(node, ast.Call):
        if isinstance(node.func, ast.Name) and node.func.id in CALLS:
            yield put("func", ast.Name(CALLS[node.func.id]))
        elif isinstance(node.func, ast.Attribute) and node.func.attr in CALLS:
            yield put("func", ast.Attribute(node.func.value, CALLS[node.func.attr]))


class Copies:
    """Copies of the project, one for each run at a time."""

    def __init__(self, where: Path, count: int) -> None:
        self._lock = threading.Lock()
        self._free = []
        for n in range(count):
            copy = where / f"copy{n}"
            for name in ("src", "tests", "docs", "tools"):
                shutil.copytree(HOME / name, copy / name, ignore=shutil.ignore_patterns("__pycache__"))
            shutil.copy(HOME / "pyproject.toml", copy)
            self._free.append(copy)

    def noticed(self, change: Change | None) -> bool:
        """Whether a test fails with the change made; with none, whether one fails anyhow."""
        with self._lock:
            copy = self._free.pop()
        before = "" if change is None else (copy / change.path).read_text(encoding="utf-8")
        try:
            if change is not None:
                (copy / change.path).write_text(change.text, encoding="utf-8")
            run = subprocess.run(
                [sys.executable, "-m", "pytest", "-x", *_nearest_first(copy, change)],
                cwd=copy,
                env={**os.environ, "PYTHONPATH": f"{copy / 'src'}:{copy}", "PYTHONDONTWRITEBYTECODE": "1"},
                capture_output=True,
                timeout=LONGEST_S,
                check=False,
            )
            return run.returncode != 0
        except subprocess.TimeoutExpired:
            return True
        finally:
            if change is not None:
                (copy / change.path).write_text(before, encoding="utf-8")
            with self._lock:
                self._free.append(copy)


def _nearest_first(copy: Path, change: Change | None) -> list[str]:
    """The test modules of the core: those that name the changed room first, long looks last."""
    every = sorted(p for d in ("reference", "core") for p in (copy / "tests" / d).glob("test_*.py"))
    if change is not None:
        room = f"inkthread.core.{change.path.relative_to(CORE).parts[0]}"
        texts = {p: p.read_text(encoding="utf-8") for p in every}
        every.sort(key=lambda p: ("mark.slow" in texts[p], room not in texts[p]))
    return [str(p.relative_to(copy)) for p in every]


def main() -> int:
    """Sample, run, report. Returns 1 where fewer are noticed than promised."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("rooms", nargs="*")
    parser.add_argument("--each", type=int, default=20, help="changes in each room")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--least", type=float, default=85.0, help="share to be noticed, in per cent")
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    asked = parser.parse_args()
    rooms = asked.rooms or sorted(p.name for p in (HOME / CORE).iterdir() if (p / "__init__.py").is_file())
    noticed = total = 0
    with tempfile.TemporaryDirectory() as where, ThreadPoolExecutor(asked.workers) as pool:
        copies = Copies(Path(where), asked.workers)
        if copies.noticed(None):
            print("The tests fail before anything is changed.")
            return 1
        for room in rooms:
            every = [
                c for p in sorted((HOME / CORE / room).rglob("*.py")) for c in changes(p.relative_to(HOME))
            ]
            taken = random.Random(asked.seed).sample(every, min(asked.each, len(every)))
            found = 0
            for change, seen in zip(taken, pool.map(copies.noticed, taken), strict=True):
                found += seen
                if not seen:
                    print(f"    not noticed: {change}", flush=True)
            noticed, total = noticed + found, total + len(taken)
            print(f"{room}: {found} of {len(taken)} noticed ({len(every)} possible)", flush=True)
    share = 100 * noticed / max(total, 1)
    print(f"all: {noticed} of {total} noticed, {share:.0f} % (at least {asked.least:g} %)")
    return 0 if share >= asked.least else 1


if __name__ == "__main__":
    sys.exit(main())
