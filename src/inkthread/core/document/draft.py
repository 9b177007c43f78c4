"""Building a JSON Patch by working on a plain copy of the document."""

from __future__ import annotations

import copy
from typing import Any

from inkthread.core.document.load import pointer


class LineError(ValueError):
    """A typed line is not understood. The message says what is wrong and what to type."""


class Draft:
    """A plain copy of a document and the operations that have changed it so far."""

    def __init__(self, plain: dict[str, Any]) -> None:
        self.plain = copy.deepcopy(plain)
        self.operations: list[dict[str, Any]] = []

    def at(self, *parts: str) -> Any:
        """The value at a path; missing collections are empty."""
        node: Any = self.plain
        for part in parts:
            node = node.get(part, {})
        return node

    def put(self, value: Any, *parts: str) -> None:
        """Add or replace the value at a path, making the collections above it."""
        node = self.plain
        for depth, part in enumerate(parts[:-1]):
            if part not in node:
                node[part] = {}
                self.operations.append({"op": "add", "path": pointer(parts[: depth + 1]), "value": {}})
            node = node[part]
        op = "replace" if parts[-1] in node else "add"
        node[parts[-1]] = copy.deepcopy(value)
        self.operations.append({"op": op, "path": pointer(parts), "value": copy.deepcopy(value)})

    def drop(self, *parts: str) -> None:
        """Remove the value at a path."""
        node = self.plain
        for part in parts[:-1]:
            node = node[part]
        del node[parts[-1]]
        self.operations.append({"op": "remove", "path": pointer(parts)})


def next_order(collection: dict[str, Any]) -> float:
    """An order after every entry of a collection."""
    return max((float(e["order"]) for e in collection.values()), default=0.0) + 1.0


def free_id(prefix: str, taken: dict[str, Any]) -> str:
    """``prefix`` with the first number that is free."""
    number = 1
    while f"{prefix}{number}" in taken:
        number += 1
    return f"{prefix}{number}"
