"""A document is written as if it were written whole, however much of it was written before."""

from __future__ import annotations

import random

from pydantic_core import from_json, to_json
from sqlalchemy.dialects import sqlite

from inkthread.demo import DEMOS, demo_document
from inkthread.storage.models import DocumentJSON
from inkthread.storage.patches import apply_with_inverse


def places(node, at=""):
    """Paths of everything in a document, in order."""
    for key, value in node.items() if isinstance(node, dict) else enumerate(node):
        path = f"{at}/{str(key).replace('~', '~0').replace('/', '~1')}"
        yield path, value
        if isinstance(value, (dict, list)):
            yield from places(value, path)


def some_edit(document, rng):
    path, value = rng.choice([*places(document)])
    if rng.random() < 0.3:
        return {"op": "remove", "path": path}
    another = rng.choice([1.25, "\u00e9tage \u201c2\u201d", None, {"a": [1, {}]}, [], True, value])
    return {"op": "replace", "path": path, "value": another}


def test_every_edit_and_its_undo_is_written_as_all_of_it():
    """Two documents in turn by one writer: random edits anywhere in them, and each taken back now and then."""
    rng = random.Random(7)
    write = DocumentJSON().bind_processor(sqlite.dialect())
    documents = [demo_document(demo) for demo in DEMOS[:2]]
    for _ in range(300):
        n = rng.randrange(2)
        changed, inverse = apply_with_inverse(documents[n], [some_edit(documents[n], rng)])
        assert write(changed) == to_json(changed).decode()
        if rng.random() < 0.5:
            changed, _ = apply_with_inverse(changed, inverse)
            assert write(changed) == to_json(changed).decode()
        documents[n] = changed if len(changed) > 3 else demo_document(DEMOS[n])
    assert from_json(write(documents[0])) == documents[0]


def test_what_stayed_is_not_written_again():
    document = demo_document("larkspur")
    kind = DocumentJSON()
    write = kind.bind_processor(sqlite.dialect())
    write(document)
    before = dict(kind._written)
    write(apply_with_inverse(document, [{"op": "replace", "path": "/brief/name", "value": "other"}])[0])
    assert all(kind._written[at] is kept for at, kept in before.items())


def test_what_is_not_a_document_is_written_too():
    write = DocumentJSON().bind_processor(sqlite.dialect())
    assert write({}) == "{}"
    assert (
        write({"format": "x", "rooms": [1, None], "none": {}}) == '{"format":"x","rooms":[1,null],"none":{}}'
    )
