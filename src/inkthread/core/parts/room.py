"""The bill of materials: everything to buy, with what comes along shown as included."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from inkthread.core.catalogue import Accessory, Catalogue, Kit
from inkthread.core.circuits import CircuitsResult, FuseFacts
from inkthread.core.context import Context
from inkthread.core.cut import CutResult
from inkthread.core.document.types import Document
from inkthread.core.dress import DressResult
from inkthread.core.ends import EndsResult, Fittings, ToolNeed, tools_needed
from inkthread.core.parts.count import (
    PLACES_SHOWN,
    CountedLine,
    PartCount,
    count_consumables,
    count_cut,
    count_dress,
    count_ends,
    count_fuses,
    count_splices,
)
from inkthread.core.parts.groups import GROUPS, Group
from inkthread.core.parts.spares import Spares
from inkthread.core.record import record
from inkthread.core.wire import MadeWires, WireResult

NotSent = Annotated[float, Field(exclude=True)]
"""A figure that comes with what is to buy, and not with every edit."""


@record
class BillLine:
    """One line of the bill, for the whole quantity of harnesses."""

    group: Group
    code: str
    description: str
    colour: str
    quantity: float
    unit: Literal["m", "pcs"]
    mass_g: float
    cost: float
    included: bool
    """Comes with the housing; nothing to buy."""
    used_at: str
    spares: float = 0.0
    """Bought beside what is used: spares, and pieces to practise on."""
    bought: float | None = None
    """Fixed by the builder against that; None where it follows."""
    from_kit: NotSent = 0.0
    """Taken out of kits that the builder buys: not paid singly."""
    price_each: NotSent = 0.0
    """Of one piece or metre."""

    @property
    def key(self) -> str:
        """Code, and colour of wire: what the builder's choice is kept by."""
        return f"{self.code} {self.colour}".strip()

    @property
    def to_order(self) -> float:
        """All that is bought of it."""
        return self.quantity + self.spares if self.bought is None else self.bought


@record
class PartsResult:
    """Lines, mass of one harness in g, cost of all of them."""

    lines: tuple[BillLine, ...]
    mass_each_g: float
    cost_total: float
    tools: tuple[ToolNeed, ...]
    tooling_total: float
    """What the tools that are not owned cost."""


_SEPARATOR_EVERY_MM = 150.0
"""From one separator of ignition leads to the next (common practice, no source)."""


def _separators(document: Document, catalogue: Catalogue) -> list[tuple[Accessory, int, str]]:
    """Separators of every branch that keeps ignition leads apart: one at each end, and between."""
    part = next(
        (a for f in catalogue.connectors.values() for a in f.accessories if a.kind == "separator"), None
    )
    if part is None:
        return []
    return [
        (part, math.ceil(branch.length_mm / _SEPARATOR_EVERY_MM) + 1, branch_id)
        for branch_id, branch in document.route.branches.items()
        if branch.separators
    ]


def parts_room(
    context: Context,
    circuits: CircuitsResult,
    wire: WireResult,
    ends: EndsResult,
    dress: DressResult,
    cut: CutResult,
) -> PartsResult:
    """Count every part of the harness, times the quantity in the brief."""
    # A fuse is a part by its rating, whatever it carries and is called.
    fuses = context.memo.alike(
        "fuses", tuple(replace(f, load_a=0.0, name="") for f in circuits.fuses.values())
    )
    return context.memo.get(_work_out, context.only(*_READ), fuses, wire.made, ends.fittings, dress, cut)


_READ = ("ends", "parts", "route", "circuits.devices")


def _work_out(
    context: Context,
    fuses: tuple[FuseFacts, ...],
    wire: MadeWires,
    ends: Fittings,
    dress: DressResult,
    cut: CutResult,
) -> PartsResult:
    count = PartCount()
    count_cut(count, context.catalogue, wire, cut)
    count_ends(count, context, ends)
    for comb, many, branch in _separators(context.document, context.catalogue):
        count.put("accessory", comb, branch, many=many)
    count_splices(count, context.catalogue, ends)
    count_fuses(count, context.document, context.catalogue, fuses)
    count_dress(count, context, dress)
    count_consumables(count, context, ends)
    quantity = context.document.brief.quantity
    spare = Spares(context)
    kits = count_kits(context)
    rows = [_billed(line, quantity, spare, context.document, kits) for line in count.lines.values()]
    rows += [_kit_line(kit, many) for kit, many in kits]
    rows.sort(key=lambda r: (GROUPS.index(r.group), r.code, r.colour))
    tools = tools_needed(context.catalogue, wire, ends.contacts, ends.crimps, ends.splice_sizes, context.shop)
    return PartsResult(
        tuple(rows),
        round(sum(r.mass_g for r in rows) / quantity, 2),
        round(sum(r.cost for r in rows), 2),
        tools,
        round(sum(t.price for t in tools if not t.owned), 2),
    )


Kits = list[tuple[Kit, int]]


def count_kits(context: Context) -> Kits:
    """Kits that parts are taken out of, with how many of each. What has gone from the catalogue is not."""
    kits = context.catalogue.kits
    return [(kits[code], own.count) for code, own in context.document.parts.kits.items() if code in kits]


def _kit_line(kit: Kit, many: int) -> BillLine:
    return BillLine(
        "kit", kit.code, kit.description, "", many, "pcs", 0.0, round(many * kit.price, 2), False,
        "the parts below are taken out of it", price_each=kit.price,
    )  # fmt: skip


def _billed(line: CountedLine, quantity: int, spare: Spares, document: Document, kits: Kits) -> BillLine:
    many = round(line.quantity * quantity, 4)
    spares = 0.0 if line.included else spare.of(line.group, line.code, many)
    choice = document.parts.lines.get(f"{line.code} {line.colour}".strip())
    bought = None if choice is None else 0.0 if choice.left_out else choice.quantity
    order = many + spares if bought is None else bought
    out_of_kits = 0.0 if line.included else sum(many * kit.contents.get(line.code, 0) for kit, many in kits)
    out_of_kits = min(float(out_of_kits), order)
    places = ", ".join(line.places[:PLACES_SHOWN]) + (" ..." if len(line.places) > PLACES_SHOWN else "")
    return BillLine(
        line.group,
        line.code,
        line.description,
        line.colour,
        many,
        line.unit,
        round(line.quantity * line.mass_g * quantity, 3),
        0.0 if line.included else round((order - out_of_kits) * line.price, 2),
        line.included,
        places,
        spares,
        None if line.included else bought,
        out_of_kits,
        line.price,
    )
