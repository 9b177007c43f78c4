"""Between the shelf and the core: validated documents and their workings, newest few kept."""

from __future__ import annotations

import hashlib
import json
import threading
from collections import OrderedDict
from collections.abc import Container
from dataclasses import replace
from typing import Any

from pydantic import TypeAdapter

from inkthread.core.catalogue import Catalogue, DeviceKind
from inkthread.core.catalogue.own import OwnParts, own_parts, with_own
from inkthread.core.document import Document, parse_document
from inkthread.core.document.again import read_again
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.evaluate import Workings, work_out
from inkthread.core.shop import EMPTY_SHOP, OwnedTool, ProvenNest
from inkthread.core.shop import Shop as CoreShop
from inkthread.storage import Shelf, Shop, StoredDesign

_KEPT = 12


class Workshop:
    """The shelf, the shop, the catalogue, and a small cache of workings by design and version."""

    def __init__(self, shelf: Shelf, shop: Shop, shipped: Catalogue) -> None:
        self.shelf = shelf
        self.shop = shop
        self._shipped = shipped
        self.catalogue = shipped
        self.bench = EMPTY_SHOP
        """Tools owned and nests proven, as the core sees them."""
        self.own = OwnParts()
        self._kept: OrderedDict[tuple[str, int], Workings] = OrderedDict()
        self._checked: tuple[dict[str, Any], Document] | None = None
        self._lock = threading.Lock()
        self.stock_up()

    def stock_up(self) -> None:
        """Read what the shop holds anew: own kinds and parts, tools owned, nests proven."""
        kinds = TypeAdapter(dict[str, DeviceKind]).validate_python(self.shop.kinds())
        held = self.shop.parts()
        self.own = own_parts(held)
        tools, nests = self.shop.tools(), self.shop.nests()
        self.bench = CoreShop(
            {t["code"]: OwnedTool(**t) for t in tools},
            {(n["contact"], n["wire"]): ProvenNest(**n) for n in nests},
        )
        state = json.dumps([held, tools, nests], sort_keys=True).encode()
        stamp = hashlib.sha256(state).hexdigest()[:6] if held or tools or nests else ""
        stocked = with_own(self._shipped, self.own, "")
        self.catalogue = replace(
            stocked, version=self._shipped.version + stamp, kinds={**kinds, **stocked.kinds}
        )
        with self._lock:
            self._kept.clear()

    def validated(self, plain: Any, may_be_gone: Container[tuple[str, object]] | None = None) -> Document:
        """A valid document that names only known parts, or such as may be gone. Raises DocumentError."""
        document = parse_document(plain)
        require_known_parts(document, self.catalogue, may_be_gone)
        return document

    def validate(self, plain: Any, before: Any, at: tuple[str, int]) -> None:
        """Raise DocumentError unless the document is valid. What was read is kept for its workings.

        A part that was named ``before``, the design and version ``at``, and has gone since does not
        stand in the way.
        """
        ends = before.get("ends", {}) if before else {}
        gone: set[tuple[str, object]] = {
            (c["family"], c["ways"]) for c in ends.get("connectors", {}).values()
        }
        for ref, entry in ends.get("pinout", {}).items():
            gone |= {(ref, entry["cavity"]), (ref, entry.get("contact"))}
        with self._lock:
            known = self._kept.get(at)
        document = parse_document(plain) if known is None else read_again(plain, before, known.document)
        require_known_parts(document, self.catalogue, gone)
        self._checked = (plain, document)

    def workings(self, design_id: str, version: int, plain: dict[str, Any]) -> Workings:
        """Workings of one version of a design."""
        key = (design_id, version)
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
                return found
        checked = self._checked
        same = checked is not None and all(plain.get(k) is v for k, v in checked[0].items())
        document = checked[1] if checked is not None and same else self.validated(plain)
        made = work_out(document, self.catalogue, self.bench)
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
        return made

    def etag(self, stored: StoredDesign) -> str:
        """Version and catalogue: both decide the evaluation."""
        return f"{stored.version}-{self.catalogue.version}"
