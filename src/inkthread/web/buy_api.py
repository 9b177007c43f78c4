"""The API of buying: who sells what, what to order, orders written, parts set aside, prices and kits."""

from __future__ import annotations

import base64
from collections.abc import Mapping
from dataclasses import asdict
from typing import Literal

from flask import Response
from pydantic import ConfigDict, Field

from inkthread.core.catalogue import Kit
from inkthread.core.cut.spools import Done, plan_spools
from inkthread.core.document import Problem
from inkthread.core.document.draft import LineError
from inkthread.core.parts import Coverage, cover, known_parts, wire_at_hand
from inkthread.core.parts.kits import KitCover, KitMix, kit_cover
from inkthread.core.parts.offers import PartOffer, Supplier, offer_lines
from inkthread.core.parts.orders import BuyingPlan, mix_for, needs_of, plan_orders
from inkthread.core.parts.sheets import kit_rows_of, offer_rows, price_rows, stock_rows
from inkthread.core.parts.stock import WireAtHand
from inkthread.core.quantity import QuantityError, parse_number
from inkthread.core.shop import Spool
from inkthread.core.workings import Workings
from inkthread.exchange.orders import order_csv, order_pdf
from inkthread.exchange.sheets import SheetError, rows_of
from inkthread.web.problems import problem
from inkthread.web.schemas import REPLY, DesignPath, ProblemDetails, RowId
from inkthread.web.sent import Sent
from inkthread.web.stock_api import stock_entry
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop


class CoverageReply(Sent):
    """The bill of a harness against what is at hand."""

    model_config = REPLY
    version: int
    coverage: Coverage


class SuppliersReply(Sent):
    """Who sells what."""

    model_config = REPLY
    suppliers: list[Supplier]
    offers: list[PartOffer]


class OfferBody(Sent):
    """Lines like ``SS15-P2 from "North counter" pack 10 at 1.70``."""

    text: str = Field(max_length=60_000)


class OfSupplier(Sent):
    """Which supplier."""

    name: str = Field(max_length=40)


class OrderItem(Sent):
    """An order that was written."""

    model_config = REPLY
    id: int
    supplier: str
    state: str
    says: str
    at: str
    lines: int
    total: float


class OrdersReply(Sent):
    """What to order from whom, whether prices are asked for, and the orders of a harness."""

    model_config = REPLY
    version: int
    plan: BuyingPlan
    asking: bool
    says: str
    """What went wrong when prices were last asked for."""
    port: int
    orders: list[OrderItem]


class OrderBody(Sent):
    """Whose order is written."""

    model_config = ConfigDict(extra="forbid")
    supplier: str = Field(max_length=40)


class OrderOfDesignPath(DesignPath):
    """Which order of which harness."""

    order: RowId


class OrderFilePath(Sent):
    """Which order, and as what."""

    order: RowId

    form: Literal["csv", "pdf"]


class AsideBody(Sent):
    """What is done with parts in the drawers for a harness; with all that it needs where none is named."""

    model_config = ConfigDict(extra="forbid")
    act: Literal["set aside", "let go", "used", "put back"]
    entries: dict[str, float] = Field(default_factory=dict, max_length=2000)


class AsideReply(CoverageReply):
    """The same, with how many of each part were taken out or put back."""

    moved: dict[str, float]


class PriceBody(Sent):
    """What a part costs here, by the piece or metre; empty goes back to the catalogue's."""

    model_config = ConfigDict(extra="forbid")
    code: str = Field(min_length=1, max_length=60)
    price: str = Field(max_length=20)


class PricesReply(Sent):
    """Prices of the shop's own, by code."""

    model_config = REPLY
    prices: dict[str, float]


class FileBody(Sent):
    """A table of stock, prices, kits or offers: CSV or XLSX, in base64."""

    model_config = ConfigDict(extra="forbid")
    what: Literal["stock", "prices", "kits", "offers"]
    data: str = Field(max_length=6_000_000)


class FileReply(Sent):
    """How many were taken."""

    model_config = REPLY
    what: str
    taken: int


class KitsReply(Sent):
    """Kits that there are, against what a harness needs, and the cheapest mix of kits and singles."""

    model_config = REPLY
    version: int
    kits: list[KitCover]
    mix: KitMix


class OfKit(Sent):
    """Which kit."""

    code: str = Field(max_length=30)


class KitsHeldReply(Sent):
    """Kits that there are; those of the shop's own can be taken out."""

    model_config = REPLY
    kits: list[Kit]
    own: list[str]


def covered(design_id: str, w: Workings) -> tuple[Coverage, Mapping[str, WireAtHand]]:
    """The bill of a harness against drawers and spools, with what other harnesses have set aside."""
    shop = workshop()
    spools = [Spool(**data) for data in shop.cuts.spools()]
    done = [Done(**data) for data in shop.cuts.cut_of(design_id)]
    begin = shop.plans.get(design_id)
    plan = plan_spools(w.cut, w.document.brief.quantity, spools, done, w.brief, begin=begin)
    wire = wire_at_hand(plan)
    aside = shop.buying.reserved()
    others: dict[str, float] = {}
    for design, entries in aside.items():
        if design != design_id:
            for entry, quantity in entries.items():
                others[entry] = others.get(entry, 0.0) + quantity
    coverage = cover(
        w.catalogue,
        w.evaluation.parts.lines,
        [stock_entry(data) for data in shop.shop.stock().values()],
        wire=wire,
        reserved=others,
        mine=aside.get(design_id, {}),
    )
    return coverage, wire


@view("get", "/designs/<design_id>/stock", {200: CoverageReply})
def get_coverage(path: DesignPath) -> Response:
    """What of a harness is at hand, what is to buy and to refill, and whether a kit fills its housings."""
    stored, w = now(path)
    coverage, _ = covered(stored.id, w)
    return json_reply(CoverageReply, CoverageReply.model_construct(version=stored.version, coverage=coverage))


@view("post", "/designs/<design_id>/stock", {200: AsideReply, 409: ProblemDetails})
def post_aside(path: DesignPath, body: AsideBody) -> Response:
    """Set parts aside for a harness, let them go, take them out of the drawers, or put them back."""
    stored, w = now(path)
    buying = workshop().buying
    coverage, _ = covered(stored.id, w)
    needed: dict[str, float] = {}
    for line in coverage.lines:
        if line.entry and line.from_drawer > 0:
            needed[line.entry] = round(needed.get(line.entry, 0.0) + line.from_drawer, 4)
    moved = body.entries or needed
    if any(quantity < 0 for quantity in moved.values()):
        raise LineError("How many are moved is told from 0 up.")
    if body.act == "set aside":
        buying.reserve(stored.id, moved)
    elif body.act == "let go":
        moved = buying.reserved().get(stored.id, {})
        buying.reserve(stored.id, {})
    elif body.act == "used":
        buying.use(stored.id, moved)
    else:
        buying.use(stored.id, {entry: -quantity for entry, quantity in moved.items()})
    coverage, _ = covered(stored.id, w)
    return json_reply(
        AsideReply, AsideReply.model_construct(version=stored.version, coverage=coverage, moved=moved)
    )


def _offers() -> tuple[dict[str, Supplier], list[PartOffer]]:
    """Who is noted, and what they sell."""
    buying = workshop().buying
    suppliers = {name: Supplier(**data) for name, data in buying.suppliers().items()}
    offers = []
    for data in buying.offers():
        if data["supplier"] in suppliers:
            offers.append(PartOffer(**{**data, "breaks": tuple((a, b) for a, b in data["breaks"])}))
    return suppliers, offers


def _suppliers_reply() -> Response:
    suppliers, offers = _offers()
    reply = SuppliersReply.model_construct(suppliers=list(suppliers.values()), offers=offers)
    return json_reply(SuppliersReply, reply)


@view("get", "/shop/suppliers", {200: SuppliersReply})
def get_suppliers() -> Response:
    """Who sells what, as typed or as quoted last."""
    return _suppliers_reply()


@view("post", "/shop/suppliers", {200: SuppliersReply})
def post_suppliers(body: OfferBody) -> Response:
    """Note suppliers and what they sell: every line of it, or none."""
    typed = offer_lines(workshop().catalogue, body.text)
    suppliers = {own.name: asdict(own) for own in typed if isinstance(own, Supplier)}
    workshop().buying.keep(suppliers, [asdict(own) for own in typed if isinstance(own, PartOffer)])
    return _suppliers_reply()


@view("delete", "/shop/suppliers", {200: SuppliersReply})
def delete_supplier(query: OfSupplier) -> Response:
    """Take a supplier out, and what they sell. Both can be put back."""
    workshop().buying.remove_supplier(query.name)
    return _suppliers_reply()


@view("post", "/shop/suppliers/restore", {200: SuppliersReply})
def post_supplier_back(query: OfSupplier) -> Response:
    """Put a supplier back that was taken out."""
    workshop().buying.restore_supplier(query.name)
    return _suppliers_reply()


def _buying_plan(design_id: str, w: Workings) -> BuyingPlan:
    coverage, wire = covered(design_id, w)
    suppliers, offers = _offers()
    return plan_orders(needs_of(w.evaluation.parts.lines, coverage, wire), offers, suppliers)


def _orders_reply(design_id: str, version: int, w: Workings) -> Response:
    supplying = workshop().supplying
    orders = [
        OrderItem(
            id=o["id"], supplier=o["supplier"], state=o["state"], says=o["says"], at=o["at"],
            lines=len(o["data"]["lines"]), total=o["data"]["total"],
        )
        for o in workshop().buying.orders(design_id)
    ]  # fmt: skip
    reply = OrdersReply.model_construct(
        version=version,
        plan=_buying_plan(design_id, w),
        asking=supplying.asking,
        says=supplying.says,
        port=supplying.line.port,
        orders=orders,
    )
    return json_reply(OrdersReply, reply)


@view("get", "/designs/<design_id>/orders", {200: OrdersReply})
def get_orders(path: DesignPath) -> Response:
    """What to order from whom for the least money, and the orders that were written."""
    stored, w = now(path)
    return _orders_reply(stored.id, stored.version, w)


@view("post", "/designs/<design_id>/quotes", {200: OrdersReply})
def post_quotes(path: DesignPath) -> Response:
    """Ask the supplier what the parts of a harness cost. The answer comes beside; ask again for it."""
    stored, w = now(path)
    codes = list(dict.fromkeys(line.code for line in w.evaluation.parts.lines if not line.included))
    workshop().supplying.quote(codes)
    return _orders_reply(stored.id, stored.version, w)


@view("post", "/designs/<design_id>/orders", {200: OrdersReply})
def post_order(path: DesignPath, body: OrderBody) -> Response:
    """Write the order to one supplier, as it stands now."""
    stored, w = now(path)
    order = next((o for o in _buying_plan(stored.id, w).orders if o.supplier == body.supplier), None)
    if order is None:
        message = f"Nothing is to be ordered from {body.supplier} now."
        remedy = "Ask for prices again, or take more from this supplier: what is at hand is not bought."
        return problem(422, "Nothing to order", message, [Problem("/supplier", message, remedy)])
    workshop().buying.write_order(stored.id, body.supplier, asdict(order))
    return _orders_reply(stored.id, stored.version, w)


@view("post", "/designs/<design_id>/orders/<order>/send", {200: OrdersReply})
def post_order_sent(path: OrderOfDesignPath) -> Response:
    """Send an order to the supplier."""
    stored, w = now(path)
    workshop().supplying.send(path.order)
    return _orders_reply(stored.id, stored.version, w)


@view("delete", "/designs/<design_id>/orders/<order>", {200: OrdersReply})
def delete_order(path: OrderOfDesignPath) -> Response:
    """Tear an order up."""
    stored, w = now(path)
    workshop().buying.remove_order(path.order)
    return _orders_reply(stored.id, stored.version, w)


@view("get", "/orders/<order>/<form>", {200: {"content": {"text/csv": {}, "application/pdf": {}}}})
def get_written_order(path: OrderFilePath) -> Response:
    """An order as CSV or as a page to print."""
    shop = workshop()
    order = shop.buying.order(path.order)
    if path.form == "csv":
        response = Response(order_csv(order), mimetype="text/csv")
    else:
        stored = shop.shelf.get(order["design_id"])
        name = str(stored.document.get("name") or order["design_id"])
        brief = stored.document.get("brief", {})
        currency, paper = str(brief.get("currency", "")), str(brief.get("paper", "A4"))
        response = Response(order_pdf(order, name, currency, paper), mimetype="application/pdf")
    response.headers["Content-Disposition"] = f'attachment; filename="order-{order["id"]}.{path.form}"'
    return response


def _prices() -> Response:
    return json_reply(PricesReply, PricesReply(prices=workshop().shop.prices()))


@view("get", "/shop/prices", {200: PricesReply})
def get_prices() -> Response:
    """What the shop pays against the catalogue's prices."""
    return _prices()


@view("post", "/shop/prices", {200: PricesReply})
def post_price(body: PriceBody) -> Response:
    """Correct a price for every harness; empty goes back to the catalogue's."""
    shop = workshop()
    if not body.price.strip():
        if body.code in shop.shop.prices():
            shop.shop.remove_price(body.code)
    else:
        if body.code not in known_parts(shop.catalogue):
            raise LineError(f"There is no part {body.code!r}.")
        try:
            price = parse_number(body.price)
        except QuantityError:
            raise LineError(f"{body.price!r} is no price. Type a number, as in 1.25.") from None
        if not 0 <= price <= _DEAREST:
            raise LineError(f"{body.price!r} is no price: from 0 to {_DEAREST:g}.")
        shop.shop.keep_prices({body.code: price})
    shop.stock_up()
    return _prices()


_DEAREST = 1e6


@view("post", "/shop/files", {200: FileReply})
def post_table(body: FileBody) -> Response:
    """Take a table of stock, prices, kits or offers: all of its rows, or none."""
    shop = workshop()
    try:
        data = base64.b64decode(body.data, validate=True)
    except ValueError:
        raise LineError("The file did not arrive whole. Choose it again.") from None
    try:
        rows = rows_of(data)
    except SheetError as error:
        raise LineError(str(error)) from None
    if body.what == "stock":
        entries = stock_rows(shop.catalogue, rows)
        shop.shop.keep_stock({e.id: asdict(e) for e in entries})
        taken = len(entries)
    elif body.what == "prices":
        prices = price_rows(shop.catalogue, rows)
        shop.shop.keep_prices(prices)
        shop.stock_up()
        taken = len(prices)
    elif body.what == "kits":
        kits = kit_rows_of(shop.catalogue, rows)
        shop.shop.keep_kits({k.code: asdict(k) for k in kits})
        shop.stock_up()
        taken = len(kits)
    else:
        offers = offer_rows(shop.catalogue, rows)
        shop.buying.keep({}, [asdict(o) for o in offers])
        taken = len(offers)
    return json_reply(FileReply, FileReply(what=body.what, taken=taken))


def _kits_held() -> Response:
    shop = workshop()
    reply = KitsHeldReply.model_construct(kits=list(shop.catalogue.kits.values()), own=list(shop.shop.kits()))
    return json_reply(KitsHeldReply, reply)


@view("get", "/shop/kits", {200: KitsHeldReply})
def get_kits() -> Response:
    """Kits that there are."""
    return _kits_held()


@view("delete", "/shop/kits", {200: KitsHeldReply})
def delete_kit(query: OfKit) -> Response:
    """Take a kit of the shop's own out. It can be put back."""
    workshop().shop.remove_kit(query.code)
    workshop().stock_up()
    return _kits_held()


@view("post", "/shop/kits/restore", {200: KitsHeldReply})
def post_kit_back(query: OfKit) -> Response:
    """Put a kit back that was taken out."""
    workshop().shop.restore_kit(query.code)
    workshop().stock_up()
    return _kits_held()


@view("get", "/designs/<design_id>/kits", {200: KitsReply})
def get_kit_covers(path: DesignPath) -> Response:
    """What each kit would cover of a harness, and the cheapest mix of kits and singles."""
    stored, w = now(path)
    coverage, _ = covered(stored.id, w)
    need, mix = mix_for(w.catalogue, coverage)
    own = w.document.parts.kits
    covers = [
        kit_cover(kit, own[kit.code].count if kit.code in own else 1, need)
        for kit in w.catalogue.kits.values()
    ]
    reply = KitsReply.model_construct(
        version=stored.version,
        kits=[k for k in covers if k.covers or k.code in own],
        mix=mix,
    )
    return json_reply(KitsReply, reply)
