"""Tables: designs and their revisions, and what the shop holds."""

from __future__ import annotations

import zlib
from datetime import UTC, datetime
from typing import Any

from pydantic_core import from_json, to_json
from sqlalchemy import JSON, DateTime, Dialect, Float, ForeignKey, Index, LargeBinary, String, Text, text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column
from sqlalchemy.types import TypeDecorator

SCHEMA_HEAD = "0013"
"""The newest migration; a test holds it to the migration scripts."""


def utc_now() -> datetime:
    """The present moment as the data file has it: UTC, without saying so."""
    return datetime.now(UTC).replace(tzinfo=None)


_PACKED_FROM = 2000
"""Bytes of JSON from which on it is kept packed."""


class PackedJSON(TypeDecorator[Any]):
    """JSON that is kept packed where it is long, as whole documents in the history are."""

    impl = JSON
    cache_ok = True

    def bind_processor(self, dialect: Dialect) -> Any:
        def pack(value: Any) -> Any:
            text = to_json(value)
            return zlib.compress(text, 6) if len(text) > _PACKED_FROM else text.decode()

        return pack

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        def unpack(value: Any) -> Any:
            return from_json(zlib.decompress(value) if isinstance(value, bytes) else value)

        return unpack


class DocumentJSON(TypeDecorator[Any]):
    """A document as JSON. What lies two steps down and is the same object as in the one written last is not
    written again: an edit makes anew only what it changes, and nothing changes what it made.
    """

    impl = JSON
    cache_ok = True

    def __init__(self) -> None:
        super().__init__()
        self._written: dict[int, tuple[object, bytes]] = {}
        """By the identity of a part: the part, which so lives on, and its JSON."""

    def bind_processor(self, dialect: Dialect) -> Any:
        def write(document: dict[str, Any]) -> str:
            known, now = self._written, dict[int, tuple[object, bytes]]()

            def text_of(part: Any) -> bytes:
                before = known.get(id(part))
                kept = before if before is not None and before[0] is part else (part, to_json(part))
                if isinstance(part, (dict, list)):
                    now[id(part)] = kept
                return kept[1]

            rooms = {
                room: _joined({name: text_of(part) for name, part in parts.items()})
                if isinstance(parts, dict)
                else to_json(parts)
                for room, parts in document.items()
            }
            self._written = now
            return _joined(rooms).decode()

        return write

    def result_processor(self, dialect: Dialect, coltype: object) -> Any:
        return from_json


def _joined(texts: dict[str, bytes]) -> bytes:
    """An object of which the members are written already."""
    return b"{%s}" % b",".join([to_json(name) + b":" + text for name, text in texts.items()])


class Base(DeclarativeBase):
    """Base of all tables."""


class DesignRow(Base):
    """One design at its newest version."""

    __tablename__ = "designs"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    version: Mapped[int]
    document: Mapped[dict[str, object]] = mapped_column(DocumentJSON)
    created_at: Mapped[datetime] = mapped_column(DateTime)
    changed_at: Mapped[datetime] = mapped_column(DateTime)
    deleted_at: Mapped[datetime | None] = mapped_column(DateTime)


class RevisionRow(Base):
    """What made one version: the operations applied and their inverse."""

    __tablename__ = "revisions"
    __table_args__ = (Index("ix_revisions_design_version", "design_id", "version", unique=True),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"))
    version: Mapped[int]
    act: Mapped[str] = mapped_column(String(8))
    """``edit``, ``undo`` or ``redo``."""
    label: Mapped[str] = mapped_column(String(160))
    operations: Mapped[list[dict[str, object]]] = mapped_column(PackedJSON)
    inverse: Mapped[list[dict[str, object]]] = mapped_column(PackedJSON)
    state: Mapped[str] = mapped_column(String(8))
    """Of an edit: ``live``, ``undone``, or ``gone`` when a later edit closed the way to redo it."""
    at: Mapped[datetime] = mapped_column(DateTime)


class SummaryRow(Base):
    """What the shelf shows of a design, as it came out at one version."""

    __tablename__ = "summaries"

    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[int]
    stamp: Mapped[str] = mapped_column(String(60))
    """Of the program and the catalogue that it came out with."""
    data: Mapped[dict[str, object]] = mapped_column(JSON)


class KeptRow(Base):
    """Something of the shop's own as plain data, taken out without being lost."""

    __abstract__ = True

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    data: Mapped[dict[str, object]] = mapped_column(JSON)
    added_at: Mapped[datetime] = mapped_column(DateTime)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime)


class KindRow(KeptRow):
    """A kind of device of the shop's own."""

    __tablename__ = "kinds"


class PatternRow(KeptRow):
    """A pattern of circuits of the shop's own."""

    __tablename__ = "patterns"


class StockRow(KeptRow):
    """How many of a part are at hand; its id is the part's code, of wire with its colour."""

    __tablename__ = "stock"


class ConventionsRow(KeptRow):
    """What the shop always does: one row of typed lines."""

    __tablename__ = "conventions"


class SupplierRow(KeptRow):
    """Someone who sells parts; its id is the name."""

    __tablename__ = "suppliers"


class PriceRow(KeptRow):
    """What the shop pays for a part, against the catalogue's price; its id is the part's code."""

    __tablename__ = "prices"


class KitRow(KeptRow):
    """A kit of the shop's own: what lies in it."""

    __tablename__ = "kits"


class OfferRow(Base):
    """A part as one supplier sells it: typed, or quoted last."""

    __tablename__ = "offers"

    supplier: Mapped[str] = mapped_column(String(40), primary_key=True)
    code: Mapped[str] = mapped_column(String(60), primary_key=True)
    data: Mapped[dict[str, object]] = mapped_column(JSON)
    at: Mapped[datetime] = mapped_column(DateTime)


class ReservedRow(Base):
    """So many of a part in the drawers set aside for a harness."""

    __tablename__ = "reserved"

    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"), primary_key=True)
    entry: Mapped[str] = mapped_column(String(80), primary_key=True)
    """The stock entry's id."""
    quantity: Mapped[float] = mapped_column(Float)


class OrderRow(Base):
    """An order as it was written."""

    __tablename__ = "orders"

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(String(32))
    """Of a harness; the order is kept when that goes."""
    supplier: Mapped[str] = mapped_column(String(40))
    data: Mapped[dict[str, object]] = mapped_column(JSON)
    state: Mapped[str] = mapped_column(String(12))
    """``written``, ``sent``, ``refused`` or ``not known``."""
    says: Mapped[str] = mapped_column(String(300))
    at: Mapped[datetime] = mapped_column(DateTime)


class PartRow(Base):
    """A part of the shop's own: a connector family, a tool, a splice, a wire."""

    __tablename__ = "parts"

    kind: Mapped[str] = mapped_column(String(12), primary_key=True)
    code: Mapped[str] = mapped_column(String(30), primary_key=True)
    data: Mapped[dict[str, object]] = mapped_column(JSON)
    added_at: Mapped[datetime] = mapped_column(DateTime)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime)


class ToolRow(Base):
    """A tool that the shop owns, and how it is."""

    __tablename__ = "tools"

    code: Mapped[str] = mapped_column(String(30), primary_key=True)
    certified: Mapped[bool]
    borrowed: Mapped[bool] = mapped_column(default=False, server_default=text("0"))
    gauged_on: Mapped[str] = mapped_column(String(10))
    result: Mapped[str] = mapped_column(String(12))
    note: Mapped[str] = mapped_column(String(1000))


class NestRow(Base):
    """A nest proven in the shop for a contact on a wire."""

    __tablename__ = "nests"

    contact: Mapped[str] = mapped_column(String(30), primary_key=True)
    wire: Mapped[str] = mapped_column(String(60), primary_key=True)
    tool: Mapped[str] = mapped_column(String(30))
    nest: Mapped[str] = mapped_column(String(40))
    depth: Mapped[str] = mapped_column(String(40))
    note: Mapped[str] = mapped_column(String(1000))


class SpoolRow(Base):
    """A spool or remnant of wire or cable, and how much of it is left."""

    __tablename__ = "spools"

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    code: Mapped[str] = mapped_column(String(60))
    colour: Mapped[str] = mapped_column(String(20))
    length_mm: Mapped[float] = mapped_column(Float)
    remnant: Mapped[bool]
    place: Mapped[str] = mapped_column(String(120))
    added_at: Mapped[datetime] = mapped_column(DateTime)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime)


class CutRow(Base):
    """A piece of a harness that was cut: what it came off, and whether it was spoiled."""

    __tablename__ = "cuts"
    __table_args__ = (Index("ix_cuts_design_piece", "design_id", "piece", "number"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"))
    piece: Mapped[str] = mapped_column(String(140))
    number: Mapped[int]
    spool_id: Mapped[int | None] = mapped_column(ForeignKey("spools.id", ondelete="SET NULL"))
    length_mm: Mapped[float] = mapped_column(Float)
    spoiled: Mapped[bool]
    at: Mapped[datetime] = mapped_column(DateTime)


class StepRow(Base):
    """A step of the work that is done: by whom, at which bench."""

    __tablename__ = "steps_done"

    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    step: Mapped[str] = mapped_column(String(300), primary_key=True)
    timed: Mapped[str] = mapped_column(String(60))
    times: Mapped[float] = mapped_column(Float)
    who: Mapped[str] = mapped_column(String(60))
    bench: Mapped[str] = mapped_column(String(40))
    at: Mapped[datetime] = mapped_column(DateTime)


class TakenRow(Base):
    """A card that lies on a bench."""

    __tablename__ = "cards_taken"

    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    bench: Mapped[str] = mapped_column(String(40), primary_key=True)
    card: Mapped[str] = mapped_column(String(320))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class HappeningRow(Base):
    """What happened at a step: something spoiled, done otherwise, or noted."""

    __tablename__ = "happenings"
    __table_args__ = (Index("ix_happenings_design", "design_id", "number"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"))
    number: Mapped[int]
    step: Mapped[str] = mapped_column(String(300))
    kind: Mapped[str] = mapped_column(String(20))
    part: Mapped[str] = mapped_column(String(60))
    note: Mapped[str] = mapped_column(String(600))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class PhotoRow(Base):
    """The photograph of a happening."""

    __tablename__ = "photos"

    id: Mapped[int] = mapped_column(ForeignKey("happenings.id", ondelete="CASCADE"), primary_key=True)
    jpeg: Mapped[bytes] = mapped_column(LargeBinary)


class PieceRow(Base):
    """One harness that was made, with its serial number; frozen once it is signed."""

    __tablename__ = "pieces"
    __table_args__ = (Index("ix_pieces_design", "design_id"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"))
    serial: Mapped[str] = mapped_column(String(40), unique=True)
    number: Mapped[int]
    bench_c: Mapped[float] = mapped_column(Float)
    leads_ohm: Mapped[float] = mapped_column(Float)
    begun_at: Mapped[datetime] = mapped_column(DateTime)
    signed_by: Mapped[str] = mapped_column(String(60))
    signed_at: Mapped[datetime | None] = mapped_column(DateTime)
    sha256: Mapped[str] = mapped_column(String(64))
    """Of the design that it was built to; empty until it is signed."""
    record: Mapped[str] = mapped_column(Text)
    """All that was known of it when it was signed, as JSON."""


class ReadingRow(Base):
    """What was read on a piece between two places; without ohms where it was open."""

    __tablename__ = "readings"

    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True)
    a: Mapped[str] = mapped_column(Text, primary_key=True)
    b: Mapped[str] = mapped_column(Text, primary_key=True)
    moved: Mapped[bool] = mapped_column(primary_key=True)
    row: Mapped[str] = mapped_column(String(20))
    ohm: Mapped[float | None] = mapped_column(Float)
    how: Mapped[str] = mapped_column(String(10))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class LookRow(Base):
    """A connector of a piece that was looked at: whether it looks right."""

    __tablename__ = "looks"

    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True)
    place: Mapped[str] = mapped_column(String(64), primary_key=True)
    fine: Mapped[bool]
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class CheckRow(Base):
    """A test of a piece that is no reading in ohm: a force, volts, what a device does."""

    __tablename__ = "checks"

    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True)
    test: Mapped[str] = mapped_column(String(300), primary_key=True)
    """Its kind and its words: a row's number is of one plan only."""
    value: Mapped[float | None] = mapped_column(Float)
    fine: Mapped[bool]
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class BatchRow(Base):
    """Which batch of a part went into a piece."""

    __tablename__ = "batches"

    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True)
    part: Mapped[str] = mapped_column(String(80), primary_key=True)
    batch: Mapped[str] = mapped_column(String(60))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class GaugeRow(Base):
    """A tool was gauged: on which day, and what came of it."""

    __tablename__ = "gauges"

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    tool: Mapped[str] = mapped_column(String(60))
    day: Mapped[str] = mapped_column(String(10))
    result: Mapped[str] = mapped_column(String(20))
    note: Mapped[str] = mapped_column(String(300))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class PullRow(Base):
    """A crimped sample was pulled until it gave: who had made it, with what, and the force."""

    __tablename__ = "pulls"

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    tool: Mapped[str] = mapped_column(String(60))
    contact: Mapped[str] = mapped_column(String(60))
    wire: Mapped[str] = mapped_column(String(80))
    """Family and gauge."""
    least_n: Mapped[float] = mapped_column(Float)
    force_n: Mapped[float] = mapped_column(Float)
    note: Mapped[str] = mapped_column(String(300))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class MachineRow(Base):
    """What became of a piece on its machine: fitted, looked at, joined again, renewed, repaired."""

    __tablename__ = "machine_book"
    __table_args__ = (Index("ix_machine_book_piece", "piece_id"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id", ondelete="CASCADE"))
    kind: Mapped[str] = mapped_column(String(20))
    place: Mapped[str] = mapped_column(String(64))
    """A zone, a connector or a wire; where it is fitted of the first entry."""
    day: Mapped[str] = mapped_column(String(10))
    times: Mapped[int]
    note: Mapped[str] = mapped_column(String(600))
    who: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(DateTime)


class PrintJobRow(Base):
    """Labels of one sleeve sent to the printer, or waiting for it."""

    __tablename__ = "print_jobs"

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("designs.id", ondelete="CASCADE"))
    sleeve: Mapped[str] = mapped_column(String(30))
    labels: Mapped[list[dict[str, object]]] = mapped_column(JSON)
    state: Mapped[str] = mapped_column(String(12))
    says: Mapped[str] = mapped_column(String(200))
    at: Mapped[datetime] = mapped_column(DateTime)
