"""What is wrong with the order of work, and with settings that nobody has proved."""

from __future__ import annotations

import re
from collections.abc import Mapping

from inkthread.core.build.bundles import bore_mm, passes_connector
from inkthread.core.build.operations import Operation, Rooms
from inkthread.core.build.order import BuildPlan
from inkthread.core.catalogue import Tool
from inkthread.core.document.problems import pointer
from inkthread.core.ends import Fittings
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.physics.conductor import awg_area_mm2
from inkthread.core.wire import MadeWires
from inkthread.core.words import some_in_words

_LEFT_OUT = {
    "open-lock": "lock-forgotten",
    "close-lock": "lock-forgotten",
    "tug": "tug-left-out",
    "home": "tug-left-out",
    "tug-splice": "tug-left-out",
    "second-pass": "second-pass-left-out",
    "open-clamp": "clamp-unchecked",
    "strands": "clamp-unchecked",
}
_TOO_LATE = {"open-lock": "lock-forgotten"}
_RANGE = re.compile(r"(\d+)(?:-(\d+))?")
_SHOWN = 6


def find_in_order(rooms: Rooms, steps: dict[str, Operation], plan: BuildPlan, book: FindingBook) -> None:
    """Steps that the builder left out or moved so that another cannot be done, once for each."""
    told: set[str] = set()
    for broken in plan.broken:
        if broken.waits_for in told:
            continue
        told.add(broken.waits_for)
        before, after = steps[broken.waits_for], steps[broken.step]
        blamed = _blamed(rooms, broken.waits_for, broken.step)
        book.add(
            _code(rooms, before, left_out=broken.left_out),
            Place("build", "step", blamed),
            Place("build", "step", broken.step),
            mechanical=(phrase("back"), _undo(blamed)),
            step=before.words.rstrip("."),
            then=after.words.rstrip("."),
            how=phrase("left out" if broken.left_out else "comes after"),
        )
    if plan.lost:
        book.add(
            "step-gone",
            *(Place("build", "step", step) for step in plan.lost[:_SHOWN]),
            mechanical=(phrase("forget"), tuple(op for step in plan.lost for op in _undo(step))),
            steps=some_in_words(list(plan.lost), _SHOWN),
        )


def _blamed(rooms: Rooms, before: str, after: str) -> str:
    """Of two steps in the wrong order, the one that the builder has moved or left out."""
    chosen = rooms.context.document.build.steps
    return before if before in chosen or after not in chosen else after


def _undo(step: str) -> tuple[dict[str, object], ...]:
    return ({"op": "remove", "path": pointer(["build", "steps", step])},)


def _code(rooms: Rooms, before: Operation, *, left_out: bool) -> str:
    """The check for a step that another waits for in vain."""
    if left_out:
        return _LEFT_OUT.get(before.work, "thread-left-out" if before.kind == "thread" else "step-left-out")
    if before.work == "thread-piece" and before.place in rooms.dress.bundles:
        ends = [c for c in rooms.ends.connectors if f" at {c}" in before.id]
        if ends and bore_mm(rooms.context.catalogue, before.parts[0]) is not None:
            passes = passes_connector(rooms, before.parts[0], ends[-1])
            return "thread-too-late" if passes else "boot-cannot-pass"
    if before.kind == "thread":
        return "thread-too-late"
    return _TOO_LATE.get(before.work, "step-too-early")


def find_in_settings(tools: Mapping[str, Tool], wires: MadeWires, ends: Fittings, book: FindingBook) -> None:
    """Nests whose marks do not name the wire, and tools without a stop of which no depth is on record."""
    tempting: dict[str, None] = {}
    marked: dict[tuple[str, float], bool] = {}
    deep: dict[str, None] = {}
    for (ref, key), crimp in ends.crimps.items():
        contact, wire = ends.contacts[ref, key], wires.wires[key]
        asked = crimp.nest, wire.area_mm2
        if asked not in marked:
            marked[asked] = _marked_for(*asked)
        if not crimp.proven and not marked[asked]:
            tempting.setdefault(f"{contact.code} on {wire.gauge}: nest {crimp.nest} of {crimp.tool}")
        known = tools.get(crimp.tool)
        if known is not None and known.positioners and not crimp.depth:
            deep.setdefault(f"{contact.code} in {crimp.tool}")
    if tempting:
        book.add(
            "nest-tempting",
            Place("build", "setting", next(iter(tempting))),
            settings=some_in_words(list(tempting), _SHOWN),
        )
    if deep:
        book.add(
            "depth-not-known",
            Place("build", "setting", next(iter(deep))),
            settings=some_in_words(list(deep), _SHOWN),
        )


def _marked_for(nest: str, area_mm2: float) -> bool:
    """Whether a nest's mark, an AWG size or two, takes in a conductor; any other mark tells nothing."""
    mark = _RANGE.fullmatch(nest)
    if mark is None or int(mark[1]) < _LEAST_AWG:
        return True
    sizes = sorted(awg_area_mm2(int(size)) for size in (mark[1], mark[2] or mark[1]))
    return sizes[0] * _THINNER <= area_mm2 <= sizes[1] * _THICKER


_LEAST_AWG = 10
"""A mark below it is a selector's number, not a size."""
_THINNER, _THICKER = 0.8, 1.2
"""Named sizes of wire differ by so much in copper, and are still called by the mark (common practice)."""
