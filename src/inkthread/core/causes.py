"""One cause, one finding: what follows from an overload, or from a wire fixed too thin, stands inside it."""

from __future__ import annotations

from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.left_out import AsMade
from inkthread.core.document.pin_ref import device_of
from inkthread.core.findings import Finding, FindingBook, Place
from inkthread.core.memo import Memo
from inkthread.core.record import altered
from inkthread.core.route import RouteResult, Threaded
from inkthread.core.wire import WireResult

_CAUSES = (
    "zone-too-hot",
    "fuse-none-large-enough",
    "fixed-fails",
    "nothing-fits",
    "contact-overloaded",
    "fuse-above-weakest",
)
"""What may be the cause of others, the likeliest first."""
_EXPLAINS_ITS_OWN = ("fixed-fails", "zone-too-hot", "fuse-above-weakest")
"""Causes that explain what is wrong at their own wires, not along the loops these are in."""
_FOLLOW = frozenset(
    {
        "nothing-fits",
        "branch-too-hot",
        "contact-overloaded",
        "conductor-outside-contact",
        "insulation-too-thick",
        "insulation-too-thin",
        "fuse-above-weakest",
        "fuse-below-load",
        "drop-over-limit",
        "brown-out",
        "peak-too-hot",
        "fault-too-weak",
        "fault-melts-wire",
        "splice-none-fits",
        "splice-not-covered",
        "zone-too-hot",
    }
)
"""What an overload, or a size that is not made or not right, brings with it."""


_SIZES = frozenset({"conductor-outside-contact", "insulation-too-thick", "insulation-too-thin"})
"""What the wire behind a fuse that is too large brings with it: it has become as thick as the fuse asks."""
_AT_PLACE = {
    "feed-unprotected": frozenset({"unprotected-too-long", "switch-bypassed"}),
    "short-circuit": frozenset({"unprotected-too-long", "feed-unprotected", "fuse-cannot-interrupt"}),
}
"""What follows from a cause at the same device."""


_Places = dict[str, dict[str, set[str]]]


def _wires_at(threaded: Threaded) -> _Places:
    """Kind of place, and its id, to the keys of the wires there: what no current changes."""
    at: _Places = {"pin": {}, "branch": {}, "zone": {}}
    for key, section in threaded.sections.items():
        for end in (section.a, section.b):
            at["pin"].setdefault(end.id, set()).add(key)
        for branch in section.branches:
            at["branch"].setdefault(branch, set()).add(key)
        if section.zone is not None:
            at["zone"].setdefault(section.zone, set()).add(key)
    return at


class _Wires:
    """Which wires a finding is about, by its places."""

    def __init__(
        self, circuits: CircuitsResult, route: RouteResult, wire: WireResult, wires_at: _Places
    ) -> None:
        self.route = route
        self.loop_wires = {k: set(loop.wires) for k, loop in wire.loops.items()}
        self.loads_of: dict[str, set[str]] = {}
        for load, keys in self.loop_wires.items():
            for key in keys:
                self.loads_of.setdefault(key, set()).add(load)
        behind_device: dict[str, set[str]] = {}
        for loop in circuits.loops:
            for path in loop.fuses:
                circuits_behind = behind_device.setdefault(device_of(path), set())
                circuits_behind |= self.loop_wires.get(loop.load, set())
        self.wires_at = {**wires_at, "load": self.loop_wires, "device": behind_device}

    def about(self, place: Place) -> set[str]:
        """Keys of the wires at a place; none where it is about no wire."""
        if place.kind == "wire":
            return {place.id}
        if place.kind == "splice":
            splice = self.route.splices.get(place.id)
            return set(splice.sections) if splice is not None else set()
        return self.wires_at.get(place.kind, {}).get(place.id, set())

    def of(self, finding: Finding) -> set[str]:
        return set().union(*(self.about(p) for p in finding.places))

    def in_loops_with(self, keys: set[str]) -> set[str]:
        """All wires of the loops that these wires are in."""
        loads = set().union(*(self.loads_of.get(k, set()) for k in keys))
        return keys.union(*(self.loop_wires[load] for load in loads))


def by_cause(
    findings: tuple[Finding, ...],
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    memo: Memo,
) -> tuple[Finding, ...]:
    """The same findings, each that only follows from another pointing to it by its place in the list.

    A wire that the builder fixed explains what is wrong at that wire; a load too large for what is made
    explains what is wrong along its loop.
    """
    follows = _at_one_place(findings)
    causes = [n for code in _CAUSES for n, f in enumerate(findings) if f.code == code]
    if causes:
        wires_at = memo.get(_wires_at, route.threaded)
        _along_wires(findings, causes, _Wires(circuits, route, wire, wires_at), follows)
    if not follows:
        return findings
    return tuple(altered(f, follows=follows.get(n)) for n, f in enumerate(findings))


def _along_wires(
    findings: tuple[Finding, ...], causes: list[int], wires: _Wires, follows: dict[int, int]
) -> None:
    """Note what follows from each cause by the wires that both are about."""
    about = {n: wires.of(f) for n, f in enumerate(findings) if f.code in _FOLLOW}
    for n in causes:
        cause = findings[n]
        if n in follows:
            continue
        if cause.code == "zone-too-hot" and cause.places[0].kind != "zone":
            continue  # a splice or a connector in a hot place explains nothing else
        own = wires.of(cause)
        reach = own if cause.code in _EXPLAINS_ITS_OWN else wires.in_loops_with(own)
        for other, keys in about.items():
            splice_in_heat = findings[other].code == "zone-too-hot"
            if other == n or other in follows or other in follows.values() or not keys & reach:
                continue
            if cause.code == "fuse-above-weakest" and findings[other].code not in _SIZES:
                continue
            if splice_in_heat and (
                findings[other].places[0].kind != "splice" or cause.code == "zone-too-hot"
            ):
                continue
            follows[other] = n


def _at_one_place(findings: tuple[Finding, ...]) -> dict[int, int]:
    """Findings that follow from one at the same device, each by its place in the list."""
    follows: dict[int, int] = {}
    for n, cause in enumerate(findings):
        brings = _AT_PLACE.get(cause.code)
        if brings is None or n in follows:
            continue
        devices = {p.id for p in cause.places if p.kind == "device"}
        for other, finding in enumerate(findings):
            there = {p.id for p in finding.places if p.kind == "device"}
            if finding.code in brings and other not in follows and other != n and devices & there:
                follows[other] = n
    return follows


def standing(book: FindingBook, as_made: AsMade) -> tuple[Finding, ...]:
    """Findings in order, without those of what is left out of the harness, and, of a lead that is taken off
    again, without those that are asked only of what stays.
    """
    trial = as_made.document.brief.job == "trial lead"
    return tuple(
        f
        for f in book.in_order()
        if not _about_left_out(f, as_made) and not (trial and book.checks[f.code].lasting)
    )


def _about_left_out(finding: Finding, as_made: AsMade) -> bool:
    gone = {"device": as_made.devices, "connector": as_made.connectors, "circuit": as_made.circuits}
    return bool(finding.places) and all(
        p.id in gone.get(p.kind, ()) or (p.kind == "pin" and device_of(p.id) in as_made.devices)
        for p in finding.places
    )
