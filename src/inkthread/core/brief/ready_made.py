"""Make or buy: leads that can be bought made, against the length that is wanted and what it costs to make."""

from __future__ import annotations

from inkthread.core.brief.rules import BriefResult
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.measures import format_length
from inkthread.core.record import record
from inkthread.core.words import list_in_words


@record
class Offer:
    """A ready-made lead against what is wanted."""

    id: str
    name: str
    length_mm: float
    price: float
    margin_mm: float
    """Its length less what is wanted; below zero it does not reach."""
    fits: bool
    chosen: bool
    why: str


@record
class MakeOrBuy:
    """The length wanted, what one costs to make with and without the tools to buy, and what is offered."""

    needed_mm: float
    surplus_mm: float
    make_each: float
    make_each_with_tools: float
    offers: tuple[Offer, ...]
    sentence: str


def make_or_buy(
    document: Document, brief: BriefResult, needed_mm: float, cost_total: float, tooling_total: float
) -> MakeOrBuy:
    """Margin of every lead on offer: its length less what is wanted (a published way of reckoning it is not
    known; common practice). Cost each = (materials + tools to buy) / quantity.
    """
    units = document.brief.measures
    quantity = document.brief.quantity
    surplus_mm = brief.value("surplus_mm")
    offers = []
    for offer_id, offer in document.brief.ready_made.items():
        margin = offer.length_mm - needed_mm
        if margin < 0:
            why = f"{format_length(-margin, units)} too short"
        elif margin > surplus_mm:
            why = f"{format_length(margin, units)} too long: {format_length(surplus_mm, units)} may be stowed"
        else:
            why = f"{format_length(margin, units)} to stow and clamp"
        offers.append(
            Offer(
                offer_id,
                offer.name,
                offer.length_mm,
                offer.price,
                round(margin, 3),
                0 <= margin <= surplus_mm,
                offer.chosen,
                why,
            )
        )
    each, with_tools = cost_total / quantity, (cost_total + tooling_total) / quantity
    fitting = [o for o in offers if o.fits]
    sentence = (
        f"**{format_length(needed_mm, units)}** is wanted. To make one costs **{each:.2f}**, "
        f"**{with_tools:.2f}** with the tools that are not there yet."
    )
    if offers and not fitting:
        sentence += " None of the lengths on offer will do."
    elif fitting:
        best = min(fitting, key=lambda o: o.price)
        sentence += f" {best.name or best.id} is **{best.price:.2f}**, {best.why}."
    return MakeOrBuy(
        round(needed_mm, 2), surplus_mm, round(each, 2), round(with_tools, 2), tuple(offers), sentence
    )


def find_in_offers(document: Document, offered: MakeOrBuy, book: FindingBook) -> None:
    """A lead that is bought and does not fit, or none that does."""
    units = document.brief.measures
    bad = [o for o in offered.offers if o.chosen and not o.fits]
    for offer in bad:
        book.add(
            "ready-made-misfits",
            Place("brief", "ready-made", offer.id),
            lead=offer.name or offer.id,
            why=offer.why,
            needed=format_length(offered.needed_mm, units),
        )
    if offered.offers and not bad and not any(o.fits for o in offered.offers):
        book.add(
            "ready-made-none-fits",
            Place("brief", "ready-made", offered.offers[0].id),
            leads=list_in_words([f"{o.name or o.id} ({o.why})" for o in offered.offers[:5]]),
            needed=format_length(offered.needed_mm, units),
        )
