"""What is shown of the wires, and how they open."""

from __future__ import annotations

from inkthread.core.catalogue import LimitWords
from inkthread.core.opening import Opening, many
from inkthread.core.record import record
from inkthread.core.tolerances import over
from inkthread.core.wire.limits import LIMITS
from inkthread.core.wire.results import LoopDrop, Wire, WireResult
from inkthread.core.words import in_words


@record
class WireView:
    """Wires by key and drop by load."""

    wires: dict[str, Wire]
    loops: dict[str, LoopDrop]


def wire_opening(words: dict[str, str], limits: dict[str, LimitWords], result: WireResult) -> Opening:
    """What decides the gauges, and how many wires do not hold a limit."""
    wires = result.wires.values()
    if not wires:
        return Opening("empty", 0, words["none"])
    decided = dict.fromkeys(LIMITS, 0)
    for wire in wires:
        decided[wire.governs] += 1
    ranked = sorted(((n, k) for k, n in decided.items() if n), reverse=True)
    told = words["first decides"].format(limit=limits[ranked[0][1]].name, count=ranked[0][0])
    told = told[0].upper() + told[1:]
    told += "".join(words["decides"].format(limit=limits[k].name, count=n) for n, k in ranked[1:])
    family = result.tables.family.code
    others = len({w.family for w in wires} - {family})
    beside = words["one beside" if others == 1 else "beside"].format(others=in_words(others))
    sentence = words["sized"].format(
        wires=many(len(wires), "wire"), family=family, beside=beside if others else "", decided=told
    )
    if result.fewest is not None:
        few = result.fewest
        proof = words["proved"] if few.proved else words["bound"].format(bound=few.bound)
        sentence += words["fewest"].format(parts=few.parts, proof=proof)
    failing = sum(over(most, 1) for most in result.told.max(axis=1).tolist())
    if failing:
        sentence += words["one fails" if failing == 1 else "fail"].format(failing=many(failing, "wire"))
    return Opening("full", len(wires), sentence)
