"""What is wrong with pairs, shields and cables: continued through every connector, landed by rule."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.network import Network
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Phrase, Place, called, phrase
from inkthread.core.words import in_words, list_in_words

_LANDS = ("drain", "ground", "sensor_return")


def find_in_groups(document: Document, catalogue: Catalogue, net: Network, book: FindingBook) -> None:
    """Shields that stop short or are landed wrongly, buses without a pair, cables with too few cores."""
    goes_on = _links(document)
    _broken_shields(document, net, goes_on, book)
    _landings(document, net, goes_on, book)
    _cores(document, catalogue, book)
    paired = {c for g in document.circuits.groups.values() if g.kind != "cable" for c in g.members}
    for bus_id, bus in document.circuits.buses.items():
        loose = [c for c in bus.circuits if c not in paired]
        if catalogue.buses[bus.standard].pair and loose and len(bus.circuits) > 1:
            book.add(
                "pair-apart",
                Place("circuits", "circuit", loose[0]),
                circuits=list_in_words(loose),
                bus=bus.name or bus_id,
                standard=bus.standard,
            )


def _links(document: Document) -> dict[str, str]:
    """Pins that only lead through a device, to the pin on its other side."""
    links: dict[str, str] = {}
    for device_id, device in document.circuits.devices.items():
        for path in device.paths.values():
            roles = {device.pins[p].role for p in (path.from_pin, path.to_pin)}
            if path.kind == "link" and "ground" not in roles:
                a, b = f"{device_id}.{path.from_pin}", f"{device_id}.{path.to_pin}"
                links[a], links[b] = b, a
    return links


def _named(document: Document, group_id: str) -> str:
    return document.circuits.groups[group_id].name or group_id


def _broken_shields(document: Document, net: Network, goes_on: dict[str, str], book: FindingBook) -> None:
    groups, circuits = document.circuits.groups, document.circuits.circuits
    group_of = {c: g for g, group in groups.items() for c in group.members}
    told: set[tuple[frozenset[str | None], str]] = set()
    for group_id, group in groups.items():
        if group.shield is None:
            if "shielded" in group.kind:
                book.add(
                    "shield-missing",
                    Place("circuits", "circuit", next(iter(group.members), "")),
                    group=_named(document, group_id),
                    kind=group.kind,
                )
            continue
        carried = {
            (device_of(ref), net.circuit_of.get(goes_on[ref]))
            for ref in circuits[group.shield].ends
            if ref in goes_on
        }
        for member in group.members:
            for ref in circuits[member].ends:
                beyond = net.circuit_of.get(goes_on.get(ref, ""))
                if beyond is None or beyond in group.members:
                    continue
                device = device_of(ref)
                other = group_of.get(beyond)
                shield = groups[other].shield if other is not None else None
                if shield is not None and (device, shield) in carried:
                    continue
                key = (frozenset((group_id, other)), device)
                if key in told:
                    continue
                told.add(key)
                book.add(
                    "shield-broken",
                    Place("circuits", "circuit", group.shield),
                    group=_named(document, group_id),
                    device=called("device", device),
                    what=phrase("gap" if shield is not None else "ends"),
                )


def _landings(document: Document, net: Network, goes_on: dict[str, str], book: FindingBook) -> None:
    groups, circuits, devices = (
        document.circuits.groups,
        document.circuits.circuits,
        document.circuits.devices,
    )
    grounded = {
        d
        for d, device in devices.items()
        if device.structure or any(p.role == "ground" for p in device.pins.values())
    }
    done: set[str] = set()
    for group_id, group in groups.items():
        if group.shield is None or group.shield in done:
            continue
        chain, stack = [group.shield], [group.shield]
        while stack and group.shield_rule != "each section":
            for ref in circuits[stack.pop()].ends:
                beyond = net.circuit_of.get(goes_on.get(ref, ""))
                if beyond is not None and beyond not in chain:
                    chain.append(beyond)
                    stack.append(beyond)
        done.update(chain)
        landed = {
            device
            for c in chain
            for ref in circuits[c].ends
            if ref not in goes_on
            for device, pin in (read_ref(ref),)
            if device in grounded and devices[device].pins[pin].role in _LANDS
        }
        landed |= {
            k for k, c in document.ends.connectors.items() if c.shield in chain and c.shield is not None
        }
        wanted = 2 if group.shield_rule == "both ends" else 1
        if len(landed) != wanted:
            book.add(
                "shield-landing",
                Place("circuits", "circuit", group.shield),
                group=_named(document, group_id),
                count=_ends(sorted(landed)),
                rule=phrase(group.shield_rule),
            )


def _ends(devices: list[str]) -> Phrase:
    if len(devices) < 2:
        return phrase("at one" if devices else "at none", devices=", ".join(devices))
    return phrase("at several", count=in_words(len(devices)), devices=list_in_words(devices))


def _cores(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    for group_id, group in document.circuits.groups.items():
        if group.family is None and group.kind not in ("pair", "three") and group.members:
            _without_part(document, catalogue, group_id, book)
        family = catalogue.wires.get(group.family or "")
        if family is not None and 1 < family.cores < len(group.members):
            book.add(
                "cable-too-few-cores",
                Place("circuits", "circuit", next(iter(group.members))),
                group=_named(document, group_id),
                wanted=in_words(len(group.members)),
                family=family.code,
                cores=in_words(family.cores),
            )


def _without_part(document: Document, catalogue: Catalogue, group_id: str, book: FindingBook) -> None:
    """A cable or shielded group that nothing is named for; the one with the fewest cores that has enough."""
    group = document.circuits.groups[group_id]
    needs = len(group.members)
    shielded = group.kind.startswith("shielded")
    able = [
        f
        for f in catalogue.wires.values()
        if f.shielded == shielded
        and f.cores >= needs
        and (f.cores > 1 or shielded)
        and f.construction != "ribbon"
        and not f.core_gauges
    ]
    best = min(able, key=lambda f: (f.cores, f.temperature_c, f.code), default=None)
    path = pointer(["circuits", "groups", group_id, "family"])
    book.add(
        "cable-without-part",
        Place("circuits", "circuit", next(iter(group.members))),
        mechanical=(
            (phrase("make", best=best.code), ({"op": "replace", "path": path, "value": best.code},))
            if best is not None
            else None
        ),
        group=_named(document, group_id),
        kind=group.kind,
        cores=in_words(needs),
        such_as=phrase("such as", best=best.code) if best is not None else "",
    )
