"""Every part that can be bought, what it is counted in, and how one is named in a typed line."""

from __future__ import annotations

from collections.abc import Mapping
from difflib import get_close_matches
from typing import Literal

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.draft import LineError

Unit = Literal["m", "pcs"]


def known_parts(catalogue: Catalogue) -> dict[str, tuple[str, Unit]]:
    """Every code that can be bought: what it is in words, and what it is counted in."""
    by_code: dict[str, tuple[str, Unit]] = {}
    for wires in catalogue.wires.values():
        for size in wires.sizes:
            said = wires.name if wires.core_gauges else f"{wires.name}, {size.gauge}"
            by_code[wires.sold_as(size.gauge)] = (said, "m")
    for family in catalogue.connectors.values():
        parts = [p for h in family.housings for p in (*h.shells.values(), *h.locks.values())]
        parts += [family.cavity_plug] if family.cavity_plug is not None else []
        by_code |= {p.code: (p.description, "pcs") for p in parts}
        by_code |= {c.code: (c.description, "pcs") for c in family.contacts}
        by_code |= {seal.code: (seal.description, "pcs") for seal in family.seals}
        by_code |= {a.code: (a.description, "pcs") for a in family.accessories}
    by_code |= {s.code: (s.description, "pcs") for s in catalogue.splices}
    by_code |= {f.code: (f.description, "pcs") for f in catalogue.fuses}
    by_code |= {b.code: (b.description, "pcs") for b in catalogue.breakers}
    by_code |= {h.code: (h.description, "pcs") for h in catalogue.holders}
    by_code |= {c.code: (c.description, "pcs") for c in catalogue.covers}
    coverings = catalogue.coverings
    for by_metre in (
        coverings.sleeves,
        coverings.tapes,
        coverings.tubes(),
        coverings.labels,
        coverings.fillers,
    ):
        by_code |= {p.code: (p.description, "m") for p in by_metre}
    for by_piece in (
        coverings.ties,
        coverings.clamps,
        coverings.grommets,
        coverings.shapes,
        coverings.lubricants,
    ):
        by_code |= {p.code: (p.description, "pcs") for p in by_piece}
    by_code |= {k.code: (k.description, "pcs") for k in catalogue.kits.values()}
    return by_code


def named_part(known: Mapping[str, tuple[str, Unit]], line: str) -> tuple[str, str]:
    """The part that a line begins with, and the rest of the line. Raises LineError naming what is near."""
    low = line.lower()
    codes = [c for c in known if low == c.lower() or low.startswith(f"{c.lower()} ")]
    code = max(codes, key=len, default=None)
    if code is not None:
        return code, line[len(code) :].strip()
    word = line.split(" ")[0]
    near = get_close_matches(word.upper(), [c.upper() for c in known], n=3, cutoff=0.5)
    candidates = [c for c in known if c.upper() in near]
    raise LineError(
        f"There is no part {word!r}. "
        + (f"Is it {', '.join(candidates)}?" if candidates else "Look it up under Find a part.")
    )
