"""Typed text in a patch: read by the core as a quantity, by the unit the field's name ends in."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.document import DocumentError, Problem
from inkthread.core.measures import METRIC, Measures
from inkthread.core.quantity import QuantityError, parse_for_field

_NUMERIC = re.compile(
    r".*_(mm|mm2|g|a|v|c|s|min|m|percent|mohm|ah|mv|w_per_m2|mohm_per_m|g_per_m|per_m|deg)"
    r"|percent|price|quantity|ways|order|peak_repeats|strands"
)
_WHOLE = ("quantity", "ways", "peak_repeats", "strands")


def read_typed(operations: list[dict[str, Any]], units: Measures = METRIC) -> list[dict[str, Any]]:
    """Operations with typed text at numeric fields replaced by numbers.

    Raises DocumentError with the path of the first text that is not understood.
    """
    return [
        {**op, "value": _read(str(op["path"]), op["value"], units)} if "value" in op else op
        for op in operations
    ]


def _read(path: str, value: Any, units: Measures) -> Any:
    field = path.rpartition("/")[2]
    if isinstance(value, dict):
        return {k: _read(f"{path}/{k}", v, units) for k, v in value.items()}
    if not isinstance(value, str):
        return value
    if "/house_rules/" in path and field == "value":
        kind = path.split("/house_rules/")[1].partition("/")[0]
    elif _NUMERIC.fullmatch(field):
        kind = field
    else:
        return value
    try:
        number = round(parse_for_field(kind, value, units), 9)
    except QuantityError as error:
        raise DocumentError([Problem(path, str(error), "What you typed is kept: correct it.")]) from None
    if kind in _WHOLE and not path.startswith("/parts/"):
        if number != int(number):
            raise DocumentError([Problem(path, f"{value!r} is not a whole number.", "Type a whole number.")])
        return int(number)
    return number
