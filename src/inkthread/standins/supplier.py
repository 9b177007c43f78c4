"""A simulated supplier of parts: price breaks, packs, stock and lead time over HTTP on 127.0.0.1, and faults.

Two counters sell through it. What they ask for a part is made of its code, so it is the same every time::

    GET  /suppliers                 [{"name", "minimum", "shipping"}]
    POST /quotes {"codes": [...]}   {"quotes": [{"supplier", "code", "pack", "breaks": [[from, price], ...],
                                     "stock", "lead_days", "instead"}]}
    POST /orders {"reference", "supplier", "lines": [{"code", "colour", "quantity", "price_each"}]}
                                    {"taken": true} or {"taken": false, "changed": [{"code", "price_each"}]}
    GET  /orders?reference=...      {"taken": true or false}

    POST /behave {"late_s": 8, "answers": "empty", "dearer": {"SS15-P2": 1.25}, "lacks": {"BF-15": ""}}

An order is taken once: the same reference again is answered as before, and nothing is sent twice. ``/behave``
makes it late, empty, malformed or dearer, to see what comes of that.
"""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any, Literal, get_args
from urllib.parse import parse_qs, urlsplit
from zlib import crc32

from inkthread.core.record import record

Answers = Literal["well", "empty", "malformed"]
_BODY_AT_MOST = 2_000_000


@record
class Counter:
    """One who sells: what an order has to come to, what sending it costs, and how dear they are."""

    name: str
    minimum: float
    shipping: float
    dear: float
    lengths_m: tuple[float, ...]
    """What wire, sleeve and tube are sold in."""


COUNTERS = (
    Counter("North counter", 25.0, 6.5, 1.12, (0.5, 1.0)),
    Counter("South counter", 60.0, 4.0, 0.94, (5.0, 10.0, 30.0)),
)
_PACKS = (1, 1, 1, 1, 5, 10)


@dataclass(slots=True)
class PartsSupplier:
    """What is sold, and what is wrong just now."""

    prices: Mapping[str, tuple[float, str]]
    """By code: the usual price, and ``m`` or ``pcs``."""
    late_s: float = 0.0
    answers: Answers = "well"
    lacks: dict[str, str] = field(default_factory=dict)
    """Codes that they have not, each with what they offer instead, or nothing."""
    dearer: dict[str, float] = field(default_factory=dict)
    """Prices that rose since they were quoted: by code, so many times."""
    sometimes_out: bool = False
    """Whether a counter is out of one part in so many, always the same ones."""
    orders: dict[str, dict[str, Any]] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def behave(self, asked: Mapping[str, Any]) -> None:
        """Be late, empty, malformed, dearer or out of parts from now on. Raises KeyError, ValueError."""
        for name, value in asked.items():
            if name == "late_s":
                self.late_s = min(max(float(value), 0.0), 60.0)
            elif name == "answers" and value in get_args(Answers):
                self.answers = value
            elif name == "dearer":
                self.dearer = {str(code): float(times) for code, times in value.items()}
            elif name == "lacks":
                self.lacks = {str(code): str(instead) for code, instead in value.items()}
            else:
                raise KeyError(name)

    def suppliers(self) -> list[dict[str, Any]]:
        """Who sells."""
        return [{"name": c.name, "minimum": c.minimum, "shipping": c.shipping} for c in COUNTERS]

    def quotes(self, codes: list[str]) -> dict[str, Any]:
        """What every counter asks for every code that one of them sells."""
        quoted = [self._quote(counter, code) for code in codes for counter in COUNTERS]
        return {"quotes": [q for q in quoted if q is not None]}

    def _quote(self, counter: Counter, code: str) -> dict[str, Any] | None:
        if code not in self.prices:
            return None
        chance = crc32(f"{counter.name} {code}".encode())
        quote: dict[str, Any] = {"supplier": counter.name, "code": code, "instead": self.lacks.get(code, "")}
        instead = self.lacks.get(code, self._out_of(code, chance))
        if code in self.lacks or instead:
            return {**quote, "pack": 1, "breaks": [], "stock": 0, "lead_days": None, "instead": instead}
        if chance % 23 == 0:  # one in so many is sold by the other alone
            return None
        price, unit = self.prices[code]
        each = price * counter.dear * (0.9 + chance % 21 / 100)
        packs = counter.lengths_m if unit == "m" else _PACKS
        pack = packs[chance % len(packs)]
        breaks = [[0, round(each, 3)], [50 if unit == "pcs" else 100, round(each * 0.86, 3)]]
        return {
            **quote,
            "pack": pack,
            "breaks": breaks,
            "stock": 20 + chance % 480,
            "lead_days": 1 + chance % 9,
        }

    def _out_of(self, code: str, chance: int) -> str:
        """One part in so many is not to be had at a counter: the next of its sort is offered instead."""
        if not self.sometimes_out or chance % 29:
            return ""
        alike = sorted(c for c in self.prices if c[:4] == code[:4] and c != code)
        return next((c for c in alike if c > code), alike[0] if alike else "")

    def order(self, asked: Mapping[str, Any]) -> dict[str, Any]:
        """Take an order, or say which prices are no longer so."""
        with self._lock:
            reference = str(asked["reference"])
            if reference in self.orders:
                return {"taken": True}
            changed = [
                {"code": line["code"], "price_each": round(line["price_each"] * self.dearer[line["code"]], 3)}
                for line in asked["lines"]
                if line["code"] in self.dearer
            ]
            if changed:
                return {"taken": False, "changed": changed}
            self.orders[reference] = dict(asked)
            return {"taken": True}


class _Handler(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        supplier: PartsSupplier = self.server.supplier  # type: ignore[attr-defined]
        at = urlsplit(self.path)
        if at.path == "/suppliers":
            self._answer(supplier, supplier.suppliers())
        elif at.path == "/orders":
            reference = parse_qs(at.query).get("reference", [""])[0]
            self._answer(supplier, {"taken": reference in supplier.orders})
        else:
            self.send_error(404)

    def do_POST(self) -> None:
        supplier: PartsSupplier = self.server.supplier  # type: ignore[attr-defined]
        try:
            length = min(int(self.headers.get("Content-Length", "0")), _BODY_AT_MOST)
            asked = json.loads(self.rfile.read(length))
            if self.path == "/quotes":
                self._answer(supplier, supplier.quotes([str(code) for code in asked["codes"]]))
            elif self.path == "/orders":
                self._answer(supplier, supplier.order(asked))
            elif self.path == "/behave":
                supplier.behave(asked)
                self._answer(supplier, {})
            else:
                self.send_error(404)
        except (ValueError, KeyError, TypeError):
            self.send_error(400)

    def _answer(self, supplier: PartsSupplier, value: Any) -> None:
        time.sleep(supplier.late_s)
        body = json.dumps(value).encode()
        if supplier.answers == "empty":
            body = b""
        elif supplier.answers == "malformed":
            body = body[: len(body) // 2]
        self.send_response(200)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *_: Any) -> None:
        pass


class _Server(ThreadingHTTPServer):
    daemon_threads = True


def serve_supplier(supplier: PartsSupplier, port: int) -> tuple[_Server, int]:
    """Serve on 127.0.0.1 in a thread of its own; the server, and its port. Raises OSError."""
    server = _Server(("127.0.0.1", port), _Handler)
    server.supplier = supplier  # type: ignore[attr-defined]
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return server, int(server.server_address[1])


def priced_parts() -> dict[str, tuple[float, str]]:
    """The usual price of every part that ships, with what it is counted in."""
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.catalogue.prices import prices_of
    from inkthread.core.parts import known_parts

    catalogue = shipped_catalogue()
    prices = prices_of(catalogue)
    return {code: (prices[code], unit) for code, (_, unit) in known_parts(catalogue).items()}
