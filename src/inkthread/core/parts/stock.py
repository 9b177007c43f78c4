"""What is at hand in the shop against a bill: covered, to buy, to refill; and whether a kit fills itself."""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Literal

from inkthread.core.catalogue import Catalogue, ConnectorFamily, Contact
from inkthread.core.document.draft import LineError
from inkthread.core.parts.room import BillLine

Unit = Literal["m", "pcs"]


@dataclass(frozen=True, slots=True)
class StockEntry:
    """Parts of one code at hand, in pieces or, of wire, in m; wire of one colour."""

    code: str
    quantity: float
    colour: str = ""
    keep: float = 0.0
    """As many as are wanted at hand when a job is done; none where 0."""

    @property
    def id(self) -> str:
        """What tells it from others: code and colour."""
        return f"{self.code} {self.colour}".strip()


@dataclass(frozen=True, slots=True)
class CoveredLine:
    """A line of the bill against what is at hand."""

    group: str
    code: str
    description: str
    colour: str
    unit: Unit
    needed: float
    at_hand: float
    to_buy: float


@dataclass(frozen=True, slots=True)
class RefillLine:
    """What is bought after the job so that as many lie in the drawer as are wanted there."""

    code: str
    colour: str
    unit: Unit
    keep: float
    left: float
    refill: float


@dataclass(frozen=True, slots=True)
class KitRange:
    """Contacts of one wire range in a kit, against what the job needs of them."""

    code: str
    takes: str
    at_hand: float
    needed: float


@dataclass(frozen=True, slots=True)
class KitRow:
    """Contacts of one gender that go into the housings at hand of one or more families."""

    families: str
    gender: str
    ways: int
    """Ways of the housings at hand that take this gender."""
    contacts: float
    short: float
    """Ways that no contact at hand would fill."""
    ranges: tuple[KitRange, ...]


@dataclass(frozen=True, slots=True)
class Coverage:
    """A bill against the shop's stock."""

    lines: tuple[CoveredLine, ...]
    kits: tuple[KitRow, ...]
    refill: tuple[RefillLine, ...]


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
    for by_metre in (coverings.sleeves, coverings.tapes, coverings.tubes(), coverings.labels):
        by_code |= {p.code: (p.description, "m") for p in by_metre}
    for by_piece in (coverings.ties, coverings.clamps, coverings.grommets, coverings.shapes):
        by_code |= {p.code: (p.description, "pcs") for p in by_piece}
    return by_code


_REST = re.compile(
    r"(?P<count>\d+(?:[.,]\d+)?)\s*(?P<unit>m|pcs|pieces|x)?(?:\s*,?\s*keep\s+(?P<keep>\d+(?:[.,]\d+)?)\s*(?:m|pcs)?)?",
    re.IGNORECASE,
)


def stock_line(catalogue: Catalogue, text: str) -> StockEntry:
    """``SR16-P 50 keep 20``, or ``AS22759/32 20 AWG RD 30 m``. Raises LineError naming what is not known."""
    known = known_parts(catalogue)
    line = " ".join(text.split())
    low = line.lower()
    codes = [c for c in known if low == c.lower() or low.startswith(f"{c.lower()} ")]
    code = max(codes, key=len, default=None)
    if code is None:
        word = line.split(" ")[0]
        near = get_close_matches(word.upper(), [c.upper() for c in known], n=3, cutoff=0.5)
        candidates = [c for c in known if c.upper() in near]
        raise LineError(
            f"There is no part {word!r}. "
            + (f"Is it {', '.join(candidates)}?" if candidates else "Look it up under Find a part.")
        )
    rest = line[len(code) :].strip()
    colour = ""
    first = rest.split(" ")[0].upper()
    if known[code][1] == "m" and first and all(c in catalogue.colours for c in first.split("/")):
        colour, rest = first, rest[len(first) :].strip()
    match = _REST.fullmatch(rest)
    if match is None:
        raise LineError(
            f"Say how many of {code} there are, as in {code} 50 keep 20. {rest!r} is not understood."
        )
    unit = known[code][1]
    if match["unit"] and (match["unit"].lower() == "m") != (unit == "m"):
        raise LineError(f"{code} is counted in {'m' if unit == 'm' else 'pieces'}.")
    count, keep = (
        float(figure.replace(",", ".")) if figure else 0.0 for figure in (match["count"], match["keep"])
    )
    if unit == "pcs" and (count % 1 or keep % 1):
        raise LineError(f"{code} is counted in whole pieces.")
    return StockEntry(code, count, colour, keep)


def stock_lines(catalogue: Catalogue, text: str) -> list[StockEntry]:
    """Lines of a stock list, ``#`` for comments: all of them, or LineError with the number of the line."""
    entries: dict[str, StockEntry] = {}
    for number, line in enumerate(text.splitlines(), 1):
        said = line.partition("#")[0].strip()
        if not said:
            continue
        try:
            entry = stock_line(catalogue, said)
        except LineError as error:
            raise LineError(f"Line {number}: {error}") from None
        entries[entry.id] = entry
    if not entries:
        raise LineError("Write a part and how many, as in SS15-P2 10.")
    return list(entries.values())


def cover(catalogue: Catalogue, bill: Iterable[BillLine], stock: Collection[StockEntry]) -> Coverage:
    """What of a bill is at hand, what is to buy, and what the drawer then lacks.

    What comes with something else is neither.
    """
    left = {e.id: e.quantity for e in stock}
    known = known_parts(catalogue)
    needed: dict[str, float] = {}
    lines: list[CoveredLine] = []
    for line in bill:
        if line.included:
            continue
        key = f"{line.code} {line.colour}".strip() if line.unit == "m" else line.code
        key = key if key in left or line.unit != "m" else line.code
        need = line.to_order
        have = min(left.get(key, 0.0), need)
        if key in left:
            left[key] -= have
        needed[line.code] = needed.get(line.code, 0.0) + need
        buy = round(need - have, 4)
        lines.append(
            CoveredLine(
                line.group, line.code, line.description, line.colour, line.unit, need,
                round(have, 4), buy if line.unit == "m" else math.ceil(buy),
            )
        )  # fmt: skip
    refill = tuple(
        RefillLine(
            e.code, e.colour, known.get(e.code, ("", "pcs"))[1], e.keep, round(left[e.id], 4),
            round(e.keep - left[e.id], 4),
        )
        for e in stock
        if left[e.id] < e.keep
    )  # fmt: skip
    return Coverage(tuple(lines), _kits(catalogue, stock, needed), refill)


def _kits(
    catalogue: Catalogue, stock: Collection[StockEntry], needed: dict[str, float]
) -> tuple[KitRow, ...]:
    """Families of which housings or contacts are at hand; those that take the same contacts as one."""
    have: dict[str, float] = {}
    for entry in stock:
        have[entry.code] = have.get(entry.code, 0.0) + entry.quantity
    by_contacts: dict[tuple[str, ...], list[ConnectorFamily]] = {}
    for family in catalogue.connectors.values():
        if not family.loose and family.contacts:
            by_contacts.setdefault(tuple(sorted(c.code for c in family.contacts)), []).append(family)
    rows: list[KitRow] = []
    for families in by_contacts.values():
        contacts = families[0].contacts
        for gender in dict.fromkeys(c.gender for c in contacts):
            mine = [c for c in contacts if c.gender == gender]
            ways = sum(_ways_at_hand(family, gender, have) for family in families)
            count = sum(have.get(c.code, 0.0) for c in mine)
            if not ways and not count:
                continue
            rows.append(
                KitRow(
                    " and ".join(f.code for f in families), gender, ways, count, max(ways - count, 0.0),
                    tuple(_range(c, have, needed) for c in mine),
                )
            )  # fmt: skip
    return tuple(rows)


def _range(contact: Contact, have: dict[str, float], needed: dict[str, float]) -> KitRange:
    takes = f"{contact.conductor_min_mm2:g} to {contact.conductor_max_mm2:g} mm²"
    return KitRange(contact.code, takes, have.get(contact.code, 0.0), needed.get(contact.code, 0.0))


def _ways_at_hand(family: ConnectorFamily, gender: str, have: dict[str, float]) -> int:
    """Ways of the housings at hand whose shell takes contacts of this gender, or takes either."""
    total = 0
    for housing in family.housings:
        codes = {
            part.code
            for shell, part in housing.shells.items()
            if gender == "none" or family.gender_for(shell) in (None, gender)
        }
        total += housing.ways * int(sum(have.get(code, 0.0) for code in codes))
    return total
