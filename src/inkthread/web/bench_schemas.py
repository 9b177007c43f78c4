"""What the bench is asked and answers, as sent."""

from __future__ import annotations

from pydantic import ConfigDict, Field

from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.sent import Sent


class BenchFieldItem(Sent):
    """One thing a calculator asks for."""

    model_config = REPLY
    name: str
    label: str
    kind: str
    example: str
    required: bool
    choices: list[str]
    default: str
    help: str


class CalculatorItem(Sent):
    """A quick calculator."""

    model_config = REPLY
    name: str
    label: str
    asks: str
    puts: bool
    fields: list[BenchFieldItem]


class BenchReply(Sent):
    """The bench's calculators."""

    model_config = REPLY
    calculators: list[CalculatorItem]


class BenchBody(Sent):
    """What was typed for a calculator, by field."""

    model_config = ConfigDict(extra="forbid")
    fields: dict[str, str] = Field(default_factory=dict, max_length=40)


class BenchPath(Sent):
    """Which calculator."""

    calculator: str = Field(max_length=20)


class BenchLineItem(Sent):
    """One line of an answer."""

    model_config = REPLY
    label: str
    value: str
    note: str


class BenchAnswerReply(Sent):
    """What a calculator answers."""

    model_config = REPLY
    sentence: str
    holds: bool
    lines: list[BenchLineItem]
    sources: list[str]


class BenchPutPath(DesignPath):
    """Which calculator, into which harness."""

    calculator: str = Field(max_length=20)
