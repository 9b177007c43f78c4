"""What feeds reach besides the way that is meant: past every fuse, past a switch, by two fuses at once."""

from __future__ import annotations

from collections import deque
from collections.abc import Collection, Iterable, Mapping

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.checks import CRANKING
from inkthread.core.circuits.facts import CircuitsResult, SourceFacts
from inkthread.core.circuits.meshes import Chord
from inkthread.core.circuits.network import Network, PathAt
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.types import Document
from inkthread.core.document.values import CONVERTING, PROTECTIVE, PathKind
from inkthread.core.findings import FindingBook, Phrase, Place, called, phrase
from inkthread.core.memo import Memo
from inkthread.core.words import list_in_words, some_in_words

SWITCHING: tuple[PathKind, ...] = ("switch", "relay", "contactor")


def onward_from(net: Network, circuit_id: str) -> list[tuple[PathAt, str, str]]:
    """Paths that lead out of a circuit, along those that conduct both ways either way: each with the pin
    it leaves by and the pin it comes to.
    """
    onward: list[tuple[PathAt, str, str]] = []
    for ref in net.circuits[circuit_id].ends:
        onward += [(at, ref, f"{at[0]}.{at[2].to_pin}") for at in net.paths_from.get(ref, ())]
        onward += [
            (at, ref, f"{at[0]}.{at[2].from_pin}")
            for at in net.paths_to.get(ref, ())
            if at[2].kind != "diode" and not at[2].throw
        ]
    return [step for step in onward if step[0][2].kind not in CONVERTING]


def reached_without(
    net: Network, start: str, kinds: Collection[PathKind]
) -> dict[str, tuple[str, tuple[str, ...]]]:
    """Circuits that one source reaches along no path of these kinds: the pin it enters each by, and the
    devices on the way. Grounds end the walk.
    """
    first = net.circuit_of.get(start)
    if first is None:
        return {}
    reached: dict[str, tuple[str, tuple[str, ...]]] = {first: (start, ())}
    queue = deque([first])
    while queue:
        circuit_id = queue.popleft()
        if "ground" in net.roles[circuit_id]:
            continue
        for (device, _, inner), _, far in onward_from(net, circuit_id):
            other = net.circuit_of.get(far)
            if inner.kind in kinds or other is None or other in reached:
                continue
            reached[other] = (far, (*reached[circuit_id][1], device))
            queue.append(other)
    return reached


def live_pins(net: Network) -> frozenset[str]:
    """Pins that a source reaches by the harness, switches closed: live as their device is unplugged."""
    live: set[str] = set()
    for start in net.sources:
        for circuit_id, (entered, _) in reached_without(net, start, ()).items():
            if "ground" not in net.roles[circuit_id]:
                own = device_of(entered)
                live.update(r for r in net.circuits[circuit_id].ends if device_of(r) != own)
    return frozenset(live)


def is_limited(source: SourceFacts) -> bool:
    """Whether a source protects what it feeds: it gives no more than it is limited to, or it comes with a
    fuse ahead of it. Wires are held to that.
    """
    return source.fuse_a is not None or (
        source.limit_a is not None and source.kind in ("limited supply", "regulator", "solar panel")
    )


def may_go_without_fuse(
    document: Document, catalogue: Catalogue, brief: BriefResult, source: SourceFacts
) -> bool:
    """Whether a house rule lets a small pack feed what it feeds without a fuse; never a lithium one."""
    device = document.circuits.devices[source.device]
    words = catalogue.rules["unfused_receiver_pack"].words
    small = device.kind == "battery" and any(w in device.name.lower() for w in words)
    return small and brief.value("unfused_receiver_pack") > 0


def find_in_feeds(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    net: Network,
    result: CircuitsResult,
    memo: Memo,
    book: FindingBook,
) -> None:
    """Feeds that meet no fuse, and switches that switch nothing."""
    _without_fuse(document, catalogue, brief, net, result, book)
    devices = only(document, "circuits.devices")
    book.once(memo, _past_switches, devices, net, tuple(s.pin for s in result.sources.values()))


def _without_fuse(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    net: Network,
    result: CircuitsResult,
    book: FindingBook,
) -> None:
    """Every consumer that a source reaches past all protection, however short the wire and whatever it draws.

    A cranking motor is customarily unfused (ABYC E-11 exempts them, from memory).
    """
    devices = document.circuits.devices
    load_at = {f"{load.device}.{load.supply_pin}": k for k, load in document.circuits.loads.items()}
    told: set[str] = set()
    for source in result.sources.values():
        if is_limited(source) or may_go_without_fuse(document, catalogue, brief, source):
            continue
        by_passed: dict[tuple[str, ...], list[str]] = {}
        for circuit_id, (_, passed) in reached_without(net, source.pin, PROTECTIVE).items():
            if "ground" in net.roles[circuit_id]:
                continue
            for ref in net.circuits[circuit_id].ends:
                device_id, pin = read_ref(ref)
                if device_id == source.device or device_id in told or devices[device_id].kind == CRANKING:
                    continue
                passes_on = any(at[2].kind not in CONVERTING for at in net.paths_from.get(ref, ()))
                takes = devices[device_id].pins[pin].role == "supply_in" and not passes_on
                if ref in load_at or takes:
                    told.add(device_id)
                    by_passed.setdefault(passed, []).append(ref)
        for passed, refs in by_passed.items():
            _say_unprotected(document, source, passed, refs, load_at, book)


def _say_unprotected(
    document: Document,
    source: SourceFacts,
    passed: tuple[str, ...],
    refs: list[str],
    load_at: Mapping[str, str],
    book: FindingBook,
) -> None:
    """One finding for all that one way leads to past every fuse."""
    reached = [device_of(r) for r in refs]
    places = [
        Place("circuits", "load", load_at[r]) if r in load_at else Place("circuits", "device", d)
        for r, d in zip(refs, reached, strict=True)
    ]
    book.add(
        "feed-unprotected",
        *places[:8],
        *(Place("circuits", "device", d) for d in dict.fromkeys((*passed, source.device))),
        source=source.pin,
        load=some_in_words([called("device", d) for d in reached], 5),
        way=_by_way_of(document, passed),
        round=_round(document, passed),
    )


def _round(document: Document, passed: Iterable[str]) -> Phrase | str:
    """What to do about the way round the fuse."""
    last = next((called("device", d) for d in reversed(list(passed))), "")
    return phrase("round", last=last) if last else ""


def _by_way_of(document: Document, passed: Iterable[str]) -> Phrase | str:
    devices = [called("device", d) for d in dict.fromkeys(passed)]
    return phrase("way", devices=list_in_words(devices)) if devices else ""


def _past_switches(document: Document, net: Network, sources: tuple[str, ...], book: FindingBook) -> None:
    """Switches whose far side stays alive from the same source with every switch open."""
    told: set[str] = set()
    for source in sources:
        alive = reached_without(net, source, SWITCHING)
        for circuit_id in alive:
            if "ground" in net.roles[circuit_id]:
                continue
            for (device, _path, inner), _, far in onward_from(net, circuit_id):
                other = net.circuit_of.get(far)
                if inner.kind not in SWITCHING or inner.throw or other == circuit_id or device in told:
                    continue
                if other not in alive or not far.endswith(f".{inner.to_pin}"):
                    continue
                told.add(device)
                passed = alive[other][1] or alive[circuit_id][1]
                book.add(
                    "switch-bypassed",
                    Place("circuits", "device", device),
                    Place("circuits", "circuit", other),
                    switch=called("device", device),
                    circuit=called("circuit", other),
                    way=_by_way_of(document, passed),
                )


def find_fed_twice(document: Document, chord: Chord, book: FindingBook) -> None:
    """Two fuses that feed the same, each behind what may open: one that is drawn leaves it alive.

    Where diodes keep the two apart it is meant so.
    """
    if any(at[2].kind == "diode" for _, at, _ in chord.inner):
        return
    sides = [
        [at for _, at, w in chord.inner if w * sign > 0 and at[2].kind in PROTECTIVE] for sign in (1, -1)
    ]
    if not sides[0] or not sides[1]:
        return
    one, other = sides[0][0][0], sides[1][0][0]
    book.add(
        "fed-twice",
        *(Place("circuits", "device", d) for d in dict.fromkeys((one, other))),
        one=f"{called('device', one)} ({sides[0][0][1]})",
        other=f"{called('device', other)} ({sides[1][0][1]})",
    )
