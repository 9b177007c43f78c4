"""Findings: what is wrong, why it matters, what to do. Wordings are catalogue data."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

from inkthread.core.catalogue import CheckText
from inkthread.core.memo import Memo
from inkthread.core.record import record
from inkthread.core.words import list_in_words

Severity = Literal["stop", "fix", "consider"]
Room = Literal["brief", "circuits", "route", "wire", "ends", "cut", "dress", "parts", "build", "prove"]

_RANK = {"stop": 0, "fix": 1, "consider": 2}


@record
class Place:
    """What a finding is about: a thing (kind and id) in a room."""

    room: Room
    kind: str
    id: str


@record
class Remedy:
    """What to do; ``operations`` is the JSON Patch that does it, where it is mechanical."""

    text: str
    operations: tuple[dict[str, Any], ...] = ()


@record
class Phrase:
    """Words that a finding brings only now and then: one of its check's ``phrases``, and what fills it."""

    name: str
    fills: tuple[tuple[str, str], ...]


Words = str | Phrase | list[str] | list[Phrase]
"""What fills a place in a check's wording: itself, a phrase, or several, which are listed."""

PutRight = tuple[Phrase, tuple[dict[str, Any], ...]]
"""A remedy that one click does: how it is worded, and the JSON Patch."""


def phrase(name: str, /, **fills: str) -> Phrase:
    """A phrase of the check that is added; its braces are filled by these and by the finding's own words."""
    return Phrase(name, tuple(fills.items()))


@record
class Finding:
    """One finding. ``code`` is stable; the first place is where the mend begins."""

    code: str
    severity: Severity
    title: str
    what: str
    why: str
    remedies: tuple[Remedy, ...]
    places: tuple[Place, ...]
    follows: int | None = None
    """The place in the list of the finding that this one follows from; None where it stands by itself."""


@dataclass(slots=True)
class FindingBook:
    """Collects findings in the wording of the catalogue's checks."""

    checks: dict[str, CheckText]
    entries: list[Finding] = field(default_factory=list)

    def add(
        self,
        code: str,
        *places: Place,
        mechanical: PutRight | None = None,
        **words: Words,
    ) -> None:
        """Record a finding; ``words`` fill the braces of the check's wording.

        ``mechanical`` is a remedy that can be applied with one click.
        """
        check = self.checks[code]
        plain = {k: word for k, word in words.items() if isinstance(word, str)}

        def worded(word: str | Phrase) -> str:
            return word if isinstance(word, str) else self.worded(code, word, plain)

        said = {
            k: list_in_words([worded(part) for part in word]) if isinstance(word, list) else worded(word)
            for k, word in words.items()
        }
        remedies = [Remedy(text.format(**said)) for text in check.remedies]
        if mechanical is not None:
            remedies.insert(0, Remedy(worded(mechanical[0]), mechanical[1]))
        self.entries.append(
            Finding(
                code,
                check.severity,
                check.title.format(**said),
                check.what.format(**said),
                check.why.format(**said),
                tuple(r for r in remedies if r.text),
                places,
            )
        )

    def worded(self, code: str, words: Phrase, known: dict[str, str] | None = None) -> str:
        """A phrase of a check in its words; ``known`` fills what it does not bring itself."""
        return self.checks[code].phrases[words.name].format(**{**(known or {}), **dict(words.fills)})

    def once(self, memo: Memo, find: Callable[..., None], *arguments: object) -> None:
        """Record what ``find(*arguments, book)`` finds, or what it found before from the same arguments."""
        self.entries += memo.get(_found_by, find, self.checks, *arguments, of=find)

    def in_order(self) -> tuple[Finding, ...]:
        """Stops first, then fixes, then things to consider; otherwise as found."""
        return tuple(sorted(self.entries, key=lambda f: _RANK[f.severity]))


def _found_by(
    find: Callable[..., None], checks: dict[str, CheckText], *arguments: object
) -> tuple[Finding, ...]:
    book = FindingBook(checks)
    find(*arguments, book)
    return tuple(book.entries)


def stands_alone(findings: Iterable[Finding]) -> list[Finding]:
    """Those that do not follow from another."""
    return [f for f in findings if f.follows is None]
