"""What to order from whom: the cheapest share-out of a shopping list among suppliers, shipping with it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from inkthread.core.catalogue import Catalogue
from inkthread.core.cut.plan import Length, Piece, plan_cuts
from inkthread.core.parts.kits import KitMix, cheapest_mix
from inkthread.core.parts.offers import Buy, PartOffer, Supplier, best_buy
from inkthread.core.parts.room import BillLine
from inkthread.core.parts.stock import Coverage, WireAtHand
from inkthread.core.parts.units import Unit
from inkthread.core.record import record
from inkthread.core.tolerances import WHOLE

_BY_THE_METRE = 1.0
"""Wire in packs no longer than this, in m, is measured off in one length."""


@record
class Need:
    """A part that has to be bought: so many pieces, or m; of wire, the pieces that are cut of it."""

    code: str
    colour: str
    description: str
    unit: Unit
    quantity: float
    estimate: float
    """What it comes to by the catalogue, where nobody offers it."""
    pieces_mm: tuple[float, ...] = ()

    @property
    def key(self) -> str:
        """Code, and colour of wire."""
        return f"{self.code} {self.colour}".strip()


def needs_of(
    bill: Iterable[BillLine], coverage: Coverage, wire: Mapping[str, WireAtHand] | None = None
) -> list[Need]:
    """What of a bill has to be bought, kits that parts are taken out of among it."""
    to_buy = {(line.group, f"{line.code} {line.colour}".strip()): line.to_buy for line in coverage.lines}
    needs: dict[str, Need] = {}
    for line in bill:
        many = line.quantity if line.group == "kit" else to_buy.get((line.group, line.key), 0.0)
        if many <= 0:
            continue
        estimate = line.price_each * many
        pieces: tuple[float, ...] = ()
        if line.group == "wire" and line.bought is None and wire and line.key in wire:
            pieces = wire[line.key].short_mm
        before = needs.get(line.key)
        if before is not None:  # tube over a breakout and tube over a cable are bought as one
            many, estimate = many + before.quantity, estimate + before.estimate
        needs[line.key] = Need(line.code, line.colour, line.description, line.unit, many, estimate, pieces)
    return list(needs.values())


@record
class OrderLine:
    """A part on an order. Quantities in pieces or m."""

    code: str
    colour: str
    description: str
    unit: Unit
    need: float
    quantity: float
    pack: float
    packs: int
    price_each: float
    cost: float
    for_the_break: bool
    lead_days: int | None
    as_of: str
    scarce: bool
    """They have fewer than that."""

    @property
    def key(self) -> str:
        """Code, and colour of wire."""
        return f"{self.code} {self.colour}".strip()


@record
class Order:
    """What is bought from one supplier."""

    supplier: str
    lines: tuple[OrderLine, ...]
    parts_cost: float
    shipping: float
    to_minimum: float
    """More has to be ordered for so much before they take it; 0 where it is enough."""
    total: float
    lead_days: int | None
    """The longest of its lines; None where one of them is not known."""


@record
class Unoffered:
    """A part that has to be bought and nobody offers."""

    code: str
    colour: str
    description: str
    unit: Unit
    quantity: float
    estimate: float
    why: str
    """``no supplier is noted``, or what they offer in its place."""


@record
class BuyingPlan:
    """Orders, what nobody offers, and what all of it comes to."""

    orders: tuple[Order, ...]
    unoffered: tuple[Unoffered, ...]
    total: float
    """Of the orders."""
    estimate: float
    """Of what nobody offers, by the catalogue."""
    lower_bound: float
    proved: bool
    """No other share-out among these offers costs less."""


def spools_for(pieces_mm: Sequence[float], spool_mm: float, *, patience_s: float = 0.5) -> int | None:
    """How many spools of one length hold all the pieces; None where one is longer than a spool.

    Never fewer than their sum asks for; more where the cuts leave too little on each.
    """
    if any(mm > spool_mm + WHOLE for mm in pieces_mm):
        return None
    pieces = [Piece(str(n), mm) for n, mm in enumerate(pieces_mm) if mm > 0]
    count = max(int(-(-sum(pieces_mm) // spool_mm)), 1)
    while True:
        spools = [Length(str(n), spool_mm) for n in range(count)]
        if not plan_cuts(spools, pieces, 0.0, patience_s=patience_s).short:
            return count
        count += 1


def plan_orders(
    needs: Iterable[Need], offers: Iterable[PartOffer], suppliers: Mapping[str, Supplier]
) -> BuyingPlan:
    """The cheapest orders for a list: parts, shipping, and what is missing to an order's minimum.

    A mixed-integer programme, solved to the end, so that no other share-out of whole lines costs less.
    """
    selling: dict[str, list[PartOffer]] = {}
    for offer in offers:
        selling.setdefault(offer.code, []).append(offer)
    lines: list[tuple[Need, list[tuple[PartOffer, Buy]]]] = []
    unoffered: list[Unoffered] = []
    for need in needs:
        choices = _choices(need, selling.get(need.code, ()))
        if choices:
            lines.append((need, choices))
        else:
            unoffered.append(
                Unoffered(
                    need.code, need.colour, need.description, need.unit, need.quantity,
                    round(need.estimate, 2), _why_not(need, selling.get(need.code, ())),
                )
            )  # fmt: skip
    picks, bound, proved = _share_out([choices for _, choices in lines], suppliers)
    orders = _orders(
        [(need, choices[pick]) for (need, choices), pick in zip(lines, picks, strict=True)], suppliers
    )
    total = round(sum(order.total for order in orders), 2)
    return BuyingPlan(
        orders, tuple(unoffered), total, round(sum(u.estimate for u in unoffered), 2), round(bound, 2), proved
    )


def _choices(need: Need, offers: Iterable[PartOffer]) -> list[tuple[PartOffer, Buy]]:
    """Offers that can be bought of, those that have enough before any that have not."""
    every = []
    for offer in offers:
        if not offer.sells:
            continue
        quantity = need.quantity
        if need.pieces_mm and offer.pack > _BY_THE_METRE:
            spools = spools_for(need.pieces_mm, offer.pack * 1000)
            if spools is None:
                continue
            quantity = spools * offer.pack
        every.append((offer, best_buy(offer, quantity)))
    enough = [(o, buy) for o, buy in every if o.stock is None or o.stock >= buy.quantity]
    return enough or every


def _why_not(need: Need, offers: Sequence[PartOffer]) -> str:
    instead = [f"{o.supplier} offers {o.instead} instead" for o in offers if o.instead]
    if instead:
        return "; ".join(instead)
    if need.pieces_mm and any(o.sells for o in offers):
        return f"its longest piece, {max(need.pieces_mm) / 1000:.2f} m, is longer than a spool of theirs"
    return "not to be had from those asked" if offers else "nobody is noted who sells it"


def _share_out(
    choices: Sequence[Sequence[tuple[PartOffer, Buy]]], suppliers: Mapping[str, Supplier]
) -> tuple[list[int], float, bool]:
    """Which choice of every line, the least that any share-out can cost, and whether this one does."""
    if not choices:
        return [], 0.0, True
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp

    names = sorted({offer.supplier for line in choices for offer, _ in line})
    first = np.cumsum([0, *(len(line) for line in choices)])
    many, each = int(first[-1]), len(names)
    # Unknowns: every choice, every supplier ordered from, and what is missing to each one's minimum.
    cost = np.zeros(many + 2 * each)
    rows: list[np.ndarray] = []
    low: list[float] = []
    high: list[float] = []
    asked = np.zeros((each, many + 2 * each))
    for n, line in enumerate(choices):
        row = np.zeros(many + 2 * each)
        for m, (offer, buy) in enumerate(line):
            at, who = int(first[n]) + m, names.index(offer.supplier)
            cost[at] = buy.cost
            row[at] = 1
            asked[who, at] = buy.cost
            only = np.zeros(many + 2 * each)
            only[at], only[many + who] = 1, -1
            rows.append(only)
            low.append(-np.inf)
            high.append(0)
        rows.append(row)
        low.append(1)
        high.append(1)
    for who, name in enumerate(names):
        supplier = suppliers.get(name, Supplier(name))
        cost[many + who], cost[many + each + who] = supplier.shipping, 1
        asked[who, many + who], asked[who, many + each + who] = -supplier.minimum, 1
        rows.append(asked[who])
        low.append(0)
        high.append(np.inf)
    whole = np.concatenate([np.ones(many + each), np.zeros(each)])
    top = np.concatenate([np.ones(many + each), np.full(each, np.inf)])
    solved = milp(
        cost,
        constraints=LinearConstraint(np.array(rows), low, high),
        integrality=whole,
        bounds=Bounds(0, top),
        options={"time_limit": 5.0, "mip_rel_gap": 0.0},
    )
    if solved.x is None:  # out of time with nothing in hand: each line where it is cheapest
        picks = [min(range(len(line)), key=lambda m: line[m][1].cost) for line in choices]
        return picks, sum(min(buy.cost for _, buy in line) for line in choices), False
    picks = [int(np.argmax(solved.x[first[n] : first[n + 1]])) for n in range(len(choices))]
    bound = float(solved.mip_dual_bound if solved.mip_dual_bound is not None else solved.fun)
    return picks, bound, bool(solved.fun <= bound + 0.005)


def _orders(
    picked: Sequence[tuple[Need, tuple[PartOffer, Buy]]], suppliers: Mapping[str, Supplier]
) -> tuple[Order, ...]:
    by_supplier: dict[str, list[OrderLine]] = {}
    for need, (offer, buy) in picked:
        by_supplier.setdefault(offer.supplier, []).append(
            OrderLine(
                need.code, need.colour, need.description, need.unit, need.quantity, buy.quantity, offer.pack,
                buy.packs, buy.price_each, buy.cost, buy.for_the_break, offer.lead_days, offer.as_of,
                offer.stock is not None and offer.stock < buy.quantity,
            )
        )  # fmt: skip
    orders = []
    for name, lines in sorted(by_supplier.items()):
        supplier = suppliers.get(name, Supplier(name))
        parts = round(sum(line.cost for line in lines), 2)
        missing = round(max(supplier.minimum - parts, 0.0), 2)
        leads = [line.lead_days for line in lines]
        known = [days for days in leads if days is not None]
        orders.append(
            Order(
                name, tuple(lines), parts, supplier.shipping, missing,
                round(parts + supplier.shipping + missing, 2),
                max(known) if len(known) == len(leads) else None,
            )
        )  # fmt: skip
    return tuple(orders)


def mix_for(catalogue: Catalogue, coverage: Coverage) -> tuple[dict[str, float], KitMix]:
    """What of the parts that kits hold has to be bought, kits chosen or not, and the cheapest mix for it."""
    inside = {code for kit in catalogue.kits.values() for code in kit.contents}
    need: dict[str, float] = {}
    each: dict[str, float] = {}
    for line in coverage.lines:
        if line.code in inside and line.to_buy + line.from_kit > 0:
            need[line.code] = need.get(line.code, 0.0) + line.to_buy + line.from_kit
            each[line.code] = line.price_each
    return need, cheapest_mix(catalogue.kits.values(), need, each)
