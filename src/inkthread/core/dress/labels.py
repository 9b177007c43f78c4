"""Labels by template and policy, where they sit, and marks along a wire."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from inkthread.core.context import Context
from inkthread.core.document.choices import LabelChoice
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.dress.choose import Label, make_label
from inkthread.core.route import RouteResult, SectionEnd
from inkthread.core.tolerances import WHOLE
from inkthread.core.wire import WireResult

MANY_LEADS, EVERYTHING, CONNECTORS = 1, 2, 3
"""What the house rule on labels means."""
CENTRED_TO_MM, NONE_TO_MM = 177.8, 76.2
"""A wire shorter than 7 in is marked once at its middle, one shorter than 3 in not at all (AC 43.13-1B,
from memory)."""


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class Labels:
    """All labels, the marks along wires by wire, and the sleeve they take by code in mm."""

    labels: tuple[Labelled, ...]
    marks: dict[str, int]
    tape_mm: dict[str, float]
    """Every label with what the printer feeds for it."""


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


def make_labels(
    context: Context,
    route: RouteResult,
    wire: WireResult,
    covered: Mapping[str, float],
    bundle_mm: Mapping[str, float],
) -> Labels:
    """Every label. ``covered`` has the outside of each point's cover, 0 where wires lie bare there;
    ``bundle_mm`` the loose bundle at each point.
    """
    maker = _Labeller(context)
    labels: list[Labelled] = []
    marks: dict[str, int] = {}
    rule, least = int(context.brief.value("labels")), int(context.brief.value("label_from_leads"))
    single = rule == EVERYTHING or (rule == MANY_LEADS and len(wire.wires) >= least)
    every, end_mm = context.brief.value("mark_every_mm"), context.brief.value("mark_end_mm")
    names = _device_names(context.document)
    for connector_id, connector in context.document.ends.connectors.items():
        if connector.point is None or connector.point not in bundle_mm:
            continue
        onto = covered.get(connector.point) or bundle_mm[connector.point]
        if onto > 0:
            text = f"{connector_id} {connector.name or names.get(connector_id, '')}".strip()
            own = maker.at_connector(connector_id, text, onto)
            labels += [own] if own is not None else []
    for key, sized in wire.wires.items():
        section = route.sections[key]
        if every > 0:
            marks[key] = marks_along(section.length_mm + section.slack_mm, every, end_mm)
        if not single or sized.cable is not None:
            continue
        ends = ((section.a, sized.from_text, sized.to_text), (section.b, sized.to_text, sized.from_text))
        for n, (end, _, _) in enumerate(ends):
            # Beneath a cover a label of one wire is not read: there the connector's own tells.
            if end.kind == "pin" and end.connector is not None and not covered.get(end.point):
                labels.append(
                    maker.on_wire(key, end, sized.label, section.circuit, ends[n][1], ends[n][2], sized.od_mm)
                )
    tape: dict[str, float] = {}
    feed = context.catalogue.coverings.lettering.feed_mm
    for label in labels:
        tape[label.code] = tape.get(label.code, 0.0) + label.length_mm + feed
    return Labels(tuple(labels), marks, {code: round(mm, 1) for code, mm in tape.items()})


def _device_names(document: Document) -> dict[str, str]:
    """By connector, the name of the first device that it serves."""
    names: dict[str, str] = {}
    for ref, entry in document.ends.pinout.items():
        names.setdefault(entry.connector, document.circuits.devices[device_of(ref)].name)
    return names


class _Labeller:
    """Writes labels, each size and length of text worked out once."""

    def __init__(self, context: Context) -> None:
        self._context = context
        self._made: dict[tuple[str, str, float], Label] = {}

    def at_connector(self, connector_id: str, text: str, onto_mm: float) -> Labelled | None:
        own = self._context.document.dress.labels.get(connector_id)
        if own is not None and own.left_out:
            return None
        said = own.text if own is not None and own.text else text
        return self._labelled(connector_id, connector_id, said, onto_mm, own, long=self._long(connector_id))

    def on_wire(
        self, key: str, end: SectionEnd, label: str, circuit: str, near: str, far: str, od_mm: float
    ) -> Labelled:
        document = self._context.document
        text = written(
            document.dress.template,
            id=label,
            near=near.partition(" ")[0],
            far=far.partition(" ")[0],
            function=document.circuits.circuits[circuit].name,
            harness=document.brief.name,
            serial=document.dress.serial,
        )
        own = document.dress.labels.get(end.connector or "")
        return self._labelled(
            key, end.connector or "", text, od_mm, own, long=self._long(end.connector or "")
        )

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
        square = f"{document.brief.name} {document.dress.serial} {of}".replace("  ", " ") if wanted else ""
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
    text = template
    for name, value in fills.items():
        text = text.replace(f"{{{name}}}", value)
    return " ".join(text.split())
