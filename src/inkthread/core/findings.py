"""Findings: what is wrong, why it matters, what to do. Wordings are catalogue data."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from inkthread.core.catalogue import CheckText
from inkthread.core.document.pin_ref import read_ref
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.record import altered, record
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


Thing = Literal["device", "circuit", "name_of_circuit", "pin"]
"""What a finding may name: with its id, or by its name alone where it has one; a pin with its device."""

# Noncharacters of Unicode: no text that is typed holds them.
_BEGIN, _END = "\ufdd0", "\ufdd1"
_CALLED = re.compile(f"{_BEGIN}([a-z_]+)/([^{_END}]*){_END}")


def called(thing: Thing, of: str) -> str:
    """What stands in a finding for what a thing is called, ``M1 lift pump``, until ``in_names`` says it:
    what is wrong hangs on no name.
    """
    return f"{_BEGIN}{thing}/{of}{_END}"


def _name_of(document: Document, thing: str, of: str) -> str:
    """What it is called; of what is not there, what was asked for."""
    if thing.endswith("circuit"):
        circuit = document.circuits.circuits.get(of)
        name = circuit.name if circuit is not None else ""
        return (name or of) if thing == "name_of_circuit" else f"{of} {name}".strip()
    device_id, pin_id = read_ref(of) if thing == "pin" and "." in of else (of, None)
    device = document.circuits.devices.get(device_id)
    if device is None:
        return of
    if pin_id is None:
        return f"{of} {device.name}".strip()
    pin = device.pins.get(pin_id)
    return f"{device.name} {pin.name if pin is not None else pin_id}".strip()


def _texts(finding: Finding) -> Iterable[str]:
    return (finding.title, finding.what, finding.why, *(remedy.text for remedy in finding.remedies))


def in_names(findings: Iterable[Finding], document: Document, memo: Memo) -> list[Finding]:
    """The same with what everything is called. One that was said before so is the same object again."""
    before: dict[int, tuple[Finding, tuple[str, ...], Finding]] = memo.last(in_names) or {}
    said: dict[int, tuple[Finding, tuple[str, ...], Finding]] = {}
    told: list[Finding] = []
    for finding in findings:
        asked = [m for text in _texts(finding) if _BEGIN in text for m in _CALLED.findall(text)]
        if not asked:
            told.append(finding)
            continue
        names = tuple(_name_of(document, *one) for one in asked)
        known = before.get(id(finding))
        if known is None or known[0] is not finding or known[1] != names:
            known = finding, names, _said(finding, iter(names))
        said[id(finding)] = known
        told.append(known[2])
    memo.put_down(in_names, said)
    return told


def _said(finding: Finding, names: Iterator[str]) -> Finding:
    def put(text: str) -> str:
        return _CALLED.sub(lambda _: next(names), text)

    title, what, why = put(finding.title), put(finding.what), put(finding.why)
    remedies = tuple(altered(remedy, text=put(remedy.text)) for remedy in finding.remedies)
    return altered(finding, title=title, what=what, why=why, remedies=remedies)


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
