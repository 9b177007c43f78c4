"""Which device that is there already a bare word of a typed line means: ``battery``, ``ground``, ``+12``."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.joining import circuit_of
from inkthread.core.circuits.pins_of_device import kind_of
from inkthread.core.circuits.typed_step import TypedStep
from inkthread.core.document.draft import Draft, LineError, free_id
from inkthread.core.document.values import CONVERTING

GROUND_WORDS = ("ground", "gnd", "earth", "chassis", "frame", "return", "minus", "negative", "0v", "-")
"""Words for what a return goes to: the machine's structure where there is a stud, else the source."""
STRUCTURE_WORDS = ("chassis", "frame")
_RAIL_WITHIN = 0.15
"""How far off a supply may be from the volts that name it: +12 is a supply of 13.2 V."""


def meant(draft: Draft, catalogue: Catalogue, step: TypedStep, begun: str | None) -> str | None:
    """The device that is there already and that a step without an id means, if it does.

    ``begun`` is the device at which the line begins. Raises LineError where it could be several.
    """
    if step.place:
        return None
    if step.rail_v is not None:
        return _rail(draft, catalogue, step.rail_v)
    word = step.name.lower().strip()
    if not step.bare or not word:
        return None
    if word in GROUND_WORDS:
        return _ground(draft, catalogue, word, begun)
    alike = called(draft, catalogue, word)
    if len(alike) > 1:
        raise LineError(f"{step.name!r} could be {' or '.join(alike)}. Write which.")
    return alike[0] if alike else None


def called(draft: Draft, catalogue: Catalogue, word: str) -> list[str]:
    """The devices that a bare word can mean, of those that many lines go by."""
    devices = draft.at("circuits", "devices")
    return [d for d in devices if _called(draft, catalogue, d, word) and _is_kept(draft, catalogue, d)]


def _called(draft: Draft, catalogue: Catalogue, device_id: str, word: str) -> bool:
    """Whether a bare word is its name or what it is; a lithium battery is a battery too."""
    kind = kind_of(draft, catalogue, device_id)
    named = str(draft.at("circuits", "devices", device_id, "name")).lower()
    called = (named, *((kind.label.lower(), *kind.words) if kind is not None else ()))
    return any(name == word or name.endswith(f" {word}") for name in called)


def _is_kept(draft: Draft, catalogue: Catalogue, device_id: str) -> bool:
    """Whether a harness has one of it that many lines go by: what feeds, and where wires meet."""
    kind = kind_of(draft, catalogue, device_id)
    return kind is not None and (kind.source is not None or kind.meets_all or (kind.row and not kind.halves))


def _rail(draft: Draft, catalogue: Catalogue, volts: float) -> str:
    """The source of about so many volts."""
    brief = draft.at("brief")
    working = float(brief.get("supply_working_v") or 12.0)
    rails: dict[str, float] = {}
    for source in draft.at("circuits", "sources").values():
        rails[source["device"]] = float(source.get("nominal_v") or working)
    for device_id, device in draft.at("circuits", "devices").items():
        for path in device.get("paths", {}).values():
            if path["kind"] in CONVERTING and path.get("out_v"):
                rails[device_id] = float(path["out_v"])
    near = [d for d, v in rails.items() if abs(v - volts) <= _RAIL_WITHIN * volts]
    if len(near) == 1:
        return near[0]
    if near:
        raise LineError(f"+{volts:g} could be {' or '.join(near)}. Write which.")
    raise LineError(f"Nothing here makes {volts:g} V. Put in what does, like B1 battery {volts:g} V.")


def _ground(draft: Draft, catalogue: Catalogue, word: str, begun: str | None) -> str | None:
    """What a return goes to: a ground block or stud if there is one, else the source the line began at, else
    the only one; what charges the only battery is no other.
    """
    devices = draft.at("circuits", "devices")
    studs = [d for d, device in devices.items() if device.get("structure")]
    if word not in STRUCTURE_WORDS and not studs:
        studs = [d for d in devices if kind_of(draft, catalogue, d) and _is_ground_block(draft, catalogue, d)]
    if len(studs) > 1:
        raise LineError(f"{word!r} could be {' or '.join(studs)}. Write which.")
    if studs:
        return str(studs[0])
    blocks = [d for d in devices if _holds_grounds(draft, d)]
    if blocks and word not in STRUCTURE_WORDS:
        pins = devices[blocks[0]]["pins"]
        free = next((p for p in pins if circuit_of(draft, f"{blocks[0]}.{p}") is None), None)
        at = f"{blocks[0]}.{free or free_id('', pins)}"
        raise LineError(
            f"{word!r} could be {' or '.join(blocks)}, whose pins are each for one wire, or a source. "
            f"Name the pin: {at}."
        )
    if word in STRUCTURE_WORDS:
        return None
    if begun is not None and is_source(draft, begun):
        return begun
    stated = draft.at("circuits", "sources").values()
    batteries = {s["device"] for s in stated if s["kind"] == "battery"}
    charging = all(s["kind"] in ("battery", "alternator", "charger") for s in stated)
    sources = list(dict.fromkeys(s["device"] for s in stated if not charging or s["device"] in batteries))
    if len(sources) > 1:
        raise LineError(f"{word!r} could be the return of {' or '.join(sources)}. Write which.")
    return str(sources[0]) if sources else None


def _holds_grounds(draft: Draft, device_id: str) -> bool:
    """Whether it is called a ground and has nothing but ground pins, each for a wire of its own."""
    device = draft.at("circuits", "devices", device_id)
    roles = [p["role"] for p in device["pins"].values()]
    called_so = any(w in str(device["name"]).lower().split() for w in GROUND_WORDS)
    return called_so and len(roles) > 1 and all(role == "ground" for role in roles)


def _is_ground_block(draft: Draft, catalogue: Catalogue, device_id: str) -> bool:
    kind = kind_of(draft, catalogue, device_id)
    name = str(draft.at("circuits", "devices", device_id, "name")).lower()
    return kind is not None and kind.meets_all and any(w in name.split() for w in GROUND_WORDS)


def is_source(draft: Draft, device_id: str) -> bool:
    """Whether current comes from it: it gives and takes none, or it is the structure."""
    device = draft.at("circuits", "devices", device_id)
    roles = {pin["role"] for pin in device["pins"].values()}
    return bool(device.get("structure")) or ("supply_out" in roles and "supply_in" not in roles)
