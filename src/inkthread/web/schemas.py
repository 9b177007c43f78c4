"""What the API sends and takes."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, RootModel

from inkthread.core.acts import ActName
from inkthread.core.circuits import Schematic, SourceGroup
from inkthread.core.circuits.paste import PasteColumn, PasteLine
from inkthread.core.compare import FamilyCost, FutureCost, Headroom, ThreadingCost
from inkthread.core.document.types import Document, Practice
from inkthread.core.dress import Circle
from inkthread.core.ends.adjacent import Proposal, Standing
from inkthread.core.ends.detail import EndDetail
from inkthread.core.ends.rank import Ranking
from inkthread.core.evaluate import Evaluation, Tally
from inkthread.core.reckoning import Reckoning

_REPLY = ConfigDict(json_schema_serialization_defaults_required=True, defer_build=True)


class ProblemItem(BaseModel):
    """One field at fault."""

    model_config = _REPLY
    path: str
    message: str
    remedy: str


class ProblemDetails(BaseModel):
    """RFC 9457 problem details."""

    model_config = _REPLY
    type: str
    title: str
    status: int
    detail: str
    errors: list[ProblemItem]


class DesignReply(BaseModel):
    """A harness at one version: the document and its evaluation."""

    model_config = _REPLY
    id: str
    version: int
    etag: str
    document: Document
    evaluation: Evaluation
    undo_label: str | None
    redo_label: str | None


class ConflictDetails(ProblemDetails):
    """A stale patch was refused; ``current`` is the newer harness."""

    current: DesignReply


class ShelfItem(BaseModel):
    """A harness on the shelf."""

    model_config = _REPLY
    id: str
    name: str
    machine: str
    practice: str
    version: int
    changed_at: str
    tally: Tally


class ShelfReply(BaseModel):
    """The shelf."""

    model_config = _REPLY
    designs: list[ShelfItem]


class NewDesign(BaseModel):
    """A new empty harness, or one imported from a design document."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(default="", max_length=120)
    practice: Practice = "motorsport"
    document: dict[str, Any] | None = None


class OperationBody(BaseModel):
    """One operation of RFC 6902. Text at a numeric field is read as a quantity with its unit."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)
    op: Literal["add", "remove", "replace", "move", "copy", "test"]
    path: str = Field(max_length=1000)
    value: Any = None
    from_: str | None = Field(default=None, alias="from", max_length=1000)


class PatchBody(RootModel[list[OperationBody]]):
    """A JSON Patch."""


class ActBody(BaseModel):
    """A typed line or one-step act."""

    model_config = ConfigDict(extra="forbid")
    act: ActName
    text: str = Field(default="", max_length=40_000)
    about: str = Field(default="", max_length=120)


class PasteBody(BaseModel):
    """A list out of a spreadsheet, and what its columns mean where that is not to be guessed."""

    model_config = ConfigDict(extra="forbid")
    text: str = Field(max_length=400_000)
    meanings: list[str] | None = Field(default=None, max_length=60)
    headed: bool | None = None


class PasteReply(BaseModel):
    """What putting the list in would do, line by line."""

    model_config = _REPLY
    meanings: list[str]
    """What a column can mean."""
    headed: bool
    columns: list[PasteColumn]
    lines: list[PasteLine]
    taken: int


class BenchFieldItem(BaseModel):
    """One thing a calculator asks for."""

    model_config = _REPLY
    name: str
    label: str
    kind: str
    example: str
    required: bool
    choices: list[str]
    default: str
    help: str


class CalculatorItem(BaseModel):
    """A quick calculator."""

    model_config = _REPLY
    name: str
    label: str
    asks: str
    puts: bool
    fields: list[BenchFieldItem]


class BenchReply(BaseModel):
    """The bench's calculators."""

    model_config = _REPLY
    calculators: list[CalculatorItem]


class BenchBody(BaseModel):
    """What was typed for a calculator, by field."""

    model_config = ConfigDict(extra="forbid")
    fields: dict[str, str] = Field(default_factory=dict, max_length=40)


class BenchPath(BaseModel):
    """Which calculator."""

    calculator: str = Field(max_length=20)


class BenchLineItem(BaseModel):
    """One line of an answer."""

    model_config = _REPLY
    label: str
    value: str
    note: str


class BenchAnswerReply(BaseModel):
    """What a calculator answers."""

    model_config = _REPLY
    sentence: str
    holds: bool
    lines: list[BenchLineItem]
    sources: list[str]


class DesignPath(BaseModel):
    """Which harness."""

    design_id: str = Field(max_length=32)


class BenchPutPath(DesignPath):
    """Which calculator, into which harness."""

    calculator: str = Field(max_length=20)


class CsvPath(DesignPath):
    """Which table of which harness."""

    table: Literal["wires", "bom", "cut"]


class ReckoningQuery(BaseModel):
    """Which figure to reckon."""

    kind: Literal["gauge", "drop", "ampacity", "cut", "fuse", "contact", "bill", "mass", "branch"]
    id: str = Field(max_length=200)


class ReckoningReply(BaseModel):
    """Why a figure is what it is."""

    model_config = _REPLY
    version: int
    reckoning: Reckoning


class OfCircuit(BaseModel):
    """Which circuit."""

    id: str = Field(max_length=40)


class LoadsReply(BaseModel):
    """What is asked of every source, by mode."""

    model_config = _REPLY
    version: int
    modes: list[str]
    """Names of the modes, in the order of the figures."""
    groups: list[SourceGroup]


class SchematicReply(BaseModel):
    """The schematic of one version."""

    model_config = _REPLY
    version: int
    schematic: Schematic


class ThreadingReply(BaseModel):
    """Ways of joining one circuit, side by side."""

    model_config = _REPLY
    version: int
    ways: list[ThreadingCost]


class OfBranch(BaseModel):
    """Which branch."""

    id: str = Field(max_length=40)


class SectionReply(BaseModel):
    """A branch cut across, as packed; empty where its wires are too many to lay out."""

    model_config = _REPLY
    version: int
    circles: list[Circle]


class FamiliesReply(BaseModel):
    """The harness in other wire families, side by side."""

    model_config = _REPLY
    version: int
    families: list[FamilyCost]


class FutureReply(BaseModel):
    """What the conductors for a future need come to."""

    model_config = _REPLY
    version: int
    future: FutureCost


class HeadroomReply(BaseModel):
    """How many amperes more until something must change."""

    model_config = _REPLY
    version: int
    rows: list[Headroom]


class FamilyItem(BaseModel):
    """A wire family to choose."""

    model_config = _REPLY
    code: str
    name: str
    temperature_c: float
    construction: str
    cores: int
    burn_rated: bool
    gauges: list[str]


class AccessoryItem(BaseModel):
    """An accessory that belongs to a connector family."""

    model_config = _REPLY
    code: str
    description: str
    required: bool
    included: bool
    ways: list[int]
    fan_out_mm: tuple[float, float] | None


class ConnectorItem(BaseModel):
    """A connector family to choose."""

    model_config = _REPLY
    code: str
    name: str
    sealed: bool
    loose: bool
    ways: list[int]
    studs: list[str]
    temperature_c: float
    group: str
    genderless: bool
    keyings: list[str]
    protection: str
    accessories: list[AccessoryItem]


class KindItem(BaseModel):
    """A kind of device: what a new one begins with."""

    model_config = _REPLY
    id: str
    label: str
    group: str
    prefix: str
    words: list[str]
    pins: list[str]
    """Each as ``pin role``."""
    connector: str
    own: bool
    """Of the shop's own."""


class NewKind(BaseModel):
    """A device to keep as a kind of the shop's own."""

    model_config = ConfigDict(extra="forbid")
    design_id: str = Field(max_length=32)
    device: str = Field(max_length=40)
    label: str = Field(max_length=200)
    words: str = Field(default="", max_length=400)


class KindPath(BaseModel):
    """Which kind."""

    kind_id: str = Field(max_length=40)


class CatalogueReply(BaseModel):
    """What can be chosen from."""

    model_config = _REPLY
    version: str
    wires: list[FamilyItem]
    connectors: list[ConnectorItem]
    kinds: list[KindItem]
    practices: list[str]
    buses: list[str]
    schemes: list[str]
    colours: dict[str, str]
    colour_names: dict[str, str]
    colour_choices: list[str]
    fuse_ratings: list[float]


class NeedQuery(BaseModel):
    """What is looked for, as typed."""

    need: str = Field("", max_length=300)
    kind: str = Field("", max_length=20)
    limit: int = Field(50, ge=1, le=500)


class FoundPart(BaseModel):
    """A part that answers a need."""

    model_config = _REPLY
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


class RejectedPart(BaseModel):
    """A part that does not, and why."""

    model_config = _REPLY
    code: str
    description: str
    reason: str


class FoundReply(BaseModel):
    """What was understood, what answers it, what does not."""

    model_config = _REPLY
    understood: list[str]
    rows: list[FoundPart]
    rejected: list[RejectedPart]
    count: int
    rejected_count: int


class PartFileBody(BaseModel):
    """A file of parts, JSON or CSV."""

    text: str = Field(min_length=1, max_length=4_000_000)


class CopyBody(BaseModel):
    """A family to copy, and the code of the copy."""

    code: str = Field(max_length=30)
    new_code: str = Field(min_length=1, max_length=30, pattern=r"^[A-Z0-9][A-Z0-9.\-]*$")
    name: str = Field("", max_length=120)


class OfPart(BaseModel):
    """Which part of one's own."""

    kind: Literal["connectors", "tools", "splices", "wires"]
    code: str = Field(max_length=30)


class OwnFamilyPath(BaseModel):
    """A connector family of the shop's own."""

    code: str


class OwnContact(BaseModel):
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


class OwnSeal(BaseModel):
    """A seal of a family of the shop's own."""

    code: str
    description: str
    od_min_mm: float
    od_max_mm: float
    price: float


class OwnFamilyReply(BaseModel):
    """A connector family of the shop's own, for changing it."""

    code: str
    name: str
    temperature_c: float
    voltage_v: float
    turn: str
    contacts: list[OwnContact]
    seals: list[OwnSeal]


class OwnReply(BaseModel):
    """Parts of the shop's own, and the columns of the table that is read."""

    model_config = _REPLY
    connectors: list[str]
    tools: list[str]
    splices: list[str]
    wires: list[str]
    columns: list[str]


class OfTool(BaseModel):
    """Which tool."""

    code: str = Field(max_length=30)


class ToolBody(BaseModel):
    """How a tool that is owned is."""

    certified: bool = False
    gauged_on: str = Field("", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
    result: Literal["not gauged", "passed", "failed"] = "not gauged"
    note: str = Field("", max_length=1000)


class ToolItem(BaseModel):
    """A tool, whether it is owned and how it is."""

    model_config = _REPLY
    code: str
    description: str
    kind: str
    price: float
    nests: list[str]
    owned: bool
    status: str
    certified: bool
    gauged_on: str
    result: str
    note: str


class NestBody(BaseModel):
    """A nest proven here."""

    contact: str = Field(max_length=30)
    wire: str = Field(max_length=60)
    tool: str = Field("", max_length=30)
    nest: str = Field("", max_length=40)
    depth: str = Field("", max_length=40)
    note: str = Field("", max_length=1000)


class NestItem(NestBody):
    """A nest proven here."""

    model_config = _REPLY


class ToolsReply(BaseModel):
    """Tools and proven nests."""

    model_config = _REPLY
    tools: list[ToolItem]
    proven: list[NestItem]


class OfConnector(BaseModel):
    """Which connector."""

    id: str = Field(max_length=40)


class OfPin(BaseModel):
    """Which device pin."""

    ref: str = Field(max_length=90)


class ChoicesReply(BaseModel):
    """Families ranked for a connector."""

    model_config = _REPLY
    version: int
    ranking: Ranking


class StandingReply(BaseModel):
    """How a pinout stands, and an order that stands better."""

    model_config = _REPLY
    version: int
    standing: Standing
    proposal: Proposal | None


class EndReply(BaseModel):
    """One end in full."""

    model_config = _REPLY
    version: int
    end: EndDetail


class WeakestItem(BaseModel):
    """The weakest link of a circuit."""

    model_config = _REPLY
    circuit: str
    name: str
    carries_a: float
    holds_a: float
    link: str
    kind: str


class WeakestReply(BaseModel):
    """Weakest links, the least spare first."""

    model_config = _REPLY
    version: int
    links: list[WeakestItem]


class PinoutBody(BaseModel):
    """What is done with the ways of a connector."""

    connector: str = Field(max_length=40)
    act: Literal["give out", "swap", "clear", "propose"]
    rule: str = Field("", max_length=30)
    a: str = Field("", max_length=40)
    b: str = Field("", max_length=40)


class MateBody(BaseModel):
    """What is fitted on the device that a connector meets."""

    connector: str = Field(max_length=40)
    family: str = Field(max_length=30)
    ways: int = Field(ge=1, le=200)
    shell: Literal["plug", "receptacle", "none"]
    contact_gender: Literal["pin", "socket"]
    key: str = Field("", max_length=40)
    itself: bool = False
    """True where this half itself is to be fitted, not the one that meets it."""
