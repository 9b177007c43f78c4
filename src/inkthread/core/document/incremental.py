"""Reading a document that an edit made of one read before: what the edit left alone is not read again."""

from __future__ import annotations

import dataclasses
import typing
from typing import Any

from pydantic import ValidationError

from inkthread.core.document.load import parse_document, reader
from inkthread.core.document.problems import DocumentError
from inkthread.core.document.references import check_references
from inkthread.core.document.types import Document
from inkthread.core.document.values import in_order

_HINTS = typing.get_type_hints(Document)
_ROOMS = tuple(name for name, kind in _HINTS.items() if dataclasses.is_dataclass(kind))
_ABSENT: Any = object()


def read_again(plain: Any, before: Any, read: Document) -> Document:
    """As ``parse_document(plain)``, where ``before`` is what ``read`` was read from.

    Parts that ``plain`` shares with ``before``, being the same objects, are taken from ``read`` as they
    are; so later steps see that they are the same. Raises ``DocumentError``.
    """
    if not isinstance(plain, dict):
        return parse_document(plain)
    if any(plain.get(k, _ABSENT) is not before.get(k) for k in ("format", "format_number")):
        return parse_document(plain)
    # Only what is new is read: entries of collections that are the old ones are left out.
    fresh: dict[str, Any] = dict(plain)
    for name in _ROOMS:
        new, old = plain.get(name, _ABSENT), before.get(name, _ABSENT)
        if isinstance(new, dict) and isinstance(old, dict):
            fresh[name] = {
                f: _unlike(e, old.get(f), getattr(getattr(read, name), f, None)) for f, e in new.items()
            }
        elif new is not old:
            return parse_document(plain)
    try:
        fresh_parts = reader().validate_python(fresh)
    except ValidationError:
        return parse_document(plain)  # which says where it is wrong
    rooms = {
        name: getattr(read, name)
        if plain.get(name, _ABSENT) is before.get(name, _ABSENT)
        else _merged(plain[name], getattr(fresh_parts, name), getattr(read, name))
        for name in _ROOMS
    }
    document = dataclasses.replace(fresh_parts, **rooms)
    problems = check_references(document, sound=read)
    if problems:
        raise DocumentError(problems[:20])
    return document


def _unlike(entries: Any, before: Any, known: Any) -> Any:
    """Of a collection, the entries that are not the ones held before; anything else as it is."""
    if isinstance(entries, dict) and isinstance(before, dict) and isinstance(known, dict):
        if entries is before:
            return {}
        return {k: v for k, v in entries.items() if before.get(k, _ABSENT) is not v}
    return entries


def _merged(new: dict[str, Any], fresh: Any, read: Any) -> Any:
    """A room with what was read anew and what was known."""
    merged: dict[str, Any] = {}
    for field, entries in new.items():
        known, anew = getattr(read, field), getattr(fresh, field)
        if isinstance(entries, dict) and isinstance(known, dict) and isinstance(anew, dict):
            same = not anew and known.keys() == entries.keys()
            merged[field] = known if same else in_order({k: anew.get(k) or known[k] for k in entries})
    return dataclasses.replace(fresh, **merged)
