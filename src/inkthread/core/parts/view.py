"""What is shown of the bill, and how it opens."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.ends import ToolNeed
from inkthread.core.opening import Opening, many
from inkthread.core.parts.room import BillLine, PartsResult


@dataclass(frozen=True, slots=True)
class PartsView:
    """The bill of materials."""

    lines: tuple[BillLine, ...]
    tools: tuple[ToolNeed, ...]
    mass_each_g: float
    cost_total: float
    tooling_total: float
    """What the tools that are not owned cost."""


def parts_opening(words: dict[str, str], result: PartsResult, quantity: int, wires: int) -> Opening:
    """What is to buy, what it costs and weighs. A bill without wires is begun by nobody."""
    sentence = words["none"]
    if result.lines:
        sentence = words["bill"].format(
            lines=many(sum(not line.included for line in result.lines), "line"),
            harnesses=many(quantity, "harness", "harnesses"),
            cost=f"{result.cost_total:.2f}",
            grams=f"{result.mass_each_g:.0f}",
        )
    return Opening("full" if wires else "empty", len(result.lines), sentence)
