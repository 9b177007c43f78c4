"""Parts of the builder's own: read from JSON or CSV, checked, refused whole with row and field.

Nothing is half taken: either every part of a file is good, or none is kept.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from inkthread.core.catalogue.check_family import PartProblem, check_family, check_window
from inkthread.core.catalogue.ends import ConnectorFamily, Contact, Seal, ToolRow
from inkthread.core.catalogue.joints import SpliceSize, Tool
from inkthread.core.catalogue.names import what_is
from inkthread.core.catalogue.types import Catalogue
from inkthread.core.catalogue.wires import WireFamily
from inkthread.core.table import Row, TableError, read_table, table_text

FORMAT = "inkthread-parts"
FORMAT_NUMBER = 2
COLUMNS = (
    "kind",
    "family",
    "code",
    "description",
    "gender",
    "conductor_min_mm2",
    "conductor_max_mm2",
    "insulation_min_mm",
    "insulation_max_mm",
    "strip_mm",
    "current_a",
    "tool",
    "nest",
    "mass_g",
    "price",
)
"""Columns of the table of contacts, seals and tools."""
MOST_BYTES = 4_000_000
_CODE = "A code is capital letters, digits, - . or /, at most 30."


class PartsError(ValueError):
    """A file of parts is refused."""

    def __init__(self, problems: list[PartProblem]) -> None:
        super().__init__("; ".join(f"{p.path}: {p.message} {p.remedy}".strip() for p in problems[:5]))
        self.problems = problems


@dataclass(slots=True)
class OwnParts:
    """Parts of the builder's own, by code."""

    connectors: dict[str, ConnectorFamily] = field(default_factory=dict)
    tools: dict[str, Tool] = field(default_factory=dict)
    splices: dict[str, SpliceSize] = field(default_factory=dict)
    wires: dict[str, WireFamily] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.connectors) + len(self.tools) + len(self.splices) + len(self.wires)


_KINDS = ("connectors", "tools", "splices", "wires")


@cache
def _adapters() -> dict[str, TypeAdapter[Any]]:
    """Reads and writes parts of each kind. Made when first needed."""
    return {
        "connectors": TypeAdapter(ConnectorFamily),
        "tools": TypeAdapter(Tool),
        "splices": TypeAdapter(SpliceSize),
        "wires": TypeAdapter(WireFamily),
    }


def with_own(shipped: Catalogue, own: OwnParts, stamp: str) -> Catalogue:
    """The shipped catalogue with the builder's own parts in it. ``stamp`` names their state."""
    if not len(own):
        return shipped
    splices = [s for s in shipped.splices if s.code not in own.splices]
    return replace(
        shipped,
        version=f"{shipped.version}{stamp}",
        connectors={**shipped.connectors, **own.connectors},
        tools={**shipped.tools, **own.tools},
        splices=tuple(sorted([*splices, *own.splices.values()], key=_by_kind)),
        wires={**shipped.wires, **own.wires},
    )


def _by_kind(s: SpliceSize) -> tuple[int, float]:
    return ("overlap", "butt", "sleeve").index(s.kind), s.area_min_mm2


def read_parts(catalogue: Catalogue, text: str | bytes, own: OwnParts | None = None) -> OwnParts:
    """Read a file of parts, JSON or CSV (told by its first character). Raises PartsError.

    ``catalogue`` has the parts already ``held`` in it: those may be given anew, shipped ones may not.
    """
    own = own or OwnParts()
    if len(text) > MOST_BYTES:
        raise PartsError([PartProblem("", "The file is larger than 4 MB.", "Split it.")])
    try:
        words = text.decode("utf-8-sig") if isinstance(text, bytes) else text.lstrip("\ufeff")
    except UnicodeDecodeError:
        raise PartsError([PartProblem("", "The file is not UTF-8 text.", "Save it as UTF-8.")]) from None
    if words.lstrip().startswith(("{", "[")):
        return _from_json(catalogue, words, own)
    return _from_csv(catalogue, words, own)


def _from_json(catalogue: Catalogue, text: str, own: OwnParts) -> OwnParts:
    twice: list[str] = []

    def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        read: dict[str, Any] = {}
        for key, value in pairs:
            if key in read:
                twice.append(key)
            read[key] = value
        return read

    def refuse(name: str) -> float:
        raise PartsError([PartProblem("", f"{name} is not a number.", "Give a real number.")])

    try:
        plain = json.loads(text, object_pairs_hook=once, parse_constant=refuse)
    except (json.JSONDecodeError, RecursionError) as error:
        line = f" at line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise PartsError([PartProblem("", f"This is not JSON{line}.", "Save it again as JSON.")]) from None
    if twice:
        raise PartsError(
            [
                PartProblem(f"/{key}", f"{key!r} is there twice.", "Give every way and field once.")
                for key in sorted(set(twice))
            ]
        )
    if not isinstance(plain, dict) or plain.get("format") != FORMAT:
        raise PartsError(
            [PartProblem("/format", "This is not a file of parts.", f"Its format must be {FORMAT!r}.")]
        )
    plain = _newest_form(plain)
    if plain.get("format_number") != FORMAT_NUMBER:
        raise PartsError(
            [
                PartProblem(
                    "/format_number",
                    f"Format number {plain.get('format_number')!r} is not known here.",
                    f"This program reads format number {FORMAT_NUMBER}.",
                )
            ]
        )
    return parts_from_plain(catalogue, plain, own)


def _newest_form(plain: dict[str, Any]) -> dict[str, Any]:
    """A file of an earlier format number in the newest form.

    1 to 2: what blanks an unused way is a family's ``cavity_plug``; it was its ``plug``.
    """
    number, families = plain.get("format_number"), plain.get("connectors")
    if number != 1 or isinstance(number, bool):
        return plain
    newer = {**plain, "format_number": FORMAT_NUMBER}
    if isinstance(families, list):
        newer["connectors"] = [
            {"cavity_plug" if k == "plug" else k: v for k, v in f.items()} if isinstance(f, dict) else f
            for f in families
        ]
    return newer


def parts_from_plain(catalogue: Catalogue, plain: Mapping[str, Any], kept: OwnParts) -> OwnParts:
    """Own parts from plain data, each checked. Raises PartsError."""
    own = OwnParts()
    problems: list[PartProblem] = []
    known = {"format", "format_number", *_KINDS}
    problems += [
        PartProblem(f"/{k}", f"Unknown field {k!r}.", f"Known: {', '.join(sorted(known))}.")
        for k in plain
        if k not in known
    ]
    for kind, adapter in _adapters().items():
        rows = plain.get(kind, [])
        if not isinstance(rows, list):
            problems.append(PartProblem(f"/{kind}", "This must be a list of parts.", "Put them in a list."))
            continue
        read: dict[str, Any] = getattr(own, kind)
        shipped = {s.code for s in catalogue.splices} if kind == "splices" else set(getattr(catalogue, kind))
        shipped -= set(getattr(kept, kind))
        for n, row in enumerate(rows):
            base = f"/{kind}/{n}"
            try:
                part = adapter.validate_python(row)
            except ValidationError as error:
                problems += [
                    PartProblem("/".join([base, *map(str, e["loc"])]), f"{e['msg']}.", "Correct the value.")
                    for e in error.errors()[:10]
                ]
                continue
            problems += _of_part(catalogue, base, part, shipped, read)
            if isinstance(part, ConnectorFamily):
                part = replace(part, sources={**part.sources, "owner": "own"})
            read[part.code] = part
    if problems:
        raise PartsError(problems[:30])
    return own


def _of_part(
    catalogue: Catalogue, base: str, part: Any, shipped: set[str], read: Mapping[str, Any]
) -> list[PartProblem]:
    problems = []
    allowed = set("ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-./")
    if not part.code or len(part.code) > 30 or set(part.code) - allowed:
        problems.append(PartProblem(f"{base}/code", f"{part.code!r} is no code.", _CODE))
    if part.code in shipped:
        problems.append(
            PartProblem(f"{base}/code", f"{part.code} ships with the program.", "Give yours its own code.")
        )
    if part.code in read:
        problems.append(
            PartProblem(f"{base}/code", f"{part.code} is there twice.", "Give each its own code.")
        )
    if isinstance(part, ConnectorFamily):
        problems += check_family(catalogue, part, base)
    else:
        price = getattr(part, "price", 0.0)
        if price < 0:
            problems.append(PartProblem(f"{base}/price", f"A price of {price:g}.", "Give 0 or more."))
    if isinstance(part, SpliceSize):
        problems += check_window(base, "area_min_mm2", part.area_min_mm2, "area_max_mm2", part.area_max_mm2)
        problems += check_window(base, "od_min_mm", part.od_min_mm, "od_max_mm", part.od_max_mm)
    if isinstance(part, WireFamily):
        for n, s in enumerate(part.sizes):
            if not 0 < s.od_min_mm <= s.od_mm <= s.od_max_mm or s.area_mm2 <= 0 or s.price_per_m < 0:
                problems.append(
                    PartProblem(
                        f"{base}/sizes/{n}",
                        f"{s.gauge}: its diameters do not rise, or a figure is below zero.",
                        "Correct the size.",
                    )
                )
    return problems


def _number(row: Mapping[str, str], name: str, line: int, problems: list[PartProblem]) -> float:
    text = (row.get(name) or "").strip().replace(",", ".")
    try:
        value = float(text)
    except ValueError:
        problems.append(PartProblem(f"row {line}, {name}", f"{text!r} is not a number.", "Give a number."))
        return 0.0
    if not value >= 0 or value > 1e9:
        problems.append(PartProblem(f"row {line}, {name}", f"{text} is out of range.", "Give 0 or more."))
        return 0.0
    return value


def _from_csv(catalogue: Catalogue, text: str, kept: OwnParts) -> OwnParts:
    """Contacts, seals and tools in rows. Contacts and seals go into a family of the builder's own."""
    try:
        rows = iter(read_table(text))
    except TableError as error:
        raise PartsError([PartProblem("", str(error), "")]) from None
    header = tuple(h.strip() for h in next(rows, []))
    if header != COLUMNS:
        odd = [h for h in header if h not in COLUMNS] or [c for c in COLUMNS if c not in header]
        raise PartsError(
            [
                PartProblem(
                    "row 1",
                    f"The header is not that of a table of parts: {', '.join(odd[:4]) or 'other order'}.",
                    f"It must be {','.join(COLUMNS)}.",
                )
            ]
        )
    own = OwnParts()
    problems: list[PartProblem] = []
    for line, values in enumerate(rows, 2):
        if not any(v.strip() for v in values):
            continue
        if len(values) != len(COLUMNS):
            problems.append(
                PartProblem(f"row {line}", f"{len(values)} fields, not {len(COLUMNS)}.", "Quote commas.")
            )
            continue
        row = dict(zip(COLUMNS, (v.strip() for v in values), strict=True))
        _csv_row(catalogue, own, kept, row, line, problems)
    for code, family in own.connectors.items():
        problems += check_family(catalogue, family, f"family {code}")
    if problems:
        raise PartsError(problems[:30])
    if not len(own):
        raise PartsError([PartProblem("row 2", "There is no part in it.", "Add a row for each part.")])
    return own


def _csv_row(
    catalogue: Catalogue,
    own: OwnParts,
    kept: OwnParts,
    row: dict[str, str],
    line: int,
    problems: list[PartProblem],
) -> None:
    kind = row["kind"]
    if not row["code"]:
        problems.append(PartProblem(f"row {line}, code", "The code is missing.", _CODE))
        return
    price, mass = _number(row, "price", line, problems), _number(row, "mass_g", line, problems)
    if kind == "tool":
        own.tools[row["code"]] = Tool(
            row["code"], row["description"], "crimper", price, tuple(filter(None, [row["nest"]]))
        )
        return
    if kind not in ("contact", "seal"):
        message = f"{kind!r} is not a kind of part."
        problems.append(PartProblem(f"row {line}, kind", message, "Write contact, seal or tool."))
        return
    family = own.connectors.get(row["family"]) or kept.connectors.get(row["family"])
    if family is None:
        what = "ships with the program" if row["family"] in catalogue.connectors else "is not held here"
        other = "" if row["family"] in catalogue.connectors else what_is(catalogue, row["family"])
        message = f"Family {row['family']!r} {what}." + (f" {other}" if other else "")
        problems.append(
            PartProblem(f"row {line}, family", message, "Copy a family under a code of your own first.")
        )
        return
    low, high = (_number(row, f"insulation_{bound}_mm", line, problems) for bound in ("min", "max"))
    if kind == "seal":
        seal = Seal(row["code"], row["description"], low, high, mass, price)
        known = any(s.code == seal.code for s in family.seals)
        seals = tuple(seal if s.code == seal.code else s for s in family.seals)
        own.connectors[family.code] = replace(family, seals=seals if known else (*seals, seal))
        return
    if row["gender"] not in ("pin", "socket", "none"):
        message = f"{row['gender']!r} is no contact gender."
        problems.append(PartProblem(f"row {line}, gender", message, "Write pin, socket or none."))
        return
    area = tuple(_number(row, f"conductor_{bound}_mm2", line, problems) for bound in ("min", "max"))
    strip, current_a = _number(row, "strip_mm", line, problems), _number(row, "current_a", line, problems)
    tools = (ToolRow(row["tool"], area[0], area[1], row["nest"] or "-", source="own"),) if row["tool"] else ()
    before = next((c for c in family.contacts if c.code == row["code"]), None)
    contact = before or Contact(
        row["code"],
        "",
        "none",
        area[0],
        area[1],
        low,
        high,
        strip,
        0.5,
        20.0,
        ((area[0], current_a),),
        mass,
        price,
    )
    if before is None or current_a != before.current_by_area[-1][1]:
        contact = replace(contact, current_by_area=((area[0], current_a),))
    if before is None or (tools[:1] and (row["tool"], row["nest"]) != _first_nest(before)):
        contact = replace(contact, tools=tools)
    contact = replace(
        contact, description=row["description"], gender=row["gender"],  # type: ignore[arg-type]
        conductor_min_mm2=area[0], conductor_max_mm2=area[1], insulation_min_mm=low, insulation_max_mm=high,
        strip_mm=strip, mass_g=mass, price=price,
    )  # fmt: skip
    others = tuple(contact if c.code == contact.code else c for c in family.contacts)
    own.connectors[family.code] = replace(family, contacts=others if before else (*others, contact))


def _first_nest(contact: Contact) -> tuple[str, str]:
    return (contact.tools[0].tool, contact.tools[0].nest) if contact.tools else ("", "")


def own_parts(plain: Mapping[str, Any]) -> OwnParts:
    """Parts as kept by the shop. What does not hold any more, after a change of form, is left out."""
    own = OwnParts()
    if not any(plain.get(kind) for kind in _KINDS):
        return own
    for kind, adapter in _adapters().items():
        of_kind: dict[str, Any] = getattr(own, kind)
        for row in plain.get(kind, []):
            try:
                part = adapter.validate_python(row)
            except ValidationError:
                continue
            of_kind[part.code] = part
    return own


def copy_family(catalogue: Catalogue, code: str, new_code: str, name: str) -> ConnectorFamily:
    """A family under a code of the builder's own, its housings renamed with it. Raises KeyError."""
    family = catalogue.connectors[code]
    return replace(
        family, code=new_code, name=name or f"{family.name}, own", sources={**family.sources, "owner": "own"},
        mates=family.mates or (family.code,),
    )  # fmt: skip


def parts_to_plain(own: OwnParts) -> dict[str, Any]:
    """Own parts as plain data, ready for JSON; what ``read_parts`` reads."""
    return {
        "format": FORMAT,
        "format_number": FORMAT_NUMBER,
        **{
            kind: [adapter.dump_python(p, mode="json") for p in getattr(own, kind).values()]
            for kind, adapter in _adapters().items()
        },
    }


def parts_to_csv(families: Iterable[ConnectorFamily], tools: Iterable[Tool]) -> str:
    """Contacts, seals and tools as the table that ``read_parts`` reads."""
    rows: list[Row] = [COLUMNS]
    for f in families:
        for c in f.contacts:
            row = c.tools[0] if c.tools else None
            rows.append(
                [
                    "contact", f.code, c.code, c.description, c.gender, f"{c.conductor_min_mm2:g}",
                    f"{c.conductor_max_mm2:g}", f"{c.insulation_min_mm:g}", f"{c.insulation_max_mm:g}",
                    f"{c.strip_mm:g}", f"{c.current_by_area[-1][1]:g}", row.tool if row else "",
                    row.nest if row else "", f"{c.mass_g:g}", f"{c.price:g}",
                ]
            )  # fmt: skip
        for s in f.seals:
            rows.append(
                [
                    "seal", f.code, s.code, s.description, "", "", "", f"{s.od_min_mm:g}", f"{s.od_max_mm:g}",
                    "", "", "", "", f"{s.mass_g:g}", f"{s.price:g}",
                ]
            )  # fmt: skip
    for t in tools:
        rows.append(
            ["tool", "", t.code, t.description, *[""] * 8, t.nests[0] if t.nests else "", "0", f"{t.price:g}"]
        )
    return table_text(rows)
