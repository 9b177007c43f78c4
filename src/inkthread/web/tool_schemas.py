"""What the API of tools, hands and recall takes and gives."""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict, Field

from inkthread.core.prove import Hand
from inkthread.web.schemas import REPLY, RowId
from inkthread.web.sent import Sent


class GaugeItem(Sent):
    """A tool was gauged."""

    model_config = REPLY
    id: int
    day: str
    result: str
    note: str
    who: str


class PullItem(Sent):
    """A sample was pulled."""

    model_config = REPLY
    id: int
    contact: str
    wire: str
    tool: str
    least_n: float
    force_n: float
    holds: bool
    who: str
    day: str
    note: str


class PieceMade(Sent):
    """A harness that was made: of which design, which of its quantity, its serial number where it has one."""

    model_config = REPLY
    design: str
    name: str
    number: int
    serial: str
    why: list[str]
    """What of it is meant."""


class LoggedTool(Sent):
    """A tool that this harness needs: how it stands, when it was gauged, what was made since."""

    model_config = REPLY
    code: str
    description: str
    kind: str
    owned: bool
    status: str
    gauges: list[GaugeItem]
    due: str
    """The day until which its last good gauge holds; empty where it has none."""
    overdue: bool
    since: list[PieceMade]
    """Pieces that were crimped with it since its last good gauge; all, where it has none."""


class SetupItem(Sent):
    """A contact on a wire with a tool, of this harness, and the force that a sample must hold."""

    model_config = REPLY
    contact: str
    wire: str
    tool: str
    least_n: float


class ToolLogReply(Sent):
    """The tools of a harness, its crimp set-ups, pulled samples, and what they say of whose hands."""

    model_config = REPLY
    tools: list[LoggedTool]
    setups: list[SetupItem]
    pulls: list[PullItem]
    hands: list[Hand]
    confidence: float
    asked: float
    """The share that the house rule asks for before one crimps what is relied on; 0 where it asks nothing."""


class GaugeBody(Sent):
    """A tool was gauged on a day."""

    model_config = ConfigDict(extra="forbid")
    tool: str = Field(min_length=1, max_length=60)
    day: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    result: Literal["passed", "failed"]
    note: str = Field("", max_length=300)
    who: str = Field("", max_length=60)


class PullBody(Sent):
    """Samples of one set-up were pulled: forces as typed, commas or blanks between."""

    model_config = ConfigDict(extra="forbid")
    contact: str = Field(min_length=1, max_length=60)
    wire: str = Field(min_length=1, max_length=80)
    tool: str = Field(min_length=1, max_length=60)
    forces: str = Field(min_length=1, max_length=600)
    note: str = Field("", max_length=300)
    who: str = Field("", max_length=60)


class OfEntry(Sent):
    """Which entry of a log."""

    id: RowId


class RecallQuery(Sent):
    """A batch, a tool, a setting, a person or a part."""

    what: str = Field(min_length=1, max_length=80)


class RecallReply(Sent):
    """The pieces that have it."""

    model_config = REPLY
    what: str
    pieces: list[PieceMade]
