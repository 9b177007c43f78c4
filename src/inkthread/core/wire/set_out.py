"""Where the wires lie and what each may be made as, whatever they carry."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from inkthread.core.brief import BriefResult
from inkthread.core.brief.covers_wanted import wanted_cover
from inkthread.core.catalogue import Catalogue, WireFamily
from inkthread.core.catalogue.coverings import Insulates
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route import Section, SectionEnd, Threaded
from inkthread.core.wire.ampacity import deciding_methods
from inkthread.core.wire.cables import CablePiece, cable_pieces, tied_rows
from inkthread.core.wire.drop_inputs import twist_factors
from inkthread.core.wire.end_fits import termination_ohms
from inkthread.core.wire.families import Chains, FamiliesAsked, build_chains, candidate_table, known_families
from inkthread.core.wire.free_air import FreeAir, free_air
from inkthread.core.wire.placement import WirePlacement, place_wires
from inkthread.core.wire.strength import least_areas, moving_wires, strength_areas_mm2_of


def end_text(document: Document, end: SectionEnd) -> str:
    """An end in words: ``P1-2 lift pump`` or ``splice at tail``."""
    if end.kind == "open":
        return f"cut back at {end.id}"
    if end.kind != "pin":
        if end.point in document.ends.connectors:
            return f"{end.kind} by {end.point}"
        return f"{end.kind} at {document.route.points[end.point].name or end.point}"
    device_id = device_of(end.id)
    device = document.circuits.devices[device_id]
    cavity = _SIGN.get(end.cavity or "", f"-{end.cavity}")
    return f"{end.connector}{cavity} {device.name or device_id}"


_SIGN = {"+": " +", "-": " \N{MINUS SIGN}"}
"""Ways that are called by a sign, as they are read after their connector."""


def end_texts(document: Document, threaded: Threaded) -> dict[str, tuple[str, str]]:
    """Both ends of each wire in words, by its key. Devices, connectors and points are read."""
    said: dict[str, str] = {}
    for section in threaded.sections.values():
        for end in (section.a, section.b):
            if end.id not in said:
                said[end.id] = end_text(document, end)
    return {key: (said[s.a.id], said[s.b.id]) for key, s in threaded.sections.items()}


@record
class SetOut:
    """Where the wires lie and what each may be made as, whatever they carry."""

    families: dict[str, WireFamily]
    free: FreeAir
    placement: WirePlacement
    least: FloatArray
    strength_mm2: FloatArray
    """(n, k): what every candidate counts as against its least size."""
    twist: FloatArray
    """(n, k): how much longer each candidate is for being twisted by hand."""
    termination_ohm: FloatArray
    """(n,): contacts and splices at both ends."""
    cables: tuple[CablePiece, ...]
    tied: tuple[IntArray, ...]
    """Rows of the cores of each piece of cable."""
    near_alone: bool = False
    """Whether what a wire may carry is solved only where it comes near what it is asked for."""


def _covers(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    families: Mapping[str, WireFamily],
    sections: Sequence[Section],
    cables: Sequence[CablePiece],
    branches: Sequence[str | None],
) -> tuple[Insulates, ...]:
    """What keeps the heat in, by bundle: the cover that is wanted for its branch; none at a point."""
    piece_of = {key: f"cable {n}" for n, piece in enumerate(cables) for key in piece.wires}
    shields = {
        g.shield
        for g in document.circuits.groups.values()
        if g.family is not None and g.family in families and families[g.family].shielded
    }
    things: Counter[str] = Counter()
    in_pieces: dict[str, set[str]] = {}
    for section in sections:
        if section.key in piece_of:
            for branch in section.branches if section.circuit not in shields else ():
                in_pieces.setdefault(branch, set()).add(piece_of[section.key])
        elif section.circuit not in shields:
            things.update(section.branches)
    kinds = {
        branch: wanted_cover(
            document, catalogue, brief, branch, things[branch] + len(in_pieces.get(branch, ()))
        )[0]
        for branch in dict.fromkeys(branches)
        if branch is not None
    }
    insulates = catalogue.coverings.insulates
    return tuple(insulates["none" if branch is None else kinds[branch]] for branch in branches)


def set_out(
    document: Document, catalogue: Catalogue, brief: BriefResult, threaded: Threaded, memo: Memo
) -> SetOut:
    """Place every section and make the chain of its candidates, whatever it carries."""
    sections = list(threaded.sections.values())
    families = memo.get(known_families, only(document, "wire"), catalogue)
    lead = next((f.code for f in families.values() if f.construction == "ignition"), None)
    cables = cable_pieces(document, families, sections)
    cores = {key for piece in cables for key in piece.wires}
    multicore = {
        g for g, group in document.circuits.groups.items() if group.family and families[group.family].as_one
    }
    may_part = {c for g in multicore for c in document.circuits.groups[g].members}
    asked = FamiliesAsked(document, brief.family, lead)
    codes = [asked.of(s.circuit, s.key, alone=s.circuit in may_part and s.key not in cores) for s in sections]
    in_play = tuple(dict.fromkeys([brief.family, *(c for of_wire in codes for c in of_wire)]))
    placement = place_wires(document, brief, sections, brief.value("point_bundles") > 0)
    placement = replace(
        placement, covers=_covers(document, catalogue, brief, families, sections, cables, placement.branch)
    )
    table = memo.get(
        candidate_table,
        tuple(families[c] for c in in_play),
        placement.airs or ((brief.value("default_ambient_c"), 0.0),),
        document.brief.altitude_m,
    )
    chains = build_chains(table, codes, document.wire.objective)
    free = free_air(
        catalogue,
        table,
        chains,
        deciding_methods(document.brief.practice),
        placement,
        brief.value("marine_bundling") > 0,
    )
    moving = moving_wires(document, threaded.zones, sections)
    moved = np.array([s.key in moving for s in sections], dtype=bool)
    least = least_areas(brief, moved, families, codes)
    strength = strength_areas_mm2_of(brief, moved, table, chains.index)
    twist = twist_factors(document, catalogue, table, sections, chains)
    termination_ohm = termination_ohms(document, catalogue, sections)
    unequal = {
        p.group for p in cables if families[document.circuits.groups[p.group].family or ""].core_gauges
    }
    tied = tied_rows(cables, unequal, [s.key for s in sections], chains)
    return SetOut(families, free, placement, least, strength, twist, termination_ohm, cables, tied)


def as_made_only(out: SetOut, chosen: IntArray) -> SetOut:
    """The same with one candidate a wire, that which is chosen, (n,): for asking whether it holds."""
    rows = np.arange(len(chosen))

    def own(of: FloatArray) -> FloatArray:
        return np.asarray(of[rows, chosen][:, None])

    chains = out.free.chains
    one = np.ones(len(chosen), dtype=np.intp)
    free = replace(
        out.free,
        chains=Chains(chains.index[rows, chosen][:, None], one, one),
        free_a=own(out.free.free_a),
        by_method={method: own(of) for method, of in out.free.by_method.items()},
    )
    return replace(
        out, free=free, strength_mm2=own(out.strength_mm2), twist=own(out.twist), tied=(), near_alone=True
    )
