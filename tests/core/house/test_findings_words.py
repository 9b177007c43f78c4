"""Every finding is given the words that its check's wording asks for, wherever it is added."""

from __future__ import annotations

import ast
import string
from collections.abc import Iterator
from pathlib import Path

import pytest

from inkthread.catalogue import shipped_catalogue

CORE = Path(__file__).parent.parent.parent.parent / "src" / "inkthread" / "core"
CHECKS = shipped_catalogue().checks


def added() -> Iterator[tuple[str, str, tuple[str, ...]]]:
    """Where a check is added by its code, and the words it is given; not where words come as a mapping."""
    for path in sorted(CORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.args):
                continue
            code = node.args[0]
            if node.func.attr != "add" or not isinstance(code, ast.Constant) or code.value not in CHECKS:
                continue
            if all(k.arg is not None for k in node.keywords):
                where = f"{path.relative_to(CORE)}:{node.lineno}"
                yield where, str(code.value), tuple(sorted(str(k.arg) for k in node.keywords))


def asked(code: str) -> set[str]:
    check = CHECKS[code]
    texts = (check.title, check.what, check.why, *check.remedies)
    return {field for text in texts for _, field, _, _ in string.Formatter().parse(text) if field}


@pytest.mark.parametrize(("where", "code", "given"), list(added()), ids=lambda x: str(x)[:60])
def test_a_finding_has_the_words_its_check_asks_for(where, code, given):
    assert asked(code) <= set(given), where
