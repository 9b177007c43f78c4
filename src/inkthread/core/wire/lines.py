"""Typed statements of the wire room: ``family AS22759/32``, ``fix C1:M1.+ 20 AWG, colour RD because ...``."""

from __future__ import annotations

from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.draft import Draft, LineError, next_order
from inkthread.core.quantity import QuantityError, parse_gauge
from inkthread.core.typed.grammar import TypedError, parse_line

COLOURED = ("supply", "output", "ground", "signal", "sensor_return", "data", "drain", "ignition")
"""Roles that have colours."""


def wire_statement(draft: Draft, catalogue: Catalogue, text: str) -> None:
    """What is chosen of wire for the whole harness, or fixed for one wire. Raises LineError."""
    if text.split(maxsplit=1)[0].lower() == "fix":
        _fixed(draft, catalogue, text)
        return
    tree = parse_line("wire", text)
    value = str(tree.children[-1])
    if tree.data == "wire_family":
        draft.put(_family(draft, catalogue, tree.children[-1]), "wire", "family")
    elif tree.data == "wire_also":
        also = draft.at("wire", "also")
        draft.put({"order": next_order(also)}, "wire", "also", _family(draft, catalogue, tree.children[-1]))
    elif tree.data == "wire_objective":
        draft.put(" ".join(value.lower().split()), "wire", "objective")
    elif tree.data == "wire_scheme":
        draft.put(value, "wire", "scheme")
    else:
        whose, *colours = (str(t) for t in tree.children)
        named = " ".join(whose.strip('"').lower().split())
        collection = "circuit_colours" if whose.startswith('"') else "role_colours"
        if collection == "role_colours" and named not in COLOURED:
            token: Any = tree.children[0]
            raise TypedError(
                f"{whose!r} is no role. Roles are {', '.join(COLOURED)}; words of a circuit's name stand in "
                f'quotes: colours "{whose}": {" ".join(colours)}.',
                int(token.start_pos or 0),
                int(token.end_pos or 0),
            )
        if not named:
            raise LineError("Say which circuits: words of their name, in quotes.")
        known = draft.at("wire", collection)
        order = known[named]["order"] if named in known else next_order(known)
        draft.put(
            {"order": order, "colours": " ".join(c.upper() for c in colours)}, "wire", collection, named
        )


def _family(draft: Draft, catalogue: Catalogue, token: Any) -> str:
    code = str(token)
    if code not in catalogue.wires and code not in draft.at("wire", "own_families"):
        raise TypedError(
            f"There is no wire family {code!r}. Known are {', '.join(catalogue.wires)}.",
            int(token.start_pos or 0),
            int(token.end_pos or 0),
        )
    return code


def _fixed(draft: Draft, catalogue: Catalogue, text: str) -> None:
    tree = parse_line("fixed", text)
    fixed = draft.at("wire", "fixed")
    entry: dict[str, Any] = {
        "order": next_order(fixed),
        "reason": "",
        "gauge": None,
        "colour": None,
        "family": None,
    }
    for part in tree.children[1:]:
        rule = getattr(part, "data", "")
        if not rule or not part.children:  # type: ignore[union-attr]
            continue
        token: Any = part.children[-1]  # type: ignore[union-attr]
        if rule == "gauge":
            try:
                entry["gauge"] = parse_gauge(str(token)).name
            except QuantityError as error:
                raise LineError(str(error)) from None
        elif rule == "because":
            entry["reason"] = str(token)
        elif rule == "family":
            entry["family"] = _family(draft, catalogue, token)
        else:
            entry["colour"] = str(token).upper()
    draft.put(entry, "wire", "fixed", str(tree.children[0]))
