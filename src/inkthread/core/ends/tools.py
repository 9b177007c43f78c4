"""Tools for the ends: what each needs, what is on record, what is owned and how it is."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.catalogue import Catalogue, Contact, SpliceSize
from inkthread.core.document.types import Document
from inkthread.core.ends.fit import Crimp, WireEnd
from inkthread.core.findings import FindingBook, Place
from inkthread.core.shop import Shop
from inkthread.core.wire import WireResult
from inkthread.core.words import list_in_words


@dataclass(frozen=True, slots=True)
class ToolNeed:
    """A tool that a harness needs: for what, whether it is owned, how it is, what it costs."""

    code: str
    description: str
    kind: str
    settings: tuple[str, ...]
    """Nests and depths that it is used with."""
    used_for: str
    owned: bool
    status: str
    price: float


def tools_needed(
    catalogue: Catalogue,
    contacts: dict[WireEnd, Contact],
    crimps: dict[WireEnd, Crimp],
    splices: dict[str, SpliceSize],
    shop: Shop,
) -> tuple[ToolNeed, ...]:
    """Every tool that the ends of a harness ask for, dies and extraction tools with them."""
    uses: dict[str, tuple[set[str], set[str]]] = {}

    def put(code: str, setting: str, what: str) -> None:
        settings, whats = uses.setdefault(code, (set(), set()))
        if setting and setting != "-":
            settings.add(setting)
        whats.add(what)

    for end, contact in contacts.items():
        crimp = crimps.get(end)
        if crimp is not None:
            setting = f"{crimp.nest}, {crimp.depth}" if crimp.depth else crimp.nest
            put(crimp.tool, setting, contact.code)
            die = f"D-{crimp.nest.removeprefix('die ')}"
            if crimp.nest.startswith("die ") and die in catalogue.tools:
                put(die, "", contact.code)
        if contact.extraction:
            put(contact.extraction, "", contact.code)
    for splice in splices.values():
        if splice.tool:
            put(splice.tool, splice.nest, splice.code)
    needs = []
    for code, (settings, whats) in uses.items():
        tool = catalogue.tools.get(code)
        owned = shop.tools.get(code)
        needs.append(
            ToolNeed(
                code,
                tool.description if tool else "not held here",
                tool.kind if tool else "crimper",
                tuple(sorted(settings)),
                list_in_words(sorted(whats)[:6]),
                owned is not None,
                owned.status if owned is not None else "to buy or borrow",
                tool.price if tool else 0.0,
            )
        )
    return tuple(sorted(needs, key=lambda n: (n.owned, n.kind, n.code)))


def find_in_tools(
    document: Document,
    catalogue: Catalogue,
    wire: WireResult,
    contacts: dict[WireEnd, Contact],
    crimps: dict[WireEnd, Crimp],
    shop: Shop,
    book: FindingBook,
) -> None:
    """Contacts with no tool on record, solid wire where it may not be, tools that are worn or not known."""
    missing: dict[tuple[str, str], list[str]] = {}
    solid: dict[str, list[str]] = {}
    used: dict[str, list[str]] = {}
    for (ref, key), contact in contacts.items():
        made = wire.wires[key]
        crimp = crimps.get((ref, key))
        fits = contact.conductor_miss(made.area_mm2).worst <= 1
        if crimp is None and fits and not contact.factory:
            missing.setdefault((contact.code, f"{made.family} {made.gauge}"), []).append(ref)
        elif crimp is not None:
            used.setdefault(crimp.tool, []).append(ref)
        if wire.size(key).solid and not contact.solid:
            solid.setdefault(contact.code, []).append(ref)
    for (contact_code, words), found in missing.items():
        refs = list(dict.fromkeys(found))
        book.add(
            "tool-not-on-record",
            *(Place("ends", "pin", r) for r in refs[:8]),
            contact=contact_code,
            wire=words,
            places=list_in_words(refs[:6]),
        )
    for contact_code, found in solid.items():
        refs = list(dict.fromkeys(found))
        book.add(
            "solid-in-crimp",
            *(Place("ends", "pin", r) for r in refs[:8]),
            contact=contact_code,
            places=list_in_words(refs[:6]),
        )
    for code, found in used.items():
        refs = list(dict.fromkeys(found))
        owned = shop.tools.get(code)
        if owned is None or owned.status in ("certified", "gauged"):
            continue
        tool = catalogue.tools.get(code)
        book.add(
            "tool-worn" if owned.status == "worn" else "tool-unverified",
            *(Place("ends", "pin", r) for r in refs[:8]),
            tool=f"{code}, {tool.description.lower()}" if tool else code,
            count=str(len(refs)),
            on=f" on {owned.gauged_on}" if owned.gauged_on else "",
        )


def nest_refused(
    catalogue: Catalogue, contact: str, wire: str, tool_code: str, nest: str
) -> tuple[str, str, str] | None:
    """Why a nest cannot be noted as proven for a contact on a wire (``family gauge``): which of ``tool``,
    ``nest``, ``contact`` and ``wire`` is wrong, what of it, and what would do. None where it can.
    """
    tool = catalogue.tools.get(tool_code)
    if tool is None:
        return "tool", f"There is no tool {tool_code!r}.", "Choose one that is held."
    if tool.nests and nest not in tool.nests:
        return "nest", f"{tool_code} has no nest {nest!r}.", f"Its nests are {', '.join(tool.nests)}."
    data = next((c for f in catalogue.connectors.values() for c in f.contacts if c.code == contact), None)
    if data is None:
        return "contact", f"There is no contact {contact!r}.", "Note it from the end it is on."
    code, _, gauge = wire.partition(" ")
    family = catalogue.wires.get(code)
    size = family.size(gauge) if family is not None else None
    if size is None:
        return "wire", f"There is no wire {wire!r}.", "Note it from the end it is on."
    if data.conductor_miss(size.area_mm2).worst > 1:
        takes = f"{data.conductor_min_mm2:g} to {data.conductor_max_mm2:g} mm²"
        return "wire", f"{contact} takes {takes}; {wire} has {size.area_mm2:.3g} mm².", "No nest mends that."
    if tool.takes_mm2 is not None and not tool.takes_mm2[0] <= size.area_mm2 <= tool.takes_mm2[1]:
        takes = f"{tool.takes_mm2[0]:g} to {tool.takes_mm2[1]:g} mm²"
        return (
            "tool",
            f"{tool_code} crimps {takes}; {wire} has {size.area_mm2:.3g} mm².",
            "Take another tool.",
        )
    return None
