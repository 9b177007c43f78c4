"""What the server keeps of harnesses that were worked out: the newest, and of large ones fewer."""

from __future__ import annotations

from inkthread.web.workshop import Newest


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
