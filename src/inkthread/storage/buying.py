"""Who sells what, what is set aside for which harness, and the orders that were written."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from typing import Any, Literal

from sqlalchemy import Engine, delete, select
from sqlalchemy.orm import Session

from inkthread.storage.models import OfferRow, OrderRow, ReservedRow, StockRow, SupplierRow, utc_now
from inkthread.storage.shop import NotInShop

OrderState = Literal["written", "sent", "refused", "not known"]


class NotAtHand(ValueError):
    """More is to be taken than lies there. The message says of what."""


class Buying:
    """Suppliers with their offers, parts set aside, orders."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def suppliers(self) -> dict[str, dict[str, Any]]:
        """Who is noted, by name, oldest first."""
        with Session(self._engine) as session:
            wanted = select(SupplierRow).where(SupplierRow.removed_at.is_(None))
            rows = session.scalars(wanted.order_by(SupplierRow.added_at, SupplierRow.id))
            return {row.id: dict(row.data) for row in rows}

    def offers(self) -> list[dict[str, Any]]:
        """What they sell, by supplier and code."""
        with Session(self._engine) as session:
            rows = session.scalars(select(OfferRow).order_by(OfferRow.supplier, OfferRow.code))
            return [dict(row.data) for row in rows]

    def keep(
        self,
        suppliers: dict[str, dict[str, Any]],
        offers: Iterable[dict[str, Any]],
        *,
        bring_back: bool = True,
    ) -> None:
        """Note suppliers and offers, each in place of the one before: all of them, or none.

        An offer of somebody who is not noted notes them too. Who was taken out comes back with what is typed
        of them, and not, without ``bring_back``, with what they quote.
        """
        with self._lock, Session(self._engine) as session:
            for name, data in suppliers.items():
                known = session.get(SupplierRow, name)
                if known is None:
                    session.add(SupplierRow(id=name, data=data, added_at=utc_now(), removed_at=None))
                else:
                    known.data = data
                    known.removed_at = None if bring_back else known.removed_at
            session.flush()
            for data in offers:
                supplier = session.get(SupplierRow, data["supplier"])
                if supplier is None:
                    blank = {"name": data["supplier"], "minimum": 0.0, "shipping": 0.0, "note": ""}
                    session.add(
                        SupplierRow(id=data["supplier"], data=blank, added_at=utc_now(), removed_at=None)
                    )
                    session.flush()
                elif bring_back:
                    supplier.removed_at = None
                session.merge(OfferRow(supplier=data["supplier"], code=data["code"], data=data, at=utc_now()))
                session.flush()
            session.commit()

    def remove_supplier(self, name: str) -> None:
        """Take somebody out; what they sell is kept for when they come back. Raises NotInShop."""
        self._mark(name, gone=True)

    def restore_supplier(self, name: str) -> None:
        """Put somebody back that was taken out. Raises NotInShop."""
        self._mark(name, gone=False)

    def _mark(self, name: str, *, gone: bool) -> None:
        with self._lock, Session(self._engine) as session:
            row = session.get(SupplierRow, name)
            if row is None or (row.removed_at is not None) == gone:
                raise NotInShop(name)
            row.removed_at = utc_now() if gone else None
            session.commit()

    def remove_offer(self, supplier: str, code: str) -> None:
        """Take an offer out. Raises NotInShop."""
        with self._lock, Session(self._engine) as session:
            row = session.get(OfferRow, (supplier, code))
            if row is None:
                raise NotInShop(code)
            session.delete(row)
            session.commit()

    def reserved(self) -> dict[str, dict[str, float]]:
        """By harness and stock entry: how many are set aside."""
        with Session(self._engine) as session:
            aside: dict[str, dict[str, float]] = {}
            for row in session.scalars(select(ReservedRow)):
                aside.setdefault(row.design_id, {})[row.entry] = row.quantity
            return aside

    def reserve(self, design_id: str, entries: dict[str, float]) -> None:
        """Set aside for a harness just these, in place of what it had; none where empty."""
        with self._lock, Session(self._engine) as session:
            session.execute(delete(ReservedRow).where(ReservedRow.design_id == design_id))
            session.add_all(
                ReservedRow(design_id=design_id, entry=entry, quantity=quantity)
                for entry, quantity in entries.items()
                if quantity > 0
            )
            session.commit()

    def use(self, design_id: str, entries: dict[str, float]) -> None:
        """Take parts out of the drawers for a harness, or, below 0, put them back: all of them, or none.

        What it had set aside of them is used up first. Raises NotAtHand, NotInShop.
        """
        with self._lock, Session(self._engine) as session:
            for entry, quantity in entries.items():
                row = session.get(StockRow, entry)
                if row is None or row.removed_at is not None:
                    raise NotInShop(entry)
                data: dict[str, Any] = dict(row.data)
                left = round(float(data["quantity"]) - quantity, 4)
                if left < 0:
                    raise NotAtHand(
                        f"There are {data['quantity']:g} of {entry} at hand, and {quantity:g} are taken out. "
                        "Correct the stock first."
                    )
                row.data = {**data, "quantity": left}
                aside = session.get(ReservedRow, (design_id, entry))
                if aside is not None and quantity > 0:
                    aside.quantity = round(aside.quantity - quantity, 4)
                    if aside.quantity <= 0:
                        session.delete(aside)
            session.commit()

    def orders(self, design_id: str) -> list[dict[str, Any]]:
        """Orders of a harness, the newest first."""
        with Session(self._engine) as session:
            wanted = select(OrderRow).where(OrderRow.design_id == design_id).order_by(OrderRow.id.desc())
            return [_order(row) for row in session.scalars(wanted)]

    def order(self, order_id: int) -> dict[str, Any]:
        """One order. Raises NotInShop."""
        with Session(self._engine) as session:
            row = session.get(OrderRow, order_id)
            if row is None:
                raise NotInShop(str(order_id))
            return _order(row)

    def write_order(self, design_id: str, supplier: str, data: dict[str, Any]) -> int:
        """Keep an order; its number."""
        with self._lock, Session(self._engine) as session:
            row = OrderRow(
                design_id=design_id, supplier=supplier, data=data, state="written", says="", at=utc_now()
            )
            session.add(row)
            session.commit()
            return row.id

    def mark_order(self, order_id: int, state: OrderState, says: str) -> None:
        """What became of an order. Raises NotInShop."""
        with self._lock, Session(self._engine) as session:
            row = session.get(OrderRow, order_id)
            if row is None:
                raise NotInShop(str(order_id))
            row.state, row.says = state, says[:300]
            session.commit()

    def remove_order(self, order_id: int) -> None:
        """Tear an order up. Raises NotInShop."""
        with self._lock, Session(self._engine) as session:
            row = session.get(OrderRow, order_id)
            if row is None:
                raise NotInShop(str(order_id))
            session.delete(row)
            session.commit()


def _order(row: OrderRow) -> dict[str, Any]:
    return {
        "id": row.id,
        "design_id": row.design_id,
        "supplier": row.supplier,
        "data": dict(row.data),
        "state": row.state,
        "says": row.says,
        "at": row.at.isoformat(timespec="minutes"),
    }
