"""What is at hand in the shop against a bill: covered, to buy, to refill; and whether a kit fills itself."""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Iterable, Mapping

from inkthread.core.catalogue import Catalogue
from inkthread.core.cut.spools import SpoolPlan
from inkthread.core.document.draft import LineError
from inkthread.core.parts.kits import KitRow, kit_rows
from inkthread.core.parts.room import BillLine
from inkthread.core.parts.units import Unit, known_parts, named_part
from inkthread.core.record import record
from inkthread.core.tolerances import WHOLE


@record
class StockEntry:
    """Parts of one code at hand, in pieces or, of wire, in m; wire of one colour."""

    code: str
    quantity: float
    colour: str = ""
    keep: float = 0.0
    """As many as are wanted at hand when a job is done; none where 0."""
    place: str = ""
    """The drawer or bin that it lies in."""

    @property
    def id(self) -> str:
        """What tells it from others: code and colour."""
        return f"{self.code} {self.colour}".strip()


@record
class CoveredLine:
    """A line of the bill against what is at hand."""

    group: str
    code: str
    description: str
    colour: str
    unit: Unit
    needed: float
    at_hand: float
    """Free in the drawers, on spools or in kits that it is taken out of."""
    to_buy: float
    waste: float = 0.0
    """Of wire: what is left of spools that are begun, too short to keep."""
    price_each: float = 0.0
    from_kit: float = 0.0
    """Of what is at hand: out of kits that are bought."""
    from_drawer: float = 0.0
    """Of what is at hand: out of the drawers."""
    entry: str = ""
    """What it is noted as in the stock."""
    place: str = ""
    """The drawer that it lies in."""
    set_aside: float = 0.0
    """Reserved for this harness."""
    others: float = 0.0
    """Reserved for others: not free."""


@record
class RefillLine:
    """What is bought after the job so that as many lie in the drawer as are wanted there."""

    code: str
    colour: str
    unit: Unit
    keep: float
    left: float
    refill: float


@record
class Coverage:
    """A bill against the shop's stock."""

    lines: tuple[CoveredLine, ...]
    kits: tuple[KitRow, ...]
    refill: tuple[RefillLine, ...]


_REST = re.compile(
    r"(?P<count>\d+(?:[.,]\d+)?)\s*(?P<unit>m|pcs|pieces|x)?(?:\s*,?\s*keep\s+(?P<keep>\d+(?:[.,]\d+)?)\s*(?:m|pcs)?)?"
    r"(?:\s*(?:,|\bin\b)\s*(?P<place>.{1,60}))?",
    re.IGNORECASE,
)


def stock_line(catalogue: Catalogue, text: str) -> StockEntry:
    """``SR16-P 50 keep 20``, or ``AS22759/32 20 AWG RD 30 m``. Raises LineError naming what is not known."""
    known = known_parts(catalogue)
    code, rest = named_part(known, " ".join(text.split()))
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
    return StockEntry(code, count, colour, keep, (match["place"] or "").strip())


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
        if entry.id in entries:
            raise LineError(f"Line {number}: {entry.id} stands here twice. Write it once, with all of it.")
        entries[entry.id] = entry
    if not entries:
        raise LineError("Write a part and how many, as in SS15-P2 10.")
    return list(entries.values())


@record
class WireAtHand:
    """What of a wire part is to be cut yet and no spool holds."""

    short_mm: tuple[float, ...]
    """The pieces that no spool holds."""
    waste_mm: float
    """Left of the spools that are begun, too short to keep."""


def wire_at_hand(plan: SpoolPlan) -> dict[str, WireAtHand]:
    """By code and colour, from the plan of what comes off which spool."""
    return {
        f"{part.part} {part.colour}".strip(): WireAtHand(
            tuple(piece.length_mm for piece in part.short), part.waste_mm
        )
        for part in plan.parts
    }


def cover(
    catalogue: Catalogue,
    bill: Iterable[BillLine],
    stock: Collection[StockEntry],
    *,
    wire: Mapping[str, WireAtHand] | None = None,
    reserved: Mapping[str, float] | None = None,
    mine: Mapping[str, float] | None = None,
) -> Coverage:
    """What of a bill is at hand, what is to buy, and what the drawer then lacks.

    What comes with something else is neither. Wire counts by its spools, as planned. ``reserved`` is what
    other harnesses have set aside, by entry: that is not free. ``mine`` is what this one has.
    """
    taken, own = reserved or {}, mine or {}
    left = {e.id: max(e.quantity - taken.get(e.id, 0.0), 0.0) for e in stock}
    places = {e.id: e.place for e in stock}
    known = known_parts(catalogue)
    needed: dict[str, float] = {}
    lines: list[CoveredLine] = []
    for line in bill:
        if line.included or line.group == "kit":
            continue
        key = line.key if line.unit == "m" else line.code
        key = key if key in left or line.unit != "m" else line.code
        need = line.to_order
        needed[line.code] = needed.get(line.code, 0.0) + need
        need = max(need - line.from_kit, 0.0)
        spooled = (wire or {}).get(line.key) if line.group == "wire" else None
        off_spools, waste = 0.0, 0.0
        if spooled is not None and line.bought is None:
            off_spools = max(need - sum(spooled.short_mm) / 1000, 0.0)
            waste = spooled.waste_mm / 1000
        have = min(left.get(key, 0.0), need - off_spools)
        if key in left:
            left[key] -= have
        buy = round(need - off_spools - have, 4)
        lines.append(
            CoveredLine(
                line.group, line.code, line.description, line.colour, line.unit, line.to_order,
                round(have + off_spools + min(line.from_kit, line.to_order), 4),
                buy if line.unit == "m" else math.ceil(buy - WHOLE),
                round(waste, 4), line.price_each, min(line.from_kit, line.to_order), round(have, 4),
                key if key in left else "", places.get(key, ""),
                round(own.get(key, 0.0), 4), round(taken.get(key, 0.0), 4),
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
    have_of: dict[str, float] = {}
    for entry in stock:
        have_of[entry.code] = have_of.get(entry.code, 0.0) + entry.quantity
    return Coverage(tuple(lines), kit_rows(catalogue, have_of, needed), refill)
