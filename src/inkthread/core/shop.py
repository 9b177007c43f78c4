"""The shop: what outlives one design. Tools owned and how they are, nests proven here."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

GaugeResult = Literal["not gauged", "passed", "failed"]
ToolStatus = Literal["certified", "gauged", "unverified", "worn"]


@dataclass(frozen=True, slots=True)
class OwnedTool:
    """A tool that is in the shop."""

    code: str
    certified: bool = False
    gauged_on: str = ""
    result: GaugeResult = "not gauged"
    note: str = ""

    @property
    def status(self) -> ToolStatus:
        """Certified, gauged and good, worn by its gauge, or not known."""
        if self.result == "failed":
            return "worn"
        if self.certified:
            return "certified"
        return "gauged" if self.result == "passed" else "unverified"


@dataclass(frozen=True, slots=True)
class ProvenNest:
    """A nest that was proven here for a contact on a wire: it goes before the contact's own data."""

    contact: str
    wire: str
    """Family and gauge: ``J1128-TXL 20 AWG``."""
    tool: str
    nest: str
    depth: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class Shop:
    """Tools by code, and nests proven by (contact, wire)."""

    tools: dict[str, OwnedTool] = field(default_factory=dict)
    proven: dict[tuple[str, str], ProvenNest] = field(default_factory=dict)


EMPTY_SHOP = Shop()
