"""A stored document leaves out what has a default; a patch may name it all the same."""

from __future__ import annotations

import dataclasses
import types
import typing
from functools import cache
from typing import Any, get_args, get_origin

from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document


@cache
def _fields(kind: type) -> dict[str, tuple[Any, bool]]:
    """Of a type of the document: each field's type, and whether it has a default."""
    hints = typing.get_type_hints(kind)
    return {
        f.name: (
            hints[f.name],
            f.default is not dataclasses.MISSING or f.default_factory is not dataclasses.MISSING,
        )
        for f in dataclasses.fields(kind)
    }


def _plain(kind: Any) -> Any:
    """``X`` of ``X | None``."""
    if get_origin(kind) in (types.UnionType, typing.Union):
        return next((a for a in get_args(kind) if a is not type(None)), kind)
    return kind


def _left_out(parts: list[str]) -> bool:
    """Whether the last member of a path is a field of the document that may be left out."""
    kind: Any = Document
    for n, part in enumerate(parts):
        kind = _plain(kind)
        if get_origin(kind) is dict:
            kind = get_args(kind)[1]
            if n == len(parts) - 1:
                return False
        elif dataclasses.is_dataclass(kind) and isinstance(kind, type):
            known = _fields(kind)
            if part not in known:
                return False
            kind, default = known[part]
            if n == len(parts) - 1:
                return default
        else:
            return False
    return False


_ABSENT = object()


class _View:
    """A document as the operations so far have left it, read only."""

    def __init__(self, document: dict[str, Any]) -> None:
        self.document = document
        self._written: dict[tuple[str, ...], tuple[int, Any]] = {}
        """By path: which operation wrote it last, counted, and what."""
        self._count = 0

    def write(self, parts: list[str], value: Any) -> None:
        self._count += 1
        self._written[tuple(parts)] = (self._count, value)

    def at(self, parts: list[str]) -> Any:
        node: Any = self.document
        newest, below = 0, parts
        for depth in range(len(parts) + 1):
            written = self._written.get(tuple(parts[:depth]))
            if written is not None and written[0] > newest:
                newest, node, below = written[0], written[1], parts[depth:]
        for part in below:
            if isinstance(node, dict):
                node = node.get(part, _ABSENT)
            elif isinstance(node, list) and part.isdigit() and int(part) < len(node):
                node = node[int(part)]
            else:
                return _ABSENT
            if node is _ABSENT:
                return _ABSENT
        return node


def complete(document: dict[str, Any], operations: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The operations with those before them that make what a default stood for.

    A collection that was left out because it was empty is made before something is put into it; a
    value that was left out because it is the default is added where it is to be replaced.
    """
    view = _View(document)
    completed: list[dict[str, Any]] = []
    for op in operations:
        parts = [p.replace("~1", "/").replace("~0", "~") for p in str(op["path"]).split("/")[1:]]
        if op["op"] in ("add", "replace"):
            for depth in range(1, len(parts)):
                above = parts[:depth]
                if view.at(above) is not _ABSENT:
                    continue
                if not _left_out(above):
                    break
                completed.append({"op": "add", "path": pointer(above), "value": {}})
                view.write(above, {})
            if op["op"] == "replace" and view.at(parts) is _ABSENT and _left_out(parts):
                op = {**op, "op": "add"}
            view.write(parts, op.get("value"))
        elif op["op"] == "remove":
            view.write(parts, _ABSENT)
        completed.append(op)
    return completed


def whole(document: dict[str, Any]) -> dict[str, Any]:
    """A view of a stored document in which no collection is left out. The document itself stays as it is."""
    filled: dict[str, Any] = _whole(Document, document)
    return filled


def _whole(kind: Any, node: Any) -> Any:
    kind = _plain(kind)
    if not isinstance(node, dict):
        return node
    if get_origin(kind) is dict:
        of = get_args(kind)[1]
        return {k: _whole(of, v) for k, v in node.items()} if _holds_collections(of) else node
    if not (isinstance(kind, type) and dataclasses.is_dataclass(kind) and _holds_collections(kind)):
        return node
    filled = dict(node)
    for name, (kind_of, _) in _fields(kind).items():
        if name in filled:
            filled[name] = _whole(kind_of, filled[name])
        elif get_origin(_plain(kind_of)) is dict:
            filled[name] = {}
    return filled


@cache
def _holds_collections(kind: Any) -> bool:
    """Whether a type of the document has a collection in it, at any depth."""
    kind = _plain(kind)
    if get_origin(kind) is dict:
        return True
    if not dataclasses.is_dataclass(kind) or not isinstance(kind, type):
        return False
    return any(_holds_collections(kind_of) for kind_of, _ in _fields(kind).values())


def lean(document: dict[str, Any]) -> dict[str, Any]:
    """A copy of a document without what is as a default leaves it."""
    stripped: dict[str, Any] = _lean(Document, document)
    return stripped


def _lean(kind: Any, node: Any) -> Any:
    kind = _plain(kind)
    if not isinstance(node, dict):
        return node
    if get_origin(kind) is dict:
        return {k: _lean(get_args(kind)[1], v) for k, v in node.items()}
    if not (isinstance(kind, type) and dataclasses.is_dataclass(kind)):
        return node
    defaults = _defaults(kind)
    known = _fields(kind)
    stripped = {k: _lean(known[k][0], v) if k in known else v for k, v in node.items()}
    return {k: v for k, v in stripped.items() if k not in defaults or v != defaults[k]}


@cache
def _defaults(kind: type) -> dict[str, Any]:
    """Of a type of the document: what a field is where it is left out; an empty collection as ``{}``."""
    defaults: dict[str, Any] = {}
    for f in dataclasses.fields(kind):
        if f.default is not dataclasses.MISSING:
            defaults[f.name] = f.default
        elif f.default_factory is not dataclasses.MISSING:
            default = f.default_factory()
            defaults[f.name] = {} if dataclasses.is_dataclass(default) or default == {} else default
    return defaults
