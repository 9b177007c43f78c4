"""A device put in: its kind's pins, paths, load and source, and the connector that meets it."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.catalogue import Catalogue, ConnectorFamily, DeviceKind
from inkthread.core.circuits.joining import circuit_of
from inkthread.core.document.draft import Draft, LineError, free_id, next_order

HALVES = ("a", "b")
"""The two sides of connectors that meet in a harness; pin ``a3`` meets ``b3``."""
_NUMBERED = re.compile(r"(.*?)(\d{1,3})")


def add_device(
    draft: Draft,
    catalogue: Catalogue,
    device_id: str,
    name: str,
    kind_id: str,
    *,
    pins: bool = True,
    family: str | None = None,
    end: bool = True,
) -> None:
    """A new device with its kind's pins, paths, load and source, and a connector that meets it, of the family
    that is named or that its kind has; or without ``pins`` and all that hangs on them, or without an ``end``.
    """
    kind = catalogue.kinds[kind_id]
    draft.put(
        {
            "order": draft.next_order("circuits", "devices"),
            "name": name,
            "kind": kind_id,
            "moving": False,
            "structure": kind.structure,
            "pins": {
                p.id: {
                    "order": n + 1.0,
                    "role": p.role,
                    "name": p.name,
                    **({} if p.switching == "not said" else {"switching": p.switching}),
                }
                for n, p in enumerate(kind.pins if pins else ())
            },
            "paths": {
                f"{n + 1}": {
                    "order": n + 1.0,
                    "from_pin": p.from_pin,
                    "to_pin": p.to_pin,
                    "kind": p.kind,
                    "rating_a": None,
                    "reason": "",
                    "contact_a": p.contact_a,
                    "out_v": p.out_v,
                    "efficiency_percent": p.efficiency_percent,
                    "throw": p.throw,
                }
                for n, p in enumerate(kind.paths if pins else ())
            },
        },
        "circuits",
        "devices",
        device_id,
    )
    if kind.load is not None and pins:
        loads = draft.at("circuits", "loads")
        load_id = device_id if device_id not in loads else draft.free_id("L", "circuits", "loads")
        draft.put(
            {
                "order": draft.next_order("circuits", "loads"),
                "device": device_id,
                "supply_pin": kind.load[0],
                "return_pin": kind.load[1],
                "current_a": 0.0,
                "service": "continuous",
                "kind": kind.load_kind,
            },
            "circuits",
            "loads",
            load_id,
        )
    if kind.source is not None and pins:
        supply = next(p.id for p in kind.pins if p.role == "supply_out")
        back = next(p.id for p in kind.pins if p.role == "ground")
        sources = draft.at("circuits", "sources")
        draft.put(
            {
                "order": draft.next_order("circuits", "sources"),
                "device": device_id,
                "supply_pin": supply,
                "return_pin": back,
                "kind": kind.source.kind,
                "internal_mohm": kind.source.internal_mohm,
            },
            "circuits",
            "sources",
            device_id if device_id not in sources else draft.free_id("S", "circuits", "sources"),
        )
    if not end:
        return
    meets = catalogue.connectors[family or kind.connector]
    if kind.halves:
        _add_halves(draft, catalogue, device_id, kind, meets)
    else:
        _add_connector(draft, catalogue, device_id, kind, meets, pins=pins)


def _add_connector(
    draft: Draft,
    catalogue: Catalogue,
    device_id: str,
    kind: DeviceKind,
    family: ConnectorFamily,
    *,
    pins: bool,
) -> None:
    connectors = draft.at("ends", "connectors")
    connector_id = device_id if device_id not in connectors else draft.free_id("P", "ends", "connectors")
    ids = {p.id for p in kind.pins}
    # Pins that are named as the ways of a housing go to the ways of their name.
    same = next((h for h in family.housings if ids and ids <= h.face.cavities.keys()), None)
    count = sum(p.role != "ignition" for p in kind.pins) or len(kind.pins)
    ways = next((h.ways for h in family.housings if h.ways >= count), family.housings[-1].ways)
    ways = same.ways if same is not None else ways
    # A shop's convention holds for the family that it names.
    agreed = dict(kind.ways) if family.code == kind.connector else {}
    if agreed:
        able = (
            h for h in family.housings if h.ways >= count and set(agreed.values()) <= h.face.cavities.keys()
        )
        ways = next((h.ways for h in able), ways)
    # Sockets on leads: the shell that carries them, the plug where either may.
    halves = [s for s in ("plug", "receptacle") if family.gender_for(s) in (None, "socket")]
    shell = "none" if family.loose else halves[0] if halves else "plug"
    towers = family.group == "ignition" and len(kind.pins) > 1
    if not towers:
        put_connector(draft, connector_id, family, ways, shell, stud=kind.stud)
    # Those with a way of their own first: the others take what is left.
    for pin in sorted(kind.pins, key=lambda p: p.id not in agreed) if pins else ():
        wanted = agreed.get(pin.id) or (pin.id if same is not None and not agreed else None)
        at = connector_id
        if pin.role == "ignition" and (towers or family.group != "ignition"):
            # Kilovolts have an end of their own.
            at = f"{device_id}{'-' if towers else ''}{pin.id}"
            is_a = draft.at("circuits", "devices", device_id, "kind")
            lead_end = next(f for f in catalogue.connectors.values() if is_a in f.made_for)
            put_connector(draft, at, lead_end, 1, "none")
        place_pin(draft, catalogue, f"{device_id}.{pin.id}", at, wanted)


def _add_halves(
    draft: Draft, catalogue: Catalogue, device_id: str, kind: DeviceKind, family: ConnectorFamily
) -> None:
    """Plug and receptacle of one family that meet, way by way."""
    if family.loose:
        raise LineError(
            f"{family.code} has no halves that meet. Choose one of plugs and receptacles for {device_id}."
        )
    ways = family.housings[0].ways
    genders = {s: family.gender_for(s) for s in ("plug", "receptacle")}
    socketed = "receptacle" if genders["receptacle"] == "socket" else "plug"
    shells = (socketed, "receptacle" if socketed == "plug" else "plug")
    for side, shell, gender in zip(HALVES, shells, ("socket", "pin"), strict=True):
        half = f"{device_id}{side}"
        if half in draft.at("ends", "connectors"):
            raise LineError(f"There is a connector {half} already. Give {device_id} another id.")
        put_connector(draft, half, family, ways, shell, gender=genders[shell] or gender)
    draft.put(f"{device_id}b", "ends", "connectors", f"{device_id}a", "meets")
    if kind.prefix and "bulkhead" in kind.words:
        draft.put(True, "ends", "connectors", f"{device_id}b", "panel")
    _place_through(draft, catalogue, device_id, "1", (f"{device_id}a", f"{device_id}b"))


def _place_through(
    draft: Draft, catalogue: Catalogue, device_id: str, number: str, halves: tuple[str, str]
) -> None:
    """Give a way through two halves the same cavity of both: that of its number where there is one."""
    family = catalogue.connectors[draft.at("ends", "connectors", halves[0], "family")]
    numbered = any(number in h.face.cavities for h in family.housings)
    place_pin(draft, catalogue, f"{device_id}.a{number}", halves[0], number if numbered else None)
    cavity = draft.at("ends", "pinout", f"{device_id}.a{number}", "cavity")
    place_pin(draft, catalogue, f"{device_id}.b{number}", halves[1], cavity)


_LARGER = {True: ("TAB63", "BLADE63", "BLADE95", "RING"), False: ("SR12", "GL50", "GL175", "RING")}
"""Ends for more current, the least first: of loose terminals, and of connectors."""
_MARGIN = 1.4
"""Of a load, what its contacts should carry: its fuse is a third above it, and they are not below that."""


_A_PER_MM2 = 5.0
"""Of the wire that such a current comes by (common practice, no source)."""


def carrying_family(catalogue: Catalogue, kind: DeviceKind, current_a: float) -> str:
    """The family of connector for a new device of a kind that so much current goes through: the kind's own
    where its contacts carry it, else the least that do.
    """
    own = catalogue.connectors[kind.connector]

    def carries(code: str) -> bool:
        family = catalogue.connectors.get(code)
        if family is None or all(h.ways < len(kind.pins) for h in family.housings):
            return False
        # Ways with a polarity are for a load, not for what lies in one pole.
        if code != own.code and kind.paths and any(h.roles for h in family.housings):
            return False
        return _holds(family, current_a)

    if current_a <= 0 or carries(own.code):
        return own.code
    larger = _LARGER[own.loose]
    return next((code for code in larger if carries(code)), larger[-1])


_RELAY_BASES = {2: "RBLK", 3: "RBLKW"}
"""What the house rule on relays means besides single terminals: the family of the base."""


def relay_joined(draft: Draft, catalogue: Catalogue, kind: DeviceKind, current_a: float) -> str | None:
    """The base of a new relay, where the house joins relays by one and it carries so much; None otherwise."""
    if kind.label != "relay":
        return None
    brief = draft.plain["brief"]
    own = brief.get("house_rules", {}).get("relay_joined")
    value = own["value"] if own else catalogue.rules["relay_joined"].values[brief["practice"]]
    family = catalogue.connectors.get(_RELAY_BASES.get(int(value or 1), ""))
    return family.code if family is not None and _holds(family, current_a) else None


def _holds(family: ConnectorFamily, current_a: float) -> bool:
    """Whether a contact of it carries a current with something to spare, and takes a wire that is not far too
    thick for it.
    """
    area_mm2 = current_a / _A_PER_MM2
    return any(
        c.current_by_area[-1][1] >= current_a * _MARGIN
        and c.conductor_min_mm2 <= max(area_mm2, 1.0)
        and c.conductor_max_mm2 >= area_mm2
        for c in family.contacts
    )


def put_connector(
    draft: Draft,
    connector_id: str,
    family: ConnectorFamily,
    ways: int,
    shell: str,
    *,
    gender: str | None = None,
    stud: str | None = None,
) -> None:
    """A connector of a family at no point yet, or at the point of its name."""
    draft.put(
        {
            "order": draft.next_order("ends", "connectors"),
            "family": family.code,
            "ways": ways,
            "name": "",
            "point": connector_id if connector_id in draft.at("route", "points") else None,
            "shell": shell,
            "contact_gender": gender or family.gender_for(shell) or "socket",
            "stud": stud if stud in family.studs else None,
        },
        "ends",
        "connectors",
        connector_id,
    )


def place_pin(
    draft: Draft, catalogue: Catalogue, ref: str, connector_id: str, wanted: str | None = None
) -> None:
    """Give a device pin the cavity that is wanted, else the next free one; the connector grows if it has
    none. Raises LineError.
    """
    connector = draft.at("ends", "connectors", connector_id)
    family = catalogue.connectors[connector["family"]]
    pinout = draft.at("ends", "pinout")
    having = draft.having("connector", lambda e: (e["connector"],), connector_id, "ends", "pinout")
    taken = {pinout[r]["cavity"] for r in having if r != ref}
    bigger = [h for h in family.housings if h.ways >= connector["ways"]]
    for housing in bigger:
        free = next((c for c in housing.face.cavities if c not in taken and wanted in (None, c)), None)
        if free is None:
            continue
        if housing.ways != connector["ways"]:
            draft.put(housing.ways, "ends", "connectors", connector_id, "ways")
        draft.put(
            {"order": draft.next_order("ends", "pinout"), "connector": connector_id, "cavity": free},
            "ends",
            "pinout",
            ref,
        )
        return
    larger = _larger(catalogue, family, connector["ways"])
    such_as = f", as {connector_id} {larger}" if larger else ""
    raise LineError(
        f"{connector_id} has no way free, and {family.code} is not made larger. "
        f"Add a second connector, or choose a larger family in Ends{such_as}."
    )


def _larger(catalogue: Catalogue, family: ConnectorFamily, ways: int) -> str | None:
    """A family with halves that is as tight and has more ways, the fewest first."""
    able = [
        (min(h.ways for h in f.housings if h.ways > ways), f.group != family.group, f.code)
        for f in catalogue.connectors.values()
        if bool(f.genders) == bool(family.genders)
        and f.loose == family.loose
        and f.sealed == family.sealed
        and f.group not in ("fuse and relay", "coax", "controller")
        and any(h.ways > ways for h in f.housings)
    ]
    return min(able, key=lambda x: (x[1], x[0], x[2]))[2] if able else None


def kind_of(draft: Draft, catalogue: Catalogue, device_id: str) -> DeviceKind | None:
    """The kind of a device, if it is one that is known."""
    return catalogue.kinds.get(draft.at("circuits", "devices", device_id, "kind"))


def has_row(draft: Draft, catalogue: Catalogue, device_id: str) -> bool:
    """Whether a device has a row of ways out, each behind a path of its own."""
    kind = kind_of(draft, catalogue, device_id)
    return kind is not None and kind.row and bool(draft.at("circuits", "devices", device_id, "paths"))


def like_pin(draft: Draft, device_id: str, wanted: str) -> str | None:
    """The pin that a further one of a row would be made like: ``out1`` for ``out4``, ``O1`` for ``O2``."""
    match = _NUMBERED.fullmatch(wanted)
    if match is None:
        return None
    pins = draft.at("circuits", "devices", device_id, "pins")
    return next(
        (p for p in pins if (other := _NUMBERED.fullmatch(p)) is not None and other[1] == match[1]), None
    )


def another_pin(
    draft: Draft, catalogue: Catalogue, device_id: str, wanted: str, carries_a: float = 0.0
) -> str:
    """A further pin of a row of a device: its role, its path and its connector are those of the one before.

    A loose terminal that does not suit what it carries is one of its own. Raises LineError where the device
    has no such row.
    """
    kind = kind_of(draft, catalogue, device_id)
    if kind is not None and kind.halves:
        return another_way_through(draft, catalogue, device_id, wanted)
    like = like_pin(draft, device_id, wanted)
    if like is None:
        known = ", ".join(draft.at("circuits", "devices", device_id, "pins"))
        raise LineError(f"{device_id} has no pin {wanted!r}. It has {known}.")
    at = ("circuits", "devices", device_id)
    pins, paths = draft.at(*at, "pins"), draft.at(*at, "paths")
    number = (_NUMBERED.fullmatch(wanted) or ["", "", ""])[2]
    name = re.sub(r"\d+$", number, pins[like].get("name", ""))
    draft.put({**pins[like], "order": next_order(pins), "name": name}, *at, "pins", wanted)
    for path in [p for p in paths.values() if like in (p["from_pin"], p["to_pin"])][:1]:
        ends = {e: wanted if path[e] == like else path[e] for e in ("from_pin", "to_pin")}
        made = {**path, **ends, "order": next_order(paths), "rating_a": None, "reason": ""}
        draft.put(made, *at, "paths", free_id("", paths))
    _place_beside(draft, catalogue, f"{device_id}.{wanted}", f"{device_id}.{like}", carries_a)
    return wanted


def put_new_pin(
    draft: Draft, catalogue: Catalogue, device_id: str, pin: str, role: str, name: str = ""
) -> None:
    """A pin of a device that its kind does not have, and a way for it. Raises LineError."""
    pins = draft.at("circuits", "devices", device_id, "pins")
    if pin in pins:
        raise LineError(f"{device_id} has a pin {pin} already.")
    at = ("circuits", "devices", device_id, "pins")
    draft.put({"order": next_order(pins), "role": role, "name": name}, *at, pin)
    _place_beside(draft, catalogue, f"{device_id}.{pin}")


def free_way_out(draft: Draft, catalogue: Catalogue, device_id: str, carries_a: float = 0.0) -> str | None:
    """The next output of a row that nothing has yet; None where the device has no row of them."""
    kind = kind_of(draft, catalogue, device_id)
    if not has_row(draft, catalogue, device_id) or kind is None or kind.halves or kind.meets_all:
        return None
    paths = sorted(
        draft.at("circuits", "devices", device_id, "paths").values(), key=lambda p: float(p["order"])
    )
    for path in paths:
        if circuit_of(draft, f"{device_id}.{path['to_pin']}") is None:
            return str(path["to_pin"])
    further = _next_of(draft, device_id, paths[0]["to_pin"])
    return another_pin(draft, catalogue, device_id, further, carries_a)


def free_terminal(draft: Draft, catalogue: Catalogue, device_id: str) -> str:
    """A terminal that has no wire yet of a device at which wires meet: one of its own for every wire."""
    pins = draft.at("circuits", "devices", device_id, "pins")
    for pin in sorted(pins, key=lambda p: float(pins[p]["order"])):
        if circuit_of(draft, f"{device_id}.{pin}") is None:
            return str(pin)
    last = max(pins, key=lambda p: float(pins[p]["order"]))
    return another_pin(draft, catalogue, device_id, _next_of(draft, device_id, last))


def free_way_through(draft: Draft, catalogue: Catalogue, device_id: str) -> str:
    """The number of the next way through two halves that nothing has yet."""
    pins = draft.at("circuits", "devices", device_id, "pins")
    numbers = [str(p)[1:] for p in pins if p[:1] == "a" and f"b{p[1:]}" in pins]
    for number in numbers:
        if all(circuit_of(draft, f"{device_id}.{side}{number}") is None for side in HALVES):
            return number
    count = 1
    while f"a{count}" in pins:
        count += 1
    another_way_through(draft, catalogue, device_id, f"a{count}")
    return str(count)


def another_way_through(draft: Draft, catalogue: Catalogue, device_id: str, pin: str) -> str:
    """A further way through two halves that meet: the same cavity of both. The pin that was wanted."""
    number = pin[1:]
    pins = draft.at("circuits", "devices", device_id, "pins")
    if pin[:1] not in HALVES or not number or f"a{number}" in pins:
        raise LineError(f"{device_id} has no pin {pin!r}. Its ways are {', '.join(pins)}.")
    at = ("circuits", "devices", device_id)
    like = next(iter(draft.at(*at, "paths").values()), None)
    for side in HALVES:
        draft.put({"order": next_order(pins), "role": "signal", "name": ""}, *at, "pins", f"{side}{number}")
    paths = draft.at(*at, "paths")
    path = {**(like or {}), "order": next_order(paths), "from_pin": f"a{number}", "to_pin": f"b{number}"}
    draft.put({"kind": "link", "rating_a": None, "reason": "", **path}, *at, "paths", free_id("", paths))
    halves = [_half_of(draft, device_id, side) for side in HALVES]
    if halves[0] is not None and halves[1] is not None:
        _place_through(draft, catalogue, device_id, number, (halves[0], halves[1]))
    return pin


def _half_of(draft: Draft, device_id: str, side: str) -> str | None:
    """The connector that has the pins of one side."""
    pinout = draft.at("ends", "pinout")
    pins = draft.at("circuits", "devices", device_id, "pins")
    refs = (f"{device_id}.{p}" for p in pins if p[:1] == side)
    return next((str(pinout[r]["connector"]) for r in refs if r in pinout), None)


def _next_of(draft: Draft, device_id: str, pin: str) -> str:
    """The first name that is free in the row of a pin."""
    match = _NUMBERED.fullmatch(pin)
    prefix, number = (match[1], int(match[2])) if match is not None else (pin, 1)
    while f"{prefix}{number}" in draft.at("circuits", "devices", device_id, "pins"):
        number += 1
    return f"{prefix}{number}"


def _place_beside(
    draft: Draft, catalogue: Catalogue, ref: str, like: str = "", carries_a: float = 0.0
) -> None:
    """Give a further pin a way at its device's connectors, first at that of the pin it is like; one more of
    them if all are full, or if none suits what it carries.
    """
    device_id = ref.partition(".")[0]
    pinout = draft.at("ends", "pinout")
    meeting = [e["connector"] for r, e in pinout.items() if r.partition(".")[0] == device_id]
    if like in pinout:
        meeting.insert(0, pinout[like]["connector"])
    other = _of_its_own(draft, catalogue, device_id, meeting[:1], carries_a)
    if other is not None:
        held = draft.at("ends", "connectors")
        meeting = [c for c in meeting if held[c]["family"] == other.code]
        if not meeting:
            one = _next_connector(draft, device_id, ref)
            put_connector(draft, one, other, 1, "none")
            place_pin(draft, catalogue, ref, one)
            return
    for connector_id in dict.fromkeys(meeting):
        try:
            place_pin(draft, catalogue, ref, connector_id)
        except LineError:
            continue
        return
    if not meeting:
        return
    connectors = draft.at("ends", "connectors")
    one = _next_connector(draft, device_id, ref)
    again: dict[str, Any] = {
        **connectors[meeting[-1]],
        "order": draft.next_order("ends", "connectors"),
        "ways": 1,
    }
    draft.put(again, "ends", "connectors", one)
    place_pin(draft, catalogue, ref, one)


def _next_connector(draft: Draft, device_id: str, ref: str) -> str:
    connectors = draft.at("ends", "connectors")
    names = (f"{device_id}{letter}" for letter in "bcdefghijklmnopqrstuvwxyz")
    one = next((x for x in names if x not in connectors), None)
    if one is None:
        raise LineError(f"{device_id} has no room for {ref}. Put in a second device like it.")
    return one


def _of_its_own(
    draft: Draft, catalogue: Catalogue, device_id: str, at: list[str], carries_a: float
) -> ConnectorFamily | None:
    """The loose terminals of a pin, where those of the pin before it do not suit what it carries."""
    kind = kind_of(draft, catalogue, device_id)
    if not at or not carries_a or kind is None:
        return None
    before = catalogue.connectors[draft.at("ends", "connectors", at[0], "family")]
    if not before.loose or before.code not in (kind.connector, *_LARGER[True]) or _holds(before, carries_a):
        return None
    other = catalogue.connectors[carrying_family(catalogue, kind, carries_a)]
    return other if other.loose and other.code != before.code else None
