"""Finding parts by what they must do; what does not, with the reason why."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from inkthread.core.catalogue.ends import CLASSES, ConnectorFamily, Contact, Seal
from inkthread.core.catalogue.types import Catalogue
from inkthread.core.quantity import QuantityError, parse_current_a, parse_gauge, parse_temperature_c
from inkthread.core.record import record

PartKind = Literal[
    "connector", "contact", "seal", "accessory", "splice", "cover", "tool", "wire", "fuse", "breaker"
]
KINDS: tuple[PartKind, ...] = (
    "connector",
    "contact",
    "seal",
    "accessory",
    "splice",
    "cover",
    "tool",
    "wire",
    "fuse",
    "breaker",
)


@record
class PartRow:
    """A part as a search sees it. What does not apply to it is None or empty."""

    kind: PartKind
    code: str
    description: str
    family: str
    group: str
    ways: int | None
    sealed: bool | None
    protection: str
    temperature_c: float | None
    voltage_v: float | None
    mm2: tuple[float, float] | None
    od_mm: tuple[float, float] | None
    current_a: float | None
    tools: tuple[str, ...]
    """Tools of which one is needed."""
    price: float
    mass_g: float
    text: str
    """All its words in lower case."""
    contacts: tuple[Contact, ...] = ()
    seals: tuple[Seal, ...] = ()


@record
class Need:
    """What is looked for. What is left out does not matter."""

    kind: PartKind | None = None
    words: tuple[str, ...] = ()
    ways: int | None = None
    sealed: bool | None = None
    area_mm2: float | None = None
    od_mm: tuple[float, float, float] | None = None
    """Least, nominal and largest diameter of the wire."""
    wire: str = ""
    temperature_c: float | None = None
    voltage_v: float | None = None
    current_a: float | None = None
    protection: str = ""
    owned_only: bool = False


@record
class Found:
    """What answers a need, cheapest first; what does not, nearest first; how many of each in all."""

    need: Need
    rows: tuple[PartRow, ...]
    rejected: tuple[tuple[PartRow, str], ...]
    count: int
    rejected_count: int


def _row(
    kind: PartKind, code: str, description: str, *, price: float, mass_g: float, **known: object
) -> PartRow:
    base = PartRow(
        kind, code, description, "", "", None, None, "", None, None, None, None, None, (), price, mass_g, ""
    )
    row = replace(base, **known)  # type: ignore[arg-type]
    words = (kind, code, description, row.family, row.group, row.protection)
    return replace(row, text=" ".join(w for w in words if w).lower())


@lru_cache(maxsize=8)
def part_rows(catalogue: Catalogue) -> tuple[PartRow, ...]:
    """Every part of a catalogue as rows, in the order of their kinds."""
    return tuple(_rows(catalogue))


def _rows_of(family: ConnectorFamily) -> Iterator[PartRow]:
    common = {
        "family": family.code,
        "group": family.group,
        "sealed": family.sealed,
        "protection": family.protection,
        "temperature_c": family.temperature_c,
        "voltage_v": family.voltage_v,
    }
    tools = tuple(sorted({t.tool for c in family.contacts for t in c.tools}))
    areas = [c.conductor_min_mm2 for c in family.contacts], [c.conductor_max_mm2 for c in family.contacts]
    for h in family.housings:
        yield _row(
            "connector",
            f"{family.code}/{h.ways}",
            f"{family.name}, {h.ways} way{'' if h.ways == 1 else 's'}"
            + (f", {h.arrangement}" if h.arrangement else ""),
            price=min((p.price for p in h.shells.values()), default=0.0),
            mass_g=min((p.mass_g for p in h.shells.values()), default=0.0),
            ways=h.ways,
            mm2=(min(areas[0]), max(areas[1])) if areas[0] else None,
            current_a=max((c.current_by_area[-1][1] for c in family.contacts), default=None),
            tools=tools,
            contacts=family.contacts,
            seals=family.seals,
            **common,
        )
    for c in family.contacts:
        yield _row(
            "contact",
            c.code,
            c.description,
            price=c.price,
            mass_g=c.mass_g,
            mm2=(c.conductor_min_mm2, c.conductor_max_mm2),
            od_mm=(c.insulation_min_mm, c.insulation_max_mm),
            current_a=c.current_by_area[-1][1],
            tools=tuple(dict.fromkeys(t.tool for t in c.tools)),
            contacts=(c,),
            **common,
        )
    for s in family.seals:
        yield _row(
            "seal",
            s.code,
            s.description,
            price=s.price,
            mass_g=s.mass_g,
            od_mm=(s.od_min_mm, s.od_max_mm),
            seals=(s,),
            **common,
        )
    if family.cavity_plug is not None:
        p = family.cavity_plug
        yield _row("accessory", p.code, p.description, price=p.price, mass_g=p.mass_g, **common)
    for a in family.accessories:
        yield _row("accessory", a.code, a.description, price=a.price, mass_g=a.mass_g, **common)


def _rows(catalogue: Catalogue) -> Iterator[PartRow]:
    for family in catalogue.connectors.values():
        yield from _rows_of(family)
    for splice in catalogue.splices:
        yield _row(
            "splice",
            splice.code,
            splice.description,
            price=splice.price,
            mass_g=splice.mass_g,
            group=splice.kind,
            mm2=(splice.area_min_mm2, splice.area_max_mm2),
            temperature_c=splice.temperature_c,
            tools=(splice.tool,) if splice.tool else (),
        )
    for cover in catalogue.covers:
        yield _row(
            "cover",
            cover.code,
            cover.description,
            price=cover.price,
            mass_g=cover.mass_g,
            od_mm=(cover.recovered_mm, cover.supplied_mm),
            sealed=cover.lined,
            temperature_c=cover.temperature_c,
        )
    for t in catalogue.tools.values():
        yield _row(
            "tool",
            t.code,
            t.description,
            price=t.price,
            mass_g=0.0,
            group=t.kind,
            mm2=t.takes_mm2,
            od_mm=t.takes_mm,
            tools=(t.code,),
        )
    for w in catalogue.wires.values():
        for size in w.sizes:
            yield _row(
                "wire",
                f"{w.code} {size.gauge}",
                f"{w.name}, {size.gauge}",
                price=size.price_per_m,
                mass_g=size.mass_g_per_m,
                family=w.code,
                group=w.construction,
                temperature_c=w.temperature_c,
                voltage_v=w.voltage_v,
                mm2=(size.area_mm2, size.area_mm2),
                od_mm=(size.od_min_mm, size.od_max_mm),
            )
    for kind, ratings in (("fuse", catalogue.fuses), ("breaker", catalogue.breakers)):
        for f in ratings:
            yield _row(
                kind,  # type: ignore[arg-type]
                f.code,
                f.description,
                price=f.price,
                mass_g=f.mass_g,
                voltage_v=f.voltage_v,
                current_a=f.rating_a,
            )


def find_parts(catalogue: Catalogue, need: Need, owned: Collection[str] = (), limit: int = 50) -> Found:
    """Parts that answer a need, cheapest first, and what was rejected, with its reason.

    Rejected are only parts of the kind and words asked for; those that fail least come first.
    """
    taken: list[tuple[float, str, PartRow]] = []
    out: list[tuple[int, float, str, PartRow, str]] = []
    for row in part_rows(catalogue):
        if need.kind is not None and row.kind != need.kind:
            continue
        if need.words and not all(w in row.text for w in need.words):
            continue
        reasons = _why_not(row, need, owned)
        if reasons:
            out.append((len(reasons), row.price, row.code, row, "; ".join(reasons)))
        else:
            taken.append((row.price, row.code, row))
    taken.sort(key=lambda part: part[:2])
    out.sort(key=lambda part: part[:3])
    return Found(
        need,
        tuple(r for *_, r in taken[:limit]),
        tuple((r, why) for *_, r, why in out[:limit]),
        len(taken),
        len(out),
    )


def _ways(count: int) -> str:
    return "1 way" if count == 1 else f"{count} ways"


def _why_not(row: PartRow, need: Need, owned: Collection[str]) -> list[str]:
    why: list[str] = []
    if need.ways is not None and row.ways != need.ways:
        why.append(
            "has no ways of its own" if row.ways is None else f"has {_ways(row.ways)}, not {need.ways}"
        )
    if need.sealed is not None and row.sealed is not None and row.sealed != need.sealed:
        why.append("is not sealed" if need.sealed else "is sealed")
    if (
        need.temperature_c is not None
        and row.temperature_c is not None
        and row.temperature_c < need.temperature_c
    ):
        why.append(f"stands {row.temperature_c:g} °C")
    if need.voltage_v is not None and row.voltage_v is not None and row.voltage_v < need.voltage_v:
        why.append(f"is rated for {row.voltage_v:g} V")
    if need.protection and CLASSES.index(row.protection or "open") < CLASSES.index(need.protection):
        why.append(f"is {row.protection or 'open'}")
    if need.current_a is not None and row.current_a is not None and row.current_a < need.current_a:
        why.append(f"carries {row.current_a:g} A")
    if need.area_mm2 is not None:
        why += _wire_not_held(row, need)
    if need.owned_only and row.tools and not set(row.tools) & set(owned):
        why.append(f"needs {' or '.join(row.tools[:3])}, not owned")
    return why


def _wire_not_held(row: PartRow, need: Need) -> list[str]:
    area = need.area_mm2 or 0.0
    if row.contacts:
        taking = [c for c in row.contacts if c.conductor_min_mm2 <= area <= c.conductor_max_mm2]
        if not taking:
            low = min(c.conductor_min_mm2 for c in row.contacts)
            high = max(c.conductor_max_mm2 for c in row.contacts)
            return [f"takes {low:g} to {high:g} mm², the wire has {area:.2f}"]
        if need.od_mm is not None:
            least, usual, most = need.od_mm
            if not any(c.insulation_min_mm <= usual <= c.insulation_max_mm for c in taking):
                low = min(c.insulation_min_mm for c in taking)
                high = max(c.insulation_max_mm for c in taking)
                return [f"grips {low:g} to {high:g} mm over insulation, the wire has {usual:.2f}"]
            if row.seals and not any(s.od_min_mm <= least and most <= s.od_max_mm for s in row.seals):
                low, high = min(s.od_min_mm for s in row.seals), max(s.od_max_mm for s in row.seals)
                return [f"seals {low:g} to {high:g} mm, the wire has {least:.2f} to {most:.2f}"]
        return []
    if row.kind == "seal" and need.od_mm is not None:
        seal = row.seals[0]
        least, _, most = need.od_mm
        if not (seal.od_min_mm <= least and most <= seal.od_max_mm):
            window = f"{seal.od_min_mm:g} to {seal.od_max_mm:g} mm"
            return [f"seals {window}, the wire has {least:.2f} to {most:.2f}"]
        return []
    if row.kind in ("splice", "tool") and row.mm2 is not None and not row.mm2[0] <= area <= row.mm2[1]:
        return [f"takes {row.mm2[0]:g} to {row.mm2[1]:g} mm²"]
    return []


_WORDS_FOR_WIRE = {
    "thin wall": ("J1128-TXL", "ISO6722-THIN"),
    "thick wall": ("J1128-SXL", "ISO6722-THICK"),
    "extra thick": ("J1128-SXL", "ISO6722-THICK"),
}
_DROP = {"and", "with", "for", "a", "the", "tools", "only", "wire", "at", "to", "least", "of", "in"}


# One line for each thing that may be said.
def read_need(catalogue: Catalogue, text: str, kind: PartKind | None = None) -> Need:  # noqa: C901
    """A need as typed: ``sealed, 3 ways, 18 AWG thin wall, 125 °C, owned tools only``.

    What is not understood is looked for as words. Raises QuantityError where a gauge is not made.
    """
    need = Need(kind=kind)
    rest = f" {text} "
    lower = rest.lower()

    def take(pattern: str) -> re.Match[str] | None:
        nonlocal rest, lower
        match = re.search(pattern, lower)
        if match is not None:
            rest = rest[: match.start()] + " , " + rest[match.end() :]
            lower = rest.lower()
        return match

    if take(r"\bowned( tools)?( only)?\b"):
        need = replace(need, owned_only=True)
    if take(r"\b(unsealed|not sealed|open)\b"):
        need = replace(need, sealed=False)
    elif take(r"\bsealed\b"):
        need = replace(need, sealed=True)
    if (match := take(r"\b(\d+)[\s-]*ways?\b")) is not None:
        need = replace(need, ways=int(match[1]))
    if (match := take(r"\bip\s?(20|54|65|67|68|69k)\b")) is not None:
        need = replace(need, protection=f"IP{match[1].upper()}")
    if (match := take(r"(-?\d+(?:\.\d+)?)\s*°?\s*(c|f)\b(?!\w)")) is not None:
        need = replace(need, temperature_c=parse_temperature_c(f"{match[1]} {match[2].upper()}"))
    code = next((c for c in sorted(catalogue.wires, key=len, reverse=True) if c.lower() in lower), None)
    if code is not None:
        take(re.escape(code.lower()))
    insulation = next((w for w in _WORDS_FOR_WIRE if w in lower), None)
    if insulation is not None:
        take(insulation)
    gauge = take(r"\b\d+(?:/0)?\s*awg\b|\bawg\s*\d+(?:/0)?\b|\b\d+(?:\.\d+)?\s*mm(?:2|²)")
    if gauge is not None:
        need = _with_wire(catalogue, need, gauge[0], code, insulation)
    elif code is not None:
        need = replace(need, words=(code.lower(),))
    if (match := take(r"\b(\d+(?:\.\d+)?)\s*v\b")) is not None:
        need = replace(need, voltage_v=float(match[1]))
    if (match := take(r"\b(\d+(?:\.\d+)?)\s*a\b")) is not None:
        need = replace(need, current_a=parse_current_a(f"{match[1]} A"))
    if need.kind is None and need.ways is not None:
        need = replace(need, kind="connector")
    words = [w for w in re.split(r"[\s,;]+", lower) if w and w not in _DROP]
    return replace(need, words=(*need.words, *words))


def _with_wire(
    catalogue: Catalogue, need: Need, gauge: str, code: str | None, insulation: str | None
) -> Need:
    wanted = parse_gauge(gauge)
    families = [code] if code is not None else list(_WORDS_FOR_WIRE.get(insulation or "", ()))
    for name in families:
        size = catalogue.wires[name].size(wanted.name)
        if size is not None:
            return replace(
                need,
                area_mm2=size.area_mm2,
                od_mm=(size.od_min_mm, size.od_mm, size.od_max_mm),
                wire=f"{name} {size.gauge}",
            )
    if families:
        raise QuantityError(f"{' and '.join(families)} are not made in {wanted.name}.")
    return replace(need, area_mm2=wanted.area_mm2, wire=wanted.name)


def need_in_words(need: Need) -> tuple[str, ...]:
    """What was understood, part by part."""
    said: list[str] = []
    if need.kind:
        said.append(need.kind)
    if need.sealed is not None:
        said.append("sealed" if need.sealed else "not sealed")
    if need.ways is not None:
        said.append(f"{need.ways} ways")
    if need.wire:
        over = f", {need.od_mm[1]:.2f} mm over insulation" if need.od_mm else ", any insulation"
        said.append(need.wire + over)
    if need.temperature_c is not None:
        said.append(f"{need.temperature_c:g} °C or more")
    if need.voltage_v is not None:
        said.append(f"{need.voltage_v:g} V or more")
    if need.current_a is not None:
        said.append(f"{need.current_a:g} A or more")
    if need.protection:
        said.append(f"{need.protection} or tighter")
    if need.owned_only:
        said.append("with tools that are owned")
    if need.words:
        said.append("with the words " + " ".join(need.words))
    return tuple(said)
