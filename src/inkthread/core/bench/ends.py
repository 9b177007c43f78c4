"""The bench's calculators of ends: does a wire fit a connector, and which splice joins these wires."""

from __future__ import annotations

import math
import re

from inkthread.core.bench.fields import BenchAnswer, BenchError, BenchLine, Inputs
from inkthread.core.catalogue import Catalogue, ConnectorFamily, WireFamily, WireSize
from inkthread.core.catalogue.search import read_need
from inkthread.core.ends.fit import choose_contact, choose_seal, crimp_of
from inkthread.core.ends.joints import JointWire, choose_joint
from inkthread.core.quantity import QuantityError, parse_gauge
from inkthread.core.shop import EMPTY_SHOP
from inkthread.core.words import list_in_words

_USUAL = "ISO6722-THIN"


def read_wire(catalogue: Catalogue, text: str, field: str) -> tuple[WireFamily, WireSize]:
    """``AS22759/32 18 AWG`` or ``18 AWG thin wall`` as a family and its size. Raises BenchError."""
    lower = text.lower().strip()
    code = next(
        (c for c in sorted(catalogue.wires, key=len, reverse=True) if lower.startswith(c.lower())), None
    )
    if code is None:
        try:
            need = read_need(catalogue, text)
        except QuantityError as error:
            raise BenchError(field, f"Wire: {error}") from None
        if not need.wire or need.od_mm is None:
            raise BenchError(
                field,
                f"Wire {text!r}: name a family and a gauge, like AS22759/32 18 AWG. Families: "
                f"{', '.join(list(catalogue.wires)[:8])} ...",
            )
        name, _, gauge = need.wire.partition(" ")
        family = catalogue.wires[name]
        size = family.size(gauge)
        assert size is not None, "a need names a size that is made"
        return family, size
    family = catalogue.wires[code]
    gauge = text.strip()[len(code) :].strip()
    try:
        wanted = parse_gauge(gauge).name if family.size(gauge) is None else gauge
    except QuantityError as error:
        raise BenchError(field, f"Wire: {error}") from None
    size = family.size(wanted)
    if size is None:
        gauges = ", ".join(s.gauge for s in family.sizes)
        raise BenchError(field, f"Wire: {code} is not made in {wanted}. It is made in {gauges}.")
    return family, size


def _connector(catalogue: Catalogue, text: str) -> tuple[ConnectorFamily, str | None]:
    """A family, and the shell where a housing's own part code is given."""
    wanted = text.strip().upper()
    for family in catalogue.connectors.values():
        if family.code.upper() == wanted.partition("/")[0]:
            return family, None
        for housing in family.housings:
            for shell, part in housing.shells.items():
                if part.code.upper() == wanted:
                    return family, shell
    near = [c for c in catalogue.connectors if wanted[:2] and c.startswith(wanted[:2])]
    known = ", ".join(near or list(catalogue.connectors)[:12])
    raise BenchError("connector", f"Connector {text!r} is not held here. Known: {known}.")


def fit(i: Inputs) -> BenchAnswer:
    """Whether a wire goes into a connector, and with what on it."""
    wire, size = read_wire(i.catalogue, i.text("wire"), "wire")
    family, shell = _connector(i.catalogue, i.text("connector"))
    rule = family.gender_for(shell or ("plug" if "plug" in family.genders else ""))
    gender = i.choice("gender") if i.has("gender") else rule or "socket"
    stud = i.text("stud") or None
    if stud is not None and stud not in family.studs:
        raise BenchError(
            "stud", f"{family.code} is not made for {stud!r}. Studs: {', '.join(family.studs) or 'none'}."
        )
    contact, goes_in = choose_contact(family, gender, stud, size)
    seal, sealed = choose_seal(family, size)
    reasons: list[str] = []
    if contact is None:
        reasons.append(f"{family.code} has no {gender} contacts.")
    else:
        if contact.conductor_miss(size.area_mm2).worst > 1:
            reasons.append(
                f"{contact.code} takes {contact.conductor_min_mm2:g} to {contact.conductor_max_mm2:g} mm² of "
                f"copper; {size.gauge} has {size.area_mm2:.2f} mm²."
            )
        if contact.insulation_miss(size.od_mm).worst > 1:
            reasons.append(
                f"{contact.code} grips {contact.insulation_min_mm:g} to {contact.insulation_max_mm:g} mm "
                f"over insulation; the wire has {size.od_mm:.2f} mm."
            )
        if size.solid and not contact.solid:
            goes_in = False
            reasons.append(f"{contact.code} is not made for solid conductors.")
    if seal is not None and not sealed:
        reasons.append(
            f"{seal.code} seals {seal.od_min_mm:g} to {seal.od_max_mm:g} mm; the wire has "
            f"{size.od_min_mm:.2f} to {size.od_max_mm:.2f} mm, and both must be inside."
        )
    fits = goes_in and sealed
    crimp = crimp_of(contact, f"{wire.code} {size.gauge}", size.area_mm2, EMPTY_SHOP) if contact else None
    if contact is not None and crimp is None:
        reasons.append(f"No tool, nest and depth are on record for {contact.code} on {size.gauge}.")
    if fits:
        reasons += _why_it_fits(family, gender, stud, size)
    tool = f"{crimp.tool}, {crimp.nest}{', ' + crimp.depth if crimp.depth else ''}" if crimp else None
    figures = {
        "fits": fits,
        "contact": contact.code if contact else None,
        "seal": seal.code if seal else None,
        "plug": family.cavity_plug.code if family.cavity_plug else None,
        "strip_mm": contact.strip_mm if contact else None,
        "tool": tool,
        "reasons": reasons,
    }
    lines = [
        BenchLine("contact", contact.code if contact else "none", contact.description if contact else ""),
        BenchLine("seal", seal.code if seal else "none", seal.description if seal else "not a sealed family"),
        BenchLine("unused ways", family.cavity_plug.code if family.cavity_plug else "left open"),
    ]
    if contact is not None:
        lines += [
            BenchLine("strip", f"{contact.strip_mm:g} mm", f"± {contact.strip_tolerance_mm:g} mm"),
            BenchLine("carries", f"{contact.current_a(size.area_mm2):g} A", "few ways loaded, not hot"),
            BenchLine("tool", tool or "none on record", crimp.source if crimp else ""),
        ]
    verdict = "goes into" if fits else "does not go into"
    words = f"{wire.code} {size.gauge} {verdict} {family.code}: {reasons[0][0].lower() + reasons[0][1:]}"
    if fits and contact is not None:
        on = f"**{contact.code}**" + (f" and **{seal.code}**" if seal else "")
        words = (
            f"{wire.code} {size.gauge} goes into {family.code} with {on}; strip **{contact.strip_mm:g} mm**."
        )
    sources = tuple(
        f"{name}: {family.sources[key]}"
        for name, key in (
            ("Ranges", "conductor_min_mm2"),
            ("Current", "current_by_area"),
            ("Strip", "strip_mm"),
        )
        if key in family.sources
    )
    return BenchAnswer(words, fits, tuple(lines), figures, sources)


def _why_it_fits(family: ConnectorFamily, gender: str, stud: str | None, size: WireSize) -> list[str]:
    others = [
        c.code for c in family.contacts_for(gender, stud or family.usual_stud) if c.miss(size).worst <= 1
    ]
    said = "The narrowest contact that holds it is taken."
    if len(others) > 1:
        said += f" {list_in_words(others)} all hold it."
    return [said]


_MANY = re.compile(r"\s*[x×*]\s*(\d+)\s*$")


def joint_wires(catalogue: Catalogue, text: str, field: str) -> list[JointWire]:
    """``0.75mm2x2, AS22759/32 20 AWG`` as wires. Without a family, thin-wall wire is meant."""
    wires: list[JointWire] = []
    for part in text.split(","):
        if not part.strip():
            continue
        many = _MANY.search(part)
        what = part[: many.start()].strip() if many else part.strip()
        count = int(many[1]) if many else 1
        if not 1 <= count <= 12:
            raise BenchError(field, f"{part.strip()!r}: one to twelve wires of a kind.")
        try:
            gauge = parse_gauge(what)
            area = gauge.area_mm2
            od = _usual_od(catalogue, area)
        except QuantityError:
            _, size = read_wire(catalogue, what, field)
            area, od = size.area_mm2, size.od_mm
        wires += [JointWire(area, od)] * count
    if not wires:
        raise BenchError(field, "Name the wires, like 0.75mm2x2 or 18 AWG.")
    return wires


def _usual_od(catalogue: Catalogue, area_mm2: float) -> float:
    """Diameter over thin-wall insulation, of the size nearest in copper."""
    sizes = catalogue.wires[_USUAL].sizes
    return min(sizes, key=lambda s: abs(math.log(s.area_mm2 / area_mm2))).od_mm


def splice(i: Inputs) -> BenchAnswer:
    """Which splice joins the wires on one side with those on the other."""
    one = joint_wires(i.catalogue, i.text("in"), "in")
    other = joint_wires(i.catalogue, i.text("out"), "out")
    kind = i.choice("kind")
    joint = choose_joint(
        i.catalogue,
        one,
        other,
        kind,  # type: ignore[arg-type]
        lined=not i.flag("dry"),
    )
    part, cover = joint.part, joint.cover
    a, b = sum(w.area_mm2 for w in one), sum(w.area_mm2 for w in other)
    figures = {
        "total_mm2": round(a + b, 4),
        "larger_side_mm2": round(max(a, b), 4),
        "part": part.code if joint.fits else None,
        "cover": cover.code if cover is not None else None,
        "kind": part.kind,
        "fits": joint.fits,
        "over_all_mm": joint.over_all_mm,
        "reasons": list(joint.reasons),
    }
    lines = (
        BenchLine("copper in all", f"{a + b:.2f} mm²", "under the same wings"),
        BenchLine("larger side", f"{max(a, b):.2f} mm²"),
        BenchLine("splice", part.code if joint.fits else "none holds it", part.description),
        BenchLine(
            "cover",
            cover.code if cover else "needs none" if part.covered else "none closes on it",
            cover.description if cover else "",
        ),
        BenchLine("strip", f"{part.strip_mm:g} mm"),
        BenchLine("tool", f"{part.tool}, {part.nest}" if part.nest else part.tool or "none on record"),
    )
    said = f"{len(one)} wire{'s' if len(one) > 1 else ''} to {len(other)}: **{part.code}**"
    said += f" under **{cover.code}**." if cover else "."
    if not joint.fits:
        said = f"No splice made here holds {a + b:.2f} mm². " + " ".join(joint.reasons)
    return BenchAnswer(
        said,
        joint.fits,
        lines,
        figures,
        ("Ranges: part data, invented, typical of their kind", *joint.reasons),
    )


def ways_of(text: str) -> int:
    """Ways of the housings of a kit: ``20x4, 6x2`` is 20 of four ways and 6 of two. Raises BenchError."""
    total = 0
    for part in text.split(","):
        match = re.fullmatch(r"\s*(\d{1,5})(?:\s*[x×*]\s*(\d{1,3}))?\s*(?:ways?)?\s*", part)
        if match is None:
            raise BenchError(
                "housings", f"Housings {part.strip()!r}: write how many of how many ways, like 20x4."
            )
        total += int(match[1]) * int(match[2] or 1)
    return total


def kit(i: Inputs) -> BenchAnswer:
    """Whether a kit has the contacts to fill its housings, of one gender and wire range."""
    ways, contacts = ways_of(i.text("housings")), int(i.number("contacts"))
    spares = math.ceil(ways / i.number("one_spare_in")) if i.has("one_spare_in") else 0
    short = max(ways + spares - contacts, 0)
    said = f"**{ways}** ways and {spares} spare want **{ways + spares}** contacts; the kit has **{contacts}**"
    said += f": **{short} short**." if short else f", {contacts - ways - spares} left over."
    return BenchAnswer(
        said,
        not short,
        (
            BenchLine("ways to fill", str(ways)),
            BenchLine("spares", str(spares), "one in 18 is a bare minimum (common practice)"),
            BenchLine("contacts in the kit", str(contacts), "of this gender and wire range"),
            BenchLine("short", str(short)),
        ),
        {"ways": ways, "spares": spares, "contacts": contacts, "short": short},
        ("Kit test, ways against contacts of each gender and wire range: common practice, no source",),
    )
