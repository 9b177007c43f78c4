"""What is said of a harness that fails on its machine: ``E1 lamp dim, 9.8 V at J3-2; E2 works``."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping

from inkthread.core.catalogue.proofs import Symptom
from inkthread.core.document.types import Document
from inkthread.core.quantity import QuantityError, parse_number
from inkthread.core.record import record

_VOLTS = re.compile(r"^(?P<volts>-?[\d.,]+)\s*(?:V|volts?)?\s+(?:at|on)\s+(?P<place>\S+)$", re.IGNORECASE)
_BLOWS = re.compile(r"^(?:fuse\s+)?(?P<fuse>\S+)(?:\s+\S+)*?\s+(?:blows|blew|blown|trips)$", re.IGNORECASE)
_MOST_V = 1000.0


class BadComplaint(ValueError):
    """A part of what was typed is not understood. The message says which, and what would be."""


@record
class VoltsRead:
    """What a meter showed at a place against the battery's minus."""

    place: str
    volts: float


@record
class Told:
    """How a device does: a part of its usual volts, between two."""

    device: str
    symptom: Symptom


@record
class Complaint:
    """What was told and what was read."""

    told: tuple[Told, ...]
    volts: tuple[VoltsRead, ...]
    blows: str = ""
    """The fuse that blows, ``device.path``; empty where none does."""


def read_complaint(
    text: str,
    document: Document,
    places: Collection[str],
    symptoms: tuple[Symptom, ...],
    fuses: Collection[str] = (),
) -> Complaint:
    """Parts between commas and semicolons, each a reading, how a device does, or a fuse that blows. Raises
    BadComplaint.
    """
    told: list[Told] = []
    volts: list[VoltsRead] = []
    blows = ""
    by_words = {words: s for s in symptoms for words in s.words}
    known = {place.casefold(): place for place in places}
    for part in (p.strip() for p in re.split(r"[;\n]|,(?!\d)", text)):
        if not part:
            continue
        match = _VOLTS.match(part)
        blown = _BLOWS.match(part)
        if match is not None:
            volts.append(_reading(match, known))
        elif blown is not None:
            blows = _fuse(blown["fuse"], fuses)
        else:
            told.append(_told(part, document, by_words))
    if not told and not volts and not blows:
        raise BadComplaint("Say what fails: E1 lamp dim, 9.8 V at J3-2, say.")
    return Complaint(tuple(told), tuple(volts), blows)


def _fuse(said: str, fuses: Collection[str]) -> str:
    """A fuse by its name, or by its device where that has one only."""
    whole = [f for f in fuses if f.casefold() == said.casefold()]
    of_device = [f for f in fuses if f.partition(".")[0].casefold() == said.casefold()]
    if len(whole or of_device) == 1:
        return (whole or of_device)[0]
    if of_device:
        raise BadComplaint(f"{said} has several: say which of {', '.join(of_device)} blows.")
    raise BadComplaint(f"There is no fuse {said!r}: name it as in Circuits, {next(iter(fuses), 'F1')} say.")


def _reading(match: re.Match[str], known: Mapping[str, str]) -> VoltsRead:
    try:
        volts = parse_number(match["volts"])
    except QuantityError:
        volts = _MOST_V + 1
    if not -_MOST_V <= volts <= _MOST_V:
        raise BadComplaint(f"{match['volts']!r} is no figure in V: type 9.8 V at J3-2, say.")
    place = known.get(match["place"].casefold())
    if place is None:
        raise BadComplaint(
            f"There is no place {match['place']!r} that current reaches: "
            "name a connector and its way as on the sheet of expected volts."
        )
    return VoltsRead(place, volts)


def _told(part: str, document: Document, by_words: Mapping[str, Symptom]) -> Told:
    words = next(
        (w for w in sorted(by_words, key=len, reverse=True) if re.search(rf"\b{re.escape(w)}$", part, re.I)),
        None,
    )
    if words is None:
        some = ", ".join(list(by_words)[:8])
        raise BadComplaint(f"{part!r} is not understood: say what it does, one of {some}; or 9.8 V at J3-2.")
    who = re.sub(r"\s+(is|are)$", "", part[: -len(words)].strip(), flags=re.I)
    devices = _devices(who, document)
    if not devices:
        raise BadComplaint(f"There is no device {who!r} that draws current: name it as in Circuits.")
    if len(devices) > 1:
        named = ", ".join(f"{d} {document.circuits.devices[d].name}" for d in devices)
        raise BadComplaint(f"{who!r} may be {named}: begin with its letter and number.")
    return Told(devices[0], by_words[words])


def _devices(who: str, document: Document) -> list[str]:
    """Devices that have a load, by id, else by name."""
    loaded = {load.device for load in document.circuits.loads.values()}
    first = who.split(" ", 1)[0].casefold()
    by_id = [d for d in document.circuits.devices if d in loaded and d.casefold() in (who.casefold(), first)]
    if by_id or not who:
        return by_id[:1]
    return [
        d
        for d, device in document.circuits.devices.items()
        if d in loaded and who.casefold() in device.name.casefold()
    ]
