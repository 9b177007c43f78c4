"""What every piece was made with: its tools, settings, parts, batches and people, for recall."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import datetime
from typing import Any

from inkthread.core.build import BuildPlan, Operation, plan_build, steps_of
from inkthread.core.prove import Hand, Sample, hands_of
from inkthread.core.record import record
from inkthread.core.workings import Workings
from inkthread.storage import NotOnShelf, Piece
from inkthread.web.views import workshop
from inkthread.web.workshop import Unreadable


@record
class Trait:
    """One thing that a piece was made with, and in which words it is told."""

    kind: str
    """``tool``, ``setting``, ``part``, ``batch``, ``person``."""
    name: str
    words: str


@record
class MadePiece:
    """A harness of a design that somebody made, with or without a serial number."""

    design: str
    name: str
    number: int
    serial: str
    traits: tuple[Trait, ...]
    crimped: dict[str, datetime]
    """Tool to when it was last ticked with."""


def plan_of(w: Workings) -> BuildPlan:
    """The order of work of a harness, planned once."""
    kept = workshop().work_plans
    known = kept.get(id(w))
    if known is not None and known[0] is w:
        plan: BuildPlan = known[1]
        return plan
    plan = plan_build(w.rooms, steps_of(w.rooms))
    kept.keep(id(w), (w, plan))
    return plan


def made_pieces() -> Iterator[MadePiece]:
    """Every piece of every design: those with a serial number, and those with ticks only. Of a design that
    was taken off the shelf, or cannot be read, what was noted of its pieces counts all the same.
    """
    shop = workshop()
    by_design: dict[str, list[Piece]] = {}
    for piece in shop.pieces.every():
        by_design.setdefault(piece.design_id, []).append(piece)
    begun = shop.work.begun()
    for design_id in dict.fromkeys((*by_design, *(design for design, _ in begun))):
        w = _workings(design_id)
        pieces = by_design.get(design_id, [])
        numbers = {piece.number for piece in pieces}
        for piece in pieces:
            yield _made(w, design_id, piece.number, piece)
        for number in sorted(n for design, n in begun if design == design_id and n not in numbers):
            yield _made(w, design_id, number, None)


def _workings(design_id: str) -> Workings | None:
    shop = workshop()
    try:
        stored = shop.shelf.get(design_id)
        return shop.workings(stored.id, stored.version, stored.document)
    except (Unreadable, NotOnShelf):
        return None


def _made(w: Workings | None, design_id: str, number: int, piece: Piece | None) -> MadePiece:
    shop, operations = workshop(), plan_of(w).operations if w is not None else {}
    done = shop.work.done(design_id, number)
    traits = [Trait("person", d.who, f"made by {d.who}") for d in done if d.who]
    crimped: dict[str, datetime] = {}
    for tick in done:
        own = operations.get(tick.step)
        traits += _of_step(own) if own is not None else ()
        if own is not None and own.tool and own.kind in ("crimp", "splice"):
            crimped[own.tool] = max(tick.at, crimped.get(own.tool, tick.at))
    spools = {c["spool"] for c in shop.cuts.cut_of(design_id) if c["number"] == number}
    traits += [Trait("batch", f"spool {s}", f"cut off spool {s}") for s in spools if s is not None]
    if piece is not None:
        traits += _of_piece(piece)
    if piece is not None and piece.signed_at is not None:
        record = json.loads(piece.record)
        traits += _of_record(record)
        for tool in record["tools"]:
            crimped.setdefault(tool["tool"], piece.signed_at)
    serial = piece.serial if piece is not None else ""
    unique = tuple(dict.fromkeys(traits))
    name = w.document.brief.name if w is not None else design_id
    return MadePiece(design_id, name, number, serial, unique, crimped)


def _of_step(own: Operation) -> Iterator[Trait]:
    if own.tool:
        yield Trait("tool", own.tool, f"made with {own.tool}")
        if own.setting:
            yield Trait("setting", f"{own.tool} {own.setting}", f"{own.tool} set to {own.setting}")
    for part in own.parts:
        yield Trait("part", part, f"has {part}")


def _of_piece(piece: Piece) -> Iterator[Trait]:
    shop = workshop()
    for batch in shop.records.batches(piece):
        yield Trait("batch", batch.batch, f"{batch.part} of batch {batch.batch}")
    for taken in shop.pieces.readings(piece):
        if taken.who:
            yield Trait("person", taken.who, f"measured by {taken.who}")
    if piece.signed_by:
        yield Trait("person", piece.signed_by, f"signed by {piece.signed_by}")


def _of_record(record: dict[str, Any]) -> Iterator[Trait]:
    """What stood in a record when it was signed."""
    for tool in record["tools"]:
        yield Trait("tool", tool["tool"], f"made with {tool['tool']}")
        setting = ", ".join(tool[k] for k in ("nest", "depth") if tool[k] not in ("", "-"))
        if setting:
            yield Trait("setting", f"{tool['tool']} {setting}", f"{tool['tool']} set to {setting}")
        yield Trait("part", tool["contact"], f"has {tool['contact']}")
    for part in (*record["wires"], *record.get("parts", [])):
        yield Trait("part", part, f"has {part}")


def hands() -> tuple[Hand, ...]:
    """What every hand has shown, by the pulled samples of the shop."""
    pulls = workshop().tool_log.pulls()
    return hands_of(Sample(p.who, p.contact, p.wire, p.tool, p.holds) for p in pulls)


def shares_shown() -> dict[tuple[str, str, str, str], float]:
    """The least share of good crimps by who, contact, wire and tool."""
    return {(h.who, h.contact, h.wire, h.tool): h.share for h in hands()}


def matches(trait: Trait, what: str) -> bool:
    """Whether a word names a trait: whole, or as a part of what it is called."""
    return what.casefold() in trait.name.casefold()
