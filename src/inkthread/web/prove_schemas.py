"""What the API of proving takes and gives."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import ConfigDict, Field

from inkthread.core.findings import Finding
from inkthread.core.prove import FaultSet, PlanRow, ProvedBy, VoltRow
from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.sent import Sent


class OfPlan(Sent):
    """By what it is tested, and how warm the conductors are."""

    by: ProvedBy = "hand"
    bench_c: float = Field(20.0, ge=-40, le=120)


class ProofReply(Sent):
    """Every test of a harness."""

    model_config = REPLY
    version: int
    rows: list[PlanRow]
    uncaught: list[str]
    source: str


class VoltsReply(Sent):
    """What a meter shows against the battery's minus, place by place."""

    model_config = REPLY
    version: int
    modes: list[str]
    rows: list[VoltRow]


class PieceItem(Sent):
    """A harness that was made."""

    model_config = REPLY
    serial: str
    number: int
    begun_at: datetime
    signed_by: str
    signed_at: datetime | None
    sha256: str


class PiecesReply(Sent):
    """The pieces of a design."""

    model_config = REPLY
    pieces: list[PieceItem]
    next_serial: str
    quantity: int


class ReadingItem(Sent):
    """A reading: without ohms where it was open."""

    model_config = REPLY
    row: str
    a: list[str]
    b: list[str]
    moved: bool
    ohm: float | None
    verdict: Literal["holds", "fails", "beside"]
    """Beside: a reading that no row asked for."""
    how: str
    who: str


class LookItem(Sent):
    """Whether a connector looks right."""

    model_config = REPLY
    place: str
    fine: bool
    who: str


class CheckItem(Sent):
    """A test that is no reading in ohm, and what came of it."""

    model_config = REPLY
    test: str
    value: float | None
    fine: bool
    who: str


class BatchItem(Sent):
    """Which batch of a part went in."""

    model_config = REPLY
    part: str
    batch: str
    who: str


class PhotoItem(Sent):
    """A photograph that was taken as the piece was made."""

    model_config = REPLY
    id: int
    step: str
    note: str


class RefusedItem(Sent):
    """A line that was not taken, and why."""

    model_config = REPLY
    line: int
    text: str
    why: str


class PieceState(Sent):
    """One piece: its readings, what they come to, what stands in the way of signing."""

    model_config = REPLY
    piece: PieceItem
    version: int
    bench_c: float
    leads_ohm: float
    verdict: str
    readings: list[ReadingItem]
    not_read: int
    rows: int
    explanations: list[FaultSet]
    left_over: list[ReadingItem]
    looks: list[LookItem]
    checks: list[CheckItem]
    batches: list[BatchItem]
    photos: list[PhotoItem]
    findings: list[Finding]
    not_signed: str
    """Why it cannot be signed; empty where it can."""
    refused: list[RefusedItem]
    says: str


class PiecePath(DesignPath):
    """A piece by its serial number."""

    serial: str


class BeginBody(Sent):
    """A serial number for one harness of the quantity."""

    model_config = ConfigDict(extra="forbid")
    serial: str = Field(min_length=1, max_length=40, pattern=r"^[\w.\-]+$")
    number: int = Field(1, ge=1, le=10_000)


class MeasureBody(Sent):
    """How warm the conductors are, and what the leads read by themselves: as typed."""

    model_config = ConfigDict(extra="forbid")
    bench: str = Field("20", max_length=20)
    leads: str = Field("0", max_length=20)


class TypedReading(Sent):
    """A reading as it was typed, of a row, or between places."""

    model_config = ConfigDict(extra="forbid")
    row: str = Field("", max_length=20)
    a: str = Field("", max_length=4000)
    b: str = Field("", max_length=4000)
    moved: bool = False
    text: str = Field(max_length=40)


class ReadingsBody(Sent):
    """Readings by hand; one of no text is taken out again."""

    model_config = ConfigDict(extra="forbid")
    who: str = Field("", max_length=60)
    readings: list[TypedReading] = Field(min_length=1, max_length=500)


class TableBody(Sent):
    """Readings of a file."""

    model_config = ConfigDict(extra="forbid")
    who: str = Field("", max_length=60)
    text: str = Field(max_length=4_000_000)


class TesterBody(Sent):
    """The tester reads for a while; again for the rows that are left."""

    model_config = ConfigDict(extra="forbid")
    who: str = Field("", max_length=60)
    anew: bool = False


class LookBody(Sent):
    """How a connector looks; nothing where nobody looked after all."""

    model_config = ConfigDict(extra="forbid")
    place: str = Field(min_length=1, max_length=64)
    fine: bool | None = None
    who: str = Field("", max_length=60)


class CheckBody(Sent):
    """What came of a test of the plan that is no reading in ohm: a figure as typed, or whether it is well.

    Neither takes it out again.
    """

    model_config = ConfigDict(extra="forbid")
    row: str = Field(min_length=1, max_length=20)
    text: str = Field("", max_length=40)
    fine: bool | None = None
    who: str = Field("", max_length=60)


class BatchBody(Sent):
    """Which batch of a part went in; an empty one takes it out again."""

    model_config = ConfigDict(extra="forbid")
    part: str = Field(min_length=1, max_length=80)
    batch: str = Field("", max_length=60)
    who: str = Field("", max_length=60)


class SignBody(Sent):
    """Who signs for it, by name."""

    model_config = ConfigDict(extra="forbid")
    who: str = Field(min_length=1, max_length=60, pattern=r"\S")
