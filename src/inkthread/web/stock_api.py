"""The API of what is at hand in the shop, and of what it always does."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response
from pydantic import Field

from inkthread.core.conventions import read_conventions
from inkthread.core.parts import StockEntry, known_parts, stock_lines
from inkthread.core.table import table_text
from inkthread.web.schemas import REPLY
from inkthread.web.sent import Sent
from inkthread.web.views import json_reply, view, workshop


class StockItem(Sent):
    """A part at hand."""

    model_config = REPLY
    id: str
    code: str
    colour: str
    description: str
    unit: str
    quantity: float
    keep: float
    place: str
    held: bool
    """Whether the catalogue has such a part."""


class StockReply(Sent):
    """What is at hand, and the codes that there are."""

    model_config = REPLY
    entries: list[StockItem]
    codes: list[str]


class StockBody(Sent):
    """Lines like ``SR16-P2 10 keep 4``."""

    text: str = Field(max_length=60_000)


class OfStock(Sent):
    """Which entry."""

    id: str = Field(max_length=40)


def stock_entry(data: dict[str, Any]) -> StockEntry:
    """A part at hand, as it is kept."""
    return StockEntry(
        data["code"], data["quantity"], data.get("colour", ""), data.get("keep", 0.0), data.get("place", "")
    )


def _stock() -> Response:
    shop = workshop()
    known = known_parts(shop.catalogue)
    items = []
    for entry_id, data in shop.shop.stock().items():
        e = stock_entry(data)
        description, unit = known.get(e.code, ("not held here any more", "pcs"))
        items.append(
            StockItem(
                id=entry_id, code=e.code, colour=e.colour, description=description, unit=unit,
                quantity=e.quantity, keep=e.keep, place=e.place, held=e.code in known,
            )
        )  # fmt: skip
    return json_reply(StockReply, StockReply(entries=items, codes=sorted(known)))


@view("get", "/shop/stock", {200: StockReply})
def get_stock() -> Response:
    """What is at hand in the shop."""
    return _stock()


@view("get", "/shop/stock.csv", {200: {"content": {"text/csv": {}}}})
def get_stock_table() -> Response:
    """What is at hand as a table that can be taken in again."""
    entries = [stock_entry(data) for data in workshop().shop.stock().values()]
    rows = [(e.code, e.quantity, e.colour, e.keep, e.place) for e in entries]
    text = table_text([("code", "quantity", "colour", "keep", "place"), *rows])
    response = Response(text, mimetype="text/csv")
    response.headers["Content-Disposition"] = 'attachment; filename="stock.csv"'
    return response


@view("post", "/shop/stock", {200: StockReply})
def post_stock(body: StockBody) -> Response:
    """Note how many of each part are at hand: every line of it, or none."""
    shop = workshop()
    entries = stock_lines(shop.catalogue, body.text)
    shop.shop.keep_stock({e.id: asdict(e) for e in entries})
    return _stock()


@view("delete", "/shop/stock", {200: StockReply})
def delete_stock(query: OfStock) -> Response:
    """Take an entry out. It can be put back."""
    workshop().shop.remove_stock(query.id)
    return _stock()


@view("post", "/shop/stock/restore", {200: StockReply})
def post_stock_back(query: OfStock) -> Response:
    """Put an entry back that was taken out."""
    workshop().shop.restore_stock(query.id)
    return _stock()


class ConventionsBody(Sent):
    """Lines like ``colours "fuel pump": OG/BK`` and ``ends three-wire sensor: SS15``."""

    text: str = Field(max_length=20_000)


class ConventionsReply(Sent):
    """What the shop always does, as typed lines."""

    model_config = REPLY
    text: str


@view("get", "/shop/conventions", {200: ConventionsReply})
def get_conventions() -> Response:
    """The shop's colours and ends, kept across designs."""
    return json_reply(ConventionsReply, ConventionsReply(text=workshop().shop.conventions()))


@view("put", "/shop/conventions", {200: ConventionsReply})
def put_conventions(body: ConventionsBody) -> Response:
    """Keep the shop's colours and ends: every line of them, or none."""
    shop = workshop()
    read_conventions(shop.catalogue, body.text)
    shop.shop.keep_conventions(body.text)
    shop.stock_up()
    return get_conventions()
