"""How candidates fit what is at both ends of their wire, and what the ends lose."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from inkthread.core.brief import Air
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.route import Section, Threaded
from inkthread.core.wire.families import CandidateTable
from inkthread.core.wire.free_air import FreeAir
from inkthread.core.wire.limits import EndFit, WorstEnds, end_fit, worst_ends


def deratings(
    document: Document,
    catalogue: Catalogue,
    point_airs: dict[str, Air],
    threaded: Threaded,
    carried_a: FloatArray,
    memo: Memo,
) -> dict[str, float]:
    """Part of its contacts' current that each connector may carry: by loaded ways and its ambient.
    ``carried_a`` (n,) is what each wire carries."""
    by_wire = carried_a.tolist()
    wires_at = memo.get(_wires_at, only(document, "ends"), threaded)
    derating: dict[str, float] = {}
    from_a: dict[str, float] = {}
    for k, c in document.ends.connectors.items():
        family, air = catalogue.connectors[c.family], point_airs.get(c.point or "")
        if c.family not in from_a:
            from_a[c.family] = family.loaded_from_a
        least_a = from_a[c.family]
        loaded = len([i for i in wires_at[k] if by_wire[i] >= least_a])
        derating[k] = family.current_share(loaded, air.ambient_c if air is not None else -273.0)
    return derating


def _wires_at(document: Document, threaded: Threaded) -> dict[str, list[int]]:
    """Connector to the places of the wires that end in it: one that ends there twice, twice."""
    wires_at: dict[str, list[int]] = {k: [] for k in document.ends.connectors}
    for i, s in enumerate(threaded.sections.values()):
        for end in (s.a, s.b):
            if end.connector is not None:
                wires_at[end.connector].append(i)
    return wires_at


def ends_as_derated(
    document: Document,
    catalogue: Catalogue,
    free: FreeAir,
    threaded: Threaded,
    derating: tuple[tuple[str, float], ...],
    memo: Memo,
) -> WorstEnds:
    """The worst fit of both ends of every wire, with what each connector's contacts may still carry."""
    table, sections = free.table, list(threaded.sections.values())
    fits = _end_fits(document, catalogue, table, sections, dict(derating), memo)
    return worst_ends(fits, free.chains.index, len(table.sizes))


def _end_fits(
    document: Document,
    catalogue: Catalogue,
    table: CandidateTable,
    sections: list[Section],
    derating: dict[str, float],
    memo: Memo,
) -> list[tuple[EndFit, ...]]:
    """How every candidate fits the connectors at both ends of each wire."""
    known: dict[tuple[str, str, str | None, str | None, float], EndFit] = {}
    fits: list[tuple[EndFit, ...]] = []
    for s in sections:
        pair: list[EndFit] = []
        for end in (s.a, s.b):
            if end.connector is None:
                continue
            c = document.ends.connectors[end.connector]
            fixed = document.ends.pinout[end.id].contact
            key = (c.family, c.contact_gender, c.stud, fixed, derating[end.connector])
            if key not in known:
                family = catalogue.connectors[c.family]
                whole = memo.get(end_fit, table.sizes, family, *key[1:4], of=key[:4])
                known[key] = replace(whole, contact_a=whole.contact_a * derating[end.connector])
            pair.append(known[key])
        fits.append(tuple(pair))
    return fits


def termination_ohms(document: Document, catalogue: Catalogue, sections: list[Section]) -> FloatArray:
    """Contact resistance in ohm at both ends of each wire; a splice counts as its smallest size."""
    splice = next(splice for splice in catalogue.splices if splice.kind == "overlap").resistance_mohm / 1000
    by_connector = {
        k: catalogue.connectors[c.family].contact_resistance_mohm / 1000
        for k, c in document.ends.connectors.items()
    }
    return np.array(
        [sum(by_connector[e.connector] if e.connector else splice for e in (s.a, s.b)) for s in sections],
        dtype=float,
    )
