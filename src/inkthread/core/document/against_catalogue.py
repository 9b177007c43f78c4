"""A valid document may still name parts, ways or cavities that do not exist: refused here."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.catalogue import Catalogue, ConnectorFamily
from inkthread.core.catalogue.names import what_is
from inkthread.core.document.choices import Connector
from inkthread.core.document.only import only, same_parts
from inkthread.core.document.problems import DocumentError, Problem, pointer
from inkthread.core.document.types import Document
from inkthread.core.quantity import QuantityError, parse_gauge

_Path = list[object]
_TOLD = 20


_NAMING = (
    "wire", "ends", "dress", "circuits.circuits", "circuits.groups", "circuits.buses",
)  # fmt: skip
"""With the brief, all that names parts, colours or rules."""


def require_known_parts(
    document: Document, catalogue: Catalogue, before: Document | None = None, *, from_elsewhere: bool = False
) -> None:
    """Raise DocumentError for an unknown part code, rule, number of ways, or cavity.

    What the document ``before`` the edit named too is let through: it was held then, and a finding says
    now that it has gone. So are, in a file ``from_elsewhere``, parts that its shop may have of its own.
    """
    if before is not None and same_parts(only(document, *_NAMING), only(before, *_NAMING)):
        return  # whatever it names, the one before named it too
    problems = _own_parts(document, catalogue) if not from_elsewhere else []
    problems += _shipped(document, catalogue)
    if problems and before is not None:
        known = {p.message for p in (*_own_parts(before, catalogue), *_shipped(before, catalogue))}
        problems = [p for p in problems if p.message not in known]
    if problems:
        raise DocumentError(problems[:_TOLD])


def _own_parts(document: Document, catalogue: Catalogue) -> list[Problem]:
    """Wire families, connector families, their ways and contacts: a shop may have its own."""
    return [
        *_wire_families(document, catalogue),
        *_families(document, catalogue),
        *_pins(document, catalogue),
    ]


def _shipped(document: Document, catalogue: Catalogue) -> list[Problem]:
    """Standards, colours and rules, and halves that their family is not made in."""
    problems = [
        *_colours_and_rules(document, catalogue),
        *_coverings(document, catalogue),
        *_fixed_gauges(document, catalogue),
    ]
    for connector_id, connector in document.ends.connectors.items():
        family = catalogue.connectors.get(connector.family)
        if family is not None and family.housing(connector.ways) is not None:
            problems += _half(catalogue, ["ends", "connectors", connector_id], connector, family)
    return problems


def _fixed_gauges(document: Document, catalogue: Catalogue) -> list[Problem]:
    """What is no gauge at all. One that the family is not made in is a finding, not refused."""
    gauges = {size.gauge for family in catalogue.wires.values() for size in family.sizes}
    gauges |= {size.gauge for own in document.wire.own_families.values() for size in own.sizes.values()}
    problems: list[Problem] = []
    for key, fixed in document.wire.fixed.items():
        if fixed.gauge is None or fixed.gauge in gauges:
            continue
        try:
            parse_gauge(fixed.gauge)
        except QuantityError as error:
            at = pointer(["wire", "fixed", key, "gauge"])
            problems.append(Problem(at, str(error), "Write 18 AWG or 0.75 mm2; empty, the program chooses."))
    return problems


def _coverings(document: Document, catalogue: Catalogue) -> list[Problem]:
    """Covers and shrink tube that are fixed by their code."""
    coverings = catalogue.coverings
    tubes = [t.code for t in coverings.tubes()]
    covers = [s.code for s in coverings.sleeves] + [t.code for t in coverings.tapes] + tubes
    wished: list[tuple[_Path, str, str | None, list[str]]] = [
        (["dress", "covers", b, "part"], "cover", wish.part, covers)
        for b, wish in document.dress.covers.items()
    ]
    wished += [
        (["dress", "shrinks", at, "part"], "shrink tube", wish.part, tubes)
        for at, wish in document.dress.shrinks.items()
    ]
    return [
        _unknown(catalogue, path, what, part, known)
        for path, what, part, known in wished
        if part is not None and part not in known
    ]


def _unknown(catalogue: Catalogue, path: _Path, what: str, value: object, known: Iterable[object]) -> Problem:
    names = ", ".join(str(k) for k in known)
    # A size in the place of a code, a family in the place of a contact: said, so that it is found.
    other = what_is(catalogue, str(value)[:60])
    return Problem(
        pointer(path),
        f"There is no {what} {str(value)[:60]!r}." + (f" {other}" if other else ""),
        f"Choose one of: {names}.",
    )


def _wire_families(document: Document, catalogue: Catalogue) -> list[Problem]:
    own = document.wire.own_families
    families = {**catalogue.wires, **own}
    named: list[tuple[_Path, str | None]] = [(["wire", "family"], document.wire.family)]
    named += [(["wire", "also", code], code) for code in document.wire.also]
    named += [(["wire", "fixed", k, "family"], f.family) for k, f in document.wire.fixed.items()]
    named += [
        (["wire", "samples", k, "family"], sample.family) for k, sample in document.wire.samples.items()
    ]
    named += [
        (["circuits", "circuits", k, "family"], c.family) for k, c in document.circuits.circuits.items()
    ]
    named += [(["circuits", "groups", k, "family"], g.family) for k, g in document.circuits.groups.items()]
    return [
        _unknown(catalogue, path, "wire family with any size", code, families)
        for path, code in named
        if code is not None and (code not in families or (code in own and not own[code].sizes))
    ]


def _colours_and_rules(document: Document, catalogue: Catalogue) -> list[Problem]:
    problems: list[Problem] = []
    for bus_id, bus in document.circuits.buses.items():
        if bus.standard not in catalogue.buses:
            path: _Path = ["circuits", "buses", bus_id, "standard"]
            problems.append(_unknown(catalogue, path, "bus standard", bus.standard, catalogue.buses))
    scheme = document.wire.scheme
    if scheme is not None and scheme not in catalogue.colour_schemes:
        path = ["wire", "scheme"]
        problems.append(_unknown(catalogue, path, "colour scheme", scheme, catalogue.colour_schemes))
    coloured: list[tuple[_Path, str]] = [
        (["wire", "role_colours", role, "colours"], "/".join(role_colour.colours.split()))
        for role, role_colour in document.wire.role_colours.items()
    ]
    coloured += [
        (["wire", "circuit_colours", named, "colours"], "/".join(circuit_colour.colours.split()))
        for named, circuit_colour in document.wire.circuit_colours.items()
    ]
    coloured += [
        (["wire", "fixed", key, "colour"], f.colour) for key, f in document.wire.fixed.items() if f.colour
    ]
    for path, codes in coloured:
        for code in codes.split("/"):
            if code and code not in catalogue.colours:
                problems.append(_unknown(catalogue, path, "colour", code, catalogue.colours))
    for rule, house in document.brief.house_rules.items():
        known = catalogue.rules.get(rule)
        if known is None:
            path = ["brief", "house_rules", rule]
            problems.append(_unknown(catalogue, path, "house rule", rule, catalogue.rules))
        elif known.choices and known.choice(house.value) is None:
            views = ", ".join(f"{c.value:g} ({c.label})" for c in known.choices)
            problems.append(
                Problem(
                    pointer(["brief", "house_rules", rule, "value"]),
                    f"{known.label}: {house.value:g} is none of its choices.",
                    f"Choose {views}.",
                )
            )
        elif not known.least <= house.value <= known.most:
            problems.append(
                Problem(
                    pointer(["brief", "house_rules", rule, "value"]),
                    f"{known.label}: {house.value:g} {known.unit}".strip() + " makes no sense.",
                    f"Give {known.least:g} to {known.most:g} {known.unit}".strip() + ".",
                )
            )
    return problems


def _families(document: Document, catalogue: Catalogue) -> list[Problem]:
    problems: list[Problem] = []
    for connector_id, connector in document.ends.connectors.items():
        base: _Path = ["ends", "connectors", connector_id]
        family = catalogue.connectors.get(connector.family)
        if family is None:
            path = [*base, "family"]
            problems.append(
                _unknown(catalogue, path, "connector family", connector.family, catalogue.connectors)
            )
        elif family.housing(connector.ways) is None:
            ways = ", ".join(str(h.ways) for h in family.housings)
            message = f"{family.code} is not made with {connector.ways} ways."
            problems.append(Problem(pointer([*base, "ways"]), message, f"It is made with {ways}."))
    return problems


def _half(catalogue: Catalogue, base: _Path, connector: Connector, family: ConnectorFamily) -> list[Problem]:
    """A connector against its family: shell, stud, key."""
    problems: list[Problem] = []
    if (connector.shell == "none") != family.loose:
        shells = ("none",) if family.loose else ("plug", "receptacle")
        what = f"shell of {family.code} called"
        problems.append(_unknown(catalogue, [*base, "shell"], what, connector.shell, shells))
    if connector.stud is not None and connector.stud not in family.studs:
        studs = family.studs or ("none",)
        what = f"stud for {family.code} called"
        problems.append(_unknown(catalogue, [*base, "stud"], what, connector.stud, studs))
    if connector.key and family.keyings and connector.key not in family.keyings:
        what = f"key for {family.code} called"
        problems.append(_unknown(catalogue, [*base, "key"], what, connector.key, family.keyings))
    return problems


def _pins(document: Document, catalogue: Catalogue) -> list[Problem]:
    problems: list[Problem] = []
    for ref, entry in document.ends.pinout.items():
        connector = document.ends.connectors[entry.connector]
        family = catalogue.connectors.get(connector.family)
        housing = family.housing(connector.ways) if family else None
        if family is None or housing is None:
            continue
        if entry.contact is not None:
            known = [
                c.code
                for c in family.contacts_for(connector.contact_gender, connector.stud, with_leads_made=True)
            ]
            if entry.contact not in known:
                what = f"contact for this half of {family.code} called"
                path: _Path = ["ends", "pinout", ref, "contact"]
                problems.append(_unknown(catalogue, path, what, entry.contact, known))
        if entry.cavity not in housing.face.cavities:
            problems.append(
                Problem(
                    pointer(["ends", "pinout", ref, "cavity"]),
                    f"{entry.connector} has {connector.ways} ways; there is no cavity {entry.cavity!r}.",
                    "Give it more ways, or move the wire to another connector.",
                )
            )
    return problems
