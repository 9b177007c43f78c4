"""What the server keeps of harnesses that were worked out: the newest, and of large ones fewer."""

from __future__ import annotations

import gc

from inkthread.core.memo import Memo
from inkthread.demo import demo_document
from inkthread.web import create_app
from inkthread.web.workshop import Newest
from tests.program import client_of


def keys(newest: Newest) -> list[int]:
    return [n for n in range(20) if newest.get(n) is not None]


def test_of_light_ones_as_many_are_kept_as_are_asked_for():
    newest = Newest(4, len, 100)
    for n in range(10):
        newest.keep(n, "x" * 25)
    assert keys(newest) == [6, 7, 8, 9]


def test_of_heavy_ones_fewer_are_kept_and_no_fewer_than_two():
    newest = Newest(4, len, 100)
    for n in range(10):
        newest.keep(n, "x" * 26)
    assert keys(newest) == [7, 8, 9]
    for n in range(10, 13):
        newest.keep(n, "x" * 500)
    assert keys(newest) == [11, 12]


def test_of_harnesses_that_are_let_go_nothing_stays(tmp_path):
    """More harnesses than are kept, one after the other: the memory of no other stays, collected or not."""
    app = create_app(tmp_path / "many.db")
    client = client_of(app)
    kept = app.extensions["workshop"]._memos._most
    gc.collect()
    gc.disable()
    try:
        before = memos()
        for _ in range(kept + 6):
            assert client.post("/api/designs", json={"document": demo_document("glider")}).status_code == 201
        assert memos() - before == kept
    finally:
        gc.enable()


def memos() -> int:
    return sum(isinstance(o, Memo) for o in gc.get_objects())
