"""JSON Patch (RFC 6902) with its inverse, and whether two patches touch the same things."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import jsonpatch  # type: ignore[import-untyped,unused-ignore]
import jsonpointer  # type: ignore[import-untyped,unused-ignore]
from jsonpointer import JsonPointer, JsonPointerException  # type: ignore[import-untyped,unused-ignore]

from inkthread.core.document.draft import copied

# A member that is missing is named; the whole document need not be written into the message each time.
jsonpointer.VERBOSE_EXCEPTIONS = False

Operation = dict[str, Any]

_ABSENT = object()


class PatchError(ValueError):
    """A patch cannot be applied. ``path`` names the field."""

    def __init__(self, path: str, message: str) -> None:
        super().__init__(message)
        self.path = path


def _value_at(document: Any, path: str) -> Any:
    try:
        return JsonPointer(path).resolve(document, _ABSENT)
    except JsonPointerException as error:
        raise PatchError(path, str(error)) from None


def _in_steps(document: Any, op: Operation) -> list[Operation]:
    """The operation with ``move`` and ``copy`` written as ``remove`` and ``add``."""
    if op["op"] not in ("move", "copy"):
        return [op]
    value = _value_at(document, str(op["from"]))
    if value is _ABSENT:
        raise PatchError(str(op["from"]), "There is nothing here to move or copy.")
    added = {"op": "add", "path": op["path"], "value": value}
    return [{"op": "remove", "path": op["from"]}, added] if op["op"] == "move" else [added]


def _opened(document: Any, path: str, own: set[int]) -> Any:
    """The document with what lies along a path made anew, so that it may be changed; the rest is shared.

    ``own`` are the nodes made anew so far, by identity; the document holds them.
    """

    def anew(node: Any) -> Any:
        if id(node) in own or not isinstance(node, (dict, list)):
            return node
        copied = node.copy()
        own.add(id(copied))
        return copied

    top = node = anew(document)
    for part in path.split("/")[1:-1]:
        key = part.replace("~1", "/").replace("~0", "~")
        if isinstance(node, dict) and key in node:
            node[key] = node = anew(node[key])
        elif isinstance(node, list) and key.isdigit() and int(key) < len(node):
            node[int(key)] = node = anew(node[int(key)])
        else:
            break
    return top


def apply_with_inverse(document: Any, operations: list[Operation]) -> tuple[Any, list[Operation]]:
    """A changed copy of the document, and the operations that take it back. Raises PatchError."""
    inverse: list[Operation] = []
    changed = document
    own: set[int] = set()
    for written in operations:
        for op in _in_steps(changed, written):
            changed = _apply_one(_opened(changed, str(op["path"]), own), op, inverse)
    inverse.reverse()
    return changed, inverse


def _apply_one(document: Any, op: Operation, inverse: list[Operation]) -> Any:
    """Apply one plain operation in place and add what takes it back to ``inverse``."""
    path, kind = str(op["path"]), op["op"]
    before = _value_at(document, path)
    if kind == "test":
        if before is _ABSENT or before != op.get("value"):
            raise PatchError(path, "The value here is not the one that was tested for.")
        return document
    if kind in ("replace", "remove") and before is _ABSENT:
        raise PatchError(path, "There is nothing here to change or remove.")
    try:
        placed = {**op, "value": copied(op["value"])} if "value" in op else op
        changed = jsonpatch.JsonPatch([placed]).apply(document, in_place=True)
    except (jsonpatch.JsonPatchException, JsonPointerException, TypeError, KeyError) as error:
        raise PatchError(path, f"This cannot be applied: {error}") from None
    if kind == "remove":
        inverse.append({"op": "add", "path": path, "value": before})
    elif before is _ABSENT:
        inverse.append({"op": "remove", "path": path})
    else:
        inverse.append({"op": "replace", "path": path, "value": before})
    return changed


def touched(operations: Iterable[Operation]) -> set[str]:
    """Paths that the operations read or write."""
    paths: set[str] = set()
    for op in operations:
        paths.add(str(op["path"]))
        if "from" in op:
            paths.add(str(op["from"]))
    return paths


def _at_and_above(path: str) -> list[str]:
    """A path and all above it, up to the whole document."""
    parts = path.split("/")
    return ["/".join(parts[:n]) for n in range(1, len(parts) + 1)]


def disjoint(ours: set[str], theirs: set[str]) -> bool:
    """True where no path of one is the same as, above or below a path of the other."""
    reached = {above for path in theirs for above in _at_and_above(path)}
    return reached.isdisjoint(ours) and not any(
        above in theirs for path in ours for above in _at_and_above(path)
    )
