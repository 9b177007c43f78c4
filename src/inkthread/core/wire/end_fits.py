"""How candidates fit what is at both ends of their wire, and what the ends lose."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from inkthread.core.brief import Air
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.route import Section
from inkthread.core.wire.families import CandidateTable
from inkthread.core.wire.limits import EndFit, end_fit


def deratings(
    document: Document,
    catalogue: Catalogue,
    point_airs: dict[str, Air],
    sections: list[Section],
    heating_a: FloatArray,
) -> dict[str, float]:
    """Part of its contacts' current that each connector may carry: by loaded ways and its ambient."""
    currents: dict[str, list[float]] = {k: [] for k in document.ends.connectors}
    for s, current in zip(sections, heating_a.tolist(), strict=True):
        for end in (s.a, s.b):
            if end.connector is not None:
                currents[end.connector].append(current)
    derating: dict[str, float] = {}
    for k, c in document.ends.connectors.items():
        family, air = catalogue.connectors[c.family], point_airs.get(c.point or "")
        derating[k] = family.current_share(
            family.loaded_ways(currents[k]), air.ambient_c if air is not None else -273.0
        )
    return derating


def end_fits(
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
