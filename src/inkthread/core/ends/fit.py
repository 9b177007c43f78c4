"""Which contact and seal hold a wire, with which tool, and what does not where none does."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from inkthread.core.catalogue import ConnectorFamily, Contact, Seal, WireSize
from inkthread.core.quantity import format_area
from inkthread.core.shop import Shop

WireEnd = tuple[str, str]
"""One end of a wire: device pin and wire. A contact belongs to it, never to the pin alone."""

Fit = tuple[Contact | None, bool, Seal | None, bool]
"""Contact and seal, each with whether it holds the wire."""


def contact_miss(contact: Contact, area_mm2: float, od_mm: float) -> float:
    """How far a wire is outside a contact's ranges: 1 or below where it fits."""
    return max(
        contact.conductor_min_mm2 / area_mm2,
        area_mm2 / contact.conductor_max_mm2,
        contact.insulation_min_mm / od_mm,
        od_mm / contact.insulation_max_mm,
    )


def choose_contact(
    family: ConnectorFamily,
    gender: str,
    stud: str | None,
    size: WireSize,
    fixed: str | None = None,
    owned: Collection[str] = (),
) -> tuple[Contact | None, bool]:
    """The contact for a wire, and whether its conductor and insulation ranges hold it.

    Of those that fit, one whose tool is owned, then the narrowest, then the first of the family's
    data; where none fits, the one that misses by least.
    """
    options = family.contacts_for(gender, stud or family.usual_stud, fixed)
    if not options:
        return None, False
    fitting = [c for c in options if contact_miss(c, size.area_mm2, size.od_mm) <= 1]
    if fitting:

        def rank(c: Contact) -> tuple[bool, float]:
            row = c.tool_row(size.area_mm2)
            lacks = bool(owned) and (row is None or row.tool not in owned)
            return lacks, round(c.conductor_max_mm2 / max(c.conductor_min_mm2, 1e-6), 3)

        return min(fitting, key=rank), True
    return min(options, key=lambda c: contact_miss(c, size.area_mm2, size.od_mm)), False


def choose_seal(family: ConnectorFamily, size: WireSize) -> tuple[Seal | None, bool]:
    """The seal whose window holds least and largest diameter, or the one that misses by least."""
    if not family.seals:
        return None, True

    def miss(s: Seal) -> float:
        return max(s.od_min_mm / size.od_min_mm, size.od_max_mm / s.od_max_mm)

    best = min(family.seals, key=miss)
    return best, miss(best) <= 1


@dataclass(frozen=True, slots=True)
class Crimp:
    """The tool for a contact on a wire, and how it is set."""

    tool: str
    nest: str
    depth: str
    owned: bool
    proven: str
    """The note of whoever proved it here; empty where it is the contact's own data."""
    source: str


def crimp_of(contact: Contact, wire: str, area_mm2: float, shop: Shop) -> Crimp | None:
    """How a contact is put on a wire (``family gauge``): as proven here, else as its data says."""
    proven = shop.proven.get((contact.code, wire))
    if proven is not None:
        return Crimp(
            proven.tool,
            proven.nest,
            proven.depth,
            proven.tool in shop.tools,
            proven.note or "proven here",
            "proven here",
        )
    row = contact.tool_row(area_mm2)
    if row is None:
        return None
    return Crimp(row.tool, row.nest, row.depth, row.tool in shop.tools, "", row.source)


@dataclass(frozen=True, slots=True)
class Misfit:
    """What does not hold at a cavity: the check and its words. Cavities with the same share a finding."""

    code: str
    words: tuple[tuple[str, str], ...]


def misfits(
    family: ConnectorFamily,
    wire_family: str,
    size: WireSize,
    fit: Fit,
) -> list[Misfit]:
    """Which of conductor, crimp wings and seal do not hold the wire."""
    contact, contact_fits, seal, seal_fits = fit
    words = f"{size.gauge} {wire_family}"
    found: list[Misfit] = []
    if not contact_fits:
        if contact is None or not contact.conductor_min_mm2 <= size.area_mm2 <= contact.conductor_max_mm2:
            low = min((c.conductor_min_mm2 for c in family.contacts), default=0.0)
            high = max((c.conductor_max_mm2 for c in family.contacts), default=0.0)
            found.append(
                Misfit(
                    "conductor-outside-contact",
                    (
                        ("gauge", words),
                        ("area", format_area(size.area_mm2)),
                        ("window", f"{low:g} to {high:g} mm²"),
                    ),
                )
            )
        else:
            window = (contact.insulation_min_mm, contact.insulation_max_mm)
            found.append(_insulation(words, "crimp wings", window, (size.od_mm, size.od_mm)))
    if seal is not None and not seal_fits:
        window = (min(s.od_min_mm for s in family.seals), max(s.od_max_mm for s in family.seals))
        at_seal = _insulation(words, "seals", window, (size.od_min_mm, size.od_max_mm))
        # Too thick for the wings and for the seal is one thing to mend, not two.
        if at_seal.code not in {m.code for m in found}:
            found.append(at_seal)
    return found


def _insulation(wire: str, part: str, window: tuple[float, float], od_mm: tuple[float, float]) -> Misfit:
    least_od, most_od = od_mm
    thin = window[0] / least_od > most_od / window[1]
    return Misfit(
        "insulation-too-thin" if thin else "insulation-too-thick",
        (
            ("wire", wire),
            ("od", f"{least_od if thin else most_od:.2f} mm"),
            ("part", part),
            ("window", f"{window[0]:.2f} to {window[1]:.2f} mm"),
        ),
    )


DOUBLED_SLACK = 0.16
"""A sixth, of the copper that a list of doubled wires names (house rule)."""


def holds_together(contact: Contact, areas_mm2: list[float]) -> bool:
    """Whether a contact's list has this combination of wires under one barrel.

    Each wire may be a sixth off the listed copper: a gauge is not one area in every family. A barrel that
    takes so many of any kind must hold all their copper; lugs on a stud have a barrel each.
    """
    wanted = sorted(areas_mm2)
    for listed in contact.doubled:
        if len(listed) == len(wanted) and all(
            abs(a - b) <= DOUBLED_SLACK * b for a, b in zip(wanted, sorted(listed), strict=True)
        ):
            return True
    if not 1 < len(wanted) <= contact.most_wires:
        return False
    return contact.stud is not None or contact.conductor_min_mm2 <= sum(wanted) <= contact.conductor_max_mm2


def together_in_words(contact: Contact) -> str:
    """Which wires a contact may hold together, in words."""
    pairs = [" with ".join(f"{a:.2f}" for a in row) + " mm²" for row in contact.doubled]
    return "; ".join(pairs) or "one wire only"
