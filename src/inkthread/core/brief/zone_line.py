"""A zone as it is typed: its name, how hot its air gets, and what else is so there."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Any

from inkthread.core.document.draft import LineError
from inkthread.core.quantity import QuantityError, parse_temperature_c

UNSAID_C = 40.0
"""Air of a zone of which no temperature is said."""
SUN_W_PER_M2 = 1000.0
"""Full sun (IEC 60287-3-1, the value taken where none is measured)."""

_CONDITIONS: dict[str, dict[str, Any]] = {
    "dry": {},
    "wet": {"wet": True},
    "splashed": {"wet": True},
    "salt": {"salt": True},
    "salty": {"salt": True},
    "salt water": {"salt": True, "wet": True},
    "jets": {"jets": True},
    "hosed down": {"jets": True},
    "washed down": {"jets": True},
    "under": {"immersed": True},
    "under water": {"immersed": True},
    "underwater": {"immersed": True},
    "immersed": {"immersed": True},
    "vibration": {"vibration": True},
    "vibrating": {"vibration": True},
    "shaking": {"vibration": True},
    "flex": {"flex": True},
    "flexing": {"flex": True},
    "engine space": {"engine_space": True},
    "noisy": {"noisy": True},
    "noise": {"noisy": True},
    "sensitive": {"sensitive": True},
    "no structure": {"no_structure": True},
    "wood": {"no_structure": True},
    "wooden": {"no_structure": True},
    "plastic": {"no_structure": True},
    "sun": {"radiant_w_per_m2": SUN_W_PER_M2},
    "in the sun": {"radiant_w_per_m2": SUN_W_PER_M2},
}
_IN_NAME = ("wet", "salt", "engine space", "vibration")
"""Of these a name says that it is so: a wet locker is wet, but what is under the seat is not under water."""
_LONGEST = 3
_BETWEEN = ("and", "with")
_DEGREES = re.compile(r"([-−]?\d[\d.,]*)\s*(?:°|deg(?:rees?)?)?\s*([cfk])\b", re.IGNORECASE)
_NUMBER = re.compile(r"[-−]?\d+(?:[.,]\d+)?[cfk]?", re.IGNORECASE)


def read_zone(text: str, fluids: Collection[str]) -> dict[str, Any]:
    """Fields of the zone that a line says, but for its order. ``fluids`` are those that parts are judged by.

    ``exhaust 150 C wet`` and ``bay, 85 C, wet, vibration, fuel``: all after the temperature is what is so
    there, and so are such words at the end of the name. Every word is used, or refused by name. Raises
    LineError.
    """
    words = re.sub(r"[,;]", " ", _DEGREES.sub(r" \1\2 ", text)).split()
    at = _temperature_at(words, fluids)
    name, after = (words[:at], words[at + 1 :]) if at is not None else (words, [])
    said = _conditions(after, fluids, text)
    name, before = _split_name(name, fluids)
    called = f" {' '.join(name).lower()} "
    said = [
        *(_CONDITIONS[word] for word in _IN_NAME if f" {word} " in called),
        *_conditions(before, fluids, text),
        *said,
    ]
    if not name or (_NUMBER.fullmatch(name[0]) and name[0][-1].lower() in "cfk"):
        raise LineError("A zone has a name. Write engine bay 85 C, or bay 85 C wet vibration fuel.")
    try:
        ambient = parse_temperature_c(words[at]) if at is not None else UNSAID_C
    except QuantityError as error:
        raise LineError(str(error)) from None
    zone: dict[str, Any] = {"name": " ".join(name), "ambient_c": ambient, "wet": False, "vibration": False}
    splashed = [x for x in said if isinstance(x, str)]
    for condition in said:
        if isinstance(condition, dict):
            zone.update(condition)
    if splashed:
        zone["fluids"] = ", ".join(dict.fromkeys(splashed))
    return zone


def _temperature_at(words: list[str], fluids: Collection[str]) -> int | None:
    """Which word is the temperature: one with its unit, else a number after which only conditions stand."""
    numbers = [n for n, word in enumerate(words) if n and _NUMBER.fullmatch(word)]
    with_unit = [n for n in numbers if words[n][-1].lower() in "cfk"]
    if len(with_unit) > 1:
        raise LineError(f"{words[with_unit[0]]} and {words[with_unit[1]]} are two temperatures. Say one.")
    if with_unit:
        return with_unit[0]
    return next((n for n in reversed(numbers) if _next(words[n + 1 :], fluids) is not None), None)


def _split_name(words: list[str], fluids: Collection[str]) -> tuple[list[str], list[str]]:
    """The name, and the conditions at its end."""
    for n in range(1, len(words)):
        if _next(words[n:], fluids) is not None:
            return words[:n], words[n:]
    return words, []


def _next(words: list[str], fluids: Collection[str]) -> list[Any] | None:
    """What the words say where each belongs to a condition; None where one does not."""
    try:
        return _conditions(words, fluids, "")
    except LineError:
        return None


def _conditions(words: list[str], fluids: Collection[str], text: str) -> list[Any]:
    """What the words say: fields of a zone, or a fluid. Raises LineError naming what is not understood."""
    found: list[Any] = []
    at = 0
    while at < len(words):
        if words[at].lower() in _BETWEEN:
            at += 1
            continue
        for many in range(min(_LONGEST, len(words) - at), 0, -1):
            phrase = " ".join(words[at : at + many]).lower()
            if phrase in _CONDITIONS or phrase in fluids:
                found.append(_CONDITIONS.get(phrase, phrase))
                at += many
                break
        else:
            raise LineError(
                f"{words[at]!r} of {text.strip()!r} is not understood. A zone is wet, salt, jets, "
                "under water, vibration, flex, engine space, noisy, sensitive, wood, sun; "
                f"what splashes there is {', '.join(sorted(fluids))}."
            )
    return found
