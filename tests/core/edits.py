"""Edits of a harness as plain data, and what stands in it that can be edited."""

from __future__ import annotations

from typing import Any

from inkthread.core.document import DocumentError, Problem, parse_document
from inkthread.storage.patches import apply_with_inverse


def edited(plain: dict[str, Any], *operations: dict[str, Any]) -> dict[str, Any]:
    changed, _ = apply_with_inverse(plain, list(operations))
    found: dict[str, Any] = changed
    return found


def put(path: str, value: object) -> dict[str, Any]:
    return {"op": "replace", "path": path, "value": value}


def leaves(node: Any, path: str = "") -> list[tuple[str, Any]]:
    """Every figure, flag and text of a document with its JSON Pointer."""
    if isinstance(node, dict):
        found: list[tuple[str, Any]] = []
        for key, value in node.items():
            found += leaves(value, f"{path}/{key.replace('~', '~0').replace('/', '~1')}")
        return found
    return [(path, node)]


def entries(plain: dict[str, Any]) -> list[str]:
    return [
        f"/{section}/{collection}/{key}"
        for section, parts in plain.items()
        if isinstance(parts, dict)
        for collection, held in parts.items()
        if isinstance(held, dict)
        for key in held
    ]


def wrong_with(plain: dict[str, Any]) -> list[Problem]:
    try:
        parse_document(plain)
    except DocumentError as refused:
        return refused.problems
    return []
