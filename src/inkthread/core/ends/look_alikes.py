"""Connectors that could be swapped for each other."""

from __future__ import annotations

from collections.abc import Iterator

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, ConnectorFamily
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, PutRight, phrase
from inkthread.core.measures import format_length
from inkthread.core.route import RouteTree
from inkthread.core.words import list_in_words


def find_look_alikes(
    document: Document, catalogue: Catalogue, brief: BriefResult, tree: RouteTree, book: FindingBook
) -> None:
    """Connectors that could be swapped: same family, ways, shell and key, near enough, other circuits."""
    reach = brief.value("lookalike_reach_mm")
    alike: dict[tuple[str, int, str, str, str], list[str]] = {}
    for connector_id, c in document.ends.connectors.items():
        family = catalogue.connectors[c.family]
        if family.loose or family.group in ("fuse and relay", "terminal block") or c.point is None or c.panel:
            continue
        alike.setdefault((c.family, c.ways, c.shell, c.contact_gender, c.key), []).append(connector_id)
    circuits_of: dict[str, dict[str, str]] = {}
    circuit_of = {r: k for k, c in document.circuits.circuits.items() for r in c.ends}
    for ref, entry in document.ends.pinout.items():
        if ref in circuit_of:
            circuits_of.setdefault(entry.connector, {})[entry.cavity] = circuit_of[ref]
    near: dict[str, list[str]] = {}
    for connectors in alike.values():
        for group in _groups(document, connectors, circuits_of, tree, reach, near):
            names = sorted(group)
            family = catalogue.connectors[document.ends.connectors[names[0]].family]
            book.add(
                "look-alikes",
                *(Place("ends", "connector", k) for k in names[:8]),
                mechanical=_tell_apart(document, family, names),
                connectors=list_in_words(names[:8]),
                family=family.code,
                ways=str(document.ends.connectors[names[0]].ways),
                reach=format_length(reach, document.brief.measures),
                keys=phrase("keys", keyings=list_in_words(list(family.keyings)))
                if len(family.keyings) > 1
                else "",
            )


def _groups(
    document: Document,
    connectors: list[str],
    circuits_of: dict[str, dict[str, str]],
    tree: RouteTree,
    reach_mm: float,
    near: dict[str, list[str]],
) -> Iterator[list[str]]:
    """Of connectors that look alike, those that could be swapped, each group whole: what can be swapped with
    one can be with the next. ``near`` has the points within reach of those looked at so far.

    Every connector is put into a group once, so that a thousand at one place are not held against each other.
    """
    stated = document.ends.connectors
    waiting: dict[str, dict[str, None]] = {}
    for connector in connectors:
        if circuits_of.get(connector):
            waiting.setdefault(stated[connector].point or "", {})[connector] = None
    for first in connectors:
        beside = waiting.get(stated[first].point or "", {})
        if first not in beside:
            continue
        del beside[first]
        group = [first]
        for one in group:
            at = stated[one].point or ""
            if at not in near:
                near[at] = tree.within(at, reach_mm)
            for point in near[at]:
                like = [k for k in waiting.get(point, ()) if _swappable(document, circuits_of, one, k)]
                for other in like:
                    del waiting[point][other]
                group += like
        if len(group) > 1:
            yield group


def _swappable(document: Document, circuits_of: dict[str, dict[str, str]], a: str, b: str) -> bool:
    one, two = document.ends.connectors[a], document.ends.connectors[b]
    apart = (one.mark and two.mark and one.mark != two.mark) or one.meets == b or two.meets == a
    return not apart and circuits_of[a] != circuits_of[b]


_MARKS = ("red sleeve", "blue sleeve", "yellow sleeve", "green sleeve", "white sleeve", "violet sleeve")


def _tell_apart(document: Document, family: ConnectorFamily, names: list[str]) -> PutRight | None:
    """Keys where there are enough of them, else a coloured sleeve on each."""
    if len(family.keyings) >= len(names):
        return (
            phrase("key", given=list_in_words(list(family.keyings[: len(names)]))),
            tuple(
                {"op": "replace", "path": f"/ends/connectors/{n}/key", "value": k}
                for n, k in zip(names, family.keyings, strict=False)
            ),
        )
    if len(names) > len(_MARKS):
        return None
    return (
        phrase("mark"),
        tuple(
            {"op": "replace", "path": f"/ends/connectors/{n}/mark", "value": m}
            for n, m in zip(names, _MARKS, strict=False)
        ),
    )
