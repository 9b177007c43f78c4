"""Counts and lists as they are said."""

from __future__ import annotations

_COUNT = (
    "no",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
)


def in_words(count: int) -> str:
    """``three`` for 3, digits above twelve."""
    return _COUNT[count] if 0 <= count < len(_COUNT) else str(count)


def list_in_words(items: list[str]) -> str:
    """``a``, ``a and b``, ``a, b and c``."""
    return items[0] if len(items) == 1 else f"{', '.join(items[:-1])} and {items[-1]}"


def some_in_words(items: list[str], most: int) -> str:
    """All of up to ``most``, else the first and how many more.

    >>> some_in_words(["a", "b", "c", "d"], 2)
    'a, b and two more'
    """
    if len(items) <= most:
        return list_in_words(items)
    return f"{', '.join(items[:most])} and {in_words(len(items) - most)} more"
