"""What the bench is asked and answers, as sent."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from inkthread.web.schemas import REPLY, DesignPath


class BenchFieldItem(BaseModel):
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


class CalculatorItem(BaseModel):
    """A quick calculator."""

    model_config = REPLY
    name: str
    label: str
    asks: str
    puts: bool
    fields: list[BenchFieldItem]


class BenchReply(BaseModel):
    """The bench's calculators."""

    model_config = REPLY
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

    model_config = REPLY
    label: str
    value: str
    note: str


class BenchAnswerReply(BaseModel):
    """What a calculator answers."""

    model_config = REPLY
    sentence: str
    holds: bool
    lines: list[BenchLineItem]
    sources: list[str]


class BenchPutPath(DesignPath):
    """Which calculator, into which harness."""

    calculator: str = Field(max_length=20)
