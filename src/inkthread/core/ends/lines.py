"""Typed lines of the ends room: a connector put in, changed, copied, split and taken out.

``J3 SR16 6 way at tail`` is a connector of its own; ``M1 SR20`` gives one that is there another family.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any

from inkthread.core.catalogue import Catalogue, ConnectorFamily, Housing
from inkthread.core.circuits.new_device import place_pin
from inkthread.core.document.draft import Draft, LineError
from inkthread.core.document.pin_ref import read_ref
from inkthread.core.ends.refit import OnWay, refit_ways
from inkthread.core.rename import rename_in
from inkthread.core.typed.grammar import TypedError, parse_line

_EMPTY = {"spares": {}, "accessories": {}, "key": ""}


@dataclass(slots=True)
class _Said:
    """What a line says of a connector; ``None`` where nothing is."""

    connector: str
    family: str | None = None
    ways: int | None = None
    fields: dict[str, Any] = field(default_factory=dict)
    cavities: list[tuple[str, str, Any]] = field(default_factory=list)
    """Way, device pin, and where that stands."""
    takes: list[str] = field(default_factory=list)
    """Connectors whose pins it takes, and which go; or device pins, from where they are."""


_LIKE = re.compile(r"\s*(\S+)\s+like\s+(\S+)(.*)", re.IGNORECASE)
_CALLED = re.compile(
    r"\s*(\S+)\s+(?:is\s+)?(?:now\s+)?(?:called|renamed(?:\s+to)?)\s+(\S+)\s*", re.IGNORECASE
)
_OUT = re.compile(r"\s*(?:take\s+out\s+(\S+)|(\S+)\s+(?:is\s+)?taken\s+out)\s*", re.IGNORECASE)


def connector_line(plain: dict[str, Any], catalogue: Catalogue, text: str) -> Draft:
    """Operations that put in a connector as typed, or change the one that is there. Raises LineError."""
    draft = Draft(plain)
    connector_into(draft, catalogue, text)
    return draft


def connector_into(draft: Draft, catalogue: Catalogue, text: str) -> None:
    """Put a typed connector into a draft. Raises LineError, after which the draft is not to be used.

    ``J4 like J3``: one more like it. ``J3 called J9``: another id. ``take out J3``.
    """
    if (out := _OUT.fullmatch(text)) is not None:
        _take_out(draft, out[1] or out[2])
        return
    if (called := _CALLED.fullmatch(text)) is not None:
        _there(draft, called[1])
        rename_in(draft, "connectors", called[1], called[2])
        return
    if (like := _LIKE.fullmatch(text)) is not None:
        _copy(draft, like[2], like[1])
        if not like[3].strip():
            return
        text = f"{like[1]} {like[3].strip()}"
    said = _read(draft, catalogue, text)
    there = draft.at("ends", "connectors").get(said.connector)
    if there is None:
        _put_in(draft, catalogue, said, text)
    elif said.family is not None or said.ways is not None:
        refit(draft, catalogue, said.connector, said.family or there["family"], said.ways)
    family = catalogue.connectors.get(draft.at("ends", "connectors", said.connector, "family"))
    for name, value in said.fields.items():
        if name == "key" and family is not None:
            value = next((k for k in family.keyings if k.lower() == str(value).lower()), value)
        draft.put(value, "ends", "connectors", said.connector, name)
    for cavity, ref, token in said.cavities:
        _land(draft, catalogue, said.connector, cavity, ref, token)
    _take(draft, catalogue, said)


def _take(draft: Draft, catalogue: Catalogue, said: _Said) -> None:
    """Pins, and all the pins of connectors, that it takes."""
    pinout = draft.at("ends", "pinout")
    for other in said.takes:
        if "." in other:
            if pinout.get(other, {}).get("connector") != said.connector:
                if other in pinout:
                    draft.drop("ends", "pinout", other)
                place_pin(draft, catalogue, other, said.connector)
            continue
        refs = [r for r, e in pinout.items() if e["connector"] == other]
        for ref in sorted(refs, key=lambda r: float(pinout[r]["order"])):
            draft.drop("ends", "pinout", ref)
            place_pin(draft, catalogue, ref, said.connector)
        forget_connector(draft, other)


def _read(draft: Draft, catalogue: Catalogue, text: str) -> _Said:
    tree = parse_line("connector", text)
    parts: list[Any] = list(tree.children)
    said = _Said(str(parts[0]))
    words = parts[1:]
    n = 0
    while n < len(words):
        part = words[n]
        rule = getattr(part, "data", None)
        n += 1
        if rule is None:
            continue
        token = part.children[0]
        start, end = int(token.start_pos or 0), int(part.children[-1].end_pos or 0)
        if rule == "ways":
            said.ways = int("".join(c for c in str(token) if c.isdigit()))
        elif rule == "at":
            said.fields["point"] = _point(draft, str(part.children[-1]), start, end)
        elif rule == "cavity":
            way, _, ref = (side.strip() for side in str(token).partition("="))
            said.cavities.append((way, ref, token))
        elif rule == "bracket":
            said.fields["name"] = str(token)[1:-1].strip()
        else:
            n += _word(draft, catalogue, said, str(token), words[n:], (start, end))
    return said


def _point(draft: Draft, point: str, start: int, end: int) -> str:
    points = draft.at("route", "points")
    if point in points:
        return point
    named = [p for p, facts in points.items() if facts.get("name", "").lower() == point.lower()]
    if len(named) == 1:
        return str(named[0])
    known = ", ".join(points) or "none yet: type a run in Route"
    raise TypedError(f"There is no point {point!r} on the route. Points are {known}.", start, end)


_PLAIN_WORDS: dict[str, tuple[str, object]] = {
    "plug": ("shell", "plug"),
    "receptacle": ("shell", "receptacle"),
    "pin": ("contact_gender", "pin"),
    "pins": ("contact_gender", "pin"),
    "socket": ("contact_gender", "socket"),
    "sockets": ("contact_gender", "socket"),
    "panel": ("panel", True),
}
"""Words that say something of a connector by themselves: its field and value."""
_WITH_A_WORD = {
    "keyed": ("key", "keyed B"),
    "key": ("key", "keyed B"),
    "marked": ("mark", "marked red"),
    "mark": ("mark", "marked red"),
    "stud": ("stud", "stud M6"),
}
"""Words that the value follows: their field, and how it is written."""
_BETWEEN = ("on", "with", "connector", "and", "same")


def _word(
    draft: Draft, catalogue: Catalogue, said: _Said, word: str, after: list[Any], at: tuple[int, int]
) -> int:
    """Take a word of a connector line; how many of the words after it belong to it. Raises TypedError."""
    low = word.lower()
    family = next((c for c in catalogue.connectors if c.lower() == low), None)
    if family is not None:
        said.family = family
    elif low in _PLAIN_WORDS:
        field, value = _PLAIN_WORDS[low]
        said.fields[field] = value
    elif low in _WITH_A_WORD:
        field, written = _WITH_A_WORD[low]
        value = _following(word, after, written, at)
        said.fields[field] = value.upper() if field == "stud" else value
        return 1
    elif low == "turned" and _is_word(after):
        if str(after[0].children[0]).lower() != "over":
            raise TypedError("Write turned over, where its contacts lie the other way up.", *at)
        said.fields["turned_over"] = True
        return 1
    elif low in ("meets", "as"):
        other = _following(word, after, f"{low} J4", at)
        if other not in draft.at("ends", "connectors"):
            raise TypedError(f"There is no connector {other!r} to {low}.", *at)
        said.fields["meets" if low == "meets" else "same_as"] = other
        return 1
    elif low == "takes":
        return _takes(draft, said, after, at)
    elif low not in _BETWEEN:
        raise TypedError(
            f"{word!r} is not understood of a connector. Write its family, ways, place, shell, contacts and "
            "key: J3 SR16 6 way at tail receptacle pins keyed B.",
            *at,
            partly=True,
        )
    return 0


def _is_word(after: list[Any]) -> bool:
    return bool(after) and getattr(after[0], "data", "") == "word"


def _following(word: str, after: list[Any], written: str, at: tuple[int, int]) -> str:
    """The word after a word. Raises TypedError where there is none."""
    if not _is_word(after):
        raise TypedError(f"{word} what? Write {written}.", *at)
    return str(after[0].children[0]).strip('"')


def _takes(draft: Draft, said: _Said, after: list[Any], at: tuple[int, int]) -> int:
    """Connectors and pins that it takes; how many words they are. Raises TypedError where there is none."""
    connectors, devices = draft.at("ends", "connectors"), draft.at("circuits", "devices")
    for part in after:
        other = str(part.children[0]) if getattr(part, "data", "") == "word" else ""
        device, pin = read_ref(other)
        is_pin = pin in devices.get(device, {}).get("pins", {})
        if (other not in connectors or other == said.connector) and not is_pin:
            break
        said.takes.append(other)
    if not said.takes:
        raise TypedError(
            "takes what? Write the connectors or pins that it takes: takes M2 M3, or takes A1.O1.", *at
        )
    return len(said.takes)


def _housing(
    family: ConnectorFamily, ways: int | None, needs: int, named: frozenset[str] = frozenset()
) -> Housing:
    """The housing of so many ways, or the smallest that has room and the ways that are named. Raises
    LineError.
    """
    if ways is None:
        able = (h for h in family.housings if h.ways >= needs and named <= h.face.cavities.keys())
        return next(able, family.housings[-1])
    housing = family.housing(ways)
    if housing is None:
        counts = ", ".join(str(h.ways) for h in family.housings)
        raise LineError(f"{family.code} is not made with {ways} ways. It is made with {counts}.")
    return housing


def _shell(family: ConnectorFamily, wanted: str | None) -> str:
    if family.loose:
        return "none"
    if wanted in ("plug", "receptacle"):
        return wanted
    socketed = [s for s in ("plug", "receptacle") if family.gender_for(s) in (None, "socket")]
    return socketed[0] if socketed else "plug"


def _put_in(draft: Draft, catalogue: Catalogue, said: _Said, text: str) -> None:
    if said.family is None:
        raise TypedError(
            f"There is no {said.connector} yet. Say its family: {said.connector} SR16 6 way at tail.",
            0,
            len(text),
        )
    family = catalogue.connectors[said.family]
    shell = _shell(family, said.fields.get("shell"))
    points = draft.at("route", "points")
    named = frozenset(way for way, _, _ in said.cavities)
    draft.put(
        {
            "order": draft.next_order("ends", "connectors"),
            "family": family.code,
            "ways": _housing(family, said.ways, len(named), named).ways,
            "name": "",
            "point": said.connector if said.connector in points else None,
            "shell": shell,
            "contact_gender": family.gender_for(shell) or "socket",
            "stud": family.usual_stud,
        },
        "ends",
        "connectors",
        said.connector,
    )
    said.fields.pop("shell", None)


def refit(
    draft: Draft, catalogue: Catalogue, connector_id: str, code: str, ways: int | None
) -> tuple[str, ...]:
    """Give a connector another family or number of ways, and what is on it its ways there; the pins that
    have no place are taken off it, and named. Raises LineError.
    """
    there = draft.at("ends", "connectors", connector_id)
    family = catalogue.connectors[code]
    pinout = draft.at("ends", "pinout")
    mine = [r for r, e in pinout.items() if e["connector"] == connector_id]
    mine.sort(key=lambda r: float(pinout[r]["order"]))
    housing = _housing(
        family, ways if ways is not None or code != there["family"] else there["ways"], len(mine)
    )
    old = catalogue.connectors.get(there["family"])
    old_housing = old.housing(there["ways"]) if old is not None else None
    devices = draft.at("circuits", "devices")
    pins = [
        OnWay(r, devices[(d := read_ref(r)).device]["pins"][d.pin]["role"], pinout[r]["cavity"]) for r in mine
    ]
    given, left = refit_ways(
        pins, list(old_housing.face.cavities) if old_housing is not None else [], housing
    )
    shell = _shell(family, there["shell"])
    values = {
        "family": code,
        "ways": housing.ways,
        "shell": shell,
        "contact_gender": family.gender_for(shell) or there["contact_gender"],
        "stud": there.get("stud") if there.get("stud") in family.studs else family.usual_stud,
    }
    if code != there["family"]:
        values |= {
            k: v for k, v in _EMPTY.items() if there.get(k) and not _still(family, housing, k, there[k])
        }
    elif there.get("spares"):
        values["spares"] = {c: s for c, s in there["spares"].items() if c in housing.face.cavities}
    for name, value in values.items():
        if there.get(name) != value:
            draft.put(value, "ends", "connectors", connector_id, name)
    for ref, way in given.items():
        if pinout[ref]["cavity"] != way:
            draft.put(way, "ends", "pinout", ref, "cavity")
        if pinout[ref].get("contact") is not None and code != there["family"]:
            draft.put(None, "ends", "pinout", ref, "contact")
    for ref in left:
        draft.drop("ends", "pinout", ref)
    return left


def _still(family: ConnectorFamily, housing: Housing, name: str, value: Any) -> bool:
    """Whether what was said of a connector holds for another family too."""
    if name == "key":
        return value in family.keyings
    if name == "accessories":
        return all(code in {a.code for a in family.accessories} for code in value)
    return all(way in housing.face.cavities for way in value)


def _land(draft: Draft, catalogue: Catalogue, connector_id: str, cavity: str, ref: str, token: Any) -> None:
    start, end = int(token.start_pos or 0), int(token.end_pos or 0)
    device, pin = read_ref(ref)
    if pin not in draft.at("circuits", "devices").get(device, {}).get("pins", {}):
        raise TypedError(f"There is no device pin {ref}. Put it in first, in Circuits.", start, end)
    connector = draft.at("ends", "connectors", connector_id)
    housing = catalogue.connectors[connector["family"]].housing(connector["ways"])
    if housing is None or cavity not in housing.face.cavities:
        cavities = ", ".join(housing.face.cavities) if housing is not None else "none"
        raise TypedError(f"{connector_id} has no way {cavity!r}. Its ways are {cavities}.", start, end)
    pinout = draft.at("ends", "pinout")
    taken = next(
        (r for r, e in pinout.items() if (e["connector"], e["cavity"]) == (connector_id, cavity)), None
    )
    if taken is not None and taken != ref:
        raise TypedError(f"{connector_id}-{cavity} has {taken} already.", start, end)
    if ref in pinout:
        draft.put(connector_id, "ends", "pinout", ref, "connector")
        draft.put(cavity, "ends", "pinout", ref, "cavity")
    else:
        draft.put(
            {"order": draft.next_order("ends", "pinout"), "connector": connector_id, "cavity": cavity},
            "ends",
            "pinout",
            ref,
        )


def _there(draft: Draft, connector_id: str) -> dict[str, Any]:
    connector = draft.at("ends", "connectors").get(connector_id)
    if connector is None:
        raise LineError(f"There is no connector {connector_id!r}.")
    return dict(connector)


def copy_connector(plain: dict[str, Any], about: str, text: str) -> Draft:
    """Operations that put in a connector like another one, with nothing on it. Raises LineError."""
    draft = Draft(plain)
    connectors = draft.at("ends", "connectors")
    free = (f"{about}{c}" for c in "bcdefghijklmnopqrstuvwxyz" if f"{about}{c}" not in connectors)
    _copy(draft, about, text.strip() or next(free))
    return draft


def _copy(draft: Draft, about: str, new: str) -> None:
    like = _there(draft, about)
    if new in draft.at("ends", "connectors"):
        raise LineError(f"There is a connector {new} already.")
    copied = {
        **like,
        "order": draft.next_order("ends", "connectors"),
        "meets": None,
        "same_as": None,
        "spares": {},
    }
    draft.put(copied, "ends", "connectors", new)


def move_pins(plain: dict[str, Any], catalogue: Catalogue, about: str, text: str) -> Draft:
    """Operations that move pins to the connector ``about``: ``A1.O1 A1.O2``. Raises LineError."""
    draft = Draft(plain)
    _there(draft, about)
    refs = text.replace(",", " ").split()
    if not refs:
        raise LineError(f"Which pins go to {about}? Write A1.O1 A1.O2.")
    devices, pinout = draft.at("circuits", "devices"), draft.at("ends", "pinout")
    for ref in refs:
        device, pin = read_ref(ref)
        if pin not in devices.get(device, {}).get("pins", {}):
            raise LineError(f"There is no device pin {ref}.")
        if ref in pinout and pinout[ref]["connector"] != about:
            draft.drop("ends", "pinout", ref)
        if ref not in pinout:
            place_pin(draft, catalogue, ref, about)
    return draft


def take_out_connector(plain: dict[str, Any], about: str) -> Draft:
    """Operations that take out a connector; its pins have none then, and what met it meets a device."""
    draft = Draft(plain)
    _take_out(draft, about)
    return draft


def _take_out(draft: Draft, about: str) -> None:
    _there(draft, about)
    for ref, entry in list(draft.at("ends", "pinout").items()):
        if entry["connector"] == about:
            draft.drop("ends", "pinout", ref)
    forget_connector(draft, about)


def forget_connector(draft: Draft, connector: str) -> None:
    """Take out a connector that has no pins, and what names it."""
    for other_id, other in draft.at("ends", "connectors").items():
        for name in ("meets", "same_as"):
            if other.get(name) == connector:
                draft.put(None, "ends", "connectors", other_id, name)
    for group_id, group in draft.at("circuits", "groups").items():
        if group.get("shield_open") == connector:
            draft.put(None, "circuits", "groups", group_id, "shield_open")
    draft.drop("ends", "connectors", connector)
