"""What is shown of the bill, and how it opens."""

from __future__ import annotations

from inkthread.core.document.types import Brief
from inkthread.core.ends import ToolNeed
from inkthread.core.measures import format_mass, format_money
from inkthread.core.opening import Opening, many
from inkthread.core.parts.room import BillLine, PartsResult
from inkthread.core.record import record


@record
class PartsView:
    """The bill of materials."""

    lines: tuple[BillLine, ...]
    tools: tuple[ToolNeed, ...]
    mass_each_g: float
    cost_total: float
    tooling_total: float
    """What the tools that are not owned cost."""


def parts_opening(words: dict[str, str], result: PartsResult, brief: Brief, wires: int) -> Opening:
    """What is to buy, what it costs and weighs. A bill without wires is begun by nobody."""
    sentence = words["none"]
    bought = sum(not line.included for line in result.lines)
    if result.lines:
        sentence = words["bill"].format(
            lines=many(bought, "line"),
            harnesses=many(brief.quantity, "harness", "harnesses"),
            cost=format_money(result.cost_total, brief.currency, first=brief.currency_first),
            mass=format_mass(result.mass_each_g, brief.measures),
        )
    return Opening("full" if wires else "empty", bought, sentence)
