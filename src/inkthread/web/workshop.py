"""Between the shelf and the core: validated documents and their workings, newest few kept."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import replace
from typing import Any

from pydantic import TypeAdapter

from inkthread.core.catalogue import Catalogue, DeviceKind
from inkthread.core.document import Document, parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.evaluate import Workings, work_out
from inkthread.storage import Shelf, Shop, StoredDesign

_KEPT = 12


class Workshop:
    """The shelf, the shop, the catalogue, and a small cache of workings by design and version."""

    def __init__(self, shelf: Shelf, shop: Shop, shipped: Catalogue) -> None:
        self.shelf = shelf
        self.shop = shop
        self._shipped = shipped
        self.catalogue = shipped
        self.stock_up()
        self._kept: OrderedDict[tuple[str, int], Workings] = OrderedDict()
        self._checked: tuple[dict[str, Any], Document] | None = None
        self._lock = threading.Lock()

    def stock_up(self) -> None:
        """Read the shop's own kinds anew: a name means one of them before one that ships."""
        own = TypeAdapter(dict[str, DeviceKind]).validate_python(self.shop.kinds())
        self.catalogue = replace(self._shipped, kinds={**own, **self._shipped.kinds})

    def validated(self, plain: Any) -> Document:
        """A valid document that names only known parts. Raises DocumentError."""
        document = parse_document(plain)
        require_known_parts(document, self.catalogue)
        return document

    def validate(self, plain: Any) -> None:
        """Raise DocumentError unless the document is valid. What was read is kept for its workings."""
        self._checked = (plain, self.validated(plain))

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
        made = work_out(document, self.catalogue)
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
        return made

    def etag(self, stored: StoredDesign) -> str:
        """Version and catalogue: both decide the evaluation."""
        return f"{stored.version}-{self.catalogue.version}"
