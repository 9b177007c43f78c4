"""Faults of a document, each with where it is and what to do."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.record import record


@record
class Problem:
    """One fault of the input: where (a JSON Pointer), what is wrong, and what to do."""

    path: str
    message: str
    remedy: str


class DocumentError(ValueError):
    """The input is not a valid design document; ``problems`` names every field at fault."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        first = problems[0]
        super().__init__(f"{first.path or 'document'}: {first.message} {first.remedy}")


def pointer(parts: Iterable[object]) -> str:
    """JSON Pointer (RFC 6901) of the parts."""
    return "".join("/" + str(p).replace("~", "~0").replace("/", "~1") for p in parts)


def shown(value: object) -> str:
    """A value as it is quoted in a message, short."""
    try:
        text = repr(value)
    except ValueError:
        text = "a number of thousands of digits"
    return text if len(text) <= 40 else text[:37] + "..."
