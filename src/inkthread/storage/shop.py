"""What outlives one design: own kinds, own patterns, own parts, parts at hand, tools owned, nests proven."""

from __future__ import annotations

import threading
from datetime import datetime
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from inkthread.storage.models import (
    ConventionsRow,
    KeptRow,
    KindRow,
    KitRow,
    NestRow,
    PartRow,
    PatternRow,
    PriceRow,
    StockRow,
    ToolRow,
    utc_now,
)

_HERE = "here"


class NotInShop(LookupError):
    """There is nothing of that name to take out."""


class Shop:
    """Own kinds, parts, tools and nests, each as plain data of the catalogue's or the core's form."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def kinds(self) -> dict[str, dict[str, Any]]:
        """Own kinds, oldest first."""
        return self._held(KindRow)

    def keep_kind(self, kind_id: str, data: dict[str, Any]) -> None:
        """Keep a kind, in place of one of the same id."""
        self._keep(KindRow, kind_id, data)

    def remove_kind(self, kind_id: str) -> None:
        """Take a kind out. Devices made of it stay as they are. Raises NotInShop."""
        self._mark(KindRow, kind_id, utc_now())

    def restore_kind(self, kind_id: str) -> None:
        """Put a kind back that was taken out. Raises NotInShop."""
        self._mark(KindRow, kind_id, None)

    def patterns(self) -> dict[str, dict[str, Any]]:
        """Own patterns of circuits, oldest first."""
        return self._held(PatternRow)

    def keep_pattern(self, pattern_id: str, data: dict[str, Any]) -> None:
        """Keep a pattern, in place of one of the same id."""
        self._keep(PatternRow, pattern_id, data)

    def remove_pattern(self, pattern_id: str) -> None:
        """Take a pattern out. Raises NotInShop."""
        self._mark(PatternRow, pattern_id, utc_now())

    def restore_pattern(self, pattern_id: str) -> None:
        """Put a pattern back that was taken out. Raises NotInShop."""
        self._mark(PatternRow, pattern_id, None)

    def conventions(self) -> str:
        """Typed lines of what the shop always does; empty where nothing is said."""
        return str(self._held(ConventionsRow).get(_HERE, {}).get("text", ""))

    def keep_conventions(self, text: str) -> None:
        """Keep the shop's conventions, in place of those before."""
        self._keep(ConventionsRow, _HERE, {"text": text})

    def stock(self) -> dict[str, dict[str, Any]]:
        """Parts at hand, oldest entry first."""
        return self._held(StockRow)

    def keep_stock(self, entries: dict[str, dict[str, Any]]) -> None:
        """Note how many of each part are at hand, in place of what was noted: all of them, or none."""
        self._keep_all(StockRow, entries)

    def remove_stock(self, entry_id: str) -> None:
        """Take an entry of the stock out. Raises NotInShop."""
        self._mark(StockRow, entry_id, utc_now())

    def restore_stock(self, entry_id: str) -> None:
        """Put an entry back that was taken out. Raises NotInShop."""
        self._mark(StockRow, entry_id, None)

    def prices(self) -> dict[str, float]:
        """What the shop pays, by part code."""
        return {code: float(data["price"]) for code, data in self._held(PriceRow).items()}

    def keep_prices(self, prices: dict[str, float]) -> None:
        """Note prices, each in place of the one before: all of them, or none."""
        self._keep_all(PriceRow, {code: {"price": price} for code, price in prices.items()})

    def remove_price(self, code: str) -> None:
        """Go back to the catalogue's price. Raises NotInShop."""
        self._mark(PriceRow, code, utc_now())

    def kits(self) -> dict[str, dict[str, Any]]:
        """Kits of the shop's own, oldest first."""
        return self._held(KitRow)

    def keep_kits(self, kits: dict[str, dict[str, Any]]) -> None:
        """Keep kits, each in place of one of the same code: all of them, or none."""
        self._keep_all(KitRow, kits)

    def remove_kit(self, code: str) -> None:
        """Take a kit out. Raises NotInShop."""
        self._mark(KitRow, code, utc_now())

    def restore_kit(self, code: str) -> None:
        """Put a kit back that was taken out. Raises NotInShop."""
        self._mark(KitRow, code, None)

    def parts(self) -> dict[str, list[dict[str, Any]]]:
        """Own parts by their kind, oldest first."""
        with Session(self._engine) as session:
            wanted = select(PartRow).where(PartRow.removed_at.is_(None))
            by_kind: dict[str, list[dict[str, Any]]] = {}
            for row in session.scalars(wanted.order_by(PartRow.added_at, PartRow.code)).all():
                by_kind.setdefault(row.kind, []).append(dict(row.data))
            return by_kind

    def keep_parts(self, parts: dict[str, list[dict[str, Any]]]) -> None:
        """Keep parts, each in place of one of the same kind and code: all of them, or none."""
        with self._lock, Session(self._engine) as session:
            for kind, rows in parts.items():
                for data in rows:
                    row = session.get(PartRow, (kind, data["code"]))
                    if row is None:
                        session.add(PartRow(kind=kind, code=data["code"], data=data, added_at=utc_now()))
                    else:
                        row.data, row.removed_at = data, None
            session.commit()

    def remove_part(self, kind: str, code: str) -> None:
        """Take a part out. Designs that name it say so. Raises NotInShop."""
        self._mark_part(kind, code, utc_now())

    def restore_part(self, kind: str, code: str) -> None:
        """Put a part back that was taken out. Raises NotInShop."""
        self._mark_part(kind, code, None)

    def _mark_part(self, kind: str, code: str, removed_at: datetime | None) -> None:
        with self._lock, Session(self._engine) as session:
            row = session.get(PartRow, (kind, code))
            if row is None or (row.removed_at is None) == (removed_at is None):
                raise NotInShop(code)
            row.removed_at = removed_at
            session.commit()

    def tools(self) -> list[dict[str, Any]]:
        """Tools that are owned, by code."""
        with Session(self._engine) as session:
            rows = session.scalars(select(ToolRow).order_by(ToolRow.code)).all()
            return [
                {
                    "code": r.code,
                    "certified": r.certified,
                    "borrowed": r.borrowed,
                    "gauged_on": r.gauged_on,
                    "result": r.result,
                    "note": r.note,
                }
                for r in rows
            ]

    def own_tool(self, code: str, data: dict[str, Any] | None) -> None:
        """Note a tool as owned with how it is, or, with None, as not owned."""
        with self._lock, Session(self._engine) as session:
            row = session.get(ToolRow, code)
            if row is not None:
                session.delete(row)
                session.flush()
            if data is not None:
                session.add(ToolRow(**{**data, "code": code}))
            session.commit()

    def nests(self) -> list[dict[str, Any]]:
        """Nests proven here."""
        with Session(self._engine) as session:
            rows = session.scalars(select(NestRow).order_by(NestRow.contact, NestRow.wire)).all()
            fields = ("contact", "wire", "tool", "nest", "depth", "note")
            return [{f: getattr(r, f) for f in fields} for r in rows]

    def prove_nest(self, contact: str, wire: str, data: dict[str, Any] | None) -> None:
        """Note the nest proven for a contact on a wire, or, with None, forget it."""
        with self._lock, Session(self._engine) as session:
            row = session.get(NestRow, (contact, wire))
            if row is not None:
                session.delete(row)
                session.flush()
            if data is not None:
                session.add(NestRow(**{**data, "contact": contact, "wire": wire}))
            session.commit()

    def _held(self, kind: type[KeptRow]) -> dict[str, dict[str, Any]]:
        with Session(self._engine) as session:
            wanted = select(kind).where(kind.removed_at.is_(None))
            rows = session.scalars(wanted.order_by(kind.added_at, kind.id)).all()
            return {row.id: dict(row.data) for row in rows}

    def _keep_all(self, kind: type[KeptRow], entries: dict[str, dict[str, Any]]) -> None:
        with self._lock, Session(self._engine) as session:
            for entry_id, data in entries.items():
                row = session.get(kind, entry_id)
                if row is None:
                    session.add(kind(id=entry_id, data=data, added_at=utc_now(), removed_at=None))
                else:
                    row.data, row.removed_at = data, None
            session.commit()

    def _keep(self, kind: type[KeptRow], row_id: str, data: dict[str, Any]) -> None:
        self._keep_all(kind, {row_id: data})

    def _mark(self, kind: type[KeptRow], row_id: str, removed_at: datetime | None) -> None:
        with self._lock, Session(self._engine) as session:
            row = session.get(kind, row_id)
            if row is None or (row.removed_at is None) == (removed_at is None):
                raise NotInShop(row_id)
            row.removed_at = removed_at
            session.commit()
