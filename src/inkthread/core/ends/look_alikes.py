"""Connectors that could be swapped for each other."""

from __future__ import annotations

from itertools import combinations

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
    for connectors in alike.values():
        groups: list[set[str]] = []
        for a, b in combinations(connectors, 2):
            one, two = document.ends.connectors[a], document.ends.connectors[b]
            if (one.mark and two.mark and one.mark != two.mark) or one.meets == b or two.meets == a:
                continue
            if circuits_of.get(a) == circuits_of.get(b) or not circuits_of.get(a) or not circuits_of.get(b):
                continue
            apart = tree.distance_mm(one.point or "", two.point or "")
            if apart is None or apart > reach:
                continue
            joined = next((g for g in groups if a in g or b in g), None)
            if joined is None:
                groups.append({a, b})
            else:
                joined |= {a, b}
        for group in groups:
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
