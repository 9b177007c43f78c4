"""Between the shelf and the core: validated documents and their workings, newest few kept."""

from __future__ import annotations

import hashlib
import json
import pickle
import threading
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from dataclasses import asdict, replace
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter, ValidationError

import inkthread
from inkthread.core.catalogue import Catalogue, DeviceKind, Kit
from inkthread.core.catalogue.own import OwnParts, own_parts, with_own
from inkthread.core.catalogue.prices import with_prices
from inkthread.core.conventions import Conventions, read_conventions, with_conventions
from inkthread.core.document import Document, DocumentError, Problem, parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.document.draft import LineError
from inkthread.core.document.incremental import read_again
from inkthread.core.evaluate import work_out
from inkthread.core.memo import Memo
from inkthread.core.shop import EMPTY_SHOP, OwnedTool, ProvenNest
from inkthread.core.shop import Shop as CoreShop
from inkthread.core.workings import Workings
from inkthread.storage import Cuts, Pieces, Records, Shelf, Shop, StoredDesign, ToolLog, WorkLog
from inkthread.storage.copies import Copies
from inkthread.web.printing import Printing
from inkthread.web.studies import Studies
from inkthread.web.supplying import Supplying

_KEPT = 12
_WIRES_KEPT = 8000
"""Of large harnesses fewer versions are kept: these wires in all, and no fewer than the last two."""
_LARGE = 1500
"""Circuits from which a harness's steps are kept in fewer variants."""
_REPLIES_KEPT = 4
_SUMMARIES_KEPT = 2000


def _own_kinds(kinds_kept: dict[str, Any]) -> dict[str, DeviceKind]:
    """Kinds as kept by the shop. What does not hold any more, after a change of form, is left out."""
    kinds: dict[str, DeviceKind] = {}
    if not kinds_kept:
        return kinds
    reader = TypeAdapter(DeviceKind)
    for kind_id, data in kinds_kept.items():
        try:
            kinds[kind_id] = reader.validate_python(data)
        except ValidationError:
            continue
    return kinds


class Unreadable(Exception):
    """A document that stands on the shelf has not the form of one any more."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        first = problems[0]
        super().__init__(f"It cannot be read: {first.path or 'document'}: {first.message}")


class Newest:
    """The newest few of what takes a while to make, by what they are made of."""

    def __init__(self, most: int, weigh: Callable[[Any], int] | None = None, most_weight: int = 0) -> None:
        """``weigh`` tells the weight of what is kept: beyond ``most_weight`` the oldest go, but for two."""
        self._most, self._weigh, self._most_weight = most, weigh, most_weight
        self._kept: OrderedDict[Any, Any] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Any) -> Any:
        """What is kept, or None."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def keep(self, key: Any, value: Any) -> None:
        with self._lock:
            self._kept[key] = value
            self._kept.move_to_end(key)
            while len(self._kept) > self._most or (len(self._kept) > 2 and self._too_heavy()):
                self._kept.popitem(last=False)

    def _too_heavy(self) -> bool:
        return self._weigh is not None and sum(map(self._weigh, self._kept.values())) > self._most_weight

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()


class Workshop:
    """The shelf, the shop, the catalogue, and a small cache of workings by design and version."""

    def __init__(
        self,
        shelf: Shelf,
        shop: Shop,
        cuts: Cuts,
        work: WorkLog,
        pieces: Pieces,
        records: Records,
        tool_log: ToolLog,
        printing: Printing,
        supplying: Supplying,
        shipped: Catalogue,
        copies: Copies,
        tester_port: int,
    ) -> None:
        self.shelf = shelf
        self.copies = copies
        self.studies = Studies()
        self.shop = shop
        self.cuts = cuts
        self.work = work
        self.pieces = pieces
        self.records = records
        self.tool_log = tool_log
        self.tester_port = tester_port
        self.printing = printing
        self.supplying = supplying
        self.buying = supplying.buying
        self.plans = Newest(_KEPT)
        """By design, which piece was planned off which spool."""
        self.books_made: dict[str, tuple[str, int, int]] = {}
        """By design, of the book that is being made: the section, how many are done, of how many."""
        self.learned = Newest(1)
        """What operations take here, by how often ticks have changed."""
        self.work_plans = Newest(_KEPT)
        """The order of work, by the workings that it was planned from."""
        self.proof_plans = Newest(_KEPT)
        """Plans of tests, by the workings that they were planned from."""
        self._shipped = shipped
        self.catalogue = shipped
        self.equipment = EMPTY_SHOP
        """Tools owned and nests proven, as the core sees them."""
        self.own = OwnParts()
        self._kept = Newest(_KEPT, lambda w: len(w.wire.wires), _WIRES_KEPT)
        """Workings by design and version."""
        self._checked = Newest(_KEPT)
        """What was read of a document that is about to be put in, by design."""
        self._memos = Newest(_KEPT)
        """What an edit leaves alone, by design."""
        self.replies = Newest(_REPLIES_KEPT)
        """Replies as they are sent, by all that is in them."""
        self.summaries = Newest(_SUMMARIES_KEPT)
        """What the shelf shows, with what is wrong, by design, version and stamp."""
        self._beside: threading.Thread | None = None
        self._packed = Newest(1)
        self._underway: dict[tuple[str, int], threading.Lock] = {}
        self._lock = threading.Lock()
        self.stock_up()

    def stock_up(self) -> None:
        """Read what the shop holds anew: own kinds and parts, tools owned, nests proven, conventions."""
        kinds = _own_kinds(self.shop.kinds())
        parts = self.shop.parts()
        self.own = own_parts(parts)
        tools, nests = self.shop.tools(), self.shop.nests()
        self.equipment = CoreShop(
            {t["code"]: OwnedTool(**t) for t in tools},
            {(n["contact"], n["wire"]): ProvenNest(**n) for n in nests},
            datetime.now(UTC).date().isoformat(),
        )
        said = self.shop.conventions()
        prices, kits = self.shop.prices(), self.shop.kits()
        state = json.dumps([parts, tools, nests, said, prices, kits], sort_keys=True).encode()
        any_own = parts or tools or nests or said or prices or kits
        stamp = hashlib.sha256(state).hexdigest()[:6] if any_own else ""
        stocked = with_own(self._shipped, self.own, "")
        if kits:
            stocked = replace(stocked, kits={**stocked.kits, **{code: Kit(**k) for code, k in kits.items()}})
        stocked = with_prices(stocked, prices)
        stocked = replace(stocked, version=self._shipped.version + stamp, kinds={**kinds, **stocked.kinds})
        self.catalogue = with_conventions(stocked, self._conventions(stocked, said))
        self._kept.clear()
        self._memos.clear()
        self.replies.clear()
        self._packed.clear()

    @staticmethod
    def _conventions(catalogue: Catalogue, said: str) -> Conventions:
        """What of the shop's conventions can be kept to: lines that name what has gone are passed over."""
        lines = []
        for line in said.splitlines():
            with suppress(LineError):
                read_conventions(catalogue, line)
                lines.append(line)
        return read_conventions(catalogue, "\n".join(lines))

    def beside(self, work: Callable[[], None]) -> threading.Thread:
        """The one thread that works beside the requests; begun with this work where it has none."""
        with self._lock:
            if self._beside is None or not self._beside.is_alive():
                self._beside = threading.Thread(target=work, daemon=True)
                self._beside.start()
            return self._beside

    def packed(self) -> bytes:
        """Catalogue and shop, packed for another process."""
        packed: bytes | None = self._packed.get(self.catalogue.version)
        if packed is None:
            packed = pickle.dumps((self.catalogue, self.equipment))
            self._packed.keep(self.catalogue.version, packed)
        return packed

    def read(self, plain: Any) -> Document:
        """What stands on the shelf, whatever has gone from the catalogue since. Raises Unreadable."""
        try:
            return parse_document(plain)
        except DocumentError as error:
            raise Unreadable(error.problems) from None

    def known(self, document: Document) -> Document:
        """A document from elsewhere: only parts that its shop had of its own may be unknown here.

        Raises DocumentError.
        """
        require_known_parts(document, self.catalogue, from_elsewhere=True)
        return document

    def validate(self, plain: Any, before: Any, at: tuple[str, int]) -> None:
        """Raise DocumentError unless the document is valid. What was read is kept for its workings.

        A part that was named ``before``, the design and version ``at``, and has gone since does not
        stand in the way.
        """
        known = self._kept.get(at)
        stood = known.document if known is not None else parse_document(before)
        document = read_again(plain, before, stood)
        require_known_parts(document, self.catalogue, stood)
        self._checked.keep(at[0], (plain, document))

    def workings(self, design_id: str, version: int, plain: dict[str, Any]) -> Workings:
        """Workings of one version of a design."""
        key = (design_id, version)
        workings: Workings | None = self._kept.get(key)
        if workings is not None:
            return workings
        # Of many that ask at once one works it out; the others wait for that.
        with self._lock:
            turn = self._underway.setdefault(key, threading.Lock())
        try:
            with turn:
                workings = self._kept.get(key)
                if workings is None:
                    catalogue = self.catalogue
                    workings = self._worked(design_id, plain)
                    if catalogue is self.catalogue:  # else it was made of a stock that is no more
                        self._kept.keep(key, workings)
                return workings
        finally:
            with self._lock:
                self._underway.pop(key, None)

    def worked(self, design_id: str, version: int) -> Workings | None:
        """Workings of a version where they are still kept."""
        workings: Workings | None = self._kept.get((design_id, version))
        return workings

    def _worked(self, design_id: str, plain: dict[str, Any]) -> Workings:
        checked = self._checked.get(design_id)
        same = checked is not None and all(plain.get(k) is v for k, v in checked[0].items())
        # What is on the shelf is read whatever has gone since: findings say so.
        document = checked[1] if checked is not None and same else self.read(plain)
        memo = self._memo(design_id, large=len(document.circuits.circuits) > _LARGE)
        return work_out(document, self.catalogue, self.equipment, memo)

    def _memo(self, design_id: str, *, large: bool) -> Memo:
        memo: Memo | None = self._memos.get(design_id)
        if memo is None:
            memo = Memo(most=2) if large else Memo()
            self._memos.keep(design_id, memo)
        return memo

    @property
    def stamp(self) -> str:
        """Of the program and the catalogue: what was kept under another one is worked out anew."""
        return f"{inkthread.__version__} {self.catalogue.version}"

    def summary(self, w: Workings) -> dict[str, Any]:
        """What the shelf shows of a harness, as plain data."""
        brief = w.document.brief
        return {
            "machine": brief.machine,
            "practice": brief.practice,
            "tally": asdict(w.evaluation.tally),
        }

    def etag(self, stored: StoredDesign) -> str:
        """Version and catalogue: both decide the evaluation."""
        return f"{stored.version}-{self.catalogue.version}"
