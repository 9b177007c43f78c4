"""What contradicts itself at one connector, put right together: every remedy that can be done is done."""

from __future__ import annotations

from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.document import parse_document
from inkthread.core.document.draft import LineError, operations_on
from inkthread.core.evaluate import evaluate
from inkthread.core.findings import Finding, Remedy

_ROUNDS = 16
"""More findings than that no connector has."""


def remedies_at(findings: tuple[Finding, ...], refs: frozenset[str], connector: str) -> list[Remedy]:
    """What can be done of the findings about a connector and its pins, one remedy each."""
    remedies = []
    for finding in findings:
        first = finding.places[0] if finding.places else None
        about = first is not None and (
            (first.kind == "connector" and first.id == connector)
            or (first.kind == "pin" and first.id in refs)
        )
        remedy = next((r for r in finding.remedies if r.operations), None)
        if about and remedy is not None:
            remedies.append(remedy)
    return remedies


def settle(plain: dict[str, Any], catalogue: Catalogue, connector: str) -> list[dict[str, Any]]:
    """Operations that do all that can be done of what is found at a connector, each on what is left then.

    Raises LineError where there is nothing to do.
    """
    if connector not in plain["ends"]["connectors"]:
        raise LineError(f"There is no connector {connector!r}.")
    done: list[dict[str, Any]] = []
    seen: set[str] = set()
    for _ in range(_ROUNDS):
        document = parse_document(plain)
        refs = frozenset(r for r, e in document.ends.pinout.items() if e.connector == connector)
        left = remedies_at(evaluate(document, catalogue).findings, refs, connector)
        remedy = next((r for r in left if repr(r.operations) not in seen), None)
        if remedy is None:
            break
        seen.add(repr(remedy.operations))
        plain = operations_on(plain, [dict(operation) for operation in remedy.operations])
        done += [dict(operation) for operation in remedy.operations]
    if not done:
        raise LineError(f"Nothing found at {connector} can be put right by itself.")
    return done
