"""Every finding is given the words that its check's wording asks for, wherever it is added."""

from __future__ import annotations

import ast
import re
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


def _phrases_in(node: ast.AST) -> Iterator[tuple[str, set[str]]]:
    """Phrases named outright in what a finding is given, and what fills each."""
    for call in ast.walk(node):
        if isinstance(call, ast.Call) and isinstance(call.func, ast.Name) and call.func.id == "phrase":
            names = [x.value for x in ast.walk(call.args[0]) if isinstance(x, ast.Constant)]
            for name in names:
                if isinstance(name, str):
                    yield name, {str(k.arg) for k in call.keywords}


def phrased() -> Iterator[tuple[str, str, str, tuple[str, ...]]]:
    """Where a finding is given a phrase: its check, the phrase, and the words that are there to fill it."""
    for path in sorted(CORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.args):
                continue
            code = node.args[0]
            if node.func.attr != "add" or not isinstance(code, ast.Constant) or code.value not in CHECKS:
                continue
            known = {str(k.arg) for k in node.keywords}
            for keyword in node.keywords:
                for name, fills in _phrases_in(keyword.value):
                    yield (
                        f"{path.relative_to(CORE)}:{node.lineno}",
                        str(code.value),
                        name,
                        tuple(sorted(known | fills)),
                    )


@pytest.mark.parametrize(("where", "code", "name", "filled"), list(phrased()), ids=lambda x: str(x)[:40])
def test_a_phrase_is_its_checks_own_and_all_of_it_is_filled(where, code, name, filled):
    assert name in CHECKS[code].phrases, where
    asked_for = {f for _, f, _, _ in string.Formatter().parse(CHECKS[code].phrases[name]) if f}
    assert asked_for <= set(filled), where


def test_every_phrase_is_said_somewhere():
    source = "".join(p.read_text(encoding="utf-8") for p in CORE.rglob("*.py"))
    for code, check in CHECKS.items():
        for name in check.phrases:
            assert f'"{name}"' in source, (code, name)


def test_remedies_of_one_click_and_parts_of_sentences_are_not_worded_in_the_code():
    for path in sorted(CORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute)):
                continue
            if node.func.attr != "add" or not node.args or not _is_a_code(node.args[0]):
                continue
            for keyword in node.keywords:
                for words in _words_in(keyword.value):
                    assert not re.search(r"[a-z]{2,} [a-z]{2,}", words), f"{path.name}:{node.lineno} {words}"


def _is_a_code(node: ast.expr) -> bool:
    return isinstance(node, ast.Constant) and node.value in CHECKS


def _words_in(node: ast.expr) -> Iterator[str]:
    """Words written into what a finding is given; not the names of phrases, keys and paths."""
    if (
        isinstance(node, ast.Call)
        and isinstance(node.func, ast.Name)
        and node.func.id in ("phrase", "pointer")
    ):
        return
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        yield node.value
    if isinstance(node, ast.Compare | ast.Dict):
        return
    for child in ast.iter_child_nodes(node):
        if isinstance(child, ast.expr):
            yield from _words_in(child)
        elif isinstance(child, ast.comprehension | ast.keyword):
            for inner in ast.iter_child_nodes(child):
                if isinstance(inner, ast.expr):
                    yield from _words_in(inner)
