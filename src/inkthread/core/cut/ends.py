"""What a wire's end asks of its length: strip, allowance, surplus, and how often it can be made again."""

from __future__ import annotations

import math
from typing import NamedTuple

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Contact
from inkthread.core.cut.lengths import folded_strip_mm
from inkthread.core.document.choices import CutEnd
from inkthread.core.document.types import Document
from inkthread.core.ends import Fittings
from inkthread.core.record import record
from inkthread.core.route import Section, SectionEnd, Threaded
from inkthread.core.tolerances import WHOLE

BLOCK_ALLOWANCE_MM = 25.0
BLOCK_STRIP_MM = 8.0
"""A wire at a block of studs: its ring terminal, and one more try (typical)."""
AS_SAID = CutEnd(0.0)
"""Of an end that nothing is said of: final, as its contact has it."""


@record
class EndCut:
    """One end of a piece. Lengths in mm."""

    allowance_mm: float | None
    """What it takes beyond the finished length; None where nothing says so."""
    strip_mm: float
    service_mm: float
    """Slack added to what lies there, so that it can be made again as often as is asked."""
    surplus_mm: float
    """Left longer until it is fitted."""
    trim_mm: float
    """Taken off this core beyond that, so that its insulation ends beside a folded neighbour's."""
    bare_mm: float
    """Copper that the contact finds: the strip, or half of one that is folded back."""
    remakes: int | None
    """How often it can be cut off and made again before its slack is gone; None where it is not asked."""
    left_long: str
    """Why it is left longer, or ``trimmed at fitting``; empty where it is final."""
    pin: str = ""
    """The device pin that it lands on; empty at a splice, a block or a cut-back end."""

    @property
    def takes_mm(self) -> float:
        """All of it."""
        return (self.allowance_mm or 0.0) + self.surplus_mm


def said_of(document: Document, ref: str, connector: str | None) -> CutEnd:
    """What the builder says of an end: of its pin, else of its connector, else nothing."""
    ends = document.cut.ends
    return ends.get(ref) or ends.get(connector or "") or AS_SAID


def surplus_mm(said: CutEnd, brief: BriefResult) -> float:
    """How much longer an end is left."""
    if said.surplus_mm is not None:
        return said.surplus_mm
    return brief.value("left_long_mm") if said.state == "trimmed at fitting" else 0.0


def slack_at_mm(document: Document, brief: BriefResult, section: Section, end: SectionEnd) -> float:
    """Slack that an end can draw on: its point's, and its own branch's."""
    point = document.route.points.get(end.point)
    slack = (point.slack_mm or 0.0) if point is not None else 0.0
    if not section.branches:
        return slack + brief.value("slack_per_branch_mm")
    first, last = section.branches[0], section.branches[-1]
    mine = first if end.point in _points(document, first) else last
    own = document.route.branches[mine].slack_mm
    return slack + (brief.value("slack_per_branch_mm") if own is None else own)


def _points(document: Document, branch_id: str) -> tuple[str, str]:
    branch = document.route.branches[branch_id]
    return branch.from_point, branch.to_point


class _AsFitted(NamedTuple):
    """Of an end all but its pin and what is trimmed beside a fold, as in ``EndCut``."""

    allowance_mm: float | None
    strip_mm: float
    service_mm: float
    surplus_mm: float
    bare_mm: float
    remakes: int | None
    left_long: str


class EndCutter:
    """Works out the ends of one harness's pieces."""

    def __init__(self, document: Document, brief: BriefResult, route: Threaded, ends: Fittings) -> None:
        self._document, self._brief, self._route, self._ends = document, brief, route, ends
        self._trims = self._trims_beside_folds()
        self._recut_mm, self._again = brief.value("recut_mm"), brief.value("reterminations")
        self._alike: dict[tuple[int, int, tuple[str, str, str]], _AsFitted] = {}
        """By what is said of an end, its contact, its point, and its wire's first branch and last."""

    def reads(self, key: str, end: SectionEnd) -> tuple[object, ...]:
        """All that an end's cut depends on beside what is stated of the route and of cutting."""
        if end.kind == "splice":
            return (self._ends.joints[end.id].part,)
        return (self._ends.contacts.get((end.id, key)), self._trims.get((end.id, key)))

    def cut(self, key: str, end: SectionEnd) -> EndCut:
        """One end of one wire."""
        if end.kind == "splice":
            size = self._ends.joints[end.id].part
            return EndCut(size.allowance_mm, size.strip_mm, 0.0, 0.0, 0.0, size.strip_mm, None, "")
        if end.kind == "block":
            return EndCut(BLOCK_ALLOWANCE_MM, BLOCK_STRIP_MM, 0.0, 0.0, 0.0, BLOCK_STRIP_MM, None, "")
        if end.kind == "open":
            return EndCut(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, None, "")
        return self._at_pin(key, end)

    def _at_pin(self, key: str, end: SectionEnd) -> EndCut:
        said = said_of(self._document, end.id, end.connector)
        contact = self._ends.contacts.get((end.id, key))
        branches = self._route.sections[key].branches
        lies = (end.point, branches[0], branches[-1]) if branches else (end.point, "", "")
        alike = id(said), id(contact), lies
        made_so = self._alike.get(alike)
        if made_so is None:
            made_so = self._alike[alike] = self._as_fitted(said, contact, key, end)
        allowance, strip, service, surplus, bare, remakes, left_long = made_so
        trim = self._trims.get((end.id, key), 0.0) if self._trims else 0.0
        return EndCut(allowance, strip, service, surplus, trim, bare, remakes, left_long, end.id)

    def _as_fitted(self, said: CutEnd, contact: Contact | None, key: str, end: SectionEnd) -> _AsFitted:
        made_here = contact is not None and not contact.factory
        strip = _strip_mm(said, contact)
        allowance = said.allowance_mm
        if allowance is None and contact is not None and (contact.factory or contact.allowance_mm > 0):
            allowance = contact.allowance_mm
        surplus = surplus_mm(said, self._brief)
        slack = slack_at_mm(self._document, self._brief, self._route.sections[key], end) + surplus
        each = strip + self._recut_mm
        service = self._service_mm(end, each, slack) if made_here else 0.0
        return _AsFitted(
            allowance,
            strip,
            service,
            surplus,
            folded_strip_mm(strip)[0] if said.fold else strip,
            (int((slack + service) / each + WHOLE) if each > 0 else 0) if made_here else None,
            (said.reason or said.state) if surplus else "",
        )

    def _service_mm(self, end: SectionEnd, each_mm: float, slack_mm: float) -> float:
        """What the house rule on re-terminations lacks; nothing where the builder states the slack."""
        point = self._document.route.points.get(end.point)
        if point is not None and point.slack_mm is not None:
            return 0.0
        return round(max(self._again * each_mm - slack_mm, 0.0), 2)

    def _trims_beside_folds(self) -> dict[tuple[str, str], float]:
        """By end: what is trimmed off a core because another of its connector's cores is folded back.

        Only where something is folded is anything looked for.
        """
        document = self._document
        folded = {
            entry.connector: ref
            for ref, entry in document.ends.pinout.items()
            if said_of(document, ref, None).fold
        }
        if not folded:
            return {}
        trims: dict[tuple[str, str], float] = {}
        for (ref, key), contact in self._ends.contacts.items():
            entry = document.ends.pinout.get(ref)
            first = folded.get(entry.connector) if entry is not None else None
            said = said_of(document, ref, None)
            if first is None or said.fold:
                continue
            trims[ref, key] = (
                said.trim_mm
                if said.trim_mm is not None
                else fold_takes_mm(document, first, self._ends, contact)
            )
        return trims


def fold_takes_mm(document: Document, ref: str, ends: Fittings, beside: Contact) -> float:
    """How much shorter a fold makes its core: as measured, else half its strip."""
    said = said_of(document, ref, None)
    if said.trim_mm is not None:
        return said.trim_mm
    contact = next((c for (r, _), c in ends.contacts.items() if r == ref), beside)
    return folded_strip_mm(_strip_mm(said, contact))[1]


def _strip_mm(said: CutEnd, contact: Contact | None) -> float:
    if said.strip_mm is not None:
        return said.strip_mm
    return contact.strip_mm if contact is not None else 0.0


def unsure_of_mm(document: Document, section: Section, unsure_by_branch: dict[str, float]) -> float:
    """What a route may be off by, either way: the root of the sum of its branches' squares.

    Of a branch that is passed in part, that share.
    """
    total, branches = 0.0, document.route.branches
    for branch_id, low, high in section.spans:
        length = branches[branch_id].length_mm
        share = (high - low) / length if length > 0 else 1.0
        total += (unsure_by_branch[branch_id] * share) ** 2
    return math.sqrt(total)
