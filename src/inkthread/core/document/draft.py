"""Building a JSON Patch by working on a plain copy of the document."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from inkthread.core.document.problems import pointer

Path = tuple[str, ...]
KeysOf = Callable[[Any], Iterable[Any]]


class LineError(ValueError):
    """A typed line is not understood. The message says what is wrong and what to type."""


def copied(value: Any) -> Any:
    """A copy of plain JSON, all the way down."""
    if isinstance(value, dict):
        return {k: copied(v) for k, v in value.items()}
    if isinstance(value, list):
        return [copied(v) for v in value]
    return value


class _Index:
    """Entries of a collection by what of them is looked for, kept as the collection changes."""

    def __init__(self, collection: dict[str, Any], keys_of: KeysOf) -> None:
        self._keys_of = keys_of
        self._keys: dict[str, tuple[Any, ...]] = {}
        self.ids: dict[Any, dict[str, None]] = {}
        for entry_id, entry in collection.items():
            self.note(entry_id, entry)

    def note(self, entry_id: str, entry: Any | None) -> None:
        """An entry is now so, or is out where it is None."""
        before = self._keys.get(entry_id, ())
        now = tuple(self._keys_of(entry)) if entry is not None else ()
        if before == now:
            return
        for key in before:
            self.ids[key].pop(entry_id, None)
        for key in now:
            self.ids.setdefault(key, {})[entry_id] = None
        self._keys[entry_id] = now


class Draft:
    """A plain copy of a document and the operations that have changed it so far."""

    def __init__(self, plain: dict[str, Any]) -> None:
        self.plain = copied(plain)
        self.operations: list[dict[str, Any]] = []
        self._orders: dict[Path, float] = {}
        self._indices: dict[tuple[Path, str], _Index] = {}
        self._numbers: dict[tuple[Path, str], int] = {}

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
        node[parts[-1]] = copied(value)
        self.operations.append({"op": op, "path": pointer(parts), "value": copied(value)})
        self._note(parts, added=op == "add")
        if op == "replace" and isinstance(value, dict):
            self._numbers.clear()

    def drop(self, *parts: str) -> None:
        """Remove the value at a path."""
        node = self.plain
        for part in parts[:-1]:
            node = node[part]
        del node[parts[-1]]
        self.operations.append({"op": "remove", "path": pointer(parts)})
        self._note(parts, added=False)
        self._numbers.clear()

    def _note(self, parts: Path, *, added: bool) -> None:
        """What is remembered of a collection follows a change at, above or below it."""
        for path in [*self._orders]:
            if parts[: len(path)] != path[: len(parts)]:
                continue
            if added and len(parts) == len(path) + 1:
                order = float(self.at(*parts)["order"])
                self._orders[path] = max(self._orders[path], order)
            elif len(parts) <= len(path) + 1 or parts[-1] == "order":
                del self._orders[path]
        for key, index in [*self._indices.items()]:
            path = key[0]
            if parts[: len(path)] != path[: len(parts)]:
                continue
            if len(parts) > len(path):
                entry_id = parts[len(path)]
                index.note(entry_id, self.at(*path).get(entry_id))
            else:
                del self._indices[key]

    def next_order(self, *path: str) -> float:
        """An order after every entry of the collection at a path."""
        if path not in self._orders:
            self._orders[path] = next_order(self.at(*path)) - 1.0
        return self._orders[path] + 1.0

    def free_id(self, prefix: str, *path: str) -> str:
        """``prefix`` with the first number that is free in the collection at a path."""
        taken = self.at(*path)
        number = self._numbers.get((path, prefix), 1)
        while f"{prefix}{number}" in taken:
            number += 1
        self._numbers[path, prefix] = number
        return f"{prefix}{number}"

    def having(self, name: str, keys_of: KeysOf, key: Any, *path: str) -> list[str]:
        """Ids of the entries of a collection that have a key, by an index of that name."""
        index = self._indices.get((path, name))
        if index is None:
            index = self._indices[path, name] = _Index(self.at(*path), keys_of)
        return list(index.ids.get(key, ()))


def next_order(collection: dict[str, Any]) -> float:
    """An order after every entry of a collection."""
    return max((float(e["order"]) for e in collection.values()), default=0.0) + 1.0


def free_id(prefix: str, taken: dict[str, Any]) -> str:
    """``prefix`` with the first number that is free."""
    number = 1
    while f"{prefix}{number}" in taken:
        number += 1
    return f"{prefix}{number}"


def operations_on(plain: dict[str, Any], operations: list[dict[str, Any]]) -> dict[str, Any]:
    """A copy of a document with operations made that only add, replace and remove."""
    after: dict[str, Any] = copied(plain)
    for operation in operations:
        *above, last = (
            p.replace("~1", "/").replace("~0", "~") for p in str(operation["path"]).split("/")[1:]
        )
        node = after
        for part in above:
            node = node[part]
        if operation["op"] == "remove":
            del node[last]
        else:
            node[last] = copied(operation["value"])
    return after
