"""Wire list, bill of materials and cut list as CSV (RFC 4180)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from inkthread.core.evaluation import Evaluation
from inkthread.core.table import Row, table_text


def _wires(e: Evaluation) -> Iterator[Row]:
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
    for w in e.wire.wires.values():
        yield (
            w.label,
            w.circuit,
            w.from_text,
            w.to_text,
            w.family,
            w.gauge,
            w.area_mm2,
            w.colour,
            w.carries_a,
            w.governs,
            w.drop_v,
            w.drop_percent,
            w.temperature_c,
        )


def _bom(e: Evaluation) -> Iterator[Row]:
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
            b.quantity,
            b.unit,
            b.mass_g,
            b.cost,
            "yes" if b.included else "no",
            b.used_at,
        )


def _cut(e: Evaluation) -> Iterator[Row]:
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


CSV_KINDS: dict[str, Callable[[Evaluation], Iterator[Row]]] = {"wires": _wires, "bom": _bom, "cut": _cut}


def csv_text(evaluation: Evaluation, kind: str) -> str:
    """One of ``wires``, ``bom``, ``cut`` as CSV text with a header line. Raises KeyError."""
    return table_text(CSV_KINDS[kind](evaluation))
