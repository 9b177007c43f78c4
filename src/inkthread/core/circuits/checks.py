"""What is wrong with the circuits as drawn: sources, protection, switches, pins."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.facts import CircuitsResult, Role, SourceFacts, most_current_a
from inkthread.core.circuits.fuse_checks import find_in_fuses
from inkthread.core.circuits.kill_checks import find_in_kills
from inkthread.core.circuits.network import Network
from inkthread.core.circuits.pin_roles import find_in_pin_roles
from inkthread.core.circuits.shields import find_in_groups
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.document.values import CONVERTING, PROTECTIVE
from inkthread.core.findings import FindingBook, Place, called, phrase
from inkthread.core.measures import format_current, format_length
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.tolerances import HOLDS
from inkthread.core.words import list_in_words, some_in_words

CRANKING = "starter"
"""Kind of device whose feed is customarily unfused (ABYC E-11 exempts cranking motors, from memory)."""
_MANY_PINS = 3


def find_in_circuits(
    document: Document,
    catalogue: Catalogue,
    net: Network,
    result: CircuitsResult,
    memo: Memo,
    book: FindingBook,
) -> None:
    """All checks that need no route and no wire."""
    drawn = only(
        document, "circuits.devices", "circuits.circuits", "circuits.groups", "circuits.buses", "ends"
    )
    book.once(memo, _as_drawn, drawn, catalogue, net)
    _duties(document, book)
    reached = only(document, "circuits.devices", "circuits.circuits")
    book.once(memo, _parallel_sources, reached, result.sources, result.circuit_of, result.role_of)
    _structure(document, result, book)
    _engine(document, book)
    find_in_fuses(document, catalogue, result, book)
    _switches(document, catalogue, result, book)
    find_in_kills(document, net, result, book)
    _coils(document, result, book)
    _volts(document, result, book)


_NEAR_SHARE = 0.25
"""A load is made for what its source has, give or take so much: 12 V things run on 14.4 V while it charges
(common practice, no source).
"""


def _volts(document: Document, result: CircuitsResult, book: FindingBook) -> None:
    """Loads whose stated volts are not their source's: 24 V things on 12 V."""
    for loop in result.loops:
        load = document.circuits.loads.get(loop.load)
        if load is None or load.rated_v is None or loop.alternative:
            continue
        if abs(load.rated_v - loop.supply_v) <= _NEAR_SHARE * loop.supply_v * HOLDS:
            continue
        book.add(
            "load-of-other-volts",
            Place("circuits", "device", loop.device),
            device=called("device", loop.device),
            rated=f"{load.rated_v:g} V",
            supply=f"{loop.supply_v:g} V",
        )


def _duties(document: Document, book: FindingBook) -> None:
    """A duty without its cycle says nothing of temperature."""
    loads = {
        k: load
        for k, load in document.circuits.loads.items()
        if load.duty_percent < 100 and not load.cycle_s and load.current_a
    }
    if loads:
        book.add(
            "duty-without-cycle",
            *(Place("circuits", "load", k) for k in list(loads)[:8]),
            loads=list_in_words([called("device", load.device) for load in list(loads.values())[:6]]),
        )


def _as_drawn(document: Document, catalogue: Catalogue, net: Network, book: FindingBook) -> None:
    """Checks that ask for no current."""
    _pins(document, catalogue, net, book)
    find_in_pin_roles(document, catalogue, net, book)
    _device_loops(document, net, book)
    find_in_groups(document, catalogue, net, book)
    _bare_leads(document, book)


_COILS = ("coil", "relay", "contactor")
_ELECTRONIC = ("controller", "node", "instrument")


def _coils(document: Document, result: CircuitsResult, book: FindingBook) -> None:
    """Coils that an electronic output switches, and that nothing takes the kick of."""
    devices = document.circuits.devices
    kicking: dict[str, list[tuple[str, str, str]]] = {}
    for loop in result.loops:
        load = document.circuits.loads.get(loop.load)
        coil = devices[loop.device]
        if load is None or coil.kind not in _COILS or any(p.kind == "diode" for p in coil.paths.values()):
            continue
        for path in loop.paths:
            owner = device_of(path)
            if devices[owner].kind in _ELECTRONIC:
                kicking.setdefault(owner, []).append((loop.device, load.supply_pin, load.return_pin))
                break
    for owner, coils in kicking.items():
        operations = tuple(
            {
                "op": "add",
                "path": pointer(["circuits", "devices", device, "paths", "diode"]),
                "value": {"order": 99, "from_pin": back, "to_pin": feed, "kind": "diode"},
            }
            for device, feed, back in coils
        )
        book.add(
            "coil-kicks",
            *(Place("circuits", "device", d) for d, _, _ in coils[:8]),
            mechanical=(phrase("diode"), operations),
            coils=list_in_words([called("device", d) for d, _, _ in coils[:8]]),
            owner=called("device", owner),
        )


def _pins(document: Document, catalogue: Catalogue, net: Network, book: FindingBook) -> None:
    unsourced: list[str] = []
    paged: list[str] = []
    for device_id, device in document.circuits.devices.items():
        groups: dict[str, dict[str | None, list[str]]] = {}
        for pin_id, pin in device.pins.items():
            if pin.group:
                owner = net.circuit_of.get(f"{device_id}.{pin_id}")
                groups.setdefault(pin.group, {}).setdefault(owner, []).append(pin_id)
        for group, owners in groups.items():
            if len(owners) > 1:
                book.add(
                    "group-apart",
                    Place("circuits", "device", device_id),
                    device=called("device", device_id),
                    group=group,
                    pins=list_in_words([p for pins in owners.values() for p in pins]),
                )
        kind = catalogue.kinds.get(device.kind)
        asked = len(device.pins) > _MANY_PINS or (kind is not None and kind.group == "sensors")
        if device.pin_data == "not known" and device.pins and asked:
            unsourced.append(device_id)
        if device.pin_data == "document" and not (device.pin_document and device.pin_page):
            paged.append(device_id)
        if device.pin_data == "photograph" and not device.pin_document:
            paged.append(device_id)
    if unsourced:
        book.add(
            "pin-source-missing",
            *(Place("circuits", "device", d) for d in unsourced[:12]),
            devices=some_in_words([called("device", d) for d in unsourced], 6),
        )
    if paged:
        book.add(
            "pin-page-missing",
            *(Place("circuits", "device", d) for d in paged[:12]),
            devices=some_in_words([called("device", d) for d in paged], 6),
        )


def _parallel_sources(
    document: Document,
    sources: dict[str, SourceFacts],
    circuit_of: dict[str, str],
    role_of: dict[str, Role],
    book: FindingBook,
) -> None:
    """Batteries that can drive each other, and circuits that two sources reach unprotected."""
    batteries = [s for s in sources.values() if s.kind == "battery"]
    seen: set[frozenset[str]] = set()
    at_circuit: dict[str | None, list[int]] = {}
    for n, b in enumerate(batteries):
        at_circuit.setdefault(circuit_of.get(b.pin), []).append(n)
    for a in batteries:
        driven = sorted(n for circuit in at_circuit.keys() & a.spread.keys() for n in at_circuit[circuit])
        for b in (batteries[n] for n in driven):
            pair = frozenset((a.pin, b.pin))
            if a is not b and pair not in seen and a.device != b.device:
                seen.add(pair)
                book.add(
                    "sources-in-parallel",
                    Place("circuits", "device", a.device),
                    Place("circuits", "device", b.device),
                    a=called("device", a.device),
                    b=called("device", b.device),
                )
    unfused: dict[str, list[SourceFacts]] = {}
    for s in sources.values():
        if s.kind != "regulator":
            for circuit_id in (c for c, fuse in s.spread.items() if fuse is None):
                unfused.setdefault(circuit_id, []).append(s)
    for circuit_id in role_of:
        bare = unfused.get(circuit_id, [])
        if len({s.device for s in bare}) > 1:
            book.add(
                "fed-from-both-ends",
                Place("circuits", "circuit", circuit_id),
                circuit=called("circuit", circuit_id),
                sources=list_in_words([called("device", s.device) for s in bare]),
            )


# One way round, followed to its end.
def _device_loops(document: Document, net: Network, book: FindingBook) -> None:  # noqa: C901
    """Paths that lead back to where they began."""
    onward: dict[str, list[tuple[str, str]]] = {}
    for ref, paths in net.paths_from.items():
        cid = net.circuit_of.get(ref)
        for device_id, path_id, inner in paths:
            other = net.circuit_of.get(f"{device_id}.{inner.to_pin}")
            if cid is None or other is None or inner.kind in CONVERTING:
                continue
            if inner.from_pin != document.circuits.devices[device_id].paths[path_id].from_pin:
                continue  # what conducts either way leads back only by another path
            if cid == other:
                book.add(
                    "path-bypassed",
                    Place("circuits", "device", device_id),
                    device=called("device", device_id),
                    circuit=called("circuit", cid),
                )
            else:
                onward.setdefault(cid, []).append((other, device_id))
    state: dict[str, int] = {}
    for start in onward:
        if start in state:
            continue
        trail: list[tuple[str, Iterator[tuple[str, str]]]] = [(start, iter(onward.get(start, ())))]
        devices: list[str] = []
        state[start] = 1
        while trail:
            circuit, others = trail[-1]
            step = next(others, None)
            if step is None:
                state[circuit] = 2
                trail.pop()
                if devices:
                    devices.pop()
                continue
            other, device_id = step
            if state.get(other) == 1:
                around = [*devices[[h for h, _ in trail].index(other) :], device_id]
                book.add(
                    "device-loop",
                    *(Place("circuits", "device", d) for d in dict.fromkeys(around)),
                    devices=list_in_words([called("device", d) for d in dict.fromkeys(around)]),
                )
            elif other not in state:
                state[other] = 1
                devices.append(device_id)
                trail.append((other, iter(onward.get(other, ()))))


_ON_ENGINE = ("starter", "alternator", "plug", "distributor", "injector")
"""Kinds of device that an engine carries."""


def _engine(document: Document, book: FindingBook) -> None:
    """An engine of which nobody says how it is joined to the frame."""
    if document.brief.engine != "not said":
        return
    carried = [d for d, device in document.circuits.devices.items() if device.kind in _ON_ENGINE]
    if not carried:
        return
    path = pointer(["brief", "engine"])
    book.add(
        "engine-bond-not-said",
        *(Place("circuits", "device", d) for d in carried[:6]),
        mechanical=(phrase("strap"), ({"op": "replace", "path": path, "value": "strap"},)),
        devices=list_in_words([called("device", d) for d in carried[:4]]),
    )


def _structure(document: Document, result: CircuitsResult, book: FindingBook) -> None:
    """A return through a structure that is not there."""
    without = {z for z, zone in document.brief.zones.items() if zone.no_structure}
    if not without:
        return
    for device_id, device in document.circuits.devices.items():
        if not device.structure:
            continue
        points = {
            document.ends.connectors[e.connector].point
            for ref, e in document.ends.pinout.items()
            if device_of(ref) == device_id
        }
        for branch in document.route.branches.values():
            if branch.zone in without and points & {branch.from_point, branch.to_point}:
                book.add(
                    "structure-absent",
                    Place("circuits", "device", device_id),
                    device=called("device", device_id),
                    zone=document.brief.zones[branch.zone].name if branch.zone else "",
                )
                break


def _switches(document: Document, catalogue: Catalogue, result: CircuitsResult, book: FindingBook) -> None:
    """Switches and relays against what they carry; under aviation with the handbook's derating."""
    aviation = document.brief.practice == "aviation"
    high = document.brief.supply_nominal_v > 16
    through: dict[str, FloatArray] = {}
    rated = {
        f"{device_id}.{path_id}"
        for device_id, device in document.circuits.devices.items()
        for path_id, inner in device.paths.items()
        if inner.kind not in PROTECTIVE and inner.contact_a is not None
    }
    for loop in result.loops:
        if rated.isdisjoint(loop.paths):
            continue
        device = document.circuits.devices[loop.device]
        factor = 1.0
        if aviation:
            row = catalogue.switch_derating.get(device.kind)
            factor = row[1 if high else 0] if row is not None else 1.0
        # Mode by mode: loads that never run together are not added.
        carried = most_current_a(loop) * factor * np.array(loop.mode_fraction)
        for path in loop.paths:
            through[path] = through.get(path, 0.0) + carried
    for device_id, device in document.circuits.devices.items():
        for path_id, inner in device.paths.items():
            if inner.kind in PROTECTIVE or inner.contact_a is None:
                continue
            needs = float(np.max(through.get(f"{device_id}.{path_id}", 0.0)))
            if needs <= inner.contact_a * HOLDS:
                continue
            book.add(
                "switch-underrated",
                Place("circuits", "device", device_id),
                device=called("device", device_id),
                contact=format_current(inner.contact_a),
                needs=format_current(needs, inner.contact_a),
                derated=phrase("derated") if aviation else "",
            )


def _bare_leads(document: Document, book: FindingBook) -> None:
    """Devices with flying leads: the other half of their connector is nobody's yet."""
    for device_id, device in document.circuits.devices.items():
        if device.fitted != "flying leads":
            continue
        met = {entry.connector for ref, entry in document.ends.pinout.items() if device_of(ref) == device_id}
        if met:
            long = device.lead_mm and format_length(device.lead_mm, document.brief.measures)
            book.add(
                "leads-bare",
                Place("circuits", "device", device_id),
                device=called("device", device_id),
                long=phrase("long", length=long) if long else "",
                connectors=list_in_words(sorted(met)),
            )
