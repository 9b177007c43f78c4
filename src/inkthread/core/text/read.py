"""A harness read from text: typed lines under headings, with the words and refusals of the screen."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from dataclasses import fields
from typing import Any

from inkthread.core.brief.zone_line import zone_into
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.statements import cable_statement, circuits_into
from inkthread.core.document.complete import whole
from inkthread.core.document.draft import Draft, LineError, copied
from inkthread.core.document.problems import pointer
from inkthread.core.document.starter import new_document
from inkthread.core.document.types import Document
from inkthread.core.document.values import HIDDEN
from inkthread.core.ends.lines import connector_into
from inkthread.core.measures import UNITS_OF_BRIEF
from inkthread.core.record import record
from inkthread.core.route.lines import run_into
from inkthread.core.text.brief_lines import brief_into
from inkthread.core.typed.grammar import TypedError
from inkthread.core.typed.made import what_is_made
from inkthread.core.wire.lines import wire_statement

HEADINGS = ("brief", "zones", "circuits", "route", "ends", "wire", "cables", "also")
"""Headings, in the order in which a harness is written."""
STATED = tuple(f.name for f in fields(Document) if not f.name.startswith("format"))
"""Rooms of a document, in its order."""
MOST_LINES = 20_000
_MOST_PROBLEMS = 20


@record
class LineMade:
    """A line that is understood, and what it made in words."""

    number: int
    text: str
    says: tuple[str, ...]


@record
class LineProblem:
    """A line that is refused: its number, the letters that are meant, and why."""

    number: int
    text: str
    start: int
    end: int
    says: str


@record
class TextRead:
    """What a text comes to. ``document`` is None where a line is refused."""

    document: dict[str, Any] | None
    made: tuple[LineMade, ...]
    problems: tuple[LineProblem, ...]


def read_text(
    text: str, catalogue: Catalogue, onto: dict[str, Any] | None = None, *, says: bool = True
) -> TextRead:
    """Read a harness from lines, into a new document or ``onto`` one. Never raises.

    ``says`` asks for what each line made in words. Ids may stand before a zone or a branch, as ``hot = ...``.
    """
    reader = _Reader(catalogue, onto or new_document("", "vehicle"), says=says)
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    if len(lines) > MOST_LINES:
        reader.refuse(MOST_LINES, "", 0, 0, f"More than {MOST_LINES} lines. Read it in parts.")
        lines = []
    for number, line in enumerate(lines, 1):
        reader.line(number, line)
        if len(reader.problems) >= _MOST_PROBLEMS:
            break
    document = None if reader.problems else reader.draft.plain
    return TextRead(document, tuple(reader.made), tuple(reader.problems))


class _Reader:
    def __init__(self, catalogue: Catalogue, plain: dict[str, Any], *, says: bool) -> None:
        self.catalogue = catalogue
        self.draft = Draft(whole(plain))
        self.heading = ""
        self.says = says
        self.shadow = copied(self.draft.plain)
        """The document as it was before the line that is being read."""
        self.made: list[LineMade] = []
        self.problems: list[LineProblem] = []

    def refuse(self, number: int, text: str, start: int, end: int, says: str) -> None:
        self.problems.append(LineProblem(number, text, start, end, says))

    def line(self, number: int, line: str) -> None:
        """Read one line, a heading, a remark or nothing."""
        text = _without_remark(line)
        stripped = text.strip()
        if not stripped:
            return
        offset = len(text) - len(text.lstrip())
        heading = re.fullmatch(r"\[\s*(.*?)\s*\]", stripped)
        if heading is not None:
            self.heading = heading[1].lower()
            if self.heading not in HEADINGS:
                known = ", ".join(f"[{s}]" for s in HEADINGS)
                self.refuse(number, line, offset, len(text), f"{stripped} is no heading. They are {known}.")
            return
        begun = len(self.draft.operations)
        try:
            if HIDDEN.search(stripped):
                raise LineError("There is a character in it that cannot be written. Type it without.")
            self._read(stripped)
        except TypedError as error:
            shift = offset + (
                len(stripped) - len(stripped.partition("=")[2].lstrip()) if error.shifted else 0
            )
            self.refuse(number, line, shift + error.start, shift + error.end, str(error))
            return
        except LineError as error:
            self.refuse(number, line, offset, offset + len(stripped), str(error))
            return
        self.made.append(LineMade(number, stripped, self._said(begun)))

    def _read(self, text: str) -> None:
        if self.heading not in _READERS:
            if self.heading in HEADINGS or not self.heading:
                raise LineError(f"Put a heading before it: [{'], ['.join(HEADINGS)}].")
            return  # the heading is refused already
        _READERS[self.heading](self.draft, self.catalogue, text)

    def _said(self, begun: int) -> tuple[str, ...]:
        """What the operations since then made, in words."""
        touched = {
            tuple(p.replace("~1", "/").replace("~0", "~") for p in op["path"].split("/")[1:4])
            for op in self.draft.operations[begun:]
        }
        if not self.says or not touched:
            self.draft.operations.clear()
            return ()
        before = _only(self.shadow, touched)
        said = tuple(what_is_made(before, self.draft.plain, self.catalogue, touched=touched))
        for path in touched:
            _follow(self.shadow, self.draft.plain, path)
        self.draft.operations.clear()
        return said


def _only(plain: dict[str, Any], touched: set[tuple[str, ...]]) -> dict[str, Any]:
    """The entries of a document that are touched, as they are in it."""
    brief = plain["brief"]
    only: dict[str, Any] = {"brief": {name: brief[name] for name in UNITS_OF_BRIEF if name in brief}}
    for path in touched:
        node, kept = plain, only
        for part in path[:-1]:
            node = node.get(part, {}) if isinstance(node, dict) else {}
            kept = kept.setdefault(part, {})
        if isinstance(node, dict) and path[-1] in node:
            kept[path[-1]] = node[path[-1]]
    return only


def _follow(shadow: dict[str, Any], plain: dict[str, Any], path: tuple[str, ...]) -> None:
    """Make an entry of the shadow what it now is."""
    node, now = shadow, plain
    for part in path[:-1]:
        if part not in now:
            node.pop(part, None)
            return
        node, now = node.setdefault(part, {}), now[part]
    if path[-1] in now:
        node[path[-1]] = copied(now[path[-1]])
    else:
        node.pop(path[-1], None)


def _without_remark(line: str) -> str:
    """The line without what follows ``#`` at its beginning or after a blank, outside quotes; ``#18`` is a
    gauge.
    """
    quoted = False
    for n, letter in enumerate(line):
        if letter == '"':
            quoted = not quoted
        elif (
            letter == "#"
            and not quoted
            and (n == 0 or line[n - 1] in " \t")
            and not re.match(r"#\s*\d", line[n:])
        ):
            return line[:n]
    return line.rstrip()


def _zone(draft: Draft, catalogue: Catalogue, text: str) -> None:
    zone_id, rest = _id_before(text)
    with _shifted(bool(zone_id)):
        zone_into(draft, rest, catalogue.fluids, zone_id)


def _run(draft: Draft, _: Catalogue, text: str) -> None:
    branch_id, rest = _id_before(text)
    known = set(draft.at("route", "branches"))
    with _shifted(bool(branch_id)):
        run_into(draft, rest)
    if branch_id:
        new = [b for b in draft.at("route", "branches") if b not in known]
        if len(new) != 1:
            raise LineError(f"{branch_id} is one branch: write {branch_id} = a 300 > b.")
        if new[0] != branch_id:
            branch = draft.at("route", "branches", new[0])
            draft.drop("route", "branches", new[0])
            draft.put(branch, "route", "branches", branch_id)


def _id_before(text: str) -> tuple[str, str]:
    said = re.match(r"([A-Za-z0-9][A-Za-z0-9_+\-]{0,39})\s*=\s+", text)
    return (said[1], text[said.end() :]) if said is not None else ("", text)


class _shifted:  # noqa: N801 - read as a word of the line it stands in
    """Says of a refusal that its letters are counted from behind the id and ``=``."""

    def __init__(self, shifted: bool) -> None:
        self.shifted = shifted

    def __enter__(self) -> None:
        return None

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if self.shifted and isinstance(error, TypedError):
            error.shifted = True


def _also(draft: Draft, _: Catalogue, text: str) -> None:
    """``circuits/devices/M1/moving = true``, ``remove path`` or ``order path: a b c``."""
    ordered = re.fullmatch(r"order\s+(\S+)\s*:\s*(.*)", text)
    removed = re.fullmatch(r"remove\s+(\S+)", text)
    stated = re.fullmatch(r"(\S+)\s*=\s*(.*)", text)
    if ordered is not None:
        path = _path(ordered[1])
        entries = draft.at(*path)
        for n, entry_id in enumerate(ordered[2].split(), 1):
            if entry_id not in entries:
                raise LineError(f"There is no {entry_id} in {ordered[1]}.")
            draft.put(float(n), *path, entry_id, "order")
        return
    said = removed or stated
    if said is None:
        raise LineError("Write a path and its value: circuits/devices/M1/moving = true.")
    path = _path(said[1])
    above = draft.at(*path[:-1])
    if not isinstance(above, dict) or (removed and path[-1] not in above):
        raise LineError(f"There is nothing at {said[1]}.")
    if removed is not None:
        draft.drop(*path)
        return
    try:
        value = json.loads(said[2])
    except ValueError:
        raise LineError(
            f'{said[2]!r} is no value: a number, true, false, null or "words in quotes".'
        ) from None
    draft.put(value, *path)


def _path(text: str) -> tuple[str, ...]:
    parts = tuple(p.replace("~1", "/").replace("~0", "~") for p in text.strip("/").split("/"))
    if parts[0] not in STATED or len(parts) < 2:
        known = f"{', '.join(STATED[:-1])} or {STATED[-1]}"
        raise LineError(f"{text!r} is no place in a harness. It begins with {known}.")
    return parts


def path_text(parts: tuple[str, ...]) -> str:
    """A place in a document as ``[also]`` names it."""
    return pointer(list(parts)).lstrip("/")


_READERS: dict[str, Callable[[Draft, Catalogue, str], None]] = {
    "brief": brief_into,
    "zones": _zone,
    "circuits": circuits_into,
    "route": _run,
    "ends": connector_into,
    "wire": wire_statement,
    "cables": cable_statement,
    "also": _also,
}
