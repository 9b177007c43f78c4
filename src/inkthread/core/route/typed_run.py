"""What a typed run says: its points, how far it is to the next, how that was measured, and where it lies."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from inkthread.core.document.draft import LineError
from inkthread.core.document.values import MeasuredHow, PointEdge, Sheath
from inkthread.core.measures import Measures
from inkthread.core.quantity import QuantityError, parse_length_mm
from inkthread.core.record import record
from inkthread.core.typed.grammar import TypedError, parse_line, steps_apart

if TYPE_CHECKING:
    from lark import Token, Tree

_HOW: tuple[tuple[str, MeasuredHow], ...] = (
    ("laid", "laid in place"),
    ("old", "old part"),
    ("copied", "old part"),
    ("tape", "tape"),
    ("model", "model"),
    ("guess", "guess"),
)
_OPENINGS = ("grommet", "opening", "hole", "gland")
_CLAMPS = ("clamp", "clip", "p-clip")
_IN = ("in", "through", "along", "zone", "the")


@record
class Stop:
    """One point of a typed run and what is said of the way on. ``start`` and ``end`` count letters."""

    start: int
    end: int
    point: str
    name: str = ""
    named: bool = False
    """Whether a name was said, be it none."""
    kind: str | None = None
    """``opening`` or ``clamp`` where the words say so."""
    opening_mm: float | None = None
    length_mm: float | None = None
    slack_mm: float | None = None
    uncertainty_mm: float | None = None
    measured: MeasuredHow | None = None
    measured_on: str = ""
    edge: PointEdge | None = None
    separators: bool | None = None
    support_mm: float | None = None
    apart_mm: float | None = None
    sheath: Sheath | None = None
    zone: str | None = None


def read_run(text: str, zones: dict[str, Any], units: Measures) -> list[Stop]:
    """The points of a typed run, in order. A zone is named by its id or its name. Raises TypedError."""
    steps_apart(text, "B1 300 > tail 250 > M1")
    tree = parse_line("run", text)
    stops = [_read_stop(stop, text, zones, units) for stop in tree.find_data("stop")]
    stops.sort(key=lambda s: s.start)
    if len(stops) < 2:
        raise LineError("A run has at least two points. Write B1 300 > tail 250 > M1.")
    last = stops[-1]
    if last.opening_mm is None and last.kind == "opening" and last.length_mm is not None:
        last = stops[-1] = replace(last, opening_mm=last.length_mm, length_mm=None)
    if last.length_mm is not None:
        said = text[last.start : last.end].strip()
        raise TypedError(f"{said!r} leads nowhere: write > and the point it reaches.", last.start, last.end)
    for stop, after in pairwise(stops):
        if stop.length_mm is None:
            raise TypedError(
                f"How far is it from {stop.point} to {after.point!r}? Write {stop.point} 300.",
                stop.start,
                stop.end,
            )
        if stop.length_mm <= 0:
            raise TypedError(
                f"The length after {stop.point} is zero. Measure it, or leave the point out.",
                stop.start,
                stop.end,
            )
    return stops


def read_point(text: str, units: Measures) -> Stop:
    """A single point and the length after it: ``mid 120``. Raises TypedError."""
    if ">" in text:
        raise TypedError("Name one point: mid 120.", text.index(">"), text.index(">") + 1)
    (tree,) = parse_line("run", text).find_data("stop")
    return _read_stop(tree, text, {}, units)


# One line for each rule of the grammar.
def _read_stop(tree: Tree[Token], text: str, zones: dict[str, Any], units: Measures) -> Stop:  # noqa: C901
    tokens = list(tree.scan_values(lambda _: True))
    stop = Stop(int(tokens[0].start_pos or 0), int(tokens[-1].end_pos or 0), str(tokens[0]))
    name: list[str] = []
    after: list[Token] = []
    lengths: list[float] = []
    measured = False
    for part in tree.children[1:]:
        rule = getattr(part, "data", None)
        if rule is None:
            continue
        children: list[Any] = part.children  # type: ignore[union-attr]
        token = children[0]
        if rule in ("word", "bracket"):
            (after if measured else name).append(token if measured else str(token).strip('"'))  # type: ignore[arg-type]
            continue
        measured = measured or bool(lengths) or rule != "measure" or not _is_opening(name)
        if rule == "measure":
            lengths.append(_length(token, units, text, zones))
        elif rule == "slack":
            value = _length(next(t for t in children if t.type == "MEASURE"), units, text, zones)
            stop = replace(stop, slack_mm=(stop.slack_mm or 0.0) + value)
        elif rule == "plus_minus":
            stop = replace(stop, uncertainty_mm=_length(children[-1], units, text, zones))
        elif rule == "how":
            said = str(token).lower()
            stop = replace(stop, measured=next(how for word, how in _HOW if word in said))
        elif rule == "separators":
            stop = replace(stop, separators=True)
        elif rule in ("held", "apart"):
            value = _length(children[-1], units, text, zones)
            stop = replace(stop, support_mm=value) if rule == "held" else replace(stop, apart_mm=value)
        elif rule == "sheath":
            stop = replace(stop, sheath="enclosure" if "enclos" in str(token).lower() else "sheath")
        elif rule == "measured_on":
            stop = replace(stop, measured_on=str(children[-1]))
    if _is_opening(name):
        stop = replace(stop, kind="opening", edge=_edge(name))
    elif any(w in _CLAMPS for w in _words(name)):
        stop = replace(stop, kind="clamp")
    if len(lengths) > 1 and stop.kind == "opening":
        stop = replace(stop, opening_mm=lengths.pop(0))
    if len(lengths) > 1:
        raise TypedError(
            f"Two lengths stand after {stop.point}. Write one, with its slack or + more: {stop.point} 1 m "
            "slack 150.",
            stop.start,
            stop.end,
        )
    zone = _zone(after, zones, stop, text) if after else None
    return replace(
        stop, name=" ".join(name), named=bool(name), length_mm=lengths[0] if lengths else None, zone=zone
    )


def _is_opening(name: list[str]) -> bool:
    return any(w.rstrip("s") in _OPENINGS for w in _words(name))


def _words(name: list[str]) -> list[str]:
    """The words of a name, those that stood in quotes too, in small letters."""
    return " ".join(name).lower().split()


def _edge(name: list[str]) -> PointEdge | None:
    """What the name of an opening says of its edge."""
    words = {w.rstrip("s") for w in _words(name)}
    if words & {"grommet", "gland"}:
        return "grommet"
    return "bare metal" if words & {"metal", "bare", "firewall"} else None


def _zone(words: list[Token], zones: dict[str, Any], stop: Stop, text: str) -> str:
    """The zone that words after a length name. Raises TypedError naming the word that is not understood."""
    said = [t for t in words if str(t).lower() not in _IN]
    phrase = re.sub(r"[()]", "", " ".join(str(t) for t in said)).lower().strip()
    for zone_id, zone in zones.items():
        if phrase and phrase in (zone_id.lower(), str(zone["name"]).lower()):
            return zone_id
    alike = [z for z, zone in zones.items() if phrase and phrase in str(zone["name"]).lower().split()]
    if len(alike) == 1:
        return alike[0]
    token = (said or words)[0]
    number = re.search(r"[\d.,]+\s*$", text[: int(token.start_pos or 0)])
    if number is not None:
        raise TypedError(
            f"{number[0]}{token}: unit {str(token)!r} is not a length. Write 340 mm or 5 ft 3.",
            number.start(),
            int(token.end_pos or 0),
        )
    known = ", ".join(str(z["name"]) for z in zones.values())
    there = f" A zone here is {known}." if known else " Put a zone in first, in Brief."
    raise TypedError(
        f"{str(token)!r} is not understood after the length at {stop.point}. Words there say how it was "
        f"measured (laid in place, tape, guess), its slack, or its zone.{there}",
        int(token.start_pos or 0),
        int(token.end_pos or 0),
    )


def _length(token: Token, units: Measures, text: str, zones: dict[str, Any]) -> float:
    """A length in mm. ``400 in oven`` is 400 in the oven where there is one, not 400 inches."""
    said = str(token).strip()
    before_in = re.fullmatch(r"(.*\S)\s+in", said, re.IGNORECASE)
    if before_in is not None and _names_zone(text[int(token.end_pos or 0) :], zones):
        said = before_in[1]
    try:
        return parse_length_mm(said, units)
    except QuantityError as error:
        raise TypedError(str(error), int(token.start_pos or 0), int(token.end_pos or 0)) from None


def _names_zone(rest: str, zones: dict[str, Any]) -> bool:
    """Whether what follows begins with a zone, by its id, its name or a word of it."""
    words = re.sub(r"^\s*the\s+", "", rest.lower()).lstrip()
    known = [
        n.lower() for z, zone in zones.items() for n in (z, str(zone["name"]), *str(zone["name"]).split())
    ]
    return any(re.match(rf"{re.escape(n)}(?![\w-])", words) for n in known if n)
