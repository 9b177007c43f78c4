"""Asking the supplier for prices and sending orders, beside what the screen asks for: nothing waits on it."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import asdict
from functools import cache
from http.client import HTTPException
from typing import Annotated, Any
from urllib.error import HTTPError, URLError
from urllib.parse import quote
from urllib.request import Request, urlopen

from pydantic import ConfigDict, Field, TypeAdapter, ValidationError

from inkthread.core.parts.offers import PartOffer, Supplier
from inkthread.storage.buying import Buying, OrderState
from inkthread.storage.models import utc_now
from inkthread.storage.shop import NotInShop
from inkthread.web.in_turn import InTurn
from inkthread.web.sent import Sent

DEFAULT_PORT = 9138
PATIENCE_S = 5.0
"""How long an answer is waited for."""
_ANSWER_AT_MOST = 4_000_000
Money = Annotated[float, Field(ge=0, le=1e6)]


class SupplierTrouble(Exception):
    """No price was learned and no order placed. The message says why in words."""


class SupplierLate(SupplierTrouble):
    """It did not answer in time: what became of an order is not known."""


class _Who(Sent):
    model_config = ConfigDict(extra="ignore")
    name: str = Field(min_length=1, max_length=40)
    minimum: Money = 0.0
    shipping: Money = 0.0


class _Quote(Sent):
    model_config = ConfigDict(extra="ignore")
    supplier: str = Field(min_length=1, max_length=40)
    code: str = Field(min_length=1, max_length=60)
    pack: float = Field(1.0, gt=0, le=1e6)
    breaks: list[tuple[Money, Money]] = Field(max_length=20)
    stock: float | None = Field(None, ge=0, le=1e9)
    lead_days: int | None = Field(None, ge=0, le=1000)
    instead: str = Field("", max_length=60)


class _Quotes(Sent):
    quotes: list[_Quote] = Field(max_length=20_000)


class _Changed(Sent):
    code: str = Field(max_length=60)
    price_each: Money


class _Taken(Sent):
    taken: bool
    changed: list[_Changed] = Field(default_factory=list, max_length=2000)


@cache
def _reader(form: Any) -> TypeAdapter[Any]:
    """Reads what the supplier sends. Made when first needed."""
    return TypeAdapter(form)


class SupplierLine:
    """The way to the supplier: asked in JSON, answered in JSON."""

    def __init__(self, port: int, patience_s: float = PATIENCE_S) -> None:
        self.port = port
        self._patience_s = patience_s

    def ask(self, path: str, body: Any = None) -> Any:
        """Its answer. Raises SupplierLate where it is slow, SupplierTrouble for whatever else is wrong."""
        data = None if body is None else json.dumps(body).encode()
        request = Request(f"http://127.0.0.1:{self.port}{path}", data, {"Content-Type": "application/json"})
        try:
            with urlopen(request, timeout=self._patience_s) as answer:
                text = answer.read(_ANSWER_AT_MOST)
        except TimeoutError:
            raise SupplierLate("The supplier did not answer in time.") from None
        except HTTPError as error:
            raise SupplierTrouble(f"The supplier refuses what it is asked ({error.code}).") from None
        except URLError as error:
            if isinstance(error.reason, TimeoutError):
                raise SupplierLate("The supplier did not answer in time.") from None
            raise SupplierTrouble(f"No supplier answers at port {self.port}.") from None
        except (OSError, HTTPException):
            raise SupplierLate("The supplier hung up in the middle of its answer.") from None
        if not text.strip():
            raise SupplierTrouble("The supplier sent an empty answer.")
        try:
            return json.loads(text)
        except ValueError:
            raise SupplierTrouble("The supplier sent an answer that cannot be read.") from None

    def suppliers(self) -> list[Supplier]:
        """Who sells there. Raises SupplierTrouble."""
        who = _checked(list[_Who], self.ask("/suppliers"))
        return [Supplier(w.name, w.minimum, w.shipping) for w in who]

    def quotes(self, codes: list[str], as_of: str) -> list[PartOffer]:
        """What is asked for parts. Raises SupplierTrouble."""
        wanted = set(codes)
        quotes = _checked(_Quotes, self.ask("/quotes", {"codes": codes})).quotes
        return [
            PartOffer(
                q.supplier, q.code, q.pack, tuple(sorted(q.breaks)), q.lead_days, q.stock, as_of, q.instead
            )
            for q in quotes
            if q.code in wanted
        ]  # fmt: skip


def _checked(form: Any, value: Any) -> Any:
    try:
        return _reader(form).validate_python(value)
    except ValidationError as error:
        first = error.errors()[0]
        at = ".".join(str(part) for part in first["loc"]) or "the whole"
        raise SupplierTrouble(f"The supplier sent something else than prices ({at}).") from None


class Supplying:
    """Quotes and orders, in a thread of their own; what went wrong last is kept in words."""

    def __init__(self, buying: Buying, line: SupplierLine) -> None:
        self.buying, self.line = buying, line
        self.says = ""
        """What went wrong when it was last asked; empty where nothing did."""
        self._turn = InTurn()

    @property
    def asking(self) -> bool:
        """Whether an answer is waited for."""
        return self._turn.busy

    def wait(self) -> None:
        """Until nothing is asked any more."""
        self._turn.wait()

    def quote(self, codes: list[str]) -> None:
        """Ask for prices, unless something is asked already. What was quoted last stays until they come."""
        self._turn.do(lambda: self._quote(codes), or_leave=True)

    def send(self, order_id: int) -> None:
        """Send an order. One that may have been taken is asked after first. Raises NotInShop."""
        self.buying.order(order_id)
        self._turn.do(lambda: self._send(order_id))

    def _quote(self, codes: list[str]) -> None:
        try:
            suppliers = self.line.suppliers()
            offers = self.line.quotes(codes, utc_now().isoformat(timespec="minutes"))
        except SupplierTrouble as error:
            self.says = str(error)
            return
        self.buying.keep(
            {s.name: asdict(s) for s in suppliers}, [asdict(o) for o in offers], bring_back=False
        )
        self.says = ""

    def _send(self, order_id: int) -> None:
        with suppress(NotInShop):  # torn up meanwhile
            state, says = self._outcome(self.buying.order(order_id))
            self.buying.mark_order(order_id, state, says)

    def _outcome(self, order: dict[str, Any]) -> tuple[OrderState, str]:
        reference = f"{order['design_id']}-{order['id']}"
        try:
            if order["state"] == "not known":
                asked = _checked(_Taken, self.line.ask(f"/orders?reference={quote(reference)}"))
                if asked.taken:
                    return "sent", ""
            lines = [
                {k: line[k] for k in ("code", "colour", "quantity", "price_each")}
                for line in order["data"]["lines"]
            ]
            body = {"reference": reference, "supplier": order["supplier"], "lines": lines}
            answer = _checked(_Taken, self.line.ask("/orders", body))
        except SupplierLate as error:
            return "not known", f"{error} It is asked after before it is sent again."
        except SupplierTrouble as error:
            return "refused", f"{error} Nothing was ordered."
        if answer.taken:
            return "sent", ""
        before = {line["code"]: line["price_each"] for line in lines}
        now = [f"{c.code} {before.get(c.code, 0.0):.2f} to {c.price_each:.2f}" for c in answer.changed[:4]]
        return "refused", f"Prices changed since they were quoted: {', '.join(now)}. Ask for prices anew."
