"""Labels by template and policy, where they sit, and marks along a wire."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from inkthread.core.context import Context
from inkthread.core.document.choices import DressChoices, LabelChoice
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.dress.choose import Label, make_label
from inkthread.core.memo import Memo
from inkthread.core.record import record
from inkthread.core.route import Section, Threaded
from inkthread.core.tolerances import WHOLE, over
from inkthread.core.wire import MadeWire, MadeWires
from inkthread.core.wire.set_out import end_text

MANY_LEADS, EVERYTHING, CONNECTORS = 1, 2, 3
"""What the house rule on labels means."""
CENTRED_TO_MM, NONE_TO_MM = 177.8, 76.2
"""A wire shorter than 7 in is marked once at its middle, one shorter than 3 in not at all (AC 43.13-1B,
from memory)."""


@record
class Labelled:
    """A label on a wire or on a bundle. Lengths in mm."""

    of: str
    """The wire's key, or the connector's id."""
    at: str
    """The connector that it sits behind."""
    text: str
    lines: tuple[str, ...]
    code: str
    onto_mm: float
    height_mm: float
    length_mm: float
    behind_mm: float
    """From the connector's rear, or the cover's end, to the label."""
    when: str
    fits: bool
    readable: bool
    mass_g: float
    square: str = ""
    """What its square code says; empty where it has none."""
    square_mm: float = 0.0


@record
class Labels:
    """All labels, the marks along wires by wire, and the sleeve they take by code in mm."""

    labels: tuple[Labelled, ...]
    marks: dict[str, int]
    tape_mm: dict[str, float]
    """Every label with what the printer feeds for it."""
    crowded: tuple[tuple[str, float, float], ...] = ()
    """Wires that have to be labelled at both ends and are too short: key, and in mm their length and what
    their labels take."""


NO_LABELS = Labels((), {}, {})


def marks_along(length_mm: float, every_mm: float, end_mm: float) -> int:
    """How many marks a wire of a length carries: at both ends, and no two farther apart than ``every_mm``.

    Source: AC 43.13-1B for the interval and short wires, AS50881 for the ends; from memory.

    >>> [marks_along(mm, 381, 76) for mm in (50, 100, 300, 533, 534, 2000)]
    [0, 1, 2, 2, 3, 6]
    """
    if every_mm <= 0 or length_mm < NONE_TO_MM:
        return 0
    if length_mm < CENTRED_TO_MM:
        return 1
    return math.ceil(max(length_mm - 2 * end_mm, 0.0) / every_mm - WHOLE) + 1


def writes_harness(choices: DressChoices) -> bool:
    """Whether any label says what the harness is called."""
    return choices.square or "{harness}" in choices.template


@record
class Names:
    """What labels say besides ids."""

    harness: str
    connectors: dict[str, str]
    """By connector: its name, else that of the first device that it serves."""
    circuits: dict[str, str]
    """Empty where no label says what a wire is for."""


def names_on_labels(named: Document, harness: str, memo: Memo) -> Names:
    """The names that labels say: the same objects where those are the same."""
    connectors, circuits = memo.get(_names_of, only(named, *_NAMED))
    return Names(harness, memo.alike("on connectors", connectors), memo.alike("functions", circuits))


_NAMED = "ends.pinout", "ends.connectors", "circuits.devices", "circuits.circuits", "dress.template"


def _names_of(named: Document) -> tuple[dict[str, str], dict[str, str]]:
    """Names by connector and, where labels say what wires are for, by circuit."""
    served: dict[str, str] = {}
    for ref, entry in named.ends.pinout.items():
        served.setdefault(entry.connector, named.circuits.devices[device_of(ref)].name)
    connectors = {k: own.name or served.get(k, "") for k, own in named.ends.connectors.items()}
    says = "{function}" in named.dress.template
    circuits = {k: own.name for k, own in named.circuits.circuits.items()} if says else {}
    return connectors, circuits


def make_labels(
    context: Context,
    names: Names,
    route: Threaded,
    wire: MadeWires,
    covered: Mapping[str, float],
    bundle_mm: Mapping[str, float],
) -> Labels:
    """Every label. ``covered`` has the outside of each point's cover, 0 where bare; ``bundle_mm`` the loose
    bundle at each point.
    """
    memo = context.memo
    on_connectors = memo.get(_on_connectors, context, names.harness, names.connectors, covered, bundle_mm)
    on_wires, marks, crowded = memo.get(
        _on_wires, context, names.harness, names.circuits, route, wire, covered
    )
    labels = *on_connectors, *on_wires
    tape: dict[str, float] = {}
    feed = context.catalogue.coverings.lettering.feed_mm
    for label in labels:
        tape[label.code] = tape.get(label.code, 0.0) + label.length_mm + feed
    return Labels(labels, marks, {code: round(mm, 1) for code, mm in tape.items()}, crowded)


def _on_connectors(
    context: Context,
    harness: str,
    names: Mapping[str, str],
    covered: Mapping[str, float],
    bundle_mm: Mapping[str, float],
) -> tuple[Labelled, ...]:
    """Labels of the bundles at connectors."""
    maker = _Labeller(context, harness, {})
    labels: list[Labelled] = []
    for connector_id, connector in context.document.ends.connectors.items():
        if connector.point is None or connector.point not in bundle_mm:
            continue
        onto = covered.get(connector.point) or bundle_mm[connector.point]
        if onto > 0:
            own = maker.at_connector(connector_id, f"{connector_id} {names[connector_id]}".strip(), onto)
            labels += [own] if own is not None else []
    return tuple(labels)


def _on_wires(
    context: Context,
    harness: str,
    functions: Mapping[str, str],
    route: Threaded,
    wire: MadeWires,
    covered: Mapping[str, float],
) -> tuple[tuple[Labelled, ...], dict[str, int], tuple[tuple[str, float, float], ...]]:
    """Labels of single wires, the marks along every wire, and what is too short for its labels."""
    maker = _Labeller(context, harness, functions)
    labels: list[Labelled] = []
    marks: dict[str, int] = {}
    rule, least = int(context.brief.value("labels")), int(context.brief.value("label_from_leads"))
    single = rule == EVERYTHING or (rule == MANY_LEADS and len(wire.wires) >= least)
    every, end_mm = context.brief.value("mark_every_mm"), context.brief.value("mark_end_mm")
    crowded: list[tuple[str, float, float]] = []
    for key, sized in wire.wires.items():
        section = route.sections[key]
        long_mm = section.length_mm + section.slack_mm
        if every > 0:
            marks[key] = marks_along(long_mm, every, end_mm)
        if not single or sized.cable is not None:
            continue
        both = maker.on_wire(section, sized, covered)
        takes_mm = sum(own.behind_mm + own.length_mm for own in both)
        if over(takes_mm, long_mm) and rule == EVERYTHING:
            crowded.append((key, long_mm, takes_mm))
        labels += both if rule == EVERYTHING else _with_room(both, long_mm)
    return tuple(labels), marks, tuple(crowded)


def _with_room(labels: list[Labelled], wire_mm: float) -> list[Labelled]:
    """Those of a wire's labels that fit along it: both, else one, else none, where its colour tells."""
    for some in (labels, labels[:1]):
        if not over(sum(own.behind_mm + own.length_mm for own in some), wire_mm):
            return some
    return []


class _Labeller:
    """Writes labels, each size and length of text worked out once."""

    def __init__(self, context: Context, called: str, functions: Mapping[str, str]) -> None:
        self._context, self._called, self._functions = context, called, functions
        self._made: dict[tuple[str, str, float], Label] = {}

    def at_connector(self, connector_id: str, text: str, onto_mm: float) -> Labelled | None:
        own = self._context.document.dress.labels.get(connector_id)
        if own is not None and own.left_out:
            return None
        said = own.text if own is not None and own.text else text
        return self._labelled(connector_id, connector_id, said, onto_mm, own, long=self._long(connector_id))

    def on_wire(self, section: Section, sized: MadeWire, covered: Mapping[str, float]) -> list[Labelled]:
        """Labels at those ends of a wire that lie bare in a connector.

        Beneath a cover none is read: there the connector's own tells.
        """
        document = self._context.document
        near, far = (end_text(document, end).partition(" ")[0] for end in (section.a, section.b))
        labels: list[Labelled] = []
        for end, here_text, there_text in ((section.a, near, far), (section.b, far, near)):
            if end.kind != "pin" or end.connector is None or covered.get(end.point):
                continue
            own = document.dress.labels.get(end.connector)
            if own is not None and own.left_out:
                continue
            text = written(
                document.dress.template,
                id=sized.label,
                near=here_text,
                far=there_text,
                function=self._functions.get(section.circuit, ""),
                harness=self._called,
                serial=document.dress.serial,
            )
            labels.append(
                self._labelled(
                    section.key, end.connector, text, sized.od_mm, own, long=self._long(end.connector)
                )
            )
        return labels

    def _long(self, connector_id: str) -> bool:
        said = self._context.document.cut.ends.get(connector_id)
        return said is not None and said.state == "trimmed at fitting"

    def _labelled(
        self, of: str, at: str, text: str, onto_mm: float, own: LabelChoice | None, *, long: bool
    ) -> Labelled:
        brief, coverings = self._context.brief, self._context.catalogue.coverings
        rule = "label_unfinished_mm" if long else "label_behind_mm"
        behind = own.behind_mm if own is not None and own.behind_mm is not None else brief.value(rule)
        document = self._context.document
        wanted = document.dress.square and of == at
        square = f"{self._called} {document.dress.serial} {of}".replace("  ", " ") if wanted else ""
        key = (text, square, round(onto_mm, 2))
        if key not in self._made:
            self._made[key] = make_label(
                coverings.labels,
                coverings.lettering,
                text,
                onto_mm,
                height_mm=document.dress.height_mm,
                square=square,
            )
        label = self._made[key]
        assert label.sleeve is not None
        return Labelled(
            of,
            at,
            text,
            label.lines,
            label.sleeve.code,
            round(onto_mm, 2),
            label.height_mm,
            label.length_mm,
            behind,
            own.when if own is not None else "after final sizing",
            label.fits,
            label.readable,
            round(label.length_mm / 1000 * label.sleeve.mass_g_per_m, 3),
            square if label.square_mm else "",
            label.square_mm,
        )


def written(template: str, *, id: str, near: str, far: str, function: str, harness: str, serial: str) -> str:
    """A label's text: the template's words in braces filled, others left as they stand.

    >>> written("{id} {from}-{to}", id="C12", near="F1-3", far="M1-1", function="", harness="", serial="")
    'C12 F1-3-M1-1'
    """
    fills = {"id": id, "from": near, "to": far, "function": function, "harness": harness, "serial": serial}
    # In one go: what a name has in braces is no word of the template.
    text = re.sub(r"\{(\w+)\}", lambda word: fills.get(word[1], word[0]), template)
    return " ".join(text.split())
