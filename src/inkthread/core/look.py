"""What a typed line would make, looked at before it is put in, and what could be meant or follow."""

from __future__ import annotations

import re
from difflib import get_close_matches
from typing import Any

from inkthread.core.acts import act_operations
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.kind_of_name import OTHER, in_brackets, name_words
from inkthread.core.circuits.lines import Visit, read_feed
from inkthread.core.circuits.meant import GROUND_WORDS
from inkthread.core.circuits.statements import statement_of
from inkthread.core.document.complete import whole
from inkthread.core.document.draft import LineError, operations_on
from inkthread.core.document.pin_ref import device_of
from inkthread.core.record import record
from inkthread.core.typed.grammar import Start, TypedError, could_stand
from inkthread.core.typed.made import what_is_made

_MOST_CHOICES = 8
_MOST_FOLLOWING = 8
_LEAST_SPELT = 4
_SPELT_ALIKE = 0.85
"""Letters alike of two words, as difflib counts them: battry and battery are 0.92 alike."""


@record
class LookProblem:
    """Why a line cannot go in: the letters that are meant, and a line that could."""

    says: str
    start: int | None
    end: int | None
    offers: str
    """What the offered line does, in words; nothing where none is offered."""
    line: str | None


@record
class Choice:
    """Something else that could be meant, and the whole line that says so."""

    label: str
    line: str


@record
class Guess:
    """Something that was not said and is taken to be so."""

    about: str
    """The device."""
    what: str
    """``is``, ``goes in at``, ``out at``, ``on``."""
    chosen: str
    choices: tuple[Choice, ...]
    spelt: tuple[str, str] | None = None
    """A word of the name that is known to mean nothing, and the one it is nearly."""


@record
class Look:
    """What a line would make. Nothing is changed by looking."""

    says: tuple[str, ...]
    problem: LookProblem | None
    guesses: tuple[Guess, ...]
    following: tuple[Choice, ...]
    """What could stand at the end of what is typed so far, each with the line that has it."""


_STARTS: dict[str, Start] = {"feed": "feed", "run": "run", "zone": "zone", "connector": "connector"}


def look_at(plain: dict[str, Any], catalogue: Catalogue, act: str, text: str, about: str = "") -> Look:
    """What an act would make, why it cannot, what was guessed, and what could follow. Never raises."""
    stored, plain = plain, whole(plain)
    problem: LookProblem | None = None
    says: tuple[str, ...] = ()
    try:
        says = _made(stored, plain, catalogue, act, text, about)
    except TypedError as error:
        problem = _problem(text, error)
        rest = f"{text[: error.start]}{' ' * (error.end - error.start)}{text[error.end :]}"
        try:
            says = _made(stored, plain, catalogue, act, rest, about) if rest.strip() and error.partly else ()
        except LineError:
            says = ()
    except LineError as error:
        problem = LookProblem(str(error), None, None, "", None)
    start = _STARTS.get(act)
    if start is None or "\n" in text:
        return Look(says, problem, (), ())
    feeds = act == "feed" and statement_of(text) is None
    guesses = _guesses(plain, catalogue, text) if feeds and problem is None else ()
    says += tuple(
        f"{g.about}: “{nearly[0]}” is nearly “{nearly[1]}”"
        for g in guesses
        if (nearly := g.spelt) is not None
    )
    return Look(says, problem, guesses, _following(plain, catalogue, start, text))


def _made(
    stored: dict[str, Any], plain: dict[str, Any], catalogue: Catalogue, act: str, text: str, about: str
) -> tuple[str, ...]:
    after = operations_on(plain, act_operations(stored, catalogue, act, text, about))
    return tuple(what_is_made(plain, after, catalogue))


def _problem(text: str, error: TypedError) -> LookProblem:
    line = None
    if error.offer is not None:
        line = f"{text[: error.start]}{error.offer}{text[error.end :]}"
        line = re.sub(r"\s{2,}", " ", line)
    return LookProblem(str(error), error.start, error.end, error.offers if line else "", line)


def _guesses(plain: dict[str, Any], catalogue: Catalogue, text: str) -> tuple[Guess, ...]:
    """Kind, pins and end of every new device of a line, and what else each could be."""
    draft, visits = read_feed(plain, catalogue, text)
    guesses: list[Guess] = []
    for visit in (v for v in visits if v.new):
        device = draft.at("circuits", "devices", visit.device)
        guesses.append(_kind_guess(catalogue, text, visit, device))
        for what, pin in (("goes in at", visit.entered), ("out at", visit.left)):
            if pin is not None and len(device["pins"]) > 2:
                guesses.append(_pin_guess(text, visit, device, what, pin))
        pinout = draft.at("ends", "pinout")
        meeting = [e["connector"] for r, e in pinout.items() if device_of(r) == visit.device]
        if meeting:
            family = draft.at("ends", "connectors", meeting[0], "family")
            guesses.append(_end_guess(catalogue, text, visit, device, family))
    return tuple(guesses)


def _kind_guess(catalogue: Catalogue, text: str, visit: Visit, device: dict[str, Any]) -> Guess:
    letters = visit.device.rstrip("0123456789").upper()
    words = set(name_words(visit.step.name))
    meant = [
        k
        for k, kind in catalogue.kinds.items()
        if kind.prefix == letters or words & {w for noun in kind.words for w in name_words(noun)}
    ]
    nearly = None if visit.step.said_kind else _nearly(catalogue, visit.step.name, device["kind"])
    kinds = list(dict.fromkeys([device["kind"], *meant, OTHER]))[:_MOST_CHOICES]
    choices = tuple(
        Choice(catalogue.kinds[k].label, _with(text, visit, kind=in_brackets(catalogue, k)))
        for k in kinds
        if k in catalogue.kinds
    )
    if nearly is not None:
        said = re.sub(
            rf"\b{nearly[0]}\b", nearly[1], text[visit.step.start : visit.step.end], flags=re.IGNORECASE
        )
        line = f"{text[: visit.step.start]}{said}{text[visit.step.end :]}"
        choices = (choices[0], Choice(f"{nearly[1]}, misspelt", line), *choices[1:])
    return Guess(visit.device, "is", catalogue.kinds[device["kind"]].label, choices, nearly)


def _nearly(catalogue: Catalogue, name: str, kind: str) -> tuple[str, str] | None:
    """A word of a name that is nearly one that says a kind, and that one: any word of four letters on where
    no kind was found, else the last one, which would decide.
    """
    nouns = {noun for known_kind in catalogue.kinds.values() for noun in known_kind.words if noun.isalpha()}
    words = name_words(name)
    for word in reversed(words if kind == OTHER else words[-1:]):
        if len(word) < _LEAST_SPELT or any(n.startswith(word) or word.startswith(n) for n in nouns):
            continue
        exchanged = [n for n in sorted(nouns) if len(n) == len(word) and sorted(n) == sorted(word)]
        alike = exchanged or get_close_matches(word, sorted(nouns), n=1, cutoff=_SPELT_ALIKE)
        if alike:
            return word, alike[0]
    return None


def _pin_guess(text: str, visit: Visit, device: dict[str, Any], what: str, pin: str) -> Guess:
    entered, left = visit.entered, visit.left
    choices = []
    for other, known_pin in list(device["pins"].items())[: 2 * _MOST_CHOICES]:
        pins = (other, left) if what == "goes in at" else (entered, other)
        said = f"{visit.device}.{'/'.join(p for p in pins if p is not None)}"
        label = f"{other} {known_pin.get('name', '')}".strip()
        choices.append(Choice(label, _with(text, visit, place=said)))
    chosen = f"{pin} {device['pins'][pin].get('name', '')}".strip()
    return Guess(visit.device, what, chosen, tuple(choices))


def _end_guess(catalogue: Catalogue, text: str, visit: Visit, device: dict[str, Any], family: str) -> Guess:
    needs = len(device["pins"])
    group = catalogue.connectors[family].group
    able = [
        code
        for code, connector in catalogue.connectors.items()
        if any(h.ways >= needs for h in connector.housings)
    ]
    near = sorted(able, key=lambda c: (c != family, catalogue.connectors[c].group != group))
    choices = tuple(Choice(_family_label(catalogue, c), _with(text, visit, family=c)) for c in near)
    return Guess(visit.device, "on", _family_label(catalogue, family), choices)


def _family_label(catalogue: Catalogue, code: str) -> str:
    return f"{code} {catalogue.connectors[code].name}"


def _with(
    text: str, visit: Visit, *, kind: str | None = None, family: str | None = None, place: str | None = None
) -> str:
    """The line with one thing said of a step that was guessed before."""
    step = visit.step
    said = text[step.start : step.end]
    if place is not None:
        body = re.sub(r"^\s*\S+", "", said) if step.place else f" {said}"
        said = f"{place}{body}"
    else:
        kind = kind or (step.said_kind or None)
        family = family or step.family
        words = ", ".join(word for word in (kind, family) if word)
        body = re.sub(r"\s*\([^()]*\)", "", said) if step.said_kind or step.family else said
        said = f"{body.rstrip()} ({words})"
    return f"{text[: step.start]}{said}{text[step.end :]}"


def _following(plain: dict[str, Any], catalogue: Catalogue, start: Start, text: str) -> tuple[Choice, ...]:
    """What could stand at the end of a line: the rest of a word that is begun, else what may come next."""
    head = re.search(r"[^\s>,;()]*$", text)
    begun = head[0] if head is not None else ""
    before = text[: len(text) - len(begun)]
    way, equals, pin = begun.partition("=")
    if start == "connector" and equals:
        before, begun = f"{before}{way}=", pin
    terminals = could_stand(start, before)
    words: list[str] = []
    statement = statement_of(text) if start == "feed" else None
    if start == "connector" and equals:
        words += _pins_without_a_way(plain, begun)
    elif statement is not None:
        words += _said_after(plain, catalogue, statement, before)
    elif start == "feed" and "PLACE" in terminals:
        words += _places(plain, begun)
    if start == "run" and "POINT" in terminals:
        words += _points(plain, begun)
    if start == "connector" and re.search(r"\bat\s+$", before):
        words += _points(plain, begun)
    elif "WORD" in terminals and begun and statement is None:
        words += _nouns(plain, catalogue, start, begun)
    alike = [w for w in dict.fromkeys(words) if w.lower().startswith(begun.lower()) and w != begun]
    return tuple(Choice(w, f"{before}{w}") for w in alike[:_MOST_FOLLOWING])


def _places(plain: dict[str, Any], begun: str) -> list[str]:
    devices = plain["circuits"].get("devices", {})
    head, dot, _ = begun.partition(".")
    if dot and head in devices:
        return [f"{head}.{p}" for p in devices[head]["pins"]]
    return [*devices, *(("GND", "chassis") if begun else ())]


def _pins_without_a_way(plain: dict[str, Any], begun: str) -> list[str]:
    """Device pins that no connector holds yet; devices that have one, until one is named."""
    pinout = plain["ends"].get("pinout", {})
    loose = [
        f"{d}.{p}"
        for d, device in plain["circuits"].get("devices", {}).items()
        for p in device["pins"]
        if f"{d}.{p}" not in pinout
    ]
    return loose if "." in begun else [*dict.fromkeys(f"{device_of(ref)}." for ref in loose)]


def _said_after(plain: dict[str, Any], catalogue: Catalogue, statement: str, before: str) -> list[str]:
    """What may follow in a statement: a cable's family, the pin that lands its shield, else its circuits."""
    if statement != "cable":
        return [
            f"{d}.{p}" for d, device in plain["circuits"].get("devices", {}).items() for p in device["pins"]
        ]
    if re.search(r"\bfamily\s+$", before):
        return [f.code for f in catalogue.wires.values() if f.as_one or f.shielded]
    if re.search(r"\b(?:to|at|on)\s+$", before):
        return [*plain["circuits"].get("devices", {}), *plain["ends"].get("connectors", {})]
    return [*plain["circuits"].get("circuits", {}), "family", "drain to", "open at", "shield"]


def _points(plain: dict[str, Any], begun: str) -> list[str]:
    if not begun:
        return []
    return [
        *plain["route"].get("points", {}),
        *plain["ends"].get("connectors", {}),
        *plain["circuits"].get("devices", {}),
    ]


def _nouns(plain: dict[str, Any], catalogue: Catalogue, start: Start, begun: str) -> list[str]:
    if start == "feed":
        return sorted(
            {noun for kind in catalogue.kinds.values() for noun in kind.words} | {*GROUND_WORDS[:5]}
        )
    if start == "run":
        zones = [str(z["name"]) for z in plain["brief"].get("zones", {}).values()]
        return [*zones, "slack", "laid in place", "old part", "guess", "grommet", "clamp"]
    return [*catalogue.connectors]
