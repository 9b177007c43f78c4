"""Two harnesses, or two versions of one, held against each other: bill, cost, mass, cut list."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.parts import BillLine
from inkthread.core.record import record
from inkthread.core.tolerances import ROUNDING
from inkthread.core.workings import Workings

_SAME = 1e-4
_CENT = 0.005


@record
class BillDifference:
    """A part of which more or fewer are bought for one harness."""

    group: str
    code: str
    colour: str
    description: str
    unit: str
    before: float
    after: float
    cost: float
    """More or less than before."""


@record
class CutDifference:
    """A piece that is cut otherwise, before and after; 0 and empty where there is none."""

    label: str
    from_text: str
    to_text: str
    before_mm: float
    after_mm: float
    before_part: str
    after_part: str


@record
class Figures:
    """What one harness comes to."""

    name: str
    wires: int
    metres: float
    mass_g: float
    cost_each: float
    tooling: float
    stops: int
    fixes: int


@record
class Differences:
    """What was otherwise, and what it comes to. Figures are of one harness."""

    before: Figures
    after: Figures
    bill: tuple[BillDifference, ...]
    cuts: tuple[CutDifference, ...]
    same_lines: int
    same_cuts: int


def differences(before: Workings, after: Workings) -> Differences:
    """Line by line of the bill and piece by piece of the cut list, each for one harness."""
    bills = [_bill(w) for w in (before, after)]
    bill = []
    for key in dict.fromkeys([*bills[0], *bills[1]]):
        old, new = (b.get(key) for b in bills)
        line = new or old
        assert line is not None
        was_many, was_cost = old[:2] if old is not None else (0.0, 0.0)
        many, cost = new[:2] if new is not None else (0.0, 0.0)
        if abs(many - was_many) > _SAME or abs(cost - was_cost) > _CENT:
            group, code, colour, description, unit = line[2]
            bill.append(
                BillDifference(
                    group, code, colour, description, unit, was_many, many, round(cost - was_cost, 2)
                )
            )
    pieces = [_pieces(w) for w in (before, after)]
    cuts = []
    for piece in dict.fromkeys([*pieces[0], *pieces[1]]):
        was, now = (p.get(piece) for p in pieces)
        if was == now:
            continue
        label, from_text, to_text = (now or was or _NO_PIECE)[2:]
        cuts.append(
            CutDifference(
                label, from_text, to_text, was[0] if was else 0.0, now[0] if now else 0.0,
                was[1] if was else "", now[1] if now else "",
            )
        )  # fmt: skip
    return Differences(
        _figures(before), _figures(after), tuple(bill), tuple(cuts),
        len({*bills[0], *bills[1]}) - len(bill), len({*pieces[0], *pieces[1]}) - len(cuts),
    )  # fmt: skip


_NO_PIECE = (0.0, "", "", "", "")
_Told = tuple[str, str, str, str, str]


def _bill(w: Workings) -> dict[tuple[str, str], tuple[float, float, _Told]]:
    """How many of each part are bought for one harness, and what they cost."""
    quantity = w.document.brief.quantity
    lines: dict[tuple[str, str], tuple[float, float, _Told]] = {}
    for line in _bought(w.parts.lines):
        told = (str(line.group), line.code, line.colour, line.description, str(line.unit))
        lines[line.group, line.key] = (
            round(line.to_order / quantity, 4), round(line.cost / quantity + ROUNDING, 4), told
        )  # fmt: skip
    return lines


def _bought(lines: Iterable[BillLine]) -> Iterable[BillLine]:
    return (line for line in lines if not line.included)


def _pieces(w: Workings) -> dict[str, tuple[float, str, str, str, str]]:
    """Every piece by what it joins: length, part, label, both its ends."""
    pieces = {f"cable {c.id}": (c.cut_mm, c.part, c.id, c.from_text, c.to_text) for c in w.cut.cables}
    for cut in w.cut.cuts:
        if not cut.cable:
            part = f"{cut.part} {cut.colour}".strip()
            pieces[cut.wire] = (cut.cut_mm, part, cut.label, cut.from_text, cut.to_text)
    return pieces


def _figures(w: Workings) -> Figures:
    tally, brief = w.evaluation.tally, w.document.brief
    return Figures(
        brief.name, tally.wires, tally.metres, tally.grams, tally.cost,
        w.parts.tooling_total, tally.stops, tally.fixes,
    )  # fmt: skip
