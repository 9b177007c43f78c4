"""Who sells a part, in what packs and at what price: an offer, and what is bought of it for a need."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.draft import LineError
from inkthread.core.parts.units import Unit, known_parts, named_part
from inkthread.core.record import record
from inkthread.core.tolerances import WHOLE


@record
class Supplier:
    """Someone who sells parts. Money in the harness's currency."""

    name: str
    minimum: float = 0.0
    """The least that an order has to come to."""
    shipping: float = 0.0
    """Of an order, whatever is in it."""
    note: str = ""


@record
class PartOffer:
    """A part as one supplier sells it."""

    supplier: str
    code: str
    pack: float = 1.0
    """Sold by so many pieces, or so many m."""
    breaks: tuple[tuple[float, float], ...] = ()
    """(from so many, price of one or of a metre), rising."""
    lead_days: int | None = None
    """Until it is sent; None where it is not said."""
    stock: float | None = None
    """As many as they have; None where it is not said."""
    as_of: str = ""
    """When that was so: ``2026-11-28`` or with the time; empty where it was typed."""
    instead: str = ""
    """What they offer in its place; empty where they have it."""

    @property
    def sells(self) -> bool:
        """Whether it can be bought at all."""
        return bool(self.breaks) and not self.instead


@record
class Buy:
    """What is bought of an offer for a need."""

    quantity: float
    """In pieces or m, whole packs."""
    packs: int
    price_each: float
    cost: float
    for_the_break: bool
    """More than is needed, because so many cost less."""


def price_each(offer: PartOffer, quantity: float) -> float:
    """Price of one when so many are bought. Raises ValueError where the offer has no price."""
    prices = [price for start, price in offer.breaks if start <= quantity + WHOLE]
    if not offer.breaks:
        raise ValueError(f"{offer.supplier} has no price for {offer.code}")
    return prices[-1] if prices else offer.breaks[0][1]


def best_buy(offer: PartOffer, need: float) -> Buy:
    """The cheapest whole number of packs that covers a need; of equal ones the fewest.

    More than is needed is bought where a price break makes it cheaper. Raises ValueError without a price.
    """
    least = max(math.ceil(need / offer.pack - WHOLE), 1)
    counts = {least} | {max(math.ceil(start / offer.pack - WHOLE), least) for start, _ in offer.breaks}

    def cost(packs: int) -> float:
        return packs * offer.pack * price_each(offer, packs * offer.pack)

    packs = min(counts, key=lambda n: (round(cost(n), 6), n))
    quantity = packs * offer.pack
    return Buy(round(quantity, 4), packs, price_each(offer, quantity), round(cost(packs), 2), packs > least)


Typed = Supplier | PartOffer
_SUPPLIER = re.compile(
    r'supplier\s+(?:"(?P<quoted>[^"]{1,40})"|(?P<name>\S{1,40}))'
    r"(?:\s*,?\s*minimum\s+(?P<minimum>[\d.]+))?(?:\s*,?\s*shipping\s+(?P<shipping>[\d.]+))?",
    re.IGNORECASE,
)
_OFFER = re.compile(
    r'from\s+(?:"(?P<quoted>[^"]{1,40})"|(?P<name>\S{1,40}))(?:\s+pack\s+(?P<pack>[\d.]+)(?:\s*(?:m|pcs))?)?'
    r"\s+at\s+(?P<prices>[\d.]+(?:\s*,\s*\d[\d.]*(?:\s*(?:m|pcs))?\s+at\s+[\d.]+)*)"
    r"(?:\s*,?\s*lead\s+(?P<lead>\d{1,3})\s*(?:days?|d)?)?(?:\s*,?\s*stock\s+(?P<stock>[\d.]+))?",
    re.IGNORECASE,
)
_BREAK = re.compile(r"(?P<start>\d[\d.]*)(?:\s*(?:m|pcs))?\s+at\s+(?P<price>[\d.]+)", re.IGNORECASE)
_DEAREST, _MOST = 1e6, 1e6


def offer_lines(catalogue: Catalogue, text: str) -> list[Typed]:
    """``supplier "North counter" minimum 25 shipping 6.50`` and
    ``SS15-P2 from "North counter" pack 10 at 1.70, 50 at 1.45, lead 5 days``: a line each, ``#`` for remarks.

    Raises LineError naming the line and what is not understood in it.
    """
    known = known_parts(catalogue)
    typed: list[Typed] = []
    for number, line in enumerate(text.splitlines(), 1):
        words = " ".join(line.partition("#")[0].split())
        if not words:
            continue
        try:
            is_supplier = words.lower().startswith("supplier ")
            typed.append(_supplier(words) if is_supplier else _offer(known, words))
        except (LineError, ValueError) as error:
            raise LineError(f"Line {number}: {error}") from None
    if not typed:
        raise LineError('Write who sells what, as in SS15-P2 from "North counter" at 1.70.')
    return typed


def _money(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise LineError(f"{text!r} is no price.") from None
    if not 0 <= value <= _DEAREST:
        raise LineError(f"{text} is no price: from 0 to {_DEAREST:g}.")
    return value


def _supplier(line: str) -> Supplier:
    match = _SUPPLIER.fullmatch(line)
    if match is None:
        raise LineError(
            "Write supplier, its name, and what an order costs: "
            'supplier "North counter" minimum 25 shipping 6.50.'
        )
    return Supplier(
        match["quoted"] or match["name"],
        _money(match["minimum"] or "0"),
        _money(match["shipping"] or "0"),
    )


def _offer(known: Mapping[str, tuple[str, Unit]], line: str) -> PartOffer:
    code, rest = named_part(known, line)
    match = _OFFER.fullmatch(rest)
    if match is None:
        raise LineError(
            f"Say who sells {code} and at what price: "
            f'{code} from "North counter" pack 10 at 1.70, 50 at 1.45.'
        )
    first, *more = re.split(r"\s*,\s*", match["prices"])
    breaks = [(0.0, _money(first))]
    for part in more:
        step = _BREAK.fullmatch(part)
        assert step is not None, "the line matched"
        breaks.append((_money(step["start"]), _money(step["price"])))
    starts = [start for start, _ in breaks]
    if starts != sorted(set(starts)):
        raise LineError(f"The quantities of {code} have to rise from price to price.")
    pack = _money(match["pack"] or "1")
    if not 0 < pack <= _MOST:
        raise LineError(f"A pack of {match['pack']} {code} is none: more than 0.")
    if known[code][1] == "pcs" and pack % 1:
        raise LineError(f"{code} is sold in whole pieces; a pack of {match['pack']} is none.")
    return PartOffer(
        match["quoted"] or match["name"],
        code,
        pack,
        tuple(breaks),
        int(match["lead"]) if match["lead"] else None,
        _money(match["stock"]) if match["stock"] else None,
    )
