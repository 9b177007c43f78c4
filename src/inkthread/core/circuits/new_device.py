"""A device put in: its kind's pins, paths, load and source, and the connector that meets it."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue, ConnectorFamily, DeviceKind
from inkthread.core.document.draft import Draft, LineError

HALVES = ("a", "b")
"""The two sides of connectors that meet in a harness; pin ``a3`` meets ``b3``."""


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
    place_through(draft, catalogue, device_id, "1", (f"{device_id}a", f"{device_id}b"))


def place_through(
    draft: Draft, catalogue: Catalogue, device_id: str, number: str, halves: tuple[str, str]
) -> None:
    """Give a way through two halves the same cavity of both: that of its number where there is one."""
    family = catalogue.connectors[draft.at("ends", "connectors", halves[0], "family")]
    numbered = any(number in h.face.cavities for h in family.housings)
    place_pin(draft, catalogue, f"{device_id}.a{number}", halves[0], number if numbered else None)
    cavity = draft.at("ends", "pinout", f"{device_id}.a{number}", "cavity")
    place_pin(draft, catalogue, f"{device_id}.b{number}", halves[1], cavity)


LARGER_TERMINALS = {True: ("TAB63", "BLADE63", "BLADE95", "RING"), False: ("SR12", "GL50", "GL175", "RING")}
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
        return family_carries(family, current_a)

    if current_a <= 0 or carries(own.code):
        return own.code
    larger = LARGER_TERMINALS[own.loose]
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
    return family.code if family is not None and family_carries(family, current_a) else None


def family_carries(family: ConnectorFamily, current_a: float) -> bool:
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
    return min(able, key=lambda choice: (choice[1], choice[0], choice[2]))[2] if able else None
