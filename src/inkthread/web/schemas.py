"""What the API sends and takes."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, RootModel

from inkthread.core.acts import ActName
from inkthread.core.alternatives import Alternative
from inkthread.core.circuits import Schematic, SourceGroup
from inkthread.core.circuits.paste import PasteColumn, PasteLine
from inkthread.core.compare import FamilyCost, FutureCost, ThreadingCost
from inkthread.core.document.types import Document
from inkthread.core.document.values import Practice
from inkthread.core.dress import Circle
from inkthread.core.evaluation import Evaluation, Tally
from inkthread.core.headroom import Headroom
from inkthread.core.look import Choice, Guess, LookProblem
from inkthread.core.reckoning import Reckoning
from inkthread.core.text import LineMade, LineProblem
from inkthread.web.sent import Sent

REPLY = ConfigDict(json_schema_serialization_defaults_required=True, defer_build=True)


class ProblemItem(Sent):
    """One field at fault."""

    model_config = REPLY
    path: str
    message: str
    remedy: str


class ProblemDetails(Sent):
    """RFC 9457 problem details."""

    model_config = REPLY
    type: str
    title: str
    status: int
    detail: str
    errors: list[ProblemItem]


class UnderwayReply(Sent):
    """A study that is being worked out. Ask again until it is there; left alone it is given up."""

    version: int
    share: float = Field(ge=0, le=1, description="how far it is")


class VersionReply(Sent):
    """Which version of a harness is the newest."""

    version: int
    etag: str


class DesignReply(Sent):
    """A harness at one version: the document and its evaluation."""

    model_config = REPLY
    id: str
    version: int
    etag: str
    document: Document
    evaluation: Evaluation
    undo_label: str | None
    redo_label: str | None


class Change(Sent):
    """One operation on the reply that the screen holds: exactly one of ``put``, ``take``, ``arrange``."""

    model_config = REPLY
    at: list[str | int]
    """The steps to where it is done."""
    put: Any = None
    """The value there from now on."""
    take: list[str] | None = None
    """Keys that are there no more."""
    arrange: list[Any] | None = None
    """The list there: stretches of the one before (first place, length), and ``{"new": value}``."""


class DesignChanges(Sent):
    """A harness after an edit, for a screen that holds an earlier reply: what is another since."""

    model_config = REPLY
    id: str
    version: int
    etag: str
    held: str
    """The ETag of the reply that the operations are on."""
    undo_label: str | None
    redo_label: str | None
    changes: list[Change]


class EditReply(RootModel[Any]):
    """A harness after an edit: whole, or by what changed where X-Holds names a reply that is still known."""

    model_config = REPLY
    root: DesignReply | DesignChanges


class ConflictDetails(ProblemDetails):
    """A stale patch was refused; ``current`` is the newer harness."""

    current: DesignReply


class ShelfItem(Sent):
    """A harness on the shelf."""

    model_config = REPLY
    id: str
    name: str
    machine: str
    practice: str
    version: int
    changed_at: str
    tally: Tally | None
    trouble: str
    """Why it cannot be read, with what to do; empty where it can."""


class ShelfReply(Sent):
    """The shelf."""

    model_config = REPLY
    designs: list[ShelfItem]


class NewDesign(Sent):
    """A new empty harness, or one imported from a design document."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(default="", max_length=120)
    practice: Practice = "motorsport"
    supply: str = Field(default="", max_length=40)
    """Nominal volts as typed, ``24 V``; the practice's usual supply where empty."""
    document: dict[str, Any] | None = None


class OperationBody(Sent):
    """One operation of RFC 6902. Text at a numeric field is read as a quantity with its unit."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)
    op: Literal["add", "remove", "replace", "move", "copy", "test"]
    path: str = Field(max_length=1000)
    value: Any = None
    from_: str | None = Field(default=None, alias="from", max_length=1000)


class PatchBody(RootModel[list[OperationBody]]):
    """A JSON Patch."""


class ActBody(Sent):
    """A typed line or one-step act."""

    model_config = ConfigDict(extra="forbid")
    act: ActName
    text: str = Field(default="", max_length=40_000)
    about: str = Field(default="", max_length=120)


class LookReply(Sent):
    """What a typed line would make, why it cannot go in, what was guessed, and what could follow."""

    model_config = REPLY
    says: list[str]
    problem: LookProblem | None
    guesses: list[Guess]
    following: list[Choice]


class TextBody(Sent):
    """A harness as typed lines under headings."""

    model_config = ConfigDict(extra="forbid")
    text: str = Field(max_length=2_000_000)


class TextReply(Sent):
    """A harness as typed lines under headings."""

    model_config = REPLY
    text: str


class TextLookReply(Sent):
    """What lines would make, and which are refused."""

    model_config = REPLY
    made: list[LineMade]
    problems: list[LineProblem]


class PatternBody(Sent):
    """A pattern of the shop's own: typed lines, and what they are for."""

    model_config = ConfigDict(extra="forbid")
    label: str = Field(max_length=60)
    why: str = Field("", max_length=400)
    lines: list[str] = Field(max_length=60)


class PatternItem(Sent):
    """Circuits to begin from."""

    model_config = REPLY
    id: str
    label: str
    why: str
    lines: list[str]
    own: bool


class PatternsReply(Sent):
    """Circuits to begin from, the shop's own first."""

    model_config = REPLY
    patterns: list[PatternItem]


class PatternPath(Sent):
    """A pattern in the address."""

    pattern_id: str = Field(max_length=40)


class PasteBody(Sent):
    """A list out of a spreadsheet, and what its columns mean where that is not to be guessed."""

    model_config = ConfigDict(extra="forbid")
    text: str = Field(max_length=400_000)
    meanings: list[str] | None = Field(default=None, max_length=60)
    headed: bool | None = None


class PasteReply(Sent):
    """What putting the list in would do, line by line."""

    model_config = REPLY
    meanings: list[str]
    """What a column can mean."""
    headed: bool
    columns: list[PasteColumn]
    lines: list[PasteLine]
    taken: int


RowId = Annotated[int, Field(ge=1, le=2**53)]
"""Number of a row of the data file."""


class DesignPath(Sent):
    """Which harness."""

    design_id: str = Field(max_length=32)


class CsvPath(DesignPath):
    """Which table of which harness."""

    table: Literal[
        "wires", "bom", "cut", "dress", "labels", "devices", "branches", "pinout", "tools", "findings"
    ]


class ReckoningQuery(Sent):
    """Which figure to reckon."""

    kind: Literal["gauge", "drop", "ampacity", "cut", "fuse", "contact", "bill", "mass", "branch"]
    id: str = Field(max_length=200)


class ReckoningReply(Sent):
    """Why a figure is what it is."""

    model_config = REPLY
    version: int
    reckoning: Reckoning


class OfCircuit(Sent):
    """Which circuit."""

    id: str = Field(max_length=40)


class LoadsReply(Sent):
    """What is asked of every source, by mode."""

    model_config = REPLY
    version: int
    modes: list[str]
    """Names of the modes, in the order of the figures."""
    groups: list[SourceGroup]


class SchematicReply(Sent):
    """The schematic of one version."""

    model_config = REPLY
    version: int
    schematic: Schematic


class ThreadingReply(Sent):
    """Ways of joining one circuit, side by side."""

    model_config = REPLY
    version: int
    ways: list[ThreadingCost]


class OfDevice(Sent):
    """Which device."""

    id: str = Field(max_length=40)


class AlternativesReply(Sent):
    """What a relay or a fuse may be made as, side by side."""

    model_config = REPLY
    version: int
    ways: list[Alternative]


class OfBranch(Sent):
    """Which branch."""

    id: str = Field(max_length=40)


class CrossSectionReply(Sent):
    """A branch cut across, as packed; empty where its wires are too many to lay out."""

    model_config = REPLY
    version: int
    circles: list[Circle]


class FamiliesReply(Sent):
    """The harness in other wire families, side by side."""

    model_config = REPLY
    version: int
    families: list[FamilyCost]


class FutureReply(Sent):
    """What the conductors for a future need come to."""

    model_config = REPLY
    version: int
    future: FutureCost


class HeadroomReply(Sent):
    """How many amperes more until something must change."""

    model_config = REPLY
    version: int
    rows: list[Headroom]
