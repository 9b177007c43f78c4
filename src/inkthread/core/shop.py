"""The shop: what outlives one design. Tools owned and how they are, nests proven here."""

from __future__ import annotations

from dataclasses import field
from typing import Literal

from inkthread.core.record import record

GaugeResult = Literal["not gauged", "passed", "failed"]
ToolStatus = Literal["certified", "gauged", "unverified", "worn"]


@record
class OwnedTool:
    """A tool that is in the shop."""

    code: str
    certified: bool = False
    gauged_on: str = ""
    result: GaugeResult = "not gauged"
    note: str = ""
    borrowed: bool = False
    """It is another's, and there for the job."""

    def gauged_years_ago(self, today: str) -> float | None:
        """Years since it was gauged, or None where either day is not known."""
        if not (self.gauged_on and today):
            return None
        (year, month, day), (then, in_month, on) = (
            [int(number) for number in text.split("-")] for text in (today, self.gauged_on)
        )
        return (year - then) + (month - in_month) / 12 + (day - on) / 365

    @property
    def status(self) -> ToolStatus:
        """Certified, gauged and good, worn by its gauge, or not known."""
        if self.result == "failed":
            return "worn"
        if self.certified:
            return "certified"
        return "gauged" if self.result == "passed" else "unverified"


@record
class ProvenNest:
    """A nest that was proven here for a contact on a wire: it goes before the contact's own data."""

    contact: str
    wire: str
    """Family and gauge: ``J1128-TXL 20 AWG``."""
    tool: str
    nest: str
    depth: str = ""
    note: str = ""


@record
class Spool:
    """Wire or cable on a spool, or a remnant of it: how much is left, and where it lies."""

    id: str
    code: str
    """Family and gauge, as it is sold."""
    colour: str
    """Of single wire; empty for cable."""
    length_mm: float
    remnant: bool = False
    place: str = ""

    @property
    def holds(self) -> str:
        """What is on it: code and colour."""
        return f"{self.code} {self.colour}".strip()


@record
class Shop:
    """Tools by code, and nests proven by (contact, wire)."""

    tools: dict[str, OwnedTool] = field(default_factory=dict)
    proven: dict[tuple[str, str], ProvenNest] = field(default_factory=dict)
    today: str = ""
    """The day it is, as told from outside: how long ago a tool was gauged hangs on it."""


EMPTY_SHOP = Shop()
