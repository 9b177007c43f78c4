"""Reading a design document: shape first, then that its references hold."""

from __future__ import annotations

import json
import re
from functools import cache
from typing import Any, cast

from pydantic import TypeAdapter, ValidationError

from inkthread.core.document.newest import newest_form
from inkthread.core.document.problems import DocumentError, Problem, pointer, shown
from inkthread.core.document.references import check_references
from inkthread.core.document.types import FORMAT, FORMAT_NUMBER, Document
from inkthread.core.quantity import UNIT_SYMBOLS

MAX_DOCUMENT_BYTES = 8_000_000
MOST_SHOWN = 1e300
"""Numbers beyond this are said to be this."""


@cache
def reader() -> TypeAdapter[Document]:
    """Reads and writes documents. Made when first needed: it takes a fifth of a second."""
    return TypeAdapter(Document)


_REMEDIES = {
    "string_unicode": "Take the half character out.",
    "extra_forbidden": "Remove it; the document has no such field here.",
    "missing": "Add it.",
    "string_too_long": "Shorten it.",
    "finite_number": "Give a real number; NaN and infinity are refused.",
    "literal_error": "Choose one of the values listed.",
    "greater_than": "Give a larger number.",
    "greater_than_equal": "Give a number that is not smaller than this.",
    "less_than_equal": "Give a smaller number; check the unit.",
}


_BOUNDS = {
    "less_than_equal": ("le", "at most"),
    "less_than": ("lt", "less than"),
    "greater_than_equal": ("ge", "at least"),
    "greater_than": ("gt", "more than"),
}


def _out_of_bounds(field: str, kind: str, value: float, bounds: dict[str, Any]) -> str:
    """``Length is 10000000 mm; it may be at most 200000 mm.``"""
    words, _, unit = field.rpartition("_")
    unit = UNIT_SYMBOLS.get(unit if words else field, "")
    name = (words if unit and words else field).replace("_", " ")
    key, says = _BOUNDS[kind]
    limit = float(bounds[key])
    return (
        f"{name.capitalize()} is {value:.12g} {unit}".rstrip()
        + f"; it may be {says} {limit:.12g} {unit}".rstrip()
        + "."
    )


def _problem(error: Any) -> Problem:
    kind: str = error["type"]
    parts = [p for p in error["loc"] if p != "[key]"]
    message = str(error["msg"])
    if kind == "extra_forbidden":
        message = f"Unknown field {shown(parts[-1])}."
    elif kind in _BOUNDS and parts and isinstance(error["input"], (int, float)):
        value = float(min(max(error["input"], -MOST_SHOWN), MOST_SHOWN))
        message = _out_of_bounds(str(parts[-1]), kind, value, error["ctx"])
    elif kind != "missing":
        message = f"{message.removeprefix('Value error, ')}, not {shown(error['input'])}."
    else:
        message = "This field is missing."
    return Problem(pointer(parts), message, _REMEDIES.get(kind, "Correct the value."))


def parse_document(data: object) -> Document:
    """Validate plain data (as from JSON) as a design document.

    Raises ``DocumentError`` naming every field at fault.
    """
    if not isinstance(data, dict):
        raise DocumentError(
            [Problem("", "A design document is a JSON object.", "Open a file made by this program.")]
        )
    named = data.get("format")
    if named != FORMAT:
        raise DocumentError(
            [
                Problem(
                    "/format",
                    f"This is not a design document (format is {shown(named)}).",
                    f"Choose a file whose format is {FORMAT!r}.",
                )
            ]
        )
    number = data.get("format_number")
    if number != FORMAT_NUMBER or isinstance(number, bool):
        raise DocumentError(
            [
                Problem(
                    "/format_number",
                    f"Format number {shown(number)} is not known here.",
                    f"This program reads format number {FORMAT_NUMBER}.",
                )
            ]
        )
    try:
        document = reader().validate_python(data)
    except ValidationError as error:
        raise DocumentError([_problem(e) for e in error.errors()[:20]]) from None
    problems = check_references(document)
    if problems:
        raise DocumentError(problems[:20])
    return document


MOST_NESTED = 64
"""How deep a value may be nested; a document is nested eight deep."""
_ESCAPED_SURROGATE = re.compile(rb"\\u[dD][89a-fA-F]")


def _not_readable(
    message: str, remedy: str = "Open a file made by this program.", path: str = ""
) -> DocumentError:
    return DocumentError([Problem(path, message, remedy)])


def _refuse_constant(text: str) -> float:
    raise _not_readable(f"{text} is not a number.", "Give a real number; NaN and infinity are refused.")


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    entries = dict(pairs)
    if len(entries) < len(pairs):
        names = [k for k, _ in pairs]
        twice = next(k for k in names if names.count(k) > 1)
        raise _not_readable(
            f"{twice[:60]!r} is there twice.", "Give every field once.", pointer([twice[:60]])
        )
    return entries


def read_json(text: str | bytes) -> Any:
    """What JSON text says, read strictly: the one reader of files and of what is sent.

    Raises DocumentError for what is no JSON, a field that is there twice, a number that is none, a
    character that is none, and for nesting beyond ``MOST_NESTED``.
    """
    try:
        data = text.encode("utf-8") if isinstance(text, str) else text
        value = json.loads(
            data.removeprefix(b"\xef\xbb\xbf"), parse_constant=_refuse_constant, object_pairs_hook=_once
        )
        if _ESCAPED_SURROGATE.search(data):
            json.dumps(value, ensure_ascii=False).encode("utf-8")
    except RecursionError:
        raise _not_readable("The JSON is nested too deeply.") from None
    except json.JSONDecodeError as error:
        raise _not_readable(f"This is not JSON at line {error.lineno}.") from None
    except UnicodeEncodeError:
        raise _not_readable("There is half a character in it (a lone surrogate).", "Take it out.") from None
    except UnicodeDecodeError:
        raise _not_readable("This is not JSON: it is not UTF-8 text.") from None
    except DocumentError:
        raise
    except ValueError:
        raise _not_readable("A number in it has thousands of digits.", "Give a real number.") from None
    _shallow(value)
    return value


def _shallow(value: Any) -> None:
    level = [value]
    for _ in range(MOST_NESTED):
        level = (
            [
                v
                for node in level
                for v in (node.values() if isinstance(node, dict) else node)
                if isinstance(v, (dict, list))
            ]
            if level and isinstance(level[0], (dict, list))
            else []
        )
        if not level:
            return
    raise _not_readable("The JSON is nested too deeply.")


def parse_document_text(text: str | bytes) -> Document:
    """Read a design document from JSON text, of any format number so far. Raises ``DocumentError``."""
    if len(text) > MAX_DOCUMENT_BYTES:
        raise _not_readable("The file is larger than 8 MB.", "Split the harness, or check the file.")
    return parse_document(newest_form(read_json(text)))


def dump_document(document: Document) -> dict[str, Any]:
    """The document as plain data, ready for JSON."""
    return cast(dict[str, Any], reader().dump_python(document, mode="json"))


def document_json_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the design document."""
    schema = reader().json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Ink Thread design document",
        **schema,
    }
