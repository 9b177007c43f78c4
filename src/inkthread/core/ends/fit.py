"""Which contact and seal hold a wire, and what does not where none does."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.catalogue import ConnectorFamily, Contact, Seal, WireSize
from inkthread.core.quantity import format_area
from inkthread.core.wire import Wire

Fit = tuple[Contact | None, bool, Seal | None, bool]
"""Contact and seal, each with whether it holds the wire."""


def choose_contact(
    family: ConnectorFamily, gender: str, stud: str | None, size: WireSize
) -> tuple[Contact | None, bool]:
    """The contact for a wire, and whether its conductor and insulation ranges hold it.

    The narrowest that fits; where none does, the one that misses by least.
    """
    stud = stud or (family.studs[0] if family.studs else None)
    options = [
        c
        for c in family.contacts
        if (family.loose or c.gender == gender) and (c.stud is None or c.stud == stud)
    ]
    if not options:
        return None, False

    def miss(c: Contact) -> float:
        return max(
            c.conductor_min_mm2 / size.area_mm2,
            size.area_mm2 / c.conductor_max_mm2,
            c.insulation_min_mm / size.od_mm,
            size.od_mm / c.insulation_max_mm,
        )

    fitting = [c for c in options if miss(c) <= 1]
    if fitting:
        return min(fitting, key=lambda c: c.conductor_max_mm2 / c.conductor_min_mm2), True
    return min(options, key=miss), False


def choose_seal(family: ConnectorFamily, size: WireSize) -> tuple[Seal | None, bool]:
    """The seal whose window holds least and largest diameter, or the one that misses by least."""
    if not family.seals:
        return None, True

    def miss(s: Seal) -> float:
        return max(s.od_min_mm / size.od_min_mm, size.od_max_mm / s.od_max_mm)

    best = min(family.seals, key=miss)
    return best, miss(best) <= 1


@dataclass(frozen=True, slots=True)
class Misfit:
    """What does not hold at a cavity: the check and its words. Cavities with the same share a finding."""

    code: str
    words: tuple[tuple[str, str], ...]


def misfits(
    family: ConnectorFamily,
    made: Wire,
    size: WireSize,
    fit: Fit,
) -> list[Misfit]:
    """Which of conductor, crimp wings and seal do not hold the wire."""
    contact, contact_fits, seal, seal_fits = fit
    words = f"{made.gauge} {made.family}"
    found: list[Misfit] = []
    if not contact_fits:
        if contact is None or not contact.conductor_min_mm2 <= size.area_mm2 <= contact.conductor_max_mm2:
            low = min(c.conductor_min_mm2 for c in family.contacts)
            high = max(c.conductor_max_mm2 for c in family.contacts)
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
