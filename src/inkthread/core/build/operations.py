"""Every step of hand work that a harness takes, with what has to be done before it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from inkthread.core.catalogue.operations import OperationKind
from inkthread.core.context import Context
from inkthread.core.cut import CutResult
from inkthread.core.dress import DressResult
from inkthread.core.ends import EndsResult
from inkthread.core.measures import format_length
from inkthread.core.record import record
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult

TUGGED, SAMPLED, LOOKED_AT = 1, 2, 3
"""What the house rule on the evidence of crimps means."""


class Rooms(NamedTuple):
    """What the rooms before have worked out."""

    context: Context
    route: RouteResult
    wire: WireResult
    ends: EndsResult
    cut: CutResult
    dress: DressResult


@record
class Operation:
    """One step of hand work."""

    id: str
    """Its sort, and what it is done to: ``strip C1 at M1.+``."""
    work: str
    """Its sort, by the name that the words are held under."""
    kind: OperationKind
    place: str
    """The connector, splice, branch or point that it is about; empty where it is about a piece of wire."""
    wires: tuple[str, ...]
    end: str
    """The device pin at whose end it is done; empty where it is not one end's."""
    cavity: str
    parts: tuple[str, ...]
    tool: str
    setting: str
    """Nest and depth of a crimper, notch of a stripper, length of a strip: what is set once for a batch."""
    words: str
    look: str
    caution: str
    timed: str
    """Which standard minutes it takes."""
    times: float
    """How many times these."""
    minutes: float
    after: tuple[str, ...]
    """Ids of the steps that have to be done before."""
    stage: int
    card: str
    """What it is done with on one card."""


class Maker:
    """Makes operations of the catalogue's words, and keeps them in the order they are made."""

    def __init__(self, rooms: Rooms) -> None:
        self.rooms = rooms
        self.document = rooms.context.document
        self.catalogue = rooms.context.catalogue
        self.ready: dict[str, list[str]] = {}
        """By wire: the steps after which its ends can be made."""
        self.waits: dict[str, list[str]] = {}
        """By connector: what has to be over its bundle before it is filled."""
        self.shut: dict[str, str] = {}
        """By connector: the step after which it is done."""
        self.connectors_at: dict[str, list[str]] = {}
        """By point, those that wires end in."""
        for connector_id, end in rooms.ends.connectors.items():
            point = self.document.ends.connectors[connector_id].point
            if point is not None and any(c.wire is not None for c in end.cavities):
                self.connectors_at.setdefault(point, []).append(connector_id)
        self._lying: dict[str, list[str]] = {}
        for key, section in rooms.route.sections.items():
            for branch_id in section.branches:
                self._lying.setdefault(branch_id, []).append(key)
        catalogue, brief = rooms.context.catalogue, rooms.context.brief
        self.units = rooms.context.document.brief.measures
        self._works = catalogue.hand_works.operations
        self._minutes = catalogue.minutes
        self.tugged = int(brief.value("crimp_evidence")) == TUGGED
        """Whether every contact is tugged."""
        self._more: dict[str, str] = {}
        for rule, sorts in catalogue.hand_works.by_rule.items():
            value = str(int(brief.value(rule)))
            for work, texts in sorts.items():
                if value in texts:
                    self._more[work] = " ".join((self._more.get(work, ""), texts[value])).strip()
        self.made: dict[str, Operation] = {}
        self.labels = {key: wire.label for key, wire in rooms.wire.wires.items()}

    def length(self, mm: float) -> str:
        """A length in the builder's units."""
        return format_length(mm, self.units)

    def named(self, keys: Iterable[str]) -> str:
        """Wires by their labels, commas between."""
        return ", ".join(self.labels.get(k, k) for k in keys)

    def laid(self, branches: Iterable[str]) -> list[str]:
        """The steps after which all that lies in branches is there."""
        keys = dict.fromkeys(key for b in branches for key in self._lying.get(b, ()))
        return list(dict.fromkeys(step for key in keys for step in self.ready.get(key, ())))

    def put(
        self,
        work: str,
        of: str,
        *,
        after: Iterable[str] = (),
        place: str = "",
        wires: Sequence[str] = (),
        end: str = "",
        cavity: str = "",
        parts: Sequence[str] = (),
        tool: str = "",
        setting: str = "",
        times: float = 1.0,
        timed: str = "",
        card: str = "",
        **fills: str,
    ) -> str:
        """Make a step; returns its id. It takes so many times its standard minutes, or those of ``timed``."""
        sort = self._works[work]
        step = f"{work} {of}"
        fill = {
            "wire": self.labels.get(wires[0], wires[0]) if wires else "",
            "wires": self.named(wires) if len(wires) > 1 else "",
            "place": place,
            "cavity": cavity,
            "part": parts[0] if parts else "",
            "tool": ", ".join(t for t in (tool, setting) if t),
        } | fills
        look = sort.look.format(**fill) if "{" in sort.look else sort.look
        more = self._more.get(work)
        self.made[step] = Operation(
            step, work, sort.kind, place, tuple(wires), end, cavity, tuple(parts), tool, setting,
            sort.words.format(**fill), f"{look} {more}".strip() if more else look, sort.caution,
            timed or sort.timed, times, round(times * self._minutes[timed or sort.timed], 3),
            tuple(dict.fromkeys(after)), sort.stage, card or f"{sort.card} {of}",
        )  # fmt: skip
        return step
