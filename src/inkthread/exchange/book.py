"""The book of a harness: all that is needed at the bench and at the machine, section by section."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Any

from inkthread.core.build import BuildPlan, board_of, fitting_steps, plan_build, steps_of
from inkthread.core.circuits.schematic import FeedLine, SchematicStep, draw_schematic
from inkthread.core.measures import (
    bare_length,
    format_current,
    format_mass,
    format_temperature,
    length_symbol,
)
from inkthread.core.prove import PlanRow, PowerSheet, expected_volts, first_power, plan_tests
from inkthread.core.prove.words import format_ohm
from inkthread.core.record import record
from inkthread.core.table import Row
from inkthread.core.workings import Workings
from inkthread.exchange.board import draw_board
from inkthread.exchange.pages import (
    Block,
    Drawn,
    Faces,
    Headed,
    Heading,
    Line,
    NoPaper,
    TableOf,
    latin,
    pages_pdf,
)
from inkthread.exchange.tables import TABLES, shown_column

_MM = 72 / 25.4


@dataclass(frozen=True)
class Book:
    """A harness as its book has it."""

    w: Workings
    revision: str
    day: date

    @cached_property
    def plan(self) -> BuildPlan:
        """The work in order."""
        return plan_build(self.w.rooms, steps_of(self.w.rooms))


@record
class Section:
    """One part of the book, which can be printed by itself."""

    title: str
    room: str
    blocks: Callable[[Book], Iterator[Block]]


def _table(book: Book, rows: Sequence[Row] | Iterator[Row], only: Sequence[str] = ()) -> TableOf:
    """Rows with their names made headings, in the harness's units; of some columns where these are named."""
    head, *rest = rows
    brief = book.w.document.brief
    names = [str(name) for name in head]
    kept = [names.index(name) for name in only] if only else list(range(len(names)))
    shown = {n: shown_column(names[n], brief.measures) for n in kept}
    money = f" ({brief.currency})" if brief.currency else ""
    headings = [shown[n][0] + (money if names[n] in ("cost", "price") else "") for n in kept]
    return TableOf([headings, *([shown[n][1](row[n]) for n in kept] for row in rest)])


def _cover(book: Book) -> Iterator[Block]:
    w, brief = book.w, book.w.document.brief
    tally = w.evaluation.tally
    yield Heading(brief.name, cover=True)
    if brief.machine:
        yield Line(brief.machine)
    yield Line(
        f"{book.revision}, {book.day.isoformat()}. {brief.quantity} to be made, by {brief.practice} practice."
    )
    yield Line(f"{tally.wires} wires, {tally.metres:.1f} m, {format_mass(tally.grams, brief.measures)}.")
    open_ones = [f for f in w.evaluation.findings if f.severity == "stop"]
    if open_ones:
        yield Line(f"Not ready: {len(open_ones)} to stop for.", bold=True)
        for finding in open_ones[:6]:
            yield Line(f"{finding.title}. {finding.what}")
    yield Line("Before you cut", bold=True)
    for caution in w.evaluation.brief.cautions:
        yield Line(caution)


def _brief(book: Book) -> Iterator[Block]:
    yield Heading("Brief")
    w, brief = book.w, book.w.document.brief
    ambient = "; ".join(sorted(w.evaluation.brief.hot_zones))
    yield TableOf(
        [
            ["stated", "as"],
            ["what is made", brief.name],
            ["machine", brief.machine],
            ["job", brief.job],
            ["to be made", brief.quantity],
            ["practice", brief.practice],
            ["supply", f"{brief.supply_nominal_v:g} V, working {brief.supply_working_v:g} V"],
            ["wire family", w.evaluation.brief.family],
            *([["hot zones", ambient]] if ambient else []),
        ]
    )
    if brief.zones:
        yield Line("Zones", bold=True)
        yield TableOf(
            [
                ["zone", "air", "what is so there"],
                *(
                    [
                        z.name or k,
                        format_temperature(z.ambient_c, brief.measures),
                        w.evaluation.brief.conditions[k],
                    ]
                    for k, z in brief.zones.items()
                ),
            ]
        )
    own = [(name, rule) for name, rule in w.brief.rules.items() if rule.origin == "house"]
    if own:
        yield Line("House rules of this harness; every other is its practice's", bold=True)
        yield TableOf(
            [
                ["rule", "in force", "practice", "because"],
                *(
                    [r.label, _ruled(w, name, r.value), _ruled(w, name, r.preset_value), r.why]
                    for name, r in own
                ),
            ]
        )


def _ruled(w: Workings, name: str, value: float | None) -> str:
    rule = w.catalogue.rules[name]
    choice = rule.choice(value)
    if choice is not None:
        return choice.label
    return "as its table says" if value is None else f"{value:g} {rule.unit}".rstrip()


def _devices(book: Book) -> Iterator[Block]:
    yield Heading("Devices and circuits")
    head, *devices = TABLES["devices"](book.w)
    yield _table(
        book, [head, *((d, name, str(kind).replace("_", " "), *rest) for d, name, kind, *rest in devices)]
    )
    circuits = book.w.document.circuits.circuits
    facts, fuses = book.w.circuits.circuits, book.w.circuits.fuses
    rows: list[Row] = [["circuit", "name", "fuse", "carries (A)", "joins"]]
    for circuit_id, circuit in circuits.items():
        own = facts[circuit_id]
        fuse = fuses.get(own.fuse or "")
        called = f"{fuse.called}, {format_current(fuse.rating_a)}" if fuse is not None else ""
        carries = round(own.carries_a, 3) if own.carries_a else ""
        rows.append([circuit_id, circuit.name, called, carries, ", ".join(circuit.ends)])
    yield TableOf(rows)


def _route(book: Book) -> Iterator[Block]:
    yield Heading("Branches")
    yield _table(book, TABLES["branches"](book.w))


def _findings(book: Book) -> Iterator[Block]:
    yield Heading("Findings")
    if not book.w.evaluation.findings:
        yield Line("Nothing was found.")
        return
    yield _table(book, TABLES["findings"](book.w), ("severity", "title", "what", "what_to_do"))


_BOX_PT, _BOX_HIGH_PT, _WAY_PT, _ROW_PT = 65.0, 24.0, 29.0, 34.0
_ACROSS = 8


def _schematic(book: Book) -> Iterator[Block]:
    yield Heading("Schematic")
    drawn = draw_schematic(book.w.document, book.w.circuits)
    if drawn.feeds:
        yield Line(
            "Each line is one feed, from its source to its load and back; "
            "what the line above shows already is dotted."
        )
    for feed in drawn.feeds:
        yield _feed(feed)
    if drawn.signals:
        yield Line("Circuits without a load of their own", bold=True)
        yield TableOf(
            [
                ["circuit", "name", "role", "joins"],
                *([s.circuit, s.name, s.role, ", ".join(s.ends)] for s in drawn.signals),
            ]
        )


def _feed(feed: FeedLine) -> Drawn:
    """Boxes of devices on a line, wrapped where it is longer than a page is wide."""
    steps = [(step, n < feed.shared) for n, step in enumerate(feed.feed)]
    steps += [(step, False) for step in feed.back]
    rows = [steps[n : n + _ACROSS] for n in range(0, len(steps), _ACROSS)]

    def draw(canvas: Any, left: float, top: float) -> None:
        for r, row in enumerate(rows):
            y = top - (r + 1) * _ROW_PT + 6
            for n, (step, shared) in enumerate(row):
                x = left + n * (_BOX_PT + _WAY_PT) + (_WAY_PT if r else 0)
                _box(canvas, step, x, y, shared=shared)

    wide = _ACROSS * (_BOX_PT + _WAY_PT) + _WAY_PT
    return Drawn(wide, len(rows) * _ROW_PT, draw)


def _box(canvas: Any, step: SchematicStep, x: float, y: float, *, shared: bool) -> None:
    canvas.setLineWidth(0.4 if shared else 1.0)
    canvas.setDash(1, 2) if shared else canvas.setDash()
    canvas.rect(x, y, _BOX_PT, _BOX_HIGH_PT)
    if step.circuit:
        canvas.line(x - _WAY_PT, y + _BOX_HIGH_PT / 2, x, y + _BOX_HIGH_PT / 2)
    canvas.setDash()
    if step.circuit:
        canvas.setFont("Helvetica", 6)
        canvas.drawCentredString(x - _WAY_PT / 2, y + _BOX_HIGH_PT / 2 + 2, latin(step.circuit)[:9])
    rating = f" {format_current(step.rating_a)}" if step.rating_a else ""
    canvas.setFont("Helvetica-Bold", 7)
    canvas.drawString(x + 3, y + 14, latin(f"{step.device}{rating}"))
    canvas.setFont("Helvetica", 6)
    canvas.drawString(x + 3, y + 5, _cut_to(canvas, latin(step.name), _BOX_PT - 6))
    pins = " ".join(p for p in (step.in_pin, step.out_pin) if p)
    canvas.drawRightString(x + _BOX_PT - 3, y + 14, latin(pins))


def _cut_to(canvas: Any, text: str, wide: float) -> str:
    while text and canvas.stringWidth(text, "Helvetica", 6) > wide:
        text = text[:-1]
    return text


def _wires(book: Book) -> Iterator[Block]:
    yield Heading("Wires")
    yield _table(book, TABLES["wires"](book.w))


def _pinouts(book: Book) -> Iterator[Block]:
    yield Heading("Pinouts")
    w, units = book.w, book.w.document.brief.measures
    for connector in w.ends.connectors.values():
        used = [c for c in connector.cavities if c.wire]
        if not used:
            continue
        point = w.document.ends.connectors[connector.id].point
        name = f" {connector.name}" if connector.name else ""
        at = f", at {point}" if point else ""
        yield Line(f"{connector.id}{name}{at}: {connector.sentence}", bold=True)
        if not w.catalogue.connectors[connector.family].loose:
            yield Faces(w.ends.faces[connector.face], frozenset(c.cavity for c in used))
        rows: list[Row] = [
            [
                "way",
                "device pin",
                "wire",
                "colour",
                "gauge",
                "contact",
                "seal",
                f"strip ({length_symbol(units)})",
            ]
        ]
        for cavity in used:
            key = cavity.wire or ""
            wire = w.wire.wires[key]
            strip = bare_length(cavity.strip_mm, units) if cavity.strip_mm else ""
            contact, seal = (part.get((cavity.pin or "", key)) for part in (w.ends.contacts, w.ends.seals))
            rows.append(
                [
                    cavity.cavity, cavity.pin, wire.label, wire.colour, wire.gauge,
                    contact.code if contact else "", seal.code if seal else "", strip,
                ]
            )  # fmt: skip
        yield TableOf(rows)


def _cut(book: Book) -> Iterator[Block]:
    yield Heading("Cut list")
    yield _table(book, TABLES["cut"](book.w))


def _dress(book: Book) -> Iterator[Block]:
    yield Heading("Covers, tubes and ties")
    yield _table(book, TABLES["branches"](book.w))
    yield _table(book, TABLES["dress"](book.w))


def _labels(book: Book) -> Iterator[Block]:
    yield Heading("Labels")
    yield _table(book, TABLES["labels"](book.w))


def _bill(book: Book) -> Iterator[Block]:
    yield Heading("Bill of materials")
    yield _table(book, TABLES["bom"](book.w))


def _tools(book: Book) -> Iterator[Block]:
    yield Heading("Tools")
    yield _table(book, TABLES["tools"](book.w))


def _order(book: Book) -> Iterator[Block]:
    yield Heading("Order of work")
    plan = book.plan
    yield Line(
        f"{len(plan.cards)} cards, {len(plan.order)} steps, {plan.minutes:.0f} standard minutes. "
        "Tick each card when it is done."
    )
    rows: list[Row] = [["", "", "card", "what is done, and what to look at", "min"]]
    for n, card in enumerate(plan.cards, 1):
        steps = [plan.operations[step] for step in card.steps]
        words = [f"{own.words} {own.look} {own.caution}".strip() for own in steps]
        minutes = round(sum(own.minutes for own in steps), 1)
        rows.append(["[  ]", n, card.title, " | ".join(words), minutes])
    yield TableOf(rows)


def _board(book: Book) -> Iterator[Block]:
    yield Heading("Board, in small")
    yield Line("Not to scale. The board at 1:1 is printed from Build.")
    board = board_of(book.w.rooms)
    if board.width_mm and board.height_mm:
        scale = min(760 / board.width_mm, 420 / board.height_mm)

        def draw(canvas: Any, left: float, top: float) -> None:
            draw_board(canvas, board, left, top, scale)

        yield Drawn(board.width_mm * scale, board.height_mm * scale, draw)


def _fitting(book: Book) -> Iterator[Block]:
    yield Heading("Fitting day")
    steps = fitting_steps(book.w.rooms)
    yield TableOf(
        [
            ["", "place", "what to do", "done"],
            *([n, s.place, s.words, "[  ]"] for n, s in enumerate(steps, 1)),
        ]
    )


def _power(book: Book) -> Iterator[Block]:
    yield Heading("First power")
    yield power_table(first_power(book.w.rooms, book.w.circuits))


def power_table(sheet: PowerSheet) -> TableOf:
    """Fuse by fuse: what it should carry in every mode, and room for what it did."""
    modes = [f"{mode or 'all on'} (A)" for mode in sheet.modes]
    rows: list[Row] = [["", "fuse", "what to do", *modes, "out above (A)", "reads (A)"]]
    for n, step in enumerate(sheet.steps, 1):
        amperes = step.amperes or ("",) * len(modes)
        rows.append([n, step.fuse, " ".join(step.words), *amperes, step.stop_a, "____" if step.fuse else ""])
    return TableOf(rows)


def _tests(book: Book) -> Iterator[Block]:
    yield Heading("Test sheet")
    plan = plan_tests(book.w.rooms)
    at = format_temperature(20, book.w.document.brief.measures)
    yield Line(f"Conductors at {at}; what the leads read by themselves is taken off.")
    rows: list[Row] = [["row", "what is measured", "should read", "reads", "who"]]
    rows += [[row.id, row.words, _should(row), "______", ""] for row in plan.rows]
    yield TableOf(rows)
    if plan.uncaught:
        yield Line(f"Nothing here would find: {'; '.join(plan.uncaught)}.")


def _should(row: PlanRow) -> str:
    if row.low_ohm is not None:
        if row.high_ohm is None:
            return f"over {format_ohm(row.low_ohm)}"
        return f"{format_ohm(row.low_ohm)} to {format_ohm(row.high_ohm)}"
    if row.low_v is not None and row.high_v is not None:
        return f"{row.low_v:.2f} to {row.high_v:.2f} V"
    return f"{row.least_n:.0f} N or more" if row.least_n is not None else "as the words say"


def _volts(book: Book) -> Iterator[Block]:
    yield Heading("Back-probe sheet")
    yield Line(
        "Volts against the battery's minus, everything plugged in, at the working supply; unplugged is with "
        "the device at that place unplugged. With the fuse named out, the place reads nothing."
    )
    sheet = expected_volts(book.w.rooms, book.w.circuits)
    modes = [f"{mode or 'all on'} (V)" for mode in sheet.modes]
    rows: list[Row] = [
        ["place", "circuit", "side", *modes, *(f"unplugged {m}" for m in modes), "fuse", "reads"]
    ]
    for row in sheet.rows:
        unplugged = (
            [f"{v:.2f}" for v in row.unplugged_v] if row.unplugged_v is not None else [""] * len(modes)
        )
        rows.append(
            [row.place, row.circuit, row.side, *(f"{v:.2f}" for v in row.volts), *unplugged, row.fuse, "____"]
        )
    yield TableOf(rows)


SECTIONS: dict[str, Section] = {
    "cover": Section("Cover", "brief", _cover),
    "brief": Section("Brief", "brief", _brief),
    "findings": Section("Findings", "brief", _findings),
    "devices": Section("Devices and circuits", "circuits", _devices),
    "schematic": Section("Schematic", "circuits", _schematic),
    "branches": Section("Branches", "route", _route),
    "wires": Section("Wire list", "wire", _wires),
    "pinouts": Section("Pinouts", "ends", _pinouts),
    "cut": Section("Cut list", "cut", _cut),
    "dress": Section("Dress list", "dress", _dress),
    "labels": Section("Labels", "dress", _labels),
    "bill": Section("Bill", "parts", _bill),
    "tools": Section("Tools", "parts", _tools),
    "order": Section("Order of work", "build", _order),
    "board": Section("Board, in small", "build", _board),
    "tests": Section("Test sheet", "prove", _tests),
    "fitting": Section("Fitting day", "build", _fitting),
    "power": Section("First power", "build", _power),
    "volts": Section("Back-probe sheet", "prove", _volts),
}


def sections_of(room: str) -> list[str]:
    """The sections that a room prints, in the book's order. Raises NoPaper where there is no such room."""
    own = [name for name, section in SECTIONS.items() if section.room == room and name != "cover"]
    if not own:
        rooms = ", ".join(dict.fromkeys(section.room for section in SECTIONS.values()))
        raise NoPaper(f"There is no room {room!r}. Take one of {rooms}.")
    return own


def book_pdf(
    book: Book,
    sections: Sequence[str] = (),
    paper: str = "",
    progress: Callable[[str, int, int], None] = lambda title, done, of: None,
) -> bytes:
    """The whole book, or some of its sections, as a PDF for black and white, on the harness's own
    paper where none is named.

    ``progress`` is told each section's title before it is made, how many are done and of how many.
    Raises NoPaper where a paper or a section is not known.
    """
    chosen = list(sections) or list(SECTIONS)
    unknown = next((name for name in chosen if name not in SECTIONS), None)
    if unknown is not None:
        raise NoPaper(f"The book has no section {unknown!r}. It has {', '.join(SECTIONS)}.")

    def blocks() -> Iterator[Block]:
        for n, name in enumerate(chosen):
            progress(SECTIONS[name].title, n, len(chosen))
            yield from SECTIONS[name].blocks(book)
        progress("pages", len(chosen), len(chosen))

    headed = Headed(book.w.document.brief.name, book.revision, book.day.isoformat())
    return pages_pdf(headed, blocks(), paper or book.w.document.brief.paper)
