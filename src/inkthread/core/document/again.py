"""Reading a document that an edit made of one read before: what the edit left alone is not read again."""

from __future__ import annotations

import dataclasses
import typing
from typing import Any

from pydantic import TypeAdapter, ValidationError

from inkthread.core.document.load import DocumentError, check_references, parse_document
from inkthread.core.document.types import Document
from inkthread.core.document.values import in_order

_HINTS = typing.get_type_hints(Document)
_SECTIONS: dict[str, TypeAdapter[Any]] = {
    name: TypeAdapter(kind) for name, kind in _HINTS.items() if dataclasses.is_dataclass(kind)
}
_ABSENT: Any = object()


def read_again(plain: Any, before: Any, read: Document) -> Document:
    """As ``parse_document(plain)``, where ``before`` is what ``read`` was read from.

    Parts that ``plain`` shares with ``before``, being the same objects, are taken from ``read`` as they
    are; so later steps see that they are the same. Raises ``DocumentError``.
    """
    if not isinstance(plain, dict) or plain.keys() - _HINTS.keys():
        return parse_document(plain)
    if any(plain.get(k, _ABSENT) is not before.get(k) for k in ("format", "format_number")):
        return parse_document(plain)
    sections: dict[str, Any] = {}
    try:
        for name, adapter in _SECTIONS.items():
            new, old = plain.get(name, _ABSENT), before.get(name, _ABSENT)
            if new is old:
                sections[name] = getattr(read, name)
            elif isinstance(new, dict) and isinstance(old, dict):
                sections[name] = _section(adapter, new, old, getattr(read, name))
            else:
                return parse_document(plain)
    except ValidationError:
        return parse_document(plain)  # which says where it is wrong
    document = dataclasses.replace(read, **sections)
    problems = check_references(document)
    if problems:
        raise DocumentError(problems[:20])
    return document


def _section(adapter: TypeAdapter[Any], new: dict[str, Any], old: dict[str, Any], read: Any) -> Any:
    """One section: only entries of its collections that are not the old ones are read."""
    fresh: dict[str, Any] = dict(new)
    shared: dict[str, dict[str, Any]] = {}
    for field, entries in new.items():
        known, held = getattr(read, field, None), old.get(field)
        if isinstance(entries, dict) and isinstance(known, dict) and isinstance(held, dict):
            shared[field] = entries
            fresh[field] = {k: v for k, v in entries.items() if held.get(k, _ABSENT) is not v}
    made = adapter.validate_python(fresh)
    merged: dict[str, Any] = {}
    for field, entries in shared.items():
        known, anew = getattr(read, field), getattr(made, field)
        same = not anew and known.keys() == entries.keys()
        merged[field] = known if same else in_order({k: anew.get(k) or known[k] for k in entries})
    return dataclasses.replace(made, **merged)
