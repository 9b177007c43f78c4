"""Types of what helps at the vice: pictures of right and wrong, questions that end in what to do."""

from __future__ import annotations

from dataclasses import field

from inkthread.core.catalogue.ends import DATA
from inkthread.core.record import record


@record
class CrimpPicture:
    """How an end looks that is right, or wrong in one way, and what is done then."""

    __pydantic_config__ = DATA
    id: str
    title: str
    words: str
    do: str


@record
class RescueStep:
    """A question, or where the questions end: what to do, and what to note (empty where nothing)."""

    __pydantic_config__ = DATA
    ask: str = ""
    yes: str = ""
    no: str = ""
    end: str = ""
    record: str = ""


@record
class RescuePath:
    """Questions from the first on, by name."""

    __pydantic_config__ = DATA
    title: str
    begin: str
    steps: dict[str, RescueStep]


@record
class JoiningMethod:
    """A way to join a wire to its contact: which contacts, how it is prepared, what speaks against it."""

    __pydantic_config__ = DATA
    joins: tuple[str, ...]
    """Kinds of contact."""
    prepare: str
    against: dict[str, str]
    """By what is so at the end: ``vibration``, ``flex``, ``hot``, ``wet``."""


@record
class Rescue:
    """Everything that helps where an end is not right. Wordings have places in braces."""

    __pydantic_config__ = DATA
    pictures: dict[str, tuple[CrimpPicture, ...]] = field(default_factory=dict)
    paths: dict[str, RescuePath] = field(default_factory=dict)
    apart: dict[str, str] = field(default_factory=dict)
    methods: dict[str, JoiningMethod] = field(default_factory=dict)
