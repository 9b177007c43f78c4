"""One step of a typed feed: which device it names, what it is, and what is said of it."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import field, replace
from typing import TYPE_CHECKING, Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.figures import OF_FIELDS, Ratings, figure_ratings
from inkthread.core.circuits.kind_of_name import guess_kind, head_noun, in_brackets, name_words
from inkthread.core.quantity import parse_voltage_v
from inkthread.core.record import record
from inkthread.core.typed.grammar import TypedError

if TYPE_CHECKING:
    from lark import Token, Tree


@record
class TypedStep:
    """What one step says. ``start`` and ``end`` count its letters in the line."""

    start: int
    end: int
    place: str = ""
    """The device, as typed: ``M1``."""
    entered: str | None = None
    left: str | None = None
    """Pins that are named: ``M1.2`` or ``M1.-/+``, entered and left."""
    rail_v: float | None = None
    """``+12`` is the supply of 12 V."""
    name: str = ""
    kind: str = ""
    """The kind that was said or that the name means."""
    said_kind: str = ""
    """The label of the kind, where it was said."""
    family: str | None = None
    """The family of connector that was said."""
    new_pin: str | None = None
    """The role of a pin that is to be made."""
    between: bool = False
    """It goes into the circuit that is there."""
    measured: bool = False
    """Its pins are known, as measured."""
    no_end: bool = False
    """No connector is put in with it."""
    no_pins: bool = False
    """None of the pins, paths and loads of its kind are put in with it."""
    coil: bool = False
    """A relay is entered by its coil."""
    ratings: Ratings = field(default_factory=Ratings)

    @property
    def bare(self) -> bool:
        """Whether it only names something, and says nothing of it."""
        return self.ratings == Ratings() and not (self.family or self.new_pin or self.between)


_WHICH: dict[str, Callable[[Any], bool]] = {
    "coil_a": lambda kind: any(p.kind in ("relay", "contactor") for p in kind.paths),
    "contact_a": lambda kind: any(p.kind in ("relay", "contactor", "switch") for p in kind.paths),
    "fault_a": lambda kind: kind.source is not None,
    "limit_a": lambda kind: kind.source is not None or any(p.kind == "supply" for p in kind.paths),
    "fuse_a": lambda kind: kind.source is not None and kind.source.kind == "protected feed",
}
"""Of which kinds such a figure can be said."""
_LOOSE = ("length", "time", "gauge", "ohms")
"""Figures that may as well belong to a name: a 60 mm fan, a 10 s timer."""
_SWITCHED = ("relay", "contactor")
_PIN_WORDS = {
    "pin": "signal", "signal pin": "signal", "data pin": "data", "supply pin": "supply_in",
    "supply out pin": "supply_out", "sensor supply pin": "supply_out",
    "feed pin": "supply_in", "output pin": "output_high", "low output pin": "output_low",
    "ground pin": "ground", "return pin": "sensor_return", "drain pin": "drain", "shield pin": "drain",
    "ignition pin": "ignition", "tower": "ignition",
}  # fmt: skip


def read_step(catalogue: Catalogue, tree: Tree[Token], text: str, volts: float) -> TypedStep:
    """What a step of a parsed feed says. Watts make amperes at the volts that are said with them, else at
    ``volts``. Raises TypedError naming the word that is not understood.
    """
    return _StepReader(catalogue, text, volts).read(tree)


class _StepReader:
    def __init__(self, catalogue: Catalogue, text: str, volts: float) -> None:
        self.catalogue = catalogue
        self.text = text
        self.volts = volts

    def read(self, tree: Tree[Token]) -> TypedStep:
        tokens = list(tree.scan_values(lambda _: True))
        if not tokens:
            raise TypedError("Say what it is, like M1 lift pump 5 A.", 0, len(self.text))
        step = TypedStep(int(tokens[0].start_pos or 0), int(tokens[-1].end_pos or 0))
        parts = list(tree.children)
        first = parts[0]
        if getattr(first, "type", "") == "PLACE":
            step = self._place(step, str(first))
            parts = parts[1:]
        elif getattr(first, "type", "") == "RAIL":
            step = replace(step, rail_v=parse_voltage_v(str(first).lstrip("+ ")))
            parts = parts[1:]
        brackets = [p for p in parts if getattr(p, "data", "") == "bracket"]
        for bracket in brackets:
            said = self._bracket(step, bracket)
            if said is not None:
                step = said
                parts.remove(bracket)
        parts = self._figures_of(step, parts)
        explicit = step.kind
        words, figures, refused = self._sort(step, parts)
        kind = guess_kind(self.catalogue, " ".join(w for w, _ in words), step.place)
        name = re.sub(r"^(?:to|from|of|at)\s+", "", _joined(words))
        if not explicit and _ends_in_coil(name) and step.place[:1].upper() == "K":
            name = re.sub(r"(?:^|\s)coils?$", "", name, flags=re.IGNORECASE).strip()
            step = replace(step, coil=True)
            kind = guess_kind(self.catalogue, name, step.place)
        ratings = figure_ratings(figures, (step.start, step.end), self.volts)
        if refused is not None:
            raise refused
        kind = (ratings.current_a and self.catalogue.kinds[kind].powered_as) or kind
        return replace(step, name=name, kind=explicit or kind, ratings=ratings)

    @staticmethod
    def _place(step: TypedStep, text: str) -> TypedStep:
        head, dot, pins = text.partition(".")
        if not dot:
            head, dot, pins = text.partition("/")
            return replace(step, place=head, left=pins or None)
        entered, slash, left = pins.partition("/")
        return replace(step, place=head, entered=entered, left=left if slash else None)

    def _bracket(self, step: TypedStep, tree: Any) -> TypedStep | None:
        """What stands in brackets, where it is a kind, a connector or an order; None where it is a name."""
        for word in str(tree.children[0])[1:-1].split(","):
            word = " ".join(word.split()).lower()
            pin = word.removeprefix("new ")
            kind = self._kind(word)
            if word in ("between", "put between"):
                step = replace(step, between=True)
            elif word == "pins measured":
                step = replace(step, measured=True)
            elif word == "no end":
                step = replace(step, no_end=True)
            elif word == "no pins":
                step = replace(step, no_pins=True)
            elif pin in _PIN_WORDS:
                step = replace(step, new_pin=_PIN_WORDS[pin])
            elif kind is not None:
                step = replace(step, kind=kind, said_kind=in_brackets(self.catalogue, kind))
            elif word.upper() in self.catalogue.connectors:
                step = replace(step, family=word.upper())
            else:
                return None
        return step

    def _kind(self, word: str) -> str | None:
        kinds = self.catalogue.kinds
        exact = next(
            (k for k, kind in kinds.items() if word in (kind.label.lower(), k.replace("_", " "))), None
        )
        return exact or next((k for k, kind in kinds.items() if word in kind.words), None)

    def _figures_of(self, step: TypedStep, parts: list[Any]) -> list[Any]:
        """``coil 0.2 A`` is one figure of a relay; of a valve, its name and what it draws."""
        from lark import Token, Tree

        figures: list[Any] = []
        plain = " ".join(str(p.children[0]) for p in parts if getattr(p, "data", "") == "word")
        kind = self.catalogue.kinds[step.kind or guess_kind(self.catalogue, plain, step.place)]
        for part in parts:
            if getattr(part, "data", "") not in ("amount_of", "ohms_of"):
                figures.append(part)
                continue
            of, amount = part.children
            field_name = OF_FIELDS[str(of).lower()[:4]]
            if _WHICH[field_name](kind):
                figures.append(part)
            else:
                # Only its first word is a name: "limited to" is not.
                figures.append(Tree("word", [Token.new_borrow_pos("WORD", str(of), of)]))
                figures.append(Tree("ohms" if part.data == "ohms_of" else "current", [amount]))
        return figures

    # One line for each rule of the grammar.
    def _sort(  # noqa: C901
        self, step: TypedStep, parts: list[Any]
    ) -> tuple[list[tuple[str, Any]], list[Any], TypedError | None]:
        """Words of the name, figures, and what is left over: words after a figure without a noun."""
        runs: list[list[tuple[str, Any]]] = [[]]
        figures: list[Any] = []
        led = any(getattr(p, "data", "") == "leads" for p in parts)
        for n, part in enumerate(parts):
            rule = getattr(part, "data", None)
            if rule is None:
                following = getattr(parts[n + 1], "children", ()) if n + 1 < len(parts) else ()
                follows = str(following[0]) if following else ""
                if re.fullmatch(r"[A-Z]{1,3}\d{1,3}", follows):
                    raise _two_devices(step, parts[n + 1].children[0])
                if runs[-1]:
                    runs[-1].append((",", part))
                continue
            loose = rule in _LOOSE and not (rule == "gauge" or (rule == "length" and led))
            if rule == "ohms":
                loose = _word_follows(parts[n + 1 :])
            if rule in ("word", "bracket") or loose:
                token = part.children[0]
                runs[-1].append((str(token).strip('"') if token.type == "QUOTED" else str(token), token))
            else:
                figures.append(part)
                if runs[-1]:
                    runs.append([])
        runs = [list(run) for run in (_stripped(r) for r in runs) if run]
        if not runs:
            return [], figures, None
        name, left = runs[0], None
        for run in runs[1:]:
            longer = [*name, *run]
            end = head_noun(self.catalogue, " ".join(w for w, _ in longer), step.place)[1]
            kept = next((n for n in range(len(longer) + 1) if _count(longer[:n]) >= end), len(longer))
            kept = max(kept, len(name))
            name = longer[:kept]
            if left is None and kept < len(longer):
                left = longer[kept]
        if left is None:
            return name, figures, None
        word, token = left
        start, finish = int(token.start_pos or 0), int(token.end_pos or 0)
        place = step.place or "the device"
        message = f"{word!r} is not understood after what is said of {place}. "
        if word.lower() in {n.lower() for n in self.catalogue.colour_names.values()}:
            message += "The program gives wires their colours; one is fixed in Wire."
        else:
            message += f"A name stands before its figures: {step.place or 'M1'} {_joined(name)} {word} 5 A."
        return name, figures, TypedError(message, start, finish, partly=True)


def _count(words: list[tuple[str, Any]]) -> int:
    return len(name_words(" ".join(w for w, _ in words)))


def _two_devices(step: TypedStep, token: Token) -> TypedError:
    message = f"{step.place or 'It'} and {token} are two devices: one a line, or > between what is joined."
    return TypedError(message, int(token.start_pos or 0), int(token.end_pos or 0))


def _stripped(run: list[tuple[str, Any]]) -> list[tuple[str, Any]]:
    while run and run[-1][0] == ",":
        run = run[:-1]
    return run


def _word_follows(parts: list[Any]) -> bool:
    return any(getattr(p, "data", "") == "word" for p in parts[:1])


def _joined(words: list[tuple[str, Any]]) -> str:
    return re.sub(r"\s+,", ",", " ".join(w for w, _ in words))


def _ends_in_coil(name: str) -> bool:
    return re.search(r"(?:^|\s)coils?$", name, re.IGNORECASE) is not None
