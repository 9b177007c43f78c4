"""Which kind of device a name means: its head noun decides, the last one of the name."""

from __future__ import annotations

import re
from functools import lru_cache

from inkthread.core.catalogue import Catalogue

OTHER = "other"
_BEFORE = ("for", "of", "with", "from", "to", "in", "on", "at", "by", "behind", "under")
"""Words after which a name says what the thing is for or where it is, not what it is."""


def name_words(text: str) -> list[str]:
    """The words of a name, in small letters."""
    return re.findall(r"[a-z0-9]+", text.lower())


def _same(word: str, noun: str) -> bool:
    """One, or several of the same."""
    several = f"{noun[:-1]}ies" if noun.endswith("y") else f"{noun}s"
    return word in (noun, several, f"{noun}es")


def _standings(words: list[str], parts: list[str]) -> list[tuple[int, int]]:
    """Where a noun of one or more words stands in a name: first word, and the one after its last."""
    return [
        (at, at + len(parts))
        for at in range(len(words) - len(parts) + 1)
        if all(_same(w, p) for w, p in zip(words[at : at + len(parts)], parts, strict=True))
    ]


def guess_kind(catalogue: Catalogue, name: str, device_id: str = "") -> str:
    """The kind of device that a name means.

    The last noun that is known decides: a battery switch is a switch; but a switch for the horn is one too.
    Of two that end together the longer decides, then the one of the id's letter. A name without a known
    noun is another device; where there is no name at all the id's letter says the kind (common practice:
    letters of IEC 81346 and its kin).
    """
    return head_noun(catalogue, name, device_id)[0]


def head_noun(catalogue: Catalogue, name: str, device_id: str = "") -> tuple[str, int]:
    """The kind that a name means, and how many of its words there are to the end of the noun that says so;
    none where the letter of the id does.
    """
    letter = (re.match(r"[A-Za-z]*", device_id) or [""])[0].upper()
    words = name_words(name)
    if not words:
        return next((k for k, kind in catalogue.kinds.items() if letter == kind.prefix), OTHER), 0
    nouns = [
        (first, after, kind.prefix == letter, kind_id)
        for kind_id, kind in catalogue.kinds.items()
        for noun in kind.words
        for first, after in _standings(words, list(_noun_words(noun)))
    ]
    inside = {n for first, after, _, _ in nouns for n in range(first + 1, after)}
    head = next((n for n, w in enumerate(words) if n and w in _BEFORE and n not in inside), len(words))
    best, kind_id = (0, 0, False), OTHER
    for first, after, lettered, candidate in [noun for noun in nouns if noun[1] <= head] or nouns:
        rank = (after, after - first, lettered)
        if rank > best:
            best, kind_id = rank, candidate
    return kind_id, best[0]


def in_brackets(catalogue: Catalogue, kind_id: str) -> str:
    """How a kind is said in the brackets of a typed line: its label, or its id where that has a comma."""
    label = catalogue.kinds[kind_id].label if kind_id in catalogue.kinds else ""
    return label if label and not set(",()") & set(label) else kind_id.replace("_", " ")


@lru_cache(maxsize=2000)
def _noun_words(noun: str) -> tuple[str, ...]:
    return tuple(name_words(noun))
