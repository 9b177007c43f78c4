"""A valid document may still name parts, ways or cavities that do not exist: refused here."""

from __future__ import annotations

from collections.abc import Container, Iterable

from inkthread.core.catalogue import Catalogue
from inkthread.core.catalogue.names import what_is
from inkthread.core.document.load import DocumentError, Problem, pointer
from inkthread.core.document.types import Document


def require_known_parts(
    document: Document, catalogue: Catalogue, may_be_gone: Container[tuple[str, object]] | None = ()
) -> None:
    """Raise DocumentError for an unknown part code, rule, number of ways, or cavity.

    A connector family with its ways, or a device pin with its cavity or its contact, in ``may_be_gone`` is
    let through: the document named it when it was held, and a finding says so now. Every one is let
    through where that is None.
    """
    problems: list[Problem] = []

    def unknown(path: list[object], what: str, value: object, known: Iterable[object]) -> None:
        names = ", ".join(str(k) for k in known)
        # A size in the place of a code, a family in the place of a contact: said, so that it is found.
        other = what_is(catalogue, str(value)[:60])
        problems.append(
            Problem(
                pointer(path),
                f"There is no {what} {str(value)[:60]!r}." + (f" {other}" if other else ""),
                f"Choose one of: {names}.",
            )
        )

    families = {**catalogue.wires, **document.wire.own_families}
    named: list[tuple[list[object], str | None]] = [(["wire", "family"], document.wire.family)]
    named += [(["wire", "also", code], code) for code in document.wire.also]
    named += [(["wire", "fixed", k, "family"], f.family) for k, f in document.wire.fixed.items()]
    named += [(["wire", "samples", k, "family"], x.family) for k, x in document.wire.samples.items()]
    named += [
        (["circuits", "circuits", k, "family"], c.family) for k, c in document.circuits.circuits.items()
    ]
    named += [(["circuits", "groups", k, "family"], g.family) for k, g in document.circuits.groups.items()]
    for path, code in named:
        own = document.wire.own_families.get(code or "")
        if code is not None and (code not in families or (own is not None and not own.sizes)):
            unknown(path, "wire family with any size", code, families)
    for bus_id, bus in document.circuits.buses.items():
        if bus.standard not in catalogue.buses:
            unknown(["circuits", "buses", bus_id, "standard"], "bus standard", bus.standard, catalogue.buses)
    if document.wire.scheme is not None and document.wire.scheme not in catalogue.colour_schemes:
        unknown(["wire", "scheme"], "colour scheme", document.wire.scheme, catalogue.colour_schemes)
    for role, list_of in document.wire.role_colours.items():
        for code in "/".join(list_of.colours.split()).split("/"):
            if code and code not in catalogue.colours:
                unknown(["wire", "role_colours", role, "colours"], "colour", code, catalogue.colours)
    for rule, house in document.brief.house_rules.items():
        known = catalogue.rules.get(rule)
        if known is None:
            unknown(["brief", "house_rules", rule], "house rule", rule, catalogue.rules)
        elif not known.least <= house.value <= known.most:
            problems.append(
                Problem(
                    pointer(["brief", "house_rules", rule, "value"]),
                    f"{known.label}: {house.value:g} {known.unit}".strip() + " makes no sense.",
                    f"Give {known.least:g} to {known.most:g} {known.unit}".strip() + ".",
                )
            )
    for key, fixed in document.wire.fixed.items():
        if fixed.colour is not None:
            for code in fixed.colour.split("/"):
                if code not in catalogue.colours:
                    unknown(["wire", "fixed", key, "colour"], "colour", code, catalogue.colours)
    gone: set[str] = set()
    for connector_id, connector in document.ends.connectors.items():
        base: list[object] = ["ends", "connectors", connector_id]
        family = catalogue.connectors.get(connector.family)
        if family is None or family.housing(connector.ways) is None:
            gone.add(connector_id)
            if may_be_gone is None or (connector.family, connector.ways) in may_be_gone:
                continue
        if family is None:
            unknown([*base, "family"], "connector family", connector.family, catalogue.connectors)
            continue
        if (connector.shell == "none") != family.loose:
            unknown(
                [*base, "shell"],
                f"shell of {family.code} called",
                connector.shell,
                ("none",) if family.loose else ("plug", "receptacle"),
            )
        if family.housing(connector.ways) is None:
            ways = ", ".join(str(h.ways) for h in family.housings)
            problems.append(
                Problem(
                    pointer([*base, "ways"]),
                    f"{family.code} is not made with {connector.ways} ways.",
                    f"It is made with {ways}.",
                )
            )
        if connector.stud is not None and connector.stud not in family.studs:
            unknown(
                [*base, "stud"], f"stud for {family.code} called", connector.stud, family.studs or ("none",)
            )
        if connector.key and family.keyings and connector.key not in family.keyings:
            unknown([*base, "key"], f"key for {family.code} called", connector.key, family.keyings)
    for ref, entry in document.ends.pinout.items():
        if entry.connector in gone:
            continue
        connector = document.ends.connectors[entry.connector]
        family = catalogue.connectors.get(connector.family)
        housing = family.housing(connector.ways) if family else None
        passed = may_be_gone is None or (ref, entry.contact) in may_be_gone
        if family is not None and entry.contact is not None and not passed:
            known_contacts = [c.code for c in family.contacts_for(connector.contact_gender, connector.stud)]
            if entry.contact not in known_contacts:
                unknown(
                    ["ends", "pinout", ref, "contact"],
                    f"contact for this half of {family.code} called",
                    entry.contact,
                    known_contacts,
                )
        passed = may_be_gone is None or (ref, entry.cavity) in may_be_gone
        if housing is not None and entry.cavity not in housing.face.cavities and not passed:
            problems.append(
                Problem(
                    pointer(["ends", "pinout", ref, "cavity"]),
                    f"{entry.connector} has {connector.ways} ways; there is no cavity {entry.cavity!r}.",
                    "Give it more ways, or move the wire to another connector.",
                )
            )
    if problems:
        raise DocumentError(problems[:20])
