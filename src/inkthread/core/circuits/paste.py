"""A from-to list out of a spreadsheet: columns matched, every line understood or refused with its reason."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.joining import circuit_of, join_pins, loads_at
from inkthread.core.circuits.kind_of_name import guess_kind
from inkthread.core.circuits.lines import feed_into
from inkthread.core.circuits.new_device import add_device, place_pin
from inkthread.core.document.complete import complete, whole
from inkthread.core.document.draft import Draft, LineError, next_order
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.values import HIDDEN
from inkthread.core.measures import format_current
from inkthread.core.quantity import QuantityError, parse_current_a, parse_gauge
from inkthread.core.record import record
from inkthread.core.table import TableError, read_table

Meaning = Literal[
    "from",
    "from device",
    "from pin",
    "to",
    "to device",
    "to pin",
    "name",
    "gauge",
    "colour",
    "current",
    "leave out",
]
MEANINGS: tuple[Meaning, ...] = get_args(Meaning)
MOST_LINES = 2000
_REASON = "from the list"
_MOST_COLUMNS = 40

_HEADS: tuple[tuple[str, Meaning], ...] = (
    (r"(from|source|start|a)[ _.-]*(pin|cavity|cav|way|terminal|contact|pos\w*)", "from pin"),
    (r"(to|dest\w*|end|b)[ _.-]*(pin|cavity|cav|way|terminal|contact|pos\w*)", "to pin"),
    (r"(from|source|start)[ _.-]*(device|connector|conn|component|unit|ref)", "from device"),
    (r"(to|dest\w*|end)[ _.-]*(device|connector|conn|component|unit|ref)", "to device"),
    (r"from|source|start|end a|a", "from"),
    (r"to|dest\w*|end b|b", "to"),
    (r"(circuit|signal|net|function|wire)?[ _.-]*(name|description|label)|circuit|signal|function", "name"),
    (r"gauge|awg|size|mm2|mm²|section|csa|cross.*", "gauge"),
    (r"colou?r|col", "colour"),
    (r"current|amps?|load|a max", "current"),
)
_REF = re.compile(r"\s*([A-Za-z][A-Za-z0-9_]{0,30})\s*[.:/ -]\s*([A-Za-z0-9_+-]{1,30})\s*")
_DEVICE = re.compile(r"[A-Za-z0-9][A-Za-z0-9_+-]{0,39}")
_PIN = re.compile(r"[A-Za-z0-9_+-]{1,40}")
_ROLES: tuple[tuple[str, str], ...] = (
    (r"gnd|ground|return|earth|\b0 ?v\b|negative", "ground"),
    (r"shield|screen|drain", "drain"),
    (r"can[ _-]?[hl]?\b|data|\brx|\btx|bus", "data"),
    (r"feed|supply|batt|\+ ?\d+ ?v|\b\d+ ?v\b|positive|power", "supply_in"),
)


@record
class PasteColumn:
    """One column of the list and what it is taken to mean."""

    head: str
    """Its heading; empty where the list has none."""
    sample: str
    meaning: Meaning


@record
class PasteLine:
    """One line: what was understood, or why it is refused."""

    number: int
    text: str
    says: str
    notes: tuple[str, ...]
    problem: str | None


@dataclass(slots=True)
class PastePlan:
    """What putting a list in would do."""

    columns: tuple[PasteColumn, ...]
    headed: bool
    """Whether the first line is headings."""
    lines: tuple[PasteLine, ...]
    operations: list[dict[str, Any]] = field(default_factory=list)

    @property
    def taken(self) -> int:
        """Lines that are understood."""
        return sum(line.problem is None for line in self.lines)

    @property
    def refused(self) -> str:
        """The lines that are not, as they were pasted, headings first."""
        return "\n".join(line.text for line in self.lines if line.problem is not None)


def read_list(
    plain: dict[str, Any],
    catalogue: Catalogue,
    text: str,
    meanings: list[str] | None = None,
    headed: bool | None = None,
) -> PastePlan:
    """Understand a pasted list line by line. Raises LineError where there is nothing to read.

    ``meanings`` names each column, and ``headed`` says whether the first line is headings; what is not
    given is guessed. A line that is refused changes nothing.
    """
    if HIDDEN.search(text):
        raise LineError("There is a character in it that cannot be written. Take it out.")
    stored, plain = plain, whole(plain)
    rows = _cells(text)
    if not rows:
        raise LineError("There is nothing to read. Copy the lines in the spreadsheet, then paste them here.")
    if len(rows) > MOST_LINES:
        raise LineError(f"{len(rows)} lines are more than {MOST_LINES}. Paste them in parts.")
    wide = max(len(r) for _, r in rows)
    if wide > _MOST_COLUMNS:
        raise LineError(f"{wide} columns are more than {_MOST_COLUMNS}. Copy only the ones that matter.")
    first = rows[0][1]
    if headed is None:
        headed = sum(_by_head(c) is not None for c in first) >= 2
    heads = [c.strip() for c in first] if headed else []
    body = rows[1:] if headed else rows
    guessed = _guess(heads, [r for _, r in body], wide, catalogue)
    chosen: list[Meaning] = []
    for n in range(wide):
        given = meanings[n] if meanings is not None and n < len(meanings) else guessed[n]
        if given not in MEANINGS:
            raise LineError(f"A column cannot mean {given!r}. It can mean {', '.join(MEANINGS)}.")
        chosen.append(given)
    columns = tuple(
        PasteColumn(
            heads[n] if n < len(heads) else "",
            next((r[n].strip() for _, r in body if n < len(r) and r[n].strip()), ""),
            chosen[n],
        )
        for n in range(wide)
    )
    reader = _Reader(Draft(plain), catalogue, chosen)
    lines = []
    for n, (raw, row) in enumerate(body, 2 if headed else 1):
        try:
            says, notes = reader.read(row)
            lines.append(PasteLine(n, raw, says, tuple(notes), None))
        except LineError as error:
            lines.append(PasteLine(n, raw, "", (), str(error)))
    return PastePlan(columns, headed, tuple(lines), complete(stored, reader.draft.operations))


def _cells(text: str) -> list[tuple[str, list[str]]]:
    """Lines that hold anything, raw and in cells: tabs, else semicolons, else commas between."""
    lines = [
        line for line in text.replace("\r\n", "\n").replace("\r", "\n").split("\n") if line.strip(" \t,;")
    ]
    if not lines:
        return []
    mark = max("\t;,", key=lambda m: (sum(m in line for line in lines), m == "\t"))
    return [(line, next(iter(_row(line, mark)), [])) for line in lines]


def _row(line: str, mark: str) -> list[list[str]]:
    try:
        return read_table(line, mark)
    except TableError as error:
        raise LineError(f"{line[:40]!r}: {error}") from None


def _by_head(cell: str) -> Meaning | None:
    word = re.sub(r"\s*\(.*?\)|[#*]", "", cell).strip().lower()
    return next((m for pattern, m in _HEADS if re.fullmatch(pattern, word)), None) if word else None


def _guess(heads: list[str], body: list[list[str]], wide: int, catalogue: Catalogue) -> list[Meaning]:
    meanings: list[Meaning] = []
    for n in range(wide):
        meaning = _by_head(heads[n]) if n < len(heads) else None
        if meaning is None and not heads:
            meaning = _by_cells(
                [r[n].strip() for r in body if n < len(r) and r[n].strip()], meanings, catalogue
            )
        meanings.append("leave out" if meaning is None or meaning in meanings else meaning)
    # "from" beside "from pin" is the device alone.
    for side in ("from", "to"):
        if side in meanings and f"{side} pin" in meanings:
            meanings[meanings.index(side)] = f"{side} device"  # type: ignore[call-overload]
    return meanings


def _by_cells(cells: list[str], taken: list[Meaning], catalogue: Catalogue) -> Meaning | None:
    """What a column without a heading looks like, by most of its cells."""

    def most(test: Any) -> bool:
        return bool(cells) and sum(bool(test(c)) for c in cells) > len(cells) * 0.7

    if most(_REF.fullmatch):
        return "from" if "from" not in taken else "to" if "to" not in taken else None
    if most(lambda c: all(p in catalogue.colours for p in c.upper().split("/"))):
        return "colour"
    if most(lambda c: re.search(r"awg|mm", c.lower()) and _gauge(c)):
        return "gauge"
    if most(lambda c: re.fullmatch(r"[\d.,]+ *m?a(mps?)?", c.lower())):
        return "current"
    if most(lambda c: re.search(r"[a-z]{3}", c.lower())):
        return "name"
    return None


def _gauge(text: str) -> str | None:
    try:
        return parse_gauge(text if re.search(r"[a-z]", text.lower()) else f"{text} AWG").name
    except QuantityError:
        return None


class _Reader:
    """Reads lines one after another into a draft. A line is looked through before anything is changed."""

    def __init__(self, draft: Draft, catalogue: Catalogue, meanings: list[Meaning]) -> None:
        self.draft = draft
        self.catalogue = catalogue
        self.place = {m: n for n, m in enumerate(meanings) if m != "leave out"}
        self.cavities = {(e["connector"], e["cavity"]): ref for ref, e in draft.at("ends", "pinout").items()}

    # A row, cell by cell.
    def read(self, row: list[str]) -> tuple[str, list[str]]:  # noqa: C901
        cells: dict[Meaning, str] = {
            m: row[n].strip() for m, n in self.place.items() if n < len(row) and row[n].strip()
        }
        typed = self._typed(cells)
        if typed is None:
            a, b = self._ref(cells, "from"), self._ref(cells, "to")
            if a == b:
                raise LineError(f"{a} cannot be joined to itself.")
        gauge = None
        if "gauge" in cells:
            gauge = _gauge(cells["gauge"])
            if gauge is None:
                raise LineError(f"{cells['gauge']!r} is no gauge. Write 18 AWG or 0.75 mm2, or leave it out.")
        colour = cells.get("colour", "").upper().replace(" ", "").replace("-", "/") or None
        if colour and not all(p in self.catalogue.colours for p in colour.split("/")):
            known = ", ".join(self.catalogue.colours)
            raise LineError(f"{cells['colour']!r} is no colour. Codes are {known}; RD/WH has a tracer.")
        current_a = None
        if "current" in cells:
            try:
                current_a = parse_current_a(cells["current"])
            except QuantityError as error:
                raise LineError(str(error)) from None
        name = cells.get("name", "")
        notes: list[str] = []
        if typed is not None:
            a, b = self._as_feed(typed, notes)
            circuit = circuit_of(self.draft, a)
            assert circuit is not None
            if name:
                self.draft.put(name, "circuits", "circuits", circuit, "name")
            self._fix(circuit, gauge, colour, notes)
            if current_a is not None:
                self._load(b, current_a, notes)
            return f"{a} and {b} joined in {circuit}", notes
        for ref in (a, b):
            self._make(ref, name, notes)
        before = circuit_of(self.draft, a)
        same = before is not None and before == circuit_of(self.draft, b)
        join_pins(self.draft, a, b)
        circuit = circuit_of(self.draft, a)
        assert circuit is not None
        if (
            name
            and not same
            and self.draft.at("circuits", "circuits", circuit)["name"] != name
            and before is None
        ):
            self.draft.put(name, "circuits", "circuits", circuit, "name")
        self._fix(circuit, gauge, colour, notes)
        if current_a is not None:
            self._load(b, current_a, notes)
        return f"{a} and {b} {'are joined already' if same else f'joined in {circuit}'}", notes

    def _typed(self, cells: dict[Meaning, str]) -> str | None:
        """The line as a feed, where an end is said in words; None where both are a device and its pin.

        ``M1 fuel pump 5 A``, ``battery``, or a device that is there already, without its pin.
        """
        said, words = [], False
        sides: tuple[tuple[Meaning, Meaning, Meaning], ...] = (
            ("from", "from device", "from pin"), ("to", "to device", "to pin"),
        )  # fmt: skip
        for side, device, pin in sides:
            text = cells.get(side) or cells.get(device)
            if text is None:
                return None
            if pin in cells:
                said.append(f"{text}.{cells[pin]}")
                continue
            if pin in self.place and " " not in text:
                return None  # there is a column for its pin, and nothing in it
            match = _REF.fullmatch(text)
            known = self.draft.at("circuits", "devices").get(match[1] if match else text, {}).get("pins", {})
            in_words = match is None or (
                match[2] not in known
                and (match[1], match[2]) not in self.cavities
                and re.fullmatch(r"\S+ +[A-Za-z]{3,}", text) is not None
            )
            words = words or in_words
            said.append(text if in_words or match is None else f"{match[1]}.{match[2]}")
        return " > ".join(said) if words and not any(">" in field for field in said) else None

    def _as_feed(self, line: str, notes: list[str]) -> tuple[str, str]:
        """Put the line in by the grammar of the add line; both pins that it joins. A refused one changes
        nothing.
        """
        kept = self.draft
        try:
            self.draft = Draft(kept.plain)
            self._pins_of_the_list(line, [])
            for visit in feed_into(self.draft, self.catalogue, line):
                if visit.new and not (visit.step.place and visit.step.name):
                    said = visit.step.name or visit.step.place
                    raise LineError(
                        f"{said!r} names no device and pin. Write A1.3, A1-3, or M1 fuel pump 5 A."
                    )
        finally:
            self.draft = kept
        self._pins_of_the_list(line, notes)
        visits = feed_into(self.draft, self.catalogue, line)
        first, last = visits
        for visit in visits:
            if visit.new:
                kind = self.draft.at("circuits", "devices", visit.device, "kind")
                notes.append(f"new: {visit.device}, {self.catalogue.kinds[kind].label}")
        return f"{first.device}.{first.left}", f"{last.device}.{last.entered}"

    def _pins_of_the_list(self, line: str, notes: list[str]) -> None:
        """Pins that the list names of devices that are there, made as elsewhere in a list."""
        for end in line.split(" > "):
            device, dot, pin = end.partition(".")
            if dot and _PIN.fullmatch(pin) and device in self.draft.at("circuits", "devices"):
                self._make(end, "", notes)

    def _ref(self, cells: dict[Meaning, str], side: Literal["from", "to"]) -> str:
        whole: Meaning = side
        device: Meaning = "from device" if side == "from" else "to device"
        pin: Meaning = "from pin" if side == "from" else "to pin"
        if whole in cells:
            match = _REF.fullmatch(cells[whole])
            if match is None and whole in cells and pin in cells:
                parts = (cells[whole], cells[pin])
            elif match is None:
                raise LineError(f"{cells[whole]!r} names no device and pin. Write A1.3 or A1-3.")
            else:
                parts = (match[1], match[2])
        elif device in cells and pin in cells:
            parts = (cells[device], cells[pin])
        else:
            raise LineError(f"It does not say {side} where. Match a column to {side!r}, or fill the cell.")
        name, pin_id = parts[0].strip(), parts[1].strip()
        if name in self.draft.at("circuits", "devices") and pin_id in self.draft.at(
            "circuits", "devices", name, "pins"
        ):
            return f"{name}.{pin_id}"
        if (name, pin_id) in self.cavities:
            return str(self.cavities[name, pin_id])
        if not _DEVICE.fullmatch(name):
            raise LineError(f"{name!r} cannot be a device's name: letters, digits, - and _ only.")
        if not _PIN.fullmatch(pin_id):
            raise LineError(f"{pin_id!r} cannot be a pin: letters, digits, + - and _ only.")
        return f"{name}.{pin_id}"

    def _make(self, ref: str, name: str, notes: list[str]) -> None:
        """Put in the device and pin that are not there yet."""
        device, pin = read_ref(ref)
        devices = self.draft.at("circuits", "devices")
        if device not in devices:
            kind_id = guess_kind(self.catalogue, "", device)
            kind = self.catalogue.kinds[kind_id]
            if pin in {p.id for p in kind.pins}:
                add_device(self.draft, self.catalogue, device, kind.label, kind_id)
                notes.append(f"new: {device}, {kind.label}")
            else:
                add_device(self.draft, self.catalogue, device, device, "other", pins=False)
                notes.append(f"new: {device}, whose pins are those of the list")
        pins = self.draft.at("circuits", "devices", device, "pins")
        if pin in pins:
            return
        role = next((r for pattern, r in _ROLES if re.search(pattern, f"{pin} {name}".lower())), "signal")
        self.draft.put(
            {"order": next_order(pins), "role": role, "name": name},
            "circuits",
            "devices",
            device,
            "pins",
            pin,
        )
        if len(pins) > 1:
            notes.append(f"new pin {ref}")
        if device in self.draft.at("ends", "connectors"):
            try:
                place_pin(self.draft, self.catalogue, ref, device)
            except LineError as error:
                notes.append(f"{ref} has no cavity yet: {error}")

    def _fix(self, circuit: str, gauge: str | None, colour: str | None, notes: list[str]) -> None:
        """What the list says of the wire is fixed, and judged as strictly as the program's own choice."""
        fixed = self.draft.at("wire", "fixed")
        if len(self.draft.at("circuits", "circuits", circuit, "ends")) > 2:
            if fixed.get(circuit, {}).get("reason") == _REASON:
                self.draft.drop("wire", "fixed", circuit)
                notes.append(f"{circuit} is several wires now: gauge and colour of a line before are dropped")
            elif gauge or colour:
                notes.append(f"gauge and colour not taken: {circuit} is several wires")
            return
        if not gauge and not colour:
            return
        self.draft.put(
            {
                "order": self.draft.next_order("wire", "fixed"),
                "reason": _REASON,
                "gauge": gauge,
                "colour": colour,
                "family": None,
            },
            "wire",
            "fixed",
            circuit,
        )

    def _load(self, ref: str, current_a: float, notes: list[str]) -> None:
        device = device_of(ref)
        having = loads_at(self.draft, device)
        if having:
            self.draft.put(current_a, "circuits", "loads", having[0], "current_a")
            return
        notes.append(f"{format_current(current_a)} not taken: {device} is no load yet")
