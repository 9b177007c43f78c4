"""Lists of stock, prices, kits and offers that come as a table: rows of cells, the first of them headings."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TypeVar

from inkthread.core.catalogue import Catalogue, Kit
from inkthread.core.document.draft import LineError
from inkthread.core.parts.offers import PartOffer
from inkthread.core.parts.stock import StockEntry
from inkthread.core.parts.units import Unit, known_parts
from inkthread.core.quantity import QuantityError, parse_number
from inkthread.core.record import record

Rows = Sequence[Sequence[str]]
T = TypeVar("T")
_MOST = 1e6


@record
class _Row:
    """A row of a table, by heading."""

    number: int
    cells: Mapping[str, str]
    known: Mapping[str, tuple[str, Unit]]

    def text(self, name: str) -> str:
        return self.cells.get(name, "").strip()

    def part(self, name: str = "code") -> str:
        """A code that there is, as it is written here. Raises LineError."""
        word = self.text(name)
        code = next((c for c in self.known if c.lower() == word.lower()), None)
        if code is None:
            raise LineError(f"there is no part {word!r}." if word else "its part is not said.")
        return code

    def number_of(self, name: str, least: float = 0.0, *, default: float | None = None) -> float:
        """A number under a heading. Raises LineError."""
        word = self.text(name)
        if not word and default is not None:
            return default
        try:
            value = parse_number(word)
        except QuantityError:
            raise LineError(f"{word!r} under {name} is no number.") from None
        if not least <= value <= _MOST:
            raise LineError(f"{word} under {name} is outside {least:g} to {_MOST:g}.")
        return value


def _read(
    catalogue: Catalogue, rows: Rows, needed: Sequence[str], make: Callable[[_Row], T]
) -> list[tuple[int, T]]:
    """What every row makes, with its number in the file. Raises LineError naming row and heading."""
    if not rows:
        raise LineError("The table is empty.")
    heads = [_heading(cell) for cell in rows[0]]
    missing = [name for name in needed if name not in heads]
    if missing:
        raise LineError(f"Its first row has to name the columns; {', '.join(missing)} is missing.")
    twice = next((name for name in heads if name and heads.count(name) > 1), None)
    if twice is not None:
        raise LineError(f"Two columns are named {twice}.")
    known = known_parts(catalogue)
    things: list[tuple[int, T]] = []
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        cells = dict(zip(heads, row, strict=False))
        try:
            things.append((number, make(_Row(number, cells, known))))
        except LineError as error:
            raise LineError(f"Row {number}: {error}") from None
    if not things:
        raise LineError("There is no row under its headings.")
    return things


def _heading(cell: str) -> str:
    """``Price (each)`` and ``at hand`` as one word without units."""
    return cell.partition("(")[0].strip().lower().replace(" ", "_")


def stock_rows(catalogue: Catalogue, rows: Rows) -> list[StockEntry]:
    """Columns ``code``, ``quantity``, and as wanted ``colour``, ``keep``, ``place``. Raises LineError."""

    def make(row: _Row) -> StockEntry:
        code = row.part()
        colour = row.text("colour").upper()
        if colour and not all(c in catalogue.colours for c in colour.split("/")):
            raise LineError(f"{colour} is no colour.")
        entry = StockEntry(
            code,
            row.number_of("quantity"),
            colour,
            row.number_of("keep", default=0.0),
            row.text("place")[:60],
        )
        if row.known[code][1] == "pcs" and (entry.quantity % 1 or entry.keep % 1):
            raise LineError(f"{code} is counted in whole pieces.")
        return entry

    entries: dict[str, StockEntry] = {}
    for number, entry in _read(catalogue, rows, ("code", "quantity"), make):
        if entry.id in entries:
            raise LineError(f"Row {number}: {entry.id} stands here twice. Write it once, with all of it.")
        entries[entry.id] = entry
    return list(entries.values())


def price_rows(catalogue: Catalogue, rows: Rows) -> dict[str, float]:
    """Columns ``code`` and ``price``, of one piece or metre. Raises LineError."""
    prices: dict[str, float] = {}
    for number, (code, price) in _read(
        catalogue, rows, ("code", "price"), lambda row: (row.part(), row.number_of("price"))
    ):
        if code in prices:
            raise LineError(f"Row {number}: {code} stands here twice. Which price is it?")
        prices[code] = price
    return prices


def kit_rows_of(catalogue: Catalogue, rows: Rows) -> list[Kit]:
    """Columns ``kit``, ``code``, ``count``, and in one row of each ``price`` and ``description``.

    Raises LineError.
    """

    def make(row: _Row) -> tuple[str, str, int, float, str]:
        kit = row.text("kit").upper()
        if not kit or len(kit) > 30:
            raise LineError("its kit is not named, or by more than 30 letters.")
        count = row.number_of("count", 1)
        if count % 1:
            raise LineError(f"{row.text('count')} under count is no whole number.")
        return kit, row.part(), int(count), row.number_of("price", default=0.0), row.text("description")[:120]

    contents: dict[str, dict[str, int]] = {}
    prices: dict[str, float] = {}
    words: dict[str, str] = {}
    for number, (kit, code, count, price, description) in _read(
        catalogue, rows, ("kit", "code", "count"), make
    ):
        inside = contents.setdefault(kit, {})
        if code in inside:
            raise LineError(f"Row {number}: {code} stands twice in {kit}. Write it once.")
        inside[code] = count
        prices[kit] = max(prices.get(kit, 0.0), price)
        words[kit] = words.get(kit) or description
    return [
        Kit(kit, words[kit] or f"Kit {kit}", prices[kit], inside, "the shop's own")
        for kit, inside in contents.items()
    ]


def offer_rows(catalogue: Catalogue, rows: Rows) -> list[PartOffer]:
    """Columns ``supplier``, ``code``, ``price``, and as wanted ``pack``, ``from``, ``lead_days``, ``stock``.

    Several rows of one part with another ``from`` are its price breaks. Raises LineError.
    """

    def make(row: _Row) -> tuple[tuple[str, str], tuple[float, float], PartOffer]:
        supplier, code = row.text("supplier"), row.part()
        if not supplier or len(supplier) > 40:
            raise LineError("its supplier is not named, or by more than 40 letters.")
        lead, stock = row.text("lead_days"), row.text("stock")
        offer = PartOffer(
            supplier, code, row.number_of("pack", 1e-3, default=1.0), (),
            int(row.number_of("lead_days")) if lead else None, row.number_of("stock") if stock else None,
        )  # fmt: skip
        return (supplier, code), (row.number_of("from", default=0.0), row.number_of("price")), offer

    breaks: dict[tuple[str, str], dict[float, float]] = {}
    first: dict[tuple[str, str], PartOffer] = {}
    for number, (key, (start, price), offer) in _read(catalogue, rows, ("supplier", "code", "price"), make):
        steps = breaks.setdefault(key, {})
        if start in steps:
            raise LineError(f"Row {number}: {key[1]} from {key[0]} has two prices from {start:g} on.")
        steps[start] = price
        first.setdefault(key, offer)
    return [
        PartOffer(o.supplier, o.code, o.pack, tuple(sorted(breaks[key].items())), o.lead_days, o.stock)
        for key, o in first.items()
    ]
