"""Spools and remnants against the cut list: what comes off which, what is cut, what is short."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from difflib import get_close_matches

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.cut.plan import CutPlan, Length, Piece, plan_cuts
from inkthread.core.cut.room import CutResult
from inkthread.core.document.draft import LineError
from inkthread.core.findings import FindingBook, Place
from inkthread.core.measures import Measures, format_length
from inkthread.core.opening import many
from inkthread.core.quantity import QuantityError, parse_length_mm
from inkthread.core.record import record
from inkthread.core.shop import Spool


@record
class Done:
    """A piece that was cut: of which harness of the quantity, off which spool, and whether it was spoiled."""

    piece: str
    """A wire's key, or ``cable`` and its id."""
    number: int
    """1 for the first harness."""
    spool: str | None
    """None where it came off something that is not noted."""
    length_mm: float
    spoiled: bool = False


@record
class PlannedPiece:
    """A piece on a spool, cut already or to be cut."""

    piece: str
    number: int
    label: str
    length_mm: float
    done: bool
    spoiled: bool = False


@record
class PlannedSpool:
    """A spool or remnant with what comes off it. Lengths in mm."""

    spool: str
    part: str
    colour: str
    remnant: bool
    place: str
    length_mm: float
    """Before anything of this harness was cut off it."""
    pieces: tuple[PlannedPiece, ...]
    left_mm: float
    kept: bool


@record
class PlannedPart:
    """One wire part of one colour: its spools, and what none of them holds."""

    part: str
    colour: str
    spools: tuple[PlannedSpool, ...]
    short: tuple[PlannedPiece, ...]
    loose: tuple[PlannedPiece, ...]
    """Cut off something that is not at hand, or was not noted."""
    needed_mm: float
    """Still to be cut."""
    short_mm: float
    waste_mm: float
    lower_bound_mm: float
    proved: bool


@record
class SpoolPlan:
    """All parts of a harness, those with most pieces first."""

    parts: tuple[PlannedPart, ...]
    pieces: int
    done: int
    spools: int
    """Begun, or to be begun."""
    waste_mm: float
    lower_bound_mm: float
    proved: bool
    short_mm: float


def cut_piece(piece: str) -> str:
    """What a cable is called among pieces."""
    return f"cable {piece}"


def piece_lengths_mm(cut: CutResult) -> dict[str, float]:
    """How long every piece of one harness is cut, cables and wires, by what it is called."""
    lengths = {cut_piece(cable.id): cable.cut_mm for cable in cut.cables}
    return lengths | {piece.wire: piece.cut_mm for piece in cut.cuts if not piece.cable}


def plan_spools(
    cut: CutResult,
    quantity: int,
    spools: Iterable[Spool],
    done: Iterable[Done],
    brief: BriefResult,
    *,
    patience_s: float = 2.0,
    begin: Mapping[str, str] | None = None,
) -> SpoolPlan:
    """Plan every part around what is cut already. Spools are as they are now.

    ``begin`` is a plan made before, as ``assigned`` gives it: what holds of it stays where nothing is better.
    """
    remnant_mm = brief.value("remnant_mm")
    wanted = _wanted(cut, quantity)
    was_cut = list(done)
    finished = {(d.piece, d.number) for d in was_cut if not d.spoiled}
    by_part: dict[tuple[str, str], list[PlannedPiece]] = {}
    for part, piece in wanted:
        by_part.setdefault(part, []).append(piece)
    at_hand: dict[tuple[str, str], list[Spool]] = {}
    for spool in spools:
        at_hand.setdefault((spool.code, spool.colour), []).append(spool)
    parts = [
        _plan_part(part, pieces, at_hand.get(part, []), was_cut, finished, remnant_mm, patience_s, begin)
        for part, pieces in by_part.items()
    ]
    parts.sort(key=lambda p: (-len(by_part[p.part, p.colour]), p.part, p.colour))
    return SpoolPlan(
        tuple(parts),
        len(wanted),
        sum((piece.piece, piece.number) in finished for _, piece in wanted),
        sum(bool(s.pieces) for p in parts for s in p.spools),
        round(sum(p.waste_mm for p in parts), 3),
        round(sum(p.lower_bound_mm for p in parts), 3),
        all(p.proved for p in parts),
        round(sum(p.short_mm for p in parts), 3),
    )


def assigned(plan: SpoolPlan) -> dict[str, str]:
    """Pieces yet to be cut, each with the spool that it is to come off."""
    return {
        f"{p.piece} {p.number}": s.spool
        for part in plan.parts
        for s in part.spools
        for p in s.pieces
        if not p.done
    }


def _wanted(cut: CutResult, quantity: int) -> list[tuple[tuple[str, str], PlannedPiece]]:
    """Every piece of every harness of the quantity, with the part it is cut of."""
    pieces: list[tuple[tuple[str, str], str, str, float]] = [
        ((c.part, ""), cut_piece(c.id), c.id, c.cut_mm) for c in cut.cables
    ]
    pieces += [((c.part, c.colour), c.wire, c.label, c.cut_mm) for c in cut.cuts if not c.cable]
    return [
        (part, PlannedPiece(piece, number, label, length_mm, False))
        for number in range(1, quantity + 1)
        for part, piece, label, length_mm in pieces
    ]


def _plan_part(
    part: tuple[str, str],
    pieces: list[PlannedPiece],
    at_hand: list[Spool],
    was_cut: list[Done],
    finished: set[tuple[str, int]],
    remnant_mm: float,
    patience_s: float,
    begin: Mapping[str, str] | None,
) -> PlannedPart:
    mine = {(p.piece, p.number): p for p in pieces}
    names = {f"{p.piece} {p.number}": p for p in pieces}
    to_cut = [p for p in pieces if (p.piece, p.number) not in finished]
    lengths = [Length(s.id, s.length_mm) for s in at_hand if s.length_mm > 0]
    plan: CutPlan = plan_cuts(
        lengths,
        [Piece(f"{p.piece} {p.number}", p.length_mm) for p in to_cut if p.length_mm > 0],
        remnant_mm,
        patience_s=patience_s,
        begin=begin,
    )
    planned = {c.id: c for c in plan.lengths}
    known = {spool.id for spool in at_hand}
    rows: list[PlannedSpool] = []
    for spool in at_hand:
        cut_off = [_cut_off(d, mine) for d in was_cut if d.spool == spool.id and (d.piece, d.number) in mine]
        next_off = [names[p.id] for p in planned[spool.id].pieces] if spool.id in planned else []
        left = spool.length_mm - sum(p.length_mm for p in next_off)
        rows.append(
            PlannedSpool(
                spool.id,
                *part,
                spool.remnant,
                spool.place,
                round(spool.length_mm + sum(p.length_mm for p in cut_off), 3),
                (*cut_off, *next_off),
                round(max(left, 0.0), 3),
                left >= remnant_mm,
            )
        )
    rows.sort(key=lambda s: (not s.pieces, -len(s.pieces), -s.length_mm))
    return PlannedPart(
        *part,
        tuple(rows),
        tuple(names[p.id] for p in plan.short),
        tuple(_cut_off(d, mine) for d in was_cut if d.spool not in known and (d.piece, d.number) in mine),
        round(sum(p.length_mm for p in to_cut), 3),
        round(plan.short_mm, 3),
        plan.waste_mm,
        plan.lower_bound_mm,
        plan.proved,
    )


def _cut_off(done: Done, mine: Mapping[tuple[str, int], PlannedPiece]) -> PlannedPiece:
    label = mine[done.piece, done.number].label
    return PlannedPiece(done.piece, done.number, label, done.length_mm, True, done.spoiled)


def find_in_plan(plan: SpoolPlan, units: Measures, book: FindingBook) -> None:
    """A piece that is longer than all that is at hand of its part: one finding a part and colour.

    Where nothing of a part is at hand it is simply to be bought.
    """
    for part in plan.parts:
        if not (part.short and part.spools):
            continue
        longest = max(part.short, key=lambda p: p.length_mm)
        at_hand = max(s.left_mm + sum(p.length_mm for p in s.pieces if not p.done) for s in part.spools)
        if longest.length_mm > at_hand:
            book.add(
                "spool-short",
                Place("cut", "wire", longest.piece),
                wire=longest.label,
                cut=format_length(longest.length_mm, units, at_hand),
                part=f"{part.part} {part.colour}".strip(),
                longest=format_length(at_hand, units),
            )


def plan_sentence(words: dict[str, str], plan: SpoolPlan, units: Measures) -> str:
    """How far the cutting is, and what is cut next; nothing where no wire is at hand and none was cut."""
    if not plan.done and not any(part.spools for part in plan.parts):
        return ""
    done = words["done"].format(done=plan.done)
    if plan.done in (0, plan.pieces):
        done = words["all done" if plan.done else "none done"]
    said = ""
    for part in plan.parts:
        for spool in part.spools:
            first = next((p for p in spool.pieces if not p.done), None)
            if first is not None and not said:
                place = words["off"].format(spool=spool.place) if spool.place else ""
                said = words["next"].format(
                    length=format_length(first.length_mm, units),
                    part=f"{spool.part} {spool.colour}".strip(),
                    spool=place,
                )
    return words["plan"].format(
        pieces=many(plan.pieces, "piece"),
        spools=many(plan.spools, "spool or remnant", "spools and remnants"),
        done=done,
        next=said,
        short=words["short"].format(short=_of_wire(plan.short_mm, units)) if plan.short_mm else "",
    )


def _of_wire(length_mm: float, units: Measures) -> str:
    """So much wire as a builder would buy it."""
    return f"{length_mm / 304.8:.0f} ft" if units.length == "inch" else f"{length_mm / 1000:.1f} m"


_LINE = re.compile(
    r"(?P<length>.+?)(?:\s*[x×]\s*(?P<count>\d{1,3}))?(?P<remnant>\s+remnant)?(?:\s*(?:,|\bin\b)\s*(?P<place>.+))?",
    re.IGNORECASE,
)


def sold_lengths(catalogue: Catalogue) -> dict[str, bool]:
    """Every wire and cable that comes on a spool, by code: whether its colour is said."""
    return {
        family.sold_as(size.gauge): family.cores == 1
        for family in catalogue.wires.values()
        for size in family.sizes
    }


def spool_lines(catalogue: Catalogue, text: str) -> list[Spool]:
    """``AS22759/32 20 AWG RD 30 m in drawer 3``, a line each; ``#`` begins a remark. Ids are empty.

    Raises LineError naming the line and what is not known in it.
    """
    known = sold_lengths(catalogue)
    spools: list[Spool] = []
    for number, line in enumerate(text.splitlines(), 1):
        said = " ".join(line.partition("#")[0].split())
        if not said:
            continue
        try:
            spools += _spools_of(said, known, catalogue.colours)
        except LineError as error:
            raise LineError(f"Line {number}: {error}") from None
    if not spools:
        raise LineError("Write a wire, its colour and a length, as in AS22759/32 20 AWG RD 30 m.")
    return spools


def _spools_of(line: str, known: Mapping[str, bool], colours: Mapping[str, str]) -> list[Spool]:
    low = line.lower()
    code = max((c for c in known if low.startswith(f"{c.lower()} ")), key=len, default=None)
    if code is None:
        near = get_close_matches(line[:24].upper(), [c.upper() for c in known], n=3, cutoff=0.4)
        candidates = [c for c in known if c.upper() in near]
        raise LineError(
            f"There is no wire {line.partition(' ')[0]!r} with such a gauge and a length. "
            + (f"Is it {', '.join(candidates)}?" if candidates else "Look it up under Find a part.")
        )
    rest = line[len(code) :].strip()
    colour = ""
    if known[code]:
        colour, _, rest = rest.partition(" ")
        colour = colour.upper()
        if not colour or not all(c in colours for c in colour.split("/")):
            raise LineError(
                f"Say the colour of {code}, as in {code} RD 30 m; {colour or 'nothing'!r} is none."
            )
    match = _LINE.fullmatch(rest)
    if match is None:
        raise LineError(f"Say how much of {code} there is, as in 30 m in drawer 3.")
    try:
        length_mm = parse_length_mm(match["length"])
    except QuantityError as error:
        raise LineError(f"{code}: {error}") from None
    if not 0 < length_mm <= _LONGEST_MM:
        raise LineError(
            f"{code}: {match['length']!r} is no length of a spool: more than none, at most 10 km."
        )
    count = int(match["count"] or 1)
    if not 1 <= count <= _SPOOLS_AT_MOST:
        raise LineError(f"{code}: {count} spools; say 1 to {_SPOOLS_AT_MOST}.")
    one = Spool("", code, colour, length_mm, bool(match["remnant"]), (match["place"] or "").strip())
    return [one] * count


_LONGEST_MM = 1e7
_SPOOLS_AT_MOST = 200
