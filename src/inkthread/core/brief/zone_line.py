"""A zone as it is typed: its name, how hot its air gets, and what else is so there."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from typing import TYPE_CHECKING, Any

from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.quantity import QuantityError, parse_length_mm, parse_temperature_c, parse_time_s
from inkthread.core.record import record
from inkthread.core.typed.grammar import TypedError, parse_line

if TYPE_CHECKING:
    from lark import Token, Tree

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
    "dust": {"dust": True},
    "dusty": {"dust": True},
    "abrasion": {"abrasion": True},
    "rubbing": {"abrasion": True},
    "rubs": {"abrasion": True},
    "chafing": {"abrasion": True},
    "sun": {"radiant_w_per_m2": SUN_W_PER_M2},
    "in the sun": {"radiant_w_per_m2": SUN_W_PER_M2},
}
_IN_NAME = ("wet", "salt", "engine space", "vibration")
"""Of these a name says that it is so: a wet locker is wet, but what is under the seat is not under water."""
_LONGEST = 3
_BETWEEN = ("and", "with")
_NUMBER = re.compile(r"[-−]?\d+(?:[.,]\d+)?[cfk]?", re.IGNORECASE)


def read_zone(text: str, fluids: Collection[str]) -> dict[str, Any]:
    """Fields of the zone that a line says, but for its order. ``fluids`` are those that parts are judged by.

    ``exhaust 150 C wet``, ``bay, -40 to 85 C, wet, vibration, fuel`` and ``keel under water 2 m 90 min``: all
    after the temperature is what is so there, and so are such words at the end of the name. Every word is
    used, or refused by name. Raises LineError, a TypedError where it is known which letters are meant.
    """
    if not text.strip():
        raise LineError("A zone has a name. Write engine bay 85 C, or bay 85 C wet vibration fuel.")
    zone: dict[str, Any] = {"name": "", "ambient_c": UNSAID_C, "wet": False, "vibration": False}
    words = _words_of(parse_line("zone", text), zone)
    at = _temperature_at(words, fluids)
    name, after = (words[:at], words[at + 1 :]) if at is not None else (words, [])
    said = _conditions(after, fluids)
    name, before = _split_name(name, fluids)
    called = f" {' '.join(w.text for w in name).lower()} "
    said = [
        *(_CONDITIONS[word] for word in _IN_NAME if f" {word} " in called),
        *_conditions(before, fluids),
        *said,
    ]
    if not name or (_NUMBER.fullmatch(name[0].text) and name[0].text[-1].lower() in "cfk"):
        raise LineError("A zone has a name. Write engine bay 85 C, or bay 85 C wet vibration fuel.")
    zone["name"] = " ".join(w.text for w in name)
    if at is not None:
        said_c = _degrees(words[at].text, words[at].token, None)
        frost = said_c < 0 and zone.get("least_c") is None
        if frost:
            zone["least_c"] = said_c
        # Frost alone is how cold it gets; how warm, nobody has said, but of what is kept cold.
        if not frost or _KEPT_COLD & set(zone["name"].lower().split()):
            zone["ambient_c"] = said_c
    for condition in said:
        if isinstance(condition, dict):
            zone.update(condition)
    if splashed := [fluid for fluid in said if isinstance(fluid, str)]:
        zone["fluids"] = ", ".join(dict.fromkeys(splashed))
    _refuse_contradictions(zone)
    return zone


def _refuse_contradictions(zone: dict[str, Any]) -> None:
    if not zone.get("immersed") and ("immersed_m" in zone or "immersed_min" in zone):
        raise LineError("A depth or a time is said of what is under water: keel under water 2 m 90 min.")
    if zone.get("least_c") is not None and zone["least_c"] > zone["ambient_c"]:
        raise LineError("The coldest is warmer than the hottest. Write -40 to 85 C.")


def _words_of(tree: Tree[Token], zone: dict[str, Any]) -> list[_Word]:
    """The words of a zone's line. What says by itself what it is of is put into the zone."""
    words: list[_Word] = []
    for token in tree.scan_values(lambda _: True):
        if token.type == "TEMPERATURES":
            least, most = re.split(r"(?<=[\dCFKcfk])\s*(?:to|\.\.|…)\s*", str(token), maxsplit=1)
            unit = re.search(r"[cfk]\s*$", most, re.IGNORECASE)
            zone["least_c"] = _degrees(re.sub(r"^from\s+", "", least, flags=re.IGNORECASE), token, unit)
            words.append(_Word(re.sub(r"[\s°+]|deg(?:rees?)?", "", most), token))
        elif token.type == "ZONE_TEMPERATURE" and words and words[-1].text == _COLDEST:
            words.pop()
            zone["least_c"] = _degrees(str(token), token, None)
        elif token.type == "COLDEST":
            words.append(_Word(_COLDEST, token))
        elif token.type == "TIME":
            zone["immersed_min"] = round(_figure(parse_time_s, token) / 60, 6)
        elif token.type == "MEASURE" and not _NUMBER.fullmatch(str(token)):
            zone["immersed_m"] = round(_figure(parse_length_mm, token) / 1000, 6)
        elif token.type == "ZONE_TEMPERATURE":
            words.append(_Word(re.sub(r"[\s°]|deg(?:rees?)?(?=[\sCFK])", "", str(token), flags=re.I), token))
        elif token.type != "SEP":
            words.append(_Word(str(token), token))
    return words


_COLDEST = "\0"
"""Stands for the word before a temperature that says that it is the least."""


SAID_OF_ZONES = {
    "wet": False,
    "jets": False,
    "immersed": False,
    "immersed_m": None,
    "immersed_min": None,
    "salt": False,
    "vibration": False,
    "flex": False,
    "dust": False,
    "abrasion": False,
    "engine_space": False,
    "noisy": False,
    "sensitive": False,
    "no_structure": False,
    "fluids": "",
}
"""What words say of a zone, each as it is where nothing is said."""


def read_conditions(text: str, fluids: Collection[str]) -> dict[str, Any]:
    """All that is so in a zone by words alone: ``wet, vibration, fuel``. Raises LineError."""
    zone = read_zone(f"z 0 C {text}", fluids)
    said = {k: v for k, v in zone.items() if k not in ("name", "ambient_c")}
    return {**SAID_OF_ZONES, **said}


_KEPT_COLD = frozenset(("cold", "freezer", "frozen", "chiller", "chill", "ice", "fridge", "refrigerator"))
"""Words for a place that is never warm."""


def zone_into(draft: Draft, text: str, fluids: Collection[str], zone_id: str = "") -> None:
    """Put a typed zone into a draft, under an id made of its name where none is given. Raises LineError."""
    zone = read_zone(text, fluids)
    zones = draft.at("brief", "zones")
    base = re.sub(r"[^a-z0-9]+", "-", zone["name"].lower()).strip("-")[:30] or "zone"
    given = zone_id or (free_id(f"{base}-", zones) if base in zones else base)
    if given in zones:
        raise LineError(f"There is a zone {given} already.")
    draft.put({"order": next_order(zones), **zone}, "brief", "zones", given)


@record
class _Word:
    """A word of a zone, a figure as it is read, and where it stands."""

    text: str
    token: Token


def _figure(parse: Callable[[str], float], token: Token) -> float:
    try:
        return parse(str(token))
    except QuantityError as error:
        raise TypedError(str(error), int(token.start_pos or 0), int(token.end_pos or 0)) from None


def _degrees(text: str, token: Token, unit: re.Match[str] | None) -> float:
    if unit is not None and not re.search(r"[cfk]\s*$", text, re.IGNORECASE):
        text = f"{text} {unit[0].strip()}"
    try:
        return parse_temperature_c(text)
    except QuantityError as error:
        raise TypedError(str(error), int(token.start_pos or 0), int(token.end_pos or 0)) from None


def _temperature_at(words: list[_Word], fluids: Collection[str]) -> int | None:
    """Which word is the temperature: one with its unit, else a number after which only conditions stand."""
    numbers = [n for n, word in enumerate(words) if n and _NUMBER.fullmatch(word.text)]
    with_unit = [n for n in numbers if words[n].text[-1].lower() in "cfk"]
    if len(with_unit) > 1:
        first, second = (words[n] for n in with_unit[:2])
        raise TypedError(
            f"{first.text} and {second.text} are two temperatures. Say one, or from one to the other: "
            "-40 to 85 C.",
            int(second.token.start_pos or 0),
            int(second.token.end_pos or 0),
        )
    if with_unit:
        return with_unit[0]
    return next((n for n in reversed(numbers) if _all_known(words[n + 1 :], fluids)), None)


def _split_name(words: list[_Word], fluids: Collection[str]) -> tuple[list[_Word], list[_Word]]:
    """The name, and the conditions at its end."""
    for n in range(1, len(words)):
        if _all_known(words[n:], fluids):
            return words[:n], words[n:]
    return words, []


def _all_known(words: list[_Word], fluids: Collection[str]) -> bool:
    """Whether every word belongs to a condition."""
    try:
        _conditions(words, fluids)
    except LineError:
        return False
    return True


def _conditions(words: list[_Word], fluids: Collection[str]) -> list[Any]:
    """What the words say: fields of a zone, or a fluid. Raises TypedError naming what is not understood."""
    conditions: list[Any] = []
    at = 0
    while at < len(words):
        if words[at].text.lower() in _BETWEEN:
            at += 1
            continue
        for many in range(min(_LONGEST, len(words) - at), 0, -1):
            phrase = " ".join(w.text for w in words[at : at + many]).lower()
            if phrase in _CONDITIONS or phrase in fluids:
                conditions.append(_CONDITIONS.get(phrase, phrase))
                at += many
                break
        else:
            word = words[at]
            raise TypedError(
                f"{word.text!r} is not understood of a zone. It is wet, salt, jets, under water, vibration, "
                "flex, dust, abrasion, engine space, noisy, sensitive, wood, sun; "
                f"what splashes there is {', '.join(sorted(fluids))}.",
                int(word.token.start_pos or 0),
                int(word.token.end_pos or 0),
                partly=True,
            )
    return conditions
