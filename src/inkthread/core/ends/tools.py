"""Tools for the ends: what each needs, what is on record, what is owned and how it is."""

from __future__ import annotations

from inkthread.core.brief import served_as
from inkthread.core.catalogue import Catalogue, Contact, SpliceSize, Tool, WireFamily, WireSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.types import Document
from inkthread.core.ends.fit import Crimp, WireEnd
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.physics.conductor import awg_area_mm2
from inkthread.core.record import record
from inkthread.core.shop import EMPTY_SHOP, OwnedTool, Shop
from inkthread.core.wire import MadeWires
from inkthread.core.words import list_in_words


@record
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


STRIPPED = ""
"""What stands for the contact where a stripper's notch was proven for a wire."""


def strippers_for(
    catalogue: Catalogue, family: WireFamily, size: WireSize, shop: Shop = EMPTY_SHOP
) -> list[tuple[Tool, str]]:
    """Strippers that suit a wire's insulation and size, each with its notch: the one that was proven here
    before those that are owned.

    The notch is the one marked for the wire, or the next larger: a smaller one nicks strands. Thick
    insulation may want another: try it on a scrap.
    """
    suitable = _suitable(catalogue, family, size)
    ranked = sorted(
        suitable, key=lambda pair: (pair[0].code not in shop.tools, not pair[0].nests, pair[0].price)
    )
    proven = shop.proven.get((STRIPPED, f"{family.code} {size.gauge}"))
    tool = catalogue.tools.get(proven.tool) if proven is not None else None
    if proven is None or tool is None:
        return ranked
    notch = f"notch {proven.nest}" if proven.nest else ""
    return [(tool, notch), *(pair for pair in ranked if pair[0].code != tool.code)]


def _suitable(catalogue: Catalogue, family: WireFamily, size: WireSize) -> tuple[tuple[Tool, str], ...]:
    stuff = family.insulation.lower()
    able = [
        t
        for t in catalogue.tools.values()
        if t.kind == "stripper"
        and any(i.lower() in stuff for i in t.insulation)
        and t.takes_mm2 is not None
        and t.takes_mm2[0] <= size.area_mm2 <= t.takes_mm2[1]
        and (t.takes_mm is None or t.takes_mm[0] <= size.od_mm <= t.takes_mm[1])
    ]
    return tuple((t, _notch(t, size)) for t in able)


def _notch(tool: Tool, size: WireSize) -> str:
    marked = [n for n in tool.nests if n.isdigit() and awg_area_mm2(int(n)) >= size.area_mm2 * _NOTCH_SHARE]
    notch = min(marked, key=lambda n: awg_area_mm2(int(n)), default=tool.nests[-1] if tool.nests else "")
    return f"notch {notch}" if notch else ""


_NOTCH_SHARE = 0.75
"""A notch marked for an AWG size takes a named wire of up to a third more copper (common practice)."""


def tools_needed(
    catalogue: Catalogue,
    wire: MadeWires,
    contacts: dict[WireEnd, Contact],
    crimps: dict[WireEnd, Crimp],
    splices: dict[str, SpliceSize],
    shop: Shop,
) -> tuple[ToolNeed, ...]:
    """Every tool that the ends of a harness ask for: strippers with their notches, dies, extraction tools."""
    uses: dict[str, tuple[set[str], set[str]]] = {}

    def put(code: str, setting: str, what: str) -> None:
        settings, whats = uses.setdefault(code, (set(), set()))
        if setting and setting != "-":
            settings.add(setting)
        whats.add(what)

    # Of one kind there are many: each is asked once.
    kinds = {
        (id(contact), id(crimp)): (contact, crimp)
        for contact, crimp in zip(contacts.values(), map(crimps.get, contacts), strict=True)
    }
    for contact, crimp in kinds.values():
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
    stripped = {
        (wire.wires[k].family, wire.wires[k].gauge): k for (_, k), c in contacts.items() if not c.factory
    }
    for (code, gauge), key in stripped.items():
        for tool, notch in strippers_for(catalogue, wire.families[code], wire.size(key), shop)[:1]:
            put(tool.code, f"{notch} for {gauge}" if notch else "", f"{code} {gauge}")
    needs = []
    for code, (settings, whats) in uses.items():
        known = catalogue.tools.get(code)
        owned = shop.tools.get(code)
        needs.append(
            ToolNeed(
                code,
                known.description if known else "not held here",
                known.kind if known else "crimper",
                tuple(sorted(settings)),
                list_in_words(sorted(whats)[:6]),
                owned is not None,
                _stands(owned),
                known.price if known else 0.0,
            )
        )
    return tuple(sorted(needs, key=lambda n: (n.owned, n.kind, n.code)))


def _stands(tool: OwnedTool | None) -> str:
    """Whose a tool is and how it is, in words."""
    if tool is None:
        return "to buy or borrow"
    return f"borrowed, {tool.status}" if tool.borrowed else tool.status


def find_in_tools(
    context: Context,
    critical: tuple[str, ...],
    wire: MadeWires,
    contacts: dict[WireEnd, Contact],
    crimps: dict[WireEnd, Crimp],
    book: FindingBook,
) -> None:
    """Contacts with no tool on record, solid wire where it may not be, tools that are worn or not known."""
    catalogue, brief, shop = context.catalogue, context.brief, context.shop
    relied_on = frozenset(critical)
    _unstripped(catalogue, wire, contacts, book)
    missing: dict[tuple[str, str], list[str]] = {}
    solid: dict[str, list[str]] = {}
    used: dict[str, list[str]] = {}
    for (ref, key), contact in contacts.items():
        sized = wire.wires[key]
        crimp = crimps.get((ref, key))
        fits = contact.takes(sized.area_mm2)
        if crimp is None and fits and not contact.factory:
            missing.setdefault((contact.code, f"{sized.family} {sized.gauge}"), []).append(ref)
        elif crimp is not None:
            used.setdefault(crimp.tool, []).append(ref)
        if wire.size(key).solid and not contact.solid:
            solid.setdefault(contact.code, []).append(ref)
    for (contact_code, words), wires in missing.items():
        refs = list(dict.fromkeys(wires))
        book.add(
            "tool-not-on-record",
            *(Place("ends", "pin", r) for r in refs[:8]),
            contact=contact_code,
            wire=words,
            places=list_in_words(refs[:6]),
        )
    for contact_code, wires in solid.items():
        refs = list(dict.fromkeys(wires))
        book.add(
            "solid-in-crimp",
            *(Place("ends", "pin", r) for r in refs[:8]),
            contact=contact_code,
            places=list_in_words(refs[:6]),
        )
    for code, wires in used.items():
        refs = list(dict.fromkeys(wires))
        owned = shop.tools.get(code)
        if owned is None:
            continue
        check = _why_doubted(owned, shop.today, brief.value("tool_gauge_years"))
        if check is None:
            continue
        if check == "tool-unverified" and brief.value("unverified_tools") < 1:
            relied = [r for r in refs if r in relied_on]
            check, refs = ("tool-barred", relied) if relied else (check, refs)
        tool = catalogue.tools.get(code)
        book.add(
            check,
            *(Place("ends", "pin", r) for r in refs[:8]),
            tool=f"{code}, {tool.description.lower()}" if tool else code,
            count=str(len(refs)),
            on=phrase("day", gauged_on=owned.gauged_on) if owned.gauged_on else "",
            places=list_in_words(refs[:6]),
            years=f"{brief.value('tool_gauge_years'):g}",
        )


def _why_doubted(owned: OwnedTool, today: str, years: float) -> str | None:
    """The check that a tool of the shop sets off, or None where it is well."""
    if owned.status == "worn":
        return "tool-worn"
    if owned.status == "unverified":
        return "tool-unverified"
    if owned.status == "gauged":
        ago = owned.gauged_years_ago(today)
        if not owned.gauged_on:
            return "tool-undated"
        return "tool-gauged-long-ago" if ago is not None and ago > years else None
    return None


def critical_pins(document: Document, catalogue: Catalogue, circuits: CircuitsResult) -> set[str]:
    """Pins of circuits that one relies on: all under aviation, else those that feed a critical load."""
    circuits_drawn = document.circuits.circuits
    if document.brief.practice == "aviation":
        return {r for c in circuits_drawn.values() for r in c.ends}
    loads = document.circuits.loads
    return {
        r
        for loop in circuits.loops
        if (load := loads.get(loop.load)) is not None and served_as(document, catalogue, load) == "critical"
        for crossing in (*loop.feed, *loop.back)
        for r in circuits_drawn[crossing.circuit].ends
    }


def _unstripped(
    catalogue: Catalogue, wire: MadeWires, contacts: dict[WireEnd, Contact], book: FindingBook
) -> None:
    """Wire that no stripper held here suits."""
    told: set[tuple[str, str]] = set()
    for (ref, key), contact in contacts.items():
        sized = wire.wires[key]
        if contact.factory or (sized.family, sized.gauge) in told:
            continue
        told.add((sized.family, sized.gauge))
        family = wire.families[sized.family]
        if not strippers_for(catalogue, family, wire.size(key)):
            book.add(
                "stripper-not-known",
                Place("wire", "wire", key),
                Place("ends", "pin", ref),
                wire=f"{sized.family} {sized.gauge}",
                insulation=family.insulation,
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
