"""Which contact and seal hold a wire, with which tool, and what does not where none does."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from inkthread.core.catalogue import ConnectorFamily, Contact, Seal, WireSize
from inkthread.core.measures import format_area, told_apart
from inkthread.core.physics.conductor import TRADE_AWG, awg_area_mm2, awg_name
from inkthread.core.record import record
from inkthread.core.shop import Shop
from inkthread.core.tolerances import HOLDS, NO_MM2

WireEnd = tuple[str, str]
"""One end of a wire: device pin and wire. A contact belongs to it, never to the pin alone."""

Fit = tuple[Contact | None, bool, Seal | None, bool]
"""Contact and seal, each with whether it holds the wire."""


BY_TOOL, MACHINED, STAMPED = 1, 2, 3
"""What the house rule on the kind of contact means."""


class ContactRule(NamedTuple):
    """How contacts are chosen: by which rule, with which tools at hand, at what price the others."""

    prefer: int = BY_TOOL
    at_hand: frozenset[str] = frozenset()
    """Tools that are owned, or that this harness needs in any case."""
    prices: tuple[tuple[str, float], ...] = ()
    """Of tools that are to be bought."""

    def rank(self, contact: Contact, area_mm2: float) -> tuple[bool, bool, float, float]:
        """The lower, the sooner it is chosen: by its kind, its tool at hand, what that costs, how narrow."""
        row = contact.tool_row(area_mm2)
        lacks = row is None or row.tool not in self.at_hand
        price = 0.0
        if lacks and row is not None:
            price = next((p for tool, p in self.prices if tool == row.tool), 0.0)
        wanted = {MACHINED: contact.kind == "machined", STAMPED: contact.kind != "machined"}
        width = round(contact.conductor_max_mm2 / max(contact.conductor_min_mm2, NO_MM2), 3)
        return not wanted.get(self.prefer, True), lacks and bool(self.at_hand), price, width


def choose_contact(
    family: ConnectorFamily,
    gender: str,
    stud: str | None,
    size: WireSize,
    fixed: str | None = None,
    rule: ContactRule | None = None,
) -> tuple[Contact | None, bool]:
    """The contact for a wire, and whether its conductor and insulation ranges hold it.

    Of those that fit, the one that the rule (else the narrowest) ranks first, then the first of the family's
    data; where none fits, the one that misses by least.
    """
    rule = rule or ContactRule()
    options = family.contacts_for(gender, stud or family.usual_stud, fixed)
    if not options:
        return None, False
    fitting = [c for c in options if c.worst_miss(size) <= 1]
    if fitting:
        return min(fitting, key=lambda c: rule.rank(c, size.area_mm2)), True
    return min(options, key=lambda c: c.worst_miss(size)), False


def choose_seal(family: ConnectorFamily, size: WireSize) -> tuple[Seal | None, bool]:
    """The seal whose window holds least and largest diameter, or the one that misses by least."""
    if not family.seals:
        return None, True
    best = min(family.seals, key=lambda s: s.miss(size).worst)
    return best, best.miss(size).worst <= 1


def ranges_in_words(contacts: Iterable[Contact], like: WireSize) -> str:
    """The conductors that contacts take, range by range with the gaps between, in the gauge of a wire.

    ``22 to 18 AWG or 14 to 12 AWG`` for a wire by AWG, ``0.2 to 0.5 or 1.25 to 2.5 mm²`` for another.
    """
    joined: list[tuple[float, float]] = []
    for low, high in sorted({(c.conductor_min_mm2, c.conductor_max_mm2) for c in contacts}):
        if joined and low <= joined[-1][1] * HOLDS:
            joined[-1] = (joined[-1][0], max(high, joined[-1][1]))
        else:
            joined.append((low, high))
    if like.awg is not None:
        named = [
            [n for n in TRADE_AWG if low * 0.97 <= awg_area_mm2(n) <= high * 1.03] for low, high in joined
        ]
        if all(named):
            each = [
                awg_name(n[0]) if len(n) == 1 else f"{awg_name(n[0])} to {awg_name(n[-1])}" for n in named
            ]
            return " or ".join(each) + " AWG"
    return " or ".join(f"{low:.3g} to {high:.3g}" for low, high in joined) + " mm²"


@record
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


@record
class Misfit:
    """What does not hold at a cavity: the check and its words. Cavities with the same share a finding."""

    code: str
    words: tuple[tuple[str, str], ...]


def misfits(
    family: ConnectorFamily,
    wire_family: str,
    size: WireSize,
    fit: Fit,
    options: tuple[Contact, ...],
) -> list[Misfit]:
    """Which of conductor, crimp wings and seal do not hold the wire; ``options`` are what may be fitted."""
    contact, contact_fits, seal, seal_fits = fit
    words = f"{size.gauge} {wire_family}"
    misfit: list[Misfit] = []
    if not contact_fits:
        if contact is None or contact.conductor_miss(size.area_mm2).worst > 1:
            misfit.append(
                Misfit(
                    "conductor-outside-contact",
                    (
                        ("gauge", words),
                        ("area", format_area(size.area_mm2)),
                        ("window", ranges_in_words(options, size)),
                    ),
                )
            )
        else:
            window = (contact.insulation_min_mm, contact.insulation_max_mm)
            misfit.append(_insulation(words, "crimp wings", window, (size.od_mm, size.od_mm)))
    if seal is not None and not seal_fits:
        window = (min(s.od_min_mm for s in family.seals), max(s.od_max_mm for s in family.seals))
        at_seal = _insulation(words, "seals", window, (size.od_min_mm, size.od_max_mm))
        # Too thick for the wings and for the seal is one thing to mend, not two.
        if at_seal.code not in {m.code for m in misfit}:
            misfit.append(at_seal)
    return misfit


def _insulation(wire: str, part: str, window: tuple[float, float], od_mm: tuple[float, float]) -> Misfit:
    least_od, most_od = od_mm
    thin = window[0] / least_od > most_od / window[1]
    return Misfit(
        "insulation-too-thin" if thin else "insulation-too-thick",
        (
            ("wire", wire),
            ("od", f"{told_apart(*((least_od, window[0]) if thin else (most_od, window[1])), 2)} mm"),
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
    return contact.stud is not None or contact.conductor_miss(sum(wanted)).worst <= 1


def together_in_words(contact: Contact) -> str:
    """Which wires a contact may hold together, in words."""
    pairs = [" with ".join(f"{a:.2f}" for a in row) + " mm²" for row in contact.doubled]
    return "; ".join(pairs) or "one wire only"
