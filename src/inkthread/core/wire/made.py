"""Wires as they are made, whatever they carry: what lengths, bundles, tools and the bill hang on."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from inkthread.core.catalogue import WireFamily, WireSize
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.record import record
from inkthread.core.route import Threaded
from inkthread.core.wire.cables import CablePiece
from inkthread.core.wire.set_out import SetOut


@record
class MadeWire:
    """One wire as it will be made."""

    key: str
    label: str
    circuit: str
    family: str
    gauge: str
    size: WireSize
    colour: str
    cable: str | None
    """The group it is a core of."""
    twist: float
    """How much longer it is for being twisted by hand."""

    @property
    def area_mm2(self) -> float:
        """Of its copper."""
        return self.size.area_mm2

    @property
    def od_mm(self) -> float:
        """Diameter over all."""
        return self.size.od_mm


@record
class MadeWires:
    """Every wire of a harness as it will be made, by key."""

    wires: dict[str, MadeWire]
    families: dict[str, WireFamily]
    """Every family known to the document."""
    cables: tuple[CablePiece, ...]
    """Wires that are cores of one piece of cable."""

    def size(self, key: str) -> WireSize:
        """The size chosen for a wire."""
        return self.wires[key].size


def make_wires(
    document: Document, threaded: Threaded, out: SetOut, chosen: bytes, colours: dict[str, str], memo: Memo
) -> MadeWires:
    """Wires by key. ``chosen`` has the place of each in its chain, as the bytes of its array."""
    table, chains = out.free.table, out.free.chains
    places = np.frombuffer(chosen, dtype=np.intp)
    rows = np.arange(len(places))
    picked = chains.index[rows, places].tolist() if len(places) else []
    twists = out.twist[rows, places] if len(places) else np.zeros(0)
    core_of = {key: piece.group for piece in out.cables for key in piece.wires}
    laid_with = _laid_by_hand(document, out.families)
    sections = list(threaded.sections.values())
    stated = [document.wire.fixed.get(s.key) for s in sections]
    coloured = [
        choice.colour if choice is not None and choice.colour is not None else colours.get(s.key, "")
        for s, choice in zip(sections, stated, strict=True)
    ]
    cables = [core_of.get(s.key) or laid_with.get(s.circuit) for s in sections]

    sizes = [table.sizes[at] for at in picked]
    codes = [table.families[family].code for family in table.family_of[picked].tolist()]

    def some(rows: list[int]) -> Iterator[MadeWire]:
        for i in rows:
            s, size = sections[i], sizes[i]
            yield MadeWire(
                s.key,
                s.label,
                s.circuit,
                codes[i],
                size.gauge,
                size,
                coloured[i],
                cables[i],
                float(twists[i]),
            )

    columns = (sections, sizes, codes, coloured, cables, twists)
    wires = memo.row_by_row(make_wires, tuple(threaded.sections), columns, some)
    return MadeWires(wires, out.families, out.cables)


def _laid_by_hand(document: Document, families: dict[str, WireFamily]) -> dict[str, str]:
    """Circuit to its group, where that is laid of single wires."""
    return {
        c: g
        for g, group in document.circuits.groups.items()
        if group.family is None or families[group.family].cores == 1
        for c in group.members
    }
