"""The bill of materials: everything to buy, with what comes along shown as included."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from inkthread.core.catalogue import Accessory, Catalogue, ConnectorFamily, FuseHolder, Part, WireFamily
from inkthread.core.circuits import CircuitsResult, FuseFacts
from inkthread.core.context import Context
from inkthread.core.cut import CutResult
from inkthread.core.document.types import Document
from inkthread.core.ends import EndsResult, ToolNeed, tools_needed
from inkthread.core.findings import FindingBook, Place
from inkthread.core.wire import WireResult
from inkthread.core.wire.cables import core_sizes
from inkthread.core.words import in_words, list_in_words

Group = Literal[
    "wire",
    "contact",
    "seal",
    "plug",
    "lock",
    "housing",
    "terminal",
    "splice",
    "block",
    "fuse",
    "cover",
    "accessory",
]


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class PartsResult:
    """Lines, mass of one harness in g, cost of all of them."""

    lines: tuple[BillLine, ...]
    mass_each_g: float
    cost_total: float
    tools: tuple[ToolNeed, ...]
    tooling_total: float
    """What the tools that are not owned cost."""


_ORDER: tuple[Group, ...] = (
    "wire",
    "housing",
    "lock",
    "contact",
    "terminal",
    "seal",
    "plug",
    "accessory",
    "splice",
    "cover",
    "block",
    "fuse",
)


@dataclass(slots=True)
class _Line:
    group: Group
    code: str
    description: str
    colour: str
    unit: Literal["m", "pcs"]
    mass_g: float
    price: float
    included: bool
    quantity: float
    places: list[str]


def _holder(document: Document, catalogue: Catalogue, fuse: FuseFacts) -> FuseHolder | None:
    """What a fuse sits in, where its wires do not end in a block for fuses; breakers need none."""
    paths = document.circuits.devices[fuse.device].paths.values()
    if fuse.kind != "fuse" or sum(x.kind == "fuse" for x in paths) > 1:
        return None  # several fuses are a block or a row, and that is the device itself
    for pin in document.circuits.devices[fuse.device].pins:
        entry = document.ends.pinout.get(f"{fuse.device}.{pin}")
        if entry is not None:
            family = catalogue.connectors[document.ends.connectors[entry.connector].family]
            if family.group == "fuse and relay":
                return None
    return next((h for h in catalogue.holders if fuse.rating_a <= h.up_to_a), None)


def _cores(count: int) -> str:
    return f"{in_words(count)} cores" if count > 1 else "one core"


def _gauges(family: WireFamily, gauge: str) -> str:
    """The gauge of all cores before their count; of unequal cores their name says it."""
    return "" if family.core_gauges else f"{gauge}, "


def _keyed(family: ConnectorFamily, key: str) -> str:
    """What is ordered besides a housing's code: its key, which some families have as their colour."""
    if not key or len(family.keyings) < 2:
        return "colour not said" if family.meets_its_like and len(family.keyings) > 1 else ""
    return key if family.meets_its_like else f"key {key}"


_STUD_G, _STUD_PRICE = 12.0, 1.2
"""Of a block, for each of its studs (invented, typical of its kind)."""
_HEAVIEST, _PLACES = 3, 12
"""How many of the heaviest lines, and of the places a part is used at, are told."""


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
    context: Context, circuits: CircuitsResult, wire: WireResult, ends: EndsResult, cut: CutResult
) -> PartsResult:
    """Count every part of the harness, times the quantity in the brief."""
    document, catalogue, shop = context.document, context.catalogue, context.shop
    lines: dict[tuple[str, str, str], _Line] = {}

    def put(
        group: Group,
        code: str,
        description: str,
        mass_g: float,
        price: float,
        quantity: float,
        place: str,
        *,
        colour: str = "",
        unit: Literal["m", "pcs"] = "pcs",
        included: bool = False,
    ) -> None:
        line = lines.get((group, code, colour))
        if line is None:
            line = _Line(group, code, description, colour, unit, mass_g, price, included, 0.0, [])
            lines[group, code, colour] = line
        line.quantity += quantity
        if (
            len(line.places) < 13
            and (not line.places or line.places[-1] != place)
            and place not in line.places
        ):
            line.places.append(place)

    def put_part(group: Group, part: Part, place: str, colour: str = "") -> None:
        put(
            group, part.code, part.description, part.mass_g, part.price, 1, place, colour=colour,
            included=part.included,
        )  # fmt: skip

    for cable in cut.cables:
        size = wire.size(cable.wires[0])
        family = wire.families[wire.wires[cable.wires[0]].family]
        sizes = core_sizes(family, size, cable.cores)
        put(
            "wire",
            cable.part,
            f"{family.name}, {_gauges(family, size.gauge)}{_cores(cable.cores)}",
            sum(s.mass_g_per_m for s in sizes),
            sum(s.price_per_m for s in sizes),
            cable.cut_mm / 1000,
            cable.id,
            colour=f"{cable.cores} cores",
            unit="m",
        )
    for piece in cut.cuts:
        if piece.cable:
            continue
        size = wire.size(piece.wire)
        family = wire.families[wire.wires[piece.wire].family]
        put(
            "wire",
            piece.part,
            f"{family.name}, {size.gauge}",
            size.mass_g_per_m,
            size.price_per_m,
            piece.cut_mm / 1000,
            piece.label,
            colour=piece.colour,
            unit="m",
        )
    for connector in ends.connectors.values():
        connector_family = catalogue.connectors[connector.family]
        housing = connector_family.housing(connector.ways)
        assert housing is not None
        if connector.shell in housing.shells:
            keyed = _keyed(connector_family, document.ends.connectors[connector.id].key)
            put_part("housing", housing.shells[connector.shell], connector.id, keyed)
        if connector.shell in housing.locks:
            put_part("lock", housing.locks[connector.shell], connector.id)
        for accessory in ends.accessories.get(connector.id, ()):
            put(
                "accessory",
                accessory.code,
                accessory.description,
                accessory.mass_g,
                accessory.price,
                1,
                connector.id,
                included=accessory.included,
            )
        for cavity in connector.cavities:
            if cavity.plug is not None and connector_family.plug is not None:
                put_part("plug", connector_family.plug, connector.id)
            if cavity.wire is None or cavity.pin is None or cavity.shared:
                continue
            contact = ends.contacts.get((cavity.pin, cavity.wire))
            if contact is not None:
                group: Group = "terminal" if connector_family.loose else "contact"
                put(group, contact.code, contact.description, contact.mass_g, contact.price, 1, connector.id)
            seal = ends.seals.get((cavity.pin, cavity.wire))
            if seal is not None:
                put(
                    "seal",
                    seal.code,
                    seal.description,
                    seal.mass_g,
                    seal.price,
                    1,
                    connector.id,
                    included=seal.included,
                )
    for comb, many, branch in _separators(document, catalogue):
        put("accessory", comb.code, comb.description, comb.mass_g, comb.price, many, branch)
    for splice_id, splice in ends.splices.items():
        size_used = ends.splice_sizes[splice_id]
        put(
            "splice",
            size_used.code,
            size_used.description,
            size_used.mass_g,
            size_used.price,
            1,
            splice.point,
        )
        cover = ends.joints[splice_id].cover
        if cover is not None:
            put("cover", cover.code, cover.description, cover.mass_g, cover.price, 1, splice.point)
    for block_id, studs in ends.blocks.items():
        put(
            "block",
            f"GB-{studs}",
            f"Ground or bus block, {studs} studs",
            _STUD_G * studs,
            _STUD_PRICE * studs,
            1,
            block_id,
        )
    for fuse in circuits.fuses.values():
        part = fuse.part
        if part is not None:
            put("fuse", part.code, part.description, part.mass_g, part.price, 1, fuse.device)
        else:
            name = f"Fuse {fuse.rating_a:g} A, not held here"
            put("fuse", f"F-{fuse.rating_a:g}A", name, 0, 0, 1, fuse.device)
        holder = _holder(document, catalogue, fuse)
        if holder is not None:
            put("fuse", holder.code, holder.description, holder.mass_g, holder.price, 1, fuse.device)

    quantity = document.brief.quantity
    rows: list[BillLine] = []
    for line in lines.values():
        count = round(line.quantity * quantity, 4)
        places = ", ".join(line.places[:_PLACES]) + (" ..." if len(line.places) > _PLACES else "")
        rows.append(
            BillLine(
                line.group,
                line.code,
                line.description,
                line.colour,
                count,
                line.unit,
                round(line.quantity * line.mass_g * quantity, 3),
                0.0 if line.included else round(count * line.price, 2),
                line.included,
                places,
            )
        )
    tools = tools_needed(catalogue, wire, ends.contacts, ends.crimps, ends.splice_sizes, shop)
    rows.sort(key=lambda r: (_ORDER.index(r.group), r.code, r.colour))
    return PartsResult(
        tuple(rows),
        round(sum(r.mass_g for r in rows) / quantity, 2),
        round(sum(r.cost for r in rows), 2),
        tools,
        round(sum(t.price for t in tools if not t.owned), 2),
    )


def find_in_bill(document: Document, parts: PartsResult, book: FindingBook) -> None:
    """A harness heavier than it may be."""
    budget = document.brief.mass_budget_g
    if budget is None or parts.mass_each_g <= budget:
        return
    heaviest = sorted(parts.lines, key=lambda line: -line.mass_g)[:_HEAVIEST]
    each = document.brief.quantity
    book.add(
        "over-mass-budget",
        Place("parts", "harness", "harness"),
        mass=f"{parts.mass_each_g:.0f} g",
        budget=f"{budget:.0f} g",
        over=f"{parts.mass_each_g - budget:.0f} g",
        heaviest=list_in_words(
            [f"{x.code} {x.colour} {x.mass_g / each:.0f} g".replace("  ", " ") for x in heaviest]
        ),
    )
