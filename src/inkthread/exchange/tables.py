"""Wire list, bill of materials, cut list, dress list and labels: as CSV (RFC 4180) and as a workbook."""

from __future__ import annotations

import io
import re
from collections.abc import Callable, Iterable, Iterator
from typing import Any

from inkthread.core.measures import (
    Measures,
    bare_length,
    bought_m,
    format_mass,
    format_temperature,
    length_symbol,
)
from inkthread.core.table import Row, table_text
from inkthread.core.workings import Workings


def _wires(w: Workings) -> Iterator[Row]:
    e = w.evaluation
    yield (
        "wire",
        "circuit",
        "from",
        "to",
        "family",
        "gauge",
        "area_mm2",
        "colour",
        "carries_a",
        "governs",
        "drop_v",
        "drop_percent",
        "temperature_c",
    )
    for own in e.wire.wires.values():
        yield (
            own.label,
            own.circuit,
            own.from_text,
            own.to_text,
            own.family,
            own.gauge,
            own.area_mm2,
            own.colour,
            own.carries_a,
            own.governs,
            own.drop_v,
            own.drop_percent,
            own.temperature_c,
        )


def _bom(w: Workings) -> Iterator[Row]:
    e = w.evaluation
    yield (
        "group",
        "code",
        "description",
        "colour",
        "quantity",
        "unit",
        "mass_g",
        "cost",
        "included",
        "used_at",
    )
    for b in e.parts.lines:
        yield (
            b.group,
            b.code,
            b.description,
            b.colour,
            bought_m(b.quantity) if b.unit == "m" else b.quantity,
            b.unit,
            b.mass_g,
            b.cost,
            "yes" if b.included else "no",
            b.used_at,
        )


def _cut(w: Workings) -> Iterator[Row]:
    e = w.evaluation
    yield (
        "wire",
        "part",
        "colour",
        "cut_mm",
        "strip_from_mm",
        "strip_to_mm",
        "finished_mm",
        "from",
        "to",
        "cable",
    )
    for cable in e.cut.cables:
        yield (
            cable.id,
            cable.part,
            f"{cable.cores} cores",
            cable.cut_mm,
            "",
            "",
            "",
            cable.from_text,
            cable.to_text,
            cable.id,
        )
    for c in e.cut.cuts:
        yield (
            c.label,
            c.part,
            c.colour,
            c.cut_mm,
            c.a.strip_mm,
            c.b.strip_mm,
            c.finished_mm,
            c.from_text,
            c.to_text,
            c.cable,
        )


def _dress(w: Workings) -> Iterator[Row]:
    yield (
        "what",
        "at",
        "part",
        "passes_mm",
        "closes_on_mm",
        "covers_mm",
        "cut_mm",
        "pieces",
        "goes_on",
        "because",
    )
    for cover in w.dress.covers:
        if cover.code:
            yield (
                f"cover {cover.kind}",
                " ".join(cover.branches),
                cover.code,
                cover.passes_mm,
                cover.holds_mm,
                cover.covers_mm,
                cover.cut_mm,
                1,
                cover.goes_on,
                cover.because,
            )
    for piece in w.dress.shrinks:
        yield (
            "shrink tube",
            f"{piece.place}, {piece.what}",
            piece.code,
            piece.over_mm,
            piece.onto_mm,
            piece.finished_mm,
            piece.cut_mm,
            piece.count,
            f"threaded {piece.threaded}",
            piece.because,
        )
    for hold in w.dress.holds:
        yield hold.kind, hold.place, hold.code, hold.over_mm, "", hold.every_mm, "", hold.count, "", ""


def _labels(w: Workings) -> Iterator[Row]:
    yield (
        "on",
        "at",
        "text",
        "sleeve",
        "onto_mm",
        "letters_mm",
        "length_mm",
        "behind_mm",
        "shrunk",
        "marks_along",
    )
    for label in w.dress.labels.labels:
        sized = w.wire.wires.get(label.of)
        yield (
            sized.label if sized is not None else label.of,
            label.at,
            label.text,
            label.code,
            label.onto_mm,
            label.height_mm,
            label.length_mm,
            label.behind_mm,
            label.when,
            w.dress.labels.marks.get(label.of, 0),
        )


def _devices(w: Workings) -> Iterator[Row]:
    yield "device", "name", "kind", "draws_a", "gets_v", "drop_v", "limit_v", "drop_percent"
    loads: dict[str, list[str]] = {}
    for load_id, load in w.document.circuits.loads.items():
        loads.setdefault(load.device, []).append(load_id)
    for device_id, device in w.document.circuits.devices.items():
        for load_id in loads.get(device_id, [""]):
            loop = w.evaluation.wire.loops.get(load_id)
            figures = (
                (loop.drawn_a, loop.gets_v, loop.drop_v, loop.limit_v, loop.drop_percent) if loop else ()
            )
            yield (device_id, device.name, device.kind, *(figures or ("",) * 5))


def _branches(w: Workings) -> Iterator[Row]:
    yield "branch", "from", "to", "length_mm", "tight_mm", "loose_mm", "over_all_mm", "hottest_c", "wires"
    outside = w.dress.outside_mm()
    for branch_id, branch in w.document.route.branches.items():
        bundle = w.dress.bundles[branch_id]
        yield (
            branch_id,
            branch.from_point,
            branch.to_point,
            branch.length_mm,
            bundle.tight_mm,
            bundle.loose_mm,
            outside.get(branch_id, ""),
            w.wire.branch_hottest_c.get(branch_id, ""),
            len(w.dress.contents[branch_id]),
        )


def _pinout(w: Workings) -> Iterator[Row]:
    yield "connector", "family", "way", "device_pin", "wire", "contact", "seal"
    for connector in w.ends.connectors.values():
        for cavity in connector.cavities:
            end = (cavity.pin or "", cavity.wire or "")
            contact, seal = w.ends.contacts.get(end), w.ends.seals.get(end)
            sized = w.wire.wires.get(cavity.wire or "")
            yield (
                connector.id,
                connector.family,
                cavity.cavity,
                cavity.pin or "",
                sized.label if sized is not None else "",
                contact.code if contact is not None else "",
                seal.code if seal is not None else "",
            )


def _tools(w: Workings) -> Iterator[Row]:
    yield "tool", "description", "kind", "set_to", "for", "owned", "status", "price"
    for tool in w.parts.tools:
        yield (
            tool.code,
            tool.description,
            tool.kind,
            "; ".join(tool.settings),
            tool.used_for,
            "yes" if tool.owned else "no",
            tool.status,
            tool.price,
        )


def _findings(w: Workings) -> Iterator[Row]:
    yield "severity", "title", "what", "why", "what_to_do", "places"
    for finding in w.evaluation.findings:
        yield (
            finding.severity,
            finding.title,
            finding.what,
            finding.why,
            " / ".join(remedy.text for remedy in finding.remedies),
            " ".join(f"{place.room}:{place.id}" for place in finding.places),
        )


TABLES: dict[str, Callable[[Workings], Iterator[Row]]] = {
    "wires": _wires,
    "bom": _bom,
    "cut": _cut,
    "dress": _dress,
    "labels": _labels,
    "devices": _devices,
    "branches": _branches,
    "pinout": _pinout,
    "tools": _tools,
    "findings": _findings,
}


def csv_text(w: Workings, kind: str) -> str:
    """One of ``TABLES`` as CSV text with a header line. Raises KeyError."""
    return table_text(TABLES[kind](w))


def heading(name: object) -> str:
    """What a column is called on a sheet.

    >>> heading("cut_mm"), heading("drop_percent"), heading("draws_a")
    ('cut (mm)', 'drop (%)', 'draws (A)')
    """
    return _UNIT.sub(lambda unit: f" ({_UNITS.get(unit[1], unit[1])})", str(name)).replace("_", " ")


def shown_column(name: object, units: Measures) -> tuple[str, Callable[[Any], Any]]:
    """What a column is called on a sheet in a harness's units, and how its figures are written there.

    >>> head, write = shown_column("cut_mm", Measures("inch"))
    >>> head, write(314.3), write("")
    ('cut (in)', '12 3/8', '')
    """
    plain, _, unit = str(name).rpartition("_")
    written = {
        "mm": (lambda mm: bare_length(mm, units)) if units.length != "metric" else None,
        "g": (lambda g: format_mass(g, units, 1).partition(" ")[0]) if units.mass != "g" else None,
        "c": (lambda c: format_temperature(c, units).partition(" ")[0]) if units.temperature != "C" else None,
    }.get(unit if plain else "")
    if written is None:
        return heading(name), lambda value: value
    symbol = {"mm": length_symbol(units), "g": units.mass, "c": f"°{units.temperature}"}[unit]
    return (
        f"{plain.replace('_', ' ')} ({symbol})",
        lambda value: written(value) if isinstance(value, int | float) else value,
    )


_UNIT = re.compile(r"_(mm2|mm|a|v|c|g|percent)$")
_UNITS = {"mm2": "mm²", "a": "A", "v": "V", "c": "°C", "percent": "%"}
_WIDEST = 60


def xlsx_bytes(w: Workings, kinds: Iterable[str] = tuple(TABLES)) -> bytes:
    """Tables as a workbook, a sheet each: numbers as numbers, units in headings, the first row kept in view.

    No cell is run as a formula by what opens it. Raises KeyError.
    """
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook(write_only=True)
    for kind in kinds:
        head, *rows = TABLES[kind](w)
        sheet = book.create_sheet(kind)
        sheet.freeze_panes = "A2"
        for n, name in enumerate(head, 1):
            longest = max((len(str(row[n - 1])) for row in rows), default=0)
            sheet.column_dimensions[get_column_letter(n)].width = min(
                max(longest, len(str(name))) + 2, _WIDEST
            )
        named: list[WriteOnlyCell] = []
        for name in head:
            cell = WriteOnlyCell(sheet, heading(name))
            cell.font = Font(bold=True)
            named.append(cell)
        sheet.append(named)
        for row in rows:
            cells = []
            for value in row:
                cell = WriteOnlyCell(sheet, value)
                if isinstance(value, str):
                    cell.data_type = "s"  # a text that begins with = is no formula
                cells.append(cell)
            sheet.append(cells)
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()
