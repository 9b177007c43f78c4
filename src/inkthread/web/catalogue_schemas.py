"""The catalogue as it is sent to the screen."""

from __future__ import annotations

from pydantic import ConfigDict, Field

from inkthread.web.schemas import REPLY
from inkthread.web.sent import Sent


class FamilyItem(Sent):
    """A wire family to choose."""

    model_config = REPLY
    code: str
    name: str
    temperature_c: float
    construction: str
    cores: int
    burn_rated: bool
    gauges: list[str]


class AccessoryItem(Sent):
    """An accessory that belongs to a connector family."""

    model_config = REPLY
    code: str
    kind: str
    description: str
    required: bool
    included: bool
    ways: list[int]
    fan_out_mm: tuple[float, float] | None


class ConnectorItem(Sent):
    """A connector family to choose."""

    model_config = REPLY
    code: str
    name: str
    sealed: bool
    loose: bool
    ways: list[int]
    studs: list[str]
    temperature_c: float
    group: str
    genderless: bool
    meets_its_like: bool
    keyings: list[str]
    protection: str
    accessories: list[AccessoryItem]


class KindItem(Sent):
    """A kind of device: what a new one begins with."""

    model_config = REPLY
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


class NewKind(Sent):
    """A device to keep as a kind of the shop's own."""

    model_config = ConfigDict(extra="forbid")
    design_id: str = Field(max_length=32)
    device: str = Field(max_length=40)
    label: str = Field(max_length=200)
    words: str = Field(default="", max_length=400)


class KindPath(Sent):
    """Which kind."""

    kind_id: str = Field(max_length=40)


class ViewItem(Sent):
    """One view of a rule on which builders differ."""

    model_config = REPLY
    value: float
    label: str
    why: str


class RuleItem(Sent):
    """A house rule: what it is called, its effect, its source, and its views where it is a choice."""

    model_config = REPLY
    label: str
    unit: str
    why: str
    source: str
    choices: list[ViewItem]


class WordItem(Sent):
    """A word of the trade, what else it is called, the room where it is met, and what it means."""

    model_config = REPLY
    word: str
    also: list[str]
    room: str
    means: str


class GlossaryReply(Sent):
    """The words of the trade, and what each practice changes."""

    model_config = REPLY
    words: list[WordItem]
    practices: dict[str, str]


class CatalogueReply(Sent):
    """What can be chosen from."""

    model_config = REPLY
    version: str
    wires: list[FamilyItem]
    connectors: list[ConnectorItem]
    kinds: list[KindItem]
    practices: list[str]
    usual_supplies_v: dict[str, float]
    buses: list[str]
    schemes: list[str]
    colours: dict[str, str]
    colour_names: dict[str, str]
    colour_choices: list[str]
    fuse_ratings: list[float]
    rules: dict[str, RuleItem]
