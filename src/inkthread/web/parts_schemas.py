"""What the API of parts, tools and ends takes and gives."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from inkthread.core.ends.adjacent import Proposal, Standing
from inkthread.core.ends.detail import EndDetail
from inkthread.core.ends.grouped import Grouped
from inkthread.core.ends.mating import Half
from inkthread.core.ends.pinout import Rule
from inkthread.core.ends.rank import Ranking
from inkthread.web.schemas import REPLY
from inkthread.web.sent import Sent


class NeedQuery(Sent):
    """What is looked for, as typed."""

    need: str = Field("", max_length=300)
    kind: str = Field("", max_length=20)
    limit: int = Field(50, ge=1, le=500)


class FoundPart(Sent):
    """A part that answers a need."""

    model_config = REPLY
    kind: str
    code: str
    description: str
    family: str
    ways: int | None
    protection: str
    temperature_c: float | None
    mm2: tuple[float, float] | None
    od_mm: tuple[float, float] | None
    current_a: float | None
    tools: list[str]
    price: float
    own: bool


class RejectedPart(Sent):
    """A part that does not, and why."""

    model_config = REPLY
    code: str
    description: str
    reason: str


class FoundReply(Sent):
    """What was understood, what answers it, what does not."""

    model_config = REPLY
    understood: list[str]
    rows: list[FoundPart]
    rejected: list[RejectedPart]
    count: int
    rejected_count: int


class PartFileBody(Sent):
    """A file of parts, JSON or CSV."""

    text: str = Field(min_length=1, max_length=4_000_000)


class CopyBody(Sent):
    """A family to copy, and the code of the copy."""

    code: str = Field(max_length=30)
    new_code: str = Field(min_length=1, max_length=30, pattern=r"^[A-Z0-9][A-Z0-9.\-]*$")
    name: str = Field("", max_length=120)


class OfPart(Sent):
    """Which part of one's own."""

    kind: Literal["connectors", "tools", "splices", "wires"]
    code: str = Field(max_length=30)


class OwnFamilyPath(Sent):
    """A connector family of the shop's own."""

    code: str


class OwnContact(Sent):
    """A contact of a family of the shop's own, as it can be changed."""

    code: str
    description: str
    gender: str
    size: str
    conductor_min_mm2: float
    conductor_max_mm2: float
    insulation_min_mm: float
    insulation_max_mm: float
    strip_mm: float
    strip_tolerance_mm: float
    price: float
    tool: str
    """Of its first tool setting."""
    nest: str


class OwnSeal(Sent):
    """A seal of a family of the shop's own."""

    code: str
    description: str
    od_min_mm: float
    od_max_mm: float
    price: float


class OwnFamilyReply(Sent):
    """A connector family of the shop's own, for changing it."""

    code: str
    name: str
    temperature_c: float
    voltage_v: float
    turn: str
    contacts: list[OwnContact]
    seals: list[OwnSeal]


class OwnReply(Sent):
    """Parts of the shop's own, and the columns of the table that is read."""

    model_config = REPLY
    connectors: list[str]
    tools: list[str]
    splices: list[str]
    wires: list[str]
    columns: list[str]


class OfTool(Sent):
    """Which tool."""

    code: str = Field(max_length=30)


class ToolBody(Sent):
    """How a tool that is owned is."""

    certified: bool = False
    borrowed: bool = False
    gauged_on: str = Field("", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
    result: Literal["not gauged", "passed", "failed"] = "not gauged"
    note: str = Field("", max_length=1000)


class ToolItem(Sent):
    """A tool, whether it is owned and how it is."""

    model_config = REPLY
    code: str
    description: str
    kind: str
    price: float
    nests: list[str]
    owned: bool
    status: str
    certified: bool
    borrowed: bool
    gauged_on: str
    result: str
    note: str


class NestBody(Sent):
    """A nest proven here."""

    contact: str = Field(max_length=30)
    wire: str = Field(max_length=60)
    tool: str = Field("", max_length=30)
    nest: str = Field("", max_length=40)
    depth: str = Field("", max_length=40)
    note: str = Field("", max_length=1000)


class NestItem(NestBody):
    """A nest proven here."""

    model_config = REPLY


class ToolsReply(Sent):
    """Tools and proven nests."""

    model_config = REPLY
    tools: list[ToolItem]
    proven: list[NestItem]


class OfConnector(Sent):
    """Which connector."""

    id: str = Field(max_length=40)


class OfPin(Sent):
    """Which device pin, and which of the wires that end there; the first where none is named."""

    ref: str = Field(max_length=90)
    wire: str = Field(default="", max_length=200)


class ChoicesReply(Sent):
    """Families ranked for a connector."""

    model_config = REPLY
    version: int
    ranking: Ranking
    grouped: Grouped | None


class StandingReply(Sent):
    """How a pinout stands, and an order that stands better."""

    model_config = REPLY
    version: int
    standing: Standing
    proposal: Proposal | None


class EndReply(Sent):
    """One end in full."""

    model_config = REPLY
    version: int
    end: EndDetail


class WeakestItem(Sent):
    """The weakest link of a circuit."""

    model_config = REPLY
    circuit: str
    name: str
    carries_a: float
    holds_a: float
    link: str
    kind: str


class WeakestReply(Sent):
    """Weakest links, the least spare first."""

    model_config = REPLY
    version: int
    links: list[WeakestItem]


class PinoutBody(Sent):
    """What is done with the ways of a connector."""

    connector: str = Field(max_length=40)
    act: Literal["give out", "swap", "clear", "propose"]
    rule: Rule = "as the device"
    a: str = Field("", max_length=40)
    b: str = Field("", max_length=40)


class OnDevice(Sent):
    """Which connector, and in which family what it meets is wanted; as its own says where none is named."""

    id: str = Field(max_length=40)
    family: str = Field("", max_length=30)


class HalfReply(Sent):
    """What the device has that a connector meets, as far as can be told."""

    model_config = REPLY
    version: int
    half: Half


class MateBody(Sent):
    """What is fitted on the device that a connector meets."""

    connector: str = Field(max_length=40)
    family: str = Field(max_length=30)
    ways: int = Field(ge=1, le=200)
    shell: Literal["plug", "receptacle", "none"]
    contact_gender: Literal["pin", "socket"]
    key: str = Field("", max_length=40)
    itself: bool = False
    """True where this half itself is to be fitted, not the one that meets it."""
