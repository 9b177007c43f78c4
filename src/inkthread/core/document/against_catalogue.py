"""A valid document may still name parts, ways or cavities that do not exist: refused here."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.load import DocumentError, Problem, pointer
from inkthread.core.document.types import Document


def require_known_parts(document: Document, catalogue: Catalogue) -> None:
    """Raise DocumentError for an unknown part code, rule, number of ways, or cavity."""
    problems: list[Problem] = []

    def unknown(path: list[object], what: str, value: object, known: Iterable[object]) -> None:
        names = ", ".join(str(k) for k in known)
        problems.append(
            Problem(pointer(path), f"There is no {what} {str(value)[:60]!r}.", f"Choose one of: {names}.")
        )

    if document.wire.family is not None and document.wire.family not in catalogue.wires:
        unknown(["wire", "family"], "wire family", document.wire.family, catalogue.wires)
    for rule, own in document.brief.house_rules.items():
        known = catalogue.rules.get(rule)
        if known is None:
            unknown(["brief", "house_rules", rule], "house rule", rule, catalogue.rules)
        elif not known.least <= own.value <= known.most:
            problems.append(
                Problem(
                    pointer(["brief", "house_rules", rule, "value"]),
                    f"{known.label}: {own.value:g} {known.unit}".strip() + " makes no sense.",
                    f"Give {known.least:g} to {known.most:g} {known.unit}".strip() + ".",
                )
            )
    for key, fixed in document.wire.fixed.items():
        if fixed.colour is not None:
            for code in fixed.colour.split("/"):
                if code not in catalogue.colours:
                    unknown(["wire", "fixed", key, "colour"], "colour", code, catalogue.colours)
    for connector_id, connector in document.ends.connectors.items():
        base: list[object] = ["ends", "connectors", connector_id]
        family = catalogue.connectors.get(connector.family)
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
    for ref, entry in document.ends.pinout.items():
        connector = document.ends.connectors[entry.connector]
        family = catalogue.connectors.get(connector.family)
        housing = family.housing(connector.ways) if family else None
        if housing is not None and entry.cavity not in housing.face.cavities:
            problems.append(
                Problem(
                    pointer(["ends", "pinout", ref, "cavity"]),
                    f"{entry.connector} has {connector.ways} ways; there is no cavity {entry.cavity!r}.",
                    "Give it more ways, or move the wire to another connector.",
                )
            )
    if problems:
        raise DocumentError(problems[:20])
