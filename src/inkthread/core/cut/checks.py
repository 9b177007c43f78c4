"""What is wrong with the lengths: ends without an allowance, cut too soon, over-stripped, unequal."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from inkthread.core.context import Context
from inkthread.core.cut.ends import EndCut, fold_takes_mm, said_of, slack_at_mm
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.ends import Fittings
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_length
from inkthread.core.route import SectionEnd, Threaded
from inkthread.core.tolerances import over
from inkthread.core.wire import MadeWires
from inkthread.core.words import in_words, some_in_words

EndsOf = Mapping[str, tuple[EndCut, EndCut]]
"""Both ends of every piece, by wire."""
_SHOWN = 6
_TIMES = ("not at all", "once", "twice")


def find_in_cuts(
    context: Context, route: Threaded, wire: MadeWires, ends: Fittings, cut: EndsOf, book: FindingBook
) -> None:
    """Every check of the room."""
    _allowances(route, wire, cut, book)
    _too_soon(context, cut, route, book)
    _both_open(wire, cut, book)
    if context.document.cut.ends:
        _strips(context, ends, book)
        _unequal(context, ends, book)
        _untwisted(context, book)
    _remakes(context, route, cut, book)


def _pins(route: Threaded, key: str, cut: EndsOf) -> list[tuple[SectionEnd, EndCut]]:
    section = route.sections[key]
    return [
        (end, mine) for end, mine in zip((section.a, section.b), cut[key], strict=True) if end.kind == "pin"
    ]


def _allowances(route: Threaded, wire: MadeWires, cut: EndsOf, book: FindingBook) -> None:
    """An end of which nothing says what it takes up: one finding a connector."""
    missing: dict[str, list[str]] = {}
    for key, (a, b) in cut.items():
        if a.allowance_mm is not None and b.allowance_mm is not None:
            continue
        for end, mine in _pins(route, key, cut):
            if mine.allowance_mm is None:
                missing.setdefault(end.connector or end.point, []).append(wire.wires[key].label)
    for connector, labels in missing.items():
        book.add(
            "allowance-missing",
            Place("ends", "connector", connector),
            connector=connector,
            wires=some_in_words(labels, _SHOWN),
        )


def _too_soon(context: Context, cut: EndsOf, route: Threaded, book: FindingBook) -> None:
    """Cut before the way is known: a day is set, and a branch is a guess or was laid another way since."""
    document = context.document
    day = document.cut.cut_on
    if not day:
        return
    unknown = [
        branch_id
        for branch_id, branch in document.route.branches.items()
        if branch.measured == "guess"
        or branch.measured_on > day
        or branch.rerouted_on > max(day, branch.measured_on)
    ]
    if unknown:
        book.add(
            "cut-before-route",
            *(Place("route", "branch", branch_id) for branch_id in unknown[:_SHOWN]),
            branches=some_in_words(unknown, _SHOWN),
            day=day,
        )
    for key in cut:
        for end, mine in _pins(route, key, cut):
            said = said_of(document, end.id, end.connector)
            if said.state == "trimmed at fitting" and mine.surplus_mm <= 0:
                book.add(
                    "trimmed-without-surplus",
                    Place("cut", "end", _entry_of(document, end)),
                    mechanical=(phrase("leave"), _put(document, end, "surplus_mm", None)),
                    end=_end(end),
                    day=day,
                    surplus=format_length(context.brief.value("left_long_mm"), document.brief.measures),
                )


def _both_open(wire: MadeWires, cut: EndsOf, book: FindingBook) -> None:
    """A wire that is left long at both ends is cut to no length."""
    both = [key for key, (a, b) in cut.items() if a.left_long and b.left_long]
    if both:
        book.add(
            "both-ends-open",
            *(Place("cut", "wire", key) for key in both[:_SHOWN]),
            wires=some_in_words([wire.wires[key].label for key in both], _SHOWN),
        )


def _strips(context: Context, ends: Fittings, book: FindingBook) -> None:
    """A planned strip outside what the contact takes."""
    document = context.document
    units = document.brief.measures
    for (ref, _), contact in ends.contacts.items():
        entry = document.ends.pinout.get(ref)
        said = said_of(document, ref, entry.connector if entry else None)
        if said.strip_mm is None or contact.factory:
            continue
        if over(abs(said.strip_mm - contact.strip_mm), contact.strip_tolerance_mm):
            at = ref if ref in document.cut.ends else (entry.connector if entry else ref)
            book.add(
                "strip-outside",
                Place("cut", "end", at),
                mechanical=(phrase("own"), _put_at(at, "strip_mm", None)),
                pin=ref,
                strip=format_length(said.strip_mm, units),
                contact=contact.code,
                takes=f"{contact.strip_mm:g} ± {contact.strip_tolerance_mm:g} mm",
                over=phrase("long" if said.strip_mm > contact.strip_mm else "short"),
            )


def _unequal(context: Context, ends: Fittings, book: FindingBook) -> None:
    """Cores of one connector whose insulation would not end in one row after a fold and the trim for it."""
    document = context.document
    folded = [
        (ref, entry.connector)
        for ref, entry in document.ends.pinout.items()
        if ref in document.cut.ends and document.cut.ends[ref].fold
    ]
    for first, connector in folded:
        for (ref, _), contact in ends.contacts.items():
            entry = document.ends.pinout.get(ref)
            said = document.cut.ends.get(ref)
            if entry is None or entry.connector != connector or said is None or said.fold:
                continue
            takes = fold_takes_mm(document, first, ends, contact)
            if said.trim_mm is not None and over(abs(said.trim_mm - takes), contact.strip_tolerance_mm):
                units = document.brief.measures
                book.add(
                    "cores-unequal",
                    Place("cut", "end", ref),
                    mechanical=(phrase("trim"), _put_at(ref, "trim_mm", None)),
                    pin=ref,
                    folded=first,
                    trim=format_length(said.trim_mm, units),
                    takes=format_length(takes, units),
                    apart=format_length(abs(said.trim_mm - takes), units),
                )


def _untwisted(context: Context, book: FindingBook) -> None:
    """A pair or a bus that is untwisted farther than its net bears."""
    document, catalogue = context.document, context.catalogue
    most = context.brief.value("untwist_mm")
    of_bus: dict[str, float] = {}
    for bus in document.circuits.buses.values():
        standard = catalogue.buses.get(bus.standard)
        if standard is not None and standard.untwist_mm is not None:
            of_bus |= dict.fromkeys(bus.circuits, standard.untwist_mm)
    grouped = {c for g in document.circuits.groups.values() for c in g.members} | set(of_bus)
    circuit_of = {ref: c for c, circuit in document.circuits.circuits.items() for ref in circuit.ends}
    for ref, entry in document.ends.pinout.items():
        said = said_of(document, ref, entry.connector)
        circuit = circuit_of.get(ref)
        if said.untwist_mm is None or circuit not in grouped:
            continue
        limit = min(most, of_bus.get(circuit, most))
        if over(said.untwist_mm, limit):
            units = document.brief.measures
            at = ref if ref in document.cut.ends else entry.connector
            book.add(
                "untwisted-far",
                Place("cut", "end", at),
                mechanical=(
                    phrase("limit", limit=format_length(limit, units)),
                    _put_at(at, "untwist_mm", limit),
                ),
                pin=ref,
                untwist=format_length(said.untwist_mm, units),
                limit=format_length(limit, units),
                whose=phrase("bus" if limit < most else "rule"),
            )


def _remakes(context: Context, route: Threaded, cut: EndsOf, book: FindingBook) -> None:
    """A connector of which an end cannot be made again as often as is asked: one finding each."""
    document, brief = context.document, context.brief
    asked = int(brief.value("reterminations"))
    if asked <= 0:
        return
    least: dict[str, tuple[int, float, str, SectionEnd]] = {}
    for key in cut:
        for end, mine in _pins(route, key, cut):
            if mine.remakes is None or mine.remakes >= asked or end.connector is None:
                continue
            each = mine.strip_mm + brief.value("recut_mm")
            slack = slack_at_mm(document, brief, route.sections[key], end) + mine.surplus_mm
            worse = (mine.remakes, slack - asked * each, key, end)
            if end.connector not in least or worse[:2] < least[end.connector][:2]:
                least[end.connector] = worse
    for connector, (times, lacks, key, end) in least.items():
        units = document.brief.measures
        point = document.route.points.get(end.point)
        more = math.ceil(-lacks)
        put: tuple[dict[str, Any], ...] = ()
        if point is not None:
            path = pointer(["route", "points", end.point, "slack_mm"])
            put = ({"op": "replace", "path": path, "value": (point.slack_mm or 0.0) + more},)
        book.add(
            "made-again-seldom",
            Place("ends", "connector", connector),
            Place("cut", "wire", key),
            mechanical=(phrase("more", more=format_length(more, units)), put) if put else None,
            connector=connector,
            times=_TIMES[times] if times < len(_TIMES) else f"{in_words(times)} times",
            asked=_TIMES[asked] if asked < len(_TIMES) else f"{in_words(asked)} times",
            pin=end.id,
        )


def _end(end: SectionEnd) -> str:
    return f"{end.id} at {end.connector}" if end.connector else end.id


def _entry_of(document: Document, end: SectionEnd) -> str:
    """The entry that says how an end is cut, or the one that would."""
    return end.id if end.id in document.cut.ends else end.connector or end.id


def _put(document: Document, end: SectionEnd, name: str, value: float | None) -> tuple[dict[str, Any], ...]:
    return _put_at(_entry_of(document, end), name, value)


def _put_at(at: str, name: str, value: float | None) -> tuple[dict[str, Any], ...]:
    return ({"op": "replace", "path": pointer(["cut", "ends", at, name]), "value": value},)
